"""What a drawing leaves in the record (handbook section 8): every cause once, by its own skill, and each line by what
the causes leave of it.
"""

from __future__ import annotations

import statistics
from collections import defaultdict
from dataclasses import replace

import numpy as np
import pytest

from aspectum.core.drawing.compare import Laid, compare
from aspectum.core.drawing.critique import Critique, critique
from aspectum.core.drawing.readings import What
from aspectum.core.practice.drawn import critique_readings
from aspectum.core.practice.recorded import SkillReading, SkillsOn
from aspectum.core.practice.skills import Skill, SkillUnit
from aspectum.core.sightings import Family, Kind
from aspectum.core.tolerance import FREEHAND
from tests.paper_scenes import PAPER_DPMM, Fault, PaperSubject, on_paper, paper_subject, sighted

EDGES = {Skill.LEFT_ABOVE, Skill.LEFT_BELOW, Skill.RIGHT_ABOVE, Skill.RIGHT_BELOW, Skill.FAR_ABOVE, Skill.FAR_BELOW}


def judged(
    subject: PaperSubject,
    faults: list[Fault],
    rng: np.random.Generator,
    given: frozenset[str] = frozenset(),
    wobble: float = 0.0,
) -> tuple[Laid, Critique]:
    """The subject as sighted, and the critique of a drawing of it with ``faults``, on paper that prints ``given``."""
    theirs, mine = replace(sighted(subject, rng, 0.3), given=given), on_paper(subject, faults, rng, wobble=wobble)
    true = {e.id: e for e in on_paper(subject, [], rng, wobble=0.0).edges}
    mine = replace(mine, edges=[true[e.id] if e.id in given else e for e in mine.edges])
    return theirs, critique(compare(theirs, mine, 1 / PAPER_DPMM), theirs, mine, FREEHAND)


def recorded(theirs: Laid, found: Critique, **printed: object) -> list[SkillReading]:
    kinds = {e.id: Kind.EDGE for e in theirs.edges} | {r.id: Kind.RIM for r in theirs.rims}
    return critique_readings(found, kinds, replace(SkillsOn(theirs.edges, theirs.rims), **printed))  # type: ignore[arg-type]


def by_skill(readings: list[SkillReading]) -> dict[Skill, list[float]]:
    found: dict[Skill, list[float]] = defaultdict(list)
    for r in readings:
        found[r.skill].append(r.error)
    return found


@pytest.fixture(scope="module")
def box() -> PaperSubject:
    return paper_subject(np.random.default_rng(12), "one box")


def test_eye_level_too_high_is_one_reading_and_no_error_of_the_edges(box: PaperSubject) -> None:
    theirs, found = judged(box, [Fault("eye-level", 0.4)], np.random.default_rng(1))
    errors = by_skill(recorded(theirs, found))
    assert errors[Skill.EYE_LEVEL] == [pytest.approx(0.4, abs=0.05)]
    assert max(abs(d.difference) for d in found.differences if d.what is What.TILT) > 5.0, "as drawn, the edges are off"
    assert set(errors) & EDGES and all(abs(e) < 1.0 for skill in EDGES for e in errors[skill]), (
        "run to that eye level, they are right"
    )


def test_a_form_leaves_readings_of_everything_that_was_drawn(box: PaperSubject) -> None:
    theirs, found = judged(box, [], np.random.default_rng(2), wobble=1.0)
    errors = by_skill(recorded(theirs, found))
    assert set(errors) >= {
        Skill.LEFT_ABOVE,
        Skill.RIGHT_ABOVE,
        Skill.FAR_ABOVE,
        Skill.UPRIGHT_LEAN,
        Skill.LENGTH_UP,
        Skill.LENGTH_ALONG,
        Skill.EYE_LEVEL,
    }
    up = [r for r in recorded(theirs, found) if r.skill is Skill.LENGTH_UP]
    uprights = sum(e.family is Family.UPRIGHT for e in theirs.edges)
    assert len(up) == uprights - 1, "the near upright is not measured by itself"
    assert all(r.unit is SkillUnit.PER_CENT and r.truth == 100.0 for r in up)


def test_a_vanishing_point_too_near_is_one_reading(box: PaperSubject) -> None:
    theirs, found = judged(box, [Fault("vanishing-point", 0.6, "b0", Family.LEFT)], np.random.default_rng(3))
    (cause,) = found.causes
    readings = recorded(theirs, found)
    told = {r.sighting: r.error for r in readings if r.skill is Skill.VANISHING_POINT}
    assert told["b0 left"] == pytest.approx(100.0 * cause.size, rel=0.02) and abs(told["b0 right"]) < 2.0
    assert all(abs(r.error) < 1.0 for r in readings if r.skill in EDGES)


@pytest.mark.parametrize(
    ("fault", "skill", "error"),
    [
        (Fault("lean", 6.0), Skill.UPRIGHT_LEAN, 6.0),
        (Fault("stretch", 0.15), Skill.LENGTH_ACROSS, 16.2),
        (Fault("depth", 0.15, "b0", Family.RIGHT), Skill.LENGTH_ALONG, 16.2),
    ],
)
def test_a_cause_stands_for_the_lines_of_its_own_skill(
    box: PaperSubject, fault: Fault, skill: Skill, error: float
) -> None:
    """Three uprights that lean together are one judgement of plumb: not three, and not one beside three
    that are right.
    """
    theirs, found = judged(box, [fault], np.random.default_rng(4))
    mine = [r for r in recorded(theirs, found) if r.skill is skill and abs(r.error) > 1.0]
    assert [r.error for r in mine] == [pytest.approx(error, rel=0.08)]
    if fault.kind == "lean":
        assert sum(r.skill is skill for r in recorded(theirs, found)) == 1


