"""Oil lamps and jars on two shelves, one above and one below eye level (one-point)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Edge, Frame, Scene

from scenes.surroundings import common_materials

EXPOSURE = 0.9


def lamp(scene: Scene, id: str, name: str, foot: np.ndarray, size: float, enamel: str) -> None:
    """A lantern: turned base, oil font, glass seen as pale enamel, cap and ring."""
    k = size
    profile = [(0.0, 0.0), (0.105, 0.0), (0.105, 0.016), (0.07, 0.03), (0.085, 0.05), (0.085, 0.10), (0.04, 0.12)]
    scene.lathe(enamel, foot, UP, [(r * k, h * k) for r, h in profile])
    scene.lathe(
        "brass", foot, UP, [(r * k, h * k) for r, h in [(0.04, 0.12), (0.062, 0.125), (0.062, 0.145), (0.05, 0.15)]]
    )
    scene.lathe(
        "opal", foot, UP, [(r * k, h * k) for r, h in [(0.05, 0.15), (0.075, 0.19), (0.075, 0.23), (0.045, 0.30)]]
    )
    scene.lathe(
        "brass", foot, UP, [(r * k, h * k) for r, h in [(0.045, 0.30), (0.07, 0.305), (0.07, 0.322), (0.0, 0.345)]]
    )
    scene.form(id, name, Frame((float(foot[0]), float(foot[1]), float(foot[2])), 0.0), kind="other")
    scene.rim(id, "base", "base", "level", foot, UP, 0.105 * k)
    scene.rim(id, "cap", "cap", "level", foot + 0.322 * k * UP, UP, 0.07 * k)


def jar(scene: Scene, id: str, name: str, foot: np.ndarray, radius: float, height: float, glaze: str) -> None:
    """An open stoneware jar with straight sides and a thick lip."""
    scene.lathe(
        glaze,
        foot,
        UP,
        [
            (0.0, 0.0),
            (radius, 0.0),
            (radius, height),
            (0.87 * radius, height),
            (0.87 * radius, 0.3 * height),
            (0.0, 0.3 * height),
        ],
    )
    scene.form(id, name, Frame((float(foot[0]), float(foot[1]), float(foot[2])), 0.0), kind="cylinder")
    scene.rim(id, "mouth", "mouth", "level", foot + height * UP, UP, radius)
    scene.rim(id, "base", "base", "level", foot, UP, radius)


def build() -> Scene:
    rng = np.random.default_rng(83)
    camera = Camera((0.05, 0.0, 1.50), pitch_deg=0.0, roll_deg=0.0, focal_35mm=35.0)
    scene = Scene(camera, rng, sun=(0.5, -0.62, 0.62), sky=textures.sky(rng, 0.6), sky_scale=0.9)
    common_materials(scene)
    plaster = textures.mottled(rng, (0.40, 0.44, 0.42), (0.50, 0.53, 0.49))
    scene.material(
        "plaster", plaster, metres=(2.4, 2.4), bump=textures.noise(rng, 1024, 1024, 80, 3), bump_scale=0.0022
    )
    scene.material("enamel-blue", (0.05, 0.13, 0.22), shine=0.12)
    scene.material("enamel-red", (0.30, 0.06, 0.045), shine=0.12)
    scene.material("opal", (0.66, 0.63, 0.52), shine=0.18)
    scene.material("brass", (0.42, 0.27, 0.07), shine=0.14)
    glaze = textures.mottled(rng, (0.30, 0.20, 0.11), (0.46, 0.34, 0.20), 10)
    scene.material("stoneware", glaze, metres=(0.5, 0.5), shine=0.22)
    pale = textures.mottled(rng, (0.48, 0.46, 0.38), (0.62, 0.60, 0.52), 10)
    scene.material("creamware", pale, metres=(0.5, 0.5), shine=0.2)

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    scene.quad("plaster", [at(-3, 2.12, 0), at(3, 2.12, 0), at(3, 2.12, 4), at(-3, 2.12, 4)])
    scene.quad("setts", [at(-4, -3, 0), at(4, -3, 0), at(4, 2.12, 0), at(-4, 2.12, 0)])

    def board(id: str, name: str, low: tuple[float, float, float], high: tuple[float, float, float], wood: str) -> None:
        """A shelf with its front edges as known truth."""
        frame = Frame((high[0], low[1], low[2]), 0.0)
        scene.block(wood, frame, (0, 0, 0), (high[1] - low[1], high[0] - low[0], high[2] - low[2]))
        scene.form(id, name, frame)
        for level, z in (("under", low[2]), ("top", high[2])):
            scene.edges.append(
                Edge(
                    f"{id}-front-{level}",
                    id,
                    "across",
                    f"front, {level}",
                    at(low[0], low[1], z),
                    at(high[0], low[1], z),
                )
            )
            for side, x in (("left", low[0]), ("right", high[0])):
                scene.edges.append(
                    Edge(
                        f"{id}-end-{side}-{level}",
                        id,
                        "depth",
                        f"{side} end, {level}",
                        at(x, low[1], z),
                        at(x, high[1], z),
                    )
                )

    board("upper", "Upper shelf", (-0.72, 1.80, 1.76), (0.66, 2.12, 1.79), "wood0")
    board("lower", "Lower shelf", (-0.80, 1.76, 1.06), (0.80, 2.12, 1.095), "wood1")
    for x in (-0.55, 0.48):
        for z in (1.60, 0.90):
            bracket = Frame((x, 1.92, z), 0.0)
            scene.block("dark", bracket, (0.14, -0.012, 0), (0.20, 0.012, 0.16))
            scene.block("dark", bracket, (-0.02, -0.012, 0.14), (0.20, 0.012, 0.16))

    lamp(scene, "lamp-a", "Blue lamp", at(-0.47, 1.93, 1.79), 0.95, "enamel-blue")
    jar(scene, "jar-a", "Tall jar", at(-0.13, 1.93, 1.79), 0.085, 0.24, "stoneware")
    lamp(scene, "lamp-b", "Red lamp", at(0.36, 1.93, 1.79), 0.80, "enamel-red")
    jar(scene, "jar-b", "Wide jar", at(-0.50, 1.90, 1.095), 0.14, 0.17, "creamware")
    jar(scene, "jar-c", "Low jar", at(0.0, 1.92, 1.095), 0.105, 0.12, "stoneware")
    lamp(scene, "lamp-c", "Lower lamp", at(0.40, 1.91, 1.095), 1.0, "enamel-red")
    jar(scene, "jar-d", "Small jar", at(0.68, 1.94, 1.095), 0.06, 0.14, "creamware")
    return scene
