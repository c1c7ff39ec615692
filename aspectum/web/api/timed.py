"""Timed drawings: phases against the clock, kept as they go on."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import Field

from aspectum.core.practice.pace import LEAST_MINUTES, MOST_MINUTES, SHARES, Phase
from aspectum.formats.sightings import Id, Number
from aspectum.service.practice import timed
from aspectum.service.words.pace import PHASES, pace_words
from aspectum.store.models import TimedDrawing
from aspectum.web.api.base import Message, feature, work
from aspectum.web.routes import OWN_WORK, changes, reads

routes = feature("timed")

Seconds = Annotated[Number, Field(ge=0, le=86_400)]
Share = Annotated[Number, Field(ge=0, le=1)]
Note = Annotated[str, Field(max_length=300)]


class PhaseLine(Message):
    """A phase with its share of the time; ``ends_s``: seconds of drawing at which its time is over."""

    phase: Phase
    title: str
    words: str
    share: float
    ends_s: float


class PhaseKept(Message):
    """How a phase went, in a sentence too."""

    phase: Phase
    took_s: float
    late_s: float
    words: str


class Timed(Message):
    """A timed drawing. ``sheet_id``, ``stand_id``: what is drawn, where that is kept here."""

    id: str
    title: str
    sheet_id: str | None
    stand_id: str | None
    minutes: float
    phases: list[PhaseLine]
    ended_s: list[float]
    drawn_s: float
    paused_s: float
    kept: list[PhaseKept]
    holds: str
    next_time: list[str]
    made_at: datetime
    finished_at: datetime | None

    @classmethod
    def of(cls, row: TimedDrawing) -> Timed:
        return cls(
            id=row.id,
            title=row.title,
            sheet_id=row.sheet_id,
            stand_id=row.stand_id,
            minutes=row.minutes,
            phases=[
                PhaseLine(
                    phase=p.phase,
                    title=str(PHASES[p.phase].title),
                    words=str(PHASES[p.phase].words),
                    share=p.share,
                    ends_s=p.ends_s,
                )
                for p in timed.plan_of(row)
            ],
            ended_s=row.ended_s,
            drawn_s=row.drawn_s,
            paused_s=row.paused_s,
            kept=[
                PhaseKept(phase=k.phase, took_s=k.took_s, late_s=k.late_s, words=pace_words(k))
                for k in timed.pace_of(row)
            ],
            holds=row.holds,
            next_time=row.next_time,
            made_at=row.made_at,
            finished_at=row.finished_at,
        )


class UsualPhase(Message):
    phase: Phase
    title: str
    words: str
    share: float


class TimedList(Message):
    """``watch``: the notes that are to be watched now; ``usual``: the phases with their usual shares."""

    timed: list[Timed]
    watch: Timed | None
    usual: list[UsualPhase]


class NewTimed(Message):
    """``shares``: of the phases in order, in place of the usual ones. ``title`` is the sheet's or the set-up's where it
    is left empty.
    """

    title: str = Field(default="", max_length=200)
    minutes: Annotated[Number, Field(ge=LEAST_MINUTES, le=MOST_MINUTES)]
    shares: Annotated[list[Share], Field(min_length=3, max_length=3)] | None = None
    sheet_id: Id | None = None
    stand_id: Id | None = None


class TimedKept(Message):
    """``ended_s``: seconds of drawing, pauses left out, at which each phase was left; ``drawn_s``: so far;
    ``finished``: the clock is stopped for good.
    """

    ended_s: Annotated[list[Seconds], Field(max_length=3)]
    drawn_s: Seconds
    paused_s: Seconds
    finished: bool = False


class TimedNotes(Message):
    holds: str = Field(default="", max_length=1000)
    next_time: Annotated[list[Note], Field(max_length=timed.MOST_NOTES)] = Field(default_factory=list)


@routes.get("/timed", OWN_WORK, "listTimed", TimedList)
def list_timed() -> TimedList:
    """The last timed drawings, and what to watch at the next start."""
    with work() as (session, person):
        watch = timed.watch(session, person)
        return TimedList(
            timed=[Timed.of(row) for row in timed.last_timed(session, person)],
            watch=None if watch is None else Timed.of(watch),
            usual=[
                UsualPhase(phase=p, title=str(PHASES[p].title), words=str(PHASES[p].words), share=share)
                for p, share in SHARES.items()
            ],
        )


@routes.post("/timed", OWN_WORK, "beginTimed", Timed, misses=True)
def begin_timed(json: NewTimed) -> Timed:
    """Begin a timed drawing."""
    shares = None if json.shares is None else dict(zip(Phase, json.shares, strict=True))
    with work() as (session, person):
        return Timed.of(timed.begin(session, person, json.title, json.minutes, shares, json.sheet_id, json.stand_id))


@routes.get("/timed/<timed_id>", reads("timed", "timed_id"), "readTimed", Timed)
def read_timed(timed_id: str) -> Timed:
    """A timed drawing."""
    with work() as (session, person):
        return Timed.of(timed.timed_of(session, person, timed_id))


@routes.put("/timed/<timed_id>", changes("timed", "timed_id"), "keepTimed", Timed)
def keep_timed(timed_id: str, json: TimedKept) -> Timed:
    """Keep how far it is."""
    with work() as (session, person):
        return Timed.of(timed.keep(session, person, timed_id, json.ended_s, json.drawn_s, json.paused_s, json.finished))


@routes.put("/timed/<timed_id>/notes", changes("timed", "timed_id"), "noteTimed", Timed)
def note_timed(timed_id: str, json: TimedNotes) -> Timed:
    """What holds, and what to watch next time."""
    with work() as (session, person):
        return Timed.of(timed.write_notes(session, person, timed_id, json.holds, json.next_time))
