"""What a set-up is told by: kinds of view, wall, roof, step and line. Formats name them without loading the stand."""

from __future__ import annotations

from enum import StrEnum


class Parallel(StrEnum):
    """The parallel views: every family keeps its own tilt, nothing converges."""

    ISOMETRIC = "isometric"
    OBLIQUE = "oblique"
    SQUARE = "square"


class RoofKind(StrEnum):
    """How a building is roofed."""

    FLAT = "flat"
    PENT = "pent"
    GABLED = "gabled"
    HIPPED = "hipped"


class Wall(StrEnum):
    """A building's walls: ``FRONT`` at its own −y, then anticlockwise seen from above."""

    FRONT = "front"
    RIGHT = "right"
    BACK = "back"
    LEFT = "left"


class Stage(StrEnum):
    """What a step does, in the order of drawing."""

    EYE_LEVEL = "eye-level"
    ENCLOSING_BOX = "enclosing-box"
    DIAGONALS = "diagonals"
    NEAR_FACE = "near-face"
    CARRIED_THROUGH = "carried-through"
    HIDDEN = "hidden"
    AXES = "axes"
    SQUARES = "squares"
    RIMS = "rims"
    STANDING_RIMS = "standing-rims"
    SECTIONS = "sections"
    LINED_IN = "lined-in"


class Weight(StrEnum):
    """Construction is thin, the form lined in thick (ISO 128-2:2020 has 1 : 2, from memory)."""

    THIN = "thin"
    THICK = "thick"
