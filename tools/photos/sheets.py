"""Write the demo sheets: known edges laid by an unsteady hand, with a student's judgements.

    python tools/photos/sheets.py

Every student has habits: receding edges judged too flat, plumb uprights, whole degrees. On each
sheet one edge is laid badly, so that there is something to find.
"""

from __future__ import annotations

import json
import math
import random
from collections.abc import Sequence
from pathlib import Path
from typing import Any

PHOTOS = Path(__file__).parents[2] / "aspectum/demo/photos"
SHEETS = Path(__file__).parents[2] / "aspectum/demo/sheets"

# per sheet: file stem, title, photo, edges to sight (in order), the one laid badly and its turn
PLANS = [
    (
        "1-crates",
        "Crates on the slipway",
        "crates",
        [
            "crate-upright-near",
            "crate-left-top-near",
            "crate-left-bottom-near",
            "crate-right-top-near",
            "crate-right-bottom-near",
            "crate-upright-left",
            "crate-upright-right",
            "middle-upright-near",
            "middle-left-bottom-near",
            "middle-right-top-near",
            "middle-right-bottom-near",
            "small-left-top-near",
            "small-right-top-near",
        ],
        ("middle-right-top-near", 5.5),
    ),
    (
        "2-loft",
        "The net loft",
        "loft",
        [
            "loft-upright-near",
            "loft-right-eaves",
            "loft-right-ridge",
            "loft-right-plinth",
            "loft-right-lintel",
            "loft-left-plinth",
            "loft-left-sill-near",
            "loft-left-sill-far",
            "loft-left-hatch",
            "loft-rake-near-verge",
            "loft-rake-near-top",
            "loft-rake-far-verge",
            "loft-rake-far-top",
            "loft-upright-door",
        ],
        None,
    ),
    (
        "3-tower",
        "Signal tower from below",
        "tower",
        [
            "upper-upright-near",
            "shaft-upright-near",
            "shaft-upright-left",
            "upper-upright-right",
            "band-left-top-near",
            "band-right-top-near",
            "band-left-bottom-near",
            "band-right-bottom-near",
            "gallery-left-bottom-near",
            "gallery-right-bottom-near",
            "plinth-left-top-near",
            "plinth-right-top-near",
        ],
        ("gallery-right-bottom-near", -6.0),
    ),
    (
        "4-market",
        "Along the fish market",
        "market",
        [
            "counter-top",
            "counter-under",
            "rail-left",
            "beam-right",
            "counter-front",
            "lintel",
            "post-2",
            "opening-left",
            "opening-right",
            "floor-a-depth-top-near",
            "floor-b-depth-top-near",
            "floor-a-across-bottom-near",
        ],
        None,
    ),
    (
        "5-tins",
        "Paint tins on the steps",
        "tins",
        [
            "tall-upright-near",
            "tall-left-top-near",
            "tall-right-top-near",
            "step-right-top-near",
            "step-right-bottom-near",
            "step-upright-near",
        ],
        None,
    ),
    (
        "6-lamps",
        "Lamps and jars on two shelves",
        "lamps",
        ["upper-front-under", "lower-front-top", "lower-end-left-top", "lower-end-right-top"],
        None,
    ),
    (
        "7-drums",
        "Rope drums on the quay",
        "drums",
        ["box-left-top-near", "box-right-top-near", "box-left-bottom-near", "box-right-bottom-near"],
        None,
    ),
    (
        "8-wheel",
        "The pump-house wheel",
        "wheel",
        [
            "house-upright-near",
            "house-right-under",
            "house-right-plinth",
            "house-right-foot",
            "house-left-under",
            "house-left-plinth",
            "house-left-foot",
        ],
        None,
    ),
    (
        "9-yard",
        "The yard of the lofts, straight up",
        "yard",
        [
            "net-wall-upright-near",
            "store-wall-upright-near",
            "hoist-wall-upright-near",
            "net-eaves-left-bottom-near",
            "net-eaves-right-bottom-near",
            "store-eaves-left-bottom-near",
            "store-eaves-right-bottom-near",
            "store-course-right-bottom-near",
            "hoist-eaves-left-bottom-near",
            "hoist-eaves-right-bottom-near",
            "hoist-course-left-bottom-near",
        ],
        ("store-eaves-right-bottom-near", 7.0),
    ),
]


BUILDINGS = ("loft", "tower", "market", "yard")
LOOKING = {"yard": "up"}

