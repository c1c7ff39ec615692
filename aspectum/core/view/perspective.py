"""Which unknowns each perspective leaves free, and what is known of them beforehand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.plane.projection import focal_of
from aspectum.core.sightings import Family, Perspective
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, SHIFT_X, SHIFT_Y
from aspectum.core.view.descent import Hold
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.lens import EXIF_LOG_SD, TYPICAL_FOCAL_35MM, TYPICAL_LOG_SD
from aspectum.core.view.sides import stands_between

GIVEN_EYE_LEVEL_SD_PX = 0.5  # a line laid by hand to the pixel
LEVEL_CAMERA_SD = np.radians(0.25)  # how exactly a camera that is called level stands so: a spirit level's bubble
# scale of the faint hold on what the sightings leave open; a tenth of it must not matter
FAINT_SD = {LOG_F: TYPICAL_LOG_SD, PITCH: 0.6, ROLL: 0.3, SHIFT_X: 1.0, SHIFT_Y: 1.0}
# radians: so wide that it decides nothing, and keeps a bearing that no line shows from running off
FAINT_BEARING_SD = 2.0


@dataclass(frozen=True)
class View:
    """Which parameters are free, where to begin, and what is known beforehand; ``sides``: what names say, as
    ``stands_between`` gives it.
    """

    perspective: Perspective
    start: Floats
    lens_known: bool
    hold: Hold
    sides: tuple[Ints, Floats]

    @property
    def free(self) -> Ints:
        """Indices of the free parameters, (F,)."""
        return self.hold.free

    @property
    def usual_focal(self) -> float:
        """Focal length, in camera units, of the lens that is known or most usual."""
        return float(np.exp(self.hold.mean[LOG_F]))


def view_for(evidence: Evidence, perspective: Perspective) -> View:
    """The parameters of a stated perspective.

    Three-point (and a photograph in general): pitch free, centre of vision fixed. Two-point:
    uprights parallel, eye level anywhere on the sheet. One-point: as well, forms with depth or
    across edges stand square to the picture and the centre of vision is free.
    """
    setup, size = evidence.setup, evidence.size
    frontal = frontal_forms(evidence)
    fixed = {SHIFT_X, SHIFT_Y}
    if perspective is Perspective.TWO_POINT:
        fixed = {PITCH, SHIFT_X}
    elif perspective is Perspective.ONE_POINT:
        fixed = {PITCH} | {FIRST_BEARING + i for i, form in enumerate(evidence.forms) if form in frontal}
    free = np.array([k for k in range(size) if k not in fixed], np.intp)
    start, mean, known, drawn = np.zeros(size), np.zeros(size), np.zeros(size), np.zeros(size)
    faint = np.full(size, 1.0 / FAINT_BEARING_SD**2)
    for k, sd in FAINT_SD.items():
        # a usual lens, held about level
        (drawn if k in (LOG_F, PITCH, ROLL) else faint)[k] = 1.0 / sd**2
    faint[[LOG_F, PITCH, ROLL]] = 0.0
    long_side = setup.long_side_px / evidence.scale
    mean[LOG_F] = start[LOG_F] = np.log(focal_of(setup.focal_35mm or TYPICAL_FOCAL_35MM, long_side))
    if setup.focal_35mm is not None:
        known[LOG_F] = 1.0 / EXIF_LOG_SD**2
    if setup.found is not None:
        mean[LOG_F] = start[LOG_F] = np.log(setup.found.focal_px / evidence.scale)
        known[LOG_F] = (setup.found.focal_px / setup.found.focal_sd_px) ** 2
    if setup.level_camera:
        known[[PITCH, ROLL]] = 1.0 / LEVEL_CAMERA_SD**2
    place = np.full(size, -1, np.intp)
    place[free] = np.arange(len(free))
    hold = Hold(free, place, mean, known + drawn, drawn, faint, given_levels(evidence))
    return View(perspective, start, setup.focal_35mm is not None, hold, stands_between(evidence, place))


def given_levels(evidence: Evidence) -> Floats:
    """A given eye level, or else a found one, at both sides of the sheet: x, height and 1/sd, (2, 3) or (0, 3), in
    camera units.
    """
    setup, sd = evidence.setup, GIVEN_EYE_LEVEL_SD_PX
    heights = setup.eye_level_px
    if heights is None and setup.found is not None:
        # two sides that each are known so well put the middle where it was found to be
        heights, sd = (setup.found.left_y_px, setup.found.right_y_px), np.sqrt(2.0) * setup.found.sd_px
    if heights is None:
        return np.zeros((0, 3))
    cx, cy = setup.centre
    sides = zip((0.0, float(setup.width_px)), heights, strict=True)
    return np.array([((x - cx) / evidence.scale, (y - cy) / evidence.scale, evidence.scale / sd) for x, y in sides])


def frontal_forms(evidence: Evidence) -> set[str]:
    """Forms that have a face parallel to the picture, by the families of their sightings."""
    rims = () if evidence.rims is None else evidence.rims.rims
    return {e.form for e in evidence.edges if e.family in FRONTAL} | {r.form for r in rims if r.plane.family in FRONTAL}


FRONTAL = (Family.DEPTH, Family.ACROSS)