def test_a_line_off_by_itself_keeps_its_error_and_a_long_near_upright_spoils_no_other(box: PaperSubject) -> None:
    edge = next(e for e in sighted(box, np.random.default_rng(0)).edges if e.family is Family.LEFT)
    theirs, found = judged(box, [Fault("stray", 8.0, "b0", Family.LEFT, "tilt", edge.id)], np.random.default_rng(5))
    tilts = {r.sighting: r.error for r in recorded(theirs, found) if r.skill in EDGES}
    assert abs(tilts.pop(edge.id)) == pytest.approx(8.0, abs=0.7) and all(abs(e) < 1.0 for e in tilts.values())
    uprights = [e for e in theirs.edges if e.family is Family.UPRIGHT]
    near = max(uprights, key=lambda e: abs(e.p[1] - e.q[1]))
    theirs, found = judged(
        box, [Fault("stray", 0.15, "b0", Family.UPRIGHT, "length", near.id)], np.random.default_rng(6)
    )
    up = {r.sighting: r.error for r in recorded(theirs, found) if r.skill in (Skill.LENGTH_UP, Skill.LENGTH_ALONG)}
    assert up.pop(near.id) == pytest.approx(16.2, abs=2.0) and all(abs(e) < 2.0 for e in up.values())


@pytest.mark.parametrize("which", ["lower", "all"])
def test_rims_too_flat_together_are_one_reading(which: str) -> None:
    rng = np.random.default_rng(21)
    subject = paper_subject(rng, "box and tin")
    theirs, found = judged(subject, [Fault("rim", 8.0, "t", which=which)], rng)
    rims = by_skill(recorded(theirs, found))
    flat = [e for skill in (Skill.LOWER_RIM, Skill.UPPER_RIM) for e in rims[skill] if abs(e) > 2.0]
    assert flat == [pytest.approx(-8.0, abs=1.0)]


def test_headline_weakness_is_the_cause_over_many_drawings(box: PaperSubject) -> None:
    """Eight drawings whose eye level stands too high: the record says so, and that the edges are run well."""
    rng, errors = np.random.default_rng(7), defaultdict[Skill, list[float]](list)
    for _ in range(8):
        theirs, found = judged(box, [Fault("eye-level", 0.4)], rng, wobble=1.0)
        for skill, mine in by_skill(recorded(theirs, found)).items():
            errors[skill] += mine
    assert len(errors[Skill.EYE_LEVEL]) == 8 and statistics.mean(errors[Skill.EYE_LEVEL]) == pytest.approx(0.4, abs=0.1)
    assert all(abs(statistics.mean(errors[skill])) < 1.0 for skill in EDGES & set(errors))


# --- what is printed on the paper
# ----------------------------------------------------------------------------------------------------


def test_what_is_printed_is_nobodys_reading_and_moves_with_no_cause(box: PaperSubject) -> None:
    """A worksheet gives the near upright and the two edges from its top; the rest is drawn to an eye level that stands
    too high.
    """
    edges = sighted(box, np.random.default_rng(0)).edges
    near = max((e for e in edges if e.family is Family.UPRIGHT), key=lambda e: abs(e.p[1] - e.q[1]))
    top = min((near.p, near.q), key=lambda at: at[1])
    given = frozenset(
        [
            near.id,
            *(e.id for e in edges if e is not near and min(np.hypot(*np.subtract(at, top)) for at in (e.p, e.q)) < 8),
        ]
    )
    assert len(given) == 3
    theirs, found = judged(box, [Fault("eye-level", 0.4)], np.random.default_rng(8), given)
    assert not given & {d.sighting for d in found.differences} and not given & {
        id for hold in found.holds for id in hold.sightings
    }
    assert not given & set(found.ghosts) and not any(given & set(cause.lines) for cause in found.causes)
    first = found.causes[0]
    assert (first.cause.value, first.direction.value) == ("eye-level", "too-high") and first.size == pytest.approx(
        0.4, abs=0.1
    )
    readings = recorded(theirs, found, level_given=True, points_given=frozenset({("b0", Family.LEFT)}))
    assert not given & {r.sighting for r in readings} and "b0 left" not in {r.sighting for r in readings}
    faithful = judged(box, [], np.random.default_rng(9), given)
    assert Skill.EYE_LEVEL not in by_skill(recorded(*faithful, level_given=True)) and Skill.EYE_LEVEL in by_skill(
        recorded(*faithful)
    )


def test_lengths_on_a_worksheet_are_compared_with_what_is_printed_on_it(box: PaperSubject) -> None:
    """All that is drawn is drawn a sixth too large: the paper's own lines say so, where a free drawing may be of any
    size.
    """
    theirs = sighted(box, np.random.default_rng(0), 0.1)
    given = frozenset(
        [max((e for e in theirs.edges if e.family is Family.UPRIGHT), key=lambda e: abs(e.p[1] - e.q[1])).id]
    )
    true = on_paper(box, [], np.random.default_rng(1), wobble=0.0)
    large = [
        e if e.id in given else replace(e, p=(e.p[0] * 7 / 6, e.p[1] * 7 / 6), q=(e.q[0] * 7 / 6, e.q[1] * 7 / 6))
        for e in true.edges
    ]
    mine, subject = replace(true, edges=large), replace(theirs, given=given)
    found = critique(compare(subject, mine, 1 / PAPER_DPMM), subject, mine, FREEHAND)
    lengths = [d.difference for d in found.differences if d.what is What.LENGTH]
    assert lengths and all(d == pytest.approx(1 / 6, abs=0.03) for d in lengths)
