"""What the model stand's screen asks for: surfaces to shade, steps nearer, one thing more, elevations, turning, and
files.
"""

from __future__ import annotations

import io
import json
import math
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pypdf
import pytest
from flask.testing import FlaskClient
from PIL import Image, ImageDraw

from aspectum.core.stand.kinds import RoofKind
from aspectum.formats.stand import THING_KINDS, read_stand
from aspectum.service.stand.from_format import set_up_of
from tests.formats.test_stand import STANDS, TWO
from tests.web.test_api import upload

ALL = sorted(STANDS.glob("*.stand.json"))
BOX: dict[str, Any] = {
    "id": "a",
    "kind": "box",
    "name": "Box",
    "size_m": [0.6, 0.4, 0.5],
    "turn_deg": 90.0,
    "at_m": [1.0, 2.0],
}


def post(client: FlaskClient, route: str, **body: Any) -> dict[str, Any]:
    answer = client.post(f"/api/stand/{route}", json=body)
    assert answer.status_code == 200, answer.get_json()
    found: dict[str, Any] = answer.get_json()
    return found


def volume(solid: dict[str, Any]) -> float:
    """By the divergence theorem: of flat faces, and of a lathe's bands as truncated cones."""
    total = 0.0
    for face in solid["faces"]:
        for ring in face["rings"]:
            points = np.array(ring)
            cross = np.cross(points - points[0], np.roll(points, -1, axis=0) - points[0]).sum(axis=0) / 2
            total += float(points[0] @ cross) / 3
    for lathe in solid["lathes"]:
        r, z = np.array(lathe["radius"]), np.array(lathe["height"])
        total += float((math.pi / 3 * np.diff(z) * (r[:-1] ** 2 + r[:-1] * r[1:] + r[1:] ** 2)).sum())
    return total


@pytest.mark.parametrize("path", ALL, ids=[p.name.removesuffix(".stand.json") for p in ALL])
def test_surfaces_close_and_fill_the_box_round_the_set_up(client: FlaskClient, path: Any) -> None:
    """Every face is turned outwards with its holes, so that each thing has the room inside that it should."""
    document = json.loads(path.read_bytes())
    found = post(client, "solids", document=document)
    placed = {p.thing.id: p for p in set_up_of(read_stand(path.read_bytes())) if p.own is not None}
    assert {solid["thing"] for solid in found["solids"]} == set(placed)
    for solid in found["solids"]:
        size = placed[solid["thing"]].shape.high - placed[solid["thing"]].shape.low
        assert 0.0 < volume(solid) <= float(size.prod()) + 1e-6
        assert solid["base_m"] == pytest.approx(float(placed[solid["thing"]].frame.at[2]))
        assert solid["footprint"] and all(len(ring) >= 4 for ring in solid["footprint"])
    corners = np.vstack([p.box for p in placed.values()])
    # curves are cut coarser for shading than for lines
    assert found["low_m"] == pytest.approx(corners.min(axis=0), abs=1e-3) and found["high_m"] == pytest.approx(
        corners.max(axis=0), abs=1e-3
    )


def test_a_frame_with_a_hole_has_the_room_of_its_outline_less_the_hole(client: FlaskClient) -> None:
    ring = {"points": [[-0.5, 0], [0.5, 0], [0.5, 1], [-0.5, 1]]}
    hole = {"points": [[-0.3, 0.2], [0.3, 0.2], [0.3, 0.8], [-0.3, 0.8]]}
    thing = {"id": "f", "kind": "outline", "outline": ring, "holes": [hole], "depth_m": 0.25}
    solid = post(client, "solids", document={"things": [thing]})["solids"][0]
    assert volume(solid) == pytest.approx(0.25 * (1.0 - 0.36))
    assert max(len(face["rings"]) for face in solid["faces"]) == 2
    assert post(client, "solids", document={"things": []})["solids"] == []


def test_the_level_rail_stands_by_the_drawing(client: FlaskClient) -> None:
    found = post(client, "drawing", document=TWO)
    marks = found["level_rail"]
    assert [mark["height_m"] for mark in marks] == sorted(mark["height_m"] for mark in marks)
    assert [mark["y_px"] for mark in marks] == sorted((mark["y_px"] for mark in marks), reverse=True)
    assert {vp["words"].split()[-1] for vp in found["vanishing_points"] if vp["family"] in ("left", "right")} <= {
        "left",
        "right",
        "sheet",
        "edge",
    }


