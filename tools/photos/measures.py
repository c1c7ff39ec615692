"""What there is to measure in the demo photos, and its known truth: faces and parts of them, heights, lengths.

    python tools/photos/measures.py

Adds to each ``*.truth.json`` the entry ``measured``: where the ends, corners and places fall (px), and what is true of them. The frames
are those of the scenes; nothing is rendered.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from camera import Camera, Vec

PHOTOS = Path(__file__).parents[2] / "aspectum/demo/photos"
Place = Callable[[float, float, float], Vec]


def frame(origin: tuple[float, float, float], bearing_deg: float) -> Place:
    """Places of a form by metres along its right, its left and up, as ``scenery.Frame``."""
    b = np.radians(bearing_deg)
    right, left = np.array([np.sin(b), np.cos(b), 0.0]), np.array([-np.cos(b), np.sin(b), 0.0])
    return lambda x, y, z: np.array(origin) + x * right + y * left + np.array([0.0, 0.0, z])


class Sheet:
    """What is measured on one photo, in order."""

    def __init__(self, camera: Camera) -> None:
        self.camera = camera
        self.entries: list[dict[str, Any]] = []

    def px(self, at: Vec) -> list[float]:
        return [round(float(v), 2) for v in self.camera.project(at)]

    def face(self, id: str, form: str, name: str, families: tuple[str, str], corners: list[Vec]) -> None:
        self.entries.append(
            {
                "id": id,
                "kind": "face",
                "form": form,
                "name": name,
                "families": list(families),
                "corners": [self.px(c) for c in corners],
            }
        )

    def part(self, id: str, face: str, name: str, at: Vec, part: float, along: str = "across") -> None:
        self.entries.append(
            {
                "id": id,
                "kind": "division",
                "face": face,
                "name": name,
                "along": along,
                "point": self.px(at),
                "truth": round(part, 4),
            }
        )

    def height(self, id: str, name: str, foot: Vec, metres: float) -> None:
        top = foot + np.array([0.0, 0.0, metres])
        self.entries.append(
            {"id": id, "kind": "height", "name": name, "foot": self.px(foot), "top": self.px(top), "truth": metres}
        )

    def length(self, id: str, form: str, name: str, p: Vec, q: Vec, unit: bool = False) -> None:
        self.entries.append(
            {"id": id, "kind": "length", "form": form, "name": name, "p": self.px(p), "q": self.px(q), "unit": unit}
        )

    def tilt(self, id: str, form: str, name: str, p: Vec, q: Vec) -> None:
        self.entries.append(
            {
                "id": id,
                "kind": "alignment",
                "form": form,
                "name": name,
                "along": "tilt",
                "p": self.px(p),
                "q": self.px(q),
            }
        )


STORE = frame((-2.75, 4.6, 0.0), 8.0)


def crates() -> tuple[Sheet, dict[str, dict[str, float]]]:
    sheet = Sheet(Camera((0.0, 0.0, 1.5), -3.2, 0.4, 28.0))
    deep, wide, high = 1.15, 0.9, 0.78
    big = frame((-0.42, 2.75, 0.0), 36.0)
    sheet.length("unit", "crate", "near upright, the unit", big(0, 0, 0), big(0, 0, high), unit=True)
    sheet.length("long-top", "crate", "top of the long side", big(0, 0, high), big(deep, 0, high))
    sheet.length("far-upright", "crate", "far upright of the long side", big(deep, 0, 0), big(deep, 0, high))
    sheet.tilt("corner-to-corner", "crate", "long side, foot to far corner", big(0, 0, 0), big(deep, 0, high))
    sheet.height("door", "store door", STORE(3.75, -0.035, 0.0), 2.35)
    return sheet, {"crate": {"right": deep, "left": wide, "upright": high}}


def loft() -> tuple[Sheet, dict[str, dict[str, float]]]:
    sheet = Sheet(Camera((0.0, 0.0, 1.65), 2.0, -0.3, 28.0))
    at = frame((-0.9, 7.2, 0.0), 56.0)
    length, depth, low, high = 9.0, 5.4, 0.38, 3.2
    sheet.face(
        "gable",
        "loft",
        "gable wall",
        ("left", "upright"),
        [at(0, depth, low), at(0, 0, low), at(0, 0, high), at(0, depth, high)],
    )
    for id, name, y in (
        ("far-window-far", "far window, far side", 4.6),
        ("far-window-near", "far window, near side", 3.6),
        ("near-window-far", "near window, far side", 1.8),
        ("near-window-near", "near window, near side", 0.8),
    ):
        sheet.part(id, "gable", name, at(0, y, 1.9), 1 - y / depth)
    sheet.part("gable-sill", "gable", "sill of the near window", at(0, 1.3, 1.2), (1.2 - low) / (high - low), "up")
    sheet.face(
        "long-wall",
        "loft",
        "long wall",
        ("right", "upright"),
        [at(0, 0, low), at(length, 0, low), at(length, 0, 2.9), at(0, 0, 2.9)],
    )
    sheet.part("door-near", "long-wall", "door, near side", at(3.3, 0, 1.4), 3.3 / length)
    sheet.part("door-far", "long-wall", "door, far side", at(4.9, 0, 1.4), 4.9 / length)
    return sheet, {}


def market() -> tuple[Sheet, dict[str, dict[str, float]]]:
    sheet = Sheet(Camera((0.35, 0.0, 1.55), 0.0, 0.0, 28.0))

    def at(x: float, y: float, z: float) -> Vec:
        return np.array([x, y, z])

    # beams cross the hall every 1.7 m; the side beams that they lie on end the bays
    near, bay, left, right, under = 6.64, 1.7, -3.7, 3.62, 3.95
    far = near + 5 * bay
    corners = [at(left, near, under), at(left, far, under), at(right, far, under), at(right, near, under)]
    sheet.face("ceiling", "hall", "ceiling between beams", ("depth", "across"), corners)
    for k in range(1, 5):
        sheet.part(f"beam-{k}", "ceiling", f"beam {k + 1}", at(1.6, near + k * bay, under), k / 5)
    sheet.height("bucket", "bucket", at(-1.2, 4.93, 0.0), 0.36)
    sheet.height("opening", "opening to the water", at(-1.3, 17.0, 0.0), 2.7)
    return sheet, {}


def main() -> None:
    for name, make in (("crates", crates), ("loft", loft), ("market", market)):
        path = PHOTOS / f"{name}.truth.json"
        known = json.loads(path.read_text())
        sheet, sizes = make()
        known |= {"measured": sheet.entries, "sizes_m": sizes}
        if name == "crates":
            # along the foot of the store's brick wall, to stand a measuring rod on
            known["wall_feet_px"] = [sheet.px(STORE(0.15 + 0.02 * k, 0, 0)) for k in range(30)]
        path.write_text(json.dumps(known, indent=1, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    main()
