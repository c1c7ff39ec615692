"""Benchmarks: full accuracy figures and times. Run with ``make bench``, or ``make bench SEED=0`` for scenes seen before."""

from __future__ import annotations

import argparse
import json
import secrets
import tempfile
import time
import urllib.request
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.core.check import check
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import Edge, Family, Looking, Perspective, Setup
from aspectum.demo.fill import SHEETS
from aspectum.formats.sheet import read_sheet
from aspectum.service.from_sheet import laid_on
from aspectum.store.database import open_engine
from tests.beginner import muddled_edges
from tests.conftest import Served
from tests.form_simulation import form_accuracy
from tests.messy_scenes import small_boxes
from tests.overhead_scenes import straight_setup, straight_views
from tests.round_scenes import flat_arc, round_end, round_scene
from tests.round_simulation import LEVEL, PITCHED, quay, rim_accuracy, short_arcs
from tests.scenes import Scene, crowded_scene, random_scene, turned
from tests.simulation import SHALLOW, STEEP, accuracy, messy_sheets, one_stray, strays

ACCURACY = Path(__file__).parents[1] / "docs" / "accuracy.md"


class Ledger:
    """What was found out, question by question, for ``docs/accuracy.md``."""

    def __init__(self, seed: int) -> None:
        self.seed = seed
        self.lines = [
            "# What Aspectum can tell, and how sure it is",
            "",
            f"Written by `make bench` (seed {seed}). Scenes are made up by a camera and boxes of their own in `tests/`, readings get a random",
            "error at every point, and what Aspectum says is held against the truth. A ± is one standard deviation; the 95 % interval is",
            "1.96 of them to either side. The bound is the Cramér–Rao bound: no unbiased reading of the same edges can do better.",
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
    kinds = "four to eight small boxes, in half of the sheets a thin slab square to the picture, 26 edges of 60 to 130 px, one to four of a family"
    print(f"messy sheets, {scenes}:")
    ledger.part("Messy sheets", f"{scenes} sheets of {kinds}, most near eye level; view 25–65°, pitch −3 to 12°, roll ±1.5°, point error 1.5 px.")
    found = messy_sheets(scenes, ledger.seed + 3)
    ledger.row("eye level: 95 % interval holds", f"{found.coverage():.1%}", "93.5–97 %")
    ledger.row("eye level misses by more than four of its deviations", f"{found.beyond_four():.2%}", "0.2 %")
    ledger.row("RMS error over the bound", f"{found.against_bound():.2f}", "1.2")
    ledger.row("eye level is answered", f"{1 - found.open / scenes:.1%}", "98 %")
    ledger.row("true edges called off", f"{found.off_share():.2%}", "0.5 %")
    ledger.end()


def report_one_stray(ledger: Ledger, scenes: int = 1000) -> None:
    print(f"one stray, {scenes} sheets:")
    ledger.part("One stray edge", f"{scenes} sheets of one to three boxes of sides 0.2 to 0.5 seen at 30–72°; one level edge from 80 px turned by 6–12°.")
    found = one_stray(small_boxes, scenes, ledger.seed + 4)
    ledger.row("eye level: 95 % interval holds", f"{found.coverage():.1%}", "92.5–97 %")
    ledger.row("RMS error over the bound of the other edges", f"{found.against_bound():.2f}", "1.3")
    ledger.row("stray named, from 120 px in a family of three", f"{found.named_clear():.1%}", "92 %")
    ledger.row("stray named, of all", f"{found.named_all():.1%}", "83 %")
    ledger.row("others called off", f"{found.off_share():.2%}", "0.45 %")
    ledger.end()


def report_arcs(ledger: Ledger, rims: int = 780) -> None:
    for title, make, what in (
        ("Rims on flat arcs", flat_arc, "level rims, 90 to 170 degrees of their turn laid by 7 to 11 points, point error 1.5 px"),
        ("Round ends of lying drums", round_end, "ends seen at 70 to 78 degrees, 40 to 60 % of their turn laid, point error 1 px"),
    ):
        print(f"{title}, {rims}:")
        ledger.part(title, f"{rims} rims: {what}. Beside the best of OpenCV's `fitEllipse`, `fitEllipseAMS` and `fitEllipseDirect` on the same points.")
        found = short_arcs(make, rims, ledger.seed + 6)
        theirs = np.array(found.theirs)
        ledger.row("degree: median error", f"{np.median(found.errors):.2f}°", f"{np.median(theirs, axis=0).min():.2f}° (OpenCV)")
        ledger.row("degree: 90th percentile", f"{np.percentile(found.errors, 90):.2f}°", f"{np.percentile(theirs, 90, axis=0).min():.2f}° (OpenCV)")
        ledger.row("degree: 95 % interval holds", f"{np.mean(np.array(found.deviations) <= 1.96):.1%}")
        ledger.end()


def report_accuracy(ledger: Ledger, scenes: int = 600) -> None:
    seed = ledger.seed
    for name, pitch in (("pitch within ±7°", SHALLOW), ("pitch ±8–25°", STEEP)):
        found, calls = accuracy(pitch, scenes, seed + 1), strays(pitch, scenes, seed + 2)
        print(f"{name}, {scenes} scenes:")
        ledger.part(f"Ordinary boxes, {name}", f"{scenes} scenes of one to three boxes, view 30–72°, point error 1.5 px; strays turned 6–12°.")
        ledger.row("eye level: 95 % interval holds", f"{found.coverage():.1%}", "95 %")
        ledger.row("RMS error over the bound", f"{found.against_bound():.3f}", "1")
        ledger.row("eye level left open", str(found.open))
        ledger.row("focal length: 95 % interval holds", f"{np.mean(np.abs(found.focal_z) <= 1.96):.1%}", "95 %")
        ledger.row("implied tilts: 95 % interval holds", f"{np.mean(np.abs(found.implied_z) <= 1.96):.1%}", "95 %")
        ledger.row("stray named, from 120 px in a family of three", f"{calls.long_named / calls.long_asked:.1%} of {calls.long_asked}")
        ledger.row("stray named, of all", f"{calls.named / calls.asked:.1%}")
        ledger.row("others called off", f"{calls.others_off / calls.others:.2%}")
        ledger.end()


def report_rims(ledger: Ledger, scenes: int = 500) -> None:
    for name, pitch in (("level views", LEVEL), ("pitched views", PITCHED)):
        found = rim_accuracy(pitch, scenes, ledger.seed + 5)
        print(f"rims alone, {name}, {scenes} scenes, {len(found.sighted)} rims:")
        ledger.part(f"Rims alone, {name}", f"{scenes} scenes of three to six level rims, 120–220° of their turn laid, point error 1 px, no lens known.")
        ledger.row("sighted degree: median error", f"{np.median(found.sighted):.2f}°")
        ledger.row("sighted degree: 95 % interval holds", f"{found.held(found.sighted_z):.1%}", "95 %")
        ledger.row("implied degree: error over the sighted one's", f"{found.gain():.2f}")
        ledger.row("implied degree, axis: 95 % interval holds", f"{found.held(found.implied_z):.1%}, {found.held(found.axis_z):.1%}", "95 %")
        ledger.row("eye level: 95 % interval holds", f"{found.held(found.level_z):.1%}, open in {found.open}", "95 %")
        ledger.row("true rims called off", f"{found.off / len(found.sighted):.1%}", "0.5 %")
        ledger.end()


def report_forms(ledger: Ledger, scenes: int = 400) -> None:
    for name, pitch in (("pitch within ±7°", SHALLOW), ("pitch ±8–25°", STEEP)):
        found = form_accuracy(pitch, scenes, ledger.seed + 8)
        print(f"solved forms, {name}, {scenes} sheets:")
        ledger.part(
            f"True proportions, heights and parts, {name}",
            f"{scenes} sheets of one to three boxes on the ground that hide one another, with posts, and parts on whole walls; view 30–72°,"
            " point error 1.5 px, the lens given in half of them; what is cut off is not marked.",
        )
        sizes, heights, parts = found.sizes, found.heights, found.parts
        ledger.row("sizes: 95 % interval holds", f"{sizes.coverage():.1%}", "92–97 %")
        left_out = f"{sizes.beyond_straight():.1%} left out, of all {sizes.against_bound(np.inf):.2f}"
        ledger.row("sizes: RMS error over the bound", f"{sizes.against_bound():.2f} ({left_out})", "1.1")
        ledger.row("sizes: median error", f"{sizes.median():.2%}", "0.8 %")
        ledger.row("sizes answered, of those that can be told to a third", f"{found.answered / found.asked:.1%}", "96 %")
        ledger.row("sizes told although nothing fixes them, and wrong", str(found.false), "0")
        ledger.row("heights: 95 % interval holds", f"{heights.coverage():.1%}", "92–98 %")
        ledger.row("heights: RMS error over the bound", f"{heights.against_bound():.2f}", "1.05")
        ledger.row("heights: median error", f"{heights.median() * 100:.1f} cm")
        ledger.row("parts: 95 % interval holds", f"{parts.coverage():.1%}", "92–97.5 %")
        ledger.row("parts: RMS error over the bound", f"{parts.against_bound():.2f}", "1.05")
        ledger.row("parts: median error", f"{parts.median():.4f} of the face", "0.007")
        ledger.end()


def report_quay(ledger: Ledger, scenes: int = 600) -> None:
    found = quay(scenes, ledger.seed + 7)
    many = sum(len(values) for values in found.sighted_z.values())
    print(f"level, lying and wall-mounted rims beside edges, {scenes} scenes, {many} rims:")
    scope = f"{scenes} scenes of one or two boxes with wheels on their walls, lying drums and tins; 100–330° of a rim laid, point error 1 px; all are true."
    ledger.part("True rims, level, lying and on walls", scope)
    for stands, values in found.sighted_z.items():
        implied = np.mean(np.abs(found.implied_z[stands]) <= 1.96)
        ledger.row(f"{stands}: called off", f"{found.off[stands] / len(values):.2%} of {len(values)}", "0.5 %")
        ledger.row(f"{stands}, sighted and implied degree: 95 % interval holds", f"{np.mean(np.abs(values) <= 1.96):.1%}, {implied:.1%}", "95 %")
    ledger.end()


def report_straight(ledger: Ledger, scenes: int = 500) -> None:
    print(f"straight up and down, {scenes} scenes:")
    scope = f"{scenes} courtyards and stairwells of two to four towers, view 50–85°, held 2° off straight either way (standard deviation), point error 1.5 px."
    ledger.part("Straight up and down", scope)
    found = straight_views(2.0, scenes, ledger.seed + 8)
    ledger.row("uprights, implied tilt: 95 % interval holds", f"{np.mean(np.abs(found.upright_z) <= 1.96):.1%}", "95 %")
    ledger.row("level edges, implied tilt: 95 % interval holds", f"{np.mean(np.abs(found.level_z) <= 1.96):.1%}", "95 %")
    ledger.row("true edges called off", f"{found.accused / found.edges:.2%}", "0.5 %")
    ledger.row("one stray of 6–12° named", f"{found.named / found.strays:.1%}")
    ledger.row("others called off beside it", f"{found.others_off / found.others:.2%}")
    ledger.end()


def report_rim_time() -> None:
    rng = np.random.default_rng(6)
    fits, checks = [], []
    for _ in range(60):
        scene = round_scene(rng, LEVEL, count=6)
        rims = scene.sighted(rng)
        start = time.perf_counter()
        for rim in rims:
            fit_rim(rim.points, 1.0)
        fits.append((time.perf_counter() - start) / len(rims))
        start = time.perf_counter()
        check(scene.setup, [], rims=rims)
        checks.append((time.perf_counter() - start) / len(rims))
    fits, checks = fits[20:], checks[20:]  # the first ones only warm the machine
    print(f"a rim: fit {np.median(fits) * 1e3:.1f} ms, its share of a check of six {np.median(checks) * 1e3:.1f} ms (medians)")


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
    sample = scenes_of(40, 60)
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
        print(f"core, 40 sightings {what}: median {np.median(times[60:]) * 1e3:.1f} ms, 95th percentile {np.percentile(times[60:], 95) * 1e3:.1f} ms")
    for path in sorted(SHEETS.glob("*.sighting.json")):
        laid_out = laid_on(read_sheet(path.read_bytes()))
        assert laid_out.setup is not None
        times = []
        for _ in range(25):
            start = time.perf_counter()
            check(laid_out.setup, laid_out.edges, laid_out.rims, laid_out.measured, round_forms=laid_out.round_forms)
            times.append(time.perf_counter() - start)
        print(f"core, {path.stem}, {len(laid_out.edges)} edges and {len(laid_out.rims)} rims: median {np.median(times[5:]) * 1e3:.1f} ms")


def report_limits() -> None:
    """Large sheets, and sheets on which nothing agrees: the check ends all the same."""
    rng = np.random.default_rng(7)
    for count, reps in ((100, 20), (300, 8)):
        for what in ("clean", "contradictory"):
            times = []
            for _ in range(reps):
                scene = crowded_scene(rng, count)
                edges = scene.sighted(rng) if what == "clean" else muddled_edges(rng, count, count // 12)
                start = time.perf_counter()
                check(scene.setup, edges)
                times.append(time.perf_counter() - start)
            print(f"core, {count} sightings, {what}: median {np.median(times) * 1e3:.0f} ms, slowest {max(times) * 1e3:.0f} ms")
    one_family = [replace(e, family=Family.UPRIGHT, slope=None, plan=None) for e in muddled_edges(rng, 300, 25)]
    for what, setup in (("straight up", straight_setup(Looking.UP)), ("parallel", Setup(1280, 960, perspective=Perspective.PARALLEL))):
        start = time.perf_counter()
        check(setup, one_family)
        print(f"core, 300 contradictory edges of one family, {what}: {(time.perf_counter() - start) * 1e3:.0f} ms")
    times = []
    for _ in range(300):
        edges = muddled_edges(rng, int(rng.integers(1, 16)), int(rng.integers(1, 4)))
        start = time.perf_counter()
        check(Setup(1280, 960), edges)
        times.append(time.perf_counter() - start)
    middle, late = np.percentile(times, [50, 99]) * 1e3
    print(f"core, 1 to 15 muddled sightings: median {middle:.0f} ms, 99th percentile {late:.0f} ms, slowest {max(times) * 1e3:.0f} ms")


def report_saving() -> None:
    """What it costs that a save is on the disk before it is answered."""
    for mode in ("NORMAL", "FULL"):
        with tempfile.TemporaryDirectory() as folder:
            engine = open_engine(f"sqlite:///{Path(folder) / 'a.sqlite'}")
            with engine.connect() as connection:
                connection.exec_driver_sql("create table t (id integer primary key, document text)")
                connection.exec_driver_sql(f"PRAGMA synchronous={mode}")
                times = []
                for _ in range(300):
                    start = time.perf_counter()
                    connection.exec_driver_sql("insert into t (document) values (?)", ("x" * 8000,))
                    connection.commit()
                    times.append(time.perf_counter() - start)
            engine.dispose()
        print(f"a save of 8 kB with synchronous={mode}: median {np.median(times) * 1e3:.2f} ms, 95th percentile {np.percentile(times, 95) * 1e3:.2f} ms")


def report_command_time() -> None:
    with tempfile.TemporaryDirectory() as folder:
        files = []
        for n, (_, edges) in enumerate(scenes_of(30, 20) * 10):
            sheet = {
                "format": "aspectum-sighting-sheet",
                "version": 1,
                "picture": {"width_px": 1280, "height_px": 960},
                "sightings": [{"id": e.id, "kind": "edge", "form": e.form, "family": e.family.value, "p": list(e.p), "q": list(e.q)} for e in edges],
            }
            path = Path(folder) / f"{n}.sighting.json"
            path.write_text(json.dumps(sheet))
            files.append(str(path))
        start = time.perf_counter()
        result = CliRunner().invoke(main, ["check", "--json", *files])
        taken = time.perf_counter() - start
        print(f"aspectum check on {len(files)} sheets of 30 sightings: {taken:.1f} s (exit {result.exit_code})")


def report_round_trip() -> None:
    """A check asked over HTTP while the end of a sighting is dragged, through the real server: a sheet of 30 edges, and every demo sheet."""
    _, edges = scenes_of(30, 1)[0]
    laid = [{"id": e.id, "kind": "edge", "form": e.form, "family": e.family.value, "p": list(e.p), "q": list(e.q)} for e in edges]
    documents: dict[str, Any] = {"30 edges": {"picture": {"width_px": 1280, "height_px": 960}, "sightings": laid}}
    documents |= {path.stem: json.loads(path.read_bytes()) for path in sorted(SHEETS.glob("*.sighting.json"))}
    with tempfile.TemporaryDirectory() as folder:
        served = Served(Path(folder))
        for name, document in documents.items():
            times = []
            for k in range(40):
                drawn = [s for s in document["sightings"] if s["kind"] in ("edge", "rim")]
                for sighting in (drawn[0], drawn[-1]):
                    (sighting.get("p") or sighting["near"])[1] += 0.3 * (-1) ** k
                body = json.dumps({"document": document}).encode()
                request = urllib.request.Request(f"{served.url}/api/check", body, {"Content-Type": "application/json"})
                start = time.perf_counter()
                urllib.request.urlopen(request).read()
                times.append(time.perf_counter() - start)
            print(f"check over HTTP while dragging, {name}: median {np.median(times[5:]) * 1e3:.0f} ms, slowest {max(times[5:]) * 1e3:.0f} ms")
        served.stop()


if __name__ == "__main__":
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--seed", type=int, default=None, help="of the scenes that accuracy is measured on; a fresh one by default")
    given = parser.parse_args().seed
    seed = secrets.randbelow(10**6) if given is None else given
    print(f"seed {seed}")
    report_core_time()
    report_limits()
    report_saving()
    report_rim_time()
    report_round_trip()
    report_command_time()
    ledger = Ledger(seed)
    report_accuracy(ledger)
    report_messy(ledger)
    report_one_stray(ledger)
    report_rims(ledger)
    report_quay(ledger)
    report_forms(ledger)
    report_straight(ledger)
    report_arcs(ledger)
    ledger.write()
