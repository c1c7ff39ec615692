"""Which unknowns each perspective leaves free, and what is known of them beforehand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.sightings import Family, Perspective
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, SHIFT_X, SHIFT_Y
from aspectum.core.view.evidence import Evidence
from aspectum.core.view.lens import EXIF_LOG_SD, TYPICAL_FOCAL_35MM, TYPICAL_LOG_SD, focal_of

LEVEL_CAMERA_SD = np.radians(0.25)
# scale of the faint hold on what the sightings leave open; a tenth of it must not matter
FAINT_SD = {LOG_F: TYPICAL_LOG_SD, PITCH: 0.6, ROLL: 0.6, SHIFT_X: 1.0, SHIFT_Y: 1.0}
FAINT_BEARING_SD = 2.0


@dataclass(frozen=True)
class View:
    """Which parameters are free, and the extra residuals ``(params - prior) / sd``.

    ``known_sd`` is infinite where nothing is known; ``faint_sd`` only keeps open questions finite.
    """

    perspective: Perspective
    free: Ints
    start: Floats
    known_mean: Floats
    known_sd: Floats
    faint_sd: Floats


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
    start = np.zeros(size)
    mean, known = np.zeros(size), np.full(size, np.inf)
    faint = np.full(size, FAINT_BEARING_SD)
    for k, sd in FAINT_SD.items():
        faint[k] = sd
    long_side = setup.long_side_px / evidence.scale
    if setup.focal_35mm is not None:
        mean[LOG_F] = np.log(focal_of(setup.focal_35mm, long_side))
        known[LOG_F] = EXIF_LOG_SD
    else:
        mean[LOG_F] = np.log(focal_of(TYPICAL_FOCAL_35MM, long_side))
    start[LOG_F] = mean[LOG_F]
    if setup.level_camera:
        known[[PITCH, ROLL]] = LEVEL_CAMERA_SD
    return View(perspective, free, start, mean, known, faint)


def frontal_forms(evidence: Evidence) -> set[str]:
    """Forms that have a face parallel to the picture, by the families of their sightings."""
    rims = () if evidence.rims is None else evidence.rims.rims
    return {e.form for e in evidence.edges if e.family in FRONTAL} | {r.form for r in rims if r.plane.family in FRONTAL}


FRONTAL = (Family.DEPTH, Family.ACROSS)
