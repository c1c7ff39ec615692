"""Where lines of the picture cross one another: straight pieces and arcs of circles, each crossing in closed form or by
a bracketed root.

A straight piece is counted by its share of the drawn line, an arc by its turn in space. An arc's image is H·(cos t, sin
t, 1) in homogeneous pixels, so a line of the picture meets it where l·H·(cos t, sin t, 1) = 0, and another arc's conic
where a quadratic form of (cos t, sin t, 1) is nil.
"""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats, Ints

STEPS = 64  # at which a quadratic form of (cos t, sin t, 1), which has at most four roots, is looked at
STEP_COS = np.cos(2 * np.pi * np.arange(STEPS) / STEPS)  # where a curve is tried for changes of side
STEP_SIN = np.sin(2 * np.pi * np.arange(STEPS) / STEPS)  # likewise
TURN = 2.0 * math.pi  # once round
ENDS = 1e-9  # by which a share may leave a piece and still lie on it
EDGE_ON = 1e-7  # minor to major axis below which an arc's image is a straight line
TOUCH_PX = 1e-6  # nearer than this, parallel pieces lie on one another


@compiled
def within(turn: float, start: float, end: float) -> float:
    """``turn`` brought into ``start`` to ``end`` by whole turns; not a number where it lies outside."""
    turn = start + (turn - start) % TURN
    if turn <= end + ENDS:
        return turn
    if turn - TURN >= start - ENDS:
        return turn - TURN
    return np.nan


@compiled
def linear_turns(a: float, b: float, c: float, found: Floats) -> int:
    """Turns t where a cos t + b sin t + c = 0, into ``found`` (≥ 2,); how many."""
    size = np.hypot(a, b)
    if size <= 0.0 or abs(c) > size:
        return 0
    middle, half = np.arctan2(b, a), np.arccos(-c / size)
    found[0], found[1] = middle - half, middle + half
    return 2


@compiled
def form_at(form: Floats, c: float, s: float) -> float:
    """(c, s, 1)·form·(c, s, 1) of a symmetric ``form`` (3, 3)."""
    return (
        form[0, 0] * c * c
        + form[1, 1] * s * s
        + form[2, 2]
        + 2.0 * (form[0, 1] * c * s + form[0, 2] * c + form[1, 2] * s)
    )


@compiled
def form_turns(form: Floats, found: Floats) -> int:
    """Turns t where the quadratic ``form`` (3, 3) of (cos t, sin t, 1) is nil, into ``found`` (≥ 8,); how many.

    Looked for between sign changes over ``STEPS`` steps; where three steps of one sign have their least in the middle,
    its lowest place is looked at too, so that arcs that all but touch are not passed over.
    """
    count = 0
    before = form_at(form, STEP_COS[STEPS - 1], STEP_SIN[STEPS - 1])
    here = form_at(form, STEP_COS[0], STEP_SIN[0])
    step = TURN / STEPS
    for i in range(STEPS):
        j = (i + 1) % STEPS
        after = form_at(form, STEP_COS[j], STEP_SIN[j])
        at = i * step
        if here * after <= 0.0 and after != 0.0 and count < 8:
            found[count] = _root(form, at, at + step, here, after)
            count += 1
        elif here * before > 0.0 and here * after > 0.0 and abs(here) <= abs(before) and abs(here) <= abs(after):
            bend = before - 2.0 * here + after
            lowest = at + (0.5 * step * (before - after) / bend if bend != 0.0 else 0.0)
            value = form_at(form, np.cos(lowest), np.sin(lowest))
            if value * here <= 0.0 and count + 1 < 8:
                found[count] = _root(form, at - step, lowest, before, value)
                found[count + 1] = _root(form, lowest, at + step, value, after)
                count += 2
        before, here = here, after
    return count


@compiled
def _root(form: Floats, low: float, high: float, at_low: float, at_high: float) -> float:
    """The turn between ``low`` and ``high`` where the form is nil (Illinois rule)."""
    turn = low
    for _ in range(60):
        if high - low < 1e-13:
            break
        turn = (low * at_high - high * at_low) / (at_high - at_low)
        if not low <= turn <= high:
            turn = 0.5 * (low + high)
        value = form_at(form, np.cos(turn), np.sin(turn))
        if value == 0.0:
            break
        if value * at_high < 0.0:
            low, at_low = high, at_high
        else:
            at_low *= 0.5
        high, at_high = turn, value
        if low > high:
            low, high, at_low, at_high = high, low, at_high, at_low
    return turn


