"""Worksheets as they come back: printed, filled in with a pencil whose errors are known, and photographed."""

from __future__ import annotations

import io
import math
from dataclasses import dataclass, field

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from aspectum.core.plane.lines import tilt_deg, tilt_difference
from aspectum.core.worksheet.exercise import ExerciseKind, Grade
from aspectum.core.worksheet.make import make
from aspectum.formats.worksheet import AskedLine, Worksheet
from aspectum.pictures.corner_marks import find_marks, sheet_corners
from aspectum.pictures.paper import flatten
from aspectum.pictures.pencil import PencilSheet, covered
from aspectum.service.pages.pdf_picture import picture_of_page
from aspectum.service.pages.worksheet_page import Page, field_of, worksheets_pdf
from aspectum.service.school.brought_back import ERASED_MM, printed_lines
from aspectum.service.school.worksheets import worksheet_of
from tests.paper_photos import PaperPhoto, photograph
from tests.scenes import Vec

Pixels = NDArray[np.uint8]
PPM = 8.0  # px a mm of the sheet before it is photographed
GRAPHITE = np.array([72, 72, 78], float)
A4 = (297.0, 210.0)


def printed_sheet(
    kind: ExerciseKind,
    seed: int = 5,
    grade: Grade = Grade.EASY,
    code: int = 123_456,
    paper: str = "A4",
    paper_mm: tuple[float, float] = A4,
) -> Worksheet:
    """A worksheet as it is kept when it is printed."""
    inside = field_of(paper_mm)
    exercise = make(kind, (inside.wide, inside.high), grade, seed)
    return worksheet_of(exercise, inside, code=code, seed=seed, copy_number=1, paper=paper, paper_mm=paper_mm)


@dataclass(frozen=True)
class Filled:
    """``turned``: by how many degrees each straight line was drawn off, by id; ``flatter``: rims; ``photo`` and its
    JPEG.
    """

    photo: PaperPhoto
    jpeg: bytes
    turned: dict[str, float] = field(default_factory=dict)
    flatter: dict[str, float] = field(default_factory=dict)


def printed_pixels(sheet: Worksheet) -> Pixels:
    """The printed page, RGB."""
    size = round(sheet.paper_mm[0] * PPM), round(sheet.paper_mm[1] * PPM)
    png = picture_of_page(worksheets_pdf("", [Page(sheet)], answers=False), size=size)
    return np.asarray(Image.open(io.BytesIO(png)).convert("RGB"))


def filled(
    sheet: Worksheet,
    seed: int,
    slant_deg: float = 20.0,
    off: dict[str, float] | None = None,
    hand: bool = False,
    scatter: float = 0.8,
) -> Filled:
    """A worksheet filled in by a fair hand (``scatter``, degrees) that draws the lines in ``off`` wrong by so many
    degrees: straight ones turned about their middle, rims flatter.
    """
    rng = np.random.default_rng(seed)
    picture = np.asarray(printed_pixels(sheet), float)
    turned: dict[str, float] = {}
    flatter: dict[str, float] = {}
    for asked in sheet.asked:
        wrong = (off or {}).get(asked.id, 0.0) + float(rng.normal(0, scatter))
        if asked.line is not None:
            wrong = wrong if sheet.kind is not ExerciseKind.EYE_LEVEL else float(rng.normal(0, 0.3))
            turned[asked.id] = wrong
            pencil(picture, straight(asked, wrong), rng)
        elif asked.ellipse is not None:
            flatter[asked.id] = wrong
            pencil(picture, whole(asked, wrong), rng)
    photo = photograph(
        rng, slant_deg, sheet.paper_mm, hand=hand, size=(2000, 1500), sheet=np.clip(picture, 0, 255).astype(np.uint8)
    )
    out = io.BytesIO()
    Image.fromarray(photo.picture).save(out, "JPEG", quality=84, optimize=True)
    return Filled(photo, out.getvalue(), turned, flatter)


