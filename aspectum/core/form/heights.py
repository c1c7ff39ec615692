"""Heights of what stands upright on level ground, from the eye's own height (Criminisi, Reid & Zisserman, Single View
Metrology, IJCV 40(2), 2000), in the frame of the solved view.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.findings import Proportions, Sides
from aspectum.core.form.bundle import SolvedForms, deviation
from aspectum.core.form.corners import UP
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import Family, Height
from aspectum.core.view.camera import camera_matrix
from aspectum.core.view.solve import Solution

OUT_OF_PLUMB = 3.0  # deviations beyond which a top is carried level to the plumb line over its foot


@dataclass(frozen=True)
class Tall:
    """A height in eye heights with its derivatives by all unknowns and its standard deviation, and in metres where a
    measure is known; None where its foot does not stand below eye level.
    """

    id: str
    eyes: float
    by: Floats
    sd: float
    metres: float | None = None
    metres_sd: float | None = None


@dataclass(frozen=True)
class Measure:
    """How many metres one eye height is, and the derivatives of its logarithm by all unknowns; ``by_height``: the
    height that it was taken from.
    """

    metres: float
    by: Floats
    by_height: str | None = None


def plumbed(solution: Solution, height: Height) -> Height:
    """The height with its top on the plumb line over its foot: a figure's head need not be laid exactly
    above its feet.
    """
    evidence = solution.evidence
    foot, top = (np.array(at) - np.array(evidence.setup.centre) for at in (height.foot, height.top))
    x, y, w = camera_matrix(solution.params)[:, UP]
    run = np.array([x, y]) * evidence.scale - w * foot
    run /= max(float(np.hypot(*run)), 1e-12)
    miss = float(run[0] * (top - foot)[1] - run[1] * (top - foot)[0])
    if abs(miss) <= OUT_OF_PLUMB * np.sqrt(2.0) * evidence.setup.point_sd_px:
        return height
    straight = foot + run * float(run @ (top - foot)) + np.array(evidence.setup.centre)
    return replace(height, top=(float(straight[0]), float(straight[1])))


def standing(found: SolvedForms, heights: list[Height]) -> dict[str, Tall]:
    """All heights whose feet stand on the ground below the eye, in eye heights."""
    tall = {}
    for h in heights:
        foot, top = (int(found.layout.node[found.layout.end(h.id, tip), UP]) for tip in (0, 1))
        measured = in_eye_heights(found, (foot, top), foot)
        if measured is not None:
            tall[h.id] = Tall(h.id, *measured, deviation(measured[1], found.covariance))
    return tall


def in_eye_heights(found: SolvedForms, span: tuple[int, int], foot: int) -> tuple[float, Floats] | None:
    """The length between two values in heights of the eye over the value ``foot``, with its derivatives; None where
    that lies above the eye.
    """
    values, first = found.values, found.first_value
    if not values[foot] < 0.0:
        return None
    length = values[span[1]] - values[span[0]]
    by = np.zeros(len(found.covariance))
    by[first + span[1]] -= 1.0 / values[foot]
    by[first + span[0]] += 1.0 / values[foot]
    by[first + foot] += length / values[foot] ** 2
    return float(-length / values[foot]), by


def measure(found: SolvedForms, heights: list[Height], tall: dict[str, Tall]) -> Measure | None:
    """What makes lengths metric: the eye's height where it is given, or the first known height, which
    counts as exact.
    """
    eye = found.solution.evidence.setup.eye_height_m
    if eye is not None:
        return Measure(eye, np.zeros(len(found.covariance)))
    known = next((h for h in heights if h.known_m is not None and h.id in tall), None)
    if known is None or known.known_m is None or not tall[known.id].eyes > 0:
        return None
    own = tall[known.id]
    return Measure(known.known_m / own.eyes, -own.by / own.eyes, known.id)


def heights_in_metres(found: SolvedForms, tall: dict[str, Tall], by: Measure | None) -> dict[str, Tall]:
    """Heights in metres as well, where a measure is known."""
    if by is None:
        return tall
    return {
        k: replace(
            t, metres=t.eyes * by.metres, metres_sd=by.metres * deviation(t.by + t.eyes * by.by, found.covariance)
        )
        for k, t in tall.items()
    }


def metric(found: SolvedForms, sides: Proportions, by: Measure, below: tuple[float, Floats]) -> Proportions:
    """A form's sides in metres as well, where its foot is in sight. ``below``: how many eye heights below the eye it
    stands, one on the ground, with the derivatives by all unknowns.
    """
    if sides.unit is not Family.UPRIGHT:
        return sides
    foot = sides.span[Family.UPRIGHT][0]
    size: Sides = dict.fromkeys(sides.size)
    sds: Sides = dict.fromkeys(sides.size)
    for family, span in sides.span.items():
        measured = in_eye_heights(found, span, foot)
        if measured is not None and sides.size[family] is not None:
            length, slope = measured[0] * below[0], measured[1] * below[0] + measured[0] * below[1]
            size[family] = length * by.metres
            sds[family] = by.metres * deviation(slope + length * by.by, found.covariance)
    return replace(sides, size_m=size, size_sd_m=sds)
