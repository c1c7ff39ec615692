"""The camera as far as the sightings, or the lens that is known, fix it."""

from __future__ import annotations

import numpy as np

from aspectum.core.findings import CameraReading
from aspectum.core.view.camera import LOG_F, PITCH, ROLL
from aspectum.core.view.lens import view_deg
from aspectum.core.view.posterior import Posterior


def read_camera(posterior: Posterior) -> CameraReading | None:
    """Focal length, view, pitch and roll, each only where the sightings (or Exif) fix it."""
    solution = posterior.solution
    view, setup = solution.view, solution.evidence.setup
    spread = np.sqrt(np.diag(posterior.spread))
    tight = np.sqrt(np.diag(solution.covariance))
    loose = np.sqrt(np.diag(solution.loose_covariance))
    place = {int(k): i for i, k in enumerate(view.free)}

    def fixed(k: int, limit: float) -> float | None:
        if k not in place:
            return 0.0
        i = place[k]
        return float(spread[i]) if loose[i] < 1.5 * tight[i] and spread[i] < limit else None

    focal_sd, pitch_sd, roll_sd = fixed(LOG_F, 0.4), fixed(PITCH, 0.3), fixed(ROLL, 0.3)
    focal = float(np.exp(solution.params[LOG_F])) * solution.evidence.scale
    reading = CameraReading(
        focal_px=focal if focal_sd is not None else None,
        focal_sd_px=focal * focal_sd if focal_sd is not None else None,
        view_deg=view_deg(focal, setup.width_px) if focal_sd is not None else None,
        pitch_deg=float(np.degrees(solution.params[PITCH])) if pitch_sd is not None else None,
        pitch_sd_deg=float(np.degrees(pitch_sd)) if pitch_sd is not None else None,
        roll_deg=float(np.degrees(solution.params[ROLL])) if roll_sd is not None else None,
        roll_sd_deg=float(np.degrees(roll_sd)) if roll_sd is not None else None,
    )
    return (
        reading if any(value is not None for value in (reading.focal_px, reading.pitch_deg, reading.roll_deg)) else None
    )
