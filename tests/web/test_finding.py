"""A kept photo looked into: once, in turn, stopped when nobody wants it, and offered without what is there already."""

from __future__ import annotations

import os
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from flask import Flask
from flask.testing import FlaskClient

from aspectum.demo.fill import PHOTOS, truth
from aspectum.formats.sheet import FoundView
from aspectum.pictures.isolated import seek_isolated
from aspectum.service.errors import Stopped
from aspectum.service.runtime.photo_queue import LEFT_ALONE_S, PhotoQueue
from aspectum.service.sheets import finding
from aspectum.service.words.finding import NOTHING, eye_level_words, view_words
from aspectum.web.app import create_app
from tests.conftest import settings_in
from tests.databases import copy_folder
from tests.web.test_api import upload
from tests.web.test_many_at_once import until
from tests.web.test_pictures import encoded, photo

TICKET = "ticket-of-this-page"
PLAIN = {"format": "aspectum-sighting-sheet", "version": 1}


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory, fresh: Path) -> FlaskClient:
    folder = tmp_path_factory.mktemp("finding")
    copy_folder(fresh, folder)
    return create_app(settings_in(folder)).test_client()


def app_of(client: FlaskClient) -> Flask:
    return client.application


def kept(client: FlaskClient, data: bytes) -> dict[str, Any]:
    answer = upload(client, data)
    assert answer.status_code == 200
    picture: dict[str, Any] = answer.get_json()
    return picture


@pytest.fixture(scope="module")
def loft(client: FlaskClient) -> dict[str, Any]:
    """The net loft, looked into."""
    picture = kept(client, (PHOTOS / "loft.jpg").read_bytes())
    picture["look"] = client.post(f"/api/pictures/{picture['id']}/look?ticket={TICKET}").get_json()
    return picture


def blank(picture: dict[str, Any]) -> dict[str, Any]:
    return PLAIN | {"picture": {"width_px": picture["width_px"], "height_px": picture["height_px"]}}


def test_it_says_eye_level_the_view_and_the_forms(loft: dict[str, Any]) -> None:
    level, view = loft["look"]["words"]
    true = truth("loft")["eye_level"]
    share = round(100 * (true["left_y_px"] + true["right_y_px"]) / 2 / 960)
    assert f"{share} % down the picture" in level
    assert "28 mm" in view and "up" in view
    building = loft["look"]["forms"][0]
    assert building["kind"] == "building" and building["count"] > 20 and "upright" in building["words"]


