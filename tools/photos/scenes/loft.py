"""The net loft on its sloping quay (two-point with slopes: two roof rakes and the quay)."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Edge, Frame, Scene

from scenes.surroundings import common_materials, pane, tufts, water_and_shore

EXPOSURE = 0.9
FALL = 1 / 9  # the quay falls one in nine as it goes away along the long wall


def build() -> Scene:
    rng = np.random.default_rng(23)
    camera = Camera((0.0, 0.0, 1.65), pitch_deg=2.0, roll_deg=-0.3, focal_35mm=28.0)
    scene = Scene(camera, rng, sun=(0.35, -0.8, 0.6), sky=textures.sky(rng, 0.7))
    common_materials(scene)

    loft = Frame((-0.9, 7.2, 0.0), 56.0)
    length, depth, eaves, rise = 9.0, 5.4, 3.3, 2.3

    # the quay: level along the gable's direction, falling along the long wall's
    def ground(a: float, b: float) -> np.ndarray:
        return loft.at(a, b, -a * FALL)

    scene.quad("setts", [ground(-14, -16), ground(22, -16), ground(22, 9), ground(-14, 9)])
    low = -22 * FALL
    scene.block("stone", loft, (22, -16, low - 2.5), (22.6, 9, low + 0.25))
    water_and_shore(scene, 16.0, low - 1.6, shore_y=300, height=16)

    foot = -length * FALL
    scene.block("tarred", loft, (0, 0, foot - 0.2), (length, depth, eaves))
    scene.block("stone", loft, (-0.06, -0.06, foot - 0.3), (length + 0.06, depth + 0.06, 0.38))
    for x in (0.0, length):
        apex = loft.at(x, depth / 2, eaves + rise)
        feet = [loft.at(x, 0, eaves), loft.at(x, depth, eaves)]
        scene.quad("tarred", [feet[0], feet[1], apex, apex])
    # roof: two slabs with an overhang at the verges, cut square to the slope
    over, thick = 0.28, 0.12
    pitch = np.arctan2(rise, depth / 2)
    for start, inward in ((0.0, 1.0), (depth, -1.0)):
        run = 0.35
        eave = [start - inward * run, eaves - run * np.tan(pitch)]
        ridge = [depth / 2, eaves + rise]

        def roof(x: float, place: list[float], lift: float) -> np.ndarray:
            return loft.at(x, place[0], place[1] + lift)

        x0, x1 = -over, length + over
        top = [roof(x0, eave, thick), roof(x1, eave, thick), roof(x1, ridge, thick), roof(x0, ridge, thick)]
        under = [roof(x0, eave, 0), roof(x1, eave, 0), roof(x1, ridge, 0), roof(x0, ridge, 0)]
        scene.quad("slates", top)
        scene.quad("painted", under)
        for i, k in ((0, 1), (1, 2), (3, 0)):
            scene.quad("painted", [under[i], under[k], top[k], top[i]])
    # doors and windows
    for a in (1.2, 5.9):
        pane(scene, loft, "right", (a, a + 1.15), (1.25, 2.55), bars=(2, 2))
    scene.block("wood0", loft, (3.3, -0.075, foot), (4.9, 0.02, 2.45))
    scene.block("painted", loft, (3.18, -0.09, foot), (3.3, 0.02, 2.57))
    scene.block("painted", loft, (4.9, -0.09, foot), (5.02, 0.02, 2.57))
    scene.block("painted", loft, (3.18, -0.09, 2.45), (5.02, 0.02, 2.57))
    pane(scene, loft, "left", (0.8, 1.8), (1.2, 2.5), bars=(2, 2))
    pane(scene, loft, "left", (3.6, 4.6), (1.2, 2.5), bars=(2, 2))
    scene.block("wood2", loft, (-0.04, 2.1, 2.85), (0.02, 3.3, 4.4))
    scene.block("wood1", loft, (-1.1, 2.62, 4.75), (0.1, 2.78, 4.9))
    hang = loft.at(-0.95, 2.7, 4.76)
    scene.tube("rope", np.linspace(hang, hang - 2.2 * UP, 20), 0.018)

    # clutter: boxes, a barrow of floats and coils
    for n, (a, b, turn, size) in enumerate(
        [(1.2, -1.5, 20, (0.8, 0.6, 0.42)), (-1.9, 1.4, -15, (0.7, 0.55, 0.5)), (2.35, -1.25, 5, (0.6, 0.5, 0.4))]
    ):
        spot = ground(a, b)
        frame = Frame(tuple(spot - 0.04 * UP), 56.0 + turn)
        scene.crate(f"box{n}", f"Box {n + 1}", frame, size, f"wood{n}", None)
    scene.forms.clear()
    scene.edges.clear()
    scene.coil(tuple(ground(-1.7, 3.6) + 0.05 * UP), 0.14, 8, 0.03)
    scene.coil(tuple(ground(5.5, -1.2) + 0.05 * UP), 0.14, 8, 0.03)
    tufts(
        scene,
        [
            tuple(ground(a, b))
            for a, b in [(0.4, -0.25), (2.6, -0.25), (-0.2, 2.0), (-0.2, 4.6), (6.5, -0.2), (-2.5, -1.0)]
        ],
    )

    scene.form("loft", "Net loft", loft, kind="building")
    add = scene.edges.append

    def edge(
        id: str,
        family: str,
        name: str,
        near: np.ndarray,
        far: np.ndarray,
        slope: str | None = None,
        plan: str | None = None,
    ) -> None:
        add(Edge(f"loft-{id}", "loft", family, name, near, far, slope, plan))

    edge(
        "right-eaves",
        "right",
        "long wall, fascia",
        loft.at(-over, -0.35, eaves - 0.35 * np.tan(pitch)),
        loft.at(length + over, -0.35, eaves - 0.35 * np.tan(pitch)),
    )
    edge(
        "right-ridge",
        "right",
        "ridge",
        loft.at(-over, depth / 2, eaves + rise + thick),
        loft.at(length + over, depth / 2, eaves + rise + thick),
    )
    edge(
        "right-plinth",
        "right",
        "long wall, top of plinth",
        loft.at(-0.06, -0.06, 0.38),
        loft.at(length + 0.06, -0.06, 0.38),
    )
    edge("right-lintel", "right", "door head", loft.at(3.18, -0.09, 2.57), loft.at(5.02, -0.09, 2.57))
    edge("right-sill", "right", "far window sill", loft.at(5.82, -0.11, 1.25), loft.at(7.13, -0.11, 1.25))
    edge("left-plinth", "left", "gable, top of plinth", loft.at(-0.06, -0.06, 0.38), loft.at(-0.06, depth + 0.06, 0.38))
    edge("left-sill-near", "left", "gable, near sill", loft.at(-0.11, 0.72, 1.2), loft.at(-0.11, 1.88, 1.2))
    edge("left-sill-far", "left", "gable, far sill", loft.at(-0.11, 3.52, 1.2), loft.at(-0.11, 4.68, 1.2))
    edge("left-hatch", "left", "head of the hatch", loft.at(-0.04, 2.1, 4.4), loft.at(-0.04, 3.3, 4.4))
    edge("upright-near", "upright", "near corner", loft.at(0, 0, 0.38), loft.at(0, 0, eaves - 0.1))
    edge("upright-far", "upright", "far corner of the gable", loft.at(0, depth, 0.38), loft.at(0, depth, eaves - 0.1))
    edge("upright-door", "upright", "door post, near", loft.at(3.18, -0.09, 0.4), loft.at(3.18, -0.09, 2.57))
    edge("upright-door-far", "upright", "door post, far", loft.at(5.02, -0.09, 0.4), loft.at(5.02, -0.09, 2.57))
    edge("upright-hatch", "upright", "hatch, near side", loft.at(-0.04, 2.1, 2.85), loft.at(-0.04, 2.1, 4.4))
    for x, place in ((-over, "verge"),):
        low_y = eaves - 0.35 * np.tan(pitch)
        edge(
            f"rake-near-{place}",
            "slope",
            "near rake",
            loft.at(x, -0.35, low_y),
            loft.at(x, depth / 2, eaves + rise),
            "rake-rising",
            "left",
        )
        edge(
            f"rake-far-{place}",
            "slope",
            "far rake",
            loft.at(x, depth + 0.35, low_y),
            loft.at(x, depth / 2, eaves + rise),
            "rake-falling",
            "left",
        )
    far_low = eaves - 0.35 * np.tan(pitch)
    edge(
        "rake-near-top",
        "slope",
        "near rake, upper edge",
        loft.at(-over, -0.35, far_low + thick),
        loft.at(-over, depth / 2, eaves + rise + thick),
        "rake-rising",
        "left",
    )
    edge(
        "rake-far-top",
        "slope",
        "far rake, upper edge",
        loft.at(-over, depth + 0.35, far_low + thick),
        loft.at(-over, depth / 2, eaves + rise + thick),
        "rake-falling",
        "left",
    )
    return scene
