"""A figure of chosen height standing anywhere on the ground (handbook section 5)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.sightings import Point
from aspectum.core.view.camera import camera_matrix
from aspectum.core.view.solve import Solution


@dataclass(frozen=True)
class Figure:
    """Where a figure stands and where its top is drawn (px); ``cut``: at which share of its height eye level cuts it,
    None for one that does not reach it.
    """

    foot: Point
    top: Point
    cut: float | None


def stand_figure(solution: Solution, foot: Point, eyes: float) -> Figure | None:
    """A figure ``eyes`` eye heights tall with its foot at ``foot``; None where that lies at eye level or above it.

    The ground lies one eye height below the eye; the foot is where the sight meets it, and the top stands so much
    above.
    """
    evidence = solution.evidence
    matrix, centre = camera_matrix(solution.params), np.array(evidence.setup.centre)
    sight = np.linalg.solve(matrix, np.append((np.array(foot) - centre) / evidence.scale, 1.0))
    # directions and points are told apart by the side of the eye that they lie on
    if not sight[2] * np.sign(matrix[2] @ sight) < -1e-6 * np.hypot(sight[0], sight[1]):
        return None
    ground = -sight / sight[2]
    top = matrix @ (ground + np.array([0.0, 0.0, eyes]))
    if not top[2] > 0:
        return None
    x, y = (top[:2] / top[2] * evidence.scale + centre).tolist()
    return Figure(foot, (x, y), 1.0 / eyes if eyes >= 1.0 else None)
