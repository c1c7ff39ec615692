"""Drawings with known faults, constructed by ruler as a draughtsman would, line by line, without the code
under test.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from aspectum.core.drawing.compare import Laid
from aspectum.core.sightings import Edge, Family, Plane, Point, Rim, Setup
from tests.round_scenes import Circle, level_circle
from tests.scenes import Box, Pinhole, Vec

RIGHT, LEFT, UPRIGHT, SLOPE = Family.RIGHT, Family.LEFT, Family.UPRIGHT, Family.SLOPE
PAPER_DPMM = 4.0  # pixels a millimetre of the flattened paper
Line = tuple[Vec, Vec]


@dataclass(frozen=True)
class Fault:
    """What is drawn wrong: ``size`` positive the way that the first direction of its kind names."""

    kind: str
    size: float
    form: str | None = None
    family: Family | None = None
    which: str | None = None
    sighting: str | None = None


@dataclass
class Corner:
    """A box's corners on paper by (right, left, up) of 0 or 1; further corners of a roof or a door by name."""

    at: dict[object, Vec] = field(default_factory=dict)


def meet(a: Line, b: Line) -> Vec:
    """Where two lines cross."""
    (p, q), (r, s) = a, b
    d, e = q - p, s - r
    t = ((r - p)[0] * e[1] - (r - p)[1] * e[0]) / (d[0] * e[1] - d[1] * e[0])
    return np.asarray(p + t * d)


@dataclass(frozen=True)
class BoxSubject:
    """A box in the world, with its roof's ridge and a door on its right wall when it is a building."""

    id: str
    box: Box
    building: bool = False
    door: tuple[float, float, float] = (0.3, 0.55, 0.6)  # from, to along the right wall, height
    ridge: float = 0.45  # above the eaves, of the height

    def seen(self, camera: Pinhole) -> list[tuple[str, Family, object, object]]:
        """Name, family and corners of the edges of the faces turned to the eye."""
        edges: list[tuple[str, Family, object, object]] = []
        for axis, family in enumerate((RIGHT, LEFT, UPRIGHT)):
            others = [k for k in range(3) if k != axis]
            for s in (0, 1):
                for t in (0, 1):
                    a, b = [0, 0, 0], [0, 0, 0]
                    a[others[0]], a[others[1]], b[others[0]], b[others[1]], b[axis] = s, t, s, t, 1
                    if any(self.faces_eye(k, v) for k, v in zip(others, (s, t), strict=True)) and not (
                        self.building and a[2] == b[2] == 1 and (a[0] == 1 or a[1] == 1)
                    ):
                        edges.append((f"{self.id}-{family}{s}{t}", family, tuple(a), tuple(b)))
        if self.building:
            # the ridge runs along the right wall, the gable stands on the left side
            edges += [
                (f"{self.id}-rake-near", SLOPE, (0, 0, 1), "near apex"),
                (f"{self.id}-rake-back", SLOPE, (0, 1, 1), "near apex"),
            ]
            edges += [
                (f"{self.id}-ridge", RIGHT, "near apex", "far apex"),
                (f"{self.id}-rake-far", SLOPE, (1, 0, 1), "far apex"),
            ]
            edges += [
                (f"{self.id}-{name}", family, a, b)
                for name, family, a, b in (
                    ("jamb-near", UPRIGHT, "door 0", "door 3"),
                    ("jamb-far", UPRIGHT, "door 1", "door 2"),
                    ("lintel", RIGHT, "door 3", "door 2"),
                )
            ]
        return edges

    def faces_eye(self, axis: int, side: int) -> bool:
        corner = self.box.at(*[float(side) if k == axis else 0.5 for k in range(3)])
        normal = self.box.axes()[axis] * (1 if side else -1)
        return float(normal @ corner) < 0

    def place(self, name: object) -> Vec:
        if isinstance(name, tuple):
            return self.box.at(*[float(v) for v in name])
        if name in ("near apex", "far apex"):
            return self.box.at(0.0 if name == "near apex" else 1.0, 0.5, 1.0 + self.ridge)
        k = int(str(name)[-1])
        return self.box.at(self.door[0 if k in (0, 3) else 1], 0.0, self.door[2] if k > 1 else 0.0)


