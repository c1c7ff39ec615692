"""Benchmarks: full accuracy figures and times. Run with ``make bench``, or ``make bench SEED=0`` for scenes seen
before.
"""

from __future__ import annotations

import argparse
import inspect
import json
import secrets
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.core.check import check
from aspectum.core.drawing.compare import Laid, compare
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.practice.asking import ASKED, ask
from aspectum.core.practice.skills import Skill
from aspectum.core.sightings import Edge, Family, Looking, Perspective, Setup
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.things import Box, Stand
from aspectum.core.worksheet.exercise import ExerciseKind, Grade
from aspectum.demo.fill import SHEETS
from aspectum.demo.worksheets import EIGHT
from aspectum.formats.logbook import LogRow, write_logbook
from aspectum.formats.sheet import read_sheet
from aspectum.pictures.corner_marks import CODES
from aspectum.pictures.paper import find_paper
from aspectum.pictures.slant import square_on, through
from aspectum.service.pages.plan_page import plan_pdf
from aspectum.service.paper.plan import plan_sheet
from aspectum.service.practice.drill_picture import question_png
from aspectum.service.school.assignment_kinds import AssignmentKind, set_up
from aspectum.service.sheets.from_sheet import laid_on
from aspectum.store.database import open_engine
from aspectum.web.app import create_app
from tests.beginner import muddled_edges
from tests.conftest import Served, settings_in
from tests.drawing_simulation import Conditions, honest_and_astray, several_faults, simulate
from tests.finding_bench import report_finding, report_finding_time
from tests.form_simulation import form_accuracy
from tests.house_scenes import CORNER_ON, FRONT_ON, posts_before_houses
from tests.life_simulation import Told, tell
from tests.messy_scenes import small_boxes
from tests.overhead_scenes import straight_setup, straight_views
from tests.paper_photos import photograph
from tests.paper_scenes import KINDS, Drawn, on_paper, paper_subject, sighted
from tests.pencil_bench import report_pencil, report_pointing
from tests.practice_simulation import asked_in_turn, learning_trend, practise, share_right, student
from tests.rim_arcs import KINDS as ARCS
from tests.rim_arcs import rims_alone
from tests.round_scenes import flat_arc, round_end, round_scene
from tests.round_simulation import LEVEL, PITCHED, quay, rim_accuracy, short_arcs
from tests.samples import SHARE, few
from tests.scenes import Scene, crowded_scene, random_scene, turned
from tests.school import TUTOR, open_school
from tests.simulation import SHALLOW, STEEP, accuracy, messy_sheets, one_stray, strays
from tests.stand_frames import follow
from tests.stand_scenes import random_stand, random_view
from tests.stand_simulation import hiding, sheets
from tests.wire import ask as ask_server
from tests.worksheet_scenes import filled, printed_sheet, read_back

ACCURACY = Path(__file__).parents[1] / "docs" / "accuracy.md"


class Ledger:
    """What was found out, question by question, for ``docs/accuracy.md``."""

    def __init__(self, seed: int) -> None:
        self.seed = seed
        self.lines = [
            "# What Aspectum can tell, and how sure it is",
            "",
            f"Written by `make bench` (seed {seed}). Scenes are made up by a camera and boxes of their own in "
            "`tests/`, readings get a random",
            "error at every point, and what Aspectum says is held against the truth. A ± is one standard deviation; "
            "the 95 % interval is",
            "1.96 of them to either side. The bound is the Cramér–Rao bound: no unbiased reading of the same edges "
            "can do better.",
            "",
        ]

    def part(self, title: str, scenes: str) -> None:
        self.lines += [f"## {title}", "", scenes, "", "| asked | found | limit |", "|---|---|---|"]

    def row(self, asked: str, found: str, limit: str = "") -> None:
        self.lines.append(f"| {asked} | {found} | {limit} |")
        print(f"  {asked}: {found}" + (f" (limit {limit})" if limit else ""))

    def end(self) -> None:
        self.lines.append("")

    def write(self) -> None:
        ACCURACY.write_text("\n".join(self.lines).rstrip() + "\n")


def report_messy(ledger: Ledger, scenes: int = 1000) -> None:
    kinds = (
        "four to eight small boxes, in half of the sheets a thin slab square to the picture, 26 edges of 60 to 130 "
        "px, one to four of a family"
    )
    print(f"messy sheets, {scenes}:")
    ledger.part(
        "Messy sheets",
        f"{scenes} sheets of {kinds}, most near eye level; view 25–65°, pitch −3 to 12°, roll ±1.5°, point error 1.5 "
        "px.",
    )
    found = messy_sheets(scenes, ledger.seed + 3)
    ledger.row("eye level: 95 % interval holds", f"{found.coverage():.1%}", "93.5–97 %")
    ledger.row("eye level misses by more than four of its deviations", f"{found.beyond_four():.2%}", "0.2 %")
    ledger.row("RMS error over the bound", f"{found.against_bound():.2f}", "1.2")
    ledger.row("eye level is answered", f"{1 - found.open / scenes:.1%}", "98 %")
    ledger.row("true edges called off", f"{found.off_share():.2%}", "0.5 %")
    ledger.end()


def report_one_stray(ledger: Ledger, scenes: int = 1000) -> None:
    print(f"one stray, {scenes} sheets:")
    ledger.part(
        "One stray edge",
        f"{scenes} sheets of one to three boxes of sides 0.2 to 0.5 seen at 30–72°; one level edge from 80 px turned "
        "by 6–12°.",
    )
    found = one_stray(small_boxes, scenes, ledger.seed + 4)
    ledger.row("eye level: 95 % interval holds", f"{found.coverage():.1%}", "92.5–97 %")
    ledger.row("RMS error over the bound of the other edges", f"{found.against_bound():.2f}", "1.3")
    ledger.row("stray named, from 120 px in a family of three", f"{found.named_clear():.1%}", "92 %")
    ledger.row("stray named, of all", f"{found.named_all():.1%}", "83 %")
    ledger.row("others called off", f"{found.off_share():.2%}", "0.45 %")
    ledger.end()


