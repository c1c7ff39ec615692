"""A question of a drill: what is shown, what is pointed out, what it is answered with, and what the answer is worth."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from aspectum.core.plane.lines import tilt_difference
from aspectum.core.practice.recorded import leans, steepness
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Family, Point, ViewSort
from aspectum.core.stand.camera import View
from aspectum.core.stand.things import Stand


class AnswerBy(StrEnum):
    """What a question is answered with."""

    NEEDLE = "needle"
    ELLIPSE = "ellipse"
    STICK = "stick"
    LEVEL = "level"
    POINT = "point"
    CHOICE = "choice"


class MarkRole(StrEnum):
    """What a mark on the picture is: what is asked about, the unit to compare with, or what is given."""

    ASKED = "asked"
    UNIT = "unit"
    GIVEN = "given"


@dataclass(frozen=True)
class Mark:
    """A line through ``points`` (px), or one point, with the ``letter`` that the words call it by."""

    role: MarkRole
    points: tuple[Point, ...]
    letter: str = ""


@dataclass(frozen=True)
class Window:
    """The part of the picture that is shown: its top left corner and its size (px)."""

    x: float
    y: float
    width: float
    height: float


class Told(StrEnum):
    """How a number is told: a tilt as steepness, a tilt as lean, the tilt of an axis, an ellipse degree, or a ratio in
    per cent of the true one.
    """

    TILT = "tilt"
    LEAN = "lean"
    AXIS = "axis"
    DEGREE = "degree"
    RATIO = "ratio"


@dataclass(frozen=True)
class Number:
    """Answered by a number: a tilt or degree in degrees, a ratio, or metres."""

    told: Told
    truth: float


@dataclass(frozen=True)
class Place:
    """Answered by a point of the picture, read along a line: ``origin`` is its nought and ``one`` the way (px) to its
    unit.

    ``said``: for a part of a side, the part (per cent) that the point was to stand at: then what counts is the part at
    which it truly stands, ``closing`` being the far upright over the near one. ``inverse``: per cent of the unit over
    the place's distance, as a vanishing point is told.
    """

    origin: Point
    one: Point
    truth: float = 0.0
    said: float | None = None
    closing: float = 1.0
    inverse: bool = False


@dataclass(frozen=True)
class Choice:
    """Answered by one of several: what is read off each, and which is right."""

    values: tuple[float, ...]
    right: int


Scoring = Number | Place | Choice
Answer = float | Point
LEAST_INVERSE = 0.02  # near uprights: a vanishing point is never put closer to its upright than this


@dataclass(frozen=True)
class Question:
    """``stand`` as ``view`` shows it, without the edges and rims of the exact drawing whose places are in
    ``without_edges`` and ``without_rims``, with ``marks``; both None for a question about a picture of one's own.
    ``shown``: what is laid over it with the answer. ``told``: figures that the words need, by name. ``truth_sd``: how
    well the truth is known, in the skill's unit; None where it is exact. ``window``: the part of the picture that is
    shown, all of it where that is None. ``sort`` of view of a sheet of one's own, and ``family`` of an edge on it, as
    far as its rule goes by them.
    """

    skill: Skill
    difficulty: float
    instrument: AnswerBy
    stand: Stand | None
    view: View | None
    marks: tuple[Mark, ...]
    scoring: Scoring
    shown: tuple[Mark, ...] = ()
    without_edges: tuple[int, ...] = ()
    without_rims: tuple[int, ...] = ()
    told: tuple[tuple[str, float], ...] = ()
    truth_sd: float | None = None
    window: Window | None = None
    sort: ViewSort | None = None
    family: Family | None = None

    def figure(self, name: str) -> float:
        """A figure that the words need."""
        return dict(self.told)[name]


def scored(scoring: Scoring, answer: Answer) -> tuple[float, float]:
    """Judged and true value of an answer in its skill's unit. Raises ``ValueError`` for an answer of the wrong kind, or
    that cannot be.
    """
    match scoring:
        case Number(told, truth) if isinstance(answer, float):
            return _number(told, answer, truth)
        case Choice(values, right) if isinstance(answer, float):
            if answer != int(answer) or not 0 <= answer < len(values):
                raise ValueError("there is no such choice")
            return values[int(answer)], values[right]
        case Place() if isinstance(answer, tuple):
            return _place(scoring, answer)
    raise ValueError("the question is answered in another way")


def _number(told: Told, answer: float, truth: float) -> tuple[float, float]:
    match told:
        case Told.TILT:
            return steepness(answer, truth)
        case Told.LEAN:
            return leans(answer, truth)
        case Told.AXIS:
            return truth + float(tilt_difference(answer, truth)), truth
        case Told.DEGREE:
            if not 0.0 <= answer <= 90.0:
                raise ValueError("an ellipse opens from 0 to 90 degrees")
            return answer, truth
    if answer <= 0.0:
        raise ValueError("a length is more than nothing")
    return 100.0 * answer / truth, 100.0


def _place(scoring: Place, answer: Point) -> tuple[float, float]:
    (x, y), (dx, dy) = scoring.one, (answer[0] - scoring.origin[0], answer[1] - scoring.origin[1])
    at = (dx * x + dy * y) / (x * x + y * y)
    if scoring.inverse:
        return 100.0 / max(at, LEAST_INVERSE), scoring.truth
    if scoring.said is None:
        return at, scoring.truth
    at = min(max(at, 0.0), 1.0)
    return scoring.said, 100.0 * part_at(at, scoring.closing)


def part_at(drawn: float, closing: float) -> float:
    """The true part of a receding side at the ``drawn`` share of its width from the near side; ``closing``: far upright
    over near (handbook section 4).

    With 6 and 4 the half is drawn at 0.600.
    """
    return drawn * closing / (1.0 - drawn + drawn * closing)


def drawn_at(part: float, closing: float) -> float:
    """The drawn share at which a true part of a receding side stands."""
    return part / ((1.0 - part) * closing + part)
