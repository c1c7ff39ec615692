"""Building blocks of the demo scenes: meshes, materials, forms with known edges, rendering."""

from __future__ import annotations

import itertools
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import cv2
import mitsuba as mi
import numpy as np
from camera import Camera, Vec
from numpy.typing import NDArray
from PIL import Image

mi.set_variant("scalar_rgb")

UP = np.array([0.0, 0.0, 1.0])


@dataclass
class Frame:
    """A form's own axes: ``origin`` is the foot of its near upright (metres).

    ``bearing_deg`` is the compass bearing of the right family, clockwise from the camera's
    heading; the left family runs 90 degrees to its left.
    """

    origin: tuple[float, float, float]
    bearing_deg: float

    @property
    def right(self) -> Vec:
        b = np.radians(self.bearing_deg)
        return np.array([np.sin(b), np.cos(b), 0.0])

    @property
    def left(self) -> Vec:
        b = np.radians(self.bearing_deg - 90)
        return np.array([np.sin(b), np.cos(b), 0.0])

    def at(self, along_right: float, along_left: float, up: float) -> Vec:
        return np.array(self.origin) + along_right * self.right + along_left * self.left + up * UP


@dataclass
class Edge:
    """A known edge of a form, from its near end to its far end (metres)."""

    id: str
    form: str
    family: str
    name: str
    near: Vec
    far: Vec
    slope: str | None = None
    plan: str | None = None


@dataclass
class Rim:
    """A known circle of a form: its ``axis`` follows ``plane`` (level: upright)."""

    id: str
    form: str
    plane: str
    name: str
    centre: Vec
    axis: Vec
    radius: float

    def at(self, angle_deg: NDArray[np.float64]) -> NDArray[np.float64]:
        """Points on the rim, (n, 3), at angles from its easternmost or topmost point."""
        first = np.array([1.0, 0.0, 0.0]) if abs(self.axis[2]) > 0.9 else UP
        first = first - (first @ self.axis) * self.axis
        first /= np.linalg.norm(first)
        second = np.cross(self.axis, first)
        t = np.radians(angle_deg)[:, None]
        return self.centre + self.radius * (np.cos(t) * first + np.sin(t) * second)


