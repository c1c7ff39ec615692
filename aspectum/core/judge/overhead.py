"""Looking straight up or down: one-point perspective in which the uprights recede (handbook section 2).

The picture stands level: level edges keep their true directions, level rims their round, and the uprights meet in the
zenith (looking down: the nadir) at the centre of vision. A sight held by hand stands a little off straight; that is
allowed for as far as the uprights leave it open, and not modelled otherwise.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

import numpy as np

from aspectum.core.findings import Finding, Note, NoteCode, RimReading, VanishingPoint, places_of
from aspectum.core.judge.leave_one_out import LeaveOneOut, MeetingFamily, ParallelFamily
from aspectum.core.judge.rim_company import side_faults
from aspectum.core.judge.rim_shape import shape_fault
from aspectum.core.judge.rims import finding_of_rim
from aspectum.core.plane.lines import Flags, Floats, wrap_tilt
from aspectum.core.plane.projection import focal_of
from aspectum.core.plane.rim_fit import RimFit
from aspectum.core.reasons import Fault, RimReason, Rule
from aspectum.core.sightings import BEARING_OFFSET_DEG, LEVEL_FAMILIES, Edge, Family, Looking, Plane, Rim, Setup
from aspectum.core.tolerance import Tolerances, Verdict, beyond, verdict
from aspectum.core.view.evidence import FittedRims
from aspectum.core.view.lens import TYPICAL_FOCAL_35MM
from aspectum.core.view.vanishing_points import off_sheet

STRAIGHT_SD_DEG = 2.0  # how far off straight a sight held by hand stands; common practice, without a source
FULL_CIRCLE_DEG = 90.0  # the opening of a circle seen square on
# a circle's flattening has a size and a way that it lies: its 95 % bound over that of one number, sqrt(5.99) to 2
BOTH_WAYS = 1.224

Found = tuple[list[Finding], list[VanishingPoint], list[Note]]


def overhead_findings(
    setup: Setup, edges: list[Edge], tolerances: Tolerances, fitted: FittedRims, round_forms: frozenset[str]
) -> Found:
    """Check the uprights against the zenith or nadir, the level edges of each form against one another's directions,
    each slope's edges against where they meet, and level rims against a full circle. Edges come first, in the order
    given.
    """
    notes = [] if edges or fitted else [Note(NoteCode.NO_EDGES, text=setup.looking)]
    uprights, sight = sight_along([e for e in edges if e.family is Family.UPRIGHT], setup, tolerances)
    families: list[LeaveOneOut] = [uprights]
    points = []
    if uprights.edges:
        points.append(meeting_point(uprights, None, Family.UPRIGHT, None, setup))
        notes += straightness(uprights, sight, setup)
    for form in dict.fromkeys(e.form for e in edges):
        level = [e for e in edges if e.form == form and e.family in LEVEL_FAMILIES]
        if level:
            turned = np.array([-BEARING_OFFSET_DEG[e.family] for e in level])
            plan = ParallelFamily(
                level, setup.point_sd_px, tolerances, Rule.OFF_ITS_PLAN, turned, sight.loose_deg(level)
            )
            families.append(plan)
            bearing, _ = plan.mean(plan.kept)
            points += [
                VanishingPoint(
                    form, family, None, None, None, float(wrap_tilt(bearing + BEARING_OFFSET_DEG[family])), None
                )
                for family in dict.fromkeys(e.family for e in level)
            ]
        for slope in dict.fromkeys(e.slot[2] for e in edges if e.form == form and e.family is Family.SLOPE):
            mine = MeetingFamily(
                [e for e in edges if e.slot == (form, Family.SLOPE, slope)],
                setup.point_sd_px,
                tolerances,
                Rule.MISSES_ITS_POINT,
            )
            families.append(mine)
            if mine.meet(mine.kept) is not None:
                points.append(meeting_point(mine, form, Family.SLOPE, slope, setup))
    places = places_of(points)
    found = {id: finding for family in families for id, finding in family.findings(places).items()}
    off = np.array([found[e.id].verdict is Verdict.OFF for e in edges], bool)
    rims = [
        replace(
            rim_finding(rim, fit, tuple(edges), off, sight, tolerances, round_forms),
            vanishing_point=places.get(rim.slot),
        )
        for rim, fit in fitted
    ]
    return [found[e.id] for e in edges] + rims, points, notes


@dataclass(frozen=True)
class Sight:
    """The line of sight: ``centre`` of vision (px), ``focal_px``, and how far it may stand off straight (radians)."""

    centre: tuple[float, float]
    focal_px: float
    off_straight: float

    def loose_deg(self, edges: list[Edge]) -> Floats:
        """How far (degrees, (n,)) a level edge may be turned because the sight is not quite straight: level edges then
        meet focal²/d away, d the zenith's distance from the centre of vision, so their tilts differ by r·d/focal² where
        they lie r apart.
        """
        middle = np.array([((e.p[0] + e.q[0]) / 2, (e.p[1] + e.q[1]) / 2) for e in edges])
        return np.asarray(np.degrees(np.hypot(*(middle - self.centre).T) * self.off_straight / self.focal_px), float)

    def flattening(self, centre: tuple[float, float]) -> float:
        """By which share, to first order, a level rim at ``centre`` (px) may be flattened for the same reason."""
        return self.off_straight * (self.off_straight / 2 + math.dist(centre, self.centre) / self.focal_px)


def sight_along(uprights: list[Edge], setup: Setup, tolerances: Tolerances) -> tuple[MeetingFamily, Sight]:
    """The uprights with the point that they run to, and the line of sight as they leave it."""
    focal = focal_of(setup.focal_35mm or TYPICAL_FOCAL_35MM, setup.long_side_px)
    rule = Rule.MISSES_NADIR if setup.looking is Looking.DOWN else Rule.MISSES_ZENITH
    family = MeetingFamily(
        uprights, setup.point_sd_px, tolerances, rule, setup.centre, focal * math.tan(math.radians(STRAIGHT_SD_DEG))
    )
    met = family.meet(family.kept)
    assert met is not None  # it is known beforehand
    at, spread = met
    away = math.sqrt(math.dist(at, setup.centre) ** 2 + float(np.trace(spread)))
    return family, Sight(setup.centre, focal, away / focal)


def straightness(uprights: MeetingFamily, sight: Sight, setup: Setup) -> list[Note]:
    """Whether the uprights by themselves meet too far from the centre of vision for a sight held straight."""
    met = uprights.meet(uprights.kept, alone=True)
    if met is None or (uprights.disagree & uprights.kept).any():
        return []
    way = met[0] - sight.centre
    away = float(np.hypot(*way))
    sd = math.sqrt(float(way @ met[1] @ way)) / max(away, 1e-9)
    allowed = sight.focal_px * math.tan(math.radians(2 * STRAIGHT_SD_DEG))
    if not beyond(away, sd, allowed):
        return []
    return [
        Note(
            NoteCode.OFF_STRAIGHT, value=math.degrees(math.atan(away / sight.focal_px)), other=away, text=setup.looking
        )
    ]


def meeting_point(
    family: MeetingFamily, form: str | None, name: Family, slope: str | None, setup: Setup
) -> VanishingPoint:
    met, alone = family.meet(family.kept), family.meet(family.kept, alone=True)
    assert met is not None
    (x, y), spread = met[0].tolist(), met[1]
    own_x, own_y = (None, None) if alone is None else alone[0].tolist()
    return VanishingPoint(
        form, name, slope, x, y, None, math.sqrt(float(spread[1, 1])), off_sheet(x, setup.width_px), own_x, own_y
    )


def rim_finding(
    rim: Rim,
    fit: RimFit,
    edges: tuple[Edge, ...],
    off: Flags,
    sight: Sight,
    tolerances: Tolerances,
    round_forms: frozenset[str],
) -> Finding:
    """A level rim is a full circle. It is weighed by the share that its minor axis falls short of its major one against
    the tolerance of lengths: so near to 90 the degree says little (a hundredth flatter is 82).
    """
    reading = RimReading(fit.ellipse, fit.sds[2], coverage_deg=fit.coverage_deg, least_points=rim.least_points)
    shape = shape_fault(fit)
    faults = side_faults(rim, fit, edges, off, tolerances, round_forms) + ([] if shape is None else [shape])
    implied = implied_sd = None
    found, rule, opened = Verdict.UNSURE, Rule.ONLY_LEVEL_RIMS, 0.0
    if rim.plane is Plane.LEVEL:
        loose = sight.flattening(fit.centre)
        implied, implied_sd = FULL_CIRCLE_DEG, FULL_CIRCLE_DEG - math.degrees(math.asin(max(0.0, 1.0 - loose)))
        opened = FULL_CIRCLE_DEG - fit.degree_deg
        reading = replace(reading, implied_ellipse=fit.ellipse.opened(FULL_CIRCLE_DEG, fit.axis_deg))
        found = verdict(fit.ratio - 1.0, math.hypot(BOTH_WAYS * fit.sds[0], loose), tolerances.length)
        rule = (
            Rule.A_CIRCLE
            if found is Verdict.HOLDS
            else Rule.SHORT_ARC
            if fit.sds[0] > loose or fit.too_short
            else Rule.TOO_WEAK
        )
        if fit.too_short or not fit.converged:
            found = Verdict.UNSURE
        elif found is Verdict.OFF:
            faults = [Fault(Rule.RIM_NOT_A_CIRCLE, opened), *faults]
    if faults:
        found, rule = Verdict.OFF, faults[0].rule
    reason = RimReason(rule, opened, plane=rim.plane)
    return finding_of_rim(rim, fit, (implied, implied_sd), found, reason, replace(reading, faults=tuple(faults)))
