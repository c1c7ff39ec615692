"""Set-ups drawn by lot for the finder's benchmark: streets, stacks, tables, towers, drums, ramps and stairs, each from its seed."""

from __future__ import annotations

import numpy as np
import textures
from camera import Camera
from scenery import UP, Edge, Frame, Scene

from scenes.drums import drum
from scenes.surroundings import common_materials, pane, tufts, water_and_shore

WALLS = ("brick", "stone", "tarred", "painted", "plaster", "concrete")
FLOORS = ("setts", "concrete", "slabs", "planks")
WOODS = ("wood0", "wood1", "wood2")


def build(layout: str, seed: int) -> Scene:
    """A set-up of ``layout`` (a name in ``LAYOUTS``), its camera, light and textures drawn from ``seed``."""
    rng = np.random.default_rng(seed)
    sky = textures.sky(rng, float(rng.uniform(0, 0.9)))
    turn = rng.uniform(-0.9, 0.9)
    sun = (float(np.sin(turn)), float(-np.cos(turn)), float(rng.uniform(0.35, 1.1)))
    bright = float(rng.choice([0.0, 0.35, 1.0, 1.0]))  # a grey day, haze, sun
    scene = Scene(
        Camera((0, 0, 1.6), 0, 0, 28),
        rng,
        sun=sun,
        sun_colour=(9.0 * bright, 7.8 * bright, 6.0 * bright),
        sky=sky,
        sky_scale=1.5 - 0.65 * bright,
    )
    materials(scene)
    LAYOUTS[layout](scene)
    return scene


def materials(scene: Scene) -> None:
    common_materials(scene)
    rng = scene.rng
    tone = rng.uniform(0.8, 1.2, 3) * rng.uniform(0.35, 0.7)
    scene.material(
        "plaster", textures.mottled(rng, tuple(tone * 0.85), tuple(np.minimum(tone * 1.1, 0.85))), metres=(3.0, 3.0)
    )
    slabs, height = textures.courses(rng, 3, 3, 2.0, (0.30, 0.29, 0.27), (0.42, 0.41, 0.38), (0.17, 0.16, 0.15))
    scene.material("slabs", slabs, metres=(2.7, 2.7), bump=height, bump_scale=0.006)
    planks, seams = textures.boards(rng, 6, (0.22, 0.17, 0.12), (0.40, 0.33, 0.24))
    scene.material("planks", planks, metres=(2.2, 0.9), bump=seams, bump_scale=0.008)
    scene.material("iron", (0.10, 0.09, 0.085), shine=0.25)
    for n in range(3):
        scene.material(f"paint{n}", tuple(rng.uniform(0.05, 0.6, 3)), shine=float(rng.uniform(0.1, 0.4)))
    scene.material("cloth", tuple(rng.uniform(0.15, 0.65, 3)))


def at(x: float, y: float, z: float) -> np.ndarray:
    return np.array([x, y, z], float)


def ground(scene: Scene, name: str, near: float = -4.0, far: float = 12.0, z: float = 0.0) -> None:
    turn = np.radians(scene.rng.uniform(0, 90))
    c, s = np.cos(turn), np.sin(turn)
    corners = (
        [(-40, -40), (40, -40), (40, 40), (-40, 40)] if far > 30 else [(-14, near), (14, near), (14, far), (-14, far)]
    )
    if far > 30:
        corners = [(c * x - s * y, s * x + c * y) for x, y in corners]
    scene.quad(name, [at(x, y, z) for x, y in corners])


def hand_held(
    scene: Scene, eye: float, pitch: tuple[float, float], focal: tuple[float, float], tall: bool = False
) -> None:
    rng = scene.rng
    size = (840, 1120) if tall else (1120, 840)
    focals = np.array([24, 26, 28, 35, 35, 40, 50, 70])
    focals = focals[(focals >= focal[0]) & (focals <= focal[1])]
    scene.camera = Camera(
        (0.0, 0.0, eye), float(rng.uniform(*pitch)), float(rng.normal(0, 0.9)), float(rng.choice(focals)), *size
    )


