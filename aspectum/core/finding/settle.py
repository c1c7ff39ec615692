"""A guessed view drawn exactly through the lines that agree with it, by the solver that checks sightings."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from aspectum.core.finding.lines import ENDS_PX, Lines, all_turned
from aspectum.core.finding.search import MOST_BEARINGS, Guess, gather_piles, weights
from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.sightings import Edge, Family, Perspective, Setup
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, camera_matrix, eye_level_height
from aspectum.core.view.evidence import gather
from aspectum.core.view.perspective import view_for
from aspectum.core.view.solve import Solution, refine

UPRIGHT, NONE = -1, -2  # slots of a line besides the level families'
REACH = 3.0  # standard deviations
LOSS = 2.0  # point errors at which a line's pull begins to fade
ROUNDS = 3  # of naming and solving in turn, after which names have settled
USED = 260  # the longest lines, which the view is drawn through
LEAST_SUPPORT = 3  # lines of a bearing, fewer fix no direction of their own
TWIN = np.radians(1.2)  # bearings no further apart are one
LEAST_LEFT = 0.02  # of the picture's diagonal: a shorter line says nothing of a bearing of its own
FURTHER = 2.5  # lines that a further bearing must gather of what is left
LEAST_STANDING = 3.5  # standard deviations over chance that a bearing must hold
LIKE_LINES = 2.5  # courses and planks go wrong together: that many lines say as much as one


@dataclass(frozen=True)
class Found:
    """A view of a picture's lines. ``bearings`` (b,): radians, of each pile's first family, its second is a quarter
    turn to the left; ``slot`` (n,): of each line 2·pile for the first family, 2·pile + 1 for the second, ``UPRIGHT`` or
    ``NONE``; ``off`` (n,): how far from it, in its own standard deviations; ``doubt``: as ``search.doubt`` gives it, of
    views that were passed over.
    """

    lines: Lines
    solution: Solution
    bearings: Floats
    slot: Ints
    off: Floats
    doubt: tuple[float, float] = (0.0, 0.0)

    @property
    def params(self) -> Floats:
        return self.solution.params

    @cached_property
    def camera(self) -> Floats:
        return camera_matrix(self.params)

    def directions(self) -> Floats:
        """Unit directions in space (2b + 1, 3) of the families, the uprights last."""
        return directions_of(self.bearings)

    def eye_level(self) -> tuple[float, float, float]:
        """Height (px) at the picture's left and right side, and its standard deviation in the middle."""
        lines, solution = self.lines, self.solution
        sides = [
            eye_level_height(self.params, x / lines.scale)[0] * lines.scale + lines.height_px / 2
            for x in (-lines.width_px / 2, lines.width_px / 2)
        ]
        slope = eye_level_height(self.params, 0.0)[1][solution.view.free]
        variance = float(slope @ solution.covariance @ slope) * LIKE_LINES
        return sides[0], sides[1], float(np.hypot(np.sqrt(max(variance, 0.0)) * lines.scale, self.doubt[0]))

    def focal(self) -> tuple[float, float]:
        """Focal length and its standard deviation, px."""
        solution = self.solution
        focal = float(np.exp(self.params[LOG_F])) * self.lines.scale
        at = int(solution.view.hold.place[LOG_F])
        return focal, focal * float(
            np.hypot(np.sqrt(max(float(solution.covariance[at, at]) * LIKE_LINES, 0.0)), self.doubt[1])
        )


def directions_of(bearings: Floats) -> Floats:
    """Unit directions in space (2b + 1, 3) of piles at ``bearings``: each pile's own, a quarter turn to the left of it,
    and upright.
    """
    both = np.stack([bearings, bearings - np.pi / 2], axis=1).ravel()
    level = np.stack([np.sin(both), np.cos(both), np.zeros_like(both)], axis=1)
    return np.concatenate([level, [[0.0, 0.0, 1.0]]])


def miss(camera: Floats, lines: Lines, directions: Floats) -> Floats:
    """By what angle (radians, (n, d)) each line would have to turn about its middle to run towards each direction's
    vanishing point.
    """
    return np.asarray(all_turned(np.ascontiguousarray(directions @ camera.T), lines.middle, lines.way), float)


def assign(camera: Floats, lines: Lines, bearings: Floats) -> tuple[Ints, Floats]:
    """Each line's family and how far off it is, as in ``Found``; a plumb line is an upright first."""
    off = miss(camera, lines, directions_of(bearings)) / lines.tilt_sd[:, None]
    best = np.argmin(off, axis=1)
    found = off[np.arange(len(off)), best]
    slot = np.where(best == 2 * len(bearings), UPRIGHT, best)
    return np.where(found < REACH, slot, NONE), found