def report_arcs(ledger: Ledger, rims: int = 780) -> None:
    for title, make, what in (
        (
            "Rims on flat arcs",
            flat_arc,
            "level rims, 90 to 170 degrees of their turn laid by 7 to 11 points, point error 1.5 px",
        ),
        (
            "Round ends of lying drums",
            round_end,
            "ends seen at 70 to 78 degrees, 40 to 60 % of their turn laid, point error 1 px",
        ),
    ):
        print(f"{title}, {rims}:")
        ledger.part(
            title,
            f"{rims} rims: {what}. Beside the best of OpenCV's `fitEllipse`, `fitEllipseAMS` and `fitEllipseDirect` "
            "on the same points.",
        )
        found = short_arcs(make, rims, ledger.seed + 6)
        theirs = np.array(found.theirs)
        ledger.row(
            "degree: median error",
            f"{np.median(found.errors):.2f}°",
            f"{np.median(theirs, axis=0).min():.2f}° (OpenCV)",
        )
        ledger.row(
            "degree: 90th percentile",
            f"{np.percentile(found.errors, 90):.2f}°",
            f"{np.percentile(theirs, 90, axis=0).min():.2f}° (OpenCV)",
        )
        ledger.row("degree: 95 % interval holds", f"{np.mean(np.array(found.deviations) <= 1.96):.1%}")
        ledger.end()
    print(f"Rims by themselves, {rims} of each kind:")
    ledger.part(
        "Rims by themselves",
        f"{rims} level rims of each kind, points 1 px off, beside OpenCV's `fitEllipseDirect` of the same points: the "
        "parts that show of the rims in the "
        "gallery's path-traced views (0.4 of the turn or more, a point every 4–9°); degrees spread evenly from 1 to "
        "88°, 144–360° of the turn; near halves of "
        "rims of 2 to 20°. Read with the point error that a sheet gives (1.5 px), and with the points' own (1 px).",
    )
    for kind in ARCS:
        for point_sd_px in (1.5, 1.0):
            alone = rims_alone(kind, rims, ledger.seed + 7, point_sd_px)
            ours, direct = np.abs(alone.ours), np.abs(alone.direct)
            name = f"{kind}, read with {point_sd_px} px"
            ledger.row(f"{name}: median error", f"{np.median(ours):.2f}°", f"{np.median(direct):.2f}° (OpenCV)")
            ledger.row(
                f"{name}: 90th percentile",
                f"{np.percentile(ours, 90):.2f}°",
                f"{np.percentile(direct, 90):.2f}° (OpenCV)",
            )
            ledger.row(
                f"{name}: bias, at the median and at the mean",
                f"{np.median(alone.ours):+.2f}°, {alone.ours.mean():+.2f}°",
                "0.15°",
            )
            ledger.row(f"{name}: 95 % interval holds", f"{alone.held.mean():.1%}", "93–97 %")
    ledger.end()


def report_accuracy(ledger: Ledger, scenes: int = 600) -> None:
    seed = ledger.seed
    for name, pitch in (("pitch within ±7°", SHALLOW), ("pitch ±8–25°", STEEP)):
        found, calls = accuracy(pitch, scenes, seed + 1), strays(pitch, scenes, seed + 2)
        print(f"{name}, {scenes} scenes:")
        ledger.part(
            f"Ordinary boxes, {name}",
            f"{scenes} scenes of one to three boxes, view 30–72°, point error 1.5 px; strays turned 6–12°.",
        )
        ledger.row("eye level: 95 % interval holds", f"{found.coverage():.1%}", "95 %")
        ledger.row("RMS error over the bound", f"{found.against_bound():.3f}", "1")
        ledger.row("eye level left open", str(found.open))
        ledger.row("focal length: 95 % interval holds", f"{np.mean(np.abs(found.focal_z) <= 1.96):.1%}", "95 %")
        ledger.row("implied tilts: 95 % interval holds", f"{np.mean(np.abs(found.implied_z) <= 1.96):.1%}", "95 %")
        ledger.row(
            "stray named, from 120 px in a family of three",
            f"{calls.long_named / calls.long_asked:.1%} of {calls.long_asked}",
        )
        ledger.row("stray named, of all", f"{calls.named / calls.asked:.1%}")
        ledger.row("others called off", f"{calls.others_off / calls.others:.2%}")
        ledger.end()


def report_rims(ledger: Ledger, scenes: int = 500) -> None:
    for name, pitch in (("level views", LEVEL), ("pitched views", PITCHED)):
        found = rim_accuracy(pitch, scenes, ledger.seed + 5)
        print(f"rims alone, {name}, {scenes} scenes, {len(found.sighted)} rims:")
        ledger.part(
            f"Rims alone, {name}",
            f"{scenes} scenes of three to six level rims, 120–220° of their turn laid, point error 1 px, no lens "
            "known.",
        )
        ledger.row("sighted degree: median error", f"{np.median(found.sighted):.2f}°")
        ledger.row("sighted degree: 95 % interval holds", f"{found.held(found.sighted_z):.1%}", "95 %")
        ledger.row("implied degree: error over the sighted one's", f"{found.gain():.2f}")
        ledger.row(
            "implied degree, axis: 95 % interval holds",
            f"{found.held(found.implied_z):.1%}, {found.held(found.axis_z):.1%}",
            "95 %",
        )
        ledger.row("eye level: 95 % interval holds", f"{found.held(found.level_z):.1%}, open in {found.open}", "95 %")
        ledger.row("true rims called off", f"{found.off / len(found.sighted):.1%}", "0.5 %")
        ledger.end()


