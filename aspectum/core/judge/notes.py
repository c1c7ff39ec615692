"""What the sightings leave open, and what a reader should know."""

from __future__ import annotations

import math

import numpy as np

from aspectum.core.findings import CameraReading, EyeLevel, Note, NoteCode, Source
from aspectum.core.judge.weigh import Weighing
from aspectum.core.plane.projection import focal_35mm_of
from aspectum.core.sightings import LEVEL_FAMILIES, Division, Height, Point, Setup
from aspectum.core.view.camera import LOG_F
from aspectum.core.view.evidence import Evidence, nearly_parallel
from aspectum.core.view.lens import cone_radius
from aspectum.core.view.solve import Solution

STRETCHED = 0.25  # share by which a form must be stretched to be seen to be; 0.155 at the rim of the 60° cone of vision
MOST_STRAYS = 4  # that get a note each


def family_notes(solution: Solution, eye_level: EyeLevel) -> list[Note]:
    evidence = solution.evidence
    notes = []
    level = [m for m, key in enumerate(evidence.slot_keys) if key[1] in LEVEL_FAMILIES]
    if eye_level.source is Source.NONE and len(evidence.slot_keys) == 1 and evidence.rims is None:
        notes.append(Note(NoteCode.ONE_FAMILY, text=evidence.slot_keys[0][1].value))
    for m in level:
        members = np.flatnonzero(evidence.slot == m)
        names = tuple(evidence.edges[i].id for i in members)
        if len(members) == 1:
            notes.append(Note(NoteCode.FAMILY_OF_ONE, names, text=evidence.slot_keys[m][1].value))
        elif len(members) and eye_level.source is Source.NONE and nearly_parallel(evidence, members):
            notes.append(Note(NoteCode.NEARLY_PARALLEL, names, text=evidence.slot_keys[m][1].value))
    return notes


def stray_notes(weighing: Weighing) -> list[Note]:
    edges = weighing.solution.evidence.edges
    notes = []
    paired = set(weighing.pairs) | {k for others in weighing.pairs.values() for k in others}
    for stray, others in weighing.pairs.items():
        notes.append(Note(NoteCode.PAIR, tuple(edges[i].id for i in (stray, *others))))
    alone = [int(k) for k in np.flatnonzero(weighing.off[: len(edges)]) if int(k) not in paired]
    if len(alone) > MOST_STRAYS:
        notes.append(Note(NoteCode.STRAYS, tuple(edges[k].id for k in alone)))
    else:
        notes += [Note(NoteCode.STRAY, (edges[k].id,), value=float(weighing.implied.turn[k])) for k in alone]
    left = tuple(id for id, on in zip(weighing.solution.evidence.ids, weighing.unexamined, strict=True) if on)
    if left:
        notes.insert(0, Note(NoteCode.UNEXAMINED, left))
    active, bank = weighing.solution.active, weighing.solution.evidence.rims
    if bank is not None:
        notes += [
            Note(NoteCode.SHORT_ARC, (r.id,), value=f.coverage_deg)
            for r, f in zip(bank.rims, bank.fits, strict=True)
            if f.too_short or not f.converged
        ]
    spare = int(active[: len(edges)].sum() + 2 * active[len(edges) :].sum()) - len(weighing.solution.view.free)
    if spare >= 3 and weighing.solution.chi2 > spare + 4.0 * np.sqrt(2.0 * spare):
        notes.append(Note(NoteCode.DISAGREE, value=float(np.sqrt(weighing.solution.chi2 / spare))))
    return notes


def against_picture(level: EyeLevel, picture: tuple[float, float], sd_px: float) -> Note | None:
    """A note where the sightings put eye level elsewhere than the lines found in the whole picture do (its heights at
    the left and right side, and their standard deviation; px), beyond twice both ±. Most often the families of some
    edges are mistaken.
    """
    seen = level.found if level.source is Source.GIVEN else level
    if seen is None or seen.middle_y_px is None or seen.sd_px is None:
        return None
    gap = sum(picture) / 2 - seen.middle_y_px
    return Note(NoteCode.AGAINST_PICTURE, value=gap) if abs(gap) > 2.0 * (seen.sd_px + sd_px) else None


