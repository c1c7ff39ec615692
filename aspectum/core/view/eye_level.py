"""Where eye level lies, how sure that is, and who says so."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.findings import OPEN, EyeLevel, Note, NoteCode, Source
from aspectum.core.sightings import Setup
from aspectum.core.tolerance import beyond
from aspectum.core.view.camera import eye_level_height
from aspectum.core.view.find import find_view
from aspectum.core.view.left_out import left_out_moves
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.solve import Solution, settle, settle_edges

UNSEEN = 1.05  # what the explanations and places that are not looked into add to the spread (simulated)
OPEN_EYE_LEVEL = 0.35  # of the picture's height: an eye level looser than this is not fixed


def given_eye_level(setup: Setup) -> EyeLevel | None:
    if setup.eye_level_px is None:
        return None
    return EyeLevel(setup.eye_level_px[0], setup.eye_level_px[1], 0.0, Source.GIVEN)


def _level_at(solution: Solution, x_px: float, loose: bool = False) -> tuple[float, float]:
    """Height (px) of eye level at ``x_px`` under one view and its standard deviation beside it."""
    evidence = solution.evidence
    cx, cy = evidence.setup.centre
    height, slope = eye_level_height(solution.params, (x_px - cx) / evidence.scale)
    slope = slope[solution.view.free]
    covariance = solution.loose_covariance if loose else solution.covariance
    sd = max(float(slope @ covariance @ slope), 0.0) ** 0.5
    return height * evidence.scale + cy, sd * evidence.scale


def found_eye_level(posterior: Posterior, source: Source = Source.EDGES) -> EyeLevel | None:
    """Eye level from the sightings, or None where they do not fix it: where loosening the faint
    hold on the open questions would loosen eye level with it.
    """
    solution = posterior.solution
    setup = solution.evidence.setup
    middle = setup.width_px / 2
    _, near = _level_at(solution, middle)
    _, loose = _level_at(solution, middle, loose=True)
    sd = posterior.height_sd * solution.evidence.scale
    if loose > 1.3 * max(near, sd) + 0.02 * setup.point_sd_px or sd > OPEN_EYE_LEVEL * setup.height_px:
        return None
    left, right = (_level_at(solution, x)[0] for x in (0.0, float(setup.width_px)))
    return EyeLevel(left, right, sd * UNSEEN, source)


@dataclass(frozen=True)
class Halves:
    """What the edges alone and the rims alone leave possible."""

    edges: Posterior
    rims: Posterior


def split(solution: Solution) -> Halves:
    """Settle the view on the agreeing edges and on the rims apart; rims left out as strays count
    again where fewer than two others would remain.
    """
    count = len(solution.evidence.edges)
    edges, rims = solution.active.copy(), solution.active.copy()
    edges[count:], rims[:count] = False, False
    if rims.sum() < 2:
        rims[count:] = True
    return Halves(Posterior.beside(settle_edges(solution, edges)), Posterior.beside(settle(solution, rims)))


def level_from_all(posterior: Posterior, halves: Halves | None) -> tuple[EyeLevel | None, list[Note]]:
    """Eye level with where it comes from, and a note where edges and rims contradict each other."""
    solution = posterior.solution
    if solution.evidence.rims is None:
        return found_eye_level(posterior, Source.EDGES), []
    if halves is None:
        return found_eye_level(posterior, Source.RIMS), []
    by_edges, by_rims = found_eye_level(halves.edges), found_eye_level(halves.rims, Source.RIMS)
    used = solution.active[len(solution.evidence.edges) :].any()
    source = Source.EDGES if not used else Source.RIMS if by_edges is None and by_rims is not None else Source.BOTH
    found = found_eye_level(posterior, source)
    if found is None:
        return None, []
    found = replace(found, by_edges=by_edges, by_rims=by_rims)
    if by_edges is None or by_rims is None:
        return found, []
    gap = (by_edges.middle_y_px or 0.0) - (by_rims.middle_y_px or 0.0)
    sd = float(np.hypot(by_edges.sd_px or 0.0, by_rims.sd_px or 0.0))
    if not beyond(gap, sd, 0.0):
        return found, []
    return found, [Note(NoteCode.EDGES_AGAINST_RIMS, carriers(halves, gap), value=gap, other=sd)]


def carriers(halves: Halves, gap_px: float) -> tuple[str, ...]:
    """The two sightings at most without which edges and rims would come closest to agreeing, where
    each alone takes up a third of the gap.
    """
    evidence = halves.edges.solution.evidence
    count, names = len(evidence.edges), evidence.ids
    middle = evidence.setup.width_px / 2
    change = np.zeros(len(names))
    for solution, sign in ((halves.edges.solution, 1.0), (halves.rims.solution, -1.0)):
        slope = (
            eye_level_height(solution.params, (middle - evidence.setup.centre[0]) / evidence.scale)[1][
                solution.view.free
            ]
            * evidence.scale
        )
        moved = left_out_moves(solution) @ slope * sign
        change[: count if sign > 0 else 0] += moved[: count if sign > 0 else 0]
        change[count:] += moved[count:] if sign < 0 else 0.0
    helps = -change * np.sign(gap_px)
    order = [int(i) for i in np.argsort(-helps)[:2] if helps[i] > abs(gap_px) / 3.0]
    return tuple(names[i] for i in order)


def read_eye_level(posterior: Posterior, halves: Halves | None) -> tuple[EyeLevel, list[Note]]:
    """Eye level as it was given, beside where the sightings put it, or as they alone put it."""
    evidence = posterior.solution.evidence
    given = given_eye_level(evidence.setup)
    if given is None:
        found, notes = level_from_all(posterior, halves)
        return (found, notes) if found is not None else (OPEN, [*notes, Note(NoteCode.EYE_LEVEL_OPEN)])
    bank = evidence.rims
    fitted = () if bank is None else tuple(zip(bank.rims, bank.fits, strict=True))
    alone = Posterior.of(
        find_view(replace(evidence.setup, eye_level_px=None), evidence.edges, fitted, evidence.effort.half())
    )
    found, notes = level_from_all(alone, split(alone.solution) if fitted and evidence.edges else None)
    if found is None:
        return given, notes
    assert given.middle_y_px is not None and found.middle_y_px is not None
    set_above = found.middle_y_px - given.middle_y_px
    return replace(given, found=found), [
        *notes,
        Note(NoteCode.SET_AGAINST_FOUND, value=set_above, other=found.sd_px, text=found.source),
    ]