def report_forms(ledger: Ledger, scenes: int = 400) -> None:
    for name, pitch in (("pitch within ±7°", SHALLOW), ("pitch ±8–25°", STEEP)):
        found = form_accuracy(pitch, scenes, ledger.seed + 8)
        print(f"solved forms, {name}, {scenes} sheets:")
        ledger.part(
            f"True proportions, heights and parts, {name}",
            f"{scenes} sheets of one to three boxes on the ground that hide one another, with posts, and parts on "
            "whole walls; view 30–72°,"
            " point error 1.5 px, the lens given in half of them; what is cut off is not marked.",
        )
        sizes, heights, parts = found.sizes, found.heights, found.parts
        ledger.row("sizes: 95 % interval holds", f"{sizes.coverage():.1%}", "92–97 %")
        left_out = f"{sizes.beyond_straight():.1%} left out, of all {sizes.against_bound(np.inf):.2f}"
        ledger.row("sizes: RMS error over the bound", f"{sizes.against_bound():.2f} ({left_out})", "1.1")
        ledger.row("sizes: median error", f"{sizes.median():.2%}", "0.8 %")
        ledger.row(
            "sizes answered, of those that can be told to a third", f"{found.answered / found.asked:.1%}", "96 %"
        )
        ledger.row("sizes told although nothing fixes them, and wrong", str(found.false), "0")
        ledger.row("heights: 95 % interval holds", f"{heights.coverage():.1%}", "92–98 %")
        ledger.row("heights: RMS error over the bound", f"{heights.against_bound():.2f}", "1.05")
        ledger.row("heights: median error", f"{heights.median() * 100:.1f} cm")
        ledger.row("parts: 95 % interval holds", f"{parts.coverage():.1%}", "92–97.5 %")
        ledger.row("parts: RMS error over the bound", f"{parts.against_bound():.2f}", "1.05")
        ledger.row("parts: median error", f"{parts.median():.4f} of the face", "0.007")
        ledger.end()


def report_houses(ledger: Ledger, draws: int = 200) -> None:
    print(f"posts before gabled houses, {draws} a row:")
    ledger.part(
        "Heights before gabled houses",
        f"{draws} houses a row, a gable and a long wall turned to the eye, 21 to 24 edges with openings, two posts of "
        "1.70 m on the ground before each; "
        "view 45–65°, point error 1.5 px, the eye's height known. With eaves 25–60 cm and verges 15–40 cm beyond the "
        "wall and a plinth of 6 cm, and without.",
    )
    for name, families in (("corner on", CORNER_ON), ("in one-point", FRONT_ON)):
        for eaves in (True, False):
            found = posts_before_houses(ledger.seed + 8, draws, families, eaves)
            row = f"{name}, {'with eaves and plinth' if eaves else 'plain'}"
            ledger.row(f"{row}: 95 % interval holds", f"{found.held():.1%}", "92–97 %")
            ledger.row(f"{row}: off by more than four of its deviations", f"{found.gross():.1%}", "0.5 %")
            ledger.row(f"{row}: RMS error", f"{100 * float(np.sqrt(np.mean(np.square(found.errors)))):.1f} cm")
    ledger.end()


def report_quay(ledger: Ledger, scenes: int = 600) -> None:
    found = quay(scenes, ledger.seed + 7)
    many = sum(len(values) for values in found.sighted_z.values())
    print(f"level, lying and wall-mounted rims beside edges, {scenes} scenes, {many} rims:")
    scope = (
        f"{scenes} scenes of one or two boxes with wheels on their walls, lying drums and tins; 100–330° of a rim "
        "laid, point error 1 px; all are true."
    )
    ledger.part("True rims, level, lying and on walls", scope)
    for stands, values in found.sighted_z.items():
        implied = np.mean(np.abs(found.implied_z[stands]) <= 1.96)
        ledger.row(f"{stands}: called off", f"{found.off[stands] / len(values):.2%} of {len(values)}", "0.5 %")
        ledger.row(
            f"{stands}, sighted and implied degree: 95 % interval holds",
            f"{np.mean(np.abs(values) <= 1.96):.1%}, {implied:.1%}",
            "95 %",
        )
    ledger.end()


def report_straight(ledger: Ledger, scenes: int = 500) -> None:
    print(f"straight up and down, {scenes} scenes:")
    scope = (
        f"{scenes} courtyards and stairwells of two to four towers, view 50–85°, held 2° off straight either way "
        "(standard deviation), point error 1.5 px."
    )
    ledger.part("Straight up and down", scope)
    found = straight_views(2.0, scenes, ledger.seed + 8)
    ledger.row("uprights, implied tilt: 95 % interval holds", f"{np.mean(np.abs(found.upright_z) <= 1.96):.1%}", "95 %")
    ledger.row(
        "level edges, implied tilt: 95 % interval holds", f"{np.mean(np.abs(found.level_z) <= 1.96):.1%}", "95 %"
    )
    ledger.row("true edges called off", f"{found.accused / found.edges:.2%}", "0.5 %")
    ledger.row("one stray of 6–12° named", f"{found.named / found.strays:.1%}")
    ledger.row("others called off beside it", f"{found.others_off / found.others:.2%}")
    ledger.end()


