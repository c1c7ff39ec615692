"""What drawings leave in the record: every cause once, as its own skill's, and each drawn number by what the causes
leave of it.
"""

from __future__ import annotations

from aspectum.core.drawing.accounts import Account
from aspectum.core.drawing.candidates import CauseKind
from aspectum.core.drawing.causes import Level
from aspectum.core.drawing.closed import Way
from aspectum.core.drawing.critique import Critique, Difference, with_error
from aspectum.core.drawing.readings import What
from aspectum.core.plane.lines import tilt_difference
from aspectum.core.practice.recorded import (
    ReadFrom,
    SkillReading,
    SkillsOn,
    in_per_cent,
    of_length,
    part_skill,
    rim_skill,
    tilt_reading,
)
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family, Kind


def critique_readings(critique: Critique, kinds: dict[str, Kind], laid: SkillsOn) -> list[SkillReading]:
    """What was drawn, beside the subject. Each cause is one reading, of its own skill; every number is one by what the
    causes leave of it, but for those of the cause's own skill, which it stands for. Eye level and each vanishing point,
    where nothing prints them, are readings as well. ``laid``: on the subject.
    """
    found: dict[tuple[Skill, str], SkillReading] = {}
    stood_for: set[tuple[Skill, str]] = set()
    shown: dict[tuple[str, What], float] = {}
    for account in critique.accounts:
        reading = _of_account(account, laid)
        if reading is None:
            # no skill is of this cause: it is told by the line that shows most of it
            shown[account.numbers[0]] = shown.get(account.numbers[0], 0.0) + account.most
            continue
        found[reading.skill, reading.sighting] = reading
        stood_for |= {(reading.skill, sighting) for sighting, _ in account.numbers}
    for level in critique.levels:
        level_reading = _of_level(level, laid)
        if level_reading is not None:
            found.setdefault((level_reading.skill, level_reading.sighting), level_reading)
    numbers = [
        _of_difference(with_error(d, d.difference + shown.get((d.sighting, d.what), 0.0)), kinds.get(d.sighting), laid)
        for d in critique.left_over
    ]
    return [*found.values(), *(r for r in numbers if r is not None and (r.skill, r.sighting) not in stood_for)]


def _of_account(account: Account, laid: SkillsOn) -> SkillReading | None:
    """The one reading that a cause is; None for one that no skill is of."""
    where = " ".join(
        str(part) for part in (account.form, account.family, account.which, account.way) if part is not None
    )
    name = f"{account.cause} {where}".strip()[:80]
    match account.cause:
        case CauseKind.EYE_LEVEL | CauseKind.VANISHING_POINT:
            return _of_level(Level(account.form, account.family, account.error, account.sd), laid, told=True)
        case CauseKind.LEAN:
            return SkillReading(Skill.UPRIGHT_LEAN, ReadFrom.CRITIQUE, name, account.error, 0.0, account.sd)
        case CauseKind.TURNED:
            return SkillReading(Skill.OTHER_EDGE, ReadFrom.CRITIQUE, name, account.error, 0.0, account.sd)
        case CauseKind.STRETCH | CauseKind.SIZE:
            up = account.cause is CauseKind.SIZE or account.way is Way.UP
            return in_per_cent(
                Skill.LENGTH_UP if up else Skill.LENGTH_ACROSS, ReadFrom.CRITIQUE, name, 1.0 + account.error, account.sd
            )
        case CauseKind.DEPTH:
            return in_per_cent(Skill.LENGTH_ALONG, ReadFrom.CRITIQUE, name, 1.0 + account.error, account.sd)
        case CauseKind.RIM:
            ids = {sighting for sighting, _ in account.numbers}
            skill = rim_skill(not ids <= laid.standing, ids <= laid.tops, account.due_deg)
            return SkillReading(
                skill, ReadFrom.CRITIQUE, name, account.due_deg + account.error, account.due_deg, account.sd
            )
    return None


def _of_level(level: Level, laid: SkillsOn, told: bool = False) -> SkillReading | None:
    """Where eye level, or a vanishing point, was put; None where the paper prints it and no cause is ``told`` of it,
    and for a point that is moved in another unit: a depth family's, or the uprights'.
    """
    if level.family is None:
        if laid.level_given and not told:
            return None
        return SkillReading(Skill.EYE_LEVEL, ReadFrom.CRITIQUE, Skill.EYE_LEVEL.value, level.value, 0.0, level.sd)
    if level.family not in (Family.LEFT, Family.RIGHT) or (
        (level.form, level.family) in laid.points_given and not told
    ):
        return None
    return SkillReading(
        Skill.VANISHING_POINT,
        ReadFrom.CRITIQUE,
        f"{level.form} {level.family}"[:80],
        100.0 * level.value,
        0.0,
        100.0 * level.sd,
    )


def _of_difference(d: Difference, kind: Kind | None, laid: SkillsOn) -> SkillReading | None:
    match d.what:
        case What.TILT if kind in (Kind.EDGE, Kind.ALIGNMENT):
            skill = Skill.CORNER_TO_CORNER if kind is Kind.ALIGNMENT else laid.edge_skill(d.sighting, d.subject)
            return tilt_reading(skill, ReadFrom.CRITIQUE, d.sighting, d.drawing, d.subject, d.sd)
        case What.DEGREE:
            skill = rim_skill(d.sighting not in laid.standing, d.sighting in laid.tops, d.subject)
            return SkillReading(skill, ReadFrom.CRITIQUE, d.sighting, d.drawing, d.subject, d.sd)
        case What.AXIS:
            near = d.subject + float(tilt_difference(d.drawing, d.subject))
            return SkillReading(Skill.MINOR_AXIS, ReadFrom.CRITIQUE, d.sighting, near, d.subject, d.sd)
        case What.LENGTH:
            return in_per_cent(
                of_length(laid.along.get(d.sighting)), ReadFrom.CRITIQUE, d.sighting, 1.0 + d.difference, d.sd
            )
        case What.MAJOR:
            return in_per_cent(Skill.LENGTH_ACROSS, ReadFrom.CRITIQUE, d.sighting, 1.0 + d.difference, d.sd)
        case What.PART:
            # what was drawn for the subject's part truly stands at another of the drawing: said and true, as when it is
            # judged by eye
            return SkillReading(
                part_skill(d.subject), ReadFrom.CRITIQUE, d.sighting, 100.0 * d.subject, 100.0 * d.drawing, 100.0 * d.sd
            )
    return None
