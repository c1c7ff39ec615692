"""The phases of a timed drawing in words, and how one went."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.practice.pace import Kept, Phase
from aspectum.language import Text, say

ON_TIME_S = 15.0  # nearer to its time than this a phase ended on it


@dataclass(frozen=True)
class PhaseWords:
    """What a phase is called, and what is drawn in it."""

    title: Text
    words: Text


PHASES = {
    Phase.BLOCK_IN: PhaseWords(
        Text("Block-in"), Text("Limits, eye level, the main angles and proportions: light lines, nothing small.")
    ),
    Phase.FORMS: PhaseWords(
        Text("Forms"), Text("Forms drawn through: sides, rims on their axes, what stands before what.")
    ),
    Phase.TONE: PhaseWords(Text("Tone"), Text("Lined in, then the darks and what the light does.")),
}


def clock(seconds: float) -> str:
    """Minutes and seconds."""
    whole = round(abs(seconds))
    return f"{whole // 60}:{whole % 60:02d}"


def pace_words(kept: Kept) -> str:
    """How a phase went against the clock."""
    title, took = PHASES[kept.phase].title, clock(kept.took_s)
    if abs(kept.late_s) <= ON_TIME_S:
        return say("{title} took {took} and ended on time.", title=title, took=took)
    if kept.late_s < 0:
        return say("{title} took {took} and ended {late_s} early.", title=title, took=took, late_s=clock(kept.late_s))
    tail = (
        say(" Give the angles and main proportions their time, and leave what is small for later.")
        if kept.phase is Phase.BLOCK_IN
        else ""
    )
    return say(
        "{title} took {took} and ended {late_s} late.{tail}",
        title=title,
        took=took,
        late_s=clock(kept.late_s),
        tail=tail,
    )
