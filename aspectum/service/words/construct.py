"""Constructions on a face, in words that a hand can follow, a figure on the ground, and a line held before the picture."""

from __future__ import annotations

from aspectum.core.aids.divide import Construction, Step
from aspectum.core.aids.figure import Figure
from aspectum.core.aids.guide import Held
from aspectum.service.words.common import Names, several

STEPS = {
    "diagonals": "Draw both diagonals: they cross at the perspective centre.",
    "middle": "Draw the middle through it: the far half is drawn smaller than the near one.",
    "marks": "Mark equal parts on one side and carry them along to the vanishing point.",
    "diagonal": "Draw one diagonal.",
    "divisions": "Where the marks cross the diagonal the divisions stand.",
    "next-bay": "From a corner through the middle of the far side: the next side stands where that line meets the edge drawn on.",
    "place": "Draw the place that is mirrored.",
    "mirrored": "From its foot through the perspective centre: the mirrored place stands where that line meets the head.",
}

# where nothing runs back, as on a front, up a wall or in a parallel drawing
UNCHANGED = {
    "diagonals": "Draw both diagonals: they cross at the centre.",
    "middle": "Draw the middle through it: here both halves measure alike.",
    "marks": "Mark equal parts on one side and carry them over as the other sides run.",
    "mirrored": "From its foot through the centre: the mirrored place stands where that line meets the head.",
}


def step_words(step: Step) -> str:
    return STEPS[step.what] if step.recedes else UNCHANGED.get(step.what, STEPS[step.what])


def construction_words(wanted: Construction, steps: list[Step]) -> str:
    """What cannot be drawn, or nothing."""
    if steps:
        return ""
    return "There is no room before the face vanishes." if wanted is Construction.REPEAT else "That place lies beyond where the face vanishes."


def figure_words(figure: Figure | None) -> str:
    """How eye level cuts a figure, the same wherever it stands."""
    if figure is None:
        return "Nothing stands on the ground there: the foot must lie below eye level."
    if figure.cut is None:
        return "It stays below eye level wherever it stands on level ground."
    return f"Eye level cuts it at {figure.cut:.2f} of its height, wherever it stands on level ground."


def guide_words(held: Held, names: Names) -> str:
    """What a line passes through."""
    passed = list(dict.fromkeys(names(end.sighting) for end in held.passed))
    return f"Passes through ends of {several(passed)}." if passed else "Passes through no sighted end."
