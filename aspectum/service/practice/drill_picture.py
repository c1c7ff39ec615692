"""The picture of a drill's question, as pixels: whoever is asked gets no lines or coordinates to reckon the answer
from.
"""

from __future__ import annotations

import io
import math
from collections.abc import Iterable, Sequence

import cv2
import numpy as np
from PIL import Image as Pictures
from PIL import ImageDraw, ImageFont

from aspectum.core.plane.lines import Floats
from aspectum.core.practice.question import Mark, MarkRole, Question, Window
from aspectum.core.sightings import Point
from aspectum.core.stand.camera import View
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.drawn import Drawing
from aspectum.core.stand.solid import Lathe, Solid
from aspectum.pictures.shading import Facet, Image, shaded

GROUND = (188, 197, 186)  # the drawing room's toned paper
CHALK = np.array((243.0, 242.0, 235.0))
DARKEST = 0.62  # of chalk white, the tone of what is turned from the light
LIGHT = np.array(
    (-0.45, -0.55, 0.7)
)  # from over the viewer's left shoulder, in the room as the picture's first view has it
INK, TEAL, PLUM = (38, 44, 42), (0, 106, 110), (112, 52, 112)
COLOURS = {MarkRole.ASKED: TEAL, MarkRole.UNIT: PLUM, MarkRole.GIVEN: INK}
AROUND = 40  # facets round a turned form: its outline is drawn over them exactly
SHIFT = 4
STRIP_PX = 8.0  # along a profile, under which shading shows no strips
WHITE = (255, 255, 255)
Colour = tuple[int, int, int]
LETTER_PX = 26
QUALITY = 88


def question_png(question: Question) -> bytes:
    """The set-up as it is seen, shaded and drawn, with what is pointed out. Raises ``ValueError`` for a question about
    a picture of one's own.
    """
    if question.stand is None or question.view is None:
        raise ValueError("the question is about a picture of one's own")
    drawing, view = draw(question.stand, question.view), question.view
    window = question.window or Window(0.0, 0.0, view.width_px, view.height_px)
    left_out = bool(question.without_edges or question.without_rims)
    # shading would show what the lines leave out
    faces = (
        []
        if left_out
        else [
            _through(facet, window, view.width_px / window.width)
            for facet in facets(drawing, view.width_px / window.width)
        ]
    )
    canvas = Canvas(shaded(view.width_px, view.height_px, GROUND, faces), window)
    canvas.ink(drawing, set(question.without_edges), set(question.without_rims))
    return _written(canvas.marked(question.marks), "PNG")


def question_jpeg(question: Question, photo: bytes) -> bytes:
    """A photo of one's own with what is pointed out on it. Raises ``ValueError`` for a question about a set-up."""
    if question.window is None or question.stand is not None:
        raise ValueError("the question is about a set-up")
    with Pictures.open(io.BytesIO(photo)) as opened:
        image = np.asarray(opened.convert("RGB")).copy()
    return _written(Canvas(image, question.window).marked(question.marks), "JPEG")


def drawing_png(drawing: Drawing) -> bytes:
    """A set-up as it is seen, shaded and drawn, in its view's own pixels."""
    view = drawing.view
    canvas = Canvas(
        shaded(view.width_px, view.height_px, GROUND, facets(drawing, 1.0)),
        Window(0.0, 0.0, view.width_px, view.height_px),
    )
    canvas.ink(drawing, set(), set())
    return _written(canvas.image, "PNG")


def _written(image: Image, kind: str) -> bytes:
    out = io.BytesIO()
    picture = Pictures.fromarray(image)
    if kind == "PNG":
        picture.save(out, "PNG", compress_level=3)
    else:
        picture.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def facets(drawing: Drawing, scale: float) -> list[Facet]:
    """Every face that is turned to the eye, turned forms in flat strips as fine as ``scale`` (shown pixels over the
    drawing's) can show.
    """
    found: list[Facet] = []
    for placed in drawing.placed:
        if placed.own is not None:
            solid = placed.body
            found += _flat(solid, drawing.view)
            for lathe in solid.lathes:
                found += _turned(lathe, drawing.view, scale)
    return found


