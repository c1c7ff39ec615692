"""A thing turned in the hand, its poses drawn in one row."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import set_up_for
from aspectum.core.stand.setting import extent_in_room
from aspectum.core.stand.steps import lined_in
from aspectum.core.stand.things import Stand, StandError
from aspectum.core.stand.turning import About, end_on_turns, extent, poses, quarter_turns, strip_offsets
from aspectum.formats.reading import FormatError
from aspectum.formats.stand import StandFile, StandStroke
from aspectum.formats.stand_shown import StandTurning, TurningMark, TurningPose, TurningRim
from aspectum.language import say
from aspectum.service.stand.from_format import stand_of

MARKS_DEG = tuple(30.0 * k for k in range(12))
POSE_PX = 240  # across the diagonal of the box round a thing
EDGE_PX = 24.0


def stand_turning(file: StandFile, thing: str, count: int, about: About, seen_from_deg: float) -> StandTurning:
    """``count`` poses of a thing, quarters of a turn first and then their halves, sorted into one row; end-on only as
    far as from its side to its end.

    ``seen_from_deg``: by how much it is looked down on. Raises ``FormatError`` for a thing that is not there or is not
    round where it must be.
    """
    own = next((t for t in stand_of(file).things if t.id == thing), None)
    if own is None:
        raise FormatError(say("thing: there is no thing '{thing}'", thing=thing))
    turns = end_on_turns(count) if about is About.END_ON else sorted(quarter_turns(count))
    try:
        low, high = extent_in_room(set_up_for(Stand((replace(own, on=None),)), View()))
        # no pose reaches farther than across the box round the thing
        scale = POSE_PX / float(np.linalg.norm(high - low))
        row = poses(
            own, turns, about, View(width_px=POSE_PX, height_px=POSE_PX, px_per_m=scale), -seen_from_deg, MARKS_DEG
        )
    except StandError as error:
        raise FormatError(str(error)) from None
    offsets = strip_offsets(row)
    boxes = [extent(pose.drawing) for pose in row]
    left = min(box[0] + off for box, off in zip(boxes, offsets, strict=True)) - EDGE_PX
    right = max(box[2] + off for box, off in zip(boxes, offsets, strict=True)) + EDGE_PX
    top, bottom = min(box[1] for box in boxes) - EDGE_PX, max(box[3] for box in boxes) + EDGE_PX
    return StandTurning(
        thing=thing,
        name=own.name or own.id,
        left_px=left,
        top_px=top,
        width_px=right - left,
        height_px=bottom - top,
        poses=[
            TurningPose(
                turned_deg=pose.turned_deg,
                offset_px=off,
                width_m=pose.width_px / scale,
                height_m=pose.height_px / scale,
                length_m=pose.length_px / scale if pose.length_px else None,
                rims=[TurningRim(name=name, degree_deg=degree) for name, degree in pose.degrees_deg.items()],
                marks=[TurningMark(mark_deg=mark, at=at) for mark, at in pose.marks],
                strokes=[
                    StandStroke(points=[(x + off, y) for x, y in stroke.points], weight=stroke.weight)
                    for stroke in lined_in(pose.drawing)
                ],
            )
            for pose, off in zip(row, offsets, strict=True)
        ],
    )
