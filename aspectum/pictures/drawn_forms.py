"""Boxes and rims on a drawing of which nothing is known: what its lined-in lines close round, side by side, is a form."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.again import lies_again
from aspectum.core.sightings import Family, FormKind, Plane
from aspectum.pictures.finding import ARC_POINTS, FoundEdge, FoundInPicture, FoundRim
from aspectum.pictures.pencil import PencilSheet, Place, Snapped
from aspectum.pictures.registering import lined_in, round_path

Floats = NDArray[np.float64]
Pixels = NDArray[np.uint8]

FINE = 4.0  # px a millimetre in which closed groups are looked for
GAP_MM = (0.0, 1.6, 3.0)  # that lines may stop short of one another at a corner, tried in turn
SMALLEST_MM2, LARGEST = 60.0, 0.6  # of what lines close round, and of the sheet
CORNER_MM, LEAST_SIDE_MM = 1.8, 6.0  # by which a face's outline may leave its four straight sides, and the shortest of these
ROUND, RIM_OFF_MM = 0.05, 0.28  # by which a closed line may leave its ellipse: of its half axes, and at least
LEAST_RIM_MM, LEAST_OPEN_MM = 8.0, 3.0  # width of a rim, and how far it opens: what is flatter may be two lines side by side
PLUMB_DEG, LEVEL_DEG = 17.0, 4.0  # of an upright's lean, and of a level edge's tilt, as a freehand draws them
SAME_RIM = 0.12  # of its width by which one rim's ends may lie off those of another below it
EDGE_SURE, RIM_SURE = 0.86, 0.85  # how many of those proposed are right, by simulation


@dataclass
class DrawnFace:
    """The numbers of its four lines, in order round it."""

    sides: list[int]


def find_drawn(picture: Pixels, px_per_mm: float) -> FoundInPicture:
    """What a flattened drawing (RGB) shows, of which nothing is known: the faces of boxes and the rims of round forms, light construction left out."""
    high, wide = picture.shape[:2]
    nothing = FoundInPicture(wide, high, None)
    sheet = PencilSheet(picture, px_per_mm)
    ink = lined_in(sheet)
    if ink is None:
        return nothing
    times = min(FINE / px_per_mm, 1.0)
    small = np.asarray(cv2.resize(ink.astype(np.float32), (round(wide * times), round(high * times)), interpolation=cv2.INTER_AREA) > 0.15, np.uint8)
    mm = px_per_mm * times
    diagonal = float(np.hypot(wide, high))
    lines: list[Snapped] = []
    faces: list[DrawnFace] = []
    rims: list[tuple[Place, float, float, float]] = []
    for gap in GAP_MM:
        size = round(gap * mm) | 1
        closed = small if size < 3 else cv2.morphologyEx(small, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
        for outline in holes(np.asarray(closed, np.uint8), mm):
            if (rim := rim_round(sheet, outline, times, mm)) is not None:
                if not any(same_rim(rim, other) for other in rims):
                    rims.append(rim)
            elif (corners := four_corners(outline, mm)) is not None:
                add_face(sheet, corners / times, lines, faces, diagonal)
    forms, edges = boxes(lines, faces)
    owners = rim_forms(rims)
    found_rims = [rim_at(rim, len(forms) + owner) for rim, owner in zip(rims, owners, strict=True)]
    edges += [
        side
        for own in range(max(owners, default=-1) + 1)
        for side in sides_of(sheet, [r for r, o in zip(rims, owners, strict=True) if o == own], len(forms) + own)
    ]
    return FoundInPicture(wide, high, None, forms=forms + [FormKind.CYLINDER] * (max(owners, default=-1) + 1), edges=edges, rims=found_rims)


def holes(ink: NDArray[np.uint8], mm: float) -> list[Floats]:
    """Outlines (n, 2; px) of what lines close round, grown by half a line to their middle."""
    contours, order = cv2.findContours(ink, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found = []
    for contour, (_, _, _, parent) in zip(contours, [] if order is None else order[0], strict=False):
        area = cv2.contourArea(contour) / mm**2
        if parent >= 0 and SMALLEST_MM2 < area < LARGEST * ink.size / mm**2:
            found.append(contour[:, 0].astype(float) + 0.5)
    return found


def rim_round(sheet: PencilSheet, outline: Floats, times: float, mm: float) -> tuple[Place, float, float, float] | None:
    """The ellipse that an outline is, drawn to the pencil's line; None for one of another shape."""
    (x, y), (one, other), turn = cv2.fitEllipse(outline.astype(np.float32))
    major, minor, angle = (one / 2, other / 2, turn) if one > other else (other / 2, one / 2, turn + 90.0)
    if 2 * major < LEAST_RIM_MM * mm or 2 * minor < LEAST_OPEN_MM * mm:
        return None
    t = np.radians(angle)
    away = outline - np.array([x, y])
    along, across = away @ np.array([np.cos(t), np.sin(t)]), away @ np.array([-np.sin(t), np.cos(t)])
    off = np.abs(np.hypot(along / major, across / minor) - 1.0)
    if np.quantile(off, 0.9) > max(ROUND, RIM_OFF_MM * mm / minor):
        return None
    found = sheet.snap_rim((x / times, y / times), major / times, minor / times, t)
    return None if found is None else (found.centre, found.major, found.minor, found.angle)


