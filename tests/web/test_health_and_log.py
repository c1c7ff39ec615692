"""The health route answers whatever watches, and the log names routes and nobody."""

from __future__ import annotations

import logging
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient
from sqlalchemy.exc import IntegrityError

from aspectum.store.models import Person
from aspectum.web.log import log
from tests.school import NOBODY, STUDENT, School, sign_in


def test_health_needs_nobody_and_tells_of_nobody(school: School) -> None:
    answer = school.of(NOBODY).get("/api/health")
    assert answer.status_code == 200 and set(answer.get_json()) == {"status", "version"}


def test_health_fails_where_pictures_cannot_be_kept(client: FlaskClient, app: Flask) -> None:
    folder: Path = app.extensions["aspectum"].files.folder
    folder.rename(folder.with_name("elsewhere"))
    answer = client.get("/api/health")
    assert answer.status_code == 507 and "picture folder" in answer.get_json()["detail"]


def test_log_lines_name_the_route_and_nothing_of_anybodys(school: School, caplog: pytest.LogCaptureFixture) -> None:
    with caplog.at_level(logging.INFO, logger=log.name):
        sign_in(school.app.test_client(), "Ilse", "a passphrase that is wrong")
        made = school.ask(STUDENT, "POST", "/api/sheets", {"title": "A secret title"})
        school.ask(STUDENT, "GET", f"/api/sheets/{made['id']}")
        school.of(STUDENT).get("/api/nowhere?name=Ilse")
    lines = [record.getMessage() for record in caplog.records if record.name == log.name]
    assert any(line.startswith("POST people.sign_in_here 403") for line in lines)
    assert any(line.startswith("GET sheets.read_one_sheet 200") for line in lines) and any(
        "no such page 404" in line for line in lines
    )
    for word in ("Ilse", "passphrase", "secret", made["id"], "127.0.0.1"):
        assert not any(word in line for line in lines), word


def test_an_error_of_the_database_keeps_what_was_saved_out_of_the_log(app: Flask) -> None:
    sessions = app.extensions["aspectum"].sessions
    with pytest.raises(IntegrityError) as failed, sessions.begin() as session:
        session.add_all(
            [Person(name="Somebody's own name", place="here"), Person(name="Somebody's own name", place="here")]
        )
    assert "Somebody" not in str(failed.value)
