"""A drawing on its own terms: where each family truly meets on the paper, whether all agree on one eye level, and
whether its corners close.

A drawing need not obey any camera (handbook section 2): every family is solved alone.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from aspectum.core.drawing.compare import Laid
from aspectum.core.findings import VanishingPoint
from aspectum.core.form.corners import corners, ends_of
from aspectum.core.look import look
from aspectum.core.plane.lines import Floats, lean_deg, tilt_deg
from aspectum.core.sightings import Family, Point
from aspectum.core.view.eye_level import read_eye_level, split

CLOSE_MM = 8.0  # ends of one form that lie nearer were meant to be one corner; common practice
OPEN_FROM_MM = 3.0  # a corner that misses by more is worth closing; common practice
NEARLY_PLUMB_DEG = 1.0  # a lean that all uprights share and that shows; common practice
LEAST_UPRIGHTS = 2  # a lean of one line is that line's, not the drawing's


class Meets(StrEnum):
    """What the edges of a family do as they go back."""

    CLOSE = "close"
    PARALLEL = "parallel"
    OPEN = "open"


@dataclass(frozen=True)
class OwnFamily:
    """One family of one form: ``at_mm`` where it meets, from the sheet's top-left corner; ``above_mm`` how far that
    lies above the level that the drawing as a whole says.
    """

    form: str
    family: Family
    sightings: tuple[str, ...]
    meets: Meets
    at_mm: Point | None
    above_mm: float | None


@dataclass(frozen=True)
class Gap:
    """A corner whose lines miss one another."""

    sightings: tuple[str, ...]
    gap_mm: float


@dataclass(frozen=True)
class OwnTerms:
    """``eye_level_mm``: height of the drawing's own eye level at its middle, from the top, and what its left pairs,
    right pairs and rims say alone; ``lean_deg``: mean lean of the uprights, ``lean_spread_deg`` their standard
    deviation.
    """

    families: list[OwnFamily]
    eye_level_mm: float | None
    by_left_mm: float | None
    by_right_mm: float | None
    by_rims_mm: float | None
    uprights: tuple[str, ...]
    lean_deg: float | None
    lean_spread_deg: float | None
    gaps: list[Gap]


def own_terms(drawing: Laid, mm_per_px: float) -> OwnTerms:
    """Read a drawing by itself. Raises ``ValueError`` as ``check`` does."""
    seen = look(drawing.setup, drawing.edges, drawing.rims, drawing.measured)
    level, by_rims = None, None
    if seen.posterior is not None:
        solution = seen.posterior.solution
        halves = split(solution) if drawing.rims and drawing.edges else None
        found = read_eye_level(seen.posterior, halves)[0]
        level = found.middle_y_px
        by_rims = (
            found.by_rims.middle_y_px
            if found.by_rims is not None
            else level
            if drawing.rims and not drawing.edges
            else None
        )
    families = [family for point in seen.points if (family := own_family(drawing, point, mm_per_px)) is not None]
    middle = drawing.setup.width_px * mm_per_px / 2
    leans = np.array([float(lean_deg(tilt_deg(e.p, e.q))) for e in drawing.edges if e.family is Family.UPRIGHT])
    enough = len(leans) >= LEAST_UPRIGHTS
    return OwnTerms(
        families=families,
        eye_level_mm=None if level is None else level * mm_per_px,
        by_left_mm=mean_height(families, Family.LEFT, middle),
        by_right_mm=mean_height(families, Family.RIGHT, middle),
        by_rims_mm=None if by_rims is None else by_rims * mm_per_px,
        uprights=tuple(e.id for e in drawing.edges if e.family is Family.UPRIGHT),
        lean_deg=float(leans.mean()) if enough else None,
        lean_spread_deg=float(leans.std(ddof=1)) if enough else None,
        gaps=gaps_of(drawing, mm_per_px),
    )


def own_family(drawing: Laid, point: VanishingPoint, mm: float) -> OwnFamily | None:
    """Where one level family meets by itself; None where fewer than two of its lines are drawn."""
    if point.family in (Family.UPRIGHT, Family.SLOPE) or point.form is None:
        return None
    mine = [e for e in drawing.edges if e.form == point.form and e.family is point.family]
    if len(mine) < LEAST_UPRIGHTS:
        return None
    ids = tuple(e.id for e in mine)
    if point.own_x_px is None or point.own_y_px is None:
        return OwnFamily(point.form, point.family, ids, Meets.PARALLEL, None, None)
    at = (point.own_x_px * mm, point.own_y_px * mm)
    above = None if point.own_above_eye_level_px is None else point.own_above_eye_level_px * mm
    middle = np.mean([[e.p, e.q] for e in mine], axis=(0, 1))
    back = point.own_x_px - float(middle[0])
    open_ = (point.family is Family.LEFT and back > 0) or (point.family is Family.RIGHT and back < 0)
    return OwnFamily(point.form, point.family, ids, Meets.OPEN if open_ else Meets.CLOSE, at, above)


def mean_height(families: list[OwnFamily], family: Family, middle_mm: float) -> float | None:
    """Height from the top at which a family's pairs meet, over all forms, nearer ones counting for more."""
    mine = [f.at_mm for f in families if f.family is family and f.meets is Meets.CLOSE and f.at_mm is not None]
    if not mine:
        return None
    weight = np.array([1.0 / max(abs(x - middle_mm), 1.0) for x, _ in mine])
    return float((np.array([y for _, y in mine]) * weight).sum() / weight.sum())


def gaps_of(drawing: Laid, mm: float) -> list[Gap]:
    """Corners that do not close, the widest first."""
    ends = ends_of(drawing.edges, [], [])
    at = np.array([e.at for e in ends], float).reshape(-1, 2)
    group = corners(ends, at, np.full(len(ends), CLOSE_MM / mm), frozenset())
    found = []
    for n in np.unique(group):
        mine = np.flatnonzero(group == n)
        if len(mine) > 1:
            gap = widest(at[mine]) * mm
            if gap > OPEN_FROM_MM:
                found.append(Gap(tuple(dict.fromkeys(ends[k].owner for k in mine)), gap))
    return sorted(found, key=lambda g: -g.gap_mm)


def widest(points: Floats) -> float:
    """The largest distance between any two of ``points`` (n, 2)."""
    return max(math.dist(a, b) for a in points for b in points)
