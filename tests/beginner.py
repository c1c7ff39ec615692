"""Sheets as a confused beginner, or a broken tool, might lay them: seeded, any of them storable.

Nothing here is meant to be solvable. The sheets fit the open format and hold finite numbers only;
what the check makes of them must be an answer, in words, within its time.
"""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from aspectum.core.sightings import Edge, Family

Json = dict[str, Any]
FAMILIES = tuple(f.value for f in Family)
PLANES = ("level", "left", "right", "depth", "across")
PERSPECTIVES = ("auto", "auto", "auto", "one-point", "two-point", "three-point", "parallel")
FAR = (-1e6, 1e6, 0.0, 640.0, 480.0, 1e5, -3e4)


def pick(rng: np.random.Generator, items: Any) -> Any:
    return items[int(rng.integers(len(items)))]


class Hand:
    """A hand that lays points in one of several bad habits."""

    HABITS = ("anywhere", "crowded", "collinear", "far", "grid", "repeated")

    def __init__(self, rng: np.random.Generator, habit: str | None = None) -> None:
        self.rng, self.habit = rng, habit or pick(rng, self.HABITS)
        self.at, self.way = rng.uniform([0, 0], [1280, 960]), rng.uniform(0, 2 * math.pi)
        self.places = rng.uniform([0, 0], [1280, 960], (3, 2))

    def point(self) -> list[float]:
        rng = self.rng
        found: np.ndarray
        match self.habit:
            case "crowded":
                found = self.at + rng.normal(0, 3, 2)
            case "collinear":
                found = self.at + rng.uniform(-900, 900) * np.array([math.cos(self.way), math.sin(self.way)])
            case "far":
                found = np.array([pick(rng, FAR), pick(rng, FAR)]) + rng.normal(0, pick(rng, (0.0, 1.0, 200.0)), 2)
            case "grid":
                found = rng.integers(0, 6, 2) * 100.0
            case "repeated":
                found = pick(rng, self.places)
            case _:
                found = rng.uniform([-100, -100], [1400, 1060])
        x, y = np.clip(found, -1e6, 1e6).tolist()
        return [float(x), float(y)]

    def stroke(self) -> tuple[list[float], list[float]]:
        p, q = self.point(), self.point()
        if abs(p[0] - q[0]) < 1e-5 and abs(p[1] - q[1]) < 1e-5:
            q = [q[0] - math.copysign(float(pick(self.rng, (2e-6, 1.0, 250.0))), q[0]), q[1]]
        return p, q

    def arc(self) -> list[list[float]]:
        """Points on something round, on a line, or on nothing at all."""
        rng, centre = self.rng, self.point()
        count = int(rng.integers(5, 12))
        kind = int(rng.integers(3))
        if kind == 0:
            found = [self.point() for _ in range(count)]
        else:
            turn = rng.uniform(0, 2 * math.pi, count) if kind == 1 else np.linspace(0, rng.uniform(0.3, 6), count)
            across, up = rng.uniform(5, 300), float(pick(rng, (0.0, 1e-9, 1.0, 40.0, 300.0)))
            found = [[centre[0] + across * math.cos(t), centre[1] + up * math.sin(t)] for t in turn]
        found = [[float(np.clip(v, -1e6, 1e6)) for v in point] for point in found]
        found[1] = [found[0][0] - math.copysign(9.0, found[0][0]), found[0][1]]
        return found


def edge(hand: Hand, id: str, form: str) -> Json:
    p, q = hand.stroke()
    found: Json = {"id": id, "kind": "edge", "form": form, "family": pick(hand.rng, FAMILIES), "p": p, "q": q}
    if found["family"] == "slope" and hand.rng.random() < 0.5:
        found["slope"] = pick(hand.rng, ("s1", "s2"))
    if hand.rng.random() < 0.3:
        found["judged_tilt_deg"] = float(hand.rng.uniform(-90, 90))
    return found


def rim(hand: Hand, id: str, form: str) -> Json:
    found: Json = {"id": id, "kind": "rim", "form": form, "plane": pick(hand.rng, PLANES)}
    arc = hand.arc()
    if hand.rng.random() < 0.4:
        return found | {"ends": arc[:2], "near": hand.point()}
    return found | {"points": arc}


