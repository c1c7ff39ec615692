"""Rope drums lying on their sides and standing, on the quay (two-point, held a little down)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Frame, Scene

from scenes.surroundings import common_materials, tufts, water_and_shore

EXPOSURE = 0.95


def drum(
    scene: Scene,
    id: str,
    name: str,
    centre: np.ndarray,
    axis: np.ndarray,
    plane: str,
    radius: float,
    length: float,
    wood: str,
    frame: Frame,
    near: str,
    far: str,
) -> None:
    """Two wooden flanges on a core wound with rope. ``centre`` lies on the outer face of the near
    flange, ``axis`` runs to the far one.
    """
    thick, core = 0.05 * length + 0.012, 0.52 * radius
    for start, stop in ((0.0, thick), (length - thick, length)):
        scene.lathe(wood, centre, axis, [(0.03, start), (radius, start), (radius, stop), (0.03, stop)])
    scene.lathe("dark", centre, axis, [(0.0, 0.01), (0.035, 0.01)])
    for k in (0.0, length):
        scene.lathe(
            "iron", centre, axis, [(0.03, k - 0.002), (0.075, k - 0.004), (0.075, k + 0.004), (0.03, k + 0.002)]
        )
    turns = 9
    t = np.linspace(0, turns * 2 * np.pi, turns * 40)
    first = np.cross(axis, UP if abs(axis[2]) < 0.9 else np.array([0.0, 1.0, 0.0]))
    first /= np.linalg.norm(first)
    second = np.cross(axis, first)
    run = thick + (length - 2 * thick) * (0.06 + 0.88 * t / t[-1])
    path = centre + run[:, None] * axis + core * (np.cos(t)[:, None] * first + np.sin(t)[:, None] * second)
    scene.tube("rope", path, 0.44 * (length - 2 * thick) / turns, 10)
    scene.lathe("rope", centre, axis, [(0.94 * core, thick), (0.94 * core, length - thick)])
    scene.form(id, name, frame, kind="cylinder")
    scene.rim(id, near, f"{near} end" if plane != "level" else near, plane, centre, axis, radius)
    scene.rim(id, far, f"{far} end" if plane != "level" else far, plane, centre + length * axis, axis, radius)


def build() -> Scene:
    rng = np.random.default_rng(97)
    camera = Camera((0.1, -0.75, 1.45), pitch_deg=-5.0, roll_deg=-0.3, focal_35mm=30.0)
    scene = Scene(camera, rng, sun=(-0.62, -0.66, 0.62), sky=textures.sky(rng, 0.5))
    common_materials(scene)
    scene.material("iron", (0.10, 0.09, 0.085), shine=0.25)

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    scene.quad("setts", [at(-10, -3, 0), at(10, -3, 0), at(10, 9.0, 0), at(-10, 9.0, 0)])
    kerb = Frame((-14.0, 9.0, -1.2), 90.0)
    scene.block("stone", kerb, (0, 0, 0), (30, 0.5, 1.35))
    water_and_shore(scene, 9.5, -1.0)
    shed = Frame((2.3, 5.2, 0.0), 74.0)
    scene.block("brick", shed, (0, 0, 0), (6.0, 5.0, 3.8))
    scene.block("stone", shed, (-0.05, -0.05, 0), (6.0, 5.0, 0.3))
    scene.block("tarred", shed, (-0.03, 0.9, 0.02), (0.02, 2.2, 2.3))

    big = Frame((-0.72, 2.55, 0.0), 38.0)
    drum(scene, "big", "Big drum", at(-0.72, 2.55, 0.56), big.right, "right", 0.56, 0.62, "wood0", big, "near", "far")
    small = Frame((1.42, 2.55, 0.0), 62.0)
    drum(
        scene,
        "small",
        "Small drum",
        at(1.42, 2.55, 0.34),
        small.left,
        "left",
        0.34,
        0.46,
        "wood1",
        small,
        "near",
        "far",
    )
    standing = Frame((0.42, 3.1, 0.0), 0.0)
    drum(
        scene, "stand", "Standing drum", at(0.42, 3.1, 0.66), -UP, "level", 0.42, 0.66, "wood2", standing, "top", "base"
    )
    scene.paint_tin("tin", "Tin on the drum", (0.50, 3.02, 0.66), 0.10, 0.21, (0.06, 0.15, 0.24), (0.54, 0.51, 0.43))
    low = Frame((0.12, 2.12, 0.0), 0.0)
    drum(scene, "low", "Flat drum", at(0.12, 2.12, 0.20), -UP, "level", 0.27, 0.20, "wood1", low, "top", "base")
    box = Frame((-2.0, 3.5, 0.0), 33.0)
    scene.crate("box", "Fish box", box, (0.8, 0.56, 0.36), "wood2", "QUAY 3")
    scene.coil((-1.15, 1.95, 0.0), 0.09, 8, 0.019)
    tufts(scene, [(1.9, 4.9, 0), (2.2, 5.1, 0), (-1.6, 3.0, 0), (0.9, 3.9, 0)])
    return scene
