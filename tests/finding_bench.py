"""What is found in pictures, held against their known truth: the gallery's reported half, and shaded views of set-ups
drawn by lot.
"""

from __future__ import annotations

import io
import math
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np
from PIL import Image

from aspectum.core.stand.drawing import draw
from aspectum.pictures.finding import FoundInPicture, find_in
from aspectum.service.practice.drill_picture import drawing_png
from tests.finding_rivals import TWO_LINE, by_ransac, by_two_lines
from tests.gallery_scores import Scores, score
from tests.gallery_truth import PHOTOS, Piece, pieces
from tests.stand_scenes import random_stand, random_view, straight_shown

if TYPE_CHECKING:
    from tests.bench import Ledger

ASKED = {
    "families found": "80 %",
    "families right": "75 %",
    "eye level, median": "0.5 % of the height",
    "eye level within 5 %": "90 %",
    "eye level in its 95 %": "90–97 %",
    "edges on edges": "60 %",
    "of the twenty surest": "80 %",
    "edges in a true direction": "75 %",
    "long edges found": "50 %",
    "rims found": "55 %",
    "rims right": "75 %",
}
OWN_ERROR = "eye level in its 95 %"
A_BOX_SHOWS, SHOWN_PX = 9, 60.0  # edges, and how much of each
Detector = Callable[[Piece], FoundInPicture]


def reported(detect: Detector) -> Scores:
    """Over the pictures that nothing was tuned on."""
    scores = Scores()
    for piece in pieces():
        if not piece.tuned:
            scores.add(score(piece, detect(piece)))
    return scores


def report_finding(ledger: Ledger, views: int = 100) -> None:
    rng = np.random.default_rng(ledger.seed + 51)
    rivals: dict[str, Detector] = {"OpenCV with RANSAC": lambda piece: by_ransac(piece.pixels, piece.focal_35mm, rng)}
    if TWO_LINE.exists():
        rivals["two-line detector"] = lambda piece: by_two_lines(piece.pixels, piece.focal_35mm)
    ours = reported(lambda piece: find_in(piece.pixels, piece.focal_35mm))
    theirs = {name: reported(detect).figures() for name, detect in rivals.items()}
    count = sum(not piece.tuned for piece in pieces())
    print(f"found in {count} pictures:")
    ledger.part(
        "Found in pictures",
        f"{count} path-traced pictures of set-ups that nothing was tuned on; beside them {' and the '.join(rivals)}.",
    )
    for name, figure in ours.figures().items():
        # what general detectors say of their own error is nothing
        told = {} if name == OWN_ERROR else theirs
        ledger.row(
            name,
            "; ".join([said(figure), *(f"{rival} {said(figures[name])}" for rival, figures in told.items())]),
            ASKED[name],
        )
    for low in (0.3, 0.5, 0.7, 0.9):
        inside = [right for sure, right in ours.said if low <= sure < low + 0.2]
        if inside:
            ledger.row(
                f"of {len(inside)} proposals said to be {low:.1f} to {min(low + 0.2, 1):.1f} are right",
                f"{np.mean(inside):.0%}",
                "about as many",
            )
    ledger.end()
    report_views(ledger, views)


def said(figure: float) -> str:
    return "–" if math.isnan(figure) else f"{figure:.1%}"


def report_views(ledger: Ledger, views: int) -> None:
    """Eye level of shaded views of random stands that show as many straight edges as a box does; a view of one tin or
    of nothing has none to be found.
    """
    rng = np.random.default_rng(ledger.seed + 52)
    errors, z = list[float](), list[float]()
    none, passed_over = 0, 0
    while len(errors) + none < views:
        stand, view = random_stand(rng), random_view(rng)
        drawing, level = draw(stand, view), view.eye_level_px
        if level is None or straight_shown(drawing, SHOWN_PX) < A_BOX_SHOWS:
            passed_over += 1
            continue
        picture = np.asarray(Image.open(io.BytesIO(drawing_png(drawing))).convert("RGB"))
        found = find_in(picture, None)
        if found.eye_level is None:
            none += 1
            continue
        true = (level[0] + level[1]) / 2
        error = (found.eye_level[0] + found.eye_level[1]) / 2 - true
        errors.append(abs(error) / found.height_px)
        z.append(abs(error) / found.eye_level[2])
    print(f"found in {views} shaded views:")
    ledger.part(
        "Found in shaded views",
        f"{views} views of set-ups drawn by lot, up to twelve things of any kind, each at a bearing of its own, from "
        "worm's to bird's eye; lens unknown; with "
        f"{A_BOX_SHOWS} level or upright edges of {SHOWN_PX:.0f} px at least ({passed_over} others were passed over).",
    )
    ledger.row("eye level, median error", f"{np.median(errors):.2%} of the height", "0.5 %")
    ledger.row("eye level within 5 %", f"{np.mean(np.array(errors) < 0.05):.1%}", "90 %")
    ledger.row("its 95 % interval holds", f"{np.mean(np.array(z) < 1.96):.1%}", "90–97 %")
    ledger.row("says that it found no forms", str(none))
    ledger.end()


def report_finding_time() -> None:
    """Time of a picture of 1280 × 960 px and of one of 12 megapixels, on one thread, and the memory that the larger
    takes.
    """
    script = (
        "import cv2, resource, sys, time; cv2.setNumThreads(1)\n"
        "from aspectum.service.sheets.finding import find_sheet\n"
        "data = open(sys.argv[1], 'rb').read(); find_sheet(open(sys.argv[2], 'rb').read())\n"
        "t = time.perf_counter(); find_sheet(data)\n"
        "print(time.perf_counter() - t, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)"
    )
    small = PHOTOS / "crates.jpg"
    with tempfile.TemporaryDirectory() as folder:
        large = Path(folder) / "large.jpg"
        Image.open(small).resize((4000, 3000), Image.Resampling.BICUBIC).save(large, quality=90)
        for name, path in (("1280 × 960 px", small), ("12 megapixels", large)):
            done = subprocess.run(
                [sys.executable, "-c", script, str(path), str(small)], capture_output=True, text=True, check=True
            )
            seconds, megabytes = (float(v) for v in done.stdout.split())
            print(f"found in {name}: {seconds:.2f} s, {megabytes:.0f} MB")