def _flat(solid: Solid, view: View) -> Iterable[Facet]:
    for f in range(solid.faces):
        rings = solid.rings(f)
        if float(solid.normal[f] @ view.to_viewer(rings[0][0])) > 0.0:
            yield Facet(tuple(view.project(ring) for ring in rings), _nearness(rings[0], view), _tone(solid.normal[f]))


def _turned(lathe: Lathe, view: View, scale: float) -> Iterable[Facet]:
    turns = 2.0 * math.pi * np.arange(AROUND + 1) / AROUND
    out = np.cos(turns)[:, None] * lathe.first_way + np.sin(turns)[:, None] * lathe.second_way
    middle = (
        np.cos(turns[:-1] + math.pi / AROUND)[:, None] * lathe.first_way
        + np.sin(turns[:-1] + math.pi / AROUND)[:, None] * lathe.second_way
    )
    kept = _shown_circles(lathe, view, scale)
    radius, height = lathe.radius[kept], lathe.height[kept]
    rows = lathe.origin + height[:, None, None] * lathe.axis + radius[:, None, None] * out[None]
    # every strip's four corners, (bands, AROUND, 4, 3), and its normal
    rings = np.stack([rows[:-1, :-1], rows[:-1, 1:], rows[1:, 1:], rows[1:, :-1]], axis=2)
    normals = np.diff(height)[:, None, None] * middle[None] - np.diff(radius)[:, None, None] * lathe.axis
    normals /= np.maximum(np.linalg.norm(normals, axis=2, keepdims=True), 1e-12)
    middles = rings.mean(axis=2)
    ways = view.to_viewer(middles)
    seen, nearness = view.project(rings), _nearness(rings, view)
    for band, k in np.argwhere((normals * ways).sum(axis=2) > 0.0):
        yield Facet((seen[band, k],), nearness[band, k], _tone(normals[band, k]))


def _shown_circles(lathe: Lathe, view: View, scale: float) -> list[int]:
    """Which circles of a profile are kept: corners and ends, and between them one every few pixels."""
    near = float(view.depths(lathe.origin + lathe.height[:, None] * lathe.axis).min())
    px_per_m = scale * (view.focal_px / max(near, 1e-3) if view.parallel is None else view.px_per_m)
    kept, last = [0], 0
    for i in range(1, len(lathe.radius)):
        far = (
            math.hypot(float(lathe.radius[i] - lathe.radius[last]), float(lathe.height[i] - lathe.height[last]))
            * px_per_m
        )
        if far >= STRIP_PX or lathe.corner[i] or i == len(lathe.radius) - 1:
            kept.append(i)
            last = i
    return kept


def _nearness(points: Floats, view: View) -> Floats:
    nearness: Floats = 1.0 / view.depths(points) if view.parallel is None else -(points @ view.towards)
    return nearness


def _tone(normal: Floats) -> Colour:
    lit = max(0.0, float(normal @ LIGHT) / float(np.linalg.norm(LIGHT)))
    r, g, b = (CHALK * (DARKEST + (1.0 - DARKEST) * lit)).round().astype(int).tolist()
    return r, g, b


def _through(facet: Facet, window: Window, scale: float) -> Facet:
    return Facet(tuple((ring - (window.x, window.y)) * scale for ring in facet.rings), facet.nearness, facet.tone)