def same_rim(one: tuple[Place, float, float, float], other: tuple[Place, float, float, float]) -> bool:
    """Whether two ellipses are one, or one is the other over again."""
    return bool(np.hypot(*np.subtract(one[0], other[0])) < 0.2 * one[2] + 0.05 * one[1] and abs(one[1] / other[1] - 1.0) < 0.15)


def four_corners(outline: Floats, mm: float) -> Floats | None:
    """The corners (4, 2) of an outline with four straight sides; None for one of another shape."""
    for slack in (CORNER_MM, 1.6 * CORNER_MM):
        shape = cv2.approxPolyDP(outline.astype(np.float32), slack * mm, True)[:, 0].astype(float)
        if len(shape) == 4 and cv2.isContourConvex(shape.astype(np.float32)):
            sides = np.hypot(*(np.roll(shape, -1, axis=0) - shape).T)
            return shape if sides.min() > LEAST_SIDE_MM * mm else None
    return None


def add_face(sheet: PencilSheet, corners: Floats, lines: list[Snapped], faces: list[DrawnFace], diagonal: float) -> None:
    """A face by its four pencil lines; a line that another face has is that one."""
    sides: list[int] = []
    for k in range(4):
        p, q = corners[k], corners[(k + 1) % 4]
        line = sheet.snap((float(p[0]), float(p[1])), (float(q[0]), float(q[1])))
        if line is None:
            return
        known = [np.array([getattr(other, end) for other in lines], float).reshape(-1, 2) for end in "pq"]
        again = np.flatnonzero(lies_again(np.array(line.p), np.array(line.q), known[0], known[1], 2 * diagonal))
        if len(again):
            sides.append(int(again[0]))
        else:
            lines.append(line)
            sides.append(len(lines) - 1)
    if len(set(sides)) == 4 and all(set(sides) != set(face.sides) for face in faces):
        faces.append(DrawnFace(sides))


def boxes(lines: list[Snapped], faces: list[DrawnFace]) -> tuple[list[FormKind], list[FoundEdge]]:
    """Faces that share a side are one form; its edges by what they run along."""
    groups: list[list[DrawnFace]] = []
    for face in faces:
        joined = [g for g in groups if any(set(face.sides) & set(other.sides) for other in g)]
        groups = [g for g in groups if g not in joined] + [[face, *(f for g in joined for f in g)]]
    forms: list[FormKind] = []
    edges: list[FoundEdge] = []
    for group in groups:
        family = families(lines, group)
        number = len(forms)
        forms.append(FormKind.BOX)
        edges += [FoundEdge(lines[n].p, lines[n].q, number, which, EDGE_SURE) for n, which in sorted(family.items())]
    return forms, edges


