"""Render the pictures that the finder is tried on, each with the known truth of everything that stands in it.

pip install -r tools/photos/requirements.txt
python tools/photos/gallery.py [NAME …] [--samples 32] [--out tests/gallery] [--check FOLDER]

Set-ups are split by layout: a few are for tuning, the others are only ever reported. The demo's own photos are reported; of them the
truth alone is written.
"""

from __future__ import annotations

import argparse
import importlib
import io
import json
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parent))

import cv2
import mitsuba as mi
import numpy as np
import scenery
from camera import Camera, Vec
from PIL import Image, ImageDraw
from scenery import Edge, Rim, Scene, cast
from scenes import quays

ROOT = Path(__file__).parents[2]
CORNERS = [(i, j, k) for i in (0, 1) for j in (0, 1) for k in (0, 1)]
SAMPLES_ALONG, SAMPLES_ROUND = 33, 72
WHITE = 0.75  # of full exposure
AWAY_M = 0.012  # behind its surface by which a place still counts as seen


@dataclass(frozen=True)
class Shot:
    """One picture: its set-up and what was done to it afterwards."""

    layout: str
    seed: int = 0
    tuned: bool = False
    exposure: float = 1.0  # as a camera would choose it, times this
    blur_px: float = 0.0
    contrast: float = 1.0
    crop: tuple[float, float] = (0.0, 1.0)  # of the height that is kept
    quality: int = 86
    exif: bool = True


SHOTS = {
    "street-1": Shot("street", 101, tuned=True),
    "street-2": Shot("street", 102, tuned=True, exif=False),
    "street-3": Shot("street", 103, tuned=True, exposure=0.5, exif=False),
    "stack-1": Shot("stack", 201, tuned=True),
    "stack-2": Shot("stack", 202, tuned=True, exif=False),
    "stack-3": Shot("stack", 203, tuned=True, blur_px=1.0),
    "table-1": Shot("table", 301, tuned=True),
    "table-2": Shot("table", 302, tuned=True, exif=False),
    "drums-1": Shot("drums", 401, tuned=True),
    "drums-2": Shot("drums", 402, tuned=True, contrast=0.55, exif=False),
    "table-5": Shot("table", 305, tuned=True),
    "table-6": Shot("table", 306, tuned=True, contrast=0.7),
    "table-7": Shot("table", 307, tuned=True, exif=False),
    "table-8": Shot("table", 308, tuned=True, blur_px=0.8),
    "stack-5": Shot("stack", 205, tuned=True),
    "stack-6": Shot("stack", 206, tuned=True, exposure=0.45),
    "stack-7": Shot("stack", 207, tuned=True, exif=False),
    "drums-4": Shot("drums", 404, tuned=True),
    "drums-5": Shot("drums", 405, tuned=True, exposure=0.6),
    "drums-6": Shot("drums", 406, tuned=True),
    "street-6": Shot("street", 106, tuned=True),
    "street-7": Shot("street", 107, tuned=True, exif=False, crop=(0.15, 0.9)),
    "street-4": Shot("street", 154, crop=(0.2, 0.8), exif=False),
    "street-5": Shot("street", 155),
    "stack-4": Shot("stack", 254, exposure=0.35),
    "table-3": Shot("table", 353, blur_px=1.2, exif=False),
    "table-4": Shot("table", 354),
    "tower-1": Shot("tower", 501),
    "tower-2": Shot("tower", 502, exif=False),
    "stairs-1": Shot("stairs", 601, exif=False),
    "stairs-2": Shot("stairs", 602, contrast=0.6),
    "drums-3": Shot("drums", 453, exif=False),
} | {name: Shot(name) for name in ("crates", "loft", "tower", "market", "tins", "lamps", "drums", "wheel", "yard")}


def is_demo(shot: Shot) -> bool:
    return shot.seed == 0


def set_up(shot: Shot) -> Scene:
    return (
        importlib.import_module(f"scenes.{shot.layout}").build()
        if is_demo(shot)
        else quays.build(shot.layout, shot.seed)
    )


def boxes_edges(scene: Scene) -> list[Edge]:
    """The twelve edges of every box that stands in the scene."""
    edges = []
    for n, (frame, low, high) in enumerate(scene.blocks):
        corner = {
            key: frame.at(*(hi if bit else lo for bit, lo, hi in zip(key, low, high, strict=True))) for key in CORNERS
        }
        for axis, family in enumerate(("right", "left", "upright")):
            for key in CORNERS:
                if key[axis] == 0:
                    other = tuple(1 if i == axis else v for i, v in enumerate(key))
                    edges.append(Edge(f"block{n}-{family}-{key}", f"block{n}", family, "", corner[key], corner[other]))
    return edges


