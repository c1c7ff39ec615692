"""The logbook's files: the CSV of readings, and a line for each skill."""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from operator import itemgetter
from typing import Literal

from pydantic import BaseModel, ConfigDict

from aspectum.core.practice.recorded import ReadFrom
from aspectum.core.practice.skills import KINDS, Skill, SkillUnit
from aspectum.formats.reading import FormatError
from aspectum.language import say

COLUMNS = ("when", "person", "skill", "source", "sighting", "judged", "truth", "truth_sd", "unit", "seconds")
SOURCES = tuple(source.value for source in ReadFrom)
LIMIT_BYTES = 8 * 1024 * 1024
LIMIT_ROWS = 100_000
LARGEST = 1e6  # no reading of any unit comes near
LONGEST = {"person": 200, "sighting": 80}
UNSAFE = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet would take for the start of a formula


@dataclass(slots=True)
class LogRow:
    """One reading of the CSV."""

    when: datetime
    person: str
    skill: Skill
    source: str
    sighting: str
    judged: float
    truth: float
    truth_sd: float | None
    seconds: float | None

    @property
    def error(self) -> float:
        return self.judged - self.truth


class LogbookLine(BaseModel):
    """A skill's statistics; all but ``n`` are null under five readings."""

    model_config = ConfigDict(defer_build=True, extra="forbid")

    format: Literal["aspectum-logbook"] = "aspectum-logbook"
    version: Literal[1] = 1
    skill: Skill
    unit: SkillUnit
    n: int
    bias: float | None
    bias_low: float | None
    bias_high: float | None
    spread: float | None
    spread_low: float | None
    spread_high: float | None


def read_logbook(data: bytes) -> list[LogRow]:
    """The readings of a logbook's CSV, in its order. Raises ``FormatError`` naming the line of what does not fit."""
    return list(_rows(data))


def _rows(data: bytes) -> Iterator[LogRow]:
    if len(data) > LIMIT_BYTES:
        raise FormatError(say("the file is larger than {limit_bytes} MB", limit_bytes=LIMIT_BYTES // 1024 // 1024))
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise FormatError(say("not a text file in UTF-8")) from None
    if "\0" in text:
        raise FormatError(say("not a text file"))
    reader = csv.reader(io.StringIO(text, newline=""), strict=True)
    try:
        head = next(reader, [])
        missing = [name for name in COLUMNS if name not in head and name not in ("person", "truth_sd", "seconds")]
        if missing:
            raise FormatError(
                say(
                    "line 1: the columns {columns} are expected; {missing} is missing",
                    columns=", ".join(COLUMNS),
                    missing=missing[0],
                )
            )
        # a column that the file does not have is read off the empty end that every row is given
        ten = itemgetter(*(head.index(name) if name in head else -1 for name in COLUMNS))
        for count, row in enumerate(reader):
            if count >= LIMIT_ROWS:
                raise FormatError(
                    say(
                        "line {line_num}: a logbook holds {limit_rows} readings at most",
                        line_num=reader.line_num,
                        limit_rows=LIMIT_ROWS,
                    )
                )
            if row:
                if len(row) < len(head):
                    raise FormatError(
                        say(
                            "line {line_num}: {head} entries are expected, there are {row}",
                            line_num=reader.line_num,
                            head=len(head),
                            row=len(row),
                        )
                    )
                row.append("")
                yield _row(ten(row), reader.line_num)
    except csv.Error as error:
        raise FormatError(say("line {line_num}: not CSV ({error})", line_num=reader.line_num, error=error)) from None


def _row(ten: tuple[str, ...], line: int) -> LogRow:
    when, person, named, source, sighting, judged, truth, truth_sd, unit, seconds = ten
    if named not in KNOWN:
        raise FormatError(say("line {line}: skill: there is none called '{named}'", line=line, named=named[:60]))
    skill, its_unit = KNOWN[named]
    if unit != its_unit:
        raise FormatError(
            say("line {line}: unit: {named} is told in {its_unit}", line=line, named=named, its_unit=its_unit)
        )
    if source not in SOURCES:
        raise FormatError(
            say(
                "line {line}: source: expected {sources} or {sources2}",
                line=line,
                sources=", ".join(SOURCES[:-1]),
                sources2=SOURCES[-1],
            )
        )
    if len(person) > LONGEST["person"] or len(sighting) > LONGEST["sighting"]:
        raise FormatError(
            say(
                "line {line}: person or sighting: longer than {longest} or {longest2} characters",
                line=line,
                longest=LONGEST["person"],
                longest2=LONGEST["sighting"],
            )
        )
    sd = _number(truth_sd, "truth_sd", line, 0.0) if truth_sd else None
    took = _number(seconds, "seconds", line, 0.0) if seconds else None
    return LogRow(
        _moment(when, line),
        _plain(person),
        skill,
        source,
        _plain(sighting),
        _number(judged, "judged", line),
        _number(truth, "truth", line),
        sd,
        took,
    )


def _number(text: str, name: str, line: int, least: float = -LARGEST) -> float:
    try:
        value = float(text)
    except ValueError:
        raise FormatError(
            say("line {line}: {name}: expected a number, not '{text}'", line=line, name=name, text=text[:40])
        ) from None
    if not least <= value <= LARGEST:
        raise FormatError(say("line {line}: {name}: no such value can be", line=line, name=name))
    return value


def _plain(text: str) -> str:
    """A name without the mark that keeps a spreadsheet from reckoning it."""
    return text[1:] if text[:1] == "'" and text[1:].startswith(UNSAFE) else text


KNOWN = {skill.value: (skill, KINDS[skill].unit.value) for skill in Skill}
EARLIEST = 1970


def _moment(text: str, line: int) -> datetime:
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        raise FormatError(
            say(
                "line {line}: when: expected a date and time such as 2026-03-14T19:30:00Z, not '{text}'",
                line=line,
                text=text[:40],
            )
        ) from None
    found = (
        found.replace(tzinfo=UTC) if found.tzinfo is None else found if found.tzinfo is UTC else found.astimezone(UTC)
    )
    if found.year < EARLIEST:
        raise FormatError(say("line {line}: when: before {earliest}", line=line, earliest=EARLIEST))
    return found


def write_logbook(rows: Iterable[LogRow]) -> bytes:
    """The CSV of readings; figures as Python tells them, so that nothing is lost when they are read again."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for r in rows:
        optional = ["" if v is None or not math.isfinite(v) else repr(v) for v in (r.truth_sd, r.seconds)]
        numbers = [repr(r.judged), repr(r.truth), optional[0], KINDS[r.skill].unit.value, optional[1]]
        writer.writerow(
            [
                r.when.astimezone(UTC).isoformat().replace("+00:00", "Z"),
                safe(r.person),
                r.skill.value,
                r.source,
                safe(r.sighting),
                *numbers,
            ]
        )
    return out.getvalue().encode()


def safe(text: str) -> str:
    """A name that a spreadsheet shows and does not reckon (OWASP, *CSV Injection*)."""
    return f"'{text}" if text.startswith(UNSAFE) else text
