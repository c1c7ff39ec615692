"""Any sheet from life is answered, and planned or told why not."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from aspectum.core.plan.subject import NoPlan
from aspectum.formats.sheet import PaperPlan, SightingSheet
from aspectum.service.pages.plan_page import plan_pdf, plan_svg
from aspectum.service.paper.plan import plan_sheet
from aspectum.service.sheets.checking import check_sheet


def wild_sheet(rng: np.random.Generator) -> SightingSheet:
    """Readings as nobody takes them: at the ends of what the format allows, of any form, again and again."""

    def pick(*options: Any) -> Any:
        return options[int(rng.integers(len(options)))]

    forms = [
        {"id": f"f{k}", "kind": pick("box", "other", "cylinder", "building")} for k in range(int(rng.integers(0, 4)))
    ]
    sightings: list[dict[str, Any]] = []
    for k in range(int(rng.integers(0, 14))):
        kind = pick("edge", "edge", "edge", "length", "length", "rim", "alignment")
        s: dict[str, Any] = {"id": f"s{k}", "kind": kind}
        if forms:
            s["form"] = pick(*forms)["id"]
        if kind == "edge":
            s |= {
                "family": pick("left", "right", "upright"),
                "tilt_deg": float(pick(rng.uniform(-89.9, 89.9), rng.uniform(-20, 20), 0.0)),
            }
            s |= {"end": pick("near-top", "near-bottom", float(rng.uniform(-20, 20))), "sd_deg": pick(None, 1e-9, 45.0)}
            s |= {"repeats_deg": [float(v) for v in rng.uniform(-89, 89, int(rng.integers(0, 4)))]}
        elif kind == "length":
            s |= {
                "of": pick(None, "near-upright", "top"),
                "along": pick("across", "upright", "edge"),
                "side": pick("left", "right", None),
            }
            s["ratio"] = float(
                pick(-100.0, 0.0)
                if s["of"] == "top" and rng.random() < 0.5
                else pick(1e-9, 1000.0, rng.uniform(0.1, 2))
            )
        elif kind == "rim":
            s |= pick({"ratio": float(pick(0, 1, rng.random()))}, {"sight_deg": float(rng.uniform(-89.9, 89.9))})
            s |= {
                "down": pick(None, float(rng.uniform(-100, 100))),
                "width": pick(None, 1e-9, 100.0),
                "from_below": pick(None, True),
            }
        else:
            s |= {
                "along": pick("plumb", "level"),
                "beside": float(rng.uniform(-100, 100)),
                "judged_beside": pick(None, 0.0, 3.0),
            }
        sightings.append({name: value for name, value in s.items() if value is not None})
    stick = {"unit_mm": float(pick(1.0, 1500, 200))} if rng.random() < 0.4 else None
    return SightingSheet.model_validate({"forms": forms, "sightings": sightings, "stick": stick})


@pytest.mark.parametrize("seed", range(8))
def test_any_sheet_from_life_is_answered_and_planned_or_told_why_not(seed: int) -> None:
    rng = np.random.default_rng(95100 + seed)
    papers = ((420.0, 297.0), (30.0, 5000.0), (105.0, 148.0))
    for _ in range(25):
        sheet = wild_sheet(rng)
        report = check_sheet(sheet)
        assert [f.sighting for f in report.findings] == [s.id for s in sheet.sightings]
        assert all(f.words and "nan" not in f.words for f in report.findings)
        how = PaperPlan(
            paper_mm=papers[int(rng.integers(3))],
            margin_mm=5.0,
            near_upright_mm=[None, 100.0, 5000.0][int(rng.integers(3))],
        )
        try:
            found = plan_sheet(sheet, how)
        except NoPlan as error:
            assert str(error).endswith((".", "place.", "ones."))
            continue
        assert all(np.isfinite([step.length_mm or 0.0, step.tilt_deg or 0.0]).all() for step in found.steps)
        if seed == 0:
            assert plan_pdf(found).startswith(b"%PDF") and plan_svg(found).startswith(b"<svg")


def test_a_photo_on_which_nothing_is_laid_yet_is_planned_by_the_card() -> None:
    ends = (("left", "near-top", 11.31), ("left", "near-bottom", -16.7))
    edges = [
        {"id": f"{n}", "kind": "edge", "form": "box", "family": family, "end": end, "tilt_deg": tilt}
        for n, (family, end, tilt) in enumerate(ends)
    ]
    document = {"picture": {"width_px": 800, "height_px": 600}, "forms": [{"id": "box"}], "sightings": edges}
    assert plan_sheet(SightingSheet.model_validate(document)).scale_mm_per_unit is not None
    with pytest.raises(NoPlan, match="Nothing is sighted"):
        plan_sheet(SightingSheet.model_validate({"picture": {"width_px": 800, "height_px": 600}}))