@dataclass
class Scene:
    camera: Camera
    rng: np.random.Generator
    sun: tuple[float, float, float] = (0.6, -0.5, 0.65)
    sun_colour: tuple[float, float, float] = (9.0, 7.6, 5.6)
    sky: NDArray[np.float32] | None = None
    sky_scale: float = 0.85
    materials: dict[str, dict[str, Any]] = field(default_factory=dict)
    scales: dict[str, tuple[float, float]] = field(default_factory=dict)
    meshes: dict[str, list[tuple[Vec, NDArray[np.float64]]]] = field(default_factory=dict)
    shapes: list[dict[str, Any]] = field(default_factory=list)
    edges: list[Edge] = field(default_factory=list)
    rims: list[Rim] = field(default_factory=list)
    forms: list[dict[str, Any]] = field(default_factory=list)
    # whatever stands in the scene, known or not: boxes as frame, lowest and highest corner; circles as centre, axis and radius
    blocks: list[tuple[Frame, tuple[float, float, float], tuple[float, float, float]]] = field(default_factory=list)
    circles: list[tuple[Vec, Vec, float]] = field(default_factory=list)
    walls: list[tuple[Vec, Vec, float]] = field(
        default_factory=list
    )  # round walls: the middles of both ends, and the radius

    # -- materials -------------------------------------------------------------------------
    def material(
        self,
        name: str,
        colour: NDArray[np.float32] | tuple[float, float, float],
        metres: tuple[float, float] = (1.0, 1.0),
        bump: NDArray[np.float32] | None = None,
        bump_scale: float = 0.0,
        shine: float | None = None,
    ) -> None:
        """``colour``: a flat colour or a bitmap (linear RGB) covering ``metres`` along u and v."""
        reflectance: dict[str, Any]
        if isinstance(colour, tuple):
            reflectance = {"type": "rgb", "value": list(colour)}
        else:
            reflectance = {
                "type": "bitmap",
                "bitmap": mi.Bitmap(np.clip(colour, 0, 1)),
                "raw": True,
                "wrap_mode": "repeat",
            }
        if shine is None:
            bsdf: dict[str, Any] = {"type": "diffuse", "reflectance": reflectance}
        else:
            bsdf = {
                "type": "roughplastic",
                "distribution": "ggx",
                "alpha": shine,
                "diffuse_reflectance": reflectance,
                "nonlinear": True,
            }
        if bump is not None:
            texture = {
                "type": "bitmap",
                "bitmap": mi.Bitmap(bump[..., None].astype(np.float32)),
                "raw": True,
                "wrap_mode": "repeat",
            }
            bsdf = {"type": "bumpmap", "arbitrary": texture, "scale": bump_scale, "bsdf": bsdf}
        self.materials[name] = {"type": "twosided", "bsdf": bsdf} if bsdf["type"] != "twosided" else bsdf
        self.scales[name] = metres

    def metal(self, name: str, alpha: float = 0.25) -> None:
        self.materials[name] = {
            "type": "twosided",
            "bsdf": {"type": "roughconductor", "material": "Al", "alpha": alpha},
        }
        self.scales[name] = (1.0, 1.0)

    # -- meshes ----------------------------------------------------------------------------
    def quad(self, name: str, corners: list[Vec], shift: tuple[float, float] | None = None) -> None:
        """A flat quadrilateral; u runs along the first side, both in metres of the material."""
        c = [np.asarray(p, float) for p in corners]
        along = (c[1] - c[0]) / np.linalg.norm(c[1] - c[0])
        normal = np.cross(along, c[3] - c[0])
        across = np.cross(normal / np.linalg.norm(normal), along)
        su, sv = self.scales[name]
        offset = self.rng.random(2) if shift is None else np.array(shift)
        uv = np.array([[(p - c[0]) @ along / su, (p - c[0]) @ across / sv] for p in c]) + offset
        self.meshes.setdefault(name, []).append((np.array(c), uv))

    def block(self, name: str, frame: Frame, low: tuple[float, float, float], high: tuple[float, float, float]) -> None:
        """A box in ``frame``; wood grain follows each face's longer side, courses stay level."""
        self.blocks.append((frame, low, high))
        corner = {
            (i, j, k): frame.at(*(hi if bit else lo for bit, lo, hi in zip((i, j, k), low, high, strict=True)))
            for i in (0, 1)
            for j in (0, 1)
            for k in (0, 1)
        }
        loops = [
            [(0, 0, 0), (1, 0, 0), (1, 0, 1), (0, 0, 1)],
            [(1, 1, 0), (0, 1, 0), (0, 1, 1), (1, 1, 1)],
            [(0, 1, 0), (0, 0, 0), (0, 0, 1), (0, 1, 1)],
            [(1, 0, 0), (1, 1, 0), (1, 1, 1), (1, 0, 1)],
            [(0, 0, 1), (1, 0, 1), (1, 1, 1), (0, 1, 1)],
            [(0, 0, 0), (0, 1, 0), (1, 1, 0), (1, 0, 0)],
        ]
        for loop in loops:
            points = [corner[key] for key in loop]
            if name.startswith("wood") and np.linalg.norm(points[1] - points[0]) < np.linalg.norm(
                points[3] - points[0]
            ):
                points = points[1:] + points[:1]
            self.quad(name, points)

    def tube(self, name: str, path: NDArray[np.float64], radius: float, sides: int = 10) -> None:
        """Rope or pipe along ``path`` (n, 3)."""
        tangent = np.gradient(path, axis=0)
        tangent /= np.linalg.norm(tangent, axis=1, keepdims=True)
        reference = np.where(np.abs(tangent[:, 2:]) > 0.9, np.array([[1.0, 0, 0]]), UP[None])
        side = np.cross(tangent, reference)
        side /= np.linalg.norm(side, axis=1, keepdims=True)
        over = np.cross(side, tangent)
        length = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(path, axis=0), axis=1))])
        turn = np.linspace(0, 2 * np.pi, sides + 1)
        ring = path[:, None] + radius * (
            np.cos(turn)[None, :, None] * side[:, None] + np.sin(turn)[None, :, None] * over[:, None]
        )
        su, sv = self.scales[name]
        for i in range(len(path) - 1):
            for k in range(sides):
                corners = np.array([ring[i, k], ring[i + 1, k], ring[i + 1, k + 1], ring[i, k + 1]])
                v = np.array([k, k, k + 1, k + 1]) / sides * 2 * np.pi * radius / sv
                u = np.array([length[i], length[i + 1], length[i + 1], length[i]]) / su
                self.meshes.setdefault(name, []).append((corners, np.stack([u, v], axis=1)))

    def cylinder(self, name: str, start: Vec, end: Vec, radius: float) -> None:
        way = (end - start) / np.linalg.norm(end - start)
        self.circles += [(start, way, radius), (end, way, radius)]
        self.walls.append((start, end, radius))
        self.shapes.append(
            {"type": "cylinder", "p0": list(start), "p1": list(end), "radius": radius, "bsdf": self.materials[name]}
        )

    def disc(self, name: str, centre: Vec, normal: Vec, radius: float) -> None:
        self.circles.append((np.asarray(centre, float), np.asarray(normal, float), radius))
        to_world = mi.ScalarTransform4f().look_at(
            origin=list(centre), target=list(np.asarray(centre) + normal), up=[0.13, 0.97, 0.2]
        ) @ mi.ScalarTransform4f().scale(radius)
        self.shapes.append({"type": "disk", "to_world": to_world, "bsdf": self.materials[name]})

    def label(
        self, text: str, colour: tuple[float, float, float], ground: tuple[float, float, float], corners: list[Vec]
    ) -> None:
        """A stencilled label as a small quad of its own."""
        width, height = 512, 192
        bitmap = np.ones((height, width, 3), np.float32) * np.array(ground, np.float32)
        mask = np.zeros((height, width), np.uint8)
        (w, h), _ = cv2.getTextSize(text, cv2.FONT_HERSHEY_DUPLEX, 3.4, 9)
        scale = min(3.4 * (width - 40) / w, 3.4 * (height - 50) / h)
        (w, h), _ = cv2.getTextSize(text, cv2.FONT_HERSHEY_DUPLEX, scale, 9)
        cv2.putText(
            mask, text, ((width - w) // 2, (height + h) // 2), cv2.FONT_HERSHEY_DUPLEX, scale, 255, 9, cv2.LINE_AA
        )
        worn = (mask / 255.0 * (0.7 + 0.3 * self.rng.random((height, width)))).astype(np.float32)[..., None]
        bitmap = bitmap * (1 - worn) + np.array(colour, np.float32) * worn
        name = f"label-{text}-{len(self.materials)}"
        size = (float(np.linalg.norm(corners[1] - corners[0])), float(np.linalg.norm(corners[3] - corners[0])))
        self.material(name, np.flipud(bitmap).copy(), metres=size)
        self.quad(name, corners, shift=(0, 0))

    # -- forms -----------------------------------------------------------------------------
    def form(self, id: str, name: str, frame: Frame, kind: str = "box") -> None:
        self.forms.append({"id": id, "name": name, "kind": kind, "frame": frame})

    def hull(
        self,
        form: str,
        frame: Frame,
        size: tuple[float, float, float],
        names: tuple[str, str] = ("left", "right"),
        base: tuple[float, float, float] = (0, 0, 0),
    ) -> None:
        """Record the twelve edges of a box as known truth. ``size``: right, left, up (metres)."""
        left, right = names
        w, d, h = size
        a, b, c = base

        def at(x: float, y: float, z: float) -> Vec:
            return frame.at(a + x, b + y, c + z)

        for level, z in (("bottom", 0.0), ("top", h)):
            for depth, x in (("near", 0.0), ("far", w)):
                self.edges.append(
                    Edge(
                        f"{form}-{left}-{level}-{depth}",
                        form,
                        left,
                        f"{level} {left}, {depth}",
                        at(x, 0, z),
                        at(x, d, z),
                    )
                )
            for depth, y in (("near", 0.0), ("far", d)):
                self.edges.append(
                    Edge(
                        f"{form}-{right}-{level}-{depth}",
                        form,
                        right,
                        f"{level} {right}, {depth}",
                        at(0, y, z),
                        at(w, y, z),
                    )
                )
        for place, x, y in (("near", 0.0, 0.0), (right, w, 0.0), (left, 0.0, d), ("far", w, d)):
            self.edges.append(
                Edge(f"{form}-upright-{place}", form, "upright", f"{place} upright", at(x, y, 0), at(x, y, h))
            )

    def crate(
        self, id: str, name: str, frame: Frame, size: tuple[float, float, float], wood: str, label: str | None = None
    ) -> None:
        """A slatted crate whose rails and lid lie flush with its hull."""
        w, d, h = size
        rail, deep = min(0.075, 0.16 * h), 0.018
        others = len(self.blocks)
        self.block("dark", frame, (deep * 2, deep * 2, 0.01), (w - deep * 2, d - deep * 2, h - deep))
        for side, long in (("near-right", w), ("near-left", d), ("far-right", w), ("far-left", d)):

            def put(a: float, b: float, z0: float, z1: float, inset: float, side: str = side) -> None:
                thick = (inset, deep + inset)
                if side == "near-right":
                    self.block(wood, frame, (a, thick[0], z0), (b, thick[1], z1))
                elif side == "far-right":
                    self.block(wood, frame, (a, d - thick[1], z0), (b, d - thick[0], z1))
                elif side == "near-left":
                    self.block(wood, frame, (thick[0], a, z0), (thick[1], b, z1))
                else:
                    self.block(wood, frame, (w - thick[1], a, z0), (w - thick[0], b, z1))

            start, stop = (0.0, long) if side.endswith("right") else (deep, long - deep)
            put(start, stop, 0, rail, 0)
            put(start, stop, h - rail, h, 0)
            put(start, rail, rail, h - rail, 0)
            put(long - rail, stop, rail, h - rail, 0)
            count = max(2, round((h - 2 * rail) / 0.13))
            pitch = (h - 2 * rail) / count
            for k in range(count):
                put(rail * 0.6, long - rail * 0.6, rail + k * pitch + 0.006, rail + (k + 1) * pitch - 0.006, 0.010)
        count = max(3, round(d / 0.15))
        for k in range(count):
            self.block(
                wood,
                frame,
                (deep, deep + (d - 2 * deep) * k / count + 0.003, h - deep),
                (w - deep, deep + (d - 2 * deep) * (k + 1) / count - 0.003, h),
            )
        self.blocks[others:] = [(frame, (0.0, 0.0, 0.0), size)]  # its slats are texture; its hull is the form
        if label:
            x0, x1, z0 = w * 0.3, w * 0.7, h * 0.5
            tall = (x1 - x0) * 192 / 512
            corners = [
                frame.at(x0, 0.0088, z0 - tall / 2),
                frame.at(x1, 0.0088, z0 - tall / 2),
                frame.at(x1, 0.0088, z0 + tall / 2),
                frame.at(x0, 0.0088, z0 + tall / 2),
            ]
            self.label(label, (0.05, 0.06, 0.07), (0.42, 0.33, 0.2), corners)
        self.form(id, name, frame)
        self.hull(id, frame, size)

    def lathe(self, name: str, foot: Vec, axis: Vec, profile: list[tuple[float, float]], sides: int = 144) -> None:
        """A turned body: ``profile`` lists (radius, distance along ``axis`` from ``foot``)."""
        foot, axis = np.asarray(foot, float), np.asarray(axis, float)
        self.circles += [(foot + h * axis, axis, r) for r, h in profile if r > 0]
        self.walls += [
            (foot + h * axis, foot + k * axis, r)
            for (r, h), (s, k) in itertools.pairwise(profile)
            if abs(r - s) < 0.04 * r and h != k
        ]
        first = np.cross(axis, UP if abs(axis[2]) < 0.9 else np.array([0.0, 1.0, 0.0]))
        first /= np.linalg.norm(first)
        second = np.cross(axis, first)
        turn = np.linspace(0, 2 * np.pi, sides + 1)
        ring = np.cos(turn)[:, None] * first + np.sin(turn)[:, None] * second
        su, sv = self.scales[name]
        run = 0.0
        for (r0, h0), (r1, h1) in itertools.pairwise(profile):
            step = float(np.hypot(r1 - r0, h1 - h0))
            low, high = foot + h0 * axis + r0 * ring, foot + h1 * axis + r1 * ring
            wide = 2 * np.pi * max(r0, r1) / su
            for k in range(sides):
                corners = np.array([low[k], low[k + 1], high[k + 1], high[k]])
                u = np.array([k, k + 1, k + 1, k]) / sides * wide
                v = np.array([run, run, run + step, run + step]) / sv
                self.meshes.setdefault(name, []).append((corners, np.stack([u, v], axis=1)))
            run += step

    def rim(self, form: str, id: str, name: str, plane: str, centre: Vec, axis: Vec, radius: float) -> None:
        """Record a circle as known truth."""
        self.rims.append(
            Rim(f"{form}-{id}", form, plane, name, np.asarray(centre, float), np.asarray(axis, float), radius)
        )

    def tin(
        self,
        centre: tuple[float, float, float],
        radius: float,
        height: float,
        colour: tuple[float, float, float],
        band: tuple[float, float, float] | None = None,
    ) -> None:
        """An upright paint tin with a rim and lid."""
        name = f"paint-{len(self.materials)}"
        self.material(name, colour, shine=0.18)
        base = np.array(centre, float)
        self.cylinder(name, base, base + height * UP, radius)
        if band:
            self.material(name + "-band", band, shine=0.2)
            self.cylinder(name + "-band", base + 0.35 * height * UP, base + 0.75 * height * UP, radius * 1.004)
        for z in (0.0, height - 0.004):
            ring = (
                base
                + z * UP
                + np.stack(
                    [np.cos(t := np.linspace(0, 2 * np.pi, 73)) * radius, np.sin(t) * radius, np.full_like(t, 0.004)],
                    axis=1,
                )
            )
            self.tube("tin-metal", ring, 0.005, 8)
        self.disc("tin-metal", base + (height - 0.004) * UP, UP, radius)

    def paint_tin(
        self,
        id: str,
        name: str,
        centre: tuple[float, float, float],
        radius: float,
        height: float,
        colour: tuple[float, float, float],
        band: tuple[float, float, float] | None = None,
    ) -> None:
        """An open paint tin as a form with known mouth and base; the seams lie flush with it."""
        body = f"paint-{len(self.materials)}"
        self.material(body, colour, shine=0.16)
        inside = f"inside-{len(self.materials)}"
        self.material(inside, tuple(0.55 * c + 0.03 for c in colour), shine=0.3)
        base = np.array(centre, float)
        seam = 0.012
        self.lathe("tin-metal", base, UP, [(0.0, 0.0), (radius, 0.0), (radius, seam)])
        self.lathe(
            body,
            base,
            UP,
            [(radius, seam), (radius * 0.975, seam + 0.002), (radius * 0.975, height - seam), (radius, height - seam)],
        )
        if band:
            self.material(body + "-band", band, shine=0.2)
            self.lathe(body + "-band", base, UP, [(radius * 0.979, 0.3 * height), (radius * 0.979, 0.72 * height)])
        self.lathe(
            "tin-metal",
            base,
            UP,
            [(radius, height - seam), (radius, height), (radius * 0.90, height), (radius * 0.90, height - 0.02)],
        )
        self.lathe(
            inside, base, UP, [(radius * 0.90, height - 0.02), (radius * 0.90, 0.45 * height), (0.0, 0.45 * height)]
        )
        self.form(id, name, Frame(tuple(base), 0.0), kind="cylinder")
        self.rim(id, "mouth", "mouth", "level", base + height * UP, UP, radius)
        self.rim(id, "base", "base", "level", base, UP, radius)

    def coil(self, centre: tuple[float, float, float], radius: float, turns: int, thick: float) -> None:
        """A coil of rope lying on the ground."""
        t = np.linspace(0, turns * 2 * np.pi, turns * 48)
        layer = np.floor(t / (4 * 2 * np.pi))
        r = radius + thick * 2.0 * ((t / (2 * np.pi)) % 4)
        path = np.array(centre) + np.stack([r * np.cos(t), r * np.sin(t), thick + layer * thick * 1.8], axis=1)
        self.tube("rope", path, thick, 10)

    # -- rendering -------------------------------------------------------------------------
    def load(self, samples: int) -> Any:
        camera = self.camera
        _, down, forward = camera.axes()
        origin = np.array(camera.position)
        view = float(np.degrees(2 * np.arctan(camera.width_px / 2 / camera.focal_px)))
        contents: dict[str, Any] = {
            "type": "scene",
            "integrator": {"type": "path", "max_depth": 7},
            "sensor": {
                "type": "perspective",
                "fov": view,
                "fov_axis": "x",
                "near_clip": 0.05,
                "far_clip": 5000.0,
                "to_world": mi.ScalarTransform4f().look_at(
                    origin=list(origin), target=list(origin + forward), up=list(-down)
                ),
                "film": {
                    "type": "hdrfilm",
                    "width": camera.width_px,
                    "height": camera.height_px,
                    "rfilter": {"type": "gaussian", "stddev": 0.45},
                },
                "sampler": {"type": "multijitter", "sample_count": samples},
            },
        }
        if self.sky is not None:
            contents["sky"] = {
                "type": "envmap",
                "bitmap": mi.Bitmap(self.sky),
                "scale": self.sky_scale,
                "to_world": mi.ScalarTransform4f().rotate([1, 0, 0], 90),
            }
            contents["sun"] = {
                "type": "directional",
                "direction": list(-np.array(self.sun)),
                "irradiance": {"type": "rgb", "value": list(self.sun_colour)},
            }
        for number, shape in enumerate(self.shapes):
            contents[f"shape{number}"] = shape
        with tempfile.TemporaryDirectory() as folder:
            for number, (name, quads) in enumerate(self.meshes.items()):
                path = Path(folder) / f"{number}.ply"
                write_ply(path, quads)
                contents[f"mesh{number}"] = {
                    "type": "ply",
                    "filename": str(path),
                    "face_normals": True,
                    "bsdf": self.materials[name],
                }
            return mi.load_dict(contents)

    def truth(self, scene: Any) -> dict[str, Any]:
        """Known truth: camera, eye level, VPs and edges, each edge with its seen share."""
        known = self.camera.truth()
        known["forms"] = []
        for form in self.forms:
            frame: Frame = form["frame"]
            plain = {"depth", "across"} & {e.family for e in self.edges if e.form == form["id"]}
            families = ("across", "depth") if plain else ("left", "right")
            known["forms"].append(
                {
                    "id": form["id"],
                    "kind": form["kind"],
                    "name": form["name"],
                    "bearing_deg": frame.bearing_deg,
                    "vanishing_points": {
                        families[0]: self.camera.vanishing_point(frame.left),
                        families[1]: self.camera.vanishing_point(frame.right),
                        "upright": self.camera.vanishing_point(UP),
                    },
                }
            )
        if self.rims:
            known["rims"] = [r for r in (look_round(scene, self.camera, rim) for rim in self.rims) if r is not None]
        known["edges"] = []
        for edge in self.edges:
            try:
                p, q = self.camera.project(edge.near), self.camera.project(edge.far)
            except ValueError:
                continue
            seen, stray = look_along(scene, self.camera, edge)
            record = {"id": edge.id, "form": edge.form, "family": edge.family, "name": edge.name}
            if edge.slope:
                record |= {"slope": edge.slope, "plan": edge.plan or ""}
            known["edges"].append(
                record
                | {
                    "p": [round(float(v), 2) for v in p],
                    "q": [round(float(v), 2) for v in q],
                    "seen": round(seen, 2),
                    "cast_px": None if stray is None else round(stray, 2),
                }
            )
        return known


def write_ply(path: Path, quads: list[tuple[Vec, NDArray[np.float64]]]) -> None:
    count = len(quads)
    with path.open("wb") as file:
        header = f"ply\nformat binary_little_endian 1.0\nelement vertex {4 * count}\n"
        header += "".join(f"property float {n}\n" for n in ("x", "y", "z", "u", "v"))
        header += f"element face {2 * count}\nproperty list uchar int vertex_indices\nend_header\n"
        file.write(header.encode())
        data = np.concatenate([np.concatenate([c, uv], axis=1) for c, uv in quads]).astype("<f4")
        file.write(data.tobytes())
        faces = np.zeros(2 * count, dtype=[("n", "u1"), ("v", "<i4", 3)])
        start = 4 * np.arange(count)
        faces["n"] = 3
        faces["v"][0::2] = np.stack([start, start + 1, start + 2], axis=1)
        faces["v"][1::2] = np.stack([start, start + 2, start + 3], axis=1)
        file.write(faces.tobytes())


def cast(scene: Any, camera: Camera, pixel: Vec) -> tuple[float, Vec]:
    """Depth (metres) and surface normal met by the ray through ``pixel``."""
    right, down, forward = camera.axes()
    direction = (
        forward
        + ((pixel[0] - camera.width_px / 2) * right + (pixel[1] - camera.height_px / 2) * down) / camera.focal_px
    )
    direction = direction / np.linalg.norm(direction)
    hit = scene.ray_intersect(mi.Ray3f(list(camera.position), list(direction)))
    if not hit.is_valid():
        return np.inf, np.zeros(3)
    return float(hit.t), np.array(hit.n)


def look_along(scene: Any, camera: Camera, edge: Edge) -> tuple[float, float | None]:
    """Share of the edge that is seen, and the median distance (px) from the projected edge to
    the break in depth or surface direction that rays cast across it meet.
    """
    p, q = camera.project(edge.near), camera.project(edge.far)
    along = (q - p) / np.linalg.norm(q - p)
    across = np.array([-along[1], along[0]])
    seen, strays = [], []
    for s in np.linspace(0.06, 0.94, 15):
        image = p + s * (q - p)
        if not (0 <= image[0] < camera.width_px and 0 <= image[1] < camera.height_px):
            seen.append(False)
            continue
        right, down, forward = camera.axes()
        ray = (
            forward
            + ((image[0] - camera.width_px / 2) * right + (image[1] - camera.height_px / 2) * down) / camera.focal_px
        )
        ray = ray / np.linalg.norm(ray)
        # nearest approach of the sight ray to the edge gives the edge's own distance
        start = edge.near - np.array(camera.position)
        line = edge.far - edge.near
        solved = np.linalg.lstsq(np.stack([ray, -line], axis=1), start, rcond=None)[0]
        distance = float(solved[0])
        # one side may be a surface of the form that comes towards the eye; an occluder covers both
        depth = max(cast(scene, camera, image + k * across)[0] for k in (-1.2, 1.2))
        seen.append(depth > distance - 0.03)
        steps = np.arange(-3.0, 3.01, 0.1)
        hits = [cast(scene, camera, image + k * across) for k in steps]
        breaks = [
            (steps[i] + steps[i + 1]) / 2
            for i in range(len(steps) - 1)
            if hits[i][0] != hits[i + 1][0]
            and (hits[i][1] @ hits[i + 1][1] < 0.9 or abs(hits[i][0] - hits[i + 1][0]) > 0.02)
        ]
        if breaks and seen[-1]:
            strays.append(min(abs(b) for b in breaks))
    return float(np.mean(seen)), float(np.median(strays)) if strays else None


def ellipse_of(camera: Camera, rim: Rim) -> dict[str, Any]:
    """Centre, half axes (px), tilt of the minor axis and degree of the rim's image: the conic
    through its projected points.
    """
    points = np.array([camera.project(p) for p in rim.at(np.arange(0.0, 360.0, 5.0))])
    middle, size = points.mean(axis=0), points.std()
    x, y = ((points - middle) / size).T
    *_, rows = np.linalg.svd(np.stack([x * x, x * y, y * y, x, y, np.ones_like(x)], axis=1))
    a, b, c, d, e, f = rows[-1]
    matrix = np.array([[a, b / 2], [b / 2, c]])
    centre = np.linalg.solve(2 * matrix, [-d, -e])
    level = f + 0.5 * (d * centre[0] + e * centre[1])
    values, vectors = np.linalg.eigh(-matrix / level)
    halves = 1 / np.sqrt(np.maximum(values, 1e-12)) * size  # the larger first
    minor = vectors[:, 1]
    tilt = float(np.degrees(np.arctan2(-minor[1], minor[0])))
    return {
        "ellipse_px": [round(float(v), 2) for v in centre * size + middle],
        "major_px": round(float(2 * halves[0]), 2),
        "minor_px": round(float(2 * halves[1]), 2),
        "axis_deg": round(90 - (90 - tilt) % 180, 3),
        "degree_deg": round(float(np.degrees(np.arcsin(halves[1] / halves[0]))), 3),
    }


def look_round(scene: Any, camera: Camera, rim: Rim) -> dict[str, Any] | None:
    """A rim's known truth: its ellipse, the image of its centre, points on it every 5 degrees
    with whether each is seen, and how far off (px) rays cast across it break.
    """
    angles = np.arange(0.0, 360.0, 5.0)
    try:
        image = np.array([camera.project(p) for p in rim.at(angles)])
        ahead = np.array([camera.project(p) for p in rim.at(angles + 0.5)])
    except ValueError:
        return None
    seen, strays = [], []
    for k, point in enumerate(image):
        if not (0 <= point[0] < camera.width_px and 0 <= point[1] < camera.height_px):
            seen.append(False)
            continue
        distance = float(np.linalg.norm(rim.at(angles[k : k + 1])[0] - np.array(camera.position)))
        along = (ahead[k] - point) / np.linalg.norm(ahead[k] - point)
        across = np.array([-along[1], along[0]])
        depth = max(cast(scene, camera, point + s * across)[0] for s in (-1.2, 1.2))
        seen.append(depth > distance - 0.015)
        if seen[-1] and k % 3 == 0:
            steps = np.arange(-2.0, 2.01, 0.1)
            hits = [cast(scene, camera, point + s * across) for s in steps]
            breaks = [
                (steps[i] + steps[i + 1]) / 2
                for i in range(len(steps) - 1)
                if hits[i][0] != hits[i + 1][0]
                and (hits[i][1] @ hits[i + 1][1] < 0.9 or abs(hits[i][0] - hits[i + 1][0]) > 0.01)
            ]
            if breaks:
                strays.append(min(abs(b) for b in breaks))
    centre = camera.project(rim.centre)
    return {
        "id": rim.id,
        "form": rim.form,
        "plane": rim.plane,
        "name": rim.name,
        "centre_px": [round(float(v), 2) for v in centre],
        **ellipse_of(camera, rim),
        "points": [[round(float(x), 2), round(float(y), 2)] for x, y in image],
        "seen": [int(s) for s in seen],
        "cast_px": round(float(np.median(strays)), 2) if strays else None,
    }


def develop(image: NDArray[np.float32], rng: np.random.Generator, exposure: float) -> NDArray[np.uint8]:
    """Linear radiance to a photograph: exposure, soft shoulder, slight vignette, grain."""
    height, width = image.shape[:2]
    y, x = np.mgrid[0:height, 0:width]
    radius = np.hypot(x - width / 2, y - height / 2) / np.hypot(width / 2, height / 2)
    value = np.clip(image, 0, None) * exposure * (1 - 0.16 * radius**2)[..., None]
    value = value * (1 + value / 3.2) / (1 + value * 0.72)
    grey = value.mean(axis=2, keepdims=True)
    value = np.clip(grey + 1.12 * (value - grey), 0, 1) ** (1 / 2.2)
    value = value + 0.05 * np.sin(2 * np.pi * (value - 0.5)) * -1.0
    value = np.clip(value, 0, 1)
    value8 = (value * 255).astype(np.uint8)
    value8 = cv2.bilateralFilter(value8, 5, 9, 2.0)
    grain = rng.normal(0, 1.6, (height, width, 1)).astype(np.float32)
    return np.clip(value8.astype(np.float32) + grain, 0, 255).astype(np.uint8)


def photograph(scene: Scene, loaded: Any, seed: int, exposure: float) -> Image.Image:
    image = np.array(mi.render(loaded, seed=seed), dtype=np.float32)[..., :3]
    return Image.fromarray(develop(image, scene.rng, exposure))