def families(lines: list[Snapped], faces: list[DrawnFace]) -> dict[int, Family]:
    """What each line of a form's faces runs along. Uprights are nearly plumb; the level sides of an upright face run left where the face lies left of
    the longest upright, and right where it lies right; of a face seen from before they run across. What a level face shares with upright ones its
    opposite sides have too.
    """
    known: dict[int, Family] = {n: Family.UPRIGHT for face in faces for n in face.sides if lean(lines[n]) < PLUMB_DEG}
    upright = [face for face in faces if sum(known.get(n) is Family.UPRIGHT for n in face.sides) == 2 and opposite(face, known)]
    heights = {n: abs(lines[n].p[1] - lines[n].q[1]) for face in upright for n in face.sides if known.get(n) is Family.UPRIGHT}
    near = lines[max(heights, key=lambda n: heights[n])] if heights else None
    for face in upright:
        assert near is not None
        rest = [n for n in face.sides if known.get(n) is not Family.UPRIGHT]
        middle = float(np.mean([x for n in face.sides for x in (lines[n].p[0], lines[n].q[0])]))
        which = Family.LEFT if middle < (near.p[0] + near.q[0]) / 2 else Family.RIGHT
        if all(slant(lines[n]) < LEVEL_DEG for n in rest):
            which = Family.ACROSS
        known |= dict.fromkeys(rest, which)
    for face in faces:
        if face in upright:
            continue
        for k, n in enumerate(face.sides):
            if n not in known and (over := known.get(face.sides[(k + 2) % 4])) is not None:
                known[n] = over
        across = any(known.get(n) is Family.ACROSS for n in face.sides)
        shared = {known[n] for n in face.sides if n in known}
        for n in face.sides:
            if n not in known:
                known[n] = Family.DEPTH if across else (Family.RIGHT if Family.LEFT in shared else Family.LEFT)
    return known


def opposite(face: DrawnFace, known: dict[int, Family]) -> bool:
    """Whether a face's uprights lie opposite to each other."""
    return any(known.get(face.sides[k]) is Family.UPRIGHT and known.get(face.sides[k + 2]) is Family.UPRIGHT for k in (0, 1))


def lean(line: Snapped) -> float:
    """Degrees from plumb."""
    return 90.0 - slant(line)


def slant(line: Snapped) -> float:
    """Degrees from level."""
    return float(np.degrees(np.arctan2(abs(line.q[1] - line.p[1]), abs(line.q[0] - line.p[0]))))


def rim_forms(rims: list[tuple[Place, float, float, float]]) -> list[int]:
    """Which round form each rim belongs to: one under another and about as wide is of the same."""
    owners: list[int] = []
    for k, (centre, major, _, _) in enumerate(rims):
        fellow = next((o for o, (c, m, _, _) in enumerate(rims[:k]) if abs(c[0] - centre[0]) < SAME_RIM * major and abs(m / major - 1.0) < 3 * SAME_RIM), None)
        owners.append(max(owners, default=-1) + 1 if fellow is None else owners[fellow])
    return owners


def rim_at(rim: tuple[Place, float, float, float], form: int) -> FoundRim:
    path = round_path(*rim)
    places = path[np.linspace(0, len(path) - 1, ARC_POINTS, endpoint=False).round().astype(int)]
    return FoundRim(tuple((float(x), float(y)) for x, y in places), form, Plane.LEVEL, RIM_SURE)


def sides_of(sheet: PencilSheet, rims: list[tuple[Place, float, float, float]], form: int) -> list[FoundEdge]:
    """The two sides of a round form between its highest and its lowest rim, where they are drawn."""
    if len(rims) < 2:
        return []
    top, base = min(rims, key=lambda r: r[0][1]), max(rims, key=lambda r: r[0][1])
    found = []
    for way in (-1, 1):
        p, q = ((r[0][0] + way * r[1] * np.cos(r[3]), r[0][1] + way * r[1] * np.sin(r[3])) for r in (top, base))
        line = sheet.snap(p, q)
        if line is not None:
            found.append(FoundEdge(line.p, line.q, form, Family.UPRIGHT, EDGE_SURE))
    return found
