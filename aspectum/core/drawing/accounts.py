"""What a drawing's errors come to, each counted once: every cause that was fitted, and every number by what the causes
leave of it.

A cause moves many numbers. Taken as they are drawn, one eye level set too high would be as many errors of edges as the
form has edges, and each of them would hide how well that edge was run to where the student had put eye level. So the
cause counts once, by its own size, and the numbers by what is left over it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from aspectum.core.drawing.candidates import CauseKind, Which
from aspectum.core.drawing.causes import Cause
from aspectum.core.drawing.closed import Way
from aspectum.core.drawing.closing import UNIT_NEAR
from aspectum.core.drawing.compare import Compared
from aspectum.core.drawing.readings import LENGTHS, Reading, What
from aspectum.core.sightings import Family

SHARES = (CauseKind.STRETCH, CauseKind.SIZE, CauseKind.DEPTH)


@dataclass(frozen=True)
class Account:
    """One cause of several numbers. ``error``: near uprights by which eye level stands too high, or a vanishing point
    draws its lines in too much, degrees to the right of a lean, degrees too round of rims, or a share of a length;
    ``sd``: its standard deviation, in the same; ``due_deg``: what the rims should open to in the mean; ``way``: which
    way a form is stretched; ``numbers``: what it moves, the most moved first, as a sighting and what is read of it;
    ``most``: what it does to the first of them, degrees or a share.
    """

    cause: CauseKind
    form: str | None
    family: Family | None
    which: Which | None
    way: Way | None
    error: float
    sd: float
    due_deg: float
    numbers: tuple[tuple[str, What], ...]
    most: float


def accounted(compared: Compared) -> tuple[list[Account], dict[int, float]]:
    """The causes of several numbers, and by place the error that all causes leave of each number: degrees, or a share
    of a length. What is off by itself keeps its error whole.
    """
    readings, explained = compared.readings, compared.explained
    if not readings.of:
        return [], {}
    alone = [cause for cause in explained.counted if len(cause.of.on) == 1]
    left = explained.left * readings.sd
    # lengths are compared with the near upright; one that is off by itself does not make all the others wrong
    for k in unit_lengths(compared)[:1]:
        left = left - left[k] * readings.long
    for cause in alone:
        left[cause.of.on[0]] += cause.value
    errors = np.where(readings.long > 0, np.expm1(left), left)
    return [account(compared, cause) for cause in explained.counted if len(cause.of.on) != 1], dict(
        enumerate(errors.tolist())
    )


def unit_lengths(compared: Compared) -> list[int]:
    """Places of the readings that are the near upright's own length."""
    closed = compared.closed
    if closed.unit is None:
        return []
    ends, near = closed.points[list(closed.unit)], UNIT_NEAR * compared.subject_sd_px

    def is_unit(r: Reading) -> bool:
        mine = closed.points[[r.p, r.q]]
        return bool(min(np.hypot(*(mine - ends).T).max(), np.hypot(*(mine[::-1] - ends).T).max()) < near)

    return [k for k, r in enumerate(compared.readings.of) if r.what is What.LENGTH and (r.p >= 0) and is_unit(r)]


def account(compared: Compared, cause: Cause) -> Account:
    """A cause in the terms of the record."""
    readings, of = compared.readings, cause.of
    share = of.kind in SHARES
    turns = of.kind is CauseKind.LEAN
    most = cause.concerns[0]
    moved = float(cause.effect[most])
    return Account(
        of.kind,
        of.form,
        of.family,
        of.which,
        None if of.knob is None else of.knob.way,
        math.expm1(cause.value) if share else math.degrees(cause.value) if turns else cause.value,
        cause.sd * (math.exp(cause.value) if share else math.degrees(1.0) if turns else 1.0),
        float(np.mean([readings.of[k].fixed for k in of.on])) if of.on else math.nan,
        tuple((readings.of[k].sighting, readings.of[k].what) for k in cause.concerns),
        math.expm1(moved) if readings.of[most].what in LENGTHS else moved,
    )
