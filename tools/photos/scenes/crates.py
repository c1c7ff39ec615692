"""Stacked crates on the slipway (two-point; the camera is held a little down, as by hand)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Frame, Scene

from scenes.surroundings import common_materials, pane, tufts, water_and_shore

EXPOSURE = 0.95


def build() -> Scene:
    rng = np.random.default_rng(11)
    camera = Camera((0.0, 0.0, 1.5), pitch_deg=-3.2, roll_deg=0.4, focal_35mm=28.0)
    scene = Scene(camera, rng, sun=(0.75, -0.62, 0.62), sky=textures.sky(rng, 0.5))
    common_materials(scene)

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    scene.quad("setts", [at(-8, -3, 0), at(9, -3, 0), at(9, 9.0, 0), at(-8, 9.0, 0)])
    kerb = Frame((-14.0, 9.0, -1.2), 90.0)
    scene.block("stone", kerb, (0, -0.0, 0), (30, 0.5, 1.32))
    water_and_shore(scene, 9.4, -1.0)

    # a brick store on the left, with a door and a window towards the slipway
    store = Frame((-2.75, 4.6, 0.0), 8.0)
    scene.block("brick", store, (0, 0, 0), (7, 6, 4.6))
    scene.block("stone", store, (-0.05, -0.05, 0), (7, 6, 0.34))

    pane(scene, store, "right", (0.9, 1.9), (1.75, 3.15))
    pane(scene, store, "right", (4.6, 5.5), (1.75, 3.15))
    scene.block("tarred", store, (2.6, -0.035, 0.02), (3.75, 0.02, 2.35))
    scene.block("stone", store, (2.45, -0.07, 2.35), (3.9, 0.02, 2.6))

    big = Frame((-0.42, 2.75, 0.0), 36.0)
    scene.crate("crate", "Big crate", big, (1.15, 0.9, 0.78), "wood0", "NETS 4")
    middle = Frame(tuple(big.at(0.14, 0.10, 0.78)), 49.0)
    scene.crate("middle", "Middle crate", middle, (0.76, 0.58, 0.5), "wood1", "FLOATS")
    small = Frame(tuple(middle.at(0.16, 0.06, 0.5)), 29.0)
    scene.crate("small", "Small crate", small, (0.46, 0.4, 0.42), "wood2", "No 7")
    low = Frame((1.18, 3.15, 0.0), 22.0)
    scene.crate("low", "Low crate", low, (0.8, 0.62, 0.44), "wood1", "ROPE 12")
    flat = Frame((-2.15, 3.55, 0.0), 57.0)
    scene.crate("flat", "Flat box", flat, (0.72, 0.5, 0.3), "wood2", None)

    scene.tin(tuple(low.at(0.28, 0.3, 0.44)), 0.105, 0.23, (0.30, 0.055, 0.045), (0.55, 0.52, 0.45))
    scene.tin(tuple(low.at(0.56, 0.26, 0.44)), 0.075, 0.15, (0.05, 0.15, 0.22))
    scene.tin((0.62, 2.78, 0.0), 0.10, 0.21, (0.10, 0.22, 0.20), (0.52, 0.50, 0.44))
    scene.coil((-1.28, 3.05, 0.0), 0.10, 8, 0.021)
    plank = Frame((0.9, 2.55, 0.0), 78.0)
    scene.block("wood0", plank, (0, 0, 0.0), (1.6, 0.19, 0.035))
    scene.cylinder("concrete", at(4.2, 8.2, 0), at(4.2, 8.2, 0.75), 0.19)
    scene.disc("concrete", at(4.2, 8.2, 0.75), UP, 0.24)
    scene.cylinder("concrete", at(4.2, 8.2, 0.66), at(4.2, 8.2, 0.75), 0.24)
    tufts(
        scene,
        [(-2.6, 4.3, 0), (-2.2, 4.2, 0), (-0.9, 3.9, 0), (2.4, 4.6, 0), (3.1, 5.2, 0), (-1.8, 2.6, 0), (1.7, 2.7, 0)],
    )
    return scene