def test_stepping_nearer_keeps_the_line_of_sight_and_the_size_when_asked(client: FlaskClient) -> None:
    view = post(client, "step", document=TWO, share=0.5)
    same = post(client, "step", document=TWO, share=0.5, same_size=True, thing="crate")
    assert view["focal_35mm"] == 35.0 and same["focal_35mm"] == 17.5
    start = np.array(TWO["view"]["eye_m"])
    assert np.linalg.norm(np.array(same["eye_m"]) - [0.0, 0.0, 0.25]) == pytest.approx(
        np.linalg.norm(start - [0.0, 0.0, 0.25]) / 2
    )
    behind = TWO | {"view": TWO["view"] | {"heading_deg": 180.0}}
    answer = client.post("/api/stand/step", json={"document": behind, "share": 0.5})
    assert answer.status_code == 422 and "behind the eye" in json.dumps(answer.get_json())
    long = TWO | {"view": TWO["view"] | {"focal_35mm": 9000.0}}
    answer = client.post("/api/stand/step", json={"document": long, "share": 2.0, "same_size": True})
    assert answer.status_code == 422 and "focal_35mm" in json.dumps(answer.get_json())


@pytest.mark.parametrize("kind", ["isometric", "oblique", "square"])
def test_parallel_views_to_begin_with(client: FlaskClient, kind: str) -> None:
    view = post(client, "view", document=TWO, preset=kind)
    drawing = post(client, "drawing", document=TWO | {"view": view})
    assert view["parallel"] == kind and all(vp["x_px"] is None for vp in drawing["vanishing_points"])
    ends = [point for edge in drawing["edges"] for point in (edge["p"], edge["q"])]
    assert all(0 < x < 1280 and 0 < y < 960 for x, y in ends)


@pytest.mark.parametrize("kind", THING_KINDS)
def test_one_thing_more_of_every_kind_can_be_drawn_and_stands_clear(client: FlaskClient, kind: str) -> None:
    thing = post(client, "thing", document=TWO, kind=kind, of="crate")["thing"]
    document = TWO | {"things": [*TWO["things"], thing]}
    drawing = post(client, "drawing", document=document)
    assert len(drawing["edges"]) + len(drawing["rims"]) + len(drawing["curves"]) + len(drawing["outlines"]) > 14
    if kind != "section":
        placed = {p.thing.id: p.box for p in set_up_of(read_stand(json.dumps(document).encode())) if p.own is not None}
        others = np.vstack([box for id, box in placed.items() if id != thing["id"]])
        assert placed[thing["id"]][:, 0].min() > others[:, 0].max()


def test_one_thing_more_of_no_kind_is_refused(client: FlaskClient) -> None:
    for body, said in (
        ({"kind": "cube"}, "expected one of box"),
        ({"kind": "section", "of": "nothing"}, "goes through a thing"),
    ):
        answer = client.post("/api/stand/thing", json={"document": TWO} | body)
        assert answer.status_code == 422 and said in json.dumps(answer.get_json())


def test_a_box_shows_its_plan_front_and_side(client: FlaskClient) -> None:
    """Each in metres about the middle of its footprint: width by depth, width by height, depth by height."""
    found = post(client, "elevations", thing=BOX, divisions="thirds")
    for name, across, up, from_ground in (
        ("plan", 0.6, 0.4, False),
        ("front", 0.6, 0.5, True),
        ("side", 0.4, 0.5, True),
    ):
        points = np.array([p for stroke in found[name]["strokes"] for p in stroke["points"]])
        low = 0.0 if from_ground else -up / 2
        assert points.min(axis=0) == pytest.approx([-across / 2, low], abs=1e-6) and points.max(
            axis=0
        ) == pytest.approx([across / 2, low + up], abs=1e-6)
    assert [len(parts) for parts in found["divisions"]] == [2, 2, 2]
    assert found["divisions"][0] == pytest.approx([-0.1, 0.1])


def test_the_side_is_seen_from_the_right(client: FlaskClient) -> None:
    """A ramp rises towards the back: away is to the right."""
    found = post(client, "elevations", thing={"id": "r", "kind": "ramp", "size_m": [0.5, 1.0, 0.4]})
    assert found["drawn"] is None
    top = max((p for stroke in found["side"]["strokes"] for p in stroke["points"]), key=lambda p: p[1])
    assert top[0] == pytest.approx(0.5)


