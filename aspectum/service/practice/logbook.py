"""The logbook: how every skill stands, its readings, notes for next time, and its files."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from aspectum.core.practice.choice import weakest
from aspectum.core.practice.record import LEAST_READINGS, MONTH_DAYS, RECENT_DAYS, Standing, Trend, standing, trend
from aspectum.core.practice.skills import KINDS, Skill
from aspectum.formats.logbook import LogRow
from aspectum.language import month, short_day
from aspectum.service.practice.history import EPOCH, Past, days_of
from aspectum.service.words.practice import bias_words, trend_words
from aspectum.store.models import Drawing, Person, Reading, Sheet, TimedDrawing, now

PAGE = 50  # readings shown at a time
MOST_NOTES = 12


@dataclass(frozen=True)
class SkillRow:
    """A skill's row: over all, over the last four weeks, as it stood a month ago, and its trend."""

    skill: Skill
    all: Standing
    recent: Standing
    month_ago: Standing
    trend: Trend | None
    words: str
    trend_words: str
    last_at: datetime


def rows_of(record: dict[Skill, Past]) -> list[SkillRow]:
    """A row for every skill that has readings."""
    today = days_of(now())
    return [row_of(past, today) for past in record.values()]


def row_of(past: Past, today: float) -> SkillRow:
    whole = standing(past.errors, past.own_sd)
    change = trend(past.days, past.errors)
    before = past.until(today - MONTH_DAYS)
    return SkillRow(
        past.skill,
        whole,
        standing(past.since(today - RECENT_DAYS).errors),
        standing(before.errors),
        change,
        bias_words(past.skill, whole),
        trend_words(past.skill, change, since(past)),
        moment(float(past.days[-1])),
    )


def since(past: Past) -> str:
    """The month of the first reading, in words; its day where that is not a month ago."""
    first = moment(float(past.days[0]))
    return month(first) if past.days[-1] - past.days[0] > MONTH_DAYS else short_day(first)


def moment(days: float) -> datetime:
    """The moment of a count of days since 1970."""
    return EPOCH + timedelta(days=days)


def weakest_skill(record: dict[Skill, Past]) -> Skill | None:
    """The skill of which most is known to be off."""
    known = {skill: past.in_tolerances for skill, past in record.items() if len(past.errors) >= LEAST_READINGS}
    return next(iter(weakest(known, 1)), None)


def readings_of(session: Session, person: Person, skill: Skill | None, page: int) -> tuple[list[Reading], int]:
    """A page of readings, the last first, and how many there are in all."""
    mine = [Reading.person_id == person.id, *([] if skill is None else [Reading.skill == skill.value])]
    count = session.scalar(select(func.count()).select_from(Reading).where(*mine)) or 0
    query = select(Reading).where(*mine).order_by(Reading.made_at.desc(), Reading.id).offset(page * PAGE).limit(PAGE)
    return list(session.scalars(query)), int(count)


def log_rows(session: Session, person: Person) -> list[LogRow]:
    """Every reading as the CSV has it, oldest first."""
    rows = session.scalars(select(Reading).where(Reading.person_id == person.id).order_by(Reading.made_at, Reading.id))
    return [
        LogRow(r.made_at, person.name, Skill(r.skill), r.source, r.sighting, r.judged, r.truth, r.truth_sd, r.seconds)
        for r in rows
    ]


def bring_back(session: Session, person: Person, rows: list[LogRow]) -> tuple[int, int]:
    """Take a logbook's readings into the record; how many were added, and how many were there already."""
    there = {(r.when, r.skill.value, r.source, r.sighting, r.judged, r.truth) for r in log_rows(session, person)}
    added = 0
    for r in rows:
        key = (r.when, r.skill.value, r.source, r.sighting, r.judged, r.truth)
        if key in there:
            continue
        there.add(key)
        added += 1
        session.add(
            Reading(
                person_id=person.id,
                made_at=r.when,
                skill=r.skill.value,
                source=r.source,
                sighting=r.sighting,
                judged=r.judged,
                truth=r.truth,
                truth_sd=r.truth_sd,
                unit=KINDS[r.skill].unit.value,
                seconds=r.seconds,
            )
        )
    return added, len(rows) - added


@dataclass(frozen=True)
class NextNote:
    """What to watch next time: where it was written, and when. ``sheet_id``: the drawing's."""

    title: str
    notes: list[str]
    at: datetime
    sheet_id: str | None


def next_notes(session: Session, person: Person) -> list[NextNote]:
    """The last notes for next time, of drawings brought in and of timed ones."""
    drawn = (
        select(Drawing)
        .join(Sheet, Drawing.sheet_id == Sheet.id)
        .where(Sheet.person_id == person.id, Sheet.deleted_at.is_(None), Drawing.noted_at.is_not(None))
        .order_by(Drawing.noted_at.desc())
        .limit(MOST_NOTES)
    )
    found = [
        NextNote(d.sheet.title, d.next_time, d.noted_at, d.sheet_id)
        for d in session.scalars(drawn)
        if d.next_time and d.noted_at
    ]
    timed = (
        select(TimedDrawing)
        .where(TimedDrawing.person_id == person.id, TimedDrawing.finished_at.is_not(None))
        .order_by(TimedDrawing.finished_at.desc())
        .limit(MOST_NOTES)
    )
    found += [
        NextNote(t.title, t.next_time, t.finished_at, None)
        for t in session.scalars(timed)
        if t.next_time and t.finished_at
    ]
    return sorted(found, key=lambda note: note.at, reverse=True)[:MOST_NOTES]
