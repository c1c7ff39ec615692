"""The camera of a demo scene and the known truth that follows from it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Vec = NDArray[np.float64]


@dataclass(frozen=True)
class Camera:
    """A pinhole at ``position`` (metres; x east, y north, z up) heading north.

    ``pitch_deg`` is positive looking up, ``roll_deg`` positive when eye level rises to the
    viewer's right. ``focal_35mm`` is the 35 mm-equivalent focal length (CIPA DC-008).
    """

    position: tuple[float, float, float]
    pitch_deg: float
    roll_deg: float
    focal_35mm: float
    width_px: int = 1280
    height_px: int = 960

    @property
    def focal_px(self) -> float:
        return max(self.width_px, self.height_px) * self.focal_35mm / 36.0

    def axes(self) -> tuple[Vec, Vec, Vec]:
        """Right, down and forward unit vectors of the picture."""
        pitch, roll = np.radians([self.pitch_deg, self.roll_deg])
        right = np.array([1.0, 0.0, 0.0])
        forward = np.array([0.0, np.cos(pitch), np.sin(pitch)])
        down = np.array([0.0, np.sin(pitch), -np.cos(pitch)])
        # a level line that rises to the right in the picture: the camera is turned clockwise
        turned_right = np.cos(roll) * right + np.sin(roll) * down
        turned_down = -np.sin(roll) * right + np.cos(roll) * down
        return turned_right, turned_down, forward

    def homogeneous(self, direction: Vec) -> Vec:
        right, down, forward = self.axes()
        depth = float(direction @ forward)
        return np.array(
            [
                self.focal_px * float(direction @ right) + self.width_px / 2 * depth,
                self.focal_px * float(direction @ down) + self.height_px / 2 * depth,
                depth,
            ]
        )

    def project(self, point: Vec) -> Vec:
        """Pixel position of a point in metres; the point must lie in front of the camera."""
        image = self.homogeneous(np.asarray(point, float) - np.array(self.position))
        if image[2] <= 0:
            raise ValueError(f"{point} lies behind the camera")
        return image[:2] / image[2]

    def vanishing_point(self, direction: Vec) -> dict[str, float | None]:
        image = self.homogeneous(direction)
        if abs(image[2]) < 1e-9:
            tilt = float(np.degrees(np.arctan2(-image[1], image[0])))
            return {"x_px": None, "y_px": None, "direction_deg": 90 - (90 - tilt) % 180}
        x, y = image[:2] / image[2]
        return {"x_px": round(float(x), 2), "y_px": round(float(y), 2), "direction_deg": None}

    def eye_level(self) -> dict[str, float]:
        a, b = (self.homogeneous(np.array(d)) for d in ([0.3, 1.0, 0.0], [-0.3, 1.0, 0.0]))
        line = np.cross(a, b)
        heights = [-(line[0] * x + line[2]) / line[1] for x in (0.0, float(self.width_px))]
        return {"left_y_px": round(float(heights[0]), 2), "right_y_px": round(float(heights[1]), 2)}

    def truth(self) -> dict[str, Any]:
        return {
            "picture": {
                "width_px": self.width_px,
                "height_px": self.height_px,
                "focal_35mm": self.focal_35mm,
            },
            "camera": {
                "focal_px": round(self.focal_px, 3),
                "pitch_deg": self.pitch_deg,
                "roll_deg": self.roll_deg,
                "eye_height_m": self.position[2],
            },
            "eye_level": self.eye_level(),
        }
