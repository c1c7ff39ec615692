"""The phases of a timed drawing in words, and how one went."""

from __future__ import annotations

from dataclasses import dataclass

from aspectum.core.practice.pace import Kept, Phase

ON_TIME_S = 15.0  # nearer to its time than this a phase ended on it


@dataclass(frozen=True)
class PhaseWords:
    """What a phase is called, and what is drawn in it."""

    title: str
    words: str


PHASES = {
    Phase.BLOCK_IN: PhaseWords("Block-in", "Limits, eye level, the main angles and proportions: light lines, nothing small."),
    Phase.FORMS: PhaseWords("Forms", "Forms drawn through: sides, rims on their axes, what stands before what."),
    Phase.TONE: PhaseWords("Tone", "Lined in, then the darks and what the light does."),
}


def clock(seconds: float) -> str:
    """Minutes and seconds."""
    whole = round(abs(seconds))
    return f"{whole // 60}:{whole % 60:02d}"


def pace_words(kept: Kept) -> str:
    """How a phase went against the clock."""
    title, took = PHASES[kept.phase].title, clock(kept.took_s)
    if abs(kept.late_s) <= ON_TIME_S:
        return f"{title} took {took} and ended on time."
    if kept.late_s < 0:
        return f"{title} took {took} and ended {clock(kept.late_s)} early."
    tail = " Give the angles and main proportions their time, and leave what is small for later." if kept.phase is Phase.BLOCK_IN else ""
    return f"{title} took {took} and ended {clock(kept.late_s)} late.{tail}"
