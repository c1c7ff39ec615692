"""The commands that make tutors and serve: what they say, and what they refuse."""

from __future__ import annotations

import re
import shutil
from dataclasses import replace
from pathlib import Path

import pytest
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.store.secret import LEAST, PLACEHOLDERS, is_weak, kept_secret
from aspectum.web.app import create_app
from tests.conftest import settings_in
from tests.school import PASSPHRASE, sign_in


def run(*words: str, given: str | None = None, env: dict[str, str] | None = None) -> tuple[int, str]:
    result = CliRunner().invoke(main, list(words), input=given, env=env)
    return result.exit_code, result.output


def test_a_tutor_is_made_with_a_class_whose_code_is_printed(tmp_path: Path) -> None:
    status, said = run(
        "tutor", "Maren", "--class", "Harbour class", "--data", str(tmp_path), given=f"{PASSPHRASE}\n{PASSPHRASE}\n"
    )
    assert status == 0 and PASSPHRASE not in said
    (code,) = re.findall(r"code (\w{4}-\w{4})\.", said)
    client = create_app(settings_in(tmp_path)).test_client()
    assert client.get(f"/api/join/{code}").get_json()["name"] == "Harbour class"
    assert client.get("/api/sheets").status_code == 401 and sign_in(client, "Maren").status_code == 200


def test_the_first_tutor_takes_over_what_was_there_and_the_second_begins_with_nothing(tmp_path: Path) -> None:
    create_app(settings_in(tmp_path)).test_client().post("/api/sheets", json={"title": "Fish boxes"})
    for name, count in (("Maren", 1), ("Hauke", 0)):
        assert (
            run("tutor", name, "--class", f"{name}'s class", "--passphrase", PASSPHRASE, "--data", str(tmp_path))[0]
            == 0
        )
        client = create_app(settings_in(tmp_path)).test_client()
        sign_in(client, name)
        assert len(client.get("/api/sheets").get_json()["sheets"]) == count


def test_a_tutor_with_a_poor_passphrase_is_not_made(tmp_path: Path) -> None:
    status, said = run(
        "tutor", "Maren", "--class", "Harbour class", "--passphrase", "password1", "--data", str(tmp_path)
    )
    assert status == 1 and "first that others would guess" in said
    assert create_app(settings_in(tmp_path)).test_client().get("/api/me").get_json()["alone"]


@pytest.mark.parametrize("secret", [*PLACEHOLDERS, "x" * (LEAST - 1)])
def test_no_server_listens_beyond_this_machine_with_a_secret_that_others_know(tmp_path: Path, secret: str) -> None:
    status, said = run(
        "serve", "--host", "0.0.0.0", "--port", "0", "--data", str(tmp_path), env={"ASPECTUM_SECRET": secret}
    )
    assert status == 1 and "ASPECTUM_SECRET" in said and "token_urlsafe" in said
    assert not list(tmp_path.iterdir())


@pytest.mark.parametrize("further", [("--host", "0.0.0.0"), ("--proxy", "127.0.0.1")])
def test_the_demo_is_served_on_this_machine_only(tmp_path: Path, further: tuple[str, str]) -> None:
    status, said = run("serve", "--demo", *further, "--data", str(tmp_path))
    assert status == 1 and "without a passphrase" in said


def test_a_secret_is_made_at_random_once_and_is_its_owners_alone(tmp_path: Path) -> None:
    first = kept_secret(tmp_path)
    assert first == kept_secret(tmp_path) and not is_weak(first) and (tmp_path / "secret").stat().st_mode & 0o077 == 0
    (tmp_path / "secret").write_text("")  # a server that was stopped in the middle of it
    assert not is_weak(kept_secret(tmp_path))


def test_beyond_this_machine_nobody_is_let_in_before_there_is_a_class(tmp_path: Path) -> None:
    client = create_app(replace(settings_in(tmp_path), loopback=False)).test_client()
    assert client.get("/api/sheets").status_code == 401
    assert "aspectum tutor" in client.get("/api/me").get_json()["door"]
    assert (
        client.post("/api/classes", json={"name": "Mine", "tutor": "Me", "passphrase": PASSPHRASE}).status_code == 401
    )


def test_one_click_signs_in_where_the_demo_runs_and_nowhere_else(tmp_path: Path, term: Path) -> None:
    shutil.copytree(term, tmp_path, dirs_exist_ok=True)
    app = create_app(replace(settings_in(tmp_path), one_click=True))
    me = app.test_client().get("/api/me").get_json()
    assert [one["role"] for one in me["one_click"]] == ["tutor"] + ["student"] * 8
    clicked = {"person_id": me["one_click"][0]["person_id"]}
    assert app.test_client().post("/api/sign-in/one-click", json=clicked).get_json()["name"] == "Maren"
    elsewhere = app.test_client()
    assert (
        elsewhere.post("/api/sign-in/one-click", json=clicked, environ_base={"REMOTE_ADDR": "192.0.2.7"}).status_code
        == 403
    )
    usual = create_app(settings_in(tmp_path)).test_client()
    assert (
        usual.get("/api/me").get_json()["one_click"] == []
        and usual.post("/api/sign-in/one-click", json=clicked).status_code == 403
    )
