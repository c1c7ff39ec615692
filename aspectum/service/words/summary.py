"""How the judgements of a sheet ran, in a line each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from enum import Enum
from statistics import mean

from aspectum.core.findings import Finding
from aspectum.core.practice.recorded import steepness, turned_over
from aspectum.core.sightings import Family, Kind
from aspectum.core.wording import AS_SIGHTED_DEG, AS_SIGHTED_SHARE, STEEP_FROM_DEG
from aspectum.language import Text, say
from aspectum.service.words.common import degrees
from aspectum.service.words.judged import missed_by


class Judged(Enum):
    """What judgements by eye are summed up by."""

    RIMS = Text("rims")
    UPRIGHTS = Text("uprights")
    STEEP = Text("steep edges")
    SHALLOW = Text("shallow edges")


def judgement_lines(findings: Iterable[Finding], families: Mapping[str, Family | None]) -> list[str]:
    """One line for every kind of thing that was judged by eye: by how much, which way on the whole, and how many.
    An edge judged the wrong way from level is neither too steep nor too flat, and counted by itself.
    """
    errors: dict[Judged, list[float]] = {}
    turned: dict[Judged, int] = {}
    shares: dict[Kind, list[float]] = {}
    for f in findings:
        missed = missed_by(f)
        if missed is None or f.sighted is None:
            continue
        if f.kind in SHARED:
            # of a length and a height the share by which it is judged too long, of a division the share of its face by
            # which it is judged towards where it is drawn
            drawn = 1.0 if f.implied is None or f.sighted > f.implied else -1.0
            shares.setdefault(f.kind, []).append(missed * drawn if f.kind is Kind.DIVISION else missed / f.sighted)
        elif f.kind is Kind.RIM:
            errors.setdefault(Judged.RIMS, []).append(missed)
        elif f.kind is Kind.EDGE and families.get(f.sighting) is Family.UPRIGHT:
            errors.setdefault(Judged.UPRIGHTS, []).append(-missed)  # a tilt that grows leans to the left
        elif f.kind is Kind.EDGE:
            steep = Judged.STEEP if abs(f.sighted) >= STEEP_FROM_DEG else Judged.SHALLOW
            if turned_over(*steepness(f.judged or 0.0, f.sighted)):
                turned[steep] = turned.get(steep, 0) + 1
            else:
                errors.setdefault(steep, []).append(missed if f.sighted >= 0 else -missed)
    told = [said(what.value, ran(what, mean(found)), len(found)) for what, found in errors.items()]
    told += [said(what.value, say("the wrong way"), count) for what, count in turned.items()]
    return told + [
        said(SHARED[kind][0], ran_by_shares(kind, mean(found)), len(found)) for kind, found in shares.items()
    ]


SHARED = {
    Kind.LENGTH: (Text("lengths"), Text("too long"), Text("too short")),
    Kind.HEIGHT: (Text("heights"), Text("too tall"), Text("too small")),
    Kind.DIVISION: (
        Text("parts"),
        Text("of the face towards where they are drawn"),
        Text("of the face away from where they are drawn"),
    ),
}


def said(what: Text, ran: str, n: int) -> str:
    return say("{what} judged {ran} (n = {n})", what=what, ran=ran, n=n)


def ran_by_shares(kind: Kind, bias: float) -> str:
    """A mean error, as a share, of judgements of a ``kind``."""
    if abs(bias) < AS_SIGHTED_SHARE:
        return say("about right")
    _, more, less = SHARED[kind]
    return f"{abs(bias) * 100:.0f} % {more if bias > 0 else less}"


def ran(what: Judged, bias: float) -> str:
    """A mean error (degrees) of judgements of ``what``."""
    if abs(bias) < AS_SIGHTED_DEG:
        return say("about right")
    match what:
        case Judged.RIMS:
            way = say("too round") if bias > 0 else say("too flat")
        case Judged.UPRIGHTS:
            way = say("too far right") if bias > 0 else say("too far left")
        case _:
            way = say("too steep") if bias > 0 else say("too flat")
    return f"{degrees(bias)} {way}"
