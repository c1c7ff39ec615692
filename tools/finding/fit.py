"""Fit what tells how sure a proposal is, on the tuning half of the gallery, and say how well that holds on layouts left
out.

python tools/finding/fit.py

Prints the arrays for ``core/finding/sureness.py``. Every picture is taken with its lens as its file tells it, and
counts about the same however many lines it has.
"""

from __future__ import annotations

import sys
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parents[2]))

import numpy as np
from numpy.typing import NDArray

from aspectum.core.finding.settle import NONE
from aspectum.core.finding.sureness import probability
from aspectum.pictures.finding import SHORTEST
from aspectum.pictures.seeking import seek
from tests.gallery_truth import pieces

Floats = NDArray[np.float64]
RIDGE = 3.0
EDGES_WEIGH, RIMS_WEIGH = 250, 150  # proposals of one picture beyond which each counts less


def fit(inputs: Floats, right: Floats, weight: Floats) -> Floats:
    """Logistic regression with a ridge on standardised inputs, by Newton's method; the constant last."""
    mean, spread = inputs.mean(axis=0), inputs.std(axis=0) + 1e-9
    rows = np.column_stack([(inputs - mean) / spread, np.ones(len(inputs))])
    hold = np.diag([RIDGE] * inputs.shape[1] + [1e-6])
    b = np.zeros(rows.shape[1])
    for _ in range(60):
        p = 1 / (1 + np.exp(-rows @ b))
        b = b - np.linalg.solve(
            (rows * (weight * p * (1 - p))[:, None]).T @ rows + hold, rows.T @ (weight * (p - right)) + hold @ b
        )
    return np.append(b[:-1] / spread, b[-1] - (b[:-1] * mean / spread).sum())


def main() -> None:
    edges: list[tuple[str, Floats, Floats]] = []
    rims: list[tuple[str, Floats, Floats]] = []
    for piece in pieces():
        if not piece.tuned:
            continue
        sought = seek(piece.pixels, piece.focal_35mm)
        if sought is None:
            continue
        lines = sought.found.lines
        able = np.flatnonzero((sought.found.slot != NONE) & (lines.length_px > SHORTEST * 2 * lines.scale))
        edges.append(
            (
                piece.layout,
                sought.edge_inputs[able],
                np.array([float(piece.holds(lines.p[k], lines.q[k])) for k in able]),
            )
        )
        rims.append(
            (
                piece.layout,
                sought.circle_inputs,
                np.array([float(piece.is_rim(c.places * sought.scale)) for c in sought.circles]),
            )
        )
        print(piece.name, len(able), "lines", len(sought.circles), "circles", file=sys.stderr)
    for name, parts, most in (("EDGE_WEIGHTS", edges, EDGES_WEIGH), ("RIM_WEIGHTS", rims, RIMS_WEIGH)):
        inputs, right = np.concatenate([p[1] for p in parts]), np.concatenate([p[2] for p in parts])
        weight = np.concatenate([np.full(len(p[1]), min(1.0, most / max(len(p[1]), 1))) for p in parts])
        layout = np.concatenate([np.full(len(p[1]), p[0]) for p in parts])
        said = np.zeros(len(right))
        for out in np.unique(layout):
            said[layout == out] = probability(
                inputs[layout == out], fit(inputs[layout != out], right[layout != out], weight[layout != out])
            )
        print(name, "on layouts left out:")
        for low in np.arange(0.0, 1.0, 0.1):
            inside = (said >= low) & (said < low + 0.1)
            if inside.any():
                print(
                    f"  said {low:.1f} to {low + 0.1:.1f}: {np.average(right[inside], weights=weight[inside]):.2f} of "
                    f"{inside.sum()}"
                )
        loss = -np.average(right * np.log(said + 1e-9) + (1 - right) * np.log(1 - said + 1e-9), weights=weight)
        print(f"  log loss {loss:.4f}; right {np.average(right, weights=weight):.3f}")
        print(f"{name} = np.array({np.round(fit(inputs, right, weight), 3).tolist()})")


if __name__ == "__main__":
    main()