def report_drawings(ledger: Ledger, drawings: int = 1000) -> None:
    kinds = "one box, two boxes, box and tin, building with a ridge and a door, in turn"
    print(f"drawings on paper, {drawings} a row:")
    ledger.part(
        "Causes in drawings on paper",
        f"{drawings} drawings a row ({kinds}), 140–240 mm long, drawn line by line with a ruler's construction, every "
        "line with a freehand's wobble (0.7 mm, "
        "1.2°, 2.5 %), sighted like the subject (1.5 px). A cause is 0.9–1.2 times twice the tolerance of a freehand. "
        "First: the planted cause named first, "
        "with direction and form. Harsh: its size set by the few lines that it turns most.",
    )
    quiet = simulate(ledger.seed + 21, drawings, 0)
    ledger.row("wobble alone: no cause named", f"{quiet.quiet / drawings:.1%}", "97 %")
    for name, conditions in CONDITIONS.items():
        found = simulate(ledger.seed + 22, drawings if name == "as described" else drawings // 4, 1, conditions)
        worst = min(found.drawn, key=lambda kind: found.first[kind] / found.drawn[kind])
        limits = ("95 %", "5 %", "80 %") if name == "as described" else ("", "", "")
        ledger.row(f"one cause, {name}: first", f"{found.share():.1%}", limits[0])
        ledger.row(f"one cause, {name}: superfluous beside it", f"{found.superfluous / found.count:.1%}", limits[1])
        ledger.row(
            f"one cause, {name}: the kind least found",
            f"{worst} {found.first[worst] / found.drawn[worst]:.0%} of {found.drawn[worst]}",
            limits[2],
        )
        if name == "as described":
            ledger.row(
                "size of a cause: 95 % interval holds", f"{np.mean(np.abs(found.deviations) <= 1.96):.1%}", "92–98 %"
            )
    pairs = simulate(ledger.seed + 23, drawings, 2)
    ledger.row("two causes: both among three", f"{pairs.both / drawings:.1%}", "92 %")
    for way in Drawn:
        honest = honest_and_astray(ledger.seed + 24, drawings // 4, way, 4.5)
        ledger.row(f"{way}: nothing told where nothing is wrong", f"{honest.clean / honest.count:.1%}", "95 %")
        ledger.row(f"{way}: one stray of 4.5 times the hand named", f"{honest.named / honest.count:.1%}", "85 %")
        small = honest_and_astray(ledger.seed + 25, drawings // 4, way, 3.0)
        ledger.row(f"{way}: one stray of 3 times the hand named", f"{small.named / small.count:.1%}", "85 %")
    ledger.row("two causes: told ones that are right", f"{pairs.right / max(pairs.told, 1):.1%}", "95 %")
    ledger.end()


CONDITIONS = {
    "as described": Conditions(),
    "harsh": Conditions(harsh=True),
    "a third not drawn": Conditions(missing=1 / 3),
    "looking down 22°": Conditions(pitch_deg=-22.0),
    "looking up 15°": Conditions(pitch_deg=15.0),
    "no lens given": Conditions(lens_given=False),
}


def report_life(ledger: Ledger, corners: int = 2000) -> None:
    print(f"corners read from life, {corners} in all:")
    ledger.part(
        "Near corners read from life",
        f"{corners} corners in all, half read with a stick (2°) and half with a gauge (1°), three tilts and a far "
        "upright by the thumb (3 %) a "
        "side, 1.4–4.5 near uprights away, turned 20–70°; then the same with one tilt 8–15° wrong. Other layouts: the "
        "third edge lower, or above the top; "
        "no thumb measures at all.",
    )
    half = corners // 2

    def both(wrong: bool, seed: int, thumb: bool = True, heights: str = "upper", count: int = half) -> list[Told]:
        return [tell(seed, count, sd, wrong, thumb, heights) for sd in (2.0, 1.0)]

    def mean(told: list[Told], count: Callable[[Told], float]) -> float:
        return float(np.mean([count(t) / t.corners for t in told]))

    true = both(False, ledger.seed + 31)
    for what in ("left", "right", "eye level"):
        ledger.row(
            f"{what}{'' if what == 'eye level' else ' distance'}: 95 % interval holds",
            f"{np.mean([t.share(what) for t in true]):.1%}",
            "93–97 %",
        )
    ledger.row("true readings: one called off", f"{mean(true, lambda t: t.blamed):.1%} of corners")
    wrong = both(True, ledger.seed + 32)
    ledger.row("one wrong: it is named", f"{mean(wrong, lambda t: t.named):.1%}", "88 %")
    ledger.row("one wrong: another is blamed", f"{mean(wrong, lambda t: t.blamed):.1%}", "2 %")
    for told, name in zip(wrong, ("stick", "gauge"), strict=True):
        ledger.row(
            f"one wrong, {name} alone: named, or with a rival, another blamed",
            f"{told.named / half:.1%}, {told.with_rival / half:.1%}, {told.blamed / half:.1%}",
        )
    for heights in ("lower", "beyond"):
        other = both(True, ledger.seed + 33, heights=heights, count=half // 4)
        ledger.row(
            f"one wrong, third edge {heights}: named, another blamed",
            f"{mean(other, lambda t: t.named):.1%}, {mean(other, lambda t: t.blamed):.1%}",
        )
    bare = both(True, ledger.seed + 34, thumb=False, count=half // 4)
    ledger.row(
        "one wrong, no thumb measures: named, another blamed",
        f"{mean(bare, lambda t: t.named):.1%}, {mean(bare, lambda t: t.blamed):.1%}",
    )
    ledger.end()


def report_stand(ledger: Ledger, set_ups: int = 500, views: int = 300) -> None:
    print(f"model stand, {set_ups} set-ups:")
    ledger.part(
        "The model stand",
        f"{set_ups} set-ups of up to 12 things of all kinds, some on others, some running into one another, a fifth "
        "in parallel views; 20 places on "
        "every line, those within 0.5 px of another line left out, against a library's rays. Sheets taken from "
        f"{views} views and checked.",
    )
    found = hiding(ledger.seed + 41, set_ups)
    places = found.compared
    ledger.row(
        "seen or hidden as the rays say: edges and rims",
        f"{1 - found.straight / places:.3%} of {places} places",
        "99.9 %",
    )
    ledger.row(
        "the same with outlines of what is turned, which graze the rays' facets",
        f"{1 - (found.straight + found.curved) / places:.3%}",
    )
    told = sheets(ledger.seed + 42, views)
    total = sum(told.verdicts.values())
    ledger.row(
        "findings that hold",
        f"{told.verdicts.get('holds', 0) / total:.2%} of {total}; off: {told.verdicts.get('off', 0)}",
        "all",
    )
    ledger.row("eye level, 95 of 100 within", f"{np.quantile(np.abs(told.eye_level_px), 0.95):.4f} px", "0.01 px")
    ledger.end()


def report_stand_time() -> None:
    """One box, and set-ups of twelve things of all kinds, from a view that changes every time as when one
    walks round.
    """
    rng = np.random.default_rng(3)
    for name, most, count in (("one box", 1, few(20)), ("twelve things", 12, few(40))):
        times = []
        for _ in range(count):
            stand = random_stand(rng, most)
            while len(stand.things) < most:
                stand = random_stand(rng, most)
            view = random_view(rng)
            stand = Stand((Box("box", turn_deg=30.0),)) if most == 1 else stand
            for k in range(8):
                start = time.perf_counter()
                draw(stand, replace(view, heading_deg=view.heading_deg + 0.5 * k))
                if k:
                    times.append(1e3 * (time.perf_counter() - start))
        print(
            f"exact drawing, {name}: median {np.median(times):.1f} ms, 9 of 10 within {np.quantile(times, 0.9):.1f} "
            f"ms, slowest {max(times):.0f} ms"
        )


def report_stand_frames() -> None:
    """Dragging on every stand of the demo."""
    for found in follow():
        print(
            f"walking round, {found.title} ({found.things} things): {found.frames_a_second:.0f} frames a second, 9 of "
            f"10 within {found.nine_of_ten_ms:.0f} ms; "
            f"lines anew {found.lines_a_second:.0f} times a second"
        )


def report_plan_time() -> None:
    """A plan and its PDF, of every demo sheet on which something is sighted."""
    sheets = [
        sheet for path in sorted(SHEETS.glob("*.sighting.json")) if (sheet := read_sheet(path.read_bytes())).accepted
    ]
    for name, make in (("plan", plan_sheet), ("its PDF", lambda sheet: plan_pdf(plan_sheet(sheet)))):
        times = []
        for sheet in sheets:
            make(sheet)
            begun = time.perf_counter()
            make(sheet)
            times.append(1000 * (time.perf_counter() - begun))
        print(f"{name}: median {np.median(times):.0f} ms, slowest {max(times):.0f} ms")


def report_paper(ledger: Ledger, photos: int = 200) -> None:
    print(f"sheets of paper, {photos} photos:")
    ledger.part(
        "Sheets of paper",
        f"{photos} photos of white paper on a board, up to 35° off square, uneven light, a shadow's edge, a hand over "
        "one side.",
    )
    rng, right, longs, tilts = np.random.default_rng(ledger.seed + 31), 0, [], []
    for _ in range(photos):
        paper = [(297.0, 210.0), (210.0, 297.0), (420.0, 297.0)][int(rng.integers(3))]
        photo = photograph(rng, float(rng.uniform(0, 35)), paper)
        found = find_paper(photo.picture)
        if found is None or float(np.hypot(*(found.corners - photo.corners).T).max()) > 6.0:
            continue
        right += 1
        back = square_on(found.corners, np.array([[0, 0], [paper[0], 0], paper, [0, paper[1]]], float))
        for ends in rng.uniform(0.1, 0.9, (8, 2, 2)) * np.array(paper):
            run, due = np.diff(through(back, photo.at(ends)), axis=0)[0], ends[1] - ends[0]
            if np.hypot(*due) > 60:
                longs.append(abs(float(np.hypot(*run) / np.hypot(*due)) - 1.0))
                tilts.append(abs(float(np.degrees(np.arctan2(run[0] * due[1] - run[1] * due[0], run @ due)))))
    ledger.row("corners found unaided", f"{right / photos:.1%}", "90 %")
    ledger.row("distances, 99 of 100 within", f"{np.quantile(longs, 0.99):.2%}", "0.5 %")
    ledger.row("tilts, 99 of 100 within", f"{np.quantile(tilts, 0.99):.2f}°", "0.3°")
    ledger.end()


def report_worksheets(ledger: Ledger, sheets: int = 120) -> None:
    """Printed, filled in and photographed worksheets of every kind, grade and paper, at slants up to 35 degrees, one
    line drawn 6 degrees off.
    """
    rng = np.random.default_rng(ledger.seed + 17)
    read = []
    for _ in range(sheets):
        kind, grade = list(ExerciseKind)[int(rng.integers(12))], list(Grade)[int(rng.integers(3))]
        paper = ("A4", "A3")[int(rng.integers(2))]
        size = (297.0, 210.0) if paper == "A4" else (420.0, 297.0)
        seed, code = int(rng.integers(2**31)), int(rng.integers(1, CODES))
        sheet = printed_sheet(kind, seed, grade, code, paper, size)
        read.append(read_back(sheet, filled(sheet, seed, float(rng.uniform(0, 35)), {sheet.asked[0].id: 6.0})))
    known = [r for r in read if r.known]
    asked, found = sum(r.asked for r in known), sum(r.found for r in known)
    print(f"worksheets: {len(known)} of {len(read)} known by their corners; {found} of {asked} pencil lines found")
    for name, errors in (
        ("tilts", [e for r in known for e in r.tilts]),
        ("rims' degrees", [e for r in known for e in r.degrees]),
    ):
        if not errors:
            continue  # of a few sheets none may ask for a rim
        size95 = np.quantile(np.abs(errors), 0.95)
        print(
            f"worksheets: {name} read to {np.sqrt(np.mean(np.square(errors))):.2f}° (root mean square of "
            f"{len(errors)}), 95 % within {size95:.2f}°"
        )


def report_worksheet_time(copies: int = 30) -> None:
    """A set of eight for thirty: made copy by copy, and written as PDF."""
    with tempfile.TemporaryDirectory() as folder:
        client = create_app(settings_in(Path(folder))).test_client()
        wanted = {"exercises": [kind.value for kind in EIGHT], "grade": "middle", "paper": "A4", "copies": copies}
        made = (client.post("/api/worksheets", json=wanted).json or {})["id"]
        times = []
        for _ in range(copies):
            start = time.perf_counter()
            client.post(f"/api/worksheets/{made}/copies")
            times.append(time.perf_counter() - start)
        start = time.perf_counter()
        with client.get(f"/api/worksheets/{made}/sheets.pdf") as answer:
            size = len(answer.data)
        took = time.perf_counter() - start
    print(f"worksheets, eight for {copies}: made in {sum(times):.1f} s, slowest copy {max(times):.2f} s")
    print(f"worksheets, PDF of {8 * copies} pages: {took:.1f} s, {size / 1e6:.1f} MB")


def report_critique_time() -> None:
    """Drawings of the simulated kinds, and of 30 sightings: the edges of several boxes, drawn with a wobble and
    leaning.
    """
    rng = np.random.default_rng(0)
    jobs: dict[str, list[tuple[Laid, Laid]]] = {}
    for kind in KINDS:
        subject = paper_subject(rng, kind)
        jobs[kind] = [
            (sighted(subject, rng), on_paper(subject, several_faults(rng, subject, 1, False), rng))
            for _ in range(few(8, 1))
        ]
    for _ in range(few(8, 1)):
        scene = crowded_scene(rng, 30, shortest_px=60.0)
        leaning = [turned(e, -5.0) if e.family is Family.UPRIGHT else e for e in scene.sighted(rng, 4.0)]
        jobs.setdefault("many boxes", []).append(
            (Laid(scene.setup, scene.sighted(rng)), Laid(replace(scene.setup, point_sd_px=1.5), leaning))
        )
    for kind, pairs in jobs.items():
        times = []
        for theirs, mine in pairs:
            start = time.perf_counter()
            compare(theirs, mine, 297.0 / 1280.0)
            times.append(time.perf_counter() - start)
        count = len(pairs[0][0].edges) + len(pairs[0][0].rims)
        print(
            f"critique, {kind}, {count} sightings: median {np.median(times) * 1e3:.0f} ms, slowest "
            f"{max(times) * 1e3:.0f} ms"
        )


def report_rim_time() -> None:
    rng = np.random.default_rng(6)
    fits, checks = [], []
    for _ in range(few(60, 3)):
        scene = round_scene(rng, LEVEL, count=6)
        rims = scene.sighted(rng)
        start = time.perf_counter()
        for rim in rims:
            fit_rim(rim.points, 1.0)
        fits.append((time.perf_counter() - start) / len(rims))
        start = time.perf_counter()
        check(scene.setup, [], rims=rims)
        checks.append((time.perf_counter() - start) / len(rims))
    fits, checks = (times[len(times) // 3 :] for times in (fits, checks))  # the first ones only warm the machine
    print(
        f"a rim: fit {np.median(fits) * 1e3:.1f} ms, its share of a check of six {np.median(checks) * 1e3:.1f} ms "
        "(medians)"
    )


def scenes_of(edges: int, count: int) -> list[tuple[Scene, list[Edge]]]:
    rng = np.random.default_rng(5)
    found: list[Scene] = []
    while len(found) < count:
        scene = random_scene(rng, SHALLOW, boxes=5 if edges > 30 else 4)
        if len(scene.edges) >= edges:
            found.append(replace(scene, edges=scene.edges[:edges]))
    return [(scene, scene.sighted(rng)) for scene in found]


def report_core_time() -> None:
    rng = np.random.default_rng(12)
    sample = scenes_of(40, few(60))
    for what in ("clean", "with a stray of 9°"):
        times = []
        for scene, edges in sample * 2:  # the first round only warms the machine
            laid = list(edges)
            if what != "clean":
                k = int(rng.integers(len(laid)))
                laid[k] = turned(laid[k], 9.0)
            start = time.perf_counter()
            check(scene.setup, laid)
            times.append(time.perf_counter() - start)
        middle, late = np.percentile(times[len(times) // 2 :], [50, 95]) * 1e3
        print(f"core, 40 sightings {what}: median {middle:.1f} ms, 95th percentile {late:.1f} ms")
    for path in sorted(SHEETS.glob("*.sighting.json")):
        laid_out = laid_on(read_sheet(path.read_bytes()))
        if laid_out.setup is None:
            continue  # a card, timed over the wire
        times = []
        for _ in range(few(25)):
            start = time.perf_counter()
            check(laid_out.setup, laid_out.edges, laid_out.rims, laid_out.measured, round_forms=laid_out.round_forms)
            times.append(time.perf_counter() - start)
        print(
            f"core, {path.stem}, {len(laid_out.edges)} edges and {len(laid_out.rims)} rims: median "
            f"{np.median(times[len(times) // 5 :]) * 1e3:.1f} ms"
        )


def report_limits() -> None:
    """Large sheets, and sheets on which nothing agrees: the check ends all the same."""
    rng = np.random.default_rng(7)
    for count, reps in ((100, few(20, 1)), (300, few(8, 1))):
        for what in ("clean", "contradictory"):
            times = []
            for _ in range(reps):
                scene = crowded_scene(rng, count)
                edges = scene.sighted(rng) if what == "clean" else muddled_edges(rng, count, count // 12)
                start = time.perf_counter()
                check(scene.setup, edges)
                times.append(time.perf_counter() - start)
            print(
                f"core, {count} sightings, {what}: median {np.median(times) * 1e3:.0f} ms, slowest "
                f"{max(times) * 1e3:.0f} ms"
            )
    one_family = [replace(e, family=Family.UPRIGHT, slope=None, plan=None) for e in muddled_edges(rng, 300, 25)]
    for what, setup in (
        ("straight up", straight_setup(Looking.UP)),
        ("parallel", Setup(1280, 960, perspective=Perspective.PARALLEL)),
    ):
        start = time.perf_counter()
        check(setup, one_family)
        print(f"core, 300 contradictory edges of one family, {what}: {(time.perf_counter() - start) * 1e3:.0f} ms")
    times = []
    for _ in range(few(300)):
        edges = muddled_edges(rng, int(rng.integers(1, 16)), int(rng.integers(1, 4)))
        start = time.perf_counter()
        check(Setup(1280, 960), edges)
        times.append(time.perf_counter() - start)
    middle, late = np.percentile(times, [50, 99]) * 1e3
    print(
        f"core, 1 to 15 muddled sightings: median {middle:.0f} ms, 99th percentile {late:.0f} ms, slowest "
        f"{max(times) * 1e3:.0f} ms"
    )


def report_saving() -> None:
    """What it costs that a save is on the disk before it is answered."""
    for mode in ("NORMAL", "FULL"):
        with tempfile.TemporaryDirectory() as folder:
            engine = open_engine(f"sqlite:///{Path(folder) / 'a.sqlite'}")
            with engine.connect() as connection:
                connection.exec_driver_sql("create table t (id integer primary key, document text)")
                connection.exec_driver_sql(f"PRAGMA synchronous={mode}")
                times = []
                for _ in range(few(300)):
                    start = time.perf_counter()
                    connection.exec_driver_sql("insert into t (document) values (?)", ("x" * 8000,))
                    connection.commit()
                    times.append(time.perf_counter() - start)
            engine.dispose()
        print(
            f"a save of 8 kB with synchronous={mode}: median {np.median(times) * 1e3:.2f} ms, 95th percentile "
            f"{np.percentile(times, 95) * 1e3:.2f} ms"
        )


def report_command_time() -> None:
    with tempfile.TemporaryDirectory() as folder:
        files = []
        for n, (_, edges) in enumerate(scenes_of(30, 20) * few(10, 1)):
            sheet = {
                "format": "aspectum-sighting-sheet",
                "version": 1,
                "picture": {"width_px": 1280, "height_px": 960},
                "sightings": [
                    {
                        "id": e.id,
                        "kind": "edge",
                        "form": e.form,
                        "family": e.family.value,
                        "p": list(e.p),
                        "q": list(e.q),
                    }
                    for e in edges
                ],
            }
            path = Path(folder) / f"{n}.sighting.json"
            path.write_text(json.dumps(sheet))
            files.append(str(path))
        start = time.perf_counter()
        result = CliRunner().invoke(main, ["check", "--json", *files])
        taken = time.perf_counter() - start
        print(f"aspectum check on {len(files)} sheets of 30 sightings: {taken:.1f} s (exit {result.exit_code})")


def report_round_trip() -> None:
    """A check asked over HTTP while the end of a sighting is dragged, through the real server: a sheet of 30 edges, and
    every demo sheet.
    """
    _, edges = scenes_of(30, 1)[0]
    laid = [
        {"id": e.id, "kind": "edge", "form": e.form, "family": e.family.value, "p": list(e.p), "q": list(e.q)}
        for e in edges
    ]
    documents: dict[str, Any] = {"30 edges": {"picture": {"width_px": 1280, "height_px": 960}, "sightings": laid}}
    documents |= {path.stem: json.loads(path.read_bytes()) for path in sorted(SHEETS.glob("*.sighting.json"))}
    with tempfile.TemporaryDirectory() as folder:
        served = Served(Path(folder))
        for name, document in documents.items():
            times = []
            for k in range(few(40, 6)):
                drawn = [s for s in document["sightings"] if s["kind"] in ("edge", "rim")]
                for sighting in (drawn[0], drawn[-1]):
                    if "tilt_deg" in sighting:
                        sighting["tilt_deg"] += 0.3 * (-1) ** k
                    elif "ratio" not in sighting:
                        (sighting.get("p") or sighting["near"])[1] += 0.3 * (-1) ** k
                body = json.dumps({"document": document}).encode()
                request = urllib.request.Request(f"{served.url}/api/check", body, {"Content-Type": "application/json"})
                start = time.perf_counter()
                urllib.request.urlopen(request).read()
                times.append(time.perf_counter() - start)
            print(
                f"check over HTTP while dragging, {name}: median {np.median(times[5:]) * 1e3:.0f} ms, slowest "
                f"{max(times[5:]) * 1e3:.0f} ms"
            )
        served.stop()


def report_practice_time() -> None:
    """A question made and drawn, for every skill, and a logbook of 50,000 readings from the command."""
    rows = []
    for skill in ASKED:
        for seed in range(few(6, 1)):
            start = time.perf_counter()
            question_png(ask(skill, seed / 5, seed))
            rows.append(1e3 * (time.perf_counter() - start))
    print(
        f"question made and drawn: median {np.median(rows):.0f} ms, nine of ten {np.quantile(rows, 0.9):.0f} ms, "
        f"slowest {max(rows):.0f} ms"
    )
    began = datetime(2026, 1, 1, tzinfo=UTC)
    rng = np.random.default_rng(1)
    skills = list(Skill)
    log = [
        LogRow(
            began + timedelta(minutes=k),
            "",
            skills[k % len(skills)],
            "practice",
            f"q{k}",
            float(rng.normal(2, 3)),
            0.0,
            None,
            4.0,
        )
        for k in range(few(50_000, 500))
    ]
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "log.csv"
        path.write_bytes(write_logbook(log))
        start = time.perf_counter()
        subprocess.run(
            [str(Path(sys.executable).parent / "aspectum"), "logbook", str(path), "--json"],
            check=True,
            stdout=subprocess.DEVNULL,
        )
        print(f"aspectum logbook, {len(log):,} readings: {time.perf_counter() - start:.2f} s")


def report_room(devices: int = 30, rounds: int = 5) -> None:
    """From the moment that a whole room commits until the tutor's screen, which asks every 0.7 s, has counted them all;
    over sockets, twice as many devices asking as answer.
    """
    with tempfile.TemporaryDirectory() as folder:
        served = Served(Path(folder))
        school = open_school(served.app)
        file = set_up(AssignmentKind.TWO_CUBES)
        assert file is not None
        stand = school.ask(TUTOR, "POST", "/api/stands", {"document": file.model_dump(mode="json", exclude_none=True)})[
            "id"
        ]
        room = f"/api/classes/{school.class_id}/room"
        about = school.ask(TUTOR, "GET", f"{room}/askable?over=stand&id={stand}")["askable"][1]["about"]
        cookies = []
        for k in range(devices):
            client = served.app.test_client()
            client.post("/api/join", json={"code": school.code, "name": f"Guest {k}", "passphrase": None})
            held = client.get_cookie("aspectum")
            assert held is not None
            cookies.append(f"aspectum={held.value}")
        tutor = school.of(TUTOR).get_cookie("aspectum")
        assert tutor is not None
        times = []
        for _ in range(rounds):
            question = school.ask(TUTOR, "POST", room, {"over": "stand", "id": stand, "about": about})["question"]["id"]
            with ThreadPoolExecutor(2 * devices) as pool:
                start = time.perf_counter()
                body = json.dumps({"value": 12.0}).encode()
                sent = [
                    pool.submit(ask_server, served, "POST", f"/api/room/{question}/answer", body, Cookie=cookie)
                    for cookie in cookies
                ]
                for cookie in cookies:
                    pool.submit(ask_server, served, "GET", room, None, Cookie=cookie)
                while True:
                    _, _, told = ask_server(
                        served, "GET", f"/api/room/{question}/answers?who=0", None, Cookie=f"aspectum={tutor.value}"
                    )
                    if json.loads(told)["count"] == devices:
                        break
                    time.sleep(0.7)
                times.append(time.perf_counter() - start)
            assert all(one.result()[0] == 200 for one in sent)
        print(
            f"{devices} answers to the room on the tutor's screen: median {np.median(times):.2f} s, slowest "
            f"{max(times):.2f} s"
        )
        served.stop()


def report_practice(ledger: Ledger) -> None:
    """Simulated students of twenty skills, two of them weak, after 120 questions; those that learn; and where the
    difficulty settles.
    """
    rng = np.random.default_rng(ledger.seed)
    played = [practise(student(rng), 120, rng) for _ in range(few(1000))]
    turned = [asked_in_turn(student(rng), 120, rng) for _ in range(few(1000))]
    for name, found in (("chosen", played), ("in turn", turned)):
        miss = float(np.quantile(np.abs([m for p in found for m in p.misses]), 0.95))
        print(
            f"practice, {name}: both weak skills named {np.mean([p.named for p in found]):.1%}, biases known to "
            f"±{miss:.2f} tolerances (95 %)"
        )
    print(f"practice: the trend's sign right {np.mean([learning_trend(rng) for _ in range(few(4000))]):.1%}")
    print(
        f"practice: {np.mean([share_right(rng) for _ in range(few(300))]):.1%} within tolerance once the difficulty "
        "has settled"
    )


REPORTS: tuple[Callable[..., None], ...] = (
    report_core_time,
    report_limits,
    report_saving,
    report_rim_time,
    report_critique_time,
    report_plan_time,
    report_stand_time,
    report_stand_frames,
    report_round_trip,
    report_command_time,
    report_practice_time,
    report_room,
    report_worksheet_time,
    report_finding_time,
    report_accuracy,
    report_messy,
    report_one_stray,
    report_rims,
    report_quay,
    report_forms,
    report_houses,
    report_straight,
    report_arcs,
    report_drawings,
    report_paper,
    report_worksheets,
    report_life,
    report_stand,
    report_finding,
    report_pointing,
    report_pencil,
    report_practice,
)


def run(report: Callable[..., None], ledger: Ledger) -> None:
    """A report, with as many scenes as this run looks at."""
    counts = {
        name: few(p.default, 1)
        for name, p in inspect.signature(report).parameters.items()
        if isinstance(p.default, int)
    }
    report(*([ledger] if "ledger" in inspect.signature(report).parameters else []), **counts)


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument(
        "--seed", type=int, default=None, help="of the scenes that accuracy is measured on; a fresh one by default"
    )
    parser.add_argument("--only", default="", help="reports whose names hold this")
    given = parser.parse_args()
    ledger = Ledger(secrets.randbelow(10**6) if given.seed is None else given.seed)
    print(f"seed {ledger.seed}")
    for report in REPORTS:
        if given.only in report.__name__:
            run(report, ledger)
    if SHARE >= 1.0 and not given.only:
        ledger.write()
