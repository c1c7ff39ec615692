"""Constructions on a face, in words that a hand can follow, a figure on the ground, and a line held before
the picture.
"""

from __future__ import annotations

from aspectum import language
from aspectum.core.aids.divide import Construction, Step
from aspectum.core.aids.figure import Figure
from aspectum.core.aids.guide import Held
from aspectum.language import Text, say
from aspectum.service.words.common import Names, several

STEPS = {
    "diagonals": Text("Draw both diagonals: they cross at the perspective centre."),
    "middle": Text("Draw the middle through it: the far half is drawn smaller than the near one."),
    "marks": Text("Mark equal parts on one side and carry them along to the vanishing point."),
    "diagonal": Text("Draw one diagonal."),
    "divisions": Text("Where the marks cross the diagonal the divisions stand."),
    "next-bay": Text(
        "From a corner through the middle of the far side: the next side stands where that line meets the edge drawn "
        "on."
    ),
    "place": Text("Draw the place that is mirrored."),
    "mirrored": Text(
        "From its foot through the perspective centre: the mirrored place stands where that line meets the head."
    ),
}

# where nothing runs back, as on a front, up a wall or in a parallel drawing
UNCHANGED = {
    "diagonals": Text("Draw both diagonals: they cross at the centre."),
    "middle": Text("Draw the middle through it: here both halves measure alike."),
    "marks": Text("Mark equal parts on one side and carry them over as the other sides run."),
    "mirrored": Text("From its foot through the centre: the mirrored place stands where that line meets the head."),
}


def step_words(step: Step) -> str:
    return str(STEPS[step.what] if step.recedes else UNCHANGED.get(step.what, STEPS[step.what]))


def construction_words(wanted: Construction, steps: list[Step]) -> str:
    """What cannot be drawn, or nothing."""
    if steps:
        return ""
    return (
        say("There is no room before the face vanishes.")
        if wanted is Construction.REPEAT
        else say("That place lies beyond where the face vanishes.")
    )


def figure_words(figure: Figure | None) -> str:
    """How eye level cuts a figure, the same wherever it stands."""
    if figure is None:
        return say("Nothing stands on the ground there: the foot must lie below eye level.")
    if figure.cut is None:
        return say("It stays below eye level wherever it stands on level ground.")
    return say(
        "Eye level cuts it at {cut} of its height, wherever it stands on level ground.",
        cut=language.figure(figure.cut, 2),
    )


def guide_words(held: Held, names: Names) -> str:
    """What a line passes through."""
    passed = list(dict.fromkeys(names(end.sighting) for end in held.passed))
    return (
        say("Passes through ends of {passed}.", passed=several(passed))
        if passed
        else say("Passes through no sighted end.")
    )
