"""The eye of the stand: a pinhole that can be carried anywhere, or a parallel view."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from aspectum.core.plane.lines import Floats, wrap_tilt
from aspectum.core.plane.projection import ISOMETRIC_PITCH_DEG, focal_of
from aspectum.core.sightings import Looking, Point
from aspectum.core.stand.kinds import Parallel

NEAREST_M = 0.01  # where the picture's plane cuts off what runs on behind the viewer
STRAIGHT_DEG = 0.1  # from the zenith or the nadir within which one looks straight up or down
FAR_SHARE = 1e-9  # of its length by which a direction may leave the picture's plane and still be parallel to it


@dataclass(frozen=True)
class View:
    """Where the eye stands (m: x right, y away, z up), where it looks, and the picture that it sees.

    ``heading_deg`` 0 looks along +y, positive to the right; ``pitch_deg`` positive looks up; ``roll_deg`` positive
    turns the camera clockwise seen from behind it. ``parallel``: a parallel view of ``px_per_m``, its middle where
    ``eye_m`` is; an isometric one looks down upon the corner that ``heading_deg`` faces, an oblique one shows the face
    square to the heading in its true shape, depths running off at ``oblique_deg`` above level, ``depth_scale`` of their
    length; a square one is what a plan or an elevation shows.
    """

    eye_m: tuple[float, float, float] = (0.0, -3.0, 1.6)
    heading_deg: float = 0.0
    pitch_deg: float = 0.0
    roll_deg: float = 0.0
    focal_35mm: float = 35.0
    width_px: int = 1280
    height_px: int = 960
    parallel: Parallel | None = None
    px_per_m: float = 400.0
    oblique_deg: float = 45.0
    depth_scale: float = 0.5

    @property
    def focal_px(self) -> float:
        """Pixels per unit: the 36 mm lie along the longer side of the picture."""
        return focal_of(self.focal_35mm, max(self.width_px, self.height_px))

    @property
    def centre_px(self) -> Point:
        """The centre of vision: the picture's middle."""
        return self.width_px / 2, self.height_px / 2

    @cached_property
    def axes(self) -> Floats:
        """Rows (3, 3): the picture's right, its down, and the way of looking, as unit vectors of the room. In an
        oblique view the way of looking is not square to the picture (see ``towards``).
        """
        return _axes(self.heading_deg, self.pitch, self.roll_deg)

    @property
    def pitch(self) -> float:
        """Degrees looked up: an isometric view looks down a cube's diagonal, an oblique one stands upright."""
        if self.parallel is Parallel.ISOMETRIC:
            return -ISOMETRIC_PITCH_DEG
        return 0.0 if self.parallel is Parallel.OBLIQUE else self.pitch_deg

    @property
    def looking(self) -> Looking:
        """Straight up or down, or about level; a parallel view has no eye that looks up."""
        if self.parallel is not None or abs(abs(self.pitch_deg) - 90.0) >= STRAIGHT_DEG:
            return Looking.AHEAD
        return Looking.UP if self.pitch_deg > 0 else Looking.DOWN

    @cached_property
    def matrix(self) -> Floats:
        """Projection (3, 4): a point of the room (x, y, z, 1) to (x, y, 1)·w in pixels, w its distance ahead of the eye
        (m); 1 in a parallel view.
        """
        right, down, ahead = self.axes
        eye, (cx, cy) = np.array(self.eye_m), self.centre_px
        if self.parallel is None:
            rows = np.array([self.focal_px * right + cx * ahead, self.focal_px * down + cy * ahead, ahead])
            return np.column_stack([rows, -rows @ eye])
        k = self.px_per_m * (
            math.sqrt(1.5) if self.parallel is Parallel.ISOMETRIC else 1.0
        )  # a metre along an axis is as long as one square to the view
        if self.parallel is Parallel.OBLIQUE:
            angle = math.radians(self.oblique_deg)
            right, down = (
                right + self.depth_scale * math.cos(angle) * ahead,
                down - self.depth_scale * math.sin(angle) * ahead,
            )
        rows = np.array([k * right, k * down])
        return np.vstack([np.column_stack([rows, np.array([cx, cy]) - rows @ eye]), [0.0, 0.0, 0.0, 1.0]])

    @property
    def towards(self) -> Floats:
        """In a parallel view the unit vector (3,) along which every point is seen."""
        rows = self.matrix[:2, :3]
        way = np.cross(rows[0], rows[1])
        return way / np.linalg.norm(way)

    def to_viewer(self, points: Floats) -> Floats:
        """Vectors from ``points`` (..., 3) to the eye; in a parallel view all alike, of length one."""
        if self.parallel is None:
            return np.array(self.eye_m) - points
        return np.broadcast_to(-self.towards, points.shape)

    def depths(self, points: Floats) -> Floats:
        """How far ahead of the eye (m) ``points`` (..., 3) lie; 1 in a parallel view."""
        last = self.matrix[2]
        return points @ last[:3] + last[3]

    def project(self, points: Floats) -> Floats:
        """``points`` (..., 3) of the room in the picture (..., 2), px. Points beside or behind the eye have no image:
        not a number.
        """
        matrix = self.matrix
        seen = points @ matrix[:, :3].T + matrix[:, 3]
        w = seen[..., 2:]
        return np.divide(seen[..., :2], w, out=np.full_like(seen[..., :2], np.nan), where=w > 0)

    def vanishing_point(self, direction: Floats) -> tuple[Point | None, float | None]:
        """Where the family of ``direction`` (3,) meets: its point (px), or its tilt (degrees) where it keeps one."""
        x, y, w = self.matrix[:, :3] @ direction
        if abs(w) > FAR_SHARE * float(np.linalg.norm(direction)):
            return (float(x / w), float(y / w)), None
        return None, float(wrap_tilt(math.degrees(math.atan2(-y, x))))

    @property
    def eye_level_px(self) -> tuple[float, float] | None:
        """Heights of eye level at the picture's left and right edge; None looking straight up or down, in a parallel
        view, and rolled on its side.
        """
        if self.parallel is not None:
            return None
        # a level direction's image is a point of the line whose coefficients are K^-T times "up" in the camera's frame
        right, down, ahead = self.axes
        f, (cx, cy) = self.focal_px, self.centre_px
        a, b, c = right[2], down[2], f * ahead[2]
        if abs(b) < 1e-9 or math.hypot(a, b) < 1e-6:
            return None
        left, end = (float(cy - (a * (x - cx) + c) / b) for x in (0.0, float(self.width_px)))
        return left, end


