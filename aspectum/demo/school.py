"""The demo's harbour class."""

from __future__ import annotations

from aspectum.service.classes import make_class
from aspectum.service.installation import Installation
from aspectum.service.passphrases import take_name
from aspectum.service.people import person_here
from aspectum.store.classes import Member, Role
from aspectum.store.models import Person

CLASS, TUTOR_NAME = "Harbour class, Thursday evening", "Maren"
FIRST = "Ilse"  # whose sheets and weeks of practice the demo shows
OTHERS = ("Tjark", "Wiebke", "Onno", "Fenja", "Hauke", "Sunna", "Reemt")


def fill_class(here: Installation) -> None:
    """Make the class: whoever worked here alone is one of its eight students. Nobody in it has a passphrase."""
    with here.sessions.begin() as session:
        first = person_here(session)
        tutor = Person(name=TUTOR_NAME)
        session.add(tutor)
        session.flush()
        take_name(session, tutor, TUTOR_NAME)
        of = make_class(session, tutor, CLASS)
        take_name(session, first, FIRST)
        first.place = None
        session.add(Member(class_id=of.id, person_id=first.id, role=Role.STUDENT))
        for name in OTHERS:
            person = Person(name=name)
            session.add(person)
            session.flush()
            take_name(session, person, name)
            session.add(Member(class_id=of.id, person_id=person.id, role=Role.STUDENT))