def draw_box(subject: BoxSubject, camera: Pinhole, faults: list[Fault], level_px: float) -> dict[object, Vec]:
    """The corners by construction: near upright, far uprights on the lines to the vanishing points, back corners where
    lines meet. ``level_px``: what eye level's fault is told in.
    """
    axes = subject.box.axes()
    true = {
        c: camera.project(subject.place(c)[None])[0]
        for c in [(r, d, u) for r in (0, 1) for d in (0, 1) for u in (0, 1)]
    }
    bottom, top = true[0, 0, 0], true[0, 0, 1]
    unit = float(np.hypot(*(top - bottom)))
    vps = {RIGHT: camera.vanishing_point(axes[0]), LEFT: camera.vanishing_point(axes[1])}
    far = {RIGHT: float(true[1, 0, 0][0]), LEFT: float(true[0, 1, 0][0])}
    foot = float(bottom[0])
    lean = 0.0
    for fault in faults:
        if fault.kind == "eye-level":
            for v in vps.values():
                v[1] -= fault.size * level_px
        elif fault.kind == "vanishing-point" and fault.form == subject.id and fault.family:
            v = vps[fault.family]
            v[0] = foot + (v[0] - foot) / max(1.0 + fault.size, 1e-3)
        elif fault.kind == "depth" and fault.form == subject.id and fault.family:
            far[fault.family] = foot + (far[fault.family] - foot) * np.exp(fault.size)
        elif fault.kind == "lean":
            lean = fault.size
    pitched = abs(camera.pitch_deg) > 0.1
    nadir = camera.vanishing_point(np.array([0.0, 0.0, 1.0])) if pitched else np.zeros(2)

    def upright(at: Vec) -> Line:
        way = (at - nadir) if pitched else np.array([0.0, 1.0])
        if way[1] > 0:
            way = -way
        c, s = np.cos(np.radians(lean)), np.sin(np.radians(lean))
        return at, at + np.array([[c, -s], [s, c]]) @ way

    at: dict[object, Vec] = {(0, 0, 0): bottom}
    a, b = upright(bottom)
    at[0, 0, 1] = bottom + (b - a) / np.hypot(*(b - a)) * unit
    for family, key in ((RIGHT, (1, 0)), (LEFT, (0, 1))):
        out = meet((bottom, vps[family]), (np.array([far[family], 0.0]), np.array([far[family], 1.0])))
        for u in (0, 1):
            at[(*key, u)] = meet((at[0, 0, u], vps[family]), upright(out))
    for u in (0, 1):
        at[1, 1, u] = meet((at[1, 0, u], vps[LEFT]), (at[0, 1, u], vps[RIGHT]))
    if subject.building:
        # the apex: over the crossing of the gable's diagonals, its height kept against the wall there
        gable = [at[0, 0, 0], at[0, 1, 0], at[0, 1, 1], at[0, 0, 1]]
        under = upright(meet((gable[0], gable[2]), (gable[1], gable[3])))
        high = at[0, 0, 0] + (at[0, 0, 1] - at[0, 0, 0]) * (1.0 + subject.ridge)
        at["near apex"] = meet((high, vps[LEFT]), under)
        wall = [at[1, 0, 0], at[1, 1, 0], at[1, 1, 1], at[1, 0, 1]]
        at["far apex"] = meet((at["near apex"], vps[RIGHT]), upright(meet((wall[0], wall[2]), (wall[1], wall[3]))))
        shares = [drawn_share(subject.door[k], at) for k in (0, 1)]
        for k, share in enumerate(shares):
            foot_at = at[0, 0, 0] + (at[1, 0, 0] - at[0, 0, 0]) * share
            head = at[0, 0, 0] + (at[0, 0, 1] - at[0, 0, 0]) * subject.door[2]
            at[f"door {k}"] = foot_at
            at[f"door {3 - k}"] = meet((head, vps[RIGHT]), upright(foot_at))
    return at


