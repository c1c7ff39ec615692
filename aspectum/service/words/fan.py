"""A fan in words."""

from __future__ import annotations

from aspectum.core.aids.fan import Fan
from aspectum.language import say
from aspectum.service.words.common import signed


def fan_words(fan: Fan) -> str:
    """How its lines are spaced, and how their tilts run."""
    from_tilt, to_tilt = signed(fan.tilts_deg[0]), signed(fan.tilts_deg[-1])
    run = (
        say("tilted {from_tilt}", from_tilt=from_tilt)
        if from_tilt == to_tilt
        else say("their tilts run steadily from {from_tilt} to {to_tilt}", from_tilt=from_tilt, to_tilt=to_tilt)
    )
    if fan.spaced is None:
        return say(
            "Evenly spaced on the picture only, {run}. Sight an edge that leads from one to the other, and they are "
            "spaced as they stand in space.",
            run=run,
        )
    return say("Evenly spaced in space along the {spaced} family; {run}.", spaced=fan.spaced, run=run)
