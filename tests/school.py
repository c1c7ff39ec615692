"""A small school for tests: a class with its tutor and two students, a second class with a tutor of its own, and what one student has made."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from flask import Flask
from flask.testing import FlaskClient

from aspectum.service.classes import join, one_more_tutor

NOBODY, STUDENT, OTHER, TUTOR, STRANGER = "nobody", "the student", "another student", "tutor of the class", "tutor of another class"
NAMES = {STUDENT: "Fenja", OTHER: "Onno", TUTOR: "Maren", STRANGER: "Hauke"}
PASSPHRASE = "tern rope lantern"


@dataclass
class School:
    """``people``: a client for each, signed in but for ``NOBODY``; ``ids``: theirs; ``class_id``, ``code``: of the first class."""

    app: Flask
    class_id: str
    code: str
    people: dict[str, FlaskClient] = field(default_factory=dict)
    ids: dict[str, str] = field(default_factory=dict)

    def of(self, who: str) -> FlaskClient:
        return self.people[who]

    def ask(self, who: str, method: str, path: str, body: Any = None) -> Any:
        """A request by somebody, and its answer's body; fails where it is no 2xx."""
        answer = self.of(who).open(path, method=method, json=body)
        assert answer.status_code < 300, (answer.status_code, answer.get_data(as_text=True))
        return answer.get_json()


def sign_in(client: FlaskClient, name: str, passphrase: str = PASSPHRASE) -> Any:
    return client.post("/api/sign-in", json={"name": name, "passphrase": passphrase})


def open_school(app: Flask) -> School:
    """Make the school in an application where nobody has worked yet."""
    sessions = app.extensions["aspectum"].sessions
    with sessions.begin() as session:
        tutor, first = one_more_tutor(session, NAMES[TUTOR], PASSPHRASE, "Harbour class")
        stranger, _ = one_more_tutor(session, NAMES[STRANGER], PASSPHRASE, "Morning class")
        student, other = (join(session, first, NAMES[who], PASSPHRASE) for who in (STUDENT, OTHER))
        ids = {TUTOR: tutor.id, STRANGER: stranger.id, STUDENT: student.id, OTHER: other.id}
        school = School(app, first.id, first.code, {NOBODY: app.test_client()}, ids)
    for who, name in NAMES.items():
        school.people[who] = app.test_client()
        assert sign_in(school.people[who], name).status_code == 200
    return school
