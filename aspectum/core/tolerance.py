"""The one rule by which every sighting holds, is off or stays unsure (handbook section 2)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, overload

from aspectum.core.plane.lines import Flags, Floats

DEVIATIONS = 2.0  # standard deviations beyond which a disagreement is no reading error


class Verdict(StrEnum):
    """``UNSURE``: the evidence is too weak to say."""

    HOLDS = "holds"
    OFF = "off"
    UNSURE = "unsure"


def worst(verdicts: Iterable[Verdict]) -> Verdict:
    """The verdict on what several numbers judge: off before unsure before holds; of none, that it holds."""
    found = set(verdicts)
    return next((verdict for verdict in (Verdict.OFF, Verdict.UNSURE) if verdict in found), Verdict.HOLDS)


class School(StrEnum):
    """Whose tolerances count (handbook section 6)."""

    FREEHAND = "freehand"
    RULED = "ruled"


@dataclass(frozen=True)
class Tolerances:
    """How far a sighting may stray before it is off: tilt and degree in degrees, length as a share.

    ``lowest_rim_deg``: how much rounder than implied the lowest rim of a form may be besides.
    """

    tilt_deg: float = 3.0
    length: float = 0.08
    degree_deg: float = 5.0
    lowest_rim_deg: float = 0.0


FREEHAND = Tolerances()
RULED = Tolerances(tilt_deg=1.0, length=0.03, degree_deg=3.0)  # a ruled drawing's (handbook section 6)
OF_SCHOOL = {School.FREEHAND: FREEHAND, School.RULED: RULED}


@overload
def beyond(gap: float, sd: float, tolerance: float) -> bool: ...
@overload
def beyond(gap: Floats, sd: Floats, tolerance: float) -> Flags: ...
def beyond(gap: Any, sd: Any, tolerance: float) -> Any:
    """Whether ``gap`` lies beyond the tolerance and beyond twice its standard deviation ``sd``, in one
    unit; never where the gap is not known (nan).
    """
    size = abs(gap)
    return (size > tolerance) & (size > DEVIATIONS * sd)


def verdict(gap: float, sd: float, tolerance: float) -> Verdict:
    """THE rule. ``gap``: sighted less implied, or judged less sighted; ``sd``: its standard deviation;
    ``tolerance``: how far it may stray; all in one unit, nan where not known.

    Off beyond the tolerance and beyond twice the deviation; unsure beyond the tolerance only, or where
    one deviation is itself wider than the tolerance; else it holds.
    """
    if beyond(gap, sd, tolerance):
        return Verdict.OFF
    return Verdict.HOLDS if abs(gap) <= tolerance and sd <= tolerance else Verdict.UNSURE
