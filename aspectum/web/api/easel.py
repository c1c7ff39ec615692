"""What is measured at the easel: the gauge held still, thumb marks on the stick, and the person's own arm."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from aspectum.core.life.gauge import LEAST_SAMPLES, hold, offset
from aspectum.core.life.thumb import ARM_MM, Value, distance_m, height_m, subtended_deg, units
from aspectum.core.tolerance import FREEHAND, RULED
from aspectum.formats.sheet import OwnTolerance
from aspectum.formats.sightings import Metres, Number
from aspectum.service.sheets.checking import report_tolerance
from aspectum.service.words.life import CAUTIONS
from aspectum.store.models import Person
from aspectum.web.api.base import Message, feature, work
from aspectum.web.routes import OWN_WORK

routes = feature("easel")

Samples = Annotated[list[Annotated[Number, Field(ge=-180, le=180)]], Field(min_length=LEAST_SAMPLES, max_length=2000)]
MarkMm = Annotated[Number, Field(gt=0, le=1500)]
ArmMm = Annotated[Number, Field(ge=100, le=1500)]


class GaugeRequest(Message):
    """Tilts that the gauge gave while it was held. ``turned_deg``: the same laid end for end on one level, to find the
    gauge's offset.
    """

    samples_deg: Samples
    turned_deg: Samples | None = None
    offset_deg: Annotated[Number, Field(gt=-90, lt=90)] = 0.0


class GaugeAnswer(Message):
    """``offset_deg``: the gauge's own, where it was laid both ways round."""

    tilt_deg: float
    spread_deg: float
    still: bool
    offset_deg: float | None


@routes.post("/gauge", OWN_WORK, "readGauge", GaugeAnswer, stores=False)
def gauge(json: GaugeRequest) -> GaugeAnswer:
    """What a gauge was held at: the median, and its spread."""
    held = hold(json.samples_deg, json.offset_deg)
    found = None if json.turned_deg is None else offset(hold(json.samples_deg), hold(json.turned_deg))
    return GaugeAnswer(tilt_deg=held.tilt_deg, spread_deg=held.spread_deg, still=held.still, offset_deg=found)


class ThumbRequest(Message):
    """A mark on the stick; beside it the near upright's own mark, or a true height or distance, for what that tells."""

    mark_mm: MarkMm
    unit_mm: MarkMm | None = None
    arm_mm: ArmMm | None = None
    height_m: Metres | None = None
    away_m: Metres | None = None


class Told(Message):
    value: float
    sd: float


class ThumbAnswer(Message):
    """``units``: part of the near upright; ``subtends_deg``: the angle at the eye; ``away_m``: how far off something of
    the height is, and ``height_m`` how tall something at the distance.
    """

    units: Told | None
    subtends_deg: Told
    away_m: Told | None
    height_m: Told | None


@routes.post("/thumb", OWN_WORK, "thumb", ThumbAnswer, stores=False)
def thumb(json: ThumbRequest) -> ThumbAnswer:
    """What a thumb mark on the stick tells, with the arm's own error."""
    arm = json.arm_mm or ARM_MM

    def told(value: Value) -> Told:
        return Told(value=value.value, sd=value.sd)

    return ThumbAnswer(
        units=None if json.unit_mm is None else told(units(json.mark_mm, json.unit_mm, arm)),
        subtends_deg=told(subtended_deg(json.mark_mm, arm)),
        away_m=None if json.height_m is None else told(distance_m(json.height_m, json.mark_mm, arm)),
        height_m=None if json.away_m is None else told(height_m(json.away_m, json.mark_mm, arm)),
    )


class Schools(Message):
    """The tolerances of each school, as a tutor's own are written."""

    freehand: OwnTolerance
    ruled: OwnTolerance


class Easel(Message):
    """The person's own: eye to stick with a straight arm (null until it was measured), what to mind before beginning
    outdoors, and the tolerances of the schools.
    """

    arm_mm: ArmMm | None
    usual_arm_mm: float
    cautions: list[str]
    schools: Schools

    @classmethod
    def of(cls, person: Person) -> Easel:
        return cls(
            arm_mm=person.arm_mm,
            usual_arm_mm=ARM_MM,
            cautions=[str(caution) for caution in CAUTIONS],
            schools=Schools(freehand=report_tolerance(FREEHAND), ruled=report_tolerance(RULED)),
        )


class Arm(Message):
    arm_mm: ArmMm | None


@routes.get("/easel", OWN_WORK, "readEasel", Easel)
def easel() -> Easel:
    """The person's arm, and the cautions."""
    with work() as (_, person):
        return Easel.of(person)


@routes.put("/easel/arm", OWN_WORK, "setArm", Easel)
def set_arm(json: Arm) -> Easel:
    """Keep the person's arm, measured once."""
    with work() as (_, person):
        person.arm_mm = json.arm_mm
        return Easel.of(person)
