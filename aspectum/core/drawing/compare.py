"""A drawing beside its subject: every sighting compared, and the causes behind what is off."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from aspectum.core.check import fit_all
from aspectum.core.drawing.causes import Explained, explain
from aspectum.core.drawing.closed import Closed
from aspectum.core.drawing.closing import close
from aspectum.core.drawing.hand import FREEHAND_HAND, Hand
from aspectum.core.drawing.readings import Pairs, Readings, between, drawn_ellipse, read
from aspectum.core.judge.divisions import division_findings
from aspectum.core.look import Look, look
from aspectum.core.plane.ellipses import Ellipse
from aspectum.core.sightings import Edge, Measured, Plane, Point, Rim, Setup
from aspectum.core.tolerance import FREEHAND, Tolerances

AS_SOLVED = 0.7  # of a laid point's error: about what is left of it once the forms are solved through all of them


@dataclass(frozen=True)
class Laid:
    """All that is laid on one picture, a subject's or a drawing's; ``given``: ids of what is printed on the drawing's
    paper, so that nobody drew it.
    """

    setup: Setup
    edges: list[Edge]
    rims: list[Rim] = field(default_factory=list)
    measured: Measured = field(default_factory=Measured)
    given: frozenset[str] = frozenset()


@dataclass(frozen=True)
class Compared:
    """A drawing against its subject. ``mm_per_px``: of the drawing's picture; ``subject_sd_px``: of a point of the
    subject as solved; ``drawn_rims``: the drawing's rims with their ellipses.
    """

    closed: Closed
    readings: Readings
    explained: Explained
    mm_per_px: float
    subject_sd_px: float
    drawn_rims: list[tuple[Rim, Ellipse]]


def compare(
    subject: Laid, drawing: Laid, mm_per_px: float, hand: Hand = FREEHAND_HAND, tolerances: Tolerances = FREEHAND
) -> Compared:
    """Compare what both have, by id, and explain it. Raises ``ValueError`` as ``check`` does."""
    seen = look(subject.setup, subject.edges, subject.rims, subject.measured)
    pairs, sd = paired(subject, drawing), AS_SOLVED * subject.setup.point_sd_px
    unit = next((m for m in subject.measured.lengths if m.unit), None)
    with np.errstate(all="ignore"):
        closed = close(
            seen, [edge for _, edge in pairs.edges], [rim for _, rim in pairs.rims], joined(seen, pairs), unit
        )
        readings = read(pairs, closed, hand, mm_per_px, sd, tolerances, subject.given)
        return Compared(
            closed,
            readings,
            explain(closed, readings),
            mm_per_px,
            sd,
            [(rim, drawn_ellipse(fit)) for (rim, fit), _ in pairs.rims],
        )


def paired(subject: Laid, drawing: Laid) -> Pairs:
    """What both have under one id, of one kind and family."""
    edges, rims = {e.id: e for e in subject.edges}, {r.id: r for r in subject.rims}
    lengths, alignments = {m.id: m for m in subject.measured.lengths}, {a.id: a for a in subject.measured.alignments}
    return Pairs(
        [(e, edges[e.id]) for e in drawing.edges if e.id in edges and edges[e.id].family is e.family],
        [
            ((r, fit), rims[r.id])
            for r, fit in fit_all(drawing.setup, [], drawing.rims)
            if r.id in rims and rims[r.id].plane is r.plane
        ],
        [(m, lengths[m.id]) for m in drawing.measured.lengths if m.id in lengths and lengths[m.id].along is m.along],
        [(a, alignments[a.id]) for a in drawing.measured.alignments if a.id in alignments],
        [
            (id, part, due, sd)
            for id, (part, _) in parts(drawing).items()
            if (due_sd := parts(subject).get(id)) is not None
            for due, sd in [due_sd]
        ],
    )


def parts(laid: Laid) -> dict[str, tuple[float, float]]:
    """The part of its face at which each division is drawn, with its standard deviation."""
    found = division_findings(laid.measured.faces, laid.measured.divisions, None, laid.setup, FREEHAND)
    return {f.sighting: (f.sighted, f.sighted_sd or 0.0) for f in found if f.sighted is not None}


def joined(seen: Look, pairs: Pairs) -> list[tuple[str, str, Point, Point]]:
    """Id, form and both ends on the subject of what is compared from point to point."""
    found = [(m.id, "", m.p, m.q) for _, m in pairs.lengths] + [(a.id, "", a.p, a.q) for _, a in pairs.alignments]
    if seen.posterior is None or seen.posterior.solution.evidence.rims is None or seen.posterior.solution.own is None:
        return found
    bank, own = seen.posterior.solution.evidence.rims, seen.posterior.solution.own
    evidence = seen.posterior.solution.evidence
    centre = own[:, :2] * evidence.scale + np.array(evidence.setup.centre)
    level = [(rim, centre[k]) for k, rim in enumerate(bank.rims) if rim.plane is Plane.LEVEL]
    for upper, p in level:
        for lower, q in level:
            if upper.id != lower.id and upper.form == lower.form:
                found.append(
                    (between(upper.id, lower.id), upper.form, (float(p[0]), float(p[1])), (float(q[0]), float(q[1])))
                )
    return found
