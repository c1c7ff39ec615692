"""Titles and the one sentence of every worksheet."""

from __future__ import annotations

from aspectum.core.worksheet.exercise import ExerciseKind, Grade, Said
from aspectum.language import Text, figure, say

TITLES = {
    ExerciseKind.ONE_POINT: Text("Boxes in one-point"),
    ExerciseKind.NEAR_CORNER: Text("A box from its near corner"),
    ExerciseKind.LOWER_RIM: Text("The other rim"),
    ExerciseKind.RIM_LADDER: Text("Rim ladder"),
    ExerciseKind.TURNED: Text("A cylinder turned"),
    ExerciseKind.PARTS: Text("Middle, thirds, next bay"),
    ExerciseKind.MIRROR: Text("The other half"),
    ExerciseKind.ISOMETRIC: Text("Wheels in their squares"),
    ExerciseKind.LETTERING: Text("Lettering round a tin"),
    ExerciseKind.FIGURES: Text("Figures and doors by eye level"),
    ExerciseKind.EYE_LEVEL: Text("Mark eye level"),
    ExerciseKind.TILTS: Text("Tilts"),
}

SENTENCES = {
    ExerciseKind.ONE_POINT: Text(
        "Join every corner that shows to the vanishing point, then close each box at its cross with lines true to the "
        "front: one level, one upright."
    ),
    ExerciseKind.LOWER_RIM: Text(
        "Draw the missing rim of each tin whole, right through: evenly on its axis and square to it, and rounder than "
        "the given one, since it lies farther from eye level."
    ),
    ExerciseKind.RIM_LADDER: Text(
        "Draw a rim through every cross, as wide as its plumb lines: how round it is grows in proportion to its "
        "distance from eye level, and one is given."
    ),
    ExerciseKind.TURNED: Text(
        "A is seen from the side; draw it turned end-on by the degrees given, about the same cross and axis, both "
        "ends whole."
    ),
    ExerciseKind.PARTS: Text(
        "By diagonals, draw the upright in the middle of wall A, those at the thirds of wall B, and the far upright "
        "of a second bay behind wall C, as long as C."
    ),
    ExerciseKind.MIRROR: Text(
        "Draw the other half of each front: every corner stands truly as far from the middle line as its fellow, and "
        "on the sheet a little less."
    ),
    ExerciseKind.ISOMETRIC: Text(
        "Draw a circle in every square: it touches the middles of the four sides, and its short axis runs with the "
        "edges that are square to its face."
    ),
    ExerciseKind.LETTERING: Text(
        "Bring the marks of the label round the tin, each as an upright from line to line: the farther from the "
        "front, the closer they stand."
    ),
    ExerciseKind.FIGURES: Text(
        "The figure stands on level ground: draw an upright of the height given on every cross, by where eye level "
        "cuts the figure."
    ),
    ExerciseKind.EYE_LEVEL: Text("Find eye level from the edges and draw it right across the picture."),
    ExerciseKind.TILTS: Text(
        "Sight the tilt of the edge at each letter, then draw it through the dot of that letter; its plumb line "
        "stands upright."
    ),
}
NEAR_CORNER = {
    Grade.EASY: Text(
        "Close the box: every edge runs to one of the two vanishing points, and the far uprights stand where the "
        "given edges end."
    ),
    Grade.MIDDLE: Text(
        "Draw the two given edges on to eye level: the box's other edges run to the two points where they meet it."
    ),
    Grade.HARD: Text(
        "Close the box: the two given edges meet eye level at their vanishing points, one of them beyond the sheet, "
        "and the other edges run there too."
    ),
}


def sentence(kind: ExerciseKind, grade: Grade) -> str:
    """What is to be done, in one sentence."""
    return str(NEAR_CORNER[grade] if kind is ExerciseKind.NEAR_CORNER else SENTENCES[kind])


def tag_words(said: Said, number: float | None) -> str:
    """What stands beside a mark."""
    match said:
        case Said.EYE_LEVEL:
            return say("eye level")
        case Said.VANISHING_POINT:
            return say("VP")
        case Said.DEGREES:
            value = number or 0.0
            return f"{figure(value, 0 if abs(value - round(value)) < 0.05 else 1)}°".replace("-", "−")
        case Said.METRES:
            return f"{figure(number or 0.0, 2)} m"


def place_words(x: float, wide: float) -> str:
    """Where a vanishing point lies on eye level: mm on the sheet, or cm off it."""
    if x < 0:
        return say("{x} cm off its left edge", x=figure(-x / 10, 0))
    return (
        say("{x} cm off its right edge", x=figure((x - wide) / 10, 0))
        if x > wide
        else say("{x} mm from its left", x=figure(x, 0))
    )


def stated_words(paper: str, eye_level_mm: float | None, points: list[tuple[float, float]], wide: float) -> str:
    """Paper, scale, eye level and vanishing points, as a worksheet states them (handbook section 7a)."""
    said = [f"{paper}, 1 : 1"]
    if eye_level_mm is not None:
        said.append(say("eye level {eye_level_mm} mm from the sheet's top", eye_level_mm=figure(eye_level_mm, 0)))
    places = [place_words(x, wide) for x, _ in sorted(points)]
    if places:
        said.append((say("VPs ") if len(places) > 1 else say("VP ")) + " and ".join(places))
    return "; ".join(said)


def filed_words(name: str) -> str:
    """With whose work a worksheet was filed, for whoever brought it in for somebody else."""
    return say("It is {name}’s sheet, and is filed with {name}’s work.", name=name)


def brought_words(laid: int, asked: int) -> str:
    """What was found of the pencil lines of a worksheet."""
    if laid == asked:
        return say("All {asked} lines that were asked are found and laid.", asked=asked)
    if not laid:
        return say("The sheet is known, but none of its lines was found in pencil: lay them yourself.")
    return say(
        "{laid} of {asked} lines are found and laid. Lay the other {asked2} yourself where you drew them.",
        laid=laid,
        asked=asked,
        asked2=asked - laid,
    )