# rims to sight, in order, each with the habit that shows in what the student judges and, for some,
# in how the rim is laid: degrees added to what is true
RIM_PLANS: dict[str, list[tuple[str, float, float]]] = {
    "5-tins": [
        ("green-mouth", 3, 0),
        ("green-base", -9, 0),
        ("red-mouth", 2, 0),
        ("red-base", -6, -8),
        ("blue-mouth", 5, 0),
        ("blue-base", -4, 0),
        ("ochre-mouth", 4, 0),
        ("ochre-base", -10, 0),
        ("white-mouth", 6, 0),
    ],
    "6-lamps": [
        ("jar-a-mouth", -6, 0),
        ("lamp-a-cap", -5, 0),
        ("lamp-b-cap", 4, 0),
        ("jar-b-mouth", 7, 0),
        ("jar-b-base", -3, 0),
        ("jar-c-mouth", 4, 9),
        ("jar-c-base", -5, 0),
        ("jar-d-mouth", 6, 0),
        ("jar-d-base", 2, 0),
    ],
    "7-drums": [
        ("big-near", 6, 0),
        ("big-far", -8, 0),
        ("small-near", 5, 0),
        ("small-far", -7, 0),
        ("stand-top", 8, 0),
        ("stand-base", -5, 0),
        ("low-top", 4, 0),
    ],
    "9-yard": [("chimney-top", -14, 0), ("chimney-low", -6, 0)],
    "8-wheel": [
        ("wheel-front", 9, 0),
        ("wheel-back", 6, 0),
        ("wheel-pulley", 8, 0),
        ("tin-mouth", 5, 0),
        ("tin-base", -4, 0),
        ("pail-mouth", 3, 0),
    ],
}


# what a student judges of what is measured, and what is known beforehand. Parts are read off the picture as it is drawn, heights towards
# the height of a door, lengths that recede as if they did not
MEASURED: dict[str, dict[str, float]] = {
    "1-crates": {"long-top": 1.1, "far-upright": 0.9, "corner-to-corner": 48.0, "door": 2.0},
    "2-loft": {
        "far-window-far": 0.1,
        "far-window-near": 0.25,
        "near-window-far": 0.55,
        "near-window-near": 0.8,
        "gable-sill": 0.3,
        "door-near": 0.5,
        "door-far": 0.67,
    },
    "4-market": {"beam-1": 0.35, "beam-2": 0.6, "beam-3": 0.75, "beam-4": 0.85, "bucket": 0.5, "opening": 2.2},
}
JUDGED = {"length": "judged_ratio", "alignment": "judged_tilt_deg", "division": "judged_part", "height": "judged_m"}


def measures(stem: str, known: list[dict[str, Any]], rng: random.Random) -> list[dict[str, Any]]:
    """What is measured on a sheet, as a hand lays it."""
    sightings = []
    for entry in known:
        s = {key: value for key, value in entry.items() if key != "truth"}
        for end in ("p", "q", "foot", "top", "point"):
            if end in s:
                s[end] = [round(v + rng.gauss(0, 0.9), 1) for v in s[end]]
        if "corners" in s:
            s["corners"] = [[round(v + rng.gauss(0, 0.9), 1) for v in corner] for corner in s["corners"]]
        if entry["id"] in MEASURED[stem]:
            s[JUDGED[entry["kind"]]] = MEASURED[stem][entry["id"]]
        sightings.append(s)
    return sightings


