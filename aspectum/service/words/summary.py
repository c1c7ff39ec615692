"""How the judgements of a sheet ran, in a line each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from statistics import mean

from aspectum.core.findings import Finding
from aspectum.core.practice.recorded import steepness, turned_over
from aspectum.core.sightings import Family, Kind
from aspectum.core.wording import AS_SIGHTED_DEG, AS_SIGHTED_SHARE, STEEP_FROM_DEG
from aspectum.service.words.common import degrees
from aspectum.service.words.judged import missed_by


def judgement_lines(findings: Iterable[Finding], families: Mapping[str, Family | None]) -> list[str]:
    """One line for every kind of thing that was judged by eye: by how much, which way on the whole, and how many.
    An edge judged the wrong way from level is neither too steep nor too flat, and counted by itself.
    """
    errors: dict[str, list[float]] = {}
    turned: dict[str, int] = {}
    shares: dict[str, list[float]] = {}
    for f in findings:
        missed = missed_by(f)
        if missed is None or f.sighted is None:
            continue
        if f.kind in SHARED:
            # of a length and a height the share by which it is judged too long, of a division the share of its face by which it is judged
            # towards where it is drawn
            drawn = 1.0 if f.implied is None or f.sighted > f.implied else -1.0
            shares.setdefault(SHARED[f.kind][0], []).append(missed * drawn if f.kind is Kind.DIVISION else missed / f.sighted)
        elif f.kind is Kind.RIM:
            errors.setdefault("rims", []).append(missed)
        elif f.kind is Kind.EDGE and families.get(f.sighting) is Family.UPRIGHT:
            errors.setdefault("uprights", []).append(-missed)  # a tilt that grows leans to the left
        elif f.kind is Kind.EDGE:
            steep = "steep edges" if abs(f.sighted) >= STEEP_FROM_DEG else "shallow edges"
            if turned_over(*steepness(f.judged or 0.0, f.sighted)):
                turned[steep] = turned.get(steep, 0) + 1
            else:
                errors.setdefault(steep, []).append(missed if f.sighted >= 0 else -missed)
    told = [f"{what} judged {ran(what, mean(found))} (n = {len(found)})" for what, found in errors.items()]
    told += [f"{what} judged the wrong way (n = {count})" for what, count in turned.items()]
    return told + [f"{what} judged {ran_by_shares(what, mean(found))} (n = {len(found)})" for what, found in shares.items()]


SHARED = {
    Kind.LENGTH: ("lengths", "too long", "too short"),
    Kind.HEIGHT: ("heights", "too tall", "too small"),
    Kind.DIVISION: ("parts", "of the face towards where they are drawn", "of the face away from where they are drawn"),
}


def ran_by_shares(what: str, bias: float) -> str:
    """A mean error, as a share, of judgements of ``what``."""
    if abs(bias) < AS_SIGHTED_SHARE:
        return "about right"
    more, less = next(ways[1:] for ways in SHARED.values() if ways[0] == what)
    return f"{abs(bias) * 100:.0f} % {more if bias > 0 else less}"


def ran(what: str, bias: float) -> str:
    """A mean error (degrees) of judgements of ``what``."""
    if abs(bias) < AS_SIGHTED_DEG:
        return "about right"
    ways = {"rims": ("too round", "too flat"), "uprights": ("too far right", "too far left")}
    more, less = ways.get(what, ("too steep", "too flat"))
    return f"{degrees(bias)} {more if bias > 0 else less}"