def test_a_photo_is_looked_into_once(
    client: FlaskClient, loft: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    def never(*_: object) -> None:
        raise AssertionError("looked again")

    monkeypatch.setattr(finding, "seek_isolated", never)
    again = client.post(f"/api/pictures/{loft['id']}/look?ticket={TICKET}").get_json()
    assert again == loft["look"]


def test_forms_are_offered_one_by_one_each_once_and_never_over_what_is_laid(
    client: FlaskClient, loft: dict[str, Any]
) -> None:
    first, second = loft["look"]["forms"][:2]

    def offered(document: dict[str, Any], form: str | None) -> dict[str, Any]:
        answer = client.post(f"/api/pictures/{loft['id']}/offer", json={"document": document, "form": form})
        assert answer.status_code == 200
        told: dict[str, Any] = answer.get_json()
        return told

    one = offered(blank(loft), first["id"])
    assert one["added"] == first["count"]
    assert all(s["proposed"] and s["form"] == first["id"] for s in one["document"]["sightings"])
    assert offered(one["document"], first["id"])["added"] == 0
    both = offered(one["document"], None)
    assert both["added"] == sum(f["count"] for f in loft["look"]["forms"]) - first["count"]
    ids = [s["id"] for s in both["document"]["sightings"]]
    assert len(set(ids)) == len(ids) and len({s["name"] for s in both["document"]["sightings"]}) == len(ids)
    assert second["id"] != first["id"] and both["document"]["found"]["eye_level"]
    # an edge that a hand laid beside one of them stands in its place
    edge = next(s for s in one["document"]["sightings"] if s["kind"] == "edge")
    laid = {
        "id": "mine",
        "kind": "edge",
        "family": edge["family"],
        "p": [edge["p"][0] + 0.6, edge["p"][1]],
        "q": edge["q"],
        "judged_tilt_deg": 3.0,
    }
    mine = offered(blank(loft) | {"sightings": [laid]}, first["id"])
    assert mine["added"] < first["count"] and mine["document"]["sightings"][0]["judged_tilt_deg"] == 3.0


def test_a_rim_that_is_laid_is_not_offered_again(client: FlaskClient) -> None:
    tins = kept(client, (PHOTOS / "drums.jpg").read_bytes())
    look = client.post(f"/api/pictures/{tins['id']}/look?ticket={TICKET}").get_json()
    document = client.post(
        f"/api/pictures/{tins['id']}/offer", json={"document": blank(tins), "form": None}
    ).get_json()["document"]
    rims = [s for s in document["sightings"] if s["kind"] == "rim"]
    assert rims and any("rim" in f["words"] for f in look["forms"])
    rim = {key: value for key, value in rims[0].items() if key not in ("proposed", "confidence", "form")} | {
        "id": "mine"
    }
    mine = client.post(
        f"/api/pictures/{tins['id']}/offer", json={"document": blank(tins) | {"sightings": [rim]}, "form": None}
    ).get_json()
    places = [s["points"][0] for s in mine["document"]["sightings"][1:] if s["kind"] == "rim"]
    assert rims[0]["points"][0] not in places


def test_what_shows_no_forms_says_so(client: FlaskClient) -> None:
    picture = kept(client, encoded(photo(900, 700), "JPEG"))
    look = client.post(f"/api/pictures/{picture['id']}/look?ticket={TICKET}").get_json()
    assert look == {"words": [str(NOTHING)], "forms": [], "found": None}


def test_a_photo_that_nobody_looked_into_has_nothing_to_offer(client: FlaskClient) -> None:
    picture = kept(client, encoded(photo(), "JPEG"))
    answer = client.post(f"/api/pictures/{picture['id']}/offer", json={"document": blank(picture), "form": None})
    assert answer.status_code == 404 and "not been looked at" in answer.get_json()["detail"]


@pytest.mark.usefixtures("pictures_anew")
def test_looking_is_stopped_while_it_waits_and_while_it_is_at_it(client: FlaskClient) -> None:
    looks: PhotoQueue = app_of(client).extensions["aspectum"].looks
    picture = kept(client, (PHOTOS / "market.jpg").read_bytes())
    path = f"/api/pictures/{picture['id']}/look?ticket={TICKET}"
    with ThreadPoolExecutor(1) as pool:
        with looks.turn("ticket-of-another"):
            waiting = pool.submit(app_of(client).test_client().post, path)
            assert until(lambda: client.get(path).get_json()["ahead"] == 1)
            client.delete(path)
            assert waiting.result(10).status_code == 409
        looking = pool.submit(app_of(client).test_client().post, path)
        assert until(lambda: client.get(path).get_json()["ahead"] == 0)
        client.delete(path)
        assert looking.result(10).status_code == 409
    assert client.get(path).get_json() == {"ahead": None}
    assert not list(looks.folder.glob("*.stop")) and not list(looks.folder.glob("*.turn"))


def test_a_child_that_is_stopped_at_once_finds_nothing() -> None:
    assert seek_isolated((PHOTOS / "tower.jpg").read_bytes(), None, None, lambda: True) is None


def test_a_full_disk_is_told_and_the_photo_can_be_looked_into_later(
    client: FlaskClient, loft: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    here = app_of(client).extensions["aspectum"]
    picture = kept(client, encoded(photo(300, 200), "JPEG"))

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patch:
        patch.setattr(here.files.__class__, "note", full)
        answer = client.post(f"/api/pictures/{picture['id']}/look?ticket={TICKET}")
        assert answer.status_code == 507 and "No space" in answer.get_json()["detail"]
    assert client.post(f"/api/pictures/{picture['id']}/look?ticket={TICKET}").status_code == 200


def test_what_was_kept_of_a_photo_and_cannot_be_read_is_looked_for_anew(client: FlaskClient) -> None:
    here = app_of(client).extensions["aspectum"]
    picture = kept(client, encoded(photo(310, 210), "JPEG"))
    path = f"/api/pictures/{picture['id']}/look?ticket={TICKET}"
    client.post(path)
    note = max(here.files.folder.glob("*/*.json"), key=lambda path: path.stat().st_mtime_ns)
    note.write_bytes(note.read_bytes()[:40])
    assert client.post(path).get_json()["words"] == [str(NOTHING)]


def test_an_edge_is_found_under_a_finger_and_a_clear_sky_has_none(client: FlaskClient, loft: dict[str, Any]) -> None:
    path = f"/api/pictures/{loft['id']}/edge"
    edge = max(truth("loft")["edges"], key=lambda e: float(np.hypot(*np.subtract(e["p"], e["q"]))))
    middle = np.mean([edge["p"], edge["q"]], axis=0)
    found = client.post(path, json={"at": middle.tolist(), "reach_px": 12}).get_json()
    run, true = np.subtract(found["q"], found["p"]), np.subtract(edge["q"], edge["p"])
    assert abs(run[0] * true[1] - run[1] * true[0]) / np.hypot(*run) / np.hypot(*true) < np.sin(np.radians(0.7))
    sky = client.post(path, json={"at": [1100, 120], "reach_px": 12}).get_json()
    assert sky["p"] is None and "Point closer" in sky["words"]
    for wrong in ({"at": [0, 0], "reach_px": 0}, {"at": [0], "reach_px": 5}, {"at": [0, 0], "reach_px": 1e9}):
        assert client.post(path, json=wrong).status_code == 422


@pytest.mark.parametrize(
    ("share", "said"),
    [(0.4, "40 % down the picture"), (-0.25, "above the picture, by 25 %"), (1.3, "below the picture, by 30 %")],
)
def test_eye_level_is_told_by_the_pictures_height(share: float, said: str) -> None:
    level = {"left_y_px": share * 1000, "right_y_px": share * 1000, "sd_px": 12.0}
    view = FoundView.model_validate({"eye_level": level, "focal_px": 1400.0, "focal_sd_px": 30.0})
    assert said in eye_level_words(view, 1000) and "± 1.2 %" in eye_level_words(view, 1000)
    up = np.degrees(np.arctan2(share * 1000 - 500, 1400.0))
    assert f"{abs(up):.0f}° {'up' if up > 0 else 'down'}" in view_words(view, 1400, 1000) and "36 mm" in view_words(
        view, 1400, 1000
    )


def test_a_stop_for_what_does_not_wait_leaves_nothing_behind(tmp_path: Path) -> None:
    turns = PhotoQueue(tmp_path / "looks")
    turns.stop("ticket-unknown")
    with turns.turn("ticket-unknown") as stopped:
        assert not stopped()
        turns.stop("ticket-unknown")
        assert stopped()
    with pytest.raises(Stopped), turns.turn("ticket-first"), ThreadPoolExecutor(1) as pool:
        later = pool.submit(entered, turns)
        assert until(lambda: turns.ahead_of("ticket-later") == 1)
        turns.stop("ticket-later")
        later.result(10)


def test_who_asked_and_asks_no_more_is_waited_for_no_longer_and_who_never_asked_is(tmp_path: Path) -> None:
    """A device that was shut in the middle of it; and a program that only waits for the answer."""
    turns = PhotoQueue(tmp_path / "looks")
    with turns.turn("ticket-of-page") as ended, ThreadPoolExecutor(1) as pool:
        later = pool.submit(entered, turns)
        assert until(lambda: turns.ask("ticket-later") == 1) and not turns.is_left_alone("ticket-later")
        assert turns.ask("ticket-of-page") == 0 and not ended()
        long_ago = time.time() - 2 * LEFT_ALONE_S
        for asked in turns.folder.glob("*.asked"):
            os.utime(asked, (long_ago, long_ago))
        with pytest.raises(Stopped):
            later.result(10)
        assert ended() and not turns.is_left_alone("ticket-of-program")
    assert not list(turns.folder.glob("*.asked"))


def entered(turns: PhotoQueue) -> None:
    with turns.turn("ticket-later"):
        pass


def test_what_was_found_in_a_photo_goes_with_it(client: FlaskClient) -> None:
    files = app_of(client).extensions["aspectum"].files
    picture = kept(client, encoded(photo(330, 230), "JPEG"))
    before = set(files.folder.glob("*/*.json"))
    client.post(f"/api/pictures/{picture['id']}/look?ticket={TICKET}")
    (note,) = set(files.folder.glob("*/*.json")) - before
    files.drop(note.name.split(".")[0])
    assert not list(note.parent.glob(f"{note.name.split('.')[0]}*"))