def laid_rim(rim: dict[str, Any], judged_more: float, laid_more: float, rng: random.Random) -> dict[str, Any]:
    """A rim as a hand lays it: the ends of its major axis, a near point, some points on the arc.
    ``laid_more``: degrees by which it is laid rounder than it is.
    """
    cx, cy = rim["ellipse_px"]
    half, turn = rim["major_px"] / 2, math.radians(90.0 - rim["axis_deg"])
    along, across = (math.cos(turn), math.sin(turn)), (-math.sin(turn), math.cos(turn))
    degree = rim["degree_deg"] + laid_more
    open_by = math.sin(math.radians(degree)) / math.sin(math.radians(rim["degree_deg"]))

    def shaky(point: Sequence[float]) -> list[float]:
        x, y = point[0] - cx, point[1] - cy
        minor = (x * across[0] + y * across[1]) * (open_by - 1.0)
        return [
            round(cx + x + minor * across[0] + rng.gauss(0, 0.9), 1),
            round(cy + y + minor * across[1] + rng.gauss(0, 0.9), 1),
        ]

    ends = [shaky((cx + side * half * along[0], cy + side * half * along[1])) for side in (-1, 1)]
    seen = [p for p, shown in zip(rim["points"], rim["seen"], strict=True) if shown]
    seen.sort(
        key=lambda p: math.atan2(
            (p[0] - cx) * across[0] + (p[1] - cy) * across[1], (p[0] - cx) * along[0] + (p[1] - cy) * along[1]
        )
    )
    picked = [shaky(p) for p in seen[:: max(1, len(seen) // 7)]][1:7]
    picked = [p for p in picked if min(math.dist(p, end) for end in ends) > 0.15 * half]
    below = rim["plane"] != "level" or sum(p[1] for p in seen) / len(seen) >= cy or len(seen) > 60
    side = 1.0 if (across[1] > 0) == below else -1.0
    minor = rim["minor_px"] / 2
    near = shaky((cx + side * minor * across[0], cy + side * minor * across[1]))
    return {
        "ends": ends,
        "near": near,
        "points": picked,
        "judged_degree_deg": float(max(0, min(88, round(rim["degree_deg"] + judged_more + rng.gauss(0, 1.5))))),
    }


def clipped(
    p: list[float], q: list[float], picture: dict[str, float], margin: float = 4.0
) -> tuple[list[float], list[float]]:
    """The part of the edge inside the picture: nobody can lay what is not shown."""
    ends = []
    for a, b in ((p, q), (q, p)):
        t = 0.0
        for k, side in ((0, "width_px"), (1, "height_px")):
            low, high = margin, picture[side] - margin
            if not low <= a[k] <= high and a[k] != b[k]:
                t = max(t, ((low if a[k] < low else high) - a[k]) / (b[k] - a[k]))
        ends.append([a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])])
    return ends[0], ends[1]


def judged(tilt: float, family: str, looking: str, rng: random.Random) -> float:
    """What a student says: uprights plumb, receding edges a quarter too flat, in whole degrees."""
    if family == "upright" and looking == "ahead":
        return 90.0
    value = round(tilt * 0.78 + rng.gauss(0, 2.5))
    return float(max(-85, min(85, value)))


def main() -> None:
    SHEETS.mkdir(exist_ok=True)
    for stem, title, photo, wanted, bad in PLANS:
        rng = random.Random(stem)
        looking = LOOKING.get(photo, "ahead")
        truth = json.loads((PHOTOS / f"{photo}.truth.json").read_text())
        edges = {e["id"]: e for e in truth["edges"]}
        names = {f["id"]: f["name"] for f in truth["forms"]}
        sightings = []
        for edge_id in wanted:
            e = edges[edge_id]
            p, q = ([c + rng.gauss(0, 0.9) for c in e[end]] for end in ("p", "q"))
            p, q = clipped(p, q, truth["picture"])
            if bad and bad[0] == edge_id:
                turn = math.radians(-bad[1])
                mx, my = (p[0] + q[0]) / 2, (p[1] + q[1]) / 2
                p, q = (
                    [
                        mx + math.cos(turn) * (x - mx) - math.sin(turn) * (y - my),
                        my + math.sin(turn) * (x - mx) + math.cos(turn) * (y - my),
                    ]
                    for x, y in (p, q)
                )
            tilt = math.degrees(math.atan2(-(q[1] - p[1]), q[0] - p[0]))
            tilt = 90 - (90 - tilt) % 180
            form = e["form"]
            sighting = {"id": edge_id, "kind": "edge", "form": form, "family": e["family"], "name": e["name"]}
            if e.get("slope"):
                sighting |= {"slope": e["slope"], "plan": e["plan"]}
            sighting |= {
                "p": [round(v, 1) for v in p],
                "q": [round(v, 1) for v in q],
                "judged_tilt_deg": judged(tilt, e["family"], looking, rng),
            }
            sightings.append(sighting)
        rims = {r["id"]: r for r in truth.get("rims", [])}
        for rim_id, judged_more, laid_more in RIM_PLANS.get(stem, []):
            rim = rims[rim_id]
            sightings.append(
                {"id": rim_id, "kind": "rim", "form": rim["form"], "plane": rim["plane"], "name": rim["name"]}
                | laid_rim(rim, judged_more, laid_more, rng)
            )
        sightings += measures(stem, truth.get("measured", []), rng)
        kinds = {f["id"]: f["kind"] for f in truth["forms"]}
        forms = list(dict.fromkeys(s["form"] for s in sightings if "form" in s))
        for s in sightings:
            if len(forms) > 1 and "form" in s:
                s["name"] = f"{names[s['form']].lower()}, {s['name']}"
        sheet = {
            "format": "aspectum-sighting-sheet",
            "version": 1,
            "title": title,
            **({} if looking == "ahead" else {"perspective": "one-point", "looking": looking}),
            **(
                {"eye_height_m": truth["camera"]["eye_height_m"]}
                if any(s["kind"] == "height" for s in sightings)
                else {}
            ),
            "picture": truth["picture"] | {"file": f"{photo}.jpg"},
            "forms": [
                {
                    "id": f,
                    "kind": kinds[f] if kinds[f] != "box" or photo not in BUILDINGS else "building",
                    "name": names[f],
                }
                for f in forms
            ],
            "sightings": sightings,
        }
        (SHEETS / f"{stem}.sighting.json").write_text(json.dumps(sheet, indent=1, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    main()
