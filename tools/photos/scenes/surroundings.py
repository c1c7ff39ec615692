"""What the harbour scenes share: setts, quay walls, water, a far shore, common materials."""

from __future__ import annotations

import numpy as np
import textures
from scenery import Frame, Scene


def common_materials(scene: Scene) -> None:
    rng = scene.rng
    setts, setts_height = textures.courses(rng, 10, 7, 3.0, (0.19, 0.18, 0.17), (0.40, 0.38, 0.35), (0.11, 0.105, 0.09))
    scene.material("setts", setts, metres=(1.5, 1.5), bump=setts_height, bump_scale=0.02, shine=0.35)
    brick, brick_height = textures.courses(
        rng, 16, 5, 3.0, (0.24, 0.085, 0.055), (0.46, 0.20, 0.125), (0.36, 0.34, 0.30)
    )
    scene.material("brick", brick, metres=(1.12, 1.2), bump=brick_height, bump_scale=0.01)
    block, block_height = textures.courses(rng, 4, 2, 3.5, (0.30, 0.28, 0.25), (0.47, 0.45, 0.41), (0.2, 0.19, 0.17))
    scene.material("stone", block, metres=(2.4, 1.6), bump=block_height, bump_scale=0.02)
    for number, (dark, light) in enumerate(
        [
            ((0.27, 0.16, 0.07), (0.56, 0.38, 0.20)),
            ((0.24, 0.17, 0.10), (0.48, 0.39, 0.27)),
            ((0.31, 0.17, 0.08), (0.62, 0.40, 0.19)),
        ]
    ):
        scene.material(f"wood{number}", textures.wood(rng, dark, light), metres=(1.1, 0.27))
    scene.material("dark", (0.02, 0.018, 0.015))
    scene.material("tin-metal", (0.42, 0.42, 0.41), shine=0.16)
    rope = textures.tint(
        np.tile(
            np.abs(np.sin(np.linspace(0, 16 * np.pi, 256))[None, :] + np.linspace(0, 2, 64)[:, None]).astype(np.float32)
            % 1.0,
            (1, 1),
        ),
        (0.25, 0.18, 0.09),
        (0.55, 0.45, 0.28),
    )
    scene.material("rope", rope, metres=(0.35, 0.2))
    grain = textures.mottled(rng, (0.30, 0.30, 0.29), (0.46, 0.45, 0.43))
    scene.material("concrete", grain, metres=(3.0, 3.0), bump=textures.noise(rng, 1024, 1024, 100, 3), bump_scale=0.008)
    ripple = textures.noise(rng, 1024, 1024, 18, 5)
    scene.material("water", (0.025, 0.06, 0.07), metres=(26.0, 9.0), bump=ripple, bump_scale=0.6, shine=0.12)
    scene.material("shore", textures.mottled(rng, (0.06, 0.09, 0.06), (0.16, 0.19, 0.12), 14), metres=(90.0, 60.0))
    scene.material("painted", textures.mottled(rng, (0.60, 0.62, 0.60), (0.74, 0.75, 0.72)), metres=(1.7, 1.7))
    boards, seams = textures.boards(rng, 8, (0.10, 0.12, 0.12), (0.20, 0.235, 0.23))
    scene.material("tarred", boards, metres=(2.4, 1.6), bump=seams, bump_scale=0.02)
    slates, slate_height = textures.courses(
        rng, 12, 8, 2.0, (0.13, 0.14, 0.16), (0.25, 0.265, 0.285), (0.05, 0.05, 0.055)
    )
    scene.material("slates", slates, metres=(2.6, 2.2), bump=slate_height, bump_scale=0.03, shine=0.4)
    scene.material("glass", (0.03, 0.045, 0.05), shine=0.06)
    scene.material("leaf", (0.10, 0.16, 0.05))


def water_and_shore(scene: Scene, from_y: float, level: float, shore_y: float = 240.0, height: float = 13.0) -> None:
    """Open water from ``from_y`` metres out, with a low ragged shore behind it."""

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    scene.quad(
        "water",
        [at(-400, from_y, level), at(400, from_y, level), at(400, shore_y + 60, level), at(-400, shore_y + 60, level)],
    )
    rng = scene.rng
    x = np.linspace(-400, 400, 161)
    ridge = height * (0.45 + 0.4 * np.sin(x / 71 + 1.0) + 0.22 * np.sin(x / 23) + 0.10 * rng.random(x.size))
    ridge = np.clip(ridge, 1.0, None)
    for i in range(x.size - 1):
        scene.quad(
            "shore",
            [
                at(x[i], shore_y, level),
                at(x[i + 1], shore_y, level),
                at(x[i + 1], shore_y, ridge[i + 1]),
                at(x[i], shore_y, ridge[i]),
            ],
        )


def tufts(scene: Scene, places: list[tuple[float, float, float]], count: int = 26) -> None:
    """Grass in the joints: thin upright blades."""
    rng = scene.rng
    for x, y, z in places:
        for _ in range(count):
            dx, dy = rng.normal(0, 0.035, 2)
            lean = rng.normal(0, 0.05, 2)
            tall = rng.uniform(0.05, 0.15)
            a = np.array([x + dx, y + dy, z])
            b = a + np.array([0.004, 0.001, 0])
            tip = a + np.array([lean[0], lean[1], tall])
            scene.quad("leaf", [a, b, tip + np.array([0.001, 0, 0]), tip])


def pane(
    scene: Scene,
    frame: Frame,
    face: str,
    along: tuple[float, float],
    up: tuple[float, float],
    offset: float = 0.0,
    bars: tuple[int, int] = (2, 3),
) -> None:
    """A window with a proud painted frame on the face that follows ``face`` (left or right)."""

    def bar(a0: float, a1: float, z0: float, z1: float, proud: float, name: str) -> None:
        if face == "right":
            scene.block(name, frame, (a0, offset - proud, z0), (a1, offset + 0.01, z1))
        else:
            scene.block(name, frame, (offset - proud, a0, z0), (offset + 0.01, a1, z1))

    (a0, a1), (z0, z1) = along, up
    bar(a0, a1, z0, z1, 0.004, "glass")
    wide = 0.07
    for z in (z0, z1 - wide):
        bar(a0, a1, z, z + wide, 0.05, "painted")
    for a in (a0, a1 - wide):
        bar(a, a + wide, z0, z1, 0.05, "painted")
    for k in range(1, bars[0]):
        a = a0 + (a1 - a0) * k / bars[0]
        bar(a - 0.018, a + 0.018, z0, z1, 0.03, "painted")
    for k in range(1, bars[1]):
        z = z0 + (z1 - z0) * k / bars[1]
        bar(a0, a1, z - 0.018, z + 0.018, 0.03, "painted")
    bar(a0 - 0.08, a1 + 0.08, z0 - 0.07, z0, 0.11, "stone")