def drawn_share(true: float, at: dict[object, Vec]) -> float:
    """Where a true part of the right wall is drawn (handbook section 4)."""
    near = np.hypot(*(at[0, 0, 1] - at[0, 0, 0]))
    far = np.hypot(*(at[1, 0, 1] - at[1, 0, 0]))
    return float(true * far / (near * (1 - true) + far * true))


@dataclass(frozen=True)
class PaperSubject:
    kind: str
    camera: Pinhole
    boxes: list[BoxSubject]
    tins: list[tuple[Circle, Circle]] = field(default_factory=list)
    lens_given: bool = True

    @property
    def setup(self) -> Setup:
        return Setup(1280, 960, focal_35mm=self.camera.focal_px * 36 / 1280 if self.lens_given else None)

    @property
    def forms(self) -> list[str]:
        return [b.id for b in self.boxes] + [top.form for top, _ in self.tins]

    def drawn(
        self, faults: list[Fault]
    ) -> tuple[list[tuple[str, str, Family, Vec, Vec]], list[tuple[str, str, Vec, float, float, float]]]:
        """Edges (id, form, family, ends) and rims (id, form, centre, half axes, tilt of the minor axis), in the
        subject's pixels.
        """
        edges, rims = [], []
        anchor = camera_middle(self)
        wide = [sum(f.size for f in faults if f.kind == "stretch" and f.form is None), 0.0]
        for box in self.boxes:
            at = draw_box(box, self.camera, faults, self.unit)
            own = own_stretch(faults, box.id)
            near = at[0, 0, 0].copy()
            for name, family, a, b in box.seen(self.camera):
                p, q = (anchor + ((near + (at[c] - near) * own) - anchor) * np.exp(wide) for c in (a, b))
                edges.append((name, box.id, family, p, q))
        for top, bottom in self.tins:
            own = own_stretch(faults, top.form)
            ends = []
            foot = bottom.ellipse(self.camera)[0]
            for n, circle in enumerate((top, bottom)):
                centre, major, minor, degree, tilt = circle.ellipse(self.camera)
                level = self.camera.eye_level_at(centre[0])
                for fault in faults:
                    if fault.kind == "eye-level":
                        shift = fault.size * self.unit
                        ratio = np.sin(np.radians(degree)) * abs((centre[1] - level + shift) / (centre[1] - level))
                        degree = float(np.degrees(np.arcsin(np.clip(ratio, 0, 1))))
                    elif (
                        fault.kind == "rim"
                        and fault.form == top.form
                        and (fault.which == "all" or (fault.which == "lower") == (n == 1))
                    ):
                        degree = float(np.clip(degree - fault.size, 0.5, 88.0))
                minor = major * np.sin(np.radians(degree))
                size = own * np.exp(wide)
                if size[0] != size[1] and abs(tilt) > 60:
                    major, minor = major * size[0], minor * size[1]
                else:
                    major, minor = major * size[0], minor * size[0]
                centre = anchor + (foot + (centre - foot) * own - anchor) * np.exp(wide)
                if minor > major:
                    major, minor, tilt = minor, major, tilt + 90
                rims.append((circle.id, circle.form, centre, major, minor, tilt))
                ends.append((centre, major if abs(tilt) > 45 else minor))
            lean = np.tan(np.radians(sum(f.size for f in faults if f.kind == "lean")))
            for side, name in ((-1, "side-left"), (1, "side-right")):
                (c, m), (d, n) = ends
                p, q = c + np.array([side * m, 0]), d + np.array([side * n, 0])
                edges.append((f"{top.form}-{name}", top.form, UPRIGHT, p + np.array([lean * (q[1] - p[1]), 0]), q))
        return edges, rims

    @property
    def unit(self) -> float:
        """The near upright of the whole, px: the longest upright of a box."""
        ends = [self.camera.project(np.array([b.place((0, 0, 0)), b.place((0, 0, 1))])) for b in self.boxes]
        return max(float(np.hypot(*(q - p))) for p, q in ends)