def straight(asked: AskedLine, turned_deg: float) -> Vec:
    """A straight line (n, 2; mm), turned anticlockwise about its middle."""
    assert asked.line is not None
    p, q = (np.array(end) for end in asked.line)
    a = math.radians(turned_deg)
    half = np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]]) @ ((q - p) / 2)
    return np.asarray((p + q) / 2 + np.linspace(-1, 1, 40)[:, None] * half)


def whole(asked: AskedLine, flatter_deg: float) -> Vec:
    """An ellipse (n, 2; mm), by so many degrees flatter than it is asked."""
    assert asked.ellipse is not None
    e = asked.ellipse
    degree = max(math.degrees(math.asin(min(e.minor / e.major, 1.0))) - flatter_deg, 1.5)
    tilt = math.radians(e.axis_deg - 90.0)
    t = np.linspace(0, 2 * np.pi, 120)
    u, v = e.major / 2 * np.cos(t), e.major / 2 * math.sin(math.radians(degree)) * np.sin(t)
    return np.column_stack(
        [e.centre[0] + u * math.cos(tilt) - v * math.sin(tilt), e.centre[1] - u * math.sin(tilt) - v * math.cos(tilt)]
    )


def pencil(sheet: Vec, path: Vec, rng: np.random.Generator, dark: float = 0.62, wide_mm: float = 0.4) -> None:
    """One stroke along ``path`` (n, 2; mm): two passes that wander a little."""
    for _ in range(2):
        layer = np.zeros(sheet.shape[:2], np.float32)
        wander = np.cumsum(rng.normal(0, 0.02, path.shape), axis=0)
        wander -= np.linspace(0, 1, len(path))[:, None] * wander[-1]
        at = np.round((path + wander + rng.normal(0, 0.06, 2)) * PPM * 16).astype(np.int32)
        cv2.polylines(layer, [at], False, 1.0, max(1, round(wide_mm * PPM)), cv2.LINE_AA, 4)
        cover = (layer * (0.72 + 0.28 * rng.random(layer.shape, dtype=np.float32)) * dark)[..., None]
        sheet *= 1 - cover
        sheet += GRAPHITE * cover


@dataclass
class ReadBack:
    """What a photo of a worksheet was read as: ``known``: by its own number; ``found`` of ``asked`` lines; errors of
    tilts and degrees (degrees).
    """

    known: bool = False
    asked: int = 0
    found: int = 0
    tilts: list[float] = field(default_factory=list)
    degrees: list[float] = field(default_factory=list)


def read_back(sheet: Worksheet, back: Filled) -> ReadBack:
    """Read a photographed worksheet as it is when it is brought back, and compare with what the pencil drew."""
    lines = [a for a in sheet.asked if a.line is not None or a.ellipse is not None]
    told = ReadBack(asked=len(lines))
    found = find_marks(back.photo.picture)
    corners = None if found is None or found.code != sheet.code else sheet_corners(found, sheet.paper_mm)
    if corners is None:
        return told
    told.known = True
    flat = flatten(back.photo.picture, np.array(corners), sheet.paper_mm)
    scale = flat.px_per_mm
    pencil = PencilSheet(flat.pixels, scale, covered(flat.pixels.shape, printed_lines(sheet, scale), ERASED_MM * scale))
    for a in lines:
        if a.line is not None:
            p, q = (np.array(end) * scale for end in a.line)
            line = pencil.snap((p[0], p[1]), (q[0], q[1]))
            if line is not None:
                told.found += 1
                told.tilts.append(float(tilt_difference(tilt_deg(line.p, line.q), tilt_deg(p, q) + back.turned[a.id])))
        elif a.ellipse is not None:
            e = a.ellipse
            rim = pencil.snap_rim(
                (e.centre[0] * scale, e.centre[1] * scale),
                e.major / 2 * scale,
                e.minor / 2 * scale,
                math.radians(90.0 - e.axis_deg),
            )
            if rim is not None:
                told.found += 1
                due = max(math.degrees(math.asin(e.minor / e.major)) - back.flatter[a.id], 1.5)
                told.degrees.append(math.degrees(math.asin(min(rim.minor / rim.major, 1.0))) - due)
    return told
