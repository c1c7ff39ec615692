"""The pump-house wheel: a great hand wheel and a pulley on one axle before a receding wall."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Edge, Frame, Scene

from scenes.surroundings import common_materials, pane, tufts, water_and_shore

EXPOSURE = 0.95


def build() -> Scene:
    rng = np.random.default_rng(101)
    camera = Camera((-0.25, -1.15, 1.58), pitch_deg=0.8, roll_deg=0.2, focal_35mm=28.0)
    scene = Scene(camera, rng, sun=(-0.35, -0.8, 0.62), sky=textures.sky(rng, 0.4))
    common_materials(scene)
    scene.material("wheel-paint", (0.30, 0.07, 0.05), shine=0.2)
    scene.material("iron", (0.09, 0.10, 0.105), shine=0.25)

    def at(x: float, y: float, z: float) -> np.ndarray:
        return np.array([x, y, z], float)

    house = Frame((-0.55, 3.0, 0.0), 58.0)
    wide, deep, tall = 5.2, 4.2, 3.5
    scene.quad("setts", [at(-12, -3, 0), at(12, -3, 0), at(12, 11, 0), at(-12, 11, 0)])
    kerb = Frame((-16.0, 11.0, -1.2), 90.0)
    scene.block("stone", kerb, (0, 0, 0), (34, 0.5, 1.35))
    water_and_shore(scene, 11.5, -1.0)
    scene.block("brick", house, (0, 0, 0), (wide, deep, tall))
    scene.block("stone", house, (-0.06, -0.06, 0), (wide + 0.06, deep + 0.06, 0.42))
    scene.block("stone", house, (-0.10, -0.10, tall), (wide + 0.10, deep + 0.10, tall + 0.22))
    pane(scene, house, "left", (1.0, 2.0), (1.2, 2.7))
    scene.block("tarred", house, (4.0, -0.035, 0.42), (4.85, 0.02, 2.5))
    scene.form("house", "Pump house", house, kind="building")
    for level, z in (("plinth", 0.42), ("coping", tall + 0.22)):
        out = 0.06 if level == "plinth" else 0.10
        scene.edges.append(
            Edge(
                f"house-right-{level}",
                "house",
                "right",
                f"{level}, right",
                house.at(-out, -out, z),
                house.at(wide + out, -out, z),
            )
        )
        scene.edges.append(
            Edge(
                f"house-left-{level}",
                "house",
                "left",
                f"{level}, left",
                house.at(-out, -out, z),
                house.at(-out, deep + out, z),
            )
        )
    scene.edges.append(
        Edge(
            "house-right-foot",
            "house",
            "right",
            "foot of the plinth, right",
            house.at(-0.06, -0.06, 0),
            house.at(wide + 0.06, -0.06, 0),
        )
    )
    scene.edges.append(
        Edge(
            "house-right-under",
            "house",
            "right",
            "under the coping, right",
            house.at(-0.1, -0.1, tall),
            house.at(wide + 0.1, -0.1, tall),
        )
    )
    scene.edges.append(
        Edge(
            "house-left-under",
            "house",
            "left",
            "under the coping, left",
            house.at(-0.1, -0.1, tall),
            house.at(-0.1, deep + 0.1, tall),
        )
    )
    scene.edges.append(
        Edge(
            "house-left-foot",
            "house",
            "left",
            "foot of the plinth, left",
            house.at(-0.06, -0.06, 0),
            house.at(-0.06, deep + 0.06, 0),
        )
    )
    scene.edges.append(
        Edge("house-upright-near", "house", "upright", "near corner", house.at(0, 0, 0.42), house.at(0, 0, tall))
    )
    scene.edges.append(
        Edge(
            "house-upright-door",
            "house",
            "upright",
            "door, near side",
            house.at(4.0, -0.035, 0.42),
            house.at(4.0, -0.035, 2.5),
        )
    )
    for side, b in (("near", 1.0), ("far", 2.0)):
        scene.edges.append(
            Edge(
                f"house-upright-window-{side}",
                "house",
                "upright",
                f"window, {side} side",
                house.at(-0.05, b, 1.2),
                house.at(-0.05, b, 2.7),
            )
        )

    # the axle stands out of the right-hand wall, so it follows the left family towards us
    out = -house.left
    hub = house.at(1.75, 0.0, 1.78)

    def ring(id: str, name: str, offset: float, radius: float, width: float, section: float, paint: str) -> None:
        face = hub + offset * out
        body = [
            (radius - section, 0.0),
            (radius, 0.0),
            (radius, -width),
            (radius - section, -width),
            (radius - section, 0.0),
        ]
        scene.lathe(paint, face, out, body)
        scene.rim("wheel", id, name, "left", face, out, radius)

    ring("front", "front of the wheel", 0.46, 0.92, 0.10, 0.10, "wheel-paint")
    scene.rim("wheel", "back", "back of the wheel", "left", hub + 0.36 * out, out, 0.92)
    scene.lathe("iron", hub, out, [(0.06, 0.0), (0.06, 0.78), (0.0, 0.78)])
    scene.lathe("wheel-paint", hub, out, [(0.06, 0.30), (0.16, 0.34), (0.16, 0.48), (0.06, 0.50)])
    ring("pulley", "pulley", 0.74, 0.30, 0.13, 0.30, "iron")
    for k in range(6):
        angle = np.radians(60 * k + 14)
        arm = np.cos(angle) * house.right + np.sin(angle) * UP
        spoke = np.linspace(0.12, 0.85, 8)[:, None] * arm + hub + 0.41 * out
        scene.tube("wheel-paint", spoke, 0.032, 12)
    scene.form("wheel", "Pump wheel", house, kind="cylinder")
    scene.block("stone", house, (1.35, -0.16, 1.40), (2.15, 0.0, 2.16))
    scene.paint_tin(
        "tin", "Oil tin", tuple(house.at(0.55, -0.75, 0.0)), 0.12, 0.30, (0.35, 0.24, 0.06), (0.10, 0.13, 0.14)
    )
    scene.paint_tin("pail", "Pail", tuple(house.at(-0.62, 0.55, 0.0)), 0.16, 0.30, (0.30, 0.31, 0.30))
    scene.coil(tuple(house.at(2.9, -0.95, 0.0)), 0.10, 8, 0.021)
    tufts(
        scene,
        [tuple(house.at(-0.15, 1.5, 0)), tuple(house.at(2.2, -0.15, 0)), tuple(house.at(3.3, -0.2, 0)), (-1.8, 3.0, 0)],
    )
    return scene
