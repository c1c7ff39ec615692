"""Make the demo drawings: pencil on paper with known faults, photographed at a slant on a board.

    .venv/bin/python tools/drawings/draw.py

For each a photo (``NAME.jpg``), what is known of it (``NAME.truth.json``: corners, paper, faults), and its sheet as a
hand sights it on the flattened paper (``NAME.sighting.json``). The lines come from the demo subject's own solved forms,
moved by the faults; the photo from the board, light and hand of the tests' simulated photos.
"""

from __future__ import annotations

import io
import json
import sys
from itertools import pairwise
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from PIL import Image

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT))

from aspectum.core.drawing.closed import Knob, Move  # noqa: E402
from aspectum.core.drawing.closing import close  # noqa: E402
from aspectum.core.drawing.compare import joined, paired  # noqa: E402
from aspectum.core.look import look  # noqa: E402
from aspectum.core.sightings import Family  # noqa: E402
from aspectum.formats.sheet import SightingSheet, read_sheet, write_sheet  # noqa: E402
from aspectum.formats.sightings import EdgeSighting, RimSighting  # noqa: E402
from aspectum.service.paper.critique import core_laid  # noqa: E402
from tests.paper_photos import photograph  # noqa: E402

DEMO = ROOT / "aspectum/demo"
PAPER_MM = (297.0, 210.0)
PPM = 8.0  # px a mm of the drawn sheet
POINT_PPM = 2400 / 297.0  # px a mm of the flattened one
GRAPHITE = np.array([72, 72, 78], float)

# name, subject, faults by knob, rims made flatter (degrees), slant of the photo, seed, title
DRAWINGS = [
    ("crates", "1-crates", [(Knob(Move.EYE_LEVEL), 0.26)], {}, 24.0, 11, "Crates, in pencil"),
    ("tins", "5-tins", [], {"lower": 11.0}, 30.0, 12, "Paint tins, in pencil"),
    (
        "loft",
        "2-loft",
        [(Knob(Move.VANISHING_POINT, "loft", Family.RIGHT), -0.13)],
        {},
        18.0,
        13,
        "The net loft, in pencil",
    ),
]


def pencil(sheet: np.ndarray, path: np.ndarray, rng: np.random.Generator, dark: float, wide_mm: float) -> None:
    """One stroke along ``path`` (n, 2; mm): several passes that wander and fade a little."""
    for _ in range(2):
        layer = np.zeros(sheet.shape[:2], np.float32)
        wander = np.cumsum(rng.normal(0, 0.025, path.shape), axis=0)
        wander -= np.linspace(0, 1, len(path))[:, None] * wander[-1]
        at = (path + wander + rng.normal(0, 0.07, 2)) * PPM
        press = np.clip(1 + 0.25 * np.cumsum(rng.normal(0, 0.15, len(path))) / 3, 0.55, 1.15)
        for k in range(len(at) - 1):
            a, b = ((at[k] * 16).astype(int), (at[k + 1] * 16).astype(int))
            cv2.line(
                layer,
                tuple(a.tolist()),
                tuple(b.tolist()),
                float(press[k]),
                max(1, round(wide_mm * PPM)),
                cv2.LINE_AA,
                4,
            )
        grain = 0.72 + 0.28 * rng.random(layer.shape, dtype=np.float32)
        cover = (layer * grain * dark)[..., None]
        sheet *= 1 - cover
        sheet += GRAPHITE * cover


def strokes(p: np.ndarray, q: np.ndarray, over: float = 0.0) -> np.ndarray:
    run = q - p
    return p - over * run + np.linspace(0, 1, 40)[:, None] * run * (1 + 2 * over)


def wobbled(p: np.ndarray, q: np.ndarray, rng: np.random.Generator) -> tuple[np.ndarray, np.ndarray]:
    """A line as a fair hand draws it: a little turned, a little long or short, its ends a little off."""
    middle, half = (p + q) / 2, (q - p) / 2
    a = np.radians(rng.normal(0, 0.8))
    half = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) @ half * np.exp(rng.normal(0, 0.015))
    return middle - half + rng.normal(0, 0.4, 2), middle + half + rng.normal(0, 0.4, 2)


