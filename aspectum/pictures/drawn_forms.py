"""Boxes and rims on a drawing of which nothing is known: what its lined-in lines close round, side by side,
is a form.
"""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.faces import Face, joined, sides_along
from aspectum.core.plane.again import lies_again, off_round
from aspectum.core.sightings import Family, FormKind, Plane
from aspectum.pictures.finding import ARC_POINTS, FoundEdge, FoundInPicture, FoundRim
from aspectum.pictures.pencil import PencilSheet, Place, Snapped
from aspectum.pictures.registering import lined_in
from aspectum.pictures.round_lines import round_places

Floats = NDArray[np.float64]
Pixels = NDArray[np.uint8]
DrawnRim = tuple[Place, float, float, float]  # centre, half axes (px), direction of the major axis (radians, y down)

FINE = 4.0  # px a millimetre in which closed groups are looked for
GAP_MM = (0.0, 1.6, 3.0)  # that lines may stop short of one another at a corner, tried in turn
SMALLEST_MM2, LARGEST = 60.0, 0.6  # of what lines close round, and of the sheet
CORNER_MM, LEAST_SIDE_MM = (
    1.8,
    6.0,
)  # by which a face's outline may leave its four straight sides, and the shortest of these
ROUND, RIM_OFF_MM = 0.05, 0.28  # by which a closed line may leave its ellipse: of its half axes, and at least
LEAST_RIM_MM, LEAST_OPEN_MM = (
    8.0,
    3.0,
)  # width of a rim, and how far it opens: what is flatter may be two lines side by side
FREEHAND = 2.0  # times as far as a photo's lines may a freehand's lie apart and be one
COVERED = 0.15  # of a coarser pixel that a line must cover to be drawn in it
SAME_RIM = 0.12  # of its width by which one rim's ends may lie off those of another below it
EDGE_SURE, RIM_SURE = 0.86, 0.85  # how many of those proposed are right, by simulation


def find_drawn(picture: Pixels, px_per_mm: float) -> FoundInPicture:
    """What a flattened drawing (RGB) shows, of which nothing is known: the faces of boxes and the rims of round forms,
    light construction left out.
    """
    high, wide = picture.shape[:2]
    nothing = FoundInPicture(wide, high, None)
    sheet = PencilSheet(picture, px_per_mm)
    ink = lined_in(sheet)
    if ink is None:
        return nothing
    times = min(FINE / px_per_mm, 1.0)
    small = np.asarray(
        cv2.resize(ink.astype(np.float32), (round(wide * times), round(high * times)), interpolation=cv2.INTER_AREA)
        > COVERED,
        np.uint8,
    )
    mm = px_per_mm * times
    diagonal = float(np.hypot(wide, high))
    lines: list[Snapped] = []
    faces: list[Face] = []
    rims: list[DrawnRim] = []
    for gap in GAP_MM:
        size = round(gap * mm) | 1
        closed = (
            small
            if size < 3
            else cv2.morphologyEx(small, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (size, size)))
        )
        for outline in holes(np.asarray(closed, np.uint8), mm):
            if (rim := rim_round(sheet, outline, times, mm)) is not None:
                if not any(same_rim(rim, other) for other in rims):
                    rims.append(rim)
            elif (corners := four_corners(outline, mm)) is not None:
                add_face(sheet, corners / times, lines, faces, diagonal)
    forms, edges = boxes(lines, faces)
    found_rims = []
    for form, own in enumerate(rim_forms(rims), start=len(forms)):
        found_rims += [rim_at(rim, form) for rim in own]
        edges += sides_of(sheet, own, form)
        forms.append(FormKind.CYLINDER)
    return FoundInPicture(wide, high, None, forms=forms, edges=edges, rims=found_rims)


