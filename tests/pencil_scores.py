"""How well freehand lines are followed on flattened photographs of drawings: shared by the seeded samples in the tests
and the full bench.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import cache

import numpy as np

from aspectum.core.drawing.compare import Laid
from aspectum.core.drawing.expected import everything_of
from aspectum.pictures.drawn_forms import find_drawn
from aspectum.pictures.finding import FoundEdge
from aspectum.pictures.pencil import PencilSheet, Snapped
from aspectum.pictures.registering import placed
from tests.paper_scenes import KINDS
from tests.pencil_drawings import Drawn, drawing
from tests.scenes import Vec

OFF_MM, TURNED_DEG = 0.5, 0.7
MISTAKEN_MM, MISTAKEN_DEG = 1.5, 4.0  # beyond which it is another line


@cache
def drawn(seed: int) -> Drawn:
    return drawing(seed, KINDS[seed % len(KINDS)])


def subject_lines(
    theirs: Laid,
) -> tuple[dict[str, tuple[list[float], list[float]]], dict[str, tuple[list[float], float, float, float]]]:
    found = everything_of(theirs)
    lines = {id: (list(p), list(q)) for id, (p, q) in found.edges.items()}
    return lines, {
        id: (list(e.centre_px), e.major_px / 2, e.minor_px / 2, float(np.radians(90 - e.axis_deg)))
        for id, e in found.rims.items()
    }


@dataclass
class Followed:
    """Of drawings with nothing laid: ``right`` of ``lines``; errors over their ±: across in the middle, and of the
    tilt.
    """

    lines: int = 0
    right: int = 0
    off: list[float] = field(default_factory=list)
    turned: list[float] = field(default_factory=list)


def errors(one: Snapped, p: Vec, q: Vec, mm: float) -> tuple[float, float]:
    """How far the middle lies beside the drawn line (mm), and its turn (degrees)."""
    a, b = np.array(one.p) / mm, np.array(one.q) / mm
    way, own = (q - p) / np.hypot(*(q - p)), (b - a) / np.hypot(*(b - a))
    off = ((a + b) / 2 - p) @ np.array([-way[1], way[0]])
    return float(abs(off)), float(np.degrees(np.arcsin(abs(way[0] * own[1] - way[1] * own[0]))))


def follow_drawings(seeds: Iterable[int]) -> Followed:
    """Drawings of which nothing is laid, found on their sheets and followed line by line."""
    told = Followed()
    for seed in seeds:
        d = drawn(seed)
        sheet = PencilSheet(d.flat, d.px_per_mm)
        told.lines += len(d.lines)
        there = placed(sheet, *subject_lines(d.theirs))
        if there is None:
            continue
        for id, (p, q) in there[0].items():
            if id not in d.lines or not (found := sheet.follow(p, q)):
                continue
            off, turned = errors(found[0], *d.lines[id], d.px_per_mm)
            told.right += off < OFF_MM and turned < TURNED_DEG
            if off < MISTAKEN_MM and turned < MISTAKEN_DEG:
                told.off.append(off / found[0].sd_mm)
                told.turned.append(turned / found[0].sd_deg)
    return told


@dataclass
class Closed:
    """Of drawings of which nothing is known: ``found`` of ``lines``, ``right`` of ``proposed`` edges, and those of the
    right ones in their family.
    """

    lines: int = 0
    found: int = 0
    proposed: int = 0
    right: int = 0
    in_family: int = 0
    rims: int = 0
    rims_found: int = 0
    rims_proposed: int = 0


def close_groups(seeds: Iterable[int]) -> Closed:
    told = Closed()
    for seed in seeds:
        d = drawn(seed)
        found = find_drawn(d.flat, d.px_per_mm)
        known = {e.id: e.family for e in d.laid.edges}
        on = [lies_on(e, d) for e in found.edges]
        told.lines += len(d.lines)
        told.found += len({id for id in on if id})
        told.proposed += len(on)
        told.right += sum(id is not None for id in on)
        told.in_family += sum(id is not None and known[id] is e.family for id, e in zip(on, found.edges, strict=True))
        middles = [np.mean(r.points, axis=0) / d.px_per_mm for r in found.rims]
        told.rims += len(d.rims)
        told.rims_found += sum(any(np.hypot(*(m - centre)) < 2.0 for m in middles) for centre, *_ in d.rims.values())
        told.rims_proposed += len(middles)
    return told


def lies_on(found: FoundEdge, d: Drawn) -> str | None:
    """The drawn line that a proposed edge lies on: not a millimetre off, and not half of it only."""
    a, b = np.array(found.p) / d.px_per_mm, np.array(found.q) / d.px_per_mm
    for id, (p, q) in d.lines.items():
        way = (q - p) / np.hypot(*(q - p))
        across = np.array([-way[1], way[0]])
        long = float(np.hypot(*(q - p)))
        beside = max(abs((a - p) @ across), abs((b - p) @ across))
        if beside < 1.2 and np.hypot(*(b - a)) > 0.5 * long and 0 < ((a + b) / 2 - p) @ way < long:
            return id
    return None