def test_an_outline_drawn_snaps_where_it_is_held_and_gives_the_thing(client: FlaskClient) -> None:
    gable = {"points": [[0.3, 0.0], [0.3, 0.33], [0.013, 0.49], [-0.3, 0.33], [-0.3, 0.0]]}
    asked = {"thing": BOX, "drawn": {"size_m": [0.6, 0.4, 0.5], "front": gable}, "by": "front"}
    found = post(client, "elevations", **asked, held=2, grid_m=0.05)["thing"]
    assert found["kind"] == "outline" and found["outline"]["points"][2] == pytest.approx([0.0, 0.5])
    assert found["outline"]["points"][1] == pytest.approx([0.3, 0.33])  # nobody holds it
    assert (found["at_m"], found["turn_deg"], found["name"]) == ([1.0, 2.0], 90.0, "Box")
    bays = post(client, "elevations", **asked, held=1, grid_m=0.25, bays=3)["thing"]
    assert bays["outline"]["points"][1][1] == pytest.approx(1 / 3)  # a third of the height draws nearer than the grid


def test_a_profile_is_drawn_upright_however_the_thing_leans(client: FlaskClient) -> None:
    thing = {"id": "t", "kind": "turned", "profile": {"points": [[0.2, 0.0], [0.1, 0.5]]}, "lean_deg": 40.0}
    shown = post(client, "elevations", thing=thing)
    points = np.array([p for stroke in shown["front"]["strokes"] for p in stroke["points"]])
    assert points.min(axis=0) == pytest.approx([-0.2, 0.0], abs=1e-3) and points.max(axis=0) == pytest.approx(
        [0.2, 0.5], abs=1e-3
    )
    assert shown["thing"]["lean_deg"] == 40.0


def test_sizes_are_typed_or_pulled(client: FlaskClient) -> None:
    drawn = {"size_m": [0.6, 0.4, 0.5]}
    typed = post(client, "elevations", thing=BOX, drawn=drawn, typed=[0.61, 0.4, 0.5])["thing"]
    assert typed["size_m"] == pytest.approx([0.61, 0.4, 0.5])
    pulled = post(
        client,
        "elevations",
        thing=BOX,
        drawn={"size_m": [0.6, 0.43, 0.51]},
        typed=[0.66, 0.43, 0.51],
        held=0,
        grid_m=0.05,
    )["thing"]
    assert pulled["size_m"] == pytest.approx([0.65, 0.43, 0.51])
    flat = post(client, "elevations", thing=BOX, drawn=drawn, typed=[0.6, 0.4, 0.001], held=2, grid_m=0.05)["thing"]
    assert flat["size_m"][2] == 0.05


@pytest.mark.parametrize(
    ("body", "said"),
    [
        (
            {"drawn": {"size_m": [1, 1, 1], "front": {"points": [[0.5, 0], [0.5, 2], [-0.5, 2], [-0.5, 0]]}}},
            "front: its highest point lies at 2 m",
        ),
        (
            {
                "drawn": {"size_m": [1, 1, 1], "front": {"points": [[-0.5, 0], [-0.4, 1], [-0.2, 0]]}},
                "symmetrical": ["front"],
            },
            "nothing is drawn",
        ),
        (
            {"drawn": {"size_m": [1, 1, 1], "front": {"points": [[0.1, 0], [-0.2, 1]]}, "turned": True}, "by": "front"},
            "a radius is not negative",
        ),
        ({"thing": {"id": "s", "kind": "section", "of": "a"}}, "has no elevations"),
    ],
)
def test_elevations_that_cannot_be_are_refused_with_the_place(
    client: FlaskClient, body: dict[str, Any], said: str
) -> None:
    answer = client.post("/api/stand/elevations", json={"thing": BOX} | body)
    assert answer.status_code == 422 and said in json.dumps(answer.get_json())


@pytest.mark.parametrize("path", ALL, ids=[p.name.removesuffix(".stand.json") for p in ALL])
def test_elevations_of_the_demo_give_back_what_they_show(client: FlaskClient, path: Any) -> None:
    """Drawn on without a change, every thing keeps its place, its measures and its room inside."""
    for thing in json.loads(path.read_bytes())["things"]:
        if thing["kind"] == "section":
            continue
        shown = post(client, "elevations", thing=thing)
        if shown["drawn"] is None:
            continue
        again = post(client, "elevations", thing=shown["thing"], drawn=shown["drawn"])
        assert again["size_m"] == pytest.approx(shown["size_m"])
        rooms = [
            volume(post(client, "solids", document={"things": [one | {"on": None}]})["solids"][0])
            for one in (shown["thing"], again["thing"])
        ]
        assert rooms[0] == pytest.approx(rooms[1], rel=1e-6)
        # nor does it move, wherever its outline was drawn
        before, after = (
            post(client, "solids", document={"things": [one | {"on": None}]})
            for one in (shown["thing"], again["thing"])
        )
        assert before["low_m"] == pytest.approx(after["low_m"], abs=1e-5) and before["high_m"] == pytest.approx(
            after["high_m"], abs=1e-5
        )