def own_stretch(faults: list[Fault], form: str) -> Vec:
    """Factors across and up of one form."""
    scale = np.zeros(2)
    for f in faults:
        if f.form == form and f.kind == "size":
            scale += f.size
        elif f.form == form and f.kind == "stretch":
            scale[0 if f.which == "across" else 1] += f.size
    return np.exp(scale)


def camera_middle(subject: PaperSubject) -> Vec:
    return np.array([subject.camera.width_px / 2, subject.camera.height_px / 2])


def sighted(subject: PaperSubject, rng: np.random.Generator, sd_px: float = 1.5) -> Laid:
    """The subject as a hand sights it."""
    edges, rims = subject.drawn([])

    def lay(at: Vec) -> Point:
        x, y = at + rng.normal(0, sd_px, 2)
        return float(x), float(y)

    laid = [
        Edge(
            id,
            form,
            family,
            lay(p),
            lay(q),
            slope=id.rsplit("-", 1)[-1] if family is SLOPE else None,
            plan=LEFT if family is SLOPE else None,
        )
        for id, form, family, p, q in edges
    ]
    turns = np.radians(np.arange(-80, 261, 34))
    ringed = [
        Rim(id, form, Plane.LEVEL, tuple(lay(at) for at in on_ellipse(centre, a, b, tilt, turns)))
        for id, form, centre, a, b, tilt in rims
    ]
    return Laid(subject.setup, laid, ringed)


def on_ellipse(centre: Vec, major: float, minor: float, axis_deg: float, turns: Vec) -> Vec:
    """Points (n, 2) of an ellipse whose minor axis has a tilt."""
    way = np.radians(axis_deg)
    down = np.array([np.cos(way), -np.sin(way)])
    across = np.array([down[1], -down[0]])
    return np.asarray(centre + major * np.cos(turns)[:, None] * across + minor * np.sin(turns)[:, None] * down)


class Drawn(StrEnum):
    """In what way a hand draws the lines of a drawing."""

    ABOUT_MIDDLE = "laid in as a whole, turned about its middle"
    FROM_CORNER = "begun at its corner, the other end where turn and length lead it"
    CORNER_TO_CORNER = "from drawn corner to drawn corner"


def on_paper(
    subject: PaperSubject,
    faults: list[Fault],
    rng: np.random.Generator,
    longest_mm: float = 180.0,
    missing: float = 0.0,
    wobble: float = 1.0,
    way: Drawn = Drawn.ABOUT_MIDDLE,
) -> Laid:
    """The drawing with its faults, every line drawn by a freehand, as sighted on the flattened paper."""
    edges, rims = subject.drawn(faults)
    plain = subject.drawn([])[0]
    everything = np.array([at for e in plain for at in e[3:5]])
    mm = longest_mm / float(np.ptp(everything, axis=0).max())
    strays = {f.sighting: f for f in faults if f.kind == "stray"}
    laid = []
    corners = Corners(rng)
    for id, form, family, p, q in edges:
        p, q = p * mm, q * mm
        if (stray := strays.get(id)) is not None:
            p, q = astray(p, q, stray)
        p, q = wobbled(p, q, rng, wobble, way, corners)
        p, q = p * PAPER_DPMM, q * PAPER_DPMM
        laid.append(
            Edge(
                id,
                form,
                family,
                (float(p[0]), float(p[1])),
                (float(q[0]), float(q[1])),
                slope=id.rsplit("-", 1)[-1] if family is SLOPE else None,
                plan=LEFT if family is SLOPE else None,
            )
        )
    ringed = []
    for id, form, centre, major, minor, tilt in rims:
        wide, deep = np.exp(rng.normal(0, 0.025 * wobble, 2))
        turns = np.radians(np.arange(0, 360, 24))
        at = on_ellipse(
            centre * mm, major * mm * wide, minor * mm * deep, tilt + rng.normal(0, 1.2 * wobble), turns
        ) + rng.normal(0, 0.4 * wobble, (len(turns), 2))
        ringed.append(Rim(id, form, Plane.LEVEL, tuple((float(x), float(y)) for x, y in at * PAPER_DPMM)))
    if missing:
        # what the faults are about is drawn
        about = {f.sighting for f in faults} | {r.id for r in ringed for f in faults if f.kind == "rim"}
        ids = [e.id for e in laid] + [r.id for r in ringed]
        keep = {ids[k] for k in rng.permutation(len(ids))[: max(3, round((1 - missing) * len(ids)))]} | about
        laid, ringed = [e for e in laid if e.id in keep], [r for r in ringed if r.id in keep]
    return Laid(Setup(1188, 840, point_sd_px=0.3 * PAPER_DPMM), laid, ringed)


