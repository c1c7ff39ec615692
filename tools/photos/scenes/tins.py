"""Paint tins at several heights in the corner of the boat yard (two-point, a little down)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import Frame, Scene

from scenes.surroundings import common_materials, tufts, water_and_shore

EXPOSURE = 0.95


def build() -> Scene:
    rng = np.random.default_rng(71)
    camera = Camera((0.0, -0.75, 1.32), pitch_deg=-7.5, roll_deg=0.3, focal_35mm=35.0)
    scene = Scene(camera, rng, sun=(0.55, -0.75, 0.6), sky=textures.sky(rng, 0.4))
    common_materials(scene)

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    scene.quad("setts", [at(-8, -3, 0), at(9, -3, 0), at(9, 8.0, 0), at(-8, 8.0, 0)])
    water_and_shore(scene, 8.4, -1.0)
    kerb = Frame((-14.0, 8.0, -1.2), 90.0)
    scene.block("stone", kerb, (0, 0, 0), (30, 0.45, 1.3))
    wall = Frame((-2.6, 3.3, 0.0), 62.0)
    scene.block("tarred", wall, (0, 0, 0), (3.6, 3.0, 3.4))
    scene.block("stone", wall, (-0.05, -0.05, 0), (3.65, 3.0, 0.3))

    # a stepped staging: three planked boxes of rising height
    staging = Frame((-0.1, 2.15, 0.0), 52.0)
    scene.crate("low", "Low step", staging, (0.62, 0.46, 0.34), "wood1")
    middle = Frame(tuple(staging.at(0.62, 0.0, 0.0)), 52.0)
    scene.crate("step", "Middle step", middle, (0.62, 0.46, 0.72), "wood0", "YARD 2")
    tall = Frame(tuple(staging.at(0.0, 0.62, 0.0)), 52.0)
    scene.crate("tall", "Tall step", tall, (0.5, 0.42, 1.08), "wood2")

    scene.paint_tin(
        "red", "Red tin", tuple(staging.at(0.29, 0.22, 0.34)), 0.115, 0.235, (0.33, 0.05, 0.04), (0.56, 0.53, 0.45)
    )
    scene.paint_tin(
        "blue", "Blue tin", tuple(middle.at(0.27, 0.23, 0.72)), 0.10, 0.20, (0.05, 0.14, 0.26), (0.55, 0.52, 0.44)
    )
    scene.paint_tin(
        "white", "White tin", tuple(tall.at(0.24, 0.2, 1.08)), 0.10, 0.36, (0.60, 0.58, 0.52), (0.09, 0.22, 0.20)
    )
    scene.paint_tin("green", "Green tin", (-0.62, 1.95, 0.0), 0.13, 0.27, (0.08, 0.21, 0.15), (0.56, 0.52, 0.40))
    scene.paint_tin("ochre", "Ochre tin", (0.40, 1.78, 0.0), 0.09, 0.13, (0.45, 0.27, 0.06))
    scene.coil((1.55, 2.9, 0.0), 0.10, 8, 0.021)
    plank = Frame((-1.5, 2.35, 0.0), 70.0)
    scene.block("wood0", plank, (0, 0, 0.0), (1.1, 0.17, 0.035))
    tufts(scene, [(-2.2, 3.2, 0), (-1.9, 3.1, 0), (1.6, 3.6, 0), (2.1, 4.2, 0), (-0.9, 2.8, 0)])
    return scene