def test_an_outline_drawn_off_its_middle_stays_where_it_is(client: FlaskClient) -> None:
    ring = {"points": [[0.2, 0.1], [0.8, 0.1], [0.8, 0.5], [0.2, 0.5]]}
    thing = {"id": "o", "kind": "outline", "outline": ring, "depth_m": 0.2, "turn_deg": 90.0}
    shown = post(client, "elevations", thing=thing)
    points = np.array([p for stroke in shown["front"]["strokes"] for p in stroke["points"]])
    assert points.min(axis=0) == pytest.approx([-0.3, 0.0]) and points.max(axis=0) == pytest.approx(
        [0.3, 0.4]
    )  # where its points are dragged
    made = post(client, "elevations", thing=thing, drawn=shown["drawn"], typed=[0.6, 0.2, 0.4])["thing"]
    assert made["at_m"] == pytest.approx([0.0, 0.5]) and made["base_m"] == pytest.approx(0.1)
    before, after = (post(client, "solids", document={"things": [one]}) for one in (thing, made))
    assert (before["low_m"], before["high_m"]) == (pytest.approx(after["low_m"]), pytest.approx(after["high_m"]))


def test_a_box_turned_in_the_hand_stands_in_a_row(client: FlaskClient) -> None:
    """Handbook section 3: a box 2 × 1 turned by 45° is 2.121 wide; quarter turns first, then their halves."""
    document = {"things": [{"id": "b", "kind": "box", "size_m": [2.0, 1.0, 1.0]}]}
    found = post(client, "turning", document=document, thing="b", poses=8, seen_from_deg=0)
    assert [pose["turned_deg"] for pose in found["poses"]] == [0, 45, 90, 135, 180, 225, 270, 315]
    assert [round(pose["width_m"], 3) for pose in found["poses"]][:3] == [2.0, 2.121, 1.0]
    lefts = [min(x for stroke in pose["strokes"] for x, _ in stroke["points"]) for pose in found["poses"]]
    rights = [max(x for stroke in pose["strokes"] for x, _ in stroke["points"]) for pose in found["poses"]]
    assert all(right < left for right, left in zip(rights[:-1], lefts[1:], strict=True))
    assert min(lefts) > found["left_px"] and max(rights) < found["left_px"] + found["width_px"]
    answer = client.post("/api/stand/turning", json={"document": document, "thing": "b", "about": "end-on", "poses": 5})
    assert answer.status_code == 422 and "only what is round" in json.dumps(answer.get_json())


@pytest.fixture
def stand(client: FlaskClient) -> str:
    return str(client.post("/api/stands", json={"document": TWO}).get_json()["id"])


def test_a_set_up_leaves_as_files_and_comes_back(client: FlaskClient, stand: str) -> None:
    saved = client.get(f"/api/stands/{stand}/export/stand.json")
    assert "Two crates" in saved.headers["Content-Disposition"]
    back = client.post("/api/stand-files", data=saved.data, content_type="application/octet-stream")
    assert back.get_json()["things"][0]["id"] == "crate"
    assert client.get(f"/api/stands/{stand}/export/drawing.json").get_json()["format"] == "aspectum-stand-drawing"
    for path in (f"/api/stands/{stand}/export/drawing.svg", f"/api/stands/{stand}/seen.svg"):
        assert ElementTree.fromstring(client.get(path).data).attrib["viewBox"] == "0 0 1280 960"
    seen = client.get(f"/api/stands/{stand}/seen.svg")
    assert (
        client.get(f"/api/stands/{stand}/seen.svg", headers={"If-None-Match": seen.headers["ETag"]}).status_code == 304
    )
    assert client.get(f"/api/stands/{stand}/export/drawing.dxf").status_code == 404


