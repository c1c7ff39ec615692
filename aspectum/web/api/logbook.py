"""The logbook: how every skill stands, its readings, notes for next time, and its files."""

from __future__ import annotations

from datetime import datetime

from flask import Response, request
from pydantic import Field

from aspectum.core.practice.record import Interval, Standing, weeks
from aspectum.core.practice.skills import KINDS, Group, Skill, SkillUnit, tolerance_of
from aspectum.core.tolerance import FREEHAND
from aspectum.formats.logbook import read_logbook, write_logbook
from aspectum.formats.reading import FormatError
from aspectum.service.errors import Unfit
from aspectum.service.pages.logbook_page import logbook_pdf
from aspectum.service.practice import logbook
from aspectum.service.practice.history import pasts
from aspectum.service.words.practice import GROUPS
from aspectum.service.words.skills import WORDS
from aspectum.store.models import Reading, now
from aspectum.web.api.base import Message, feature, work
from aspectum.web.api.stand_files import download
from aspectum.web.routes import CSV, OWN_WORK, PDF, FileBody

routes = feature("logbook")
LOGBOOK_FILE = FileBody("A logbook's CSV", ("application/octet-stream", "text/csv", "text/plain"))

MOST_DOTS = 400  # readings that a chart shows one by one


class Ranged(Message):
    """A value with its 95 % interval."""

    value: float
    low: float
    high: float

    @classmethod
    def of(cls, interval: Interval | None) -> Ranged | None:
        return None if interval is None else cls(value=interval.value, low=interval.low, high=interval.high)


class Stands(Message):
    """``n`` readings; bias and spread are null under five."""

    n: int
    bias: Ranged | None
    spread: Ranged | None

    @classmethod
    def of(cls, found: Standing) -> Stands:
        return cls(n=found.n, bias=Ranged.of(found.bias), spread=Ranged.of(found.spread))


class LoggedTrend(Message):
    """The bias at the first and the last reading, their difference, and whether that is certain."""

    first: float
    last: float
    change: Ranged
    sure: bool
    better: bool


class LoggedSkill(Message):
    """A skill's row. ``recent``: the last four weeks; ``month_ago``: all that was in a month ago."""

    skill: Skill
    title: str
    group: Group
    group_title: str
    unit: SkillUnit
    tolerance: float
    over: str
    under: str
    whole: Stands
    recent: Stands
    month_ago: Stands
    trend: LoggedTrend | None
    words: str
    trend_words: str
    last_at: datetime


class NextTimeNote(Message):
    title: str
    notes: list[str]
    at: datetime
    sheet_id: str | None


class Logbook(Message):
    """``weakest``: the skill of which most is known to be off."""

    skills: list[LoggedSkill]
    weakest: Skill | None
    notes: list[NextTimeNote]
    readings: int


class LoggedReading(Message):
    """``sheet_id``, ``question_id``: where it was made, while that is kept."""

    id: str
    at: datetime
    skill: Skill
    title: str
    source: str
    sighting: str
    judged: float
    truth: float
    truth_sd: float | None
    error: float
    unit: SkillUnit
    seconds: float | None
    sheet_id: str | None
    question_id: str | None

    @classmethod
    def of(cls, r: Reading) -> LoggedReading:
        skill = Skill(r.skill)
        return cls(
            id=r.id,
            at=r.made_at,
            skill=skill,
            title=WORDS[skill].title,
            source=r.source,
            sighting=r.sighting,
            judged=r.judged,
            truth=r.truth,
            truth_sd=r.truth_sd,
            error=r.judged - r.truth,
            unit=KINDS[skill].unit,
            seconds=r.seconds,
            sheet_id=r.sheet_id,
            question_id=r.question_id,
        )


class ReadingsAsked(Message):
    skill: Skill | None = None
    page: int = Field(ge=0, le=100_000)


class ReadingPage(Message):
    readings: list[LoggedReading]
    count: int
    page: int
    pages: int


class Week(Message):
    """A week of readings; ``low`` and ``high``: the mean's 95 % interval, null under five readings."""

    at: datetime
    n: int
    mean: float
    low: float | None
    high: float | None


class Dot(Message):
    at: datetime
    error: float


class SkillChart(Message):
    """A skill over time: week by week, and its last readings one by one."""

    skill: Skill
    unit: SkillUnit
    tolerance: float
    weeks: list[Week]
    readings: list[Dot]


