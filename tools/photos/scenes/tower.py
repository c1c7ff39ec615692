"""The signal tower seen from below (three-point, looking up)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Frame, Scene

from scenes.surroundings import common_materials, pane

EXPOSURE = 0.9


def build() -> Scene:
    rng = np.random.default_rng(37)
    camera = Camera((0.0, 0.0, 1.6), pitch_deg=21.0, roll_deg=0.6, focal_35mm=26.0, width_px=960, height_px=1280)
    scene = Scene(camera, rng, sun=(0.5, -0.7, 0.8), sky=textures.sky(rng, 0.2))
    common_materials(scene)
    scene.quad("setts", [np.array([x, y, 0.0]) for x, y in ((-40, -5), (40, -5), (40, 60), (-40, 60))])

    tower = Frame((0.25, 7.6, 0.0), 41.0)
    w, d = 3.4, 3.0
    scene.block("stone", tower, (-0.12, -0.12, 0), (w + 0.12, d + 0.12, 1.1))
    scene.block("brick", tower, (0, 0, 1.1), (w, d, 8.2))
    scene.block("stone", tower, (-0.1, -0.1, 4.5), (w + 0.1, d + 0.1, 4.74))
    # gallery on top: slab, posts, rail, lamp room
    scene.block("concrete", tower, (-0.45, -0.45, 8.2), (w + 0.45, d + 0.45, 8.5))
    for k in range(9):
        s = -0.4 + (w + 0.8) * k / 8
        scene.cylinder("tin-metal", tower.at(s, -0.4, 8.5), tower.at(s, -0.4, 9.5), 0.022)
        t = -0.4 + (d + 0.8) * k / 8
        scene.cylinder("tin-metal", tower.at(-0.4, t, 8.5), tower.at(-0.4, t, 9.5), 0.022)
    for z in (9.0, 9.5):
        scene.cylinder("tin-metal", tower.at(-0.4, -0.4, z), tower.at(w + 0.4, -0.4, z), 0.028)
        scene.cylinder("tin-metal", tower.at(-0.4, -0.4, z), tower.at(-0.4, d + 0.4, z), 0.028)
    scene.block("painted", tower, (0.55, 0.55, 8.5), (w - 0.55, d - 0.55, 10.6))
    scene.block("slates", tower, (0.3, 0.3, 10.6), (w - 0.3, d - 0.3, 10.85))
    scene.cylinder("tin-metal", tower.at(w / 2, d / 2, 10.85), tower.at(w / 2, d / 2, 13.6), 0.05)
    scene.cylinder("tin-metal", tower.at(w / 2 - 1.1, d / 2, 12.7), tower.at(w / 2 + 1.1, d / 2, 12.7), 0.03)
    for along, face in ((w, "right"), (d, "left")):
        middle = along / 2
        for z in (2.2, 5.5):
            pane(scene, tower, face, (middle - 0.45, middle + 0.45), (z, z + 1.45))
        if face == "right":
            scene.block("glass", tower, (0.8, 0.54, 9.2), (w - 0.8, 0.56, 10.2))
        else:
            scene.block("glass", tower, (0.54, 0.8, 9.2), (0.56, d - 0.8, 10.2))
    # a low shed beside it, turned differently
    shed = Frame((-4.6, 9.6, 0.0), 24.0)
    scene.block("tarred", shed, (0, 0, 0), (3.2, 2.6, 2.7))
    scene.block("slates", shed, (-0.15, -0.15, 2.7), (3.35, 2.75, 2.85))
    pane(scene, shed, "right", (1.0, 1.9), (1.1, 2.1), bars=(2, 2))
    far = Frame((4.6, 16.0, 0.0), 62.0)
    scene.block("brick", far, (0, 0, 0), (14, 6, 5.2))
    scene.block("slates", far, (-0.2, -0.2, 5.2), (14, 6.2, 5.5))
    for k in range(4):
        pane(scene, far, "right", (1.2 + 3.1 * k, 2.4 + 3.1 * k), (2.4, 4.0), bars=(2, 2))
    scene.crate("box", "Box", Frame((-1.7, 6.7, 0.0), 30.0), (0.8, 0.6, 0.5), "wood1")
    scene.forms.clear()
    scene.edges.clear()
    scene.coil((1.7, 6.3, 0.0), 0.16, 8, 0.03)
    scene.cylinder("concrete", np.array([3.1, 7.6, 0]), np.array([3.1, 7.6, 0.8]), 0.2)
    scene.disc("concrete", np.array([3.1, 7.6, 0.8]), UP, 0.2)

    scene.form("tower", "Signal tower", tower, kind="building")
    scene.hull("tower", tower, (w + 0.9, d + 0.9, 0.3), base=(-0.45, -0.45, 8.2))
    gallery = {e.id: e for e in scene.edges}
    scene.edges.clear()
    for key in ("tower-left-bottom-near", "tower-right-bottom-near", "tower-left-top-near", "tower-right-top-near"):
        edge = gallery[key]
        edge.id = key.replace("tower", "gallery")
        edge.name = "gallery, " + edge.name.split(",")[0]
        edge.form = "tower"
        scene.edges.append(edge)
    for part, base, size, label in (
        ("shaft", (0.0, 0.0, 1.1), (w, d, 3.4), "shaft"),
        ("band", (-0.1, -0.1, 4.5), (w + 0.2, d + 0.2, 0.24), "string course"),
        ("upper", (0.0, 0.0, 4.74), (w, d, 3.46), "upper shaft"),
        ("plinth", (-0.12, -0.12, 0.0), (w + 0.24, d + 0.24, 1.1), "plinth"),
    ):
        start = len(scene.edges)
        scene.hull("tower", tower, size, base=base)
        for edge in scene.edges[start:]:
            edge.id = edge.id.replace("tower", part)
            edge.name = f"{label}, {edge.name}"
        keep = {"shaft": ("upright",), "upper": ("upright",), "band": ("left", "right"), "plinth": ("left", "right")}[
            part
        ]
        scene.edges[start:] = [e for e in scene.edges[start:] if e.family in keep]
    scene.form("shed", "Shed", shed, kind="building")
    start = len(scene.edges)
    scene.hull("shed", shed, (3.5, 2.9, 0.15), base=(-0.15, -0.15, 2.7))
    scene.edges[start:] = [e for e in scene.edges[start:] if e.family != "upright"]
    return scene