def house(scene: Scene, id: str, frame: Frame, plan: tuple[float, float], eaves: float, gabled: bool) -> None:
    """A house with a plinth, windows and a door, under a gabled roof along its right family, or a flat one."""
    rng = scene.rng
    w, d = plan
    wall = str(rng.choice(WALLS))
    scene.block(wall, frame, (0, 0, 0), (w, d, eaves))
    if rng.random() < 0.6:
        scene.block("stone", frame, (-0.06, -0.06, 0), (w + 0.06, d + 0.06, float(rng.uniform(0.25, 0.6))))
    if rng.random() < 0.35:
        z = eaves * float(rng.uniform(0.45, 0.6))
        scene.block("painted", frame, (-0.05, -0.05, z), (w + 0.05, d + 0.05, z + 0.14))
    rows = [1.1 + 2.6 * k for k in range(int(eaves // 2.9) or 1)]
    for face, long in (("right", w), ("left", d)):
        step, wide, tall = rng.uniform(1.7, 2.6), rng.uniform(0.8, 1.2), rng.uniform(1.1, 1.6)
        for row, z in enumerate(rows):
            for start in np.arange(0.6, long - wide - 0.4, step):
                if row == 0 and rng.random() < 0.3:
                    low, high = (
                        (start, -0.05, 0.03) if face == "right" else (-0.05, start, 0.03),
                        ((start + wide, 0.02, 2.1) if face == "right" else (0.02, start + wide, 2.1)),
                    )
                    scene.block(str(rng.choice(("tarred", "paint0", "wood0"))), frame, low, high)
                elif rng.random() < 0.85 and z + tall < eaves - 0.2:
                    pane(
                        scene,
                        frame,
                        face,
                        (float(start), float(start + wide)),
                        (z, z + float(tall)),
                        bars=(int(rng.integers(1, 4)), int(rng.integers(1, 4))),
                    )
    scene.form(id, id, frame, kind="building")
    scene.hull(id, frame, (w, d, eaves))
    if not gabled:
        over = float(rng.uniform(0.1, 0.35))
        scene.block(
            str(rng.choice(("slates", "concrete", "painted"))),
            frame,
            (-over, -over, eaves),
            (w + over, d + over, eaves + 0.25),
        )
        return
    rise, over, thick = d / 2 * float(rng.uniform(0.6, 1.1)), 0.25, 0.12
    for x in (0.0, w):
        apex = frame.at(x, d / 2, eaves + rise)
        scene.quad(wall, [frame.at(x, 0, eaves), frame.at(x, d, eaves), apex, apex])
    drop = 0.3 * rise / (d / 2)
    for start, group in ((-0.3, "near"), (d + 0.3, "far")):
        low, high = (start, eaves - drop), (d / 2, eaves + rise)
        corners = {
            (x, y, lift): frame.at(x, (low, high)[y][0], (low, high)[y][1] + lift * thick)
            for x in (-over, w + over)
            for y in (0, 1)
            for lift in (0, 1)
        }
        a, b = -over, w + over
        scene.quad("slates", [corners[a, 0, 1], corners[b, 0, 1], corners[b, 1, 1], corners[a, 1, 1]])
        scene.quad("painted", [corners[a, 0, 0], corners[b, 0, 0], corners[b, 1, 0], corners[a, 1, 0]])
        scene.quad("painted", [corners[a, 0, 0], corners[b, 0, 0], corners[b, 0, 1], corners[a, 0, 1]])
        for x in (a, b):
            scene.quad("painted", [corners[x, 0, 0], corners[x, 1, 0], corners[x, 1, 1], corners[x, 0, 1]])
            for lift in (0, 1):
                scene.edges.append(
                    Edge(
                        f"{id}-rake-{group}-{x:.1f}-{lift}",
                        id,
                        "slope",
                        "rake",
                        corners[x, 0, lift],
                        corners[x, 1, lift],
                        f"{id}-{group}",
                        "left",
                    )
                )
        for lift in (0, 1):
            for y in (0, 1):
                scene.edges.append(
                    Edge(
                        f"{id}-roof-{group}-{y}-{lift}", id, "right", "eaves", corners[a, y, lift], corners[b, y, lift]
                    )
                )


def street(scene: Scene) -> None:
    """Two or three houses at odds with one another across a paved place."""
    rng = scene.rng
    hand_held(scene, float(rng.uniform(1.45, 1.8)), (-2, 8), (24, 35))
    ground(scene, str(rng.choice(FLOORS[:3])), far=40)
    bearing = float(rng.uniform(20, 70))
    far = float(rng.uniform(7, 10))
    house(
        scene,
        "first",
        Frame((float(rng.uniform(-2.5, 0.5)), far, 0), bearing),
        (float(rng.uniform(6, 10)), float(rng.uniform(4.5, 7))),
        float(rng.uniform(3, 6)),
        rng.random() < 0.6,
    )
    house(
        scene,
        "second",
        Frame((float(rng.uniform(-11, -9)), far + 5, 0), float(rng.choice([bearing, rng.uniform(5, 40)]))),
        (6.0, 6.0),
        float(rng.uniform(3, 7)),
        False,
    )
    if rng.random() < 0.6:
        house(scene, "third", Frame((5.0, 22.0, 0), bearing), (9.0, 7.0), 6.5, True)
    clutter(scene, 2, (-2.5, 2.5), (4.0, 6.0))


def clutter(scene: Scene, count: int, across: tuple[float, float], away: tuple[float, float]) -> None:
    rng = scene.rng
    for n in range(count):
        spot = (float(rng.uniform(*across)), float(rng.uniform(*away)), 0.0)
        kind = rng.random()
        if kind < 0.5:
            size = (float(rng.uniform(0.5, 1.0)), float(rng.uniform(0.4, 0.8)), float(rng.uniform(0.3, 0.7)))
            scene.crate(
                f"crate{n}", f"Crate {n}", Frame(spot, float(rng.uniform(15, 75))), size, str(rng.choice(WOODS))
            )
        elif kind < 0.8:
            scene.paint_tin(
                f"tin{n}",
                f"Tin {n}",
                spot,
                0.15,
                0.34,
                tuple(rng.uniform(0.05, 0.5, 3)),
                tuple(rng.uniform(0.2, 0.6, 3)),
            )
        else:
            scene.coil(spot, 0.12, 8, 0.025)
    tufts(scene, [(float(rng.uniform(*across)), float(rng.uniform(*away)), 0.0) for _ in range(4)])


def stack(scene: Scene) -> None:
    """Boxes and crates piled before a wall."""
    rng = scene.rng
    hand_held(scene, float(rng.uniform(1.3, 1.75)), (-16, -4), (28, 50))
    ground(scene, str(rng.choice(FLOORS)), far=9)
    far = 3.2 if scene.camera.focal_35mm < 40 else 4.2
    wall = Frame((float(rng.uniform(-4, -2.5)), far + 1.8, 0.0), float(rng.uniform(60, 85)))
    scene.block(str(rng.choice(WALLS)), wall, (0, 0, 0), (9, 1, 4))
    bearing = float(rng.uniform(25, 65))
    low = Frame((float(rng.uniform(-0.6, 0.0)), far - 0.4, 0.0), bearing)
    body(
        scene, "first", low, (float(rng.uniform(0.9, 1.3)), float(rng.uniform(0.7, 1.0)), float(rng.uniform(0.5, 0.8)))
    )
    height = scene.blocks[-1][2][2]
    body(
        scene,
        "second",
        Frame(tuple(low.at(0.12, 0.1, height)), bearing + float(rng.uniform(-12, 12))),
        (0.7, 0.5, float(rng.uniform(0.3, 0.5))),
    )
    body(
        scene,
        "third",
        Frame((float(rng.uniform(0.9, 1.2)), far - 0.3, 0.0), float(rng.uniform(15, 75))),
        (0.7, 0.6, float(rng.uniform(0.3, 0.6))),
    )
    body(
        scene,
        "fourth",
        Frame((float(rng.uniform(-1.6, -1.2)), far + 0.2, 0.0), float(rng.choice([bearing, bearing + 20]))),
        (0.6, 0.5, float(rng.uniform(0.4, 0.9))),
    )
    scene.paint_tin(
        "tin",
        "Tin",
        (float(rng.uniform(0.3, 0.6)), far - 0.75, 0.0),
        0.12,
        0.27,
        tuple(rng.uniform(0.05, 0.5, 3)),
        (0.5, 0.5, 0.4),
    )


def body(scene: Scene, id: str, frame: Frame, size: tuple[float, float, float]) -> None:
    """A slatted crate, or a plain box of one material."""
    rng = scene.rng
    if rng.random() < 0.5:
        scene.crate(id, id, frame, size, str(rng.choice(WOODS)), "NETS" if rng.random() < 0.5 else None)
        return
    scene.block(
        str(rng.choice(("concrete", "plaster", "paint0", "paint1", "wood1", "painted"))), frame, (0, 0, 0), size
    )
    scene.form(id, id, frame)
    scene.hull(id, frame, size)


def table(scene: Scene) -> None:
    """Boxes, tins and bowls on a table."""
    rng = scene.rng
    hand_held(scene, float(rng.uniform(1.2, 1.5)), (-26, -14), (35, 50))
    ground(scene, "planks", far=9)
    scene.block(
        str(rng.choice(("plaster", "painted", "brick"))), Frame((-6.0, 3.6, 0.0), 88.0), (0, 0, 0), (14, 0.3, 4)
    )
    bearing = float(rng.uniform(10, 80))
    top = 0.74
    corner = Frame((0.0, 0.95, 0.0), bearing)
    board = (-0.25, -0.25, top - 0.04), (1.1, 0.9, top)
    scene.block(str(rng.choice(("wood0", "wood1", "paint2", "cloth"))), corner, *board)
    for n, (x, y) in enumerate(((0.15, 0.15), (0.55, 0.1), (0.15, 0.5), (0.6, 0.55))):
        spot = tuple(corner.at(x + float(rng.uniform(-0.05, 0.05)), y + float(rng.uniform(-0.05, 0.05)), top))
        kind = rng.random()
        if kind < 0.4:
            body(
                scene,
                f"box{n}",
                Frame(spot, bearing + float(rng.uniform(-40, 40))),
                tuple(float(v) for v in rng.uniform(0.09, 0.22, 3)),
            )
        elif kind < 0.75:
            scene.paint_tin(
                f"tin{n}",
                f"Tin {n}",
                spot,
                float(rng.uniform(0.05, 0.09)),
                float(rng.uniform(0.08, 0.2)),
                tuple(rng.uniform(0.05, 0.6, 3)),
            )
        else:
            foot, r, h = np.array(spot), float(rng.uniform(0.07, 0.1)), float(rng.uniform(0.05, 0.09))
            scene.lathe(
                "painted",
                foot,
                UP,
                [(0.0, 0.0), (r * 0.5, 0.0), (r * 0.55, 0.012), (r, h), (r * 0.94, h), (0.45 * r, 0.016), (0.0, 0.016)],
            )
            scene.form(f"bowl{n}", "Bowl", Frame(spot, 0.0), kind="cylinder")
            scene.rim(f"bowl{n}", "mouth", "mouth", "level", foot + h * UP, UP, r)


def tower(scene: Scene) -> None:
    """Tall houses from below, upright format."""
    rng = scene.rng
    hand_held(scene, 1.6, (12, 26), (24, 28), tall=True)
    ground(scene, "setts", far=40)
    bearing = float(rng.uniform(25, 65))
    house(
        scene,
        "tall",
        Frame((float(rng.uniform(-1.5, 1.0)), float(rng.uniform(8, 11)), 0), bearing),
        (6.0, 5.5),
        float(rng.uniform(9, 14)),
        False,
    )
    house(scene, "low", Frame((-8.5, 14.0, 0), float(rng.choice([bearing, bearing + 18]))), (5.5, 5.0), 7.0, False)
    if rng.random() < 0.7:
        foot = at(4.2, 14.0, 0)
        scene.lathe("concrete", foot, UP, [(0.8, 0.0), (0.7, 13.0), (0.95, 13.0), (0.95, 13.4), (0.0, 13.4)])


def drums(scene: Scene) -> None:
    """Rope drums and rollers lying and standing about."""
    rng = scene.rng
    hand_held(scene, float(rng.uniform(1.3, 1.6)), (-12, -3), (28, 40))
    ground(scene, str(rng.choice(FLOORS)), far=10)
    scene.block(str(rng.choice(WALLS)), Frame((-5.0, 7.0, 0.0), float(rng.uniform(60, 88))), (0, 0, 0), (14, 1, 4.2))
    water_and_shore(scene, 10.0, -1.0)
    big, r = (
        Frame((float(rng.uniform(-1.1, -0.6)), 3.1, 0.0), float(rng.uniform(25, 60))),
        float(rng.uniform(0.35, 0.55)),
    )
    drum(
        scene,
        "big",
        "Big drum",
        at(big.origin[0], 3.1, r),
        big.right,
        "right",
        r,
        0.6,
        str(rng.choice(WOODS)),
        big,
        "near",
        "far",
    )
    low = Frame((float(rng.uniform(0.5, 0.9)), 3.0, 0.0), float(rng.uniform(40, 70)))
    drum(
        scene,
        "small",
        "Small drum",
        at(low.origin[0], 3.0, 0.32),
        low.left,
        "left",
        0.32,
        0.5,
        str(rng.choice(WOODS)),
        low,
        "near",
        "far",
    )
    drum(
        scene,
        "stand",
        "Standing drum",
        at(1.6, 4.0, 0.6),
        -UP,
        "level",
        0.4,
        0.6,
        "wood2",
        Frame((1.6, 4.0, 0.0), 0.0),
        "top",
        "base",
    )
    scene.paint_tin(
        "tin",
        "Tin",
        (float(rng.uniform(-0.2, 0.2)), 2.7, 0.0),
        0.14,
        0.3,
        tuple(rng.uniform(0.05, 0.5, 3)),
        (0.5, 0.5, 0.4),
    )
    body(scene, "box", Frame((-2.1, 4.0, 0.0), float(rng.uniform(20, 70))), (0.9, 0.6, 0.45))


def stairs(scene: Scene) -> None:
    """A flight of steps and a ramp beside a house."""
    rng = scene.rng
    hand_held(scene, 1.6, (-4, 4), (26, 35))
    ground(scene, str(rng.choice(FLOORS[:3])), far=40)
    bearing = float(rng.uniform(30, 60))
    frame = Frame((float(rng.uniform(-0.8, 0.4)), 6.5, 0.0), bearing)
    house(scene, "house", Frame(tuple(frame.at(0.0, 2.4, 0.0)), bearing), (8.0, 5.0), 4.2, rng.random() < 0.5)
    steps, rise, going = 7, 0.17, 0.3
    for k in range(steps):
        scene.block("concrete", frame, (1.0 + k * going, 0.0, 0.0), (1.0 + steps * going + 1.4, 1.5, (k + 1) * rise))
    run, top = 2.6, 0.9
    at_wall = Frame(tuple(frame.at(-0.2, -1.6, 0.0)), bearing)
    corners = [at_wall.at(0, 0, 0), at_wall.at(run, 0, top), at_wall.at(run, 1.1, top), at_wall.at(0, 1.1, 0)]
    foot = [at_wall.at(run, 0, 0), at_wall.at(run, 1.1, 0)]
    scene.quad("planks", corners)
    scene.quad("painted", [corners[0], foot[0], corners[1], corners[1]])
    scene.quad("painted", [corners[3], foot[1], corners[2], corners[2]])
    scene.quad("painted", [foot[0], foot[1], corners[2], corners[1]])
    scene.form("ramp", "Ramp", at_wall)
    for n, (a, b, family) in enumerate(((0, 1, "slope"), (3, 2, "slope"), (1, 2, "left"), (0, 3, "left"))):
        scene.edges.append(
            Edge(
                f"ramp-{n}",
                "ramp",
                family,
                "ramp",
                corners[a],
                corners[b],
                "ramp" if family == "slope" else None,
                "right",
            )
        )
    scene.edges.append(Edge("ramp-foot", "ramp", "right", "ramp", corners[0], foot[0]))
    scene.edges.append(Edge("ramp-upright", "ramp", "upright", "ramp", foot[0], corners[1]))
    clutter(scene, 2, (-3.0, -1.0), (4.5, 6.5))


LAYOUTS = {"street": street, "stack": stack, "table": table, "tower": tower, "drums": drums, "stairs": stairs}
