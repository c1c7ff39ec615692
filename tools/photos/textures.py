"""Bitmaps drawn in numpy: wood, brick, setts, plaster, slates, sky, water."""

from __future__ import annotations

import cv2
import numpy as np
from numpy.typing import NDArray

Bitmap = NDArray[np.float32]


def noise(rng: np.random.Generator, height: int, width: int, cells: int, octaves: int = 4) -> Bitmap:
    """Tiling value noise in 0..1 with ``cells`` cells across the shorter side."""
    total = np.zeros((height, width), np.float32)
    weight = 1.0
    for octave in range(octaves):
        n = max(2, cells * 2**octave)
        rows, columns = max(2, n * height // min(height, width)), max(2, n * width // min(height, width))
        if rows >= height or columns >= width:
            break
        grid = rng.random((rows, columns), dtype=np.float32)
        grid = np.pad(grid, 2, mode="wrap")
        scale_y, scale_x = height / rows, width / columns
        y = (np.arange(height) / scale_y + 2).astype(np.float32)
        x = (np.arange(width) / scale_x + 2).astype(np.float32)
        total += weight * cv2.remap(grid, *np.meshgrid(x, y), cv2.INTER_CUBIC)
        weight *= 0.5
    total -= total.min()
    return total / max(float(total.max()), 1e-6)


def tint(value: Bitmap, dark: tuple[float, float, float], light: tuple[float, float, float]) -> Bitmap:
    """Mix two colours by ``value`` (0..1)."""
    v = value[..., None]
    return (np.array(dark, np.float32) * (1 - v) + np.array(light, np.float32) * v).astype(np.float32)


def wood(rng: np.random.Generator, dark: tuple[float, float, float], light: tuple[float, float, float]) -> Bitmap:
    """Long grain along u: 1024 wide, 256 high."""
    height, width = 256, 1024
    warp = cv2.resize(noise(rng, 256, 256, 2, 3), (width, height), interpolation=cv2.INTER_CUBIC) * 9
    v = np.arange(height, dtype=np.float32)[:, None]
    rings = 0.5 + 0.5 * np.sin(v * 0.11 + warp)
    fibre = cv2.GaussianBlur(rng.random((height, width), dtype=np.float32), (0, 0), sigmaX=28, sigmaY=0.8)
    fibre = (fibre - fibre.min()) / (fibre.max() - fibre.min())
    value = 0.3 * rings**1.6 + 0.55 * fibre + 0.15 * noise(rng, height, width, 3, 2)
    for _ in range(rng.integers(1, 3)):
        cx, cy = rng.integers(100, width - 100), rng.integers(40, height - 40)
        y, x = np.mgrid[0:height, 0:width].astype(np.float32)
        value -= 0.55 * np.exp(-(((x - cx) / 26) ** 2) - ((y - cy) / 9) ** 2)
    return tint(np.clip(value, 0, 1).astype(np.float32), dark, light)


def courses(
    rng: np.random.Generator,
    rows: int,
    per_row: int,
    joint: float,
    dark: tuple[float, float, float],
    light: tuple[float, float, float],
    mortar: tuple[float, float, float],
    size: tuple[int, int] = (1024, 1024),
) -> tuple[Bitmap, Bitmap]:
    """Half-bond courses of brick, block or sett that tile; the colour and a height map."""
    height, width = size
    y, x = np.mgrid[0:height, 0:width].astype(np.float32)
    wobble = (noise(rng, height, width, 20, 2) - 0.5) * 3.0
    row = ((y + wobble) / height * rows) % rows
    shift = np.where(np.floor(row).astype(int) % 2 == 0, 0.0, 0.5)
    column = ((x + wobble) / width * per_row + shift) % per_row
    stone = np.floor(row).astype(int) % rows * per_row + np.floor(column).astype(int) % per_row
    tone = rng.normal(0.5, 0.22, rows * per_row).clip(0, 1)[stone].astype(np.float32)
    tone = np.clip(tone + (noise(rng, height, width, 24, 3) - 0.5) * 0.5, 0, 1).astype(np.float32)
    edge_y = np.minimum(row % 1, 1 - row % 1) / rows * height
    edge_x = np.minimum(column % 1, 1 - column % 1) / per_row * width
    inside = np.clip((np.minimum(edge_y, edge_x) - joint) / 3.0, 0, 1).astype(np.float32)
    grit = noise(rng, height, width, 60, 3)
    colour = tint(tone, dark, light) * (0.88 + 0.24 * grit[..., None])
    bed = np.array(mortar, np.float32) * (0.8 + 0.4 * grit[..., None])
    bitmap = colour * inside[..., None] + bed * (1 - inside[..., None])
    return bitmap.astype(np.float32), (inside * 0.7 + grit * 0.3).astype(np.float32)


def mottled(
    rng: np.random.Generator, dark: tuple[float, float, float], light: tuple[float, float, float], cells: int = 6
) -> Bitmap:
    """Plaster, concrete, painted iron: broad stains and fine grit."""
    broad, fine = noise(rng, 1024, 1024, cells, 4), noise(rng, 1024, 1024, 90, 3)
    return tint(np.clip(0.75 * broad + 0.25 * fine, 0, 1).astype(np.float32), dark, light)


def boards(
    rng: np.random.Generator, count: int, dark: tuple[float, float, float], light: tuple[float, float, float]
) -> tuple[Bitmap, Bitmap]:
    """``count`` boards side by side along v, with seams; the colour and a height map."""
    strips = [cv2.resize(wood(rng, dark, light), (1024, 1024 // count)) * rng.uniform(0.8, 1.12) for _ in range(count)]
    colour = np.concatenate(strips, axis=0)
    seam = np.ones(colour.shape[:2], np.float32)
    for k in range(count):
        seam[k * (1024 // count) : k * (1024 // count) + 4] = 0.0
    seam = cv2.GaussianBlur(seam, (0, 0), 1.0)
    return (colour * (0.25 + 0.75 * seam[..., None])).astype(np.float32), seam


def sky(rng: np.random.Generator, warmth: float = 0.0) -> Bitmap:
    """A soft evening sky as a latitude-longitude map, zenith on the first row."""
    height, width = 512, 1024
    altitude = np.linspace(90, -90, height, dtype=np.float32)[:, None] * np.ones((1, width), np.float32)
    up = np.clip(altitude / 90, 0, 1) ** 0.55
    zenith, rim = np.array([0.17, 0.37, 0.80]), np.array([0.80 + 0.14 * warmth, 0.84, 0.90 - 0.10 * warmth])
    colour = rim * (1 - up[..., None]) + zenith * up[..., None]
    cloud = noise(rng, height, width, 4, 6)
    cover = np.clip((cloud - 0.50) * 3.6, 0, 1) * np.clip(altitude / 10, 0, 1)
    colour = colour * (1 - 0.75 * cover[..., None]) + np.array([0.97, 0.95, 0.93]) * 0.75 * cover[..., None]
    ground = np.array([0.32, 0.33, 0.32])
    below = np.clip(-altitude / 3, 0, 1)[..., None]
    return (colour * (1 - below) + ground * below).astype(np.float32)