def reading(hand: Hand, id: str) -> Json:
    """A tilt read from life at the near upright."""
    rng = hand.rng
    tilt = float(
        pick(
            rng,
            (
                0.0,
                89.9999,
                -89.9999,
                1e-9,
                float(rng.normal(0, 15)),
                float(rng.normal(0, 15)),
                float(rng.normal(0, 15)),
            ),
        )
    )
    end = pick(rng, ("near-top", "near-bottom", 0.5, 1e-9, -20.0, 20.0))
    found: Json = {
        "id": id,
        "kind": "edge",
        "family": pick(rng, ("left", "right", "left", "right", "upright")),
        "tilt_deg": tilt,
        "end": end,
    }
    if rng.random() < 0.3:
        found["sd_deg"] = float(pick(rng, (1e-6, 1.0, 45.0)))
    return found


def length(hand: Hand, id: str, unit: bool) -> Json:
    rng = hand.rng
    along = pick(rng, ("edge", "across", "upright"))
    if rng.random() < 0.3:
        return {
            "id": id,
            "kind": "length",
            "ratio": float(pick(rng, (1e-12, 1.0, 0.37, 1000.0))),
            "along": along,
            "side": pick(rng, ("left", "right")),
        }
    p, q = hand.point(), hand.point()
    return {
        "id": id,
        "kind": "length",
        "p": p,
        "q": q,
        "along": along,
        "unit": unit,
        "judged_ratio": float(pick(rng, (1e-9, 0.8, 1000.0))),
    }


def beginner_sheet(rng: np.random.Generator, habit: str | None = None) -> Json:
    """One to fifteen sightings of every kind, laid in one or two bad habits."""
    hands = [Hand(rng, habit), Hand(rng)]
    forms = [f"f{k}" for k in range(int(rng.integers(1, 4)))]
    kinds = pick(
        rng,
        (
            ("edge",),
            ("edge", "edge", "rim"),
            ("rim",),
            ("reading",),
            ("reading", "edge", "length"),
            ("edge", "rim", "reading", "length", "alignment"),
        ),
    )
    sightings: list[Json] = []
    for k in range(int(rng.integers(1, 16))):
        hand, form, id = pick(rng, hands), pick(rng, forms), f"s{k}"
        match pick(rng, kinds):
            case "edge":
                found = edge(hand, id, form)
            case "rim":
                found = rim(hand, id, form)
            case "reading":
                found = reading(hand, id)
            case "length":
                found = length(hand, id, not any(s.get("unit") for s in sightings))
            case _:
                p, q = hand.stroke()
                found = {"id": id, "kind": "alignment", "along": pick(rng, ("plumb", "level")), "p": p, "q": q}
        sightings.append(found)
    size = pick(rng, ((1280, 960), (1280, 960), (1280, 960), (1, 1), (100_000, 64)))
    sheet: Json = {
        "format": "aspectum-sighting-sheet",
        "version": 1,
        "title": f"Muddle {int(rng.integers(1000))}",
        "picture": {"width_px": size[0], "height_px": size[1]},
        "perspective": pick(rng, PERSPECTIVES),
        "point_sd_px": float(pick(rng, (1.5, 1.5, 1.5, 1e-6, 1000.0))),
        "forms": [{"id": form, "kind": pick(rng, ("box", "cylinder", "building"))} for form in forms],
        "sightings": sightings,
    }
    if rng.random() < 0.15:
        sheet["eye_level"] = {"left_y_px": float(pick(rng, FAR)), "right_y_px": float(pick(rng, FAR))}
    if rng.random() < 0.2:
        sheet["picture"]["focal_35mm"] = float(pick(rng, (1.1, 28.0, 9999.0)))
    if rng.random() < 0.1:
        sheet["picture"]["centre_px"] = hands[0].point()
    sheet["level_camera"] = bool(rng.random() < 0.15)
    return sheet


def muddled_edges(rng: np.random.Generator, count: int, forms: int = 3) -> list[Edge]:
    """``count`` edges laid anywhere under any family: no view agrees with more than a few."""
    edges = []
    for k in range(count):
        p = rng.uniform([0, 0], [1280, 960])
        way, reach = rng.uniform(0, 2 * math.pi), rng.uniform(20, 500)
        q = p + reach * np.array([math.cos(way), math.sin(way)])
        family = pick(rng, list(Family))
        slope = "s" if family is Family.SLOPE else None
        edges.append(
            Edge(
                f"e{k}",
                f"f{int(rng.integers(forms))}",
                family,
                (float(p[0]), float(p[1])),
                (float(q[0]), float(q[1])),
                slope,
            )
        )
    return edges
