"""Timed drawings: begun, kept as they go on, finished with what holds and what to watch next time."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from aspectum.core.practice.pace import Kept, Phase, Planned, pace, planned
from aspectum.language import say
from aspectum.service.errors import Missing, Unfit
from aspectum.service.sheets import sheets
from aspectum.service.stand import stands
from aspectum.store.models import Person, TimedDrawing, now

MOST_NOTES = 2  # for next time: more are not kept in mind (handbook section 8)


def begin(
    session: Session,
    person: Person,
    title: str,
    minutes: float,
    shares: dict[Phase, float] | None,
    sheet_id: str | None,
    stand_id: str | None,
) -> TimedDrawing:
    """A timed drawing of a sheet's subject, of a set-up, or of anything under a title. Raises ``Unfit`` for a time or
    shares that cannot be.
    """
    plan = _planned(minutes, shares)
    if sheet_id is not None:
        found = sheets.sheet_of(session, person, sheet_id)
        title = title or found.title
    elif stand_id is not None:
        row = stands.stand_row(session, person, stand_id)
        title = title or row.title
    made = TimedDrawing(
        person_id=person.id,
        title=title or say("Timed drawing"),
        sheet_id=sheet_id,
        stand_id=stand_id,
        minutes=minutes,
        shares={p.phase.value: p.share for p in plan},
        ended_s=[],
        drawn_s=0.0,
        paused_s=0.0,
        next_time=[],
    )
    session.add(made)
    session.flush()
    return made


def _planned(minutes: float, shares: dict[Phase, float] | None) -> list[Planned]:
    try:
        return planned(minutes, shares)
    except ValueError as error:
        raise Unfit(say("These phases cannot be: {error}.", error=error)) from None


def timed_of(session: Session, person: Person, timed_id: str) -> TimedDrawing:
    found = session.get(TimedDrawing, timed_id)
    if found is None or found.person_id != person.id:
        raise Missing(say("There is no such timed drawing."))
    return found


def plan_of(row: TimedDrawing) -> list[Planned]:
    """Its phases."""
    return planned(row.minutes, {Phase(name): share for name, share in row.shares.items()})


def pace_of(row: TimedDrawing) -> list[Kept]:
    """How its phases went."""
    return pace(plan_of(row), row.ended_s)


def keep(
    session: Session,
    person: Person,
    timed_id: str,
    ended_s: list[float],
    drawn_s: float,
    paused_s: float,
    finished: bool,
) -> TimedDrawing:
    """Keep how far it is. Raises ``Unfit`` for phases that do not end one after another."""
    row = timed_of(session, person, timed_id)
    try:
        pace(plan_of(row), ended_s)
    except ValueError as error:
        raise Unfit(say("The phases do not follow one another: {error}.", error=error)) from None
    row.ended_s, row.drawn_s, row.paused_s = ended_s, max([drawn_s, *ended_s]), paused_s
    if finished and row.finished_at is None:
        row.finished_at = now()
    return row


def write_notes(session: Session, person: Person, timed_id: str, holds: str, next_time: list[str]) -> TimedDrawing:
    """What holds, and one or two things for next time."""
    row = timed_of(session, person, timed_id)
    row.holds, row.next_time = holds.strip(), [n.strip() for n in next_time if n.strip()][:MOST_NOTES]
    row.finished_at = row.finished_at or now()
    return row


def last_timed(session: Session, person: Person, most: int = 10) -> list[TimedDrawing]:
    """The last timed drawings, those not finished too."""
    query = (
        select(TimedDrawing)
        .where(TimedDrawing.person_id == person.id)
        .order_by(TimedDrawing.made_at.desc())
        .limit(most)
    )
    return list(session.scalars(query))


def watch(session: Session, person: Person) -> TimedDrawing | None:
    """The last timed drawing whose notes are to be watched at the next start."""
    query = (
        select(TimedDrawing)
        .where(TimedDrawing.person_id == person.id, TimedDrawing.finished_at.is_not(None))
        .order_by(TimedDrawing.finished_at.desc())
        .limit(10)
    )
    return next((row for row in session.scalars(query) if row.next_time), None)
