"""Statistics of the stand over random set-ups: what is hidden against a library's rays, and sheets taken from views
against the truth.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from aspectum.core.stand.drawing import draw
from aspectum.core.stand.taken import taken
from aspectum.core.tolerance import Verdict
from aspectum.formats.stand import StandFile, StandView
from aspectum.service.sheets.checking import check_sheet
from aspectum.service.stand.from_format import sheet_of
from tests.stand_scenes import disagreements, random_stand, random_view

LEAST_EDGES = 9  # a sheet of fewer tells too little of its view to be held against it


@dataclass
class Hiding:
    """Samples compared, and those that differ, on edges and rims and on curved outlines."""

    compared: int = 0
    straight: int = 0
    curved: int = 0


def hiding(seed: int, count: int, parallel_every: int = 5, most: int = 12) -> Hiding:
    """``count`` set-ups of up to ``most`` things, every fifth in a parallel view."""
    found = Hiding()
    for k in range(count):
        rng = np.random.default_rng((seed, k))
        compared, wrong = disagreements(random_stand(rng, most), random_view(rng, parallel=k % parallel_every == 0))
        found.compared += compared
        found.curved += sum(words.startswith("Curve") for words in wrong)
        found.straight += sum(not words.startswith("Curve") for words in wrong)
    return found


@dataclass
class Sheets:
    """Findings by verdict, and eye level's errors (px) at both edges of the picture."""

    verdicts: dict[str, int] = field(default_factory=dict)
    eye_level_px: list[float] = field(default_factory=list)
    not_held: list[str] = field(default_factory=list)


def sheets(seed: int, count: int, most: int = 6) -> Sheets:
    """Sheets taken from ``count`` views, and checked."""
    found = Sheets()
    for k in range(count):
        rng = np.random.default_rng((seed, k))
        stand, view = random_stand(rng, most), random_view(rng)
        drawing = draw(stand, view)
        sighted = taken(drawing)
        if len(sighted.edges) < LEAST_EDGES:
            continue
        file = StandFile(view=StandView(focal_35mm=view.focal_35mm, width_px=view.width_px, height_px=view.height_px))
        report = check_sheet(sheet_of(file, sighted))
        for finding in report.findings:
            verdict = str(finding.verdict)
            found.verdicts[verdict] = found.verdicts.get(verdict, 0) + 1
            if verdict != Verdict.HOLDS:
                found.not_held.append(f"set-up {k}, {finding.sighting}: {finding.words}")
        level = drawing.view.eye_level_px
        if level is not None and report.eye_level.left_y_px is not None and report.eye_level.right_y_px is not None:
            found.eye_level_px += [report.eye_level.left_y_px - level[0], report.eye_level.right_y_px - level[1]]
    return found