def holes(ink: NDArray[np.uint8], mm: float) -> list[Floats]:
    """Outlines (n, 2; px) of what lines close round, along their inner edges."""
    contours, order = cv2.findContours(ink, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    found = []
    for contour, (_, _, _, parent) in zip(contours, [] if order is None else order[0], strict=False):
        area = cv2.contourArea(contour) / mm**2
        if parent >= 0 and SMALLEST_MM2 < area < LARGEST * ink.size / mm**2:
            found.append(contour[:, 0].astype(float) + 0.5)
    return found


def rim_round(sheet: PencilSheet, outline: Floats, times: float, mm: float) -> DrawnRim | None:
    """The ellipse that an outline is, drawn to the pencil's line; None for one of another shape."""
    (x, y), (one, other), turn = cv2.fitEllipse(outline.astype(np.float32))
    major, minor, angle = (one / 2, other / 2, turn) if one > other else (other / 2, one / 2, turn + 90.0)
    if 2 * major < LEAST_RIM_MM * mm or 2 * minor < LEAST_OPEN_MM * mm:
        return None
    t = float(np.radians(angle))
    if np.quantile(off_round(outline, (x, y), major, minor, t), 0.9) > max(ROUND, RIM_OFF_MM * mm / minor):
        return None
    found = sheet.snap_rim((x / times, y / times), major / times, minor / times, t)
    return None if found is None else (found.centre, found.major, found.minor, found.angle)


def same_rim(one: DrawnRim, other: DrawnRim) -> bool:
    """Whether two ellipses are one, or one is the other over again."""
    return bool(
        np.hypot(*np.subtract(one[0], other[0])) < 0.2 * one[2] + 0.05 * one[1] and abs(one[1] / other[1] - 1.0) < 0.15
    )


def four_corners(outline: Floats, mm: float) -> Floats | None:
    """The corners (4, 2) of an outline with four straight sides; None for one of another shape."""
    for slack in (CORNER_MM, 1.6 * CORNER_MM):
        shape = cv2.approxPolyDP(outline.astype(np.float32), slack * mm, True)[:, 0].astype(float)
        if len(shape) == 4 and cv2.isContourConvex(shape.astype(np.float32)):
            sides = np.hypot(*(np.roll(shape, -1, axis=0) - shape).T)
            return shape if sides.min() > LEAST_SIDE_MM * mm else None
    return None


def add_face(sheet: PencilSheet, corners: Floats, lines: list[Snapped], faces: list[Face], diagonal: float) -> None:
    """A face by its four pencil lines; a line that another face has is that one."""
    sides: list[int] = []
    for k in range(4):
        p, q = corners[k], corners[(k + 1) % 4]
        line = sheet.snap((float(p[0]), float(p[1])), (float(q[0]), float(q[1])))
        if line is None:
            return
        again = np.flatnonzero(lies_again(np.array(line.p), np.array(line.q), *ends_of(lines), FREEHAND * diagonal))
        if len(again):
            sides.append(int(again[0]))
        else:
            lines.append(line)
            sides.append(len(lines) - 1)
    if len(set(sides)) == 4 and all(set(sides) != set(face) for face in faces):
        faces.append((sides[0], sides[1], sides[2], sides[3]))


def boxes(lines: list[Snapped], faces: list[Face]) -> tuple[list[FormKind], list[FoundEdge]]:
    """Faces that share a side are one form; its edges by what they run along."""
    p, q = ends_of(lines)
    forms = joined(faces)
    found = [
        (number, n, which) for number, form in enumerate(forms) for n, which in sorted(sides_along(p, q, form).items())
    ]
    return [FormKind.BOX] * len(forms), [
        FoundEdge(lines[n].p, lines[n].q, number, which, EDGE_SURE) for number, n, which in found
    ]


def ends_of(lines: list[Snapped]) -> tuple[Floats, Floats]:
    """Both ends of lines, (n, 2) each."""
    return np.array([line.p for line in lines], float).reshape(-1, 2), np.array(
        [line.q for line in lines], float
    ).reshape(-1, 2)


def rim_forms(rims: list[DrawnRim]) -> list[list[DrawnRim]]:
    """Rims gathered into round forms: one under another and about as wide is of the same."""
    forms: list[list[DrawnRim]] = []
    for rim in rims:
        (x, _), major = rim[:2]
        own = next(
            (
                form
                for form in forms
                if any(abs(c[0] - x) < SAME_RIM * major and abs(m / major - 1.0) < 3 * SAME_RIM for c, m, _, _ in form)
            ),
            None,
        )
        if own is None:
            forms.append([rim])
        else:
            own.append(rim)
    return forms


def rim_at(rim: DrawnRim, form: int) -> FoundRim:
    return FoundRim(tuple((float(x), float(y)) for x, y in round_places(*rim, ARC_POINTS)), form, Plane.LEVEL, RIM_SURE)


def sides_of(sheet: PencilSheet, rims: list[DrawnRim], form: int) -> list[FoundEdge]:
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
