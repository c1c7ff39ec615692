"""Simulated photos of a sheet of paper on a board, at a slant, under uneven light, with a shadow and a hand at its
edge.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from tests.scenes import Vec

Pixels = NDArray[np.uint8]
Tones = NDArray[np.float32]
PPM = 6.0  # px a mm of the sheet before it is photographed


@dataclass(frozen=True)
class PaperPhoto:
    """``corners`` (4, 2): px of the photo, clockwise from the sheet's top left; ``to_photo``: from mm on the sheet to
    the photo.
    """

    picture: Pixels
    corners: Vec
    paper_mm: tuple[float, float]
    slant_deg: float
    to_photo: Vec

    def at(self, mm: Vec) -> Vec:
        """Places on the sheet (n, 2), mm, in the photo."""
        image = np.column_stack([mm, np.ones(len(mm))]) @ self.to_photo.T
        return np.asarray(image[:, :2] / image[:, 2:])


def sheet_with_lines(rng: np.random.Generator, paper_mm: tuple[float, float]) -> Pixels:
    """A white sheet with some pencil lines on it."""
    sheet = np.full((round(paper_mm[1] * PPM), round(paper_mm[0] * PPM), 3), 243, np.uint8)
    for _ in range(14):
        p, q = (rng.uniform(0.15, 0.85, 2) * np.array(paper_mm) * PPM for _ in range(2))
        cv2.line(sheet, (int(p[0]), int(p[1])), (int(q[0]), int(q[1])), (95, 95, 100), 3, cv2.LINE_AA)
    return sheet


def photograph(
    rng: np.random.Generator,
    slant_deg: float,
    paper_mm: tuple[float, float] = (297.0, 210.0),
    hand: bool = True,
    size: tuple[int, int] = (1600, 1200),
    sheet: Pixels | None = None,
) -> PaperPhoto:
    """The sheet seen from ``slant_deg`` off its normal, from any side, turned by up to 12 degrees."""
    wide, high = size
    focal = wide * rng.uniform(24, 32) / 36.0
    around, turn = rng.uniform(0, 2 * np.pi), np.radians(rng.uniform(-12, 12))
    s = np.radians(slant_deg)
    away = np.array([np.sin(s) * np.cos(around), np.sin(s) * np.sin(around), -np.cos(s)])
    ahead = -away
    aside = np.cross([0.0, 1.0, 0.0], ahead)
    aside /= np.linalg.norm(aside)
    down = np.cross(ahead, aside)
    aside, down = np.cos(turn) * aside + np.sin(turn) * down, np.cos(turn) * down - np.sin(turn) * aside
    distance = max(paper_mm) * rng.uniform(1.02, 1.25)
    for _ in range(40):
        eye = (
            np.array([paper_mm[0] / 2, paper_mm[1] / 2, 0.0]) + away * distance + np.append(rng.uniform(-6, 6, 2), 0.0)
        )
        look = np.stack([aside, down, ahead])
        inner = np.array([[focal, 0, wide / 2], [0, focal, high / 2], [0, 0, 1.0]])
        to_photo = inner @ look @ np.column_stack([[1, 0, 0], [0, 1, 0], -eye])
        corners = np.array([[0, 0], [paper_mm[0], 0], [paper_mm[0], paper_mm[1]], [0, paper_mm[1]]])
        image = np.column_stack([corners, np.ones(4)]) @ to_photo.T
        seen = image[:, :2] / image[:, 2:]
        if seen.min() > 12 and seen[:, 0].max() < wide - 12 and seen[:, 1].max() < high - 12:
            break
        distance *= 1.06
    board = wooden(rng, size)
    flat = sheet_with_lines(rng, paper_mm) if sheet is None else sheet
    mm_to_sheet = np.diag([flat.shape[1] / paper_mm[0], flat.shape[0] / paper_mm[1], 1.0])
    # pixel centres: +0.5 in the photo, whole numbers in OpenCV
    half = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1.0]])
    warp = half @ to_photo @ np.linalg.inv(mm_to_sheet) @ np.linalg.inv(half)
    paper = cv2.warpPerspective(flat, warp, size, flags=cv2.INTER_AREA)
    # single precision is a thousandth of a grey level, and takes half the time
    cover = cv2.warpPerspective(np.full(flat.shape[:2], 1, np.float32), warp, size, flags=cv2.INTER_LINEAR)[..., None]
    drop = cv2.GaussianBlur(np.roll(cover[..., 0], (4, 5), (0, 1)), (0, 0), 4)[..., None]
    picture = board * ((1 - np.float32(0.35) * drop) * (1 - cover)) + paper * cover
    picture *= light(rng, size)
    if hand:
        lay_hand(rng, picture, seen)
    picture = cv2.GaussianBlur(picture, (0, 0), 0.8) + rng.normal(0, 3.0, picture.shape).astype(np.float32)
    return PaperPhoto(np.clip(picture, 0, 255).astype(np.uint8), seen, paper_mm, slant_deg, to_photo)


def wooden(rng: np.random.Generator, size: tuple[int, int]) -> Tones:
    """A drawing board: grain along one way, a colour between pale plywood and dark stain."""
    wide, high = size
    grain = cv2.GaussianBlur(rng.normal(0, 1, (high, wide)).astype(np.float32), (0, 0), sigmaX=60, sigmaY=1.5)
    grain = grain / grain.std()
    colour = np.array(
        [[176, 142, 104], [128, 98, 70], [84, 66, 52], [96, 108, 98]][int(rng.integers(4))], float
    ) * rng.uniform(0.85, 1.08)
    return np.asarray(colour.astype(np.float32) + np.float32(7.0) * grain[..., None])


def light(rng: np.random.Generator, size: tuple[int, int]) -> Tones:
    """Light that falls off across the picture, with the soft edge of a shadow over part of it."""
    wide, high = size
    x, y = np.meshgrid(np.linspace(-1, 1, wide, dtype=np.float32), np.linspace(-1, 1, high, dtype=np.float32))
    a, b = rng.uniform(-0.14, 0.14, 2)
    across = rng.uniform(0, 2 * np.pi)
    edge = np.cos(across) * x + np.sin(across) * y - rng.uniform(-0.5, 0.9)
    shadow = 1 - rng.uniform(0.1, 0.38) / (1 + np.exp(-edge * rng.uniform(5, 40)))
    return np.asarray(((0.94 + a * x + b * y) * shadow)[..., None], np.float32)


def lay_hand(rng: np.random.Generator, picture: Tones, corners: Vec) -> None:
    """Fingers and a wrist over one side of the sheet, not over its corners."""
    side = int(rng.integers(4))
    share = rng.uniform(0.25, 0.75)
    at = corners[side] + (corners[(side + 1) % 4] - corners[side]) * share
    inward = corners.mean(axis=0) - at
    inward /= np.linalg.norm(inward)
    skin = np.array([[205, 160, 135], [150, 105, 80], [95, 66, 52]][int(rng.integers(3))], float) * rng.uniform(
        0.9, 1.1
    )
    mask = np.zeros(picture.shape[:2], np.uint8)
    along = np.array([-inward[1], inward[0]])
    for k in range(-1, 3):
        tip = at + inward * rng.uniform(40, 90) + along * (k * 34)
        root = at - inward * 70 + along * (k * 30)
        cv2.line(mask, tuple(int(v) for v in tip), tuple(int(v) for v in root), 255, 30, cv2.LINE_AA)
    cv2.line(
        mask, tuple(int(v) for v in at - inward * 70), tuple(int(v) for v in at - inward * 500), 255, 120, cv2.LINE_AA
    )
    cover = cv2.GaussianBlur(mask, (0, 0), 1.5)[..., None] / np.float32(255)
    shade = cv2.GaussianBlur(np.roll(mask, (8, 8), (0, 1)), (0, 0), 8)[..., None] / np.float32(255)
    picture *= 1 - np.float32(0.25) * shade
    picture *= 1 - cover
    picture += skin.astype(np.float32) * cover