def outlines(scene: Scene) -> list[Edge]:
    """The two sides that each round wall shows: where the line of sight grazes it."""
    eye, edges = np.array(scene.camera.position), []
    for n, (start, end, radius) in enumerate(scene.walls):
        axis = (end - start) / np.linalg.norm(end - start)
        away = start - eye
        away = away - (away @ axis) * axis
        distance = float(np.linalg.norm(away))
        if distance <= radius:
            continue
        towards, aside = -away / distance, np.cross(axis, away / distance)
        turn = np.arccos(radius / distance)
        for sign in (1, -1):
            out = radius * (np.cos(turn) * towards + sign * np.sin(turn) * aside)
            edges.append(Edge(f"wall{n}-{sign}", f"wall{n}", "upright", "", start + out, end + out))
    return edges


def seen_along(scene: Any, camera: Camera, points: list[Vec]) -> list[bool]:
    """Whether each of a line's ``points`` (m) is in the picture with nothing in front of it."""
    seen = []
    for k, point in enumerate(points):
        try:
            here, ahead = camera.project(point), camera.project(points[min(k + 1, len(points) - 1)])
            before = camera.project(points[max(k - 1, 0)])
        except ValueError:
            seen.append(False)
            continue
        way = ahead - before
        if not (0 <= here[0] < camera.width_px and 0 <= here[1] < camera.height_px) or not np.any(way):
            seen.append(False)
            continue
        across = np.array([-way[1], way[0]]) / np.linalg.norm(way)
        distance = float(np.linalg.norm(point - np.array(camera.position)))
        slack = AWAY_M + 0.004 * distance
        depth, normal = zip(*(cast(scene, camera, here + s * across) for s in (-1.3, 1.3)), strict=True)
        # something must end or bend here
        bends = abs(depth[0] - depth[1]) > slack or float(normal[0] @ normal[1]) < 0.97
        seen.append(max(depth) > distance - slack and min(depth) < distance + slack and bends)
    return seen


def truth_of(scene: Scene, loaded: Any) -> dict[str, Any]:
    """Camera, eye level, edges with their directions in space and seen shares, circles with the same."""
    camera = scene.camera
    known = camera.truth() | {"edges": [], "circles": []}
    known["camera"]["centre_px"] = [camera.width_px / 2, camera.height_px / 2]
    for edge in [*scene.edges, *boxes_edges(scene), *outlines(scene)]:
        try:
            p, q = camera.project(edge.near), camera.project(edge.far)
        except ValueError:
            continue
        if (
            np.linalg.norm(q - p) < 12
            or max(
                min(p[0], q[0]) - camera.width_px,
                min(p[1], q[1]) - camera.height_px,
                -max(p[0], q[0]),
                -max(p[1], q[1]),
            )
            > 0
        ):
            continue
        seen = seen_along(
            loaded,
            camera,
            [edge.near + s * (edge.far - edge.near) for s in (np.arange(SAMPLES_ALONG) + 0.5) / SAMPLES_ALONG],
        )
        if any(seen):
            way = edge.far - edge.near
            known["edges"].append(
                {
                    "p": np.round(p, 2).tolist(),
                    "q": np.round(q, 2).tolist(),
                    "direction": np.round(way / np.linalg.norm(way), 5).tolist(),
                    "part": edge.form.startswith(("block", "wall")),
                    "seen": "".join("1" if s else "0" for s in seen),
                }
            )
    main = [(r.centre, r.axis, r.radius, True) for r in scene.rims]
    for centre, axis, radius, named in main + [(*c, False) for c in scene.circles]:
        rim = Rim("", "", "", "", np.asarray(centre, float), np.asarray(axis, float), radius)
        try:
            shape = scenery.ellipse_of(camera, rim)
        except (ValueError, np.linalg.LinAlgError):
            continue
        if shape["major_px"] < 12:
            continue
        seen = seen_along(loaded, camera, list(rim.at(np.arange(SAMPLES_ROUND) * 360.0 / SAMPLES_ROUND)))
        if any(seen):
            known["circles"].append(
                shape
                | {"axis": np.round(axis, 5).tolist(), "named": named, "seen": "".join("1" if s else "0" for s in seen)}
            )
    return known


def cropped(known: dict[str, Any], top: int, high: int) -> dict[str, Any]:
    """The truth of the part from row ``top`` on, ``high`` rows."""
    for edge in known["edges"]:
        inside = [
            top <= edge["p"][1] + (edge["q"][1] - edge["p"][1]) * (k + 0.5) / SAMPLES_ALONG < top + high
            for k in range(SAMPLES_ALONG)
        ]
        edge["seen"] = "".join("1" if s == "1" and i else "0" for s, i in zip(edge["seen"], inside, strict=True))
        for end in ("p", "q"):
            edge[end][1] = round(edge[end][1] - top, 2)
    for circle in known["circles"]:
        circle["ellipse_px"][1] -= top
    for key in ("left_y_px", "right_y_px"):
        known["eye_level"][key] = round(known["eye_level"][key] - top, 2)
    known["camera"]["centre_px"][1] -= top
    known["picture"]["height_px"] = high
    return known