def settled(lines: Lines, straight: Flags, guess: Guess, focal_35mm: float | None) -> Found | None:
    """``guess`` through the longest of ``lines`` that are ``straight`` (n,), which take sides anew after every fit;
    None where none takes a side.
    """
    order = np.flatnonzero(straight)
    order = order[np.argsort(-lines.length_px[order], kind="stable")][:USED]
    longest = lines.take(order)
    setup = Setup(lines.width_px, lines.height_px, Perspective.THREE_POINT, ENDS_PX, focal_35mm)
    params, bearings = guess.params[:FIRST_BEARING], distinct(guess.params[FIRST_BEARING:])
    solution = None
    for _ in range(ROUNDS):
        slot, _ = assign(camera_matrix(params), longest, bearings)
        counts = np.array([(slot // 2 == b).sum() for b in range(len(bearings))])
        kept = counts >= LEAST_SUPPORT
        if not kept.all():
            bearings = bearings[kept]
            slot, _ = assign(camera_matrix(params), longest, bearings)
        used = np.flatnonzero(slot != NONE)
        if len(used) < LEAST_SUPPORT:
            return None
        edges = tuple(edge_of(longest, int(k), int(slot[k])) for k in used)
        evidence = gather(setup, edges, {})
        view = view_for(evidence, Perspective.THREE_POINT)
        start = np.concatenate(
            [params, bearings[[int(form) for form in evidence.forms]] if evidence.forms else np.zeros(0)]
        )
        solution = refine(evidence, view, start, np.ones(len(edges), bool), robust=LOSS)
        params = solution.params[:FIRST_BEARING]
        moved = bearings.copy()
        for k, form in enumerate(evidence.forms):
            moved[int(form)] = solution.params[FIRST_BEARING + k]
        bearings = distinct(moved)
    assert solution is not None
    slot, off = assign(camera_matrix(params), lines, bearings)
    return Found(lines, solution, bearings, slot, off)


def completed(found: Found, straight: Flags, guess: Guess, focal_35mm: float | None) -> Found:
    """``found`` with the bearings that the longest lines were too few for: of what it leaves over, and less whatever
    chance may have gathered.
    """
    left = found.lines.take(
        straight & (found.slot == NONE) & (found.lines.length_px > LEAST_LEFT * 2 * found.lines.scale)
    )
    bearings, taken = np.empty(MOST_BEARINGS), np.empty(len(left))
    count = 0
    if len(left):
        weight = weights(left)
        _, count = gather_piles(
            found.camera, left.middle, left.way, left.tilt_sd, weight, np.zeros((0, 8)), taken, bearings, FURTHER
        )
    if count:
        more = Guess(np.concatenate([found.params[:FIRST_BEARING], found.bearings, bearings[:count]]), guess.score)
        found = settled(found.lines, straight, more, focal_35mm) or found
    kept = np.array([standing(found, b) for b in range(len(found.bearings))]) > LEAST_STANDING
    if kept.all():
        return found
    sure = Guess(np.concatenate([found.params[:FIRST_BEARING], found.bearings[kept]]), guess.score)
    return settled(found.lines, straight, sure, focal_35mm) or found


def standing(found: Found, pile: int) -> float:
    """By how many standard deviations the lines of a pile outnumber what chance would lay there, each weighed by its
    length: every line that the uprights and earlier piles leave falls within reach of a bearing with the share of all
    tilts that its own reach covers.
    """
    lines = found.lines
    mine = found.slot // 2 == pile
    free = mine | (found.slot == NONE)
    weight = np.where(lines.length_px > LEAST_LEFT * 2 * lines.scale, lines.length_px / (2 * lines.scale), 0.0)
    chance = np.minimum(2 * 2 * REACH * lines.tilt_sd / np.pi, 0.5)
    expected = float((weight * chance)[free].sum())
    spread = float(np.sqrt((weight**2 * chance * (1 - chance))[free].sum()))
    return (float(weight[mine].sum()) - expected) / max(spread, 1e-9)


def edge_of(lines: Lines, k: int, slot: int) -> Edge:
    p, q = tuple(lines.p[k].tolist()), tuple(lines.q[k].tolist())
    if slot == UPRIGHT:
        return Edge(str(k), "", Family.UPRIGHT, p, q)
    return Edge(str(k), str(slot // 2), Family.LEFT if slot % 2 else Family.RIGHT, p, q)


def distinct(bearings: Floats) -> Floats:
    """Those of ``bearings`` that are not, but for quarter turns, an earlier one again."""
    kept: list[float] = []
    for b in bearings.tolist():
        if all(abs((b - k + np.pi / 4) % (np.pi / 2) - np.pi / 4) > TWIN for k in kept):
            kept.append(b)
    return np.array(kept)
