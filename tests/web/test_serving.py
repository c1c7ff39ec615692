"""How a server is begun: how many processes compute beside it, how many files it may open, and which database it speaks
to.
"""

from __future__ import annotations

import errno
import resource
from pathlib import Path
from typing import Any

import pytest
from click.testing import CliRunner
from flask import Flask
from sqlalchemy.exc import OperationalError

from aspectum.cli import main
from aspectum.settings import Settings
from aspectum.store.database import driven
from aspectum.web import serving


class Begun(Exception):
    """Stands for a server that would have begun."""


@pytest.fixture
def asked(monkeypatch: pytest.MonkeyPatch) -> list[Settings]:
    """The settings that an application was to be made with; none is made."""
    seen: list[Settings] = []

    def note(settings: Settings) -> None:
        seen.append(settings)
        raise Begun

    monkeypatch.setattr("aspectum.web.app.create_app", note)
    monkeypatch.setattr("os.cpu_count", lambda: 3)
    return seen


@pytest.mark.parametrize(
    ("words", "processes"),
    [
        ((), 0),  # alone on this machine
        (("--proxy", "127.0.0.1"), 3),  # for a class: one for each processor
        (("--host", "0.0.0.0"), 3),
        (("--processes", "2"), 2),
        (("--proxy", "127.0.0.1", "--processes", "0"), 0),
    ],
)
def test_a_server_for_a_class_computes_on_every_processor_and_one_for_a_person_beside_nobody(
    asked: list[Settings], tmp_path: Path, words: tuple[str, ...], processes: int
) -> None:
    result = CliRunner().invoke(main, ["serve", "--data", str(tmp_path), *words])
    assert isinstance(result.exception, Begun)
    assert [settings.processes for settings in asked] == [processes]


def test_numbers_of_processes_that_cannot_be_are_refused(asked: list[Settings], tmp_path: Path) -> None:
    for number in ("-1", "65", "many"):
        result = CliRunner().invoke(main, ["serve", "--data", str(tmp_path), "--processes", number])
        assert result.exit_code == 2 and "--processes" in result.output
    assert asked == []


@pytest.mark.parametrize(
    ("limits", "then"),
    [
        ((1024, 8192), (serving.FILES, 8192)),
        ((1024, 2000), (2000, 2000)),  # no more than the system allows
        ((1024, resource.RLIM_INFINITY), (serving.FILES, resource.RLIM_INFINITY)),
        ((65536, 65536), None),  # enough as it is
        ((resource.RLIM_INFINITY, resource.RLIM_INFINITY), None),
    ],
)
def test_a_server_may_open_a_file_for_every_connection(
    monkeypatch: pytest.MonkeyPatch, limits: tuple[int, int], then: tuple[int, int] | None
) -> None:
    """select() and a shell's usual limit both end at about a thousand, which two hundred browsers reach."""
    then_set: list[tuple[int, int]] = []
    monkeypatch.setattr(resource, "getrlimit", lambda _: limits)
    monkeypatch.setattr(resource, "setrlimit", lambda _, wanted: then_set.append(wanted))
    serving.allow_files()
    assert then_set == ([] if then is None else [then])


def test_a_system_that_refuses_more_files_is_served_all_the_same(monkeypatch: pytest.MonkeyPatch) -> None:
    def refuse(*_: Any) -> None:
        raise ValueError("not allowed to raise maximum limit")

    monkeypatch.setattr(resource, "getrlimit", lambda _: (1024, 8192))
    monkeypatch.setattr(resource, "setrlimit", refuse)
    serving.allow_files()


@pytest.mark.parametrize(
    ("url", "driver", "database"),
    [
        ("postgresql://aspectum@db.example.org/school", "postgresql+psycopg", "school"),
        ("postgres://aspectum@db.example.org/school", "postgresql+psycopg", "school"),
        ("postgresql+psycopg://aspectum@db.example.org/school", "postgresql+psycopg", "school"),
        ("sqlite:////srv/aspectum/aspectum.sqlite", "sqlite", "/srv/aspectum/aspectum.sqlite"),
    ],
)
def test_a_postgresql_address_needs_no_driver_named(url: str, driver: str, database: str) -> None:
    found = driven(url)
    assert (found.drivername, found.database) == (driver, database)


def test_of_postgresql_there_is_no_database_file_to_look_after(tmp_path: Path) -> None:
    assert Settings(tmp_path, "postgresql://aspectum@db.example.org/school").database_file is None
    assert Settings(tmp_path, f"sqlite:///{tmp_path / 'a.sqlite'}").database_file == tmp_path / "a.sqlite"


@pytest.mark.parametrize("code", [errno.ENOSPC, errno.EROFS, errno.EACCES, errno.EDQUOT])
def test_a_disk_that_gives_out_is_told_as_one(app: Flask, monkeypatch: pytest.MonkeyPatch, code: int) -> None:
    answer = failing(app, monkeypatch, OSError(code, "as the system says it"))
    assert answer.status_code == 507 and "still on this page" in answer.get_json()["detail"]


def test_any_other_fault_of_the_system_is_not_blamed_on_the_disk(app: Flask, monkeypatch: pytest.MonkeyPatch) -> None:
    answer = failing(app, monkeypatch, OSError(errno.EPIPE, "broken pipe"))
    assert answer.status_code == 500 and "did not expect" in answer.get_json()["detail"]


@pytest.mark.parametrize(
    ("said", "status"),
    [
        ("database or disk is full", 507),  # SQLite
        ("attempt to write a readonly database", 507),
        ("could not extend file: No space left on device", 507),  # PostgreSQL
        ("cannot execute UPDATE in a read-only transaction", 507),
        ("server closed the connection unexpectedly", 503),
    ],
)
def test_what_either_database_says_of_its_disk_is_understood(
    app: Flask, monkeypatch: pytest.MonkeyPatch, said: str, status: int
) -> None:
    assert failing(app, monkeypatch, OperationalError("UPDATE", {}, Exception(said))).status_code == status


def failing(app: Flask, monkeypatch: pytest.MonkeyPatch, error: Exception) -> Any:
    """The answer where listing the sheets meets an error."""

    def fail(*_: Any) -> None:
        raise error

    monkeypatch.setattr("aspectum.service.sheets.sheets.list_sheets", fail)
    return app.test_client().get("/api/sheets")
