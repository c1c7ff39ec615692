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

import numpy as np
from click.testing import CliRunner

from aspectum.cli import main
from aspectum.core.check import check
from aspectum.core.plane.rim_fit import fit_rim
from aspectum.core.sightings import Edge, Setup
from aspectum.store.database import open_engine
from tests.beginner import muddled_edges
from tests.conftest import Served
from tests.round_scenes import round_scene
from tests.round_simulation import LEVEL, PITCHED, rim_accuracy
from tests.scenes import Scene, crowded_scene, random_scene
from tests.simulation import SHALLOW, STEEP, accuracy, strays


def report_accuracy(seed: int, scenes: int = 600) -> None:
    for name, pitch in (("pitch within ±7°", SHALLOW), ("pitch ±8–25°", STEEP)):
        found, calls = accuracy(pitch, scenes, seed + 1), strays(pitch, scenes, seed + 2)
        print(f"{name}, {scenes} scenes:")
        print(f"  eye level: 95 % interval holds {found.coverage():.1%}; RMS error {found.against_bound():.3f} x the Cramér–Rao bound; open in {found.open}")
        print(f"  focal length 95 % interval holds {np.mean(np.abs(found.focal_z) <= 1.96):.1%}, implied tilts {np.mean(np.abs(found.implied_z) <= 1.96):.1%}")
        print(f"  stray edge off: {calls.long_named / calls.long_asked:.1%} of {calls.long_asked} long ones in families of three or more")
        print(f"  stray edge off: {calls.named / calls.asked:.1%} of all from 80 px; others off: {calls.others_off / calls.others:.2%}")


def report_rims(seed: int, scenes: int = 500) -> None:
    for name, pitch in (("level views", LEVEL), ("pitched views", PITCHED)):
        found = rim_accuracy(pitch, scenes, seed + 5)
        print(f"rims alone, {name}, {scenes} scenes, {len(found.sighted)} rims:")
        print(f"  sighted degree: median error {np.median(found.sighted):.2f}°, 95 % interval holds {found.held(found.sighted_z):.1%}")
        print(f"  implied degree: {found.gain():.2f} of that error, 95 % interval holds {found.held(found.implied_z):.1%}, axis {found.held(found.axis_z):.1%}")
        print(
            f"  eye level: 95 % interval holds {found.held(found.level_z):.1%}, open in {found.open}; true rims called off {found.off / len(found.sighted):.1%}"
        )


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
    sample = scenes_of(40, 60)
    for scene, edges in sample:  # a cold machine says little
        check(scene.setup, edges)
    times = []
    for scene, edges in sample:
        start = time.perf_counter()
        check(scene.setup, edges)
        times.append(time.perf_counter() - start)
    print(f"core, 40 sightings with each left out in turn: median {np.median(times) * 1e3:.1f} ms, 95th percentile {np.percentile(times, 95) * 1e3:.1f} ms")


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
    """A check asked over HTTP while a needle moves, through the real server."""
    with tempfile.TemporaryDirectory() as folder:
        served = Served(Path(folder))
        _, edges = scenes_of(30, 1)[0]
        sightings = [{"id": e.id, "kind": "edge", "form": e.form, "family": e.family.value, "p": list(e.p), "q": list(e.q)} for e in edges]
        body = json.dumps({"document": {"picture": {"width_px": 1280, "height_px": 960}, "sightings": sightings}}).encode()
        times = []
        for _ in range(40):
            request = urllib.request.Request(f"{served.url}/api/check", body, {"Content-Type": "application/json"})
            start = time.perf_counter()
            urllib.request.urlopen(request).read()
            times.append(time.perf_counter() - start)
        served.stop()
    print(f"check over HTTP, 30 sightings: median {np.median(times) * 1e3:.0f} ms")


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
    report_accuracy(seed)
    report_rims(seed)
