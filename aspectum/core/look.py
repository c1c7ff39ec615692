"""The view that stands behind a sheet, for questions that are about none of its sightings."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from aspectum.core.aids.figure import Figure, stand_figure
from aspectum.core.aids.probe import Probe, probe_points, probe_straight, probe_view
from aspectum.core.check import drop_repeats, fit_all, solve_all
from aspectum.core.findings import CameraReading, VanishingPoint
from aspectum.core.form.bundle import SolvedForms
from aspectum.core.form.ease import EasedEdge, EasedRim, ease, ease_rims
from aspectum.core.form.heights import measure, standing
from aspectum.core.judge.overhead import overhead_findings
from aspectum.core.judge.parallel import parallel_findings
from aspectum.core.sightings import Edge, Looking, Measured, Perspective, Point, Rim, Setup
from aspectum.core.tolerance import FREEHAND
from aspectum.core.view.camera_reading import read_camera
from aspectum.core.view.eye_level import read_eye_level
from aspectum.core.view.find import find_view
from aspectum.core.view.posterior import Posterior
from aspectum.core.view.vanishing_points import read_vanishing_points


@dataclass(frozen=True)
class Look:
    """``posterior``: None for a drawing that no camera stands behind, whose ``points`` are all there is to ask."""

    setup: Setup
    points: list[VanishingPoint]
    camera: CameraReading | None = None
    posterior: Posterior | None = None
    edges: list[Edge] = field(default_factory=list)
    measured: Measured = field(default_factory=Measured)

    def probe(self, at: Point) -> Probe:
        """What must run at ``at`` (px)."""
        if self.posterior is not None:
            return probe_view(self.posterior, self.camera, at)
        return (probe_points if self.setup.looking is Looking.AHEAD else probe_straight)(self.points, at)

    @cached_property
    def solved(self) -> SolvedForms | None:
        """All forms, solved with their camera."""
        return None if self.posterior is None else solve_all(self.setup, self.posterior, self.edges, self.measured)

    @property
    def eye_m(self) -> float | None:
        """The eye's height above the ground, where it is given or a known height tells it."""
        if self.setup.eye_height_m is not None or self.solved is None:
            return self.setup.eye_height_m
        by = measure(self.solved, self.measured.heights, standing(self.solved, self.measured.heights))
        return None if by is None else by.metres

    def figure(self, foot: Point, height_m: float) -> Figure | None:
        """A figure standing at ``foot`` (px). Raises ``ValueError`` where the sheet has no view, or nothing tells the
        eye's height.
        """
        if self.posterior is None:
            raise ValueError("document: no view is found, and a figure needs eye level")
        eye_m = self.eye_m
        if eye_m is None:
            raise ValueError(
                "eye_height_m: give the eye's height, or one known height, to stand a figure on the ground"
            )
        return stand_figure(self.posterior.solution, foot, height_m / eye_m)

    def eased(self, form: str, times: float) -> list[EasedEdge]:
        """The edges of ``form`` as from ``times`` as far away; none for a form that is not solved."""
        return [] if self.solved is None else ease(self.solved, form, times)

    def eased_rims(self, form: str, times: float) -> list[EasedRim]:
        """The level rims of ``form`` as from ``times`` as far away."""
        return [] if self.posterior is None else ease_rims(self.posterior.solution, form, times)


def look(setup: Setup, edges: list[Edge], rims: list[Rim], measured: Measured | None = None) -> Look:
    """Find the view of a sheet and leave its sightings unjudged. Raises ``ValueError`` as ``check`` does."""
    with np.errstate(all="ignore"):
        fitted = fit_all(setup, edges, rims)
        counted, _ = drop_repeats(edges)
        if setup.looking is not Looking.AHEAD:
            return Look(setup, overhead_findings(setup, edges, FREEHAND, fitted, frozenset())[1])
        if setup.perspective is Perspective.PARALLEL:
            return Look(setup, parallel_findings(setup, edges, FREEHAND, fitted)[1])
        if not counted and not fitted:
            return Look(setup, [])
        posterior = Posterior.of(find_view(setup, tuple(counted), fitted))
        eye_level, _ = read_eye_level(posterior, None)
        return Look(
            setup,
            read_vanishing_points(posterior, eye_level),
            read_camera(posterior),
            posterior,
            edges,
            measured or Measured(),
        )