def _axes(heading_deg: float, pitch_deg: float, roll_deg: float) -> Floats:
    h, p, r = (math.radians(v) for v in (heading_deg, pitch_deg, roll_deg))
    ahead = np.array([math.sin(h) * math.cos(p), math.cos(h) * math.cos(p), math.sin(p)])
    right = np.array([math.cos(h), -math.sin(h), 0.0])
    down = np.cross(ahead, right)
    # clockwise seen from behind: the camera's right dips
    return np.array([math.cos(r) * right + math.sin(r) * down, math.cos(r) * down - math.sin(r) * right, ahead])


def stepped(view: View, target_m: tuple[float, float, float], share: float, keep_size: bool = False) -> View:
    """``view`` from ``share`` of its distance to ``target_m``, along the same line of sight.

    ``keep_size``: with the lens that keeps the target's plane the same size on the sheet: what lies before and behind
    it draws together as the eye steps back. A parallel view has no distance: it is enlarged. Raises ``ValueError``
    where the target lies behind the eye or at no distance from it.
    """
    if share <= 0.0:
        raise ValueError("the eye steps to a share of its distance that is more than nothing")
    if view.parallel is not None:
        return view if keep_size else replace(view, px_per_m=view.px_per_m / share)
    target, eye = np.array(target_m), np.array(view.eye_m)
    before = float((target - eye) @ view.axes[2])
    if before * min(share, 1.0) <= NEAREST_M:
        raise ValueError("the target lies behind the eye")
    moved = target - (target - eye) * share
    return replace(
        view,
        eye_m=(float(moved[0]), float(moved[1]), float(moved[2])),
        focal_35mm=view.focal_35mm * share if keep_size else view.focal_35mm,
    )
