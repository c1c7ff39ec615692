"""Words for the construction of a thing on the stand: what each step draws, and why."""

from __future__ import annotations

from aspectum.core.stand.steps import Stage

TITLES = {
    Stage.EYE_LEVEL: "Eye level and vanishing points",
    Stage.ENCLOSING_BOX: "The enclosing box",
    Stage.DIAGONALS: "Diagonals and middles",
    Stage.NEAR_FACE: "The outline on the near face",
    Stage.CARRIED_THROUGH: "Carried through",
    Stage.HIDDEN: "Hidden edges",
    Stage.AXES: "Axes",
    Stage.SQUARES: "Squares round the rims",
    Stage.RIMS: "Ellipses in their squares",
    Stage.STANDING_RIMS: "Ellipses in their squares",
    Stage.SECTIONS: "Sections",
    Stage.LINED_IN: "Lining in",
}
REASONS = {
    Stage.EYE_LEVEL: "Set eye level first: edges below it climb as they go back, those above it fall, and every level family meets on it.",
    Stage.ENCLOSING_BOX: "Draw the box that the form just fits into, lightly and right through: its edges give the form's size and its families.",
    Stage.DIAGONALS: "Diagonals cross at a face's true middle, which lies beyond the measured one; lines through it to the vanishing points halve the sides.",
    Stage.NEAR_FACE: "Find the outline on the near face from its middles and quarters: all that follows is led from here.",
    Stage.CARRIED_THROUGH: "Lead every corner back along the third family, so that the far outline comes by itself.",
    Stage.HIDDEN: "Draw what is hidden too: only edges that are drawn through show whether the far side stands where it must.",
    Stage.AXES: "A round form hangs on its axis: rims sit square and evenly on it.",
    Stage.SQUARES: "Draw the square round each rim with the form's own families; its diagonals cross at the circle's centre.",
    Stage.RIMS: "Each ellipse touches the middles of its square's sides. It opens as it leaves eye level, so the lower rim is the rounder.",
    Stage.STANDING_RIMS: "Each ellipse touches the middles of its square's sides. Its short axis runs along the axle; it opens as the axle turns to the eye.",
    Stage.SECTIONS: "Draw the sections where they cut the form: the outline over them follows their widest places.",
    Stage.LINED_IN: "Line in what is seen, twice as heavy as the construction, which stays.",
}
