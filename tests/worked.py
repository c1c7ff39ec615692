"""The handbook's worked picture: 1000×800, centre of vision (500, 400)."""

from __future__ import annotations

from aspectum.core.sightings import Edge, Family, Setup

SETUP = Setup(1000, 800, centre_px=(500, 400))
EDGES = [
    Edge("top-left", "box", Family.LEFT, (400, 200), (150, 250)),
    Edge("bottom-left", "box", Family.LEFT, (400, 700), (150, 625)),
    Edge("top-right", "box", Family.RIGHT, (400, 200), (650, 250)),
    Edge("bottom-right", "box", Family.RIGHT, (400, 700), (650, 625)),
    Edge("near", "box", Family.UPRIGHT, (400, 200), (400, 700)),
    Edge("far-left", "box", Family.UPRIGHT, (150, 250), (150, 625)),
    Edge("far-right", "box", Family.UPRIGHT, (650, 250), (650, 625)),
]
