"""How far each rim lies from what the rest imply, and whether that is off by the rule."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Flags, tilt_difference
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.sightings import Plane, Rim
from aspectum.core.tolerance import Tolerances, Verdict, verdict
from aspectum.core.view.circles import RimBank
from aspectum.core.view.left_out import BLIND_SD_DEG, ImpliedRims

ROUND_DEG = 75.0  # a rim rounder than this has no axis to speak of


@dataclass(frozen=True)
class Gap:
    """Sighted less implied of one rim (degrees), each with its standard deviation; nan where
    nothing implies it.
    """

    degree: float
    degree_sd: float
    axis: float
    axis_sd: float


def gaps(bank: RimBank, implied: ImpliedRims) -> list[Gap]:
    found = []
    for k, fit in enumerate(bank.fits):
        axis = float(tilt_difference(fit.axis_deg, implied.axis[k])) if math.isfinite(implied.axis[k]) else math.nan
        found.append(
            Gap(
                fit.degree_deg - float(implied.degree[k]),
                float(implied.degree_gap_sd[k]),
                axis,
                float(implied.axis_gap_sd[k]),
            )
        )
    return found


def lowest_rims(rims: tuple[Rim, ...], fits: tuple[RimFit, ...]) -> set[str]:
    """Ids of the lowest level rim of every form that has more than one."""
    lowest: dict[str, tuple[float, str]] = {}
    count: dict[str, int] = {}
    for rim, fit in zip(rims, fits, strict=True):
        if rim.plane is Plane.LEVEL:
            count[rim.form] = count.get(rim.form, 0) + 1
            lowest[rim.form] = max(lowest.get(rim.form, (-math.inf, "")), (fit.centre[1], rim.id))
    return {id for form, (_, id) in lowest.items() if count[form] > 1}


def degree_tolerance(rim: Rim, gap: Gap, lowest: set[str], tolerances: Tolerances) -> float:
    """How far (degrees) the rim may stray the way it does: the lowest of a form may be rounder, no other."""
    return tolerances.degree_deg + (tolerances.lowest_rim_deg if rim.id in lowest and gap.degree > 0 else 0.0)


def has_axis(fit: RimFit, implied_degree: float) -> bool:
    """Whether the rim is far enough from a full circle to have an axis."""
    return max(fit.degree_deg, implied_degree) < ROUND_DEG and fit.sds[2] < BLIND_SD_DEG


def axis_verdict(fit: RimFit, gap: Gap, implied_degree: float, tolerances: Tolerances) -> Verdict | None:
    """Verdict on the minor axis; None where the rim has none, or none so well known that it has a say
    beside the degree: it does not stray, but could.
    """
    if not has_axis(fit, implied_degree):
        return None
    found = verdict(gap.axis, gap.axis_sd, tolerances.tilt_deg)
    return None if found is Verdict.UNSURE and abs(gap.axis) <= tolerances.tilt_deg else found


def strays(bank: RimBank, implied: ImpliedRims, tolerances: Tolerances) -> Flags:
    """Rims (R,) whose degree or axis is off, as far as the rim itself says."""
    lowest = lowest_rims(bank.rims, bank.fits)
    found = np.zeros(len(bank), bool)
    for k, (rim, fit, gap) in enumerate(zip(bank.rims, bank.fits, gaps(bank, implied), strict=True)):
        if not math.isfinite(gap.degree) or fit.too_short:
            continue
        opened = verdict(gap.degree, gap.degree_sd, degree_tolerance(rim, gap, lowest, tolerances))
        found[k] = Verdict.OFF in (opened, axis_verdict(fit, gap, float(implied.degree[k]), tolerances))
    return found
