"""The demo's harbour class in mid-term: a tutor, eight made-up students, what was set, handed in and given back."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from datetime import timedelta

import numpy as np
from sqlalchemy.orm import Session

from aspectum.core.plane.lines import tilt_deg
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Point
from aspectum.demo.fill import PHOTOS, SHEETS, bring_drawing
from aspectum.demo.record import Weak, fill_record
from aspectum.demo.worksheets import bring_one_back, print_set
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import EdgeSighting
from aspectum.pictures.opening import open_picture
from aspectum.service.people.passphrases import take_name
from aspectum.service.people.people import person_here
from aspectum.service.runtime.installation import Installation
from aspectum.service.school import assignments, hand_ins
from aspectum.service.school.assignment_kinds import AssignmentKind, HandInPart, Subject
from aspectum.service.school.assignments import Setting, usual
from aspectum.service.school.classes import class_row, make_class
from aspectum.service.school.hand_ins import GivenRemark
from aspectum.service.sheets import sheets
from aspectum.service.sheets.pictures import keep_picture, picture_of
from aspectum.service.sheets.readings import record_judgements
from aspectum.service.stand.from_format import sheet_of_stand
from aspectum.service.stand.stands import file_of, stand_row
from aspectum.store.assignments import Assignment, Begun
from aspectum.store.classes import Member, Role
from aspectum.store.models import Drawing, Person, Sheet, now

CLASS, TUTOR_NAME = "Harbour class, Thursday evening", "Maren"
FIRST = "Ilse"  # whose sheets and weeks of practice the demo shows
SEED = 20_261_105
PHRASES = (
    "Eye level on the sheet before the first line.",
    "Compare it with the near upright once more.",
    "Lower rims open more than upper ones.",
    "Draw through: the hidden corner tells whether it closes.",
    "The far edge runs to the same point as its near fellow.",
)


@dataclass(frozen=True)
class Student:
    """How a made-up student judges: ``tilt_bias`` and scatter (degrees) of judged tilts, how far one line is out, and
    the skills that are weak.
    """

    name: str
    tilt_bias: float
    scatter: float
    out_deg: float
    weak: Weak


OTHERS = (
    Student(
        "Tjark",
        4.0,
        3.0,
        7.0,
        {Skill.LEFT_BELOW: (1.8, 1.5, 0.9), Skill.RIGHT_BELOW: (1.5, 1.4, 0.8), Skill.LOWER_RIM: (-1.4, -1.0, 0.8)},
    ),
    Student("Wiebke", -2.0, 2.0, 0.0, {Skill.LOWER_RIM: (-2.0, -1.6, 0.7), Skill.UPPER_RIM: (-0.8, -0.7, 0.8)}),
    Student("Onno", 1.0, 5.0, 9.0, {Skill.EYE_LEVEL: (1.6, 1.3, 0.9), Skill.LOWER_RIM: (-1.2, -1.1, 1.0)}),
    Student("Fenja", -1.0, 1.5, 0.0, {Skill.MIDDLE: (1.5, 0.9, 0.7)}),
    Student("Hauke", 6.0, 4.0, 8.0, {Skill.LENGTH_UP: (-1.7, -1.5, 0.9), Skill.LEFT_BELOW: (1.1, 1.2, 0.8)}),
    Student("Sunna", 0.0, 2.5, 0.0, {Skill.MINOR_AXIS: (1.4, 1.2, 0.8), Skill.LOWER_RIM: (-1.0, -0.8, 0.8)}),
    Student("Reemt", 3.0, 6.0, 11.0, {Skill.EYE_LEVEL: (2.0, 1.8, 1.0), Skill.LENGTH_ALONG: (1.3, 1.3, 0.9)}),
)
FROM_PHOTOS = (("Onno", "loft", "2-loft"), ("Wiebke", "tins", "5-tins"))  # who else drew from which photo


def fill_class(here: Installation) -> None:
    """Make the class: whoever worked here alone is one of its eight students. Nobody in it has a passphrase."""
    with here.sessions.begin() as session:
        first = person_here(session)
        tutor = _person(session, TUTOR_NAME)
        of = make_class(session, tutor, CLASS)
        of.made_at = now() - timedelta(days=60)
        session.get_one(Member, (of.id, tutor.id)).joined_at = of.made_at
        take_name(session, first, FIRST)
        first.place = None
        people = {FIRST: first.id, TUTOR_NAME: tutor.id}
        _joins(session, of.id, first)
        for k, student in enumerate(OTHERS):
            person = _person(session, student.name)
            people[student.name] = person.id
            _joins(session, of.id, person)
            fill_record(session, person, now(), SEED + k, student.weak, evenings=6 + k)
        hand_ins.keep_phrases(session, tutor, PHRASES)
        class_id = of.id
    School(here, class_id, people).term()
    with here.sessions() as session:
        crates = (
            session.query(Sheet.id)
            .filter(Sheet.person_id == people[TUTOR_NAME], Sheet.title == "Crates on the slipway")
            .first()
        )
    print_set(
        here,
        people[TUTOR_NAME],
        (FIRST, *(student.name for student in OTHERS)),
        CLASS,
        None if crates is None else crates[0],
    )
    bring_one_back(here, people[FIRST])


def _person(session: Session, name: str) -> Person:
    person = Person(name=name)
    session.add(person)
    session.flush()
    take_name(session, person, name)
    return person


def _joins(session: Session, class_id: str, person: Person) -> None:
    session.add(Member(class_id=class_id, person_id=person.id, role=Role.STUDENT, joined_at=now() - timedelta(days=56)))


class School:
    """The class while its term is filled in."""

    def __init__(self, here: Installation, class_id: str, people: dict[str, str]) -> None:
        self.here, self.class_id, self.people = here, class_id, people
        self.rng = np.random.default_rng(SEED)

    def term(self) -> None:
        """Four assignments: drawings and crates that came back, cubes that come in, rounds that are due."""
        drawn = self.set_one(
            AssignmentKind.FREE,
            -3,
            replace(
                usual(AssignmentKind.FREE),
                title="A drawing from one of the photos",
                words="Choose a photo, sight its edges, draw from it, and bring the drawing in.",
                hand_in=(HandInPart.SIGHTINGS, HandInPart.DRAWING, HandInPart.CRITIQUE),
            ),
        )
        self.drawings(drawn)
        crates, _tins = (
            self.sheet(name, TUTOR_NAME) for name in ("1-crates", "5-tins")
        )  # the second to ask the room about
        how = replace(
            usual(AssignmentKind.BUILDING),
            title="Crates on the slipway, every edge",
            words="Judge each edge by eye before you sight it.",
            subject=Subject.PHOTO,
            sheet_id=crates,
            hand_in=(HandInPart.SIGHTINGS, HandInPart.NOTE),
        )
        sighted = self.set_one(AssignmentKind.BUILDING, -10, how)
        for k, student in enumerate(OTHERS[:6]):
            piece = self.sightings(
                sighted, student, "Look at the far edges: they must close to a V.", days_ago=11 - k / 3
            )
            self.give_back(piece, ("B", "A−", "C+", "A", "C", "B+")[k], days_ago=8)
        self.sightings(
            sighted, replace(OTHERS[0], tilt_bias=1.5, out_deg=0.0), "Compare each with eye level.", days_ago=2
        )
        cubes = self.set_one(AssignmentKind.TWO_CUBES, 3, usual(AssignmentKind.TWO_CUBES))
        for student in OTHERS[2:6]:
            self.sightings(cubes, student, "Above eye level edges fall, below they climb.", days_ago=0.6)
        assignments.begin(self.here.sessions, self.here.files, cubes, self.people["Wiebke"])
        self.set_one(AssignmentKind.TEN_ROUNDS, 10, usual(AssignmentKind.TEN_ROUNDS))

    def set_one(self, kind: AssignmentKind, due_in: float, how: Setting) -> str:
        with self.here.sessions.begin() as session:
            tutor = session.get_one(Person, self.people[TUTOR_NAME])
            due = (now() + timedelta(days=due_in)).replace(hour=20, minute=0, second=0, microsecond=0)
            made = assignments.set_one(
                session, tutor, class_row(session, self.class_id), kind, replace(how, due_at=due)
            )
            made.made_at = due - timedelta(days=14)
            return made.id

    def sheet(self, name: str, who: str) -> str:
        """One of the demo's sheets on its photo, as somebody's own."""
        document = SightingSheet.model_validate_json((SHEETS / f"{name}.sighting.json").read_bytes())
        assert document.picture is not None and document.picture.file is not None
        data = (PHOTOS / document.picture.file).read_bytes()
        kept = keep_picture(
            self.here.sessions, self.here.files, self.people[who], document.picture.file, open_picture(data)
        )
        with self.here.sessions.begin() as session:
            person = session.get_one(Person, self.people[who])
            return sheets.make_sheet(session, person, picture_of(session, person, kept.id), document).id

    def drawings(self, assignment: str) -> None:
        """Three drawings with their critiques, handed in and given back."""
        with self.here.sessions() as session:
            first = (
                session.query(Drawing)
                .join(Drawing.sheet)
                .filter(Sheet.person_id == self.people[FIRST], Drawing.noted_at.is_not(None))
                .one()
            )
            done = [(FIRST, first.subject_id or "")]
        for who, drawing, subject in FROM_PHOTOS:
            sheet = self.sheet(subject, who)
            bring_drawing(self.here, self.people[who], drawing, {subject: sheet}, True)
            done.append((who, sheet))
        for who, sheet in done:
            piece = self.hand_in(assignment, who, sheet, "", 4.0)
            if who == FIRST:
                self.remark_on_drawing(piece)

    def remark_on_drawing(self, piece: str) -> None:
        with self.here.sessions.begin() as session:
            made = hand_ins.hand_in_row(session, piece)
            assert made.drawing is not None and made.drawing_picture is not None
            named = [s["id"] for s in made.drawing["sightings"]]
            at = (0.47 * made.drawing_picture.width_px, 0.2 * made.drawing_picture.height_px)
            said = [
                GivenRemark(PHRASES[0], None, at),
                GivenRemark("This one falls too little: look where eye level runs.", named[3], None),
            ]
            hand_ins.review(
                session,
                made,
                "B+",
                "The lengths came out well. Eye level sits too high, and all that is off follows from it.",
                said,
                True,
            )
            made.returned_at = now() - timedelta(days=2)

    def sightings(self, assignment: str, student: Student, note: str, days_ago: float) -> str:
        """A student's sheet on an assignment, with every edge judged and sighted in their way, handed in."""
        sheet_id = assignments.begin(self.here.sessions, self.here.files, assignment, self.people[student.name])
        with self.here.sessions.begin() as session:
            person = session.get_one(Person, self.people[student.name])
            sheet = sheets.sheet_of(session, person, sheet_id)
            document = sheets.document_of(sheet)
            true = self.truth(session, session.get_one(Assignment, assignment))
            document.forms, document.sightings = (
                true.forms,
                [self.by_hand(s, student, k) for k, s in enumerate(true.sightings)],
            )
            sheets.save_sheet(
                session,
                person,
                sheet_id,
                sheet.revision,
                SightingSheet.model_validate(document.model_dump(mode="json", exclude_none=True)),
            )
            record_judgements(session, person, sheet, document)
        return self.hand_in(assignment, student.name, sheet_id, note, days_ago)

    def truth(self, session: Session, assignment: Assignment) -> SightingSheet:
        """What an assignment's subject is sighted as by a sure hand: its edges."""
        tutor = session.get_one(Person, self.people[TUTOR_NAME])
        if assignment.stand_id is not None:
            found = sheet_of_stand(file_of(stand_row(session, tutor, assignment.stand_id)))
        else:
            found = sheets.document_of(sheets.sheet_of(session, tutor, assignment.sheet_id or ""))
        found.sightings = [s for s in found.sightings if isinstance(s, EdgeSighting) and s.p is not None]
        return found

    def by_hand(self, sighting: object, student: Student, place: int) -> EdgeSighting:
        assert isinstance(sighting, EdgeSighting) and sighting.p is not None and sighting.q is not None
        p, q = self.near(sighting.p), self.near(sighting.q)
        if place == 4 and student.out_deg:
            q = turned(p, q, student.out_deg)
        tilt = float(tilt_deg(sighting.p, sighting.q))
        judged = tilt if abs(tilt) > 75.0 else tilt + student.tilt_bias + float(self.rng.normal(0.0, student.scatter))
        return sighting.model_copy(update={"p": p, "q": q, "judged_tilt_deg": round(max(-90.0, min(90.0, judged)), 1)})

    def near(self, point: Point) -> Point:
        x, y = self.rng.normal(point, 0.7)
        return round(max(float(x), 0.0), 1), round(max(float(y), 0.0), 1)

    def hand_in(self, assignment: str, who: str, sheet: str, note: str, days_ago: float) -> str:
        with self.here.sessions.begin() as session:
            row, person = session.get_one(Assignment, assignment), session.get_one(Person, self.people[who])
            if session.get(Begun, (assignment, person.id)) is None:
                session.add(Begun(assignment_id=assignment, person_id=person.id, sheet_id=sheet))
                session.flush()
            made = hand_ins.hand_in(session, row, person, note)
            hand_ins.keep_judged(session, made.id, hand_ins.judge_piece(*hand_ins.frozen(made)))
            made.made_at = now() - timedelta(days=days_ago)
            return made.id

    def give_back(self, piece: str, mark: str, days_ago: float) -> None:
        with self.here.sessions.begin() as session:
            made = hand_ins.hand_in_row(session, piece)
            hand_ins.review(session, made, mark, "Judged first throughout; keep that.", [], True)
            made.returned_at = now() - timedelta(days=days_ago)


def turned(p: Point, q: Point, degrees: float) -> Point:
    """``q`` turned about ``p``, anticlockwise as tilts are counted."""
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    dx, dy = q[0] - p[0], q[1] - p[1]
    return round(p[0] + c * dx + s * dy, 1), round(p[1] - s * dx + c * dy, 1)
