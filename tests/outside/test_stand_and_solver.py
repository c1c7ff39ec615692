"""The stand and the solver, which share nothing, keep each other honest: what one draws the other finds."""

from __future__ import annotations

import numpy as np
import pytest

from aspectum.core.plane.lines import tilt_difference
from aspectum.core.sightings import Family
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.taken import taken
from aspectum.core.stand.things import AnyThing, Box, Building, Cylinder, Ramp, Stand, Wheels
from aspectum.formats.stand import StandFile, StandView
from aspectum.service.sheets.checking import check_sheet
from aspectum.service.stand.from_format import sheet_of

SET_UPS: dict[str, tuple[AnyThing, ...]] = {
    "boxes": (Box("a", turn_deg=25.0, size_m=(0.8, 0.5, 0.4)), Box("b", on="a", turn_deg=50.0, size_m=(0.4, 0.3, 0.3))),
    "box and tins": (
        Box("a", turn_deg=25.0, size_m=(0.8, 0.5, 0.4)),
        Cylinder("t", at_m=(0.7, -0.4), radius_m=0.15, height_m=0.4),
    ),
    "house and ramp": (
        Building("h", turn_deg=35.0, size_m=(1.0, 0.7, 0.5), rise_m=0.3, eaves_m=0.06),
        Ramp("r", (-0.9, -0.9), size_m=(0.4, 0.8, 0.2)),
    ),
    "box and wheels": (
        Box("a", turn_deg=20.0, size_m=(0.8, 0.5, 0.4)),
        Wheels("w", at_m=(0.0, -0.8), turn_deg=20.0, radius_m=0.2, gauge_m=0.5),
    ),
}
VIEWS = {
    "level": View(eye_m=(0.3, -3.0, 0.7)),
    "down": View(eye_m=(0.3, -2.6, 1.8), pitch_deg=-25.0, heading_deg=-4.0),
    "up, rolled": View(eye_m=(-0.4, -3.0, 0.2), pitch_deg=6.0, roll_deg=3.0, heading_deg=7.0),
}


@pytest.mark.parametrize("view", list(VIEWS))
@pytest.mark.parametrize("set_up", list(SET_UPS))
def test_the_solver_finds_the_stands_vanishing_points_tilts_and_degrees(set_up: str, view: str) -> None:
    """Issued target: equal to 1e-6 of the picture's width, for a VP of the distance to it; degrees and tilts to a
    ten-thousandth.
    """
    seen = VIEWS[view]
    drawing = draw(Stand(SET_UPS[set_up]), seen)
    file = StandFile(view=StandView(width_px=seen.width_px, height_px=seen.height_px, focal_35mm=seen.focal_35mm))
    report = check_sheet(sheet_of(file, taken(drawing)))
    known = {(vp.thing, vp.way.family, vp.way.slope): vp for vp in drawing.vanishing_points}
    told = 0
    for vp in report.vanishing_points:
        if vp.form is None or vp.x_px is None or vp.y_px is None:
            continue
        family = Family(vp.family)
        truth = known[vp.form, family, vp.slope if family is Family.SLOPE else None].at_px
        assert truth is not None
        reach = max(seen.width_px, float(np.hypot(truth[0] - 640, truth[1] - 480)))
        assert np.hypot(vp.x_px - truth[0], vp.y_px - truth[1]) < 1e-6 * reach
        told += 1
    assert told >= 2
    for finding in report.findings:
        if finding.implied is not None and finding.sighted is not None and finding.kind in ("edge", "rim"):
            assert abs(float(tilt_difference(finding.implied, finding.sighted))) < 1e-4