class Canvas:
    """An RGB picture that a window of the question's plane fills."""

    def __init__(self, image: Image, window: Window) -> None:
        """``image`` is drawn on."""
        self.image = image
        self.window = window
        self.scale = image.shape[1] / window.width

    def at(self, point: Point) -> Point:
        """Where a point of the question's plane is on the picture (px)."""
        return (point[0] - self.window.x) * self.scale, (point[1] - self.window.y) * self.scale

    def ink(self, drawing: Drawing, without_edges: set[int], without_rims: set[int]) -> None:
        """Draw what is seen of a drawing, but for what is left out."""
        lines = [line for k, line in enumerate(drawing.edges) if k not in without_edges]
        for line in (*lines, *drawing.outlines):
            for a, b in line.visible:
                self.line((line.at(a), line.at(b)), INK, 2)
        for k, rim in enumerate(drawing.rims):
            for a, b in () if k in without_rims else rim.visible:
                steps = max(2, math.ceil(96 * (b - a)))
                self.line([rim.at(a + (b - a) * i / steps) for i in range(steps + 1)], INK, 2)
        for curve in drawing.curves:
            along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(np.array(curve.points), axis=0).T))])
            along /= along[-1] or 1.0
            for a, b in curve.visible:
                shares = np.unique([a, *along[(along > a) & (along < b)], b])
                x, y = np.array(curve.points).T
                self.line(
                    list(zip(np.interp(shares, along, x).tolist(), np.interp(shares, along, y).tolist(), strict=True)),
                    INK,
                    2,
                )

    def line(self, points: Sequence[Point], colour: Colour, width: int) -> None:
        """A line through points of the question's plane."""
        # pixel centres lie at half pixels, OpenCV's at whole ones
        laid = np.round((np.array([self.at(p) for p in points]) - 0.5) * (1 << SHIFT)).astype(np.int32)
        cv2.polylines(self.image, [laid.reshape(-1, 1, 2)], False, colour, width, cv2.LINE_AA, SHIFT)

    def dot(self, point: Point, colour: Colour, radius: float) -> None:
        """A dot at a point of the question's plane."""
        x, y = (round((v - 0.5) * (1 << SHIFT)) for v in self.at(point))
        cv2.circle(self.image, (x, y), round(radius * (1 << SHIFT)), colour, -1, cv2.LINE_AA, SHIFT)

    def marked(self, marks: Sequence[Mark]) -> Image:
        """The picture with what is pointed out and its letters."""
        for mark in marks:
            colour = COLOURS[mark.role]
            if len(mark.points) == 1:
                self.dot(mark.points[0], WHITE, 9.0)
                self.dot(mark.points[0], colour, 6.0)
                continue
            if mark.role is not MarkRole.GIVEN:
                self.line(mark.points, WHITE, 8)
            self.line(mark.points, colour, 2 if mark.role is MarkRole.GIVEN else 4)
            for end in mark.points if mark.role is MarkRole.UNIT and len(mark.points) == 2 else ():
                self.dot(end, colour, 5.0)
        picture = Pictures.fromarray(self.image)
        pen, font = ImageDraw.Draw(picture), ImageFont.load_default(LETTER_PX)
        height, width = self.image.shape[:2]
        for mark in marks:
            if mark.letter:
                x, y = _letter_at([self.at(p) for p in mark.points], width, height)
                pen.ellipse((x - 19, y - 19, x + 19, y + 19), fill=WHITE, outline=COLOURS[mark.role], width=2)
                pen.text((x, y), mark.letter, fill=COLOURS[mark.role], font=font, anchor="mm")
        return np.asarray(picture)


def _letter_at(points: list[Point], width: int, height: int) -> Point:
    """Beside the middle of a line, or above a point, within the picture."""
    if len(points) == 1:
        x, y = points[0][0], points[0][1] - 36.0
    elif len(points) == 2:
        (x0, y0), (x1, y1) = points
        size = math.hypot(x1 - x0, y1 - y0) or 1.0
        side = 1.0 if x1 >= x0 else -1.0
        x, y = (x0 + x1) / 2 + side * 34.0 * (y1 - y0) / size, (y0 + y1) / 2 - side * 34.0 * (x1 - x0) / size
    else:
        x, y = min(p[0] for p in points) - 34.0, sum(p[1] for p in points) / len(points)
    return min(max(x, 24.0), width - 24.0), min(max(y, 24.0), height - 24.0)