@compiled
def conic_of(homography: Floats, turned: Floats, conic: Floats) -> bool:
    """The inverse of ``homography`` (3, 3) into ``turned`` and the conic that it carries the unit circle to into
    ``conic``; False where it is singular.
    """
    h = homography
    for i in range(3):
        a, b = (i + 1) % 3, (i + 2) % 3
        for j in range(3):
            c, d = (j + 1) % 3, (j + 2) % 3
            turned[j, i] = h[a, c] * h[b, d] - h[a, d] * h[b, c]
    det = h[0, 0] * turned[0, 0] + h[0, 1] * turned[1, 0] + h[0, 2] * turned[2, 0]
    if not np.isfinite(det) or det == 0.0:
        return False
    for i in range(3):
        for j in range(3):
            turned[i, j] /= det
    for i in range(3):
        for j in range(3):
            conic[i, j] = turned[0, i] * turned[0, j] + turned[1, i] * turned[1, j] - turned[2, i] * turned[2, j]
    return True


@compiled
def carried_form(conic: Floats, homography: Floats, form: Floats) -> None:
    """homographyᵀ·conic·homography into ``form`` (3, 3)."""
    half = np.empty((3, 3))
    for i in range(3):
        for j in range(3):
            half[i, j] = (
                conic[i, 0] * homography[0, j] + conic[i, 1] * homography[1, j] + conic[i, 2] * homography[2, j]
            )
    for i in range(3):
        for j in range(3):
            form[i, j] = homography[0, i] * half[0, j] + homography[1, i] * half[1, j] + homography[2, i] * half[2, j]


@compiled
def straight_meet(a: Floats, b: Floats, shares: Floats) -> int:
    """Shares of piece ``a`` (4,: both ends in pixels) and of ``b`` where they meet, as pairs into ``shares`` (2, 2):
    rows are meetings; how many.

    Pieces lying along one another meet where either ends: those meetings are given as shares of ``a`` in the first
    column and of ``b`` in the second, each to be taken only where it lies on its piece.
    """
    ax, ay, bx, by = a[2] - a[0], a[3] - a[1], b[2] - b[0], b[3] - b[1]
    det = ax * by - ay * bx
    dx, dy = b[0] - a[0], b[1] - a[1]
    length_a, length_b = np.hypot(ax, ay), np.hypot(bx, by)
    if length_a <= 0.0 or length_b <= 0.0:
        return 0
    if abs(det) <= 1e-9 * length_a * length_b:
        if abs(dx * ay - dy * ax) > TOUCH_PX * length_a:
            return 0
        shares[0, 0] = (dx * ax + dy * ay) / (length_a * length_a)
        shares[1, 0] = shares[0, 0] + (bx * ax + by * ay) / (length_a * length_a)
        shares[0, 1] = -(dx * bx + dy * by) / (length_b * length_b)
        shares[1, 1] = shares[0, 1] + (ax * bx + ay * by) / (length_b * length_b)
        return 2
    s, t = (dx * by - dy * bx) / det, (dx * ay - dy * ax) / det
    # an end that lies on the other piece meets it too, whatever the last digits say
    near_a, near_b = ENDS + TOUCH_PX / length_a, ENDS + TOUCH_PX / length_b
    if not (-near_a <= s <= 1.0 + near_a and -near_b <= t <= 1.0 + near_b):
        return 0
    shares[0, 0], shares[0, 1] = s, t
    return 1


@compiled
def grown(numbers: Ints, values: Floats, count: int) -> tuple[Ints, Floats]:
    """The two lists with room for more than ``count`` entries."""
    if count + 8 < len(numbers):
        return numbers, values
    more, further = np.empty(2 * len(numbers), np.intp), np.empty(2 * len(values))
    more[:count], further[:count] = numbers[:count], values[:count]
    return more, further
