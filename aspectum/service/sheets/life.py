"""What was read from life on a sheet: into the core, and back into the report."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from aspectum.core.findings import Finding
from aspectum.core.life.alignments import alignment_reading_findings
from aspectum.core.life.fit import Lens
from aspectum.core.life.lengths import length_reading_findings
from aspectum.core.life.near_corner import CardSide, NearCorner, near_corner
from aspectum.core.life.readings import (
    GAUGE_SD_DEG,
    PLUMB_SD,
    RATIO_SD,
    STICK_SD_DEG,
    AlignmentReading,
    LengthReading,
    Of,
    RimReading,
    TiltReading,
)
from aspectum.core.life.repeats import Repeated, average
from aspectum.core.life.rims import rim_reading_findings
from aspectum.core.life.schematic import ReadForm, Schematic, other_levels, schematic
from aspectum.core.life.thumb import ARM_MM, distance_m, lens_of, subtended_deg
from aspectum.core.life.tilts import tilt_reading_findings
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.reasons import AlignmentReason, EdgeReason, LengthReason, RimReason
from aspectum.core.sightings import End, Family, FormKind, Side
from aspectum.core.tolerance import Tolerances, Verdict, verdict
from aspectum.formats.life import (
    ReportDrawnPoint,
    ReportDrawnRim,
    ReportFromLife,
    ReportLine,
    ReportNearCorner,
    ReportSchematic,
    ReportSide,
    ReportSlot,
    ReportThumb,
)
from aspectum.formats.report import ReportFinding
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import (
    AlignmentSighting,
    EdgeSighting,
    Instrument,
    LengthSighting,
    RimSighting,
    read_from_life,
)
from aspectum.language import figure
from aspectum.service.sheets.reporting import report_finding
from aspectum.service.words.common import Names, Telling, signed
from aspectum.service.words.edges import reading_words
from aspectum.service.words.life import (
    alignment_reading_words,
    length_reading_words,
    near_corner_words,
    other_level_words,
    photo_words,
    repeat_words,
    rim_reading_words,
    slot_words,
)

SHARES = {End.NEAR_TOP: 0.0, End.NEAR_BOTTOM: 1.0}  # of the way down the near upright
NO_FORM = "form"


@dataclass(frozen=True)
class Repeats:
    """Each time that something was read, as it was written, and what that comes to."""

    readings: list[float]
    found: Repeated
    unit: str

    @property
    def shown(self) -> list[str]:
        return [signed(value) if self.unit else figure(value, 2) for value in self.readings]


@dataclass(frozen=True)
class FromLife:
    """All that was read from life, form by form; the first form's near upright is the unit."""

    forms: list[ReadForm]
    rims: list[RimReading]
    alignments: list[AlignmentReading]
    across: dict[str, float]
    widths: dict[str, float]
    repeats: dict[str, Repeats]

    @property
    def card(self) -> NearCorner | None:
        return self.forms[0].card if self.forms else None

    def findings(self, tolerances: Tolerances) -> list[Finding]:
        """Findings of the readings alone, whatever else is laid on the sheet."""
        found: list[Finding] = []
        for form in self.forms:
            found += tilt_reading_findings(form.tilts, form.card, tolerances)
            found += length_reading_findings(form.lengths, form.card, tolerances)
        found += rim_reading_findings(self.rims, self.card, tolerances)
        return found + alignment_reading_findings(self.alignments, tolerances)


def life_on(sheet: SightingSheet) -> FromLife | None:
    """What was read from life; None where nothing was and the sheet has a picture."""
    if sheet.picture is not None and not any(is_reading(s) for s in sheet.accepted):
        return None
    repeats: dict[str, Repeats] = {}
    tilts: dict[str, list[TiltReading]] = {}
    lengths: dict[str, list[LengthReading]] = {}
    rims, alignments = [], []
    across: dict[str, float] = {}
    widths: dict[str, float] = {}
    for s in sheet.accepted:
        form = s.form or NO_FORM
        if isinstance(s, EdgeSighting) and s.tilt_deg is not None:
            repeats[s.id] = again = repeated([s.tilt_deg, *(s.repeats_deg or ())], usual_tilt_sd(s), "°")
            tilts.setdefault(form, []).append(core_tilt(s, again.found))
        elif isinstance(s, LengthSighting) and s.ratio is not None:
            usual = s.sd_ratio or LengthReading(s.id, s.along, s.ratio).ratio_sd
            repeats[s.id] = again = repeated([s.ratio, *(s.repeats or ())], usual, "")
            lengths.setdefault(form, []).append(core_length(s, again.found))
        elif isinstance(s, RimSighting) and (s.ratio is not None or s.sight_deg is not None):
            by_sight = s.sight_deg is not None
            usual = (s.sd_deg or GAUGE_SD_DEG) if by_sight else (s.sd_ratio or RATIO_SD)
            first = s.sight_deg if s.sight_deg is not None else s.ratio or 0.0
            repeats[s.id] = again = repeated([first, *(s.repeats or ())], usual, "°" if by_sight else "")
            rims.append(core_rim_reading(s, again.found))
            across |= {} if s.across is None else {s.id: s.across}
            widths |= {} if s.width is None else {s.id: s.width}
        elif isinstance(s, AlignmentSighting) and s.beside is not None:
            repeats[s.id] = repeated([s.beside], s.sd_beside or PLUMB_SD, "")
            alignments.append(AlignmentReading(s.id, s.along, s.beside, s.sd_beside, s.judged_beside))
    names = form_order(sheet, tilts, lengths)
    lens = lens_on(sheet)
    posts = {f.id for f in sheet.forms if f.kind is FormKind.OTHER}
    forms = []
    for k, form in enumerate(names):
        first = k == 0
        card = near_corner(tilts.get(form, []), lengths.get(form, []), rims if first else [], lens if first else None)
        forms.append(
            ReadForm(
                form,
                tilts.get(form, []),
                lengths.get(form, []),
                card,
                form in posts and form not in tilts and not first,
            )
        )
    return FromLife(forms, rims, alignments, across, widths, repeats)