def photograph(scene: Scene, loaded: Any, shot: Shot) -> Image.Image:
    """Exposed as a camera does by itself: what is brighter than nine tenths of the picture comes near to white."""
    light = np.array(mi.render(loaded, seed=shot.seed), dtype=np.float32)[..., :3]
    exposure = WHITE / max(float(np.quantile(light.mean(axis=2), 0.9)), 1e-6)
    return Image.fromarray(scenery.develop(light, scene.rng, exposure * shot.exposure))


def finished(image: Image.Image, shot: Shot) -> Image.Image:
    values = np.asarray(image, np.float32)
    if shot.blur_px:
        values = cv2.GaussianBlur(values, (0, 0), shot.blur_px)
    values = (
        128
        + (values - 128) * shot.contrast
        + np.random.default_rng(shot.seed).normal(0, 1.2, values.shape[:2])[..., None]
    )
    return Image.fromarray(np.clip(values, 0, 255).astype(np.uint8))


def take(name: str, shot: Shot, out: Path, samples: int, check: Path | None, truth_only: bool) -> None:
    scene = set_up(shot)
    loaded = scene.load(samples)
    known = truth_of(scene, loaded)
    top, high = 0, scene.camera.height_px
    if is_demo(shot) or truth_only:
        image = Image.open((ROOT / "aspectum/demo/photos" if is_demo(shot) else out) / f"{name}.jpg")
        if not is_demo(shot):
            top, high = round(shot.crop[0] * high), round(shot.crop[1] * high) - round(shot.crop[0] * high)
            known = cropped(known, top, high)
    else:
        image = finished(photograph(scene, loaded, shot), shot)
        top = round(shot.crop[0] * high)
        high = round(shot.crop[1] * high) - top
        image = image.crop((0, top, image.width, top + high))
        known = cropped(known, top, high)
        exif = Image.Exif()
        if shot.exif:
            exif.get_ifd(0x8769)[0xA405] = round(scene.camera.focal_35mm)
        buffer = io.BytesIO()
        image.save(buffer, "JPEG", quality=shot.quality, exif=exif, optimize=True, progressive=True)
        (out / f"{name}.jpg").write_bytes(buffer.getvalue())
    known |= {"name": name, "layout": shot.layout, "tuned": shot.tuned}
    rows = [
        f'  "{key}": [\n' + ",\n".join("   " + json.dumps(row) for row in known.pop(key)) + "\n  ]"
        for key in ("edges", "circles")
    ]
    (out / f"{name}.truth.json").write_text(json.dumps(known)[:-1] + ",\n" + ",\n".join(rows) + "\n}\n")
    print(f"{name}: {image.size}, {scene.camera.focal_35mm:g} mm, pitch {scene.camera.pitch_deg:.1f}°", flush=True)
    if check:
        overdraw(image.copy(), json.loads((out / f"{name}.truth.json").read_text())).save(check / f"{name}.png")


def overdraw(image: Image.Image, known: dict[str, Any]) -> Image.Image:
    draw = ImageDraw.Draw(image)
    for edge in known["edges"]:
        p, q = np.array(edge["p"]), np.array(edge["q"])
        for k, shown in enumerate(edge["seen"]):
            if shown == "1":
                draw.line(
                    [tuple(p + (q - p) * k / SAMPLES_ALONG), tuple(p + (q - p) * (k + 1) / SAMPLES_ALONG)],
                    fill=(255, 160, 0) if edge["part"] else (255, 0, 0),
                )
    for circle in known["circles"]:
        (x, y), a, b, tilt = (
            circle["ellipse_px"],
            circle["major_px"] / 2,
            circle["minor_px"] / 2,
            np.radians(circle["axis_deg"]),
        )
        t = np.linspace(0, 2 * np.pi, 73)
        minor, major = np.array([np.cos(tilt), -np.sin(tilt)]), np.array([np.sin(tilt), np.cos(tilt)])
        points = np.array([x, y]) + a * np.cos(t)[:, None] * major + b * np.sin(t)[:, None] * minor
        draw.line([tuple(v) for v in points], fill=(0, 255, 0))
    level = known["eye_level"]
    draw.line([(0, level["left_y_px"]), (image.width, level["right_y_px"])], fill=(0, 255, 255))
    return image


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("names", nargs="*")
    parser.add_argument("--samples", type=int, default=32)
    parser.add_argument("--out", type=Path, default=ROOT / "tests/gallery")
    parser.add_argument("--check", type=Path, help="a folder for the pictures with the truth drawn over them")
    parser.add_argument("--truth-only", action="store_true", help="leave the pictures as they are")
    args = parser.parse_args()
    args.out.mkdir(parents=True, exist_ok=True)
    for name in args.names or SHOTS:
        take(name, SHOTS[name], args.out, args.samples, args.check, args.truth_only)


if __name__ == "__main__":
    main()
