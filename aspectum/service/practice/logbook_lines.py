"""A logbook's statistics, skill by skill."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from aspectum.core.practice.record import Interval, standing
from aspectum.core.practice.skills import KINDS, Skill
from aspectum.formats.logbook import LogbookLine, LogRow


def logbook_lines(rows: Iterable[LogRow]) -> list[LogbookLine]:
    """A line for each skill that has readings, in the order of the list of skills."""
    by_skill: dict[str, list[LogRow]] = {}
    for row in rows:
        by_skill.setdefault(row.skill.value, []).append(row)
    return [line_of(skill, by_skill[skill.value]) for skill in Skill if skill.value in by_skill]


def line_of(skill: Skill, rows: list[LogRow]) -> LogbookLine:
    found = standing(np.array([r.error for r in rows]))

    def three(interval: Interval | None) -> tuple[float | None, float | None, float | None]:
        return (None, None, None) if interval is None else (interval.value, interval.low, interval.high)

    bias, bias_low, bias_high = three(found.bias)
    spread, spread_low, spread_high = three(found.spread)
    return LogbookLine(
        skill=skill,
        unit=KINDS[skill].unit,
        n=found.n,
        bias=bias,
        bias_low=bias_low,
        bias_high=bias_high,
        spread=spread,
        spread_low=spread_low,
        spread_high=spread_high,
    )