def is_reading(s: object) -> bool:
    return isinstance(s, (EdgeSighting, RimSighting, LengthSighting, AlignmentSighting)) and (
        read_from_life(s) or (isinstance(s, EdgeSighting) and s.tilt_deg is not None)
    )


def form_order(
    sheet: SightingSheet, tilts: dict[str, list[TiltReading]], lengths: dict[str, list[LengthReading]]
) -> list[str]:
    """Forms with a near corner, in the sheet's order: those that have only rims have none."""
    rims = {s.form for s in sheet.accepted if isinstance(s, RimSighting)}
    named = [f.id for f in sheet.forms if f.id in tilts or f.id in lengths or f.id not in rims]
    return list(dict.fromkeys([*named, *tilts, *lengths])) or [NO_FORM]


def usual_tilt_sd(s: EdgeSighting) -> float:
    """What one reading of a tilt errs by: as stated, else by what it was taken with, and how unsteadily
    that was held.
    """
    if s.sd_deg is not None:
        return s.sd_deg
    usual = GAUGE_SD_DEG if s.taken_with is Instrument.GAUGE else STICK_SD_DEG
    return math.hypot(usual, s.held_sd_deg or 0.0)


def repeated(values: list[float], usual_sd: float, unit: str) -> Repeats:
    return Repeats(values, average(values, usual_sd), unit)


def core_tilt(s: EdgeSighting, read: Repeated) -> TiltReading:
    side = Side(s.family.value) if s.family in (Family.LEFT, Family.RIGHT) else None
    height = SHARES[s.end] if isinstance(s.end, End) else float(s.end or 0.0)
    return TiltReading(s.id, side, height, read.value, read.sd, s.judged_tilt_deg)


def core_length(s: LengthSighting, read: Repeated) -> LengthReading:
    return LengthReading(s.id, s.along, read.value, s.side, read.sd, s.judged_ratio, s.of or Of.FAR_UPRIGHT)


def core_rim_reading(s: RimSighting, read: Repeated) -> RimReading:
    reading = RimReading(s.id, None, None, s.down, read.sd, s.plane, s.judged_degree_deg, s.form, s.from_below or False)
    return replace(reading, sight_deg=read.value) if s.sight_deg is not None else replace(reading, ratio=read.value)


def lens_on(sheet: SightingSheet) -> Lens | None:
    if sheet.stick is None or sheet.stick.unit_mm is None:
        return None
    return lens_of(sheet.stick.unit_mm, sheet.stick.arm_mm or ARM_MM)


def not_laid(read: list[Finding], laid: list[Finding]) -> list[Finding]:
    """Findings of what was read from life and is not laid on a photo as well: what is judged once counts once."""
    known = {f.sighting for f in laid}
    return [f for f in read if f.sighting not in known]


def life_findings(
    life: FromLife, read: list[Finding], sheet: SightingSheet, tolerances: Tolerances, telling: Telling
) -> dict[str, ReportFinding]:
    """The report's findings of all readings, by id."""
    by_id = {s.id: s for s in sheet.accepted}
    rims, names = {r.id: r for r in life.rims}, telling.names
    found = {}
    for f in read:
        s, reason = by_id[f.sighting], f.reason
        family = s.family if isinstance(s, EdgeSighting) else None
        match reason:
            case EdgeReason():
                words = reading_words(f, reason, names, tolerances.tilt_deg)
            case LengthReason():
                words = length_reading_words(f, reason, names)
            case RimReason():
                words = rim_reading_words(f, rims[f.sighting], reason, names)
            case AlignmentReason():
                assert isinstance(s, AlignmentSighting)
                words = alignment_reading_words(f, reason, s.first or "", s.second or "")
            case _:
                raise LookupError(f"no words for a reading of {f.kind}")
        reported = report_finding(f, family, telling, words)
        again = life.repeats[f.sighting]
        reported.from_life = report_reading(f, again, rims.get(f.sighting))
        said = reported.from_life.words
        reported.words = f"{words} {said}".strip()
        found[f.sighting] = reported
    return found


