"""Quotas: how much one person may keep, and how fast they may send."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import pytest
from flask import Flask
from flask.testing import FlaskClient

from aspectum.service.people import quota
from aspectum.service.people.people import person_alone
from aspectum.settings import settings_from_environment
from aspectum.store.models import Picture
from aspectum.web.app import create_app
from tests.conftest import settings_in
from tests.databases import copy_folder


def send(client: FlaskClient, data: bytes) -> tuple[int, str]:
    answer = client.post("/api/pictures?name=photo.jpg", data=data, content_type="image/jpeg")
    return answer.status_code, str((answer.json or {}).get("detail", ""))


def test_no_more_is_kept_than_one_person_may(tmp_path: Path, fresh: Path, crates_jpeg: bytes) -> None:
    copy_folder(fresh, tmp_path)
    app = create_app(replace(settings_in(tmp_path), most_mb=1))
    client = app.test_client()
    assert send(client, crates_jpeg)[0] == 200
    status, words = send(client, crates_jpeg + bytes(900_000))
    assert status == 507 and "more than 1 MB" in words and "30 days later" in words
    with app.extensions["aspectum"].sessions() as session:
        assert session.query(Picture).count() == 1, "what was refused left nothing behind"


def test_nor_more_pictures_than_a_term_has(
    client: FlaskClient, crates_jpeg: bytes, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(quota, "MOST_PICTURES", 1)
    assert send(client, crates_jpeg)[0] == 200
    status, words = send(client, crates_jpeg)
    assert status == 507 and "1 pictures are the most" in words


def test_photos_in_a_row_have_an_end_and_the_wait_is_told(client: FlaskClient, app: Flask, crates_jpeg: bytes) -> None:
    here = app.extensions["aspectum"]
    with here.sessions() as session:
        alone = person_alone(session)
        assert alone is not None
        me = alone.id
    for _ in range(quota.UPLOADS.most):
        quota.see_uploads(here.tries, me)
    answer = client.post("/api/pictures?name=photo.jpg", data=crates_jpeg, content_type="image/jpeg")
    assert answer.status_code == 429 and int(answer.headers["Retry-After"]) > 0


@pytest.mark.parametrize(("said", "most"), [("", 3000), ("500", 500), ("0", 0), ("plenty", 3000)])
def test_the_limit_is_the_schools_to_set(monkeypatch: pytest.MonkeyPatch, said: str, most: int) -> None:
    monkeypatch.setenv("ASPECTUM_PICTURES_MB", said)
    assert settings_from_environment(Path("data")).most_mb == most
