"""Where something truly stands on a face, by the solved form or by the face's four corners alone (handbook
section 4).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.form.bundle import SolvedForms, deviation
from aspectum.core.form.look import AXES
from aspectum.core.plane.homography import carried, square_map
from aspectum.core.plane.lines import Floats
from aspectum.core.sightings import AXIS, Division, Face, PartAlong, Point


@dataclass(frozen=True)
class Part:
    """``drawn``: the point carried along the face's other family to its first side (or up its fourth), as a fraction of
    that side as it is drawn; ``part``: where it truly stands; with standard deviations. ``by_view``: whether the solved
    view had a say.
    """

    drawn: float
    drawn_sd: float
    part: float
    part_sd: float
    by_view: bool


def face_parts(found: SolvedForms | None, face: Face, divisions: list[Division], point_sd_px: float) -> list[Part]:
    """The parts at which ``divisions`` of one face stand."""
    alone = [part_by_corners(face, d, point_sd_px) for d in divisions]
    if found is None or (face.id, 0) not in found.layout.places:
        return alone
    return [part_by_view(found, face, d, part) for d, part in zip(divisions, alone, strict=True)]


def part_by_corners(face: Face, division: Division, point_sd_px: float) -> Part:
    """A part by the cross-ratios that the four corners give, without any camera; its error from that of all five
    points, by differences.
    """
    laid = np.array([*face.corners, division.point], float)
    size = float(np.hypot(*np.ptp(laid[:4], axis=0)))
    step = 1e-5 * size
    moves = np.concatenate([np.zeros((1, 10)), step * np.eye(10), -step * np.eye(10)]).reshape(-1, 5, 2)
    places = laid + moves
    maps = square_map(places[:, :4])
    share = carried(np.asarray(np.linalg.inv(maps), float), places[:, 4])[
        :, 0 if division.along is PartAlong.ACROSS else 1
    ]
    drawn = drawn_part(maps, places[:, :4], share, division.along)
    by_part, by_drawn = ((v[1:11] - v[11:]) / (2 * step) for v in (share, drawn))
    return Part(
        float(drawn[0]),
        float(np.hypot.reduce(by_drawn)) * point_sd_px,
        float(share[0]),
        float(np.hypot.reduce(by_part)) * point_sd_px,
        False,
    )


def drawn_part(maps: Floats, corners: Floats, share: Floats, along: PartAlong) -> Floats:
    """The fraction (B,) of a side as drawn at which a true ``share`` (B,) of it falls, under ``maps`` (B, 3, 3) to
    ``corners`` (B, 4, 2).
    """
    across = along is PartAlong.ACROSS
    on_side = np.stack([share, np.zeros_like(share)] if across else [np.zeros_like(share), share], axis=-1)
    foot = carried(maps, on_side)
    run = corners[:, 1 if across else 3] - corners[:, 0]
    return np.asarray(((foot - corners[:, 0]) * run).sum(axis=1) / (run * run).sum(axis=1), float)


def part_line(face: Face, along: PartAlong, part: float) -> tuple[Point, Point]:
    """A true part drawn right across its face, px."""
    ends = [(part, 0.0), (part, 1.0)] if along is PartAlong.ACROSS else [(0.0, part), (1.0, part)]
    (px, py), (qx, qy) = carried(square_map(np.array(face.corners, float)), np.array(ends)).tolist()
    return (px, py), (qx, qy)


def part_by_view(found: SolvedForms, face: Face, division: Division, alone: Part) -> Part:
    """A part in the frame of the solved form: where the sight through the point meets the plane of the face."""
    layout, first = found.layout, found.first_value
    corners = [layout.end(face.id, k) for k in range(4)]
    a, b = (AXIS[family] for family in face.families)
    out = next(axis for axis in range(AXES) if axis not in (a, b))
    counted, beyond = (a, corners[1]) if division.along is PartAlong.ACROSS else (b, corners[3])
    low, high, plane = (
        int(layout.node[corners[0], counted]),
        int(layout.node[beyond, counted]),
        int(layout.node[corners[0], out]),
    )
    form = int(layout.form[corners[0]])
    frame, frame_by = found.frames[0][form], found.frames[1][form]
    matrix = np.stack([frame[a], frame[b], found.values[plane] * frame[out]], axis=1)
    point = np.append(found.units(division.point), 1.0)
    try:
        back = np.linalg.inv(matrix)
    except np.linalg.LinAlgError:
        return alone
    at = back @ point
    # how the three shares of the sight move with the view, the plane and the point itself
    move = np.zeros((3, len(found.covariance)))
    move[:, :first] = -back @ (at[0] * frame_by[a] + at[1] * frame_by[b] + at[2] * found.values[plane] * frame_by[out])
    move[:, first + plane] -= back @ frame[out] * at[2]
    k = 0 if counted == a else 1
    place = at[k] / at[2]
    by = (move[k] - place * move[2]) / at[2]
    by_point = (back[k, :2] - place * back[2, :2]) / at[2]
    side = found.values[high] - found.values[low]
    part = float((place - found.values[low]) / side)
    by = by / side
    by[first + high] -= part / side
    by[first + low] -= (1.0 - part) / side
    sd = float(np.hypot(deviation(by, found.covariance), np.hypot(*by_point) * found.solution.evidence.sd / side))
    return Part(alone.drawn, alone.drawn_sd, part, sd, True) if np.isfinite(part) and np.isfinite(sd) else alone