def report_reading(f: Finding, again: Repeats, rim: RimReading | None) -> ReportFromLife:
    reading = ReportFromLife(
        sighted=f.sighted or 0.0,
        sighted_sd=f.sighted_sd or 0.0,
        readings=again.readings,
        spread=again.found.spread,
        strays=list(again.found.strays),
        differ=again.found.differ,
        words=repeat_words(again.found, again.shown, again.unit),
    )
    if rim is not None:
        ratio = rim.drawn_ratio
        reading.drawn_ratio, reading.looking_deg = ratio, rim.looking_degree_deg
        reading.looking_sd = math.degrees(rim.drawn_sd / (1 + ratio**2))
    return reading


def beside_the_photo(laid: ReportFinding, read: ReportFinding, tolerances: Tolerances) -> ReportFinding:
    """The finding of an edge that is laid on a photo, with what was read of it from life beside it."""
    reading = read.from_life
    if reading is None or laid.sighted is None:
        return laid
    gap = float(tilt_difference(reading.sighted, laid.sighted))
    reading.card_verdict, reading.photo_gap_deg = read.verdict, gap
    reading.photo_verdict = verdict(gap, math.hypot(reading.sighted_sd, laid.sighted_sd or 0.0), tolerances.tilt_deg)
    reading.words = photo_words(gap, reading.photo_verdict is Verdict.OFF, reading.sighted)
    laid.from_life = reading
    laid.words = f"{laid.words} {reading.words}"
    return laid


def report_cards(life: FromLife, names: Names) -> list[ReportNearCorner]:
    return [report_card(form.form, form.card, names) for form in life.forms if form.tilts]


def report_card(form: str, card: NearCorner, names: Names) -> ReportNearCorner:
    def side(s: CardSide) -> ReportSide:
        return ReportSide(
            side=s.side,
            distance_units=s.distance,
            distance_sd=s.distance_sd,
            distance_low=s.distance_low,
            distance_high=s.distance_high,
            eye_level_down=s.eye_level,
            eye_level_sd=s.eye_level_sd,
            opens=s.opens,
        )

    again = card.retake
    tilted = again is not None and any(r.id == again.reading for r in card.evidence.tilts)
    return ReportNearCorner(
        form=form,
        left=side(card.left),
        right=side(card.right),
        eye_level_down=card.eye_level,
        eye_level_sd=card.eye_level_sd,
        eye_level_low=card.eye_level_low,
        eye_level_high=card.eye_level_high,
        agree=card.agree,
        retake=again.reading if again else None,
        retake_instead=again.instead if again else None,
        retake_tilt_deg=again.due if again and tilted else None,
        retake_due=again.due if again else None,
        left_out=card.left_out,
        focal_units=card.focal,
        words=near_corner_words(card, names),
    )


def report_schematic(life: FromLife, sheet: SightingSheet) -> ReportSchematic | None:
    """The near corner as it is drawn; None on a sheet whose forms have none."""
    if not life.forms:
        return None
    # the first form's lines need no name beside them
    called = (
        {form.form: f"{form.form}: " for form in life.forms}
        | {f.id: f"{f.name or f.id}: " for f in sheet.forms}
        | {life.forms[0].form: ""}
    )
    drawn: Schematic = schematic(life.forms, life.rims, life.across, life.widths)
    return ReportSchematic(
        slots=[ReportSlot(**vars(slot), words=called[slot.form] + slot_words(slot)) for slot in drawn.slots],
        lines=[ReportLine(**vars(line)) for line in drawn.lines],
        rims=[ReportDrawnRim(**vars(rim)) for rim in drawn.rims],
        points=[ReportDrawnPoint(**vars(point)) for point in drawn.points],
        eye_level=drawn.eye_level,
        eye_level_low=drawn.eye_level_low,
        eye_level_high=drawn.eye_level_high,
    )


def level_notes(life: FromLife, sheet: SightingSheet) -> list[str]:
    """A note for every further form whose eye level is another than the first's."""
    if not life.forms:
        return []
    called = {f.id: f.name or f.id for f in sheet.forms}
    return [
        other_level_words(level, called.get(level.form, level.form))
        for level in other_levels(life.forms)
        if level.apart
    ]


def report_thumb(sheet: SightingSheet) -> ReportThumb | None:
    stick = sheet.stick
    if stick is None or stick.unit_mm is None:
        return None
    arm = stick.arm_mm or ARM_MM
    takes = subtended_deg(stick.unit_mm, arm)
    away = None if stick.upright_m is None else distance_m(stick.upright_m, stick.unit_mm, arm)
    return ReportThumb(
        arm_mm=arm,
        unit_mm=stick.unit_mm,
        subtends_deg=takes.value,
        subtends_sd=takes.sd,
        distance_m=away.value if away else None,
        distance_sd=away.sd if away else None,
    )
