"""The yard between the lofts, seen straight up from its floor."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Frame, Scene

from scenes.surroundings import common_materials, pane

EXPOSURE = 1.0


def build() -> Scene:
    rng = np.random.default_rng(59)
    # held by hand: a little off straight
    camera = Camera((0.0, 0.0, 1.6), pitch_deg=89.3, roll_deg=14.0, focal_35mm=24.0)
    sky = textures.sky(rng, 0.3)
    # clouds drawn by latitude and longitude would pinch together at the zenith, which is in this picture
    sky[:190] = sky[:190].mean(axis=1, keepdims=True)
    scene = Scene(camera, rng, sun=(0.55, -0.5, 0.85), sky=sky, sky_scale=1.1)
    common_materials(scene)
    scene.quad("setts", [np.array([x, y, 0.0]) for x, y in ((-20, -20), (20, -20), (20, 20), (-20, 20))])

    net = Frame((0.5, 2.0, 0.0), 38.0)
    store = Frame((0.3, -1.9, 0.0), 205.0)
    hoist = Frame((-2.5, 0.5, 0.0), 301.0)
    house(scene, "net", "Net loft", net, (6.0, 5.0), "brick", band=4.6, eaves=8.4, over=0.3)
    house(scene, "store", "Boat store", store, (5.5, 4.2), "stone", band=4.5, eaves=8.0, over=0.25)
    house(scene, "hoist", "Hoist house", hoist, (4.0, 3.4), "tarred", band=5.2, eaves=10.2, over=0.2)
    for frame, along, rows in (
        (net, ("right", "left"), (2.6, 6.0)),
        (store, ("right", "left"), (2.9, 5.6)),
        (hoist, ("left",), (2.8, 7.0)),
    ):
        for face in along:
            for z in rows:
                for start in (0.7, 2.3):
                    pane(scene, frame, face, (start, start + 0.9), (z, z + 1.3))
    # the hoist's beam with its rope, across the sky
    scene.block("wood0", hoist, (-1.5, 1.5, 9.3), (0.4, 1.68, 9.55))
    scene.cylinder("rope", hoist.at(-1.3, 1.59, 9.3), hoist.at(-1.3, 1.59, 5.0), 0.02)
    chimney(scene, np.array([2.9, -0.4, 0.0]))
    return scene


def house(
    scene: Scene,
    id: str,
    name: str,
    frame: Frame,
    plan: tuple[float, float],
    wall: str,
    band: float,
    eaves: float,
    over: float,
) -> None:
    """A wall with a string course and a flat roof that stands out; known are what shows of it from below."""
    w, d = plan
    scene.block(wall, frame, (0, 0, 0), (w, d, eaves))
    scene.block("stone", frame, (-0.1, -0.1, band), (w + 0.1, d + 0.1, band + 0.22))
    scene.block("slates", frame, (-over, -over, eaves), (w + over, d + over, eaves + 0.3))
    scene.form(id, name, frame, kind="building")
    low, tall = band + 0.22, eaves - band - 0.22
    for part, base, size, families in (
        ("eaves", (-over, -over, eaves), (w + 2 * over, d + 2 * over, 0.3), ("left", "right")),
        ("course", (-0.1, -0.1, band), (w + 0.2, d + 0.2, 0.22), ("left", "right")),
        ("wall", (0.0, 0.0, low), (w, d, tall), ("upright",)),
    ):
        start = len(scene.edges)
        scene.hull(id, frame, size, base=base)
        for edge in scene.edges[start:]:
            edge.id = edge.id.replace(id, f"{id}-{part}", 1)
            edge.name = f"{part}, {edge.name}"
        scene.edges[start:] = [e for e in scene.edges[start:] if e.family in families]


def chimney(scene: Scene, foot: np.ndarray) -> None:
    """A round brick chimney with two collars."""
    radius, tall = 0.62, 11.0
    scene.lathe(
        "concrete", foot, UP, [(radius, 0.0), (radius, tall), (0.5, tall), (0.5, tall - 1.0), (0.0, tall - 1.0)]
    )
    scene.form("chimney", "Chimney", Frame((float(foot[0]), float(foot[1]), 0.0), 0.0), kind="cylinder")
    for id, name, z, out in (("low", "lower collar", 5.4, 0.16), ("top", "upper collar", 10.2, 0.2)):
        scene.lathe("stone", foot, UP, [(radius, z), (radius + out, z), (radius + out, z + 0.3), (radius, z + 0.3)])
        scene.rim("chimney", id, name, "level", foot + z * UP, UP, radius + out)