@pytest.mark.parametrize(
    ("data", "said"),
    [(b"{", "JSON"), (b"[]", "object"), (b'{"format": "aspectum-sighting-sheet", "version": 1}', "aspectum-stand")],
)
def test_a_file_that_is_no_set_up_is_refused(client: FlaskClient, data: bytes, said: str) -> None:
    answer = client.post("/api/stand-files", data=data, content_type="application/octet-stream")
    assert answer.status_code == 422 and said in json.dumps(answer.get_json())
    assert client.post("/api/stand-files", data=data, content_type="text/plain").status_code == 415


def test_steps_are_printed_as_a_hand_out_and_one_by_one(client: FlaskClient, stand: str) -> None:
    pages = pypdf.PdfReader(io.BytesIO(client.get(f"/api/stands/{stand}/steps/tin.pdf").data)).pages
    assert "Step 1 of" in pages[0].extract_text() and "Ellipses in their squares" in "".join(
        page.extract_text() for page in pages
    )
    first = client.get(f"/api/stands/{stand}/steps/tin.svg?step=1")
    assert b"Eye level and vanishing points" in first.data and "step-1" in first.headers["Content-Disposition"]
    for path, status in (("barrel.pdf", 422), ("tin.dxf", 404), ("tin.svg?step=99", 422), ("tin.svg?step=x", 422)):
        assert client.get(f"/api/stands/{stand}/steps/{path}").status_code == status


def test_the_strip_of_a_thing_turned_is_a_file(client: FlaskClient, stand: str) -> None:
    strip = client.get(f"/api/stands/{stand}/turning/tin.svg?poses=5&about=end-on&seen_from_deg=0")
    texts = [element.text for element in ElementTree.fromstring(strip.data).iter("{http://www.w3.org/2000/svg}text")]
    assert {"0°", "22.5°", "45°", "67.5°", "90°"} <= set(texts) and "top 45°" in texts
    for query, status in (("poses=1", 422), ("poses=5&about=sideways", 422), ("colour=red", 422)):
        assert client.get(f"/api/stands/{stand}/turning/tin.svg?{query}").status_code == status


def test_a_sheet_of_the_stand_is_planned_drawn_and_judged_like_a_photos(client: FlaskClient, stand: str) -> None:
    shot = io.BytesIO()
    Image.new("RGB", (1280, 960), "white").save(shot, "PNG")
    picture = upload(client, shot.getvalue(), "view.png").get_json()["id"]
    line = client.post(f"/api/stands/{stand}/sheet", json={"picture_id": picture}).get_json()
    path = f"/api/sheets/{line['id']}"
    sheet = client.get(path).get_json()
    laid = post(client, "sheet", document=TWO)["sightings"]
    document = sheet["document"] | {"sightings": laid}
    saved = client.put(path, json={"revision": sheet["revision"], "document": document}).get_json()
    assert {finding["verdict"] for finding in saved["report"]["findings"]} == {"holds"}
    assert client.get(f"{path}/plan.svg").status_code == 200
    # a student's drawing of it, each edge pencilled where it truly is
    paper = Image.new("RGB", (1280, 960), "white")
    pen = ImageDraw.Draw(paper)
    edges = [one for one in laid if one["kind"] == "edge"]
    for edge in edges:
        pen.line([tuple(edge["p"]), tuple(edge["q"])], fill="black", width=2)
    drawn = io.BytesIO()
    paper.save(drawn, "PNG")
    photo = upload(client, drawn.getvalue(), "drawing.png").get_json()["id"]
    brought = client.post(
        "/api/drawings", json={"photo_id": photo, "subject_id": line["id"], "corners": None, "paper_mm": None}
    )
    assert brought.status_code == 200, brought.get_json()
    critique = client.post("/api/critique", json={"subject": document, "drawing": document | {"stand": None}})
    assert critique.status_code == 200, critique.get_json()
    assert critique.get_json()["causes"] == []


def test_roofs_of_a_building_rise_as_they_are_called(client: FlaskClient) -> None:
    """Over walls 2.6 m high; a flat roof adds nothing but itself."""
    thing = post(client, "thing", document={"things": []}, kind="building")["thing"]
    heights = {}
    for roof in RoofKind:
        found = post(client, "solids", document={"things": [thing | {"roof": roof.value, "rise_m": 1.5}]})
        heights[roof] = found["high_m"][2]
    assert heights[RoofKind.GABLED] == pytest.approx(heights[RoofKind.HIPPED], abs=0.3)
    assert heights[RoofKind.FLAT] < heights[RoofKind.GABLED]