def picture_notes(solution: Solution, camera: CameraReading | None, given: Setup) -> list[Note]:
    evidence, setup = solution.evidence, solution.evidence.setup
    notes = []
    ends: dict[str, tuple[Point, ...]] = {e.id: (e.p, e.q) for e in evidence.edges}
    if evidence.rims is not None:
        ends |= {r.id: r.laid for r in evidence.rims.rims}
    slack = 0.02 * setup.long_side_px
    outside = tuple(
        i
        for i, ends_ in ends.items()
        if not all(-slack <= x <= setup.width_px + slack and -slack <= y <= setup.height_px + slack for x, y in ends_)
    )
    if outside:
        notes.append(Note(NoteCode.OUTSIDE, outside))
    focal_35mm = given.focal_35mm
    if focal_35mm is not None and setup.focal_35mm is None:
        focal = float(np.exp(solution.params[LOG_F])) * evidence.scale
        notes.append(Note(NoteCode.EXIF_DISAGREES, value=focal_35mm_of(focal, setup.long_side_px), other=focal_35mm))
    if camera is None or camera.focal_px is None:
        notes.append(Note(NoteCode.FOCAL_OPEN))
    else:
        cx, cy = setup.centre
        # a form at the angle t from the centre of vision is drawn 1 / cos t longer outwards than across
        outermost = {i: max(math.hypot(x - cx, y - cy) for x, y in laid) / camera.focal_px for i, laid in ends.items()}
        worst = max(outermost, key=lambda i: outermost[i], default=None)
        if worst is not None and math.hypot(1.0, outermost[worst]) - 1.0 > STRETCHED:
            notes.append(Note(NoteCode.WIDE, (worst,), value=math.hypot(1.0, outermost[worst]) - 1.0))
    if not solution.converged:
        notes.append(Note(NoteCode.NO_CONVERGENCE))
    return notes


def cone_notes(
    setup: Setup, camera: CameraReading | None, divisions: list[Division], heights: list[Height]
) -> list[Note]:
    """What is measured outside the cone of vision, where the lens is known."""
    if camera is None or camera.focal_px is None:
        return []
    radius, laid = (
        cone_radius(camera.focal_px),
        {d.id: (d.point,) for d in divisions} | {h.id: (h.foot, h.top) for h in heights},
    )
    outside = tuple(id for id, points in laid.items() if any(math.dist(at, setup.centre) > radius for at in points))
    return [Note(NoteCode.OUTSIDE_CONE, outside)] if outside else []


MOST_CROSSINGS = 3  # pairs named one by one


def crossing_notes(evidence: Evidence) -> list[Note]:
    """Edges of one family that cross well inside each other: parallels never do on the sheet. Of
    many pairs the first few are named and the rest counted.
    """
    a, d = evidence.a, evidence.b - evidence.a
    cross = d[:, None, 0] * d[None, :, 1] - d[:, None, 1] * d[None, :, 0]
    gap = a[None] - a[:, None]
    along = (gap[..., 0] * d[None, :, 1] - gap[..., 1] * d[None, :, 0]) / np.where(cross == 0, np.nan, cross)
    inside = (along > 0.03) & (along < 0.97)
    meet = inside & inside.T & (np.abs(cross) > 1e-9) & (evidence.slot[:, None] == evidence.slot[None])
    pairs = np.argwhere(np.triu(meet, 1))
    notes = [Note(NoteCode.CROSSING, (evidence.edges[i].id, evidence.edges[k].id)) for i, k in pairs[:MOST_CROSSINGS]]
    return (
        notes
        if len(pairs) <= MOST_CROSSINGS
        else [*notes, Note(NoteCode.MORE_CROSSINGS, value=float(len(pairs) - MOST_CROSSINGS))]
    )