def astray(p: Vec, q: Vec, fault: Fault) -> tuple[Vec, Vec]:
    """One line alone turned or too long, about its first end."""
    run = q - p
    if fault.which == "length":
        return p, p + run * np.exp(fault.size)
    a = np.radians(-fault.size)
    return p, p + np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) @ run


@dataclass
class Corners:
    """Corners as a hand has drawn them, each off once for all lines that meet there."""

    rng: np.random.Generator
    drawn: list[tuple[Vec, Vec]] = field(default_factory=list)

    def at(self, place: Vec) -> Vec:
        for there, drawn in self.drawn:
            if np.hypot(*(there - place)) < 1e-3:
                return drawn
        self.drawn.append((place.copy(), place + self.rng.normal(0, 1.0, 2)))
        return self.drawn[-1][1]


def wobbled(
    p: Vec,
    q: Vec,
    rng: np.random.Generator,
    share: float,
    way: Drawn = Drawn.ABOUT_MIDDLE,
    corners: Corners | None = None,
) -> tuple[Vec, Vec]:
    """A line as a freehand draws it: 1.2 degrees, 2.5 % and 0.7 mm at each end; or between corners that are each 1 mm
    off, to 0.5 mm.
    """
    if corners is not None and way is Drawn.CORNER_TO_CORNER:
        return corners.at(p) + rng.normal(0, 0.5 * share, 2), corners.at(q) + rng.normal(0, 0.5 * share, 2)
    if way is Drawn.FROM_CORNER:
        back = rng.random() < 0.5
        begun, other = (q, p) if back else (p, q)
        a = np.radians(rng.normal(0, 1.2 * share))
        start = begun + rng.normal(0, 0.7 * share, 2)
        run = (
            np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
            @ (other - begun)
            * np.exp(rng.normal(0, 0.025 * share))
        )
        stop = start + run + rng.normal(0, 0.7 * share, 2)
        return (stop, start) if back else (start, stop)
    middle, half = (p + q) / 2, (q - p) / 2
    a = np.radians(rng.normal(0, 1.2 * share))
    half = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) @ half * np.exp(rng.normal(0, 0.025 * share))
    return middle - half + rng.normal(0, 0.7 * share, 2), middle + half + rng.normal(0, 0.7 * share, 2)


def box_at(
    camera: Pinhole,
    rng: np.random.Generator,
    corner: tuple[float, float, float],
    id: str,
    building: bool = False,
    sides: tuple[float, float] = (0.6, 1.6),
) -> BoxSubject | None:
    """A box that is seen whole from outside with all its far edges in the picture."""
    box = Box(corner, float(rng.uniform(20, 70)), tuple(rng.uniform(*sides, 3).tolist()))
    subject = BoxSubject(id, box, building)
    names = [(r, d, u) for r in (0, 1) for d in (0, 1) for u in (0, 1)] + (
        ["near apex", "far apex"] if building else []
    )
    places = np.array([subject.place(n) for n in names])
    if (places @ camera.matrix()[2]).min() < 0.8:
        return None
    seen = camera.project(places)
    if seen.min() < 20 or seen[:, 0].max() > 1260 or seen[:, 1].max() > 940 or np.ptp(seen, axis=0).min() < 200:
        return None
    if not (subject.faces_eye(0, 0) and subject.faces_eye(1, 0)):
        return None
    return subject


