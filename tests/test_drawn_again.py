"""A drawing brought in again: what was mended is found where it is drawn now, and what is not sure says so."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
import pytest

from aspectum.core.drawing.expected import everything_of
from aspectum.pictures.again import Corners, FoundAgain, choose, follow_again
from aspectum.pictures.pencil import PencilSheet, Snapped
from tests.paper_photos import photograph
from tests.paper_scenes import KINDS, PAPER_DPMM, on_paper, paper_subject, random_fault, sighted
from tests.pencil_drawings import A4, INKS, PPM, straight, stroke
from tests.pencil_scores import errors
from tests.samples import least, most, sample
from tests.scenes import Vec

MOVED_MM = 4.0  # from which a line was drawn elsewhere
RUBBED = 0.15  # of a stroke, that rubbing out leaves


@dataclass
class Again:
    """``right`` of ``lines``, ``moved_right`` of those ``moved``; ``sure`` ones, and those of them that are
    ``wrong``.
    """

    lines: int = 0
    right: int = 0
    moved: int = 0
    moved_right: int = 0
    sure: int = 0
    wrong: list[str] = field(default_factory=list)


def mended(seed: int, told: Again) -> None:
    """A drawing with one fault, rubbed out and mended on the same sheet, and photographed anew."""
    rng = np.random.default_rng(seed)
    subject = paper_subject(rng, KINDS[seed % len(KINDS)])
    fault = next(f for f in iter(lambda: random_fault(rng, subject), 0) if f is not None)
    theirs, hand, long = sighted(subject, rng), int(rng.integers(1 << 30)), float(rng.uniform(110, 160))
    # the same hand: what the fault does not move stays to the hair
    before, after = (
        on_paper(subject, faults, np.random.default_rng(hand), longest_mm=long) for faults in ([fault], [])
    )
    ends = np.array([end for laid in (before, after) for e in laid.edges for end in (e.p, e.q)]) / PAPER_DPMM
    shift = (np.array(A4) - np.ptp(ends, axis=0)) * rng.uniform(0.4, 0.6, 2) - ends.min(axis=0)

    def lines_of(laid: Any) -> dict[str, tuple[Vec, Vec]]:
        return {e.id: (np.array(e.p) / PAPER_DPMM + shift, np.array(e.q) / PAPER_DPMM + shift) for e in laid.edges}

    old, now = lines_of(before), lines_of(after)
    gone = {
        id for id, (p, q) in now.items() if max(np.hypot(*(old[id][0] - p)), np.hypot(*(old[id][1] - q))) > MOVED_MM
    }
    ink, sheet = list(INKS)[int(rng.integers(len(INKS)))], np.full((round(A4[1] * PPM), round(A4[0] * PPM), 3), 244.0)
    for id in sorted(gone):
        stroke(sheet, straight(*old[id]), rng, ink, RUBBED, passes=1)
    for p, q in now.values():
        stroke(sheet, straight(p, q), rng, ink)
    photo = photograph(
        rng, float(rng.uniform(0, 25)), A4, hand=False, size=(2000, 1500), sheet=np.clip(sheet, 0, 255).astype(np.uint8)
    )
    found, mm = again_in(photo, old, theirs, rng)
    for id, (p, q) in now.items():
        told.lines += 1
        told.moved += id in gone
        off, turned = errors(found.lines[id], p, q, mm) if id in found.lines else (np.inf, np.inf)
        right = off < 1.0 and turned < 1.5
        told.right += right
        told.moved_right += right and id in gone
        told.sure += id in found.sure
        told.wrong += [f"{seed} {id}"] if id in found.sure and not right else []


def again_in(
    photo: Any, old: dict[str, tuple[Vec, Vec]], theirs: Any, rng: np.random.Generator
) -> tuple[FoundAgain, float]:
    """What is found in a photo of what lay at ``old`` places (mm), as it was laid then; px a mm."""
    from aspectum.pictures.paper import find_paper, flatten

    corners = find_paper(photo.picture)
    flat = flatten(photo.picture, photo.corners if corners is None else corners.corners, A4)
    mm = flat.px_per_mm
    laid = {id: ((p + rng.normal(0, 0.4, 2)) * mm, (q + rng.normal(0, 0.4, 2)) * mm) for id, (p, q) in old.items()}
    lines = {id: (list(p), list(q)) for id, (p, q) in everything_of(theirs).edges.items()}
    places = {id: (p.tolist(), q.tolist()) for id, (p, q) in laid.items()}
    return follow_again(PencilSheet(flat.pixels, mm), places, {}, lines, {}), mm


@pytest.mark.slow
def test_mended_lines_are_found_where_they_are_now_and_the_sure_ones_are_right() -> None:
    told = Again()
    for seed in range(420, 420 + sample(8, 3)):
        mended(seed, told)
    assert (
        told.right > least(0.8, told.lines) * told.lines and told.moved_right > least(0.7, told.moved) * told.moved > 0
    )
    assert told.sure > least(0.45, told.lines) * told.lines and len(told.wrong) <= most(0.04, told.sure) * told.sure, (
        told
    )


def line(p: tuple[float, float], q: tuple[float, float]) -> Snapped:
    return Snapped(p, q, 60.0, 0.1, 0.2)


def test_of_two_places_a_line_takes_the_one_where_its_corners_close() -> None:
    """An upright and a ground line stand; the edge between their tops may be the old one, rubbed out, or
    the new one.
    """
    fixed = {"near": [line((0, 0), (0, 100))], "ground": [line((0, 100), (80, 80))], "far": [line((80, 20), (80, 80))]}
    top = [line((0, 12), (80, 44)), line((0, 0), (80, 20))]
    corners: Corners = {(id, tip): [] for id in ("near", "ground", "far", "top") for tip in (0, 1)}
    corners |= {("top", 0): [("near", 0)], ("top", 1): [("far", 0)]}
    assert choose(fixed | {"top": top}, corners, mm=1.0)["top"] is top[1]
