"""How the demo sheets from life were made: two corners of the harbour, projected, and read with the errors of a stick,
a gauge and a thumb.

Run as ``python tools/life/sight.py``; it writes ``aspectum/demo/sheets/10-fish-boxes`` and ``11-pump-house``, with
their truth beside them.
"""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np

SHEETS = Path(__file__).parents[2] / "aspectum/demo/sheets"
STICK_DEG, GAUGE_DEG, THUMB = 2.0, 1.0, 0.02
WAY = {"left": -1.0, "right": 1.0}


class Corner:
    """A near upright one unit tall, seen square on; ``turn_deg``: how far its right side turns away; ``away``: units
    from the eye.
    """

    def __init__(self, seed: int, turn_deg: float, away: float, level: float) -> None:
        self.rng = np.random.default_rng(seed)
        turn = math.radians(turn_deg)
        self.distance = {"left": away * math.tan(turn), "right": away / math.tan(turn)}
        self.level = level
        self.sightings: list[dict[str, Any]] = []

    def tilt(self, side: str, down: float) -> float:
        fall = math.atan((self.level - down) / self.distance[side])
        return math.degrees(fall) * -WAY[side]

    def edge(
        self,
        id: str,
        form: str,
        side: str,
        down: float,
        name: str,
        gauge: bool = False,
        repeats: int = 0,
        wrong: float = 0.0,
    ) -> None:
        true, sd = self.tilt(side, down), GAUGE_DEG if gauge else STICK_DEG
        read = [round(true + wrong + float(self.rng.normal(0, sd * 0.6)), 1) for _ in range(repeats + 1)]
        end: Any = {0.0: "near-top", 1.0: "near-bottom"}.get(down, down)
        sighting = {
            "id": id,
            "kind": "edge",
            "form": form,
            "family": side,
            "name": name,
            "end": end,
            "tilt_deg": read[0],
        }
        sighting |= {
            "taken_with": "gauge" if gauge else "stick",
            "judged_tilt_deg": float(round(true * 0.75 + self.rng.normal(0, 2.0))),
        }
        if gauge:
            sighting["held_sd_deg"] = round(float(abs(self.rng.normal(0.2, 0.05))), 2)
        if repeats:
            sighting["repeats_deg"] = read[1:]
        self.sightings.append(sighting)

    def side(self, prefix: str, form: str, side: str, width: float, name: str) -> None:
        far = 1.0 - width / self.distance[side]
        for id, along, ratio, what in (
            (f"{prefix}w", "across", width, "width"),
            (f"{prefix}h", "upright", far, "far upright"),
        ):
            read = round(ratio * (1 + float(self.rng.normal(0, THUMB))), 2)
            judged = round(ratio * (1.12 if along == "across" else 1.06), 2)
            common = {"id": id, "kind": "length", "form": form, "side": side, "of": "far-upright", "along": along}
            self.sightings.append(common | {"name": f"{name} {what}", "ratio": read, "judged_ratio": judged})


def written(number: int, name: str, sheet: dict[str, Any], corner: Corner) -> None:
    document = {"format": "aspectum-sighting-sheet", "version": 1, **sheet, "sightings": corner.sightings}
    (SHEETS / f"{number}-{name}.sighting.json").write_text(json.dumps(document, indent=1, ensure_ascii=False) + "\n")
    truth = {
        "distance_units": {side: round(d, 4) for side, d in corner.distance.items()},
        "eye_level_down": corner.level,
    }
    (SHEETS.parent / "life" / f"{name}.truth.json").write_text(json.dumps(truth, indent=1) + "\n")


def fish_boxes() -> None:
    """Stacked boxes below eye level; everything read once, two tilts with the gauge."""
    corner = Corner(4101, 38.0, 3.4, -0.42)
    corner.edge("lt", "boxes", "left", 0.0, "top edge, left", repeats=2)
    corner.edge("lb", "boxes", "left", 1.0, "bottom edge, left")
    corner.edge("rt", "boxes", "right", 0.0, "top edge, right", gauge=True)
    corner.edge("rb", "boxes", "right", 1.0, "bottom edge, right", gauge=True)
    corner.edge("lm", "boxes", "left", 0.5, "joint of the boxes, left")
    corner.edge("rm", "boxes", "right", 0.5, "joint of the boxes, right")
    corner.side("l", "boxes", "left", 0.78, "left")
    corner.side("r", "boxes", "right", 1.15, "right")
    corner.sightings.append(
        {
            "id": "r1",
            "kind": "rim",
            "form": "bucket",
            "name": "bucket, mouth",
            "ratio": 0.33,
            "down": 0.7,
            "across": -1.2,
            "width": 0.46,
            "judged_degree_deg": 14.0,
        }
    )
    corner.sightings.append(
        {
            "id": "a1",
            "kind": "alignment",
            "along": "plumb",
            "name": "bollard / back corner",
            "first": "the bollard",
            "second": "the left far corner",
            "beside": 0.03,
            "judged_beside": 0.1,
        }
    )
    forms = [
        {"id": "boxes", "kind": "box", "name": "Fish boxes"},
        {"id": "bucket", "kind": "cylinder", "name": "Bucket"},
    ]
    stick = {"arm_mm": 600.0, "unit_mm": 176.0}
    written(10, "fish-boxes", {"title": "Fish boxes, from life", "forms": forms, "stick": stick}, corner)


def pump_house() -> None:
    """A building across eye level, with a post beside it; one of its tilts is read eleven degrees wrong."""
    corner = Corner(4102, 52.0, 2.6, 0.68)
    corner.edge("lt", "house", "left", 0.0, "eaves, left", gauge=True)
    corner.edge("lb", "house", "left", 1.0, "foot of the wall, left")
    corner.edge("lm", "house", "left", 0.45, "sill, left", gauge=True)
    corner.edge("rt", "house", "right", 0.0, "eaves, right", wrong=11.0)
    corner.edge("rb", "house", "right", 1.0, "foot of the wall, right", gauge=True)
    corner.edge("rm", "house", "right", 0.45, "sill, right", gauge=True)
    corner.side("l", "house", "left", 1.3, "left")
    corner.side("r", "house", "right", 0.8, "right")
    for id, of, along, ratio, what, side in (
        ("pa", "near-upright", "across", 1.55, "across to the post", "right"),
        ("pt", "top", "upright", -0.22, "down to its top", None),
        ("pl", "near-upright", "upright", 1.08, "the post", None),
    ):
        post = {"id": id, "kind": "length", "form": "post", "of": of, "along": along, "name": what, "ratio": ratio}
        corner.sightings.append(post | ({"side": side} if side else {}))
    forms = [
        {"id": "house", "kind": "building", "name": "Pump house"},
        {"id": "post", "kind": "other", "name": "Signal post"},
    ]
    stick = {"arm_mm": 600.0, "unit_mm": 231.0, "upright_m": 3.2}
    written(11, "pump-house", {"title": "Pump house, from life", "forms": forms, "stick": stick}, corner)


if __name__ == "__main__":
    (SHEETS.parent / "life").mkdir(exist_ok=True)
    fish_boxes()
    pump_house()
