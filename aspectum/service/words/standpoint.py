"""Where the picture is seen from, in words."""

from __future__ import annotations

from aspectum.core.aids.standpoint import Beside, Lies, Standing
from aspectum.language import Text

SHOWS = {
    Lies.BELOW: Text("lies below eye level: its top shows."),
    Lies.ABOVE: Text("lies above eye level: its underside shows."),
    Lies.ACROSS: Text("reaches across eye level: neither top nor underside shows."),
}
SIDE_SHOWS = {
    Beside.RIGHT_OF: Text("It stands to the right of its vanishing point: its left side shows."),
    Beside.LEFT_OF: Text("It stands to the left of its vanishing point: its right side shows."),
    Beside.ASTRIDE: Text("It stands astride its vanishing point: no side shows."),
}


def standing_words(standing: Standing, name: str) -> str:
    """``name``: of the form, as its sheet has it."""
    said = f"{name[:1].upper()}{name[1:]} {SHOWS[standing.lies]}"
    return said if standing.beside is None else f"{said} {SIDE_SHOWS[standing.beside]}"