class BroughtBack(Message):
    """``there``: readings that the record had already."""

    added: int
    there: int


@routes.get("/logbook", OWN_WORK, "readLogbook", Logbook)
def read() -> Logbook:
    """How every skill stands."""
    with work() as (session, person):
        record = pasts(session, person)
        return Logbook(
            skills=[logged(row) for row in logbook.rows_of(record)],
            weakest=logbook.weakest_skill(record),
            notes=[
                NextTimeNote(title=n.title, notes=n.notes, at=n.at, sheet_id=n.sheet_id)
                for n in logbook.next_notes(session, person)
            ],
            readings=sum(len(past.errors) for past in record.values()),
        )


def logged(row: logbook.SkillRow) -> LoggedSkill:
    words, kind = WORDS[row.skill], KINDS[row.skill]
    change = row.trend
    return LoggedSkill(
        skill=row.skill,
        title=words.title,
        group=kind.group,
        group_title=str(GROUPS[kind.group]),
        unit=kind.unit,
        tolerance=tolerance_of(row.skill, FREEHAND),
        over=words.over,
        under=words.under,
        whole=Stands.of(row.all),
        recent=Stands.of(row.recent),
        month_ago=Stands.of(row.month_ago),
        trend=None
        if change is None
        else LoggedTrend(
            first=change.first,
            last=change.last,
            change=Ranged(value=change.change.value, low=change.change.low, high=change.change.high),
            sure=change.sure,
            better=change.better,
        ),
        words=row.words,
        trend_words=row.trend_words,
        last_at=row.last_at,
    )


@routes.get("/logbook/readings", OWN_WORK, "listReadings", ReadingPage)
def readings(query: ReadingsAsked) -> ReadingPage:
    """Readings, the last first, of one skill or of all."""
    with work() as (session, person):
        found, count = logbook.readings_of(session, person, query.skill, query.page)
        pages = max(1, -(-count // logbook.PAGE))
        return ReadingPage(readings=[LoggedReading.of(r) for r in found], count=count, page=query.page, pages=pages)


class ChartAsked(Message):
    skill: Skill


@routes.get("/logbook/chart", OWN_WORK, "readChart", SkillChart)
def chart(query: ChartAsked) -> SkillChart:
    """One skill over time."""
    with work() as (session, person):
        past = pasts(session, person).get(query.skill)
        dots = (
            []
            if past is None
            else list(zip(past.days[-MOST_DOTS:].tolist(), past.errors[-MOST_DOTS:].tolist(), strict=True))
        )
        return SkillChart(
            skill=query.skill,
            unit=KINDS[query.skill].unit,
            tolerance=tolerance_of(query.skill, FREEHAND),
            weeks=[
                Week(
                    at=logbook.moment(week.day),
                    n=week.standing.n,
                    mean=week.mean,
                    low=None if week.standing.bias is None else week.standing.bias.low,
                    high=None if week.standing.bias is None else week.standing.bias.high,
                )
                for week in ([] if past is None else weeks(past.days, past.errors))
            ],
            readings=[Dot(at=logbook.moment(day), error=error) for day, error in dots],
        )


@routes.post("/logbook/readings", OWN_WORK, "importLogbook", BroughtBack, file=LOGBOOK_FILE)
def import_logbook() -> BroughtBack:
    """Take a logbook's CSV, sent as the body, into the record. Readings that are there already are not doubled."""
    try:
        rows = read_logbook(request.get_data())
    except FormatError as error:
        raise Unfit(str(error)) from None
    with work() as (session, person):
        added, there = logbook.bring_back(session, person, rows)
        return BroughtBack(added=added, there=there)


@routes.get("/logbook/<name>.csv", OWN_WORK, "logbookCsv", CSV)
def logbook_csv(name: str) -> Response:
    """Every reading as CSV."""
    with work() as (session, person):
        return download(write_logbook(logbook.log_rows(session, person)), "text/csv", name, "csv")


@routes.get("/logbook/<name>.pdf", OWN_WORK, "logbookPage", PDF)
def logbook_page(name: str) -> Response:
    """The logbook on one page, for the tutor."""
    with work() as (session, person):
        content = logbook_pdf(
            person.name, logbook.rows_of(pasts(session, person)), logbook.next_notes(session, person), now()
        )
    return download(content, "application/pdf", name, "pdf")