def paper_subject(rng: np.random.Generator, kind: str, pitch_deg: float = 0.0, lens_given: bool = True) -> PaperSubject:
    """One box, two boxes, a box and a tin, or a building, view 35-65°, level unless pitched."""
    while True:
        focal = 640.0 / np.tan(np.radians(rng.uniform(35.0, 65.0) / 2))
        camera = Pinhole(float(focal), pitch_deg, 0.0)

        def place(camera: Pinhole = camera, focal: float = float(focal)) -> tuple[float, float, float]:
            ray = np.linalg.inv(camera.matrix()) @ np.array([rng.uniform(250, 1030), rng.uniform(250, 900), 1.0])
            x, y, z = (ray / np.linalg.norm(ray) * rng.uniform(1.6, 4.0) * focal / 1000.0 * 1.6).tolist()
            return x, y, z

        boxes: list[BoxSubject] = []
        for n in range(2 if kind == "two boxes" else 1):
            for _ in range(40):
                found = box_at(camera, rng, place(), f"b{n}", kind == "building")
                if found is not None:
                    boxes.append(found)
                    break
        tins: list[tuple[Circle, Circle]] = []
        if kind == "box and tin":
            for _ in range(40):
                x, y, z = place()
                radius, height = rng.uniform(0.25, 0.6), rng.uniform(0.5, 1.4)
                pair = (
                    level_circle("t-top", "t", (x, y, z + height), radius),
                    level_circle("t-bottom", "t", (x, y, z), radius),
                )
                points = np.concatenate([c.at(np.linspace(0, 6.2, 20)) for c in pair])
                if (points @ camera.matrix()[2]).min() < 0.8:
                    continue
                seen = camera.project(points)
                degrees = [c.ellipse(camera)[3] for c in pair]
                if (
                    seen.min() < 20
                    or seen[:, 0].max() > 1260
                    or seen[:, 1].max() > 940
                    or np.ptp(seen[:, 0]) < 120
                    or not all(3 < d < 60 for d in degrees)
                ):
                    continue
                tins.append(pair)
                break
        if len(boxes) == (2 if kind == "two boxes" else 1) and len(tins) == (kind == "box and tin"):
            subject = PaperSubject(kind, camera, boxes, tins, lens_given)
            if len(boxes) == 1 or 0.4 < ratio_of(subject) < 2.5:
                return subject


def ratio_of(subject: PaperSubject) -> float:
    """Sizes of the first two boxes against each other, as drawn."""
    sizes = [
        float(np.ptp(np.array([at for e in subject.drawn([])[0] if e[1] == f for at in e[3:5]]), axis=0).max())
        for f in subject.forms[:2]
    ]
    return sizes[0] / sizes[1]


TWICE = {"tilt": 6.0, "length": 0.154, "degree": 10.0}
KINDS = ("one box", "two boxes", "box and tin", "building")


