"""Words for the construction of a thing on the stand: what each step draws, and why, as far as its view makes it so."""

from __future__ import annotations

from aspectum.core.sightings import ViewSort
from aspectum.core.stand.kinds import Stage
from aspectum.core.stand.steps import Seen, Step
from aspectum.language import Text, say
from aspectum.service.words.common import degrees

TITLES = {
    Stage.EYE_LEVEL: Text("Eye level and vanishing points"),
    Stage.ENCLOSING_BOX: Text("The enclosing box"),
    Stage.DIAGONALS: Text("Diagonals and middles"),
    Stage.NEAR_FACE: Text("The outline on the near face"),
    Stage.CARRIED_THROUGH: Text("Carried through"),
    Stage.HIDDEN: Text("Hidden edges"),
    Stage.AXES: Text("Axes"),
    Stage.SQUARES: Text("Squares round the rims"),
    Stage.RIMS: Text("Ellipses in their squares"),
    Stage.STANDING_RIMS: Text("Ellipses in their squares"),
    Stage.SECTIONS: Text("Sections"),
    Stage.LINED_IN: Text("Lining in"),
}
IN_EVERY_VIEW = {
    Stage.ENCLOSING_BOX: Text(
        "Draw the box that the form just fits into, lightly and right through: its edges give the form's size and its "
        "families."
    ),
    Stage.NEAR_FACE: Text(
        "Find the outline on the near face from its middles and quarters: all that follows is led from here."
    ),
    Stage.CARRIED_THROUGH: Text(
        "Lead every corner back along the third family, so that the far outline comes by itself."
    ),
    Stage.HIDDEN: Text(
        "Draw what is hidden too: only edges that are drawn through show whether the far side stands where it must."
    ),
    Stage.SQUARES: Text(
        "Draw the square round each rim with the form's own families; its diagonals cross at the circle's centre."
    ),
    Stage.SECTIONS: Text(
        "Draw the sections where they cut the form: the outline over them follows their widest places."
    ),
    Stage.LINED_IN: Text("Line in what is seen, twice as heavy as the construction, which stays."),
}
_CLIMB = Text("Set eye level first: edges below it climb as they go back, those above it fall")
_TOUCHES = Text("Each ellipse touches the middles of its square's sides.")


def step_title(step: Step) -> str:
    rims = step.stage in (Stage.RIMS, Stage.STANDING_RIMS)
    return say("Circles in their squares") if rims and step.seen.true_shape else str(TITLES[step.stage])


def step_reason(step: Step) -> str:
    """Why a step is drawn, true of the view that it is drawn in."""
    match step.stage:
        case Stage.EYE_LEVEL if step.seen.sort is ViewSort.ONE_POINT:
            return say(
                "{climb}. What runs straight away meets in one point on it; what runs across stays true to the front.",
                climb=_CLIMB,
            )
        case Stage.EYE_LEVEL:
            return say("{climb}, and every level family that runs back meets on it.", climb=_CLIMB)
        case Stage.DIAGONALS if step.seen.true_shape or step.seen.sort is ViewSort.PARALLEL:
            return say(
                "Diagonals cross at a face's middle, which here is the measured one too; lines through it that run as "
                "the sides do halve them."
            )
        case Stage.DIAGONALS:
            return say(
                "Diagonals cross at a face's true middle, which lies beyond the measured one; lines through it that "
                "run as the sides do halve them."
            )
        case Stage.AXES if step.seen.true_shape or step.seen.oblique:
            return say("A round form hangs on its axis: the middle of every rim lies on it.")
        case Stage.AXES:
            return say("A round form hangs on its axis: rims sit square and evenly on it.")
        case Stage.RIMS | Stage.STANDING_RIMS:
            return rim_reason(step.stage, step.seen)
    return str(IN_EVERY_VIEW[step.stage])


def rim_reason(stage: Stage, seen: Seen) -> str:
    """How far rims open, and by what."""
    if seen.true_shape:
        return say("Each circle touches the middles of its square's sides: seen square on, it keeps its true shape.")
    if seen.sort is ViewSort.PARALLEL:
        by = "" if seen.degree_deg is None else say(", by {degree_deg}", degree_deg=degrees(seen.degree_deg))
        return say(
            "{touches} Nothing converges in this drawing: rims of one plane all open alike{by}.",
            touches=_TOUCHES,
            by=by,
        )
    if stage is Stage.STANDING_RIMS:
        return say(
            "{touches} Its short axis runs along the axle; it opens as the axle turns to the eye.", touches=_TOUCHES
        )
    return say(
        "{touches} It opens as it leaves eye level: of two rims the one farther from it is the rounder.",
        touches=_TOUCHES,
    )