def make(
    name: str,
    subject_name: str,
    faults: list[tuple[Knob, float]],
    flatter: dict[str, float],
    slant: float,
    seed: int,
    title: str,
) -> None:
    rng = np.random.default_rng(seed)
    subject = read_sheet((DEMO / f"sheets/{subject_name}.sighting.json").read_bytes())
    laid = core_laid(subject, "the subject")
    seen = look(laid.setup, laid.edges, laid.rims, laid.measured)
    closed = close(seen, laid.edges, laid.rims, joined(seen, paired(laid, laid)))
    drawn = closed.draw([k for k, _ in faults], np.array([v for _, v in faults]))
    every = [drawn.points[closed.places[e.id, tip]] for e in laid.edges for tip in (0, 1)]
    for n, ring in enumerate(closed.rings):
        every += [
            (ring.centre @ closed.turn) + s * drawn.rims[n, 0] for s in (np.array([1, 0.4]), np.array([-1, -0.4]))
        ]
    low, high = np.min(every, axis=0), np.max(every, axis=0)
    mm = float(min((np.array(PAPER_MM) - 44) / (high - low)))
    shift = np.array(PAPER_MM) / 2 - (low + high) / 2 * mm

    sheet = np.full((round(PAPER_MM[1] * PPM), round(PAPER_MM[0] * PPM), 3), 244.0)
    sheet += cv2.GaussianBlur(rng.normal(0, 6, sheet.shape[:2]), (0, 0), 1.1)[..., None]
    sightings: list[dict[str, Any]] = []
    plain = {
        s.id: s.model_dump(mode="json", exclude_none=True)
        for s in subject.sightings
        if isinstance(s, (EdgeSighting, RimSighting))
    }
    for id in plain:
        plain[id] = {k: v for k, v in plain[id].items() if not k.startswith("judged_")}
    for edge in laid.edges:
        p, q = (drawn.points[closed.places[edge.id, tip]] * mm + shift for tip in (0, 1))
        p, q = wobbled(p, q, rng)
        pencil(sheet, strokes(p, q, 0.05), rng, 0.22, 0.25)
        pencil(sheet, strokes(p, q), rng, 0.62, 0.4)
        sightings.append(plain[edge.id] | {"p": sighted(p, rng), "q": sighted(q, rng)})
    tops: dict[str, str] = {}
    for ring in sorted(closed.rings, key=lambda r: float(r.centre[1])):
        tops.setdefault(ring.form, ring.id)
    sides: dict[str, list[tuple[np.ndarray, np.ndarray]]] = {}
    for n, ring in enumerate(closed.rings):
        wide, degree, axis = drawn.rims[n]
        if "lower" in flatter and tops[ring.form] != ring.id:
            degree = max(degree - flatter["lower"], 2.0)
        centre = (ring.centre @ closed.turn) * mm + shift + rng.normal(0, 0.3, 2)
        wide, degree, turn = (
            wide * mm * np.exp(rng.normal(0, 0.015)),
            degree + rng.normal(0, 0.6),
            np.radians(axis + rng.normal(0, 0.6)),
        )
        down = np.array([np.cos(turn), -np.sin(turn)])
        down = down if down[1] > 0 else -down
        across = np.array([down[1], -down[0]])

        def at(
            turns: np.ndarray,
            centre: np.ndarray = centre,
            wide: float = wide,
            deep: float = wide * np.sin(np.radians(degree)),
            across: np.ndarray = across,
            down: np.ndarray = down,
        ) -> np.ndarray:
            return centre + wide * np.cos(turns)[:, None] * across + deep * np.sin(turns)[:, None] * down

        pencil(sheet, at(np.linspace(0, 2 * np.pi, 90)), rng, 0.55, 0.38)
        sides.setdefault(ring.form, []).append((at(np.array([np.pi]))[0], at(np.array([0.0]))[0]))
        points = at(np.radians(np.arange(0, 360, 30)))
        rim = {k: v for k, v in plain[ring.id].items() if k not in ("ends", "near", "points")}
        sightings.append(rim | {"points": [sighted(point, rng) for point in points]})

    for ends in sides.values():
        for a, b in pairwise(ends):
            for side in (0, 1):
                pencil(sheet, strokes(a[side], b[side]), rng, 0.55, 0.38)
    photo = photograph(
        rng, slant, PAPER_MM, hand=name == "crates", size=(2000, 1500), sheet=np.clip(sheet, 0, 255).astype(np.uint8)
    )
    out = io.BytesIO()
    Image.fromarray(photo.picture).save(out, "JPEG", quality=84, optimize=True)
    (DEMO / f"drawings/{name}.jpg").write_bytes(out.getvalue())
    known = {
        "subject": subject_name,
        "paper_mm": PAPER_MM,
        "corners_px": photo.corners.round(2).tolist(),
        "slant_deg": slant,
    }
    known |= {
        "faults": [{"cause": k.move.value, "form": k.form, "family": k.family, "value": v} for k, v in faults]
        + [{"cause": "rim", "which": w, "value": -v} for w, v in flatter.items()]
    }
    (DEMO / f"drawings/{name}.truth.json").write_text(json.dumps(known, indent=1) + "\n")
    document = SightingSheet.model_validate(
        {
            "title": title,
            "picture": {"width_px": 2400, "height_px": round(210 * POINT_PPM), "file": f"{name}.jpg"},
            "paper_mm": list(PAPER_MM),
            "point_sd_px": 2.8,
            "forms": [f.model_dump(mode="json", exclude_none=True) for f in subject.forms],
            "sightings": sightings,
        }
    )
    (DEMO / f"drawings/{name}.sighting.json").write_bytes(write_sheet(document))


def sighted(at: np.ndarray, rng: np.random.Generator) -> list[float]:
    return [round(float(v), 1) for v in at * POINT_PPM + rng.normal(0, 1.8, 2)]


if __name__ == "__main__":
    for drawing in DRAWINGS:
        make(*drawing)
