"""How well what is proposed of a picture fits its known truth."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from aspectum.core.plane.rim_fit import fit_rim
from aspectum.pictures.finding import FoundInPicture, FoundRim
from aspectum.pictures.round_lines import round_places
from tests.gallery_truth import HALF, SAME_DEG, Floats, Piece

SUREST = 20
WIDE_PX = 25.0


@dataclass
class Scores:
    """Figures over pictures, each a list: eye level's error in shares of the height, and in its own standard
    deviations; the rest right or not.
    """

    eye_level: list[float] = field(default_factory=list)
    eye_level_z: list[float] = field(default_factory=list)
    families_found: list[bool] = field(default_factory=list)
    families_right: list[bool] = field(default_factory=list)
    edges_right: list[bool] = field(default_factory=list)
    surest_right: list[bool] = field(default_factory=list)
    edges_run_right: list[bool] = field(default_factory=list)
    edges_found: list[bool] = field(default_factory=list)
    rims_right: list[bool] = field(default_factory=list)
    rims_found: list[bool] = field(default_factory=list)
    said: list[tuple[float, bool]] = field(default_factory=list)

    def add(self, other: Scores) -> None:
        for name, values in vars(other).items():
            getattr(self, name).extend(values)

    def figures(self) -> dict[str, float]:
        eye = np.abs(self.eye_level)
        return {
            "families found": share(self.families_found),
            "families right": share(self.families_right),
            "eye level, median": float(np.median(eye)) if len(eye) else np.nan,
            "eye level within 5 %": share(eye < 0.05),
            "eye level in its 95 %": share(np.abs(self.eye_level_z) < 1.96),
            "edges on edges": share(self.edges_right),
            "of the twenty surest": share(self.surest_right),
            "edges in a true direction": share(self.edges_run_right),
            "long edges found": share(self.edges_found),
            "rims found": share(self.rims_found),
            "rims right": share(self.rims_right),
        }


def share(right: Iterable[bool]) -> float:
    values = list(right)
    return float(np.mean(values)) if values else float("nan")


def score(piece: Piece, found: FoundInPicture) -> Scores:
    """Of one picture."""
    scores = Scores()
    if not piece.overhead:
        # nothing found is as wrong as can be
        level = found.eye_level
        error = 1.0 if level is None else ((level[0] + level[1]) / 2 - piece.eye_level_px) / found.height_px
        scores.eye_level.append(error)
        scores.eye_level_z.append(10.0 if level is None else error * found.height_px / level[2])
    rays = [piece.ray(np.array(p)) for p in found.points]
    true = [piece.ray(piece.camera @ d) for d, _ in piece.families]
    all_true = [piece.ray(piece.camera @ e.direction) for e in piece.edges]
    near = np.cos(np.radians(SAME_DEG))
    scores.families_found = [any(abs(t @ r) > near for r in rays) for t in true]
    scores.families_right = [any(abs(t @ r) > near for t in all_true) for r in rays]
    for edge in sorted(found.edges, key=lambda e: -e.confidence):
        p, q = np.array(edge.p), np.array(edge.q)
        right = piece.holds(p, q)
        scores.edges_right.append(right)
        scores.edges_run_right.append(right or piece.runs(p, q))
        scores.said.append((edge.confidence, right))
    scores.surest_right = scores.edges_right[:SUREST]
    ends = [(np.array(e.p), np.array(e.q)) for e in found.edges]
    scores.edges_found = [any(edge.covered(p, q) > HALF for p, q in ends) for edge in piece.long_edges]
    rims = [outline(rim) for rim in found.rims]
    for rim, places in zip(found.rims, rims, strict=True):
        right = piece.is_rim(places)
        scores.rims_right.append(right)
        scores.said.append((rim.confidence, right))
    for circle in piece.half_seen(WIDE_PX):
        scores.rims_found.append(any(circle.is_drawn_by(places) for places in rims))
    return scores


def outline(rim: FoundRim) -> Floats:
    """Places round the ellipse through a proposed rim's points, (96, 2)."""
    fit = fit_rim(rim.points, 1.0)
    return round_places(fit.centre, *fit.axes, 96)
