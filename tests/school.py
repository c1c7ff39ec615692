"""A small school for tests: a class with its tutor and two students, a second class with a tutor of its own, and what
one student has made.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from flask import Flask
from flask.testing import FlaskClient

from aspectum.service.school.classes import join, one_more_tutor
from aspectum.store.picture_files import PictureFiles

NOBODY, STUDENT, OTHER, TUTOR, STRANGER = (
    "nobody",
    "the student",
    "another student",
    "tutor of the class",
    "tutor of another class",
)
NAMES = {STUDENT: "Fenja", OTHER: "Onno", TUTOR: "Maren", STRANGER: "Hauke"}
PASSPHRASE = "tern rope lantern"


@dataclass
class School:
    """``people``: a client for each, signed in but for ``NOBODY``; ``ids``: theirs; ``class_id``, ``code``: of the
    first class.
    """

    app: Flask
    class_id: str
    code: str
    people: dict[str, FlaskClient] = field(default_factory=dict)
    ids: dict[str, str] = field(default_factory=dict)

    @property
    def folder(self) -> Path:
        """Where its data lie."""
        files: PictureFiles = self.app.extensions["aspectum"].files
        return files.folder.parent

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


def reopened(made: School, app: Flask) -> School:
    """A copy of a school in another application, on a copy of its data: the same secret lies there, so the same cookies
    sign people in.
    """
    people = {}
    for who, client in made.people.items():
        people[who] = app.test_client()
        cookie = client.get_cookie("aspectum")
        if cookie is not None:
            people[who].set_cookie("aspectum", cookie.value)
    return School(app, made.class_id, made.code, people, made.ids)
