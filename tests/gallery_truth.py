"""The pictures of the gallery with their known truth: which proposals are right, and what of the truth they find.

Truth is that of the scenes (``tools/photos/gallery.py``): rays cast across every edge and circle tell what of it is
seen.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, SHIFT_X, SHIFT_Y, camera_matrix
from aspectum.pictures.opening import focal_35mm

Floats = NDArray[np.float64]

GALLERY = Path(__file__).parent / "gallery"
PHOTOS = Path(__file__).parents[1] / "aspectum/demo/photos"
ASIDE_PX, TURNED_DEG = 3.0, 2.5  # by which a line may lie off the edge that it is on
ON = 0.6  # of a line that must lie on a seen edge
SAME_DEG = 2.0  # by which a direction may be off
RIM_PX, RIM_SHARE = 3.0, 0.02  # by which a rim may lie off at most places, px, and of its width
LONG_PX, HALF = 80.0, 0.5  # an edge to be found, and how much of it must be
MAIN_PX, MAIN_SHARE = (
    150.0,
    0.04,
)  # seen length of a family's edges, px and of all that is seen, that makes it one of a picture's main


@dataclass(frozen=True)
class TrueEdge:
    """``seen`` (k,): at even steps from ``p`` to ``q`` (2,); ``direction`` (3,): in space, east, north and up."""

    p: Floats
    q: Floats
    direction: Floats
    seen: NDArray[np.bool_]

    @property
    def length_px(self) -> float:
        return float(np.hypot(*(self.q - self.p)))

    @property
    def seen_px(self) -> float:
        return self.length_px * float(self.seen.mean())

    @property
    def places(self) -> Floats:
        """Those of its places that are seen, (m, 2)."""
        share = (np.arange(len(self.seen)) + 0.5) / len(self.seen)
        return np.asarray(self.p + share[self.seen, None] * (self.q - self.p), float)

    def holds(self, p: Floats, q: Floats) -> float:
        """The share of a line from ``p`` to ``q`` that lies on what is seen of it."""
        run = self.q - self.p
        long = self.length_px
        way = run / long
        if abs((q - p) @ way) < np.cos(np.radians(TURNED_DEG)) * np.hypot(*(q - p)):
            return 0.0
        points = p + ((np.arange(15) + 0.5) / 15)[:, None] * (q - p)
        off = np.abs((points - self.p) @ np.array([-way[1], way[0]]))
        at = (points - self.p) @ way / long
        step = np.clip((at * len(self.seen)).astype(int), 0, len(self.seen) - 1)
        shown = (
            self.seen[step]
            | self.seen[np.clip(step - 1, 0, None)]
            | self.seen[np.clip(step + 1, None, len(self.seen) - 1)]
        )
        return float(((off < ASIDE_PX) & (at > -0.01 - 4 / long) & (at < 1.01 + 4 / long) & shown).mean())

    def covered(self, p: Floats, q: Floats) -> float:
        """The share of what is seen of it that a line from ``p`` to ``q`` covers."""
        long = float(np.hypot(*(q - p)))
        way = (q - p) / long
        places = self.places
        off, at = np.abs((places - p) @ np.array([-way[1], way[0]])), (places - p) @ way
        return float(((off < ASIDE_PX) & (at > -6) & (at < long + 6)).mean())


@dataclass(frozen=True)
class TrueCircle:
    """``points`` (900, 2) round it, of which the share ``seen`` shows; ``named``: a rim of a form, and not what else is
    round about it.
    """

    points: Floats
    wide_px: float
    seen: float
    named: bool

    def is_drawn_by(self, places: Floats) -> bool:
        """Whether places round a closed line lie on it."""
        few = places[:: max(1, len(places) // 48)]
        if np.abs(self.points.mean(axis=0) - few.mean(axis=0)).max() > self.wide_px:
            return False
        off = np.linalg.norm(few[:, None] - self.points[None], axis=2).min(axis=1)
        return bool(np.quantile(off, 0.8) < max(RIM_PX, RIM_SHARE * self.wide_px))


@dataclass(frozen=True)
class Piece:
    """One picture of the gallery."""

    name: str
    known: dict[str, Any]

    @cached_property
    def image(self) -> Image.Image:
        path = GALLERY / f"{self.name}.jpg"
        return Image.open(path if path.exists() else PHOTOS / f"{self.name}.jpg")

    @cached_property
    def pixels(self) -> NDArray[np.uint8]:
        return np.asarray(self.image.convert("RGB"))

    @property
    def focal_35mm(self) -> float | None:
        """As the file has it."""
        return focal_35mm(self.image)

    @property
    def tuned(self) -> bool:
        return bool(self.known["tuned"])

    @property
    def layout(self) -> str:
        return str(self.known["layout"])

    @property
    def overhead(self) -> bool:
        """Looking so steeply that eye level is far outside the picture."""
        return bool(abs(self.known["camera"]["pitch_deg"]) > 60)

    @property
    def eye_level_px(self) -> float:
        """In the middle of the picture."""
        return float(self.known["eye_level"]["left_y_px"] + self.known["eye_level"]["right_y_px"]) / 2

    @cached_property
    def edges(self) -> list[TrueEdge]:
        return [
            TrueEdge(
                np.array(e["p"]), np.array(e["q"]), np.array(e["direction"]), np.array([c == "1" for c in e["seen"]])
            )
            for e in self.known["edges"]
        ]

    @cached_property
    def circles(self) -> list[TrueCircle]:
        found = []
        turns = np.linspace(0, 2 * np.pi, 900, endpoint=False)
        for c in self.known["circles"]:
            tilt = np.radians(c["axis_deg"])
            minor, major = np.array([np.cos(tilt), -np.sin(tilt)]), np.array([np.sin(tilt), np.cos(tilt)])
            points = (
                np.array(c["ellipse_px"])
                + c["major_px"] / 2 * np.cos(turns)[:, None] * major
                + c["minor_px"] / 2 * np.sin(turns)[:, None] * minor
            )
            found.append(TrueCircle(points, c["major_px"], c["seen"].count("1") / len(c["seen"]), c["named"]))
        return found

    @cached_property
    def camera(self) -> Floats:
        """The true camera's matrix, in units of half the picture's diagonal."""
        picture, camera = self.known["picture"], self.known["camera"]
        size = np.array([picture["width_px"], picture["height_px"]], float)
        scale = float(np.hypot(*size)) / 2
        params = np.zeros(FIRST_BEARING)
        params[LOG_F] = np.log(camera["focal_px"] / scale)
        params[PITCH], params[ROLL] = np.radians([camera["pitch_deg"], camera["roll_deg"]])
        params[[SHIFT_X, SHIFT_Y]] = (np.array(camera["centre_px"]) - size / 2) / scale
        return camera_matrix(params)

    @cached_property
    def families(self) -> list[tuple[Floats, float]]:
        """The directions in space of its main families, each with the seen length (px) of all its edges."""
        found: list[tuple[Floats, float]] = []
        for edge in sorted(self.edges, key=lambda e: -e.seen_px):
            for k, (direction, length) in enumerate(found):
                if abs(direction @ edge.direction) > np.cos(np.radians(1.0)):
                    found[k] = direction, length + edge.seen_px
                    break
            else:
                found.append((edge.direction, edge.seen_px))
        total = sum(length for _, length in found)
        return [f for f in found if f[1] >= max(MAIN_PX, MAIN_SHARE * total)]

    def holds(self, p: Floats, q: Floats) -> bool:
        """Whether a line lies on a seen edge."""
        return any(e.holds(p, q) > ON for e in self.edges)

    def runs(self, p: Floats, q: Floats) -> bool:
        """Whether a line runs in a true direction: of an edge that holds it, or of a main family by its vanishing
        point.
        """
        size = self.known["picture"]["width_px"], self.known["picture"]["height_px"]
        scale = float(np.hypot(*size)) / 2
        middle = ((p + q) / 2 - np.array(size) / 2) / scale
        way = (q - p) / np.hypot(*(q - p))
        for direction in [e.direction for e in self.edges if e.holds(p, q) > ON] + [f[0] for f in self.families]:
            x, y, w = self.camera @ direction
            towards = np.array([x - middle[0] * w, y - middle[1] * w])
            if abs(way @ towards) > np.cos(np.radians(SAME_DEG)) * np.hypot(*towards):
                return True
        return False

    def is_rim(self, places: Floats) -> bool:
        """Whether places round a closed line lie on a true circle."""
        return any(circle.is_drawn_by(places) for circle in self.circles)

    def half_seen(self, wide_px: float) -> list[TrueCircle]:
        """Rims so wide and wider of which half shows, each once."""
        kept: list[TrueCircle] = []
        for circle in sorted(
            (c for c in self.circles if c.named and c.seen >= 0.5 and c.wide_px >= wide_px), key=lambda c: -c.seen
        ):
            if not any(other.is_drawn_by(circle.points[::18]) for other in kept):
                kept.append(circle)
        return kept

    def ray(self, point: Floats) -> Floats:
        """The unit direction from the eye of a homogeneous picture point, in half diagonals from the middle."""
        picture, camera = self.known["picture"], self.known["camera"]
        scale = float(np.hypot(picture["width_px"], picture["height_px"])) / 2
        cx, cy = (np.array(camera["centre_px"]) - np.array([picture["width_px"], picture["height_px"]]) / 2) / scale
        focal = camera["focal_px"] / scale
        ray = np.array([(point[0] - cx * point[2]) / focal, (point[1] - cy * point[2]) / focal, point[2]])
        return np.asarray(ray / np.linalg.norm(ray), float)

    @cached_property
    def long_edges(self) -> list[TrueEdge]:
        """Edges seen for 80 px and more, each line once."""
        kept: list[TrueEdge] = []
        for edge in sorted((e for e in self.edges if e.seen_px >= LONG_PX), key=lambda e: -e.seen_px):
            if not any(other.holds(edge.places[0], edge.places[-1]) > ON for other in kept):
                kept.append(edge)
        return kept


def pieces() -> list[Piece]:
    """All pictures of the gallery, by name."""
    return [
        Piece(path.name.removesuffix(".truth.json"), json.loads(path.read_text()))
        for path in sorted(GALLERY.glob("*.truth.json"))
    ]
