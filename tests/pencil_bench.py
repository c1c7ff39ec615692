"""What is found on paper, and under a finger, held against what is known: drawings by lot, and the gallery's
photographs.
"""

from __future__ import annotations

import time
from typing import TYPE_CHECKING

import cv2
import numpy as np

from aspectum.pictures.pointing import edge_at
from tests.gallery_truth import pieces
from tests.pencil_scores import close_groups, follow_drawings

if TYPE_CHECKING:
    from tests.bench import Ledger

POINTED_PX = 60.0  # seen length of an edge that is pointed at


def report_pencil(ledger: Ledger, count: int = 40) -> None:
    """Drawings in pencil, ink and colour, with construction and restated lines, photographed at up to 30 degrees."""
    seeds = range(ledger.seed % 100_000 * 4, ledger.seed % 100_000 * 4 + count)
    told = follow_drawings(seeds)
    boxes = follow_drawings(seeds[::4])
    closed, alone = close_groups(seeds), close_groups(seeds[::4])
    print(f"lines followed on {count} drawings:")
    ledger.part(
        "On paper",
        f"{count} freehand drawings of boxes, tins and buildings, photographed at a slant; nothing is laid before.",
    )
    ledger.row(
        "one box, its subject known: lines within 0.5 mm and 0.7°",
        f"{boxes.right / boxes.lines:.1%} of {boxes.lines}",
        "90 %",
    )
    ledger.row("all: lines within 0.5 mm and 0.7°", f"{told.right / told.lines:.1%} of {told.lines}")
    for name, z in (("place", told.off), ("tilt", told.turned)):
        ledger.row(
            f"{name}: within its own ±, and twice that",
            f"{np.mean(np.array(z) < 1):.0%}, {np.mean(np.array(z) < 2):.0%}",
            "68 %, 95 %",
        )
    for name, part in (("one box", alone), ("all", closed)):
        figures = (
            f"{part.found / part.lines:.0%}, {part.right / max(part.proposed, 1):.0%}, "
            f"{part.in_family / max(part.right, 1):.0%}"
        )
        ledger.row(f"{name}, its subject unknown: lines found, proposals right, of these in their family", figures)
    ledger.row(
        "rims, subject unknown: found of those drawn, and proposed",
        f"{closed.rims_found} of {closed.rims}, {closed.rims_proposed}",
    )
    ledger.end()


def report_pointing(ledger: Ledger) -> None:
    """Judged edges of the gallery under a finger; some of them nobody can see. And how long one takes."""
    rng = np.random.default_rng(ledger.seed + 61)
    off, times, tried = [], [], 0
    for piece in pieces():
        grey = np.asarray(cv2.cvtColor(piece.pixels, cv2.COLOR_RGB2GRAY), np.uint8)
        for edge in piece.edges:
            if edge.seen_px < POINTED_PX:
                continue
            run = edge.q - edge.p
            x, y = edge.places[rng.integers(len(edge.places))] + rng.uniform(-4, 4, 2)
            tilt = float(np.degrees(np.arctan2(-run[1], run[0])) + rng.normal(0, 6))
            begun = time.perf_counter()
            found = edge_at(grey, (float(x), float(y)), 12.0, tilt)
            times.append(time.perf_counter() - begun)
            tried += 1
            if found is not None and edge.holds(np.array(found.p), np.array(found.q)) > 0.5:
                off.append(
                    abs((np.array(found.p) + np.array(found.q) - 2 * edge.p) @ np.array([-run[1], run[0]]))
                    / edge.length_px
                    / 2
                )
    print(f"{tried} edges pointed at:")
    ledger.part(
        "The edge under a finger", f"{tried} judged edges of the gallery's photographs, the finger up to 4 px beside."
    )
    ledger.row("found", f"{len(off) / tried:.0%}")
    ledger.row("its middle off the true line, in the median", f"{np.median(off):.2f} px", "0.25 px")
    ledger.end()
    print(
        f"one edge under a finger: {1e3 * np.median(times):.0f} ms, {1e3 * np.quantile(times, 0.95):.0f} ms at the "
        "95th percentile (asked: 30 ms)"
    )
