"""What belongs to a rim besides its degree, for showing."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from aspectum.core.aids.round_forms import nearest_guide
from aspectum.core.findings import RimReading
from aspectum.core.judge.rim_gaps import Gap, has_axis
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.plane.lines import Floats
from aspectum.core.reasons import Fault
from aspectum.core.sightings import Plane, Point
from aspectum.core.view.left_out import ImpliedRims
from aspectum.core.view.solve import Solution


def read_rim(
    k: int,
    gap: Gap,
    solution: Solution,
    implied: ImpliedRims,
    by_edges: ImpliedRims | None,
    by_rims: ImpliedRims | None,
    faults: list[Fault],
) -> RimReading:
    bank, own = solution.evidence.rims, solution.own
    assert bank is not None and own is not None
    fit, scale, centre = bank.fits[k], solution.evidence.scale, solution.evidence.setup.centre
    plain = RimReading(
        fit.ellipse,
        fit.sds[2],
        coverage_deg=fit.coverage_deg,
        least_points=bank.rims[k].least_points,
        faults=tuple(faults),
    )
    if not math.isfinite(implied.degree[k]):
        return plain
    axial = has_axis(fit, float(implied.degree[k]))
    u, v, size = own[k]
    first, second = bank.ways(k, solution.params) * math.exp(size)
    middle = np.array([u, v, 1.0])

    def px(point: Floats) -> Point:
        x, y = point[:2] / max(float(point[2]), 1e-6)
        return float(x * scale + centre[0]), float(y * scale + centre[1])

    # the true diameter seen at its full width: square to the way in which depth changes
    turn = math.atan2(float(second[2]), float(first[2])) + math.pi / 2
    wide = math.cos(turn) * first + math.sin(turn) * second
    square = [px(middle + i * first + j * second) for i, j in ((-1, -1), (1, -1), (1, 1), (-1, 1))]
    touch = [px(middle + d) for d in (first, second, -first, -second)]

    due = Ellipse.of_units(implied.ellipse[k], scale, centre)

    def alone(other: ImpliedRims | None) -> tuple[float, float] | None:
        return (
            None
            if other is None or not math.isfinite(other.degree[k])
            else (float(other.degree[k]), float(other.degree_sd[k]))
        )

    return replace(
        plain,
        implied_ellipse=plain.sighted_ellipse.opened(due.degree_deg, due.axis_deg),
        axis_implied_sd=float(implied.axis_sd[k]),
        axis_turn_deg=-gap.axis if axial else None,
        axis_turn_sd=gap.axis_sd if axial else None,
        true_centre_px=px(middle),
        diameter_px=(px(middle - wide), px(middle + wide)),
        square_px=tuple(square) if bank.rims[k].plane is not Plane.LEVEL else (),
        touch_px=tuple(touch) if bank.rims[k].plane is not Plane.LEVEL else (),
        by_edges=alone(by_edges),
        by_rims=alone(by_rims),
        guide_deg=nearest_guide(float(implied.degree[k])),
    )
