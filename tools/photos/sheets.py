"""Write the demo sheets: known edges laid by an unsteady hand, with a student's judgements.

    python tools/photos/sheets.py

Every student has habits: receding edges judged too flat, plumb uprights, whole degrees. On each
sheet one edge is laid badly, so that there is something to find.
"""

from __future__ import annotations

import json
import math
import random
from pathlib import Path

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
]


def clipped(p: list[float], q: list[float], picture: dict[str, float], margin: float = 12.0) -> tuple[list[float], list[float]]:
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


def judged(tilt: float, family: str, rng: random.Random) -> float:
    """What a student says: uprights plumb, receding edges a quarter too flat, in whole degrees."""
    if family == "upright":
        return 90.0
    value = round(tilt * 0.78 + rng.gauss(0, 2.5))
    return float(max(-85, min(85, value)))


def main() -> None:
    SHEETS.mkdir(exist_ok=True)
    for stem, title, photo, wanted, bad in PLANS:
        rng = random.Random(stem)
        truth = json.loads((PHOTOS / f"{photo}.truth.json").read_text())
        edges = {e["id"]: e for e in truth["edges"]}
        names = {f["id"]: f["name"] for f in truth["forms"]}
        sightings = []
        for edge_id in wanted:
            e = edges[edge_id]
            p, q = ([c + rng.gauss(0, 0.9) for c in e[end]] for end in ("p", "q"))
            p, q = clipped(p, q, truth["picture"])
            # a hand rarely goes into the very corner: stay a little inside
            p, q = ([a + 0.02 * (b - a) for a, b in zip(p, q, strict=True)], [b + 0.02 * (a - b) for a, b in zip(p, q, strict=True)])
            if bad and bad[0] == edge_id:
                turn = math.radians(-bad[1])
                mx, my = (p[0] + q[0]) / 2, (p[1] + q[1]) / 2
                p, q = (
                    [mx + math.cos(turn) * (x - mx) - math.sin(turn) * (y - my), my + math.sin(turn) * (x - mx) + math.cos(turn) * (y - my)] for x, y in (p, q)
                )
            tilt = math.degrees(math.atan2(-(q[1] - p[1]), q[0] - p[0]))
            tilt = 90 - (90 - tilt) % 180
            form = e["form"]
            sighting = {"id": edge_id, "kind": "edge", "form": form, "family": e["family"], "name": e["name"]}
            if e.get("slope"):
                sighting |= {"slope": e["slope"], "plan": e["plan"]}
            sighting |= {"p": [round(v, 1) for v in p], "q": [round(v, 1) for v in q], "judged_tilt_deg": judged(tilt, e["family"], rng)}
            sightings.append(sighting)
        forms = list(dict.fromkeys(s["form"] for s in sightings))
        for s in sightings:
            if len(forms) > 1:
                s["name"] = f"{names[s['form']].lower()}, {s['name']}"
        sheet = {
            "format": "aspectum-sighting-sheet",
            "version": 1,
            "title": title,
            "picture": truth["picture"] | {"file": f"{photo}.jpg"},
            "forms": [{"id": f, "kind": "box" if photo in ("crates",) else "building", "name": names[f]} for f in forms],
            "sightings": sightings,
        }
        (SHEETS / f"{stem}.sighting.json").write_text(json.dumps(sheet, indent=1, ensure_ascii=False) + "\n")


if __name__ == "__main__":
    main()