def random_fault(
    rng: np.random.Generator, subject: PaperSubject, kind: str | None = None, most_turned: bool = False
) -> Fault | None:
    """A fault of about twice the tolerance; None where this subject can have none of its kind."""
    several = len(subject.forms) > 1
    kinds = (
        ["eye-level", "vanishing-point", "lean", "stretch", "depth", "stray"]
        + (["size", "form-stretch"] if several else [])
        + (["rim"] if subject.tins else [])
    )
    kind = kind or str(rng.choice(kinds))
    # about twice: two faults of the very same size can look like one of another kind
    sign = float(rng.choice([-1.0, 1.0]) * rng.uniform(0.9, 1.2))
    box = subject.boxes[int(rng.integers(len(subject.boxes)))]
    if kind not in kinds:
        return None
    if kind in ("eye-level", "vanishing-point"):
        family = [RIGHT, LEFT][int(rng.integers(2))]
        whose = (box.id, family) if kind == "vanishing-point" else (None, None)
        return sized(
            subject,
            lambda size: Fault(kind, size * float(np.sign(sign)), *whose),
            3.0 if kind == "eye-level" or sign > 0 else 0.999,
            most_turned,
        )
    if kind == "lean":
        return Fault("lean", 6.0 * sign)
    if kind == "stretch":
        return Fault("stretch", TWICE["length"] * sign)
    if kind == "form-stretch":
        return Fault(
            "stretch", TWICE["length"] * sign, str(rng.choice(subject.forms)), which=str(rng.choice(["across", "up"]))
        )
    if kind == "size":
        # the form with the longest upright is the measure
        edges = [e for e in subject.drawn([])[0] if e[2] is UPRIGHT]
        measure = max(edges, key=lambda e: float(np.hypot(*(e[4] - e[3]))))[1]
        return Fault("size", TWICE["length"] * sign, str(rng.choice([f for f in subject.forms if f != measure])))
    if kind == "depth":
        return Fault("depth", TWICE["length"] * sign, box.id, [RIGHT, LEFT][int(rng.integers(2))])
    if kind == "rim":
        which = str(rng.choice(["lower", "upper", "all"]))
        degrees = [c.ellipse(subject.camera)[3] for c in subject.tins[0]]
        least = min(degrees if which == "all" else [degrees[1 if which == "lower" else 0]])
        return Fault("rim", 10.0 * (sign if least > 13.5 else -abs(sign)), subject.tins[0][0].form, which=which)
    edges = subject.drawn([])[0]
    longest = max(float(np.hypot(*(e[4] - e[3]))) for e in edges)
    long = [e for e in edges if float(np.hypot(*(e[4] - e[3]))) > 0.25 * longest]
    chosen = long[int(rng.integers(len(long)))]
    which = str(rng.choice(["tilt", "length"]))
    return Fault("stray", TWICE[which] * sign, chosen[1], chosen[2], which, chosen[0])


def rims_stay_rims(subject: PaperSubject, fault: Fault) -> bool:
    """Whether no rim is drawn as a line or nearly as a circle, and none turns over."""
    rims, plain = subject.drawn([fault])[1], subject.drawn([])[1]
    shift = fault.size * subject.unit if fault.kind == "eye-level" else 0.0
    for (_, _, centre, major, minor, _), (_, _, there, *_) in zip(rims, plain, strict=True):
        level = subject.camera.eye_level_at(there[0])
        if not 0.04 < minor / major < 0.94 or (centre[1] - level) * (centre[1] - level + shift) <= 0:
            return False
    return True


def sized(
    subject: PaperSubject, fault: Callable[[float], Fault], most: float, most_turned: bool = False
) -> Fault | None:
    """The fault that turns the lines it is about by twice the tolerance, in the middle, or, where ``most_turned``, only
    those that it turns more than half as much as the most; None where none does.
    """
    plain, about = subject.drawn([])[0], fault(most)

    def turn(size: float) -> float:
        moved = subject.drawn([fault(size)])[0]
        gaps = np.array([abs(turned_by(a, b)) for a, b in zip(plain, moved, strict=True)])
        mine = np.array(
            [e[2] in (RIGHT, LEFT) if about.form is None else (e[1], e[2]) == (about.form, about.family) for e in plain]
        )
        return float(np.median(gaps[gaps > 0.5 * gaps.max()] if most_turned else gaps[mine])) if gaps.max() > 0 else 0.0

    low, high = 0.0, most
    if turn(high) < TWICE["tilt"] * 0.8:
        return None
    for _ in range(30):
        mid = (low + high) / 2
        low, high = (mid, high) if turn(mid) < TWICE["tilt"] else (low, mid)
    found = fault(high)
    return found if rims_stay_rims(subject, found) else None


def turned_by(a: tuple[str, str, Family, Vec, Vec], b: tuple[str, str, Family, Vec, Vec]) -> float:
    one, two = a[4] - a[3], b[4] - b[3]
    turn = np.degrees(np.arctan2(one[0] * two[1] - one[1] * two[0], one @ two))
    return float(turn)
