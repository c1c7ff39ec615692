"""Words for the near-corner card."""

from __future__ import annotations

from aspectum.core.judge.near_corner import CardSide, NearCorner
from aspectum.service.words.common import Names, signed


def side_words(side: CardSide) -> str:
    name = side.side.capitalize()
    if side.opens:
        return f"{name} pair opens instead of closing."
    if side.distance is None or side.eye_level is None:
        return f"{name}: two readings at different heights are needed."
    level = f"{side.eye_level:.2f} of the way down" if side.eye_level >= 0 else f"{-side.eye_level:.2f} units above the top"
    return f"{name} vanishing point {side.distance:.2f} units out, eye level {level} (± {side.eye_level_sd or 0:.2f})."


def near_corner_words(card: NearCorner, names: Names) -> str:
    parts = [side_words(card.left), side_words(card.right)]
    if card.agree:
        parts.append("Both sides agree on eye level within reading error.")
    elif card.agree is False and not card.apart:
        parts.append("Both sides give one eye level, but the edges of a side miss their vanishing point by more than reading error.")
    elif card.agree is False:
        parts.append(f"The two sides put eye level {abs(card.gap or 0):.2f} units apart, more than reading error.")
    if card.retake is not None:
        other = f" or {names(card.retake.instead)}" if card.retake.instead else ""
        parts.append(f"Take {names(card.retake.reading)}{other} again: {signed(card.retake.tilt_deg)} instead would make them agree.")
    elif card.agree is False or (card.eye_level is not None and (card.left.opens or card.right.opens)):
        parts.append(f"No one reading alone would mend that: take {'that side' if card.agree is None else 'them all'} again.")
    return " ".join(parts)
