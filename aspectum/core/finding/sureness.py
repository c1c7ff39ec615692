"""How sure it is that a line is an edge of a form, and a circle a rim: probabilities by logistic regression.

The weights were fitted by ``tools/finding/fit.py`` on the tuning half of the gallery, by layouts left out one after
another; those reported are never fitted to. Inputs are brought to comparable sizes by their own logarithms, so that
weights can be read.
"""

from __future__ import annotations

from typing import Protocol

import numpy as np

from aspectum.core.finding.neighbours import Neighbours
from aspectum.core.finding.settle import NONE, UPRIGHT
from aspectum.core.plane.lines import Floats, Ints

SUREST_OF, LEAST_EXPECTED = 3, 1.0  # edges to be expected among a family's three surest that make it one,
# and where the family square to it is none: a stray line has no partner, and few forms show edges of one direction only
LEAST_ALONE = 1.4

EDGE_INPUTS = (
    "length",
    "short",
    "off",
    "upright",
    "none",
    "step",
    "even",
    "apart",
    "far",
    "grain",
    "contrast",
    "thin",
    "like",
    "longer",
    "corner",
    "corners",
    "alone",
    "bent",
    "family",
    "view",
)
RIM_INPUTS = (
    "share",
    "against",
    "step",
    "size",
    "rms",
    "standing",
    "round",
    "straight",
    "gap",
    "rival",
    "alone",
    "arc",
    "clear",
    "side",
    "sides",
    "half",
    "partner",
    "same way",
    "view",
)


class Steps(Protocol):
    """How a picture steps across lines (``pictures.along.Along``), (n,) each."""

    @property
    def step(self) -> Floats: ...
    @property
    def even(self) -> Floats: ...
    @property
    def apart(self) -> Floats: ...
    @property
    def far(self) -> Floats: ...
    @property
    def grain(self) -> Floats: ...


def edge_inputs(
    length: Floats, off: Floats, slot: Ints, seen: Steps, about: Neighbours, share: Floats, view: float
) -> Floats:
    """(n, k) of lines: ``length`` and what stands ``about`` them in shares of the picture's diagonal, ``off`` in
    standard deviations from the family of their ``slot`` (``settle.Found``), how they are ``seen``; ``share``: of all
    lines' length that the family holds; ``view``: how much of all lines the view explains (0 to 1).
    """
    size = np.log(np.maximum(length, 1e-6))
    return np.stack(
        [
            size,
            np.minimum(size + 3.0, 0.0) ** 2,
            np.minimum(off, 4.0),
            (slot == UPRIGHT).astype(float),
            (slot == NONE).astype(float),
            np.log1p(seen.step),
            seen.even,
            np.log1p(seen.apart),
            np.log1p(seen.far),
            np.log1p(seen.grain),
            np.log((1.0 + seen.apart) / (1.0 + seen.grain)),
            np.log((1.0 + seen.far) / (1.0 + seen.step)),
            np.log1p(about.like),
            about.longer,
            (about.corners > 0).astype(float),
            (about.corners > 1).astype(float),
            (about.longer == 0).astype(float),
            about.bent,
            share,
            np.full(len(size), view),
        ],
        axis=1,
    )


def probability(inputs: Floats, weights: Floats) -> Floats:
    """Of (n, k) ``inputs`` by ``weights`` (k + 1,), the constant last: (n,)."""
    return np.asarray(1.0 / (1.0 + np.exp(-np.clip(inputs @ weights[:-1] + weights[-1], -30, 30))), float)


def is_family(slot: int, expected: dict[int, float]) -> bool:
    """Whether lines of ``slot`` (as in ``settle.Found``) make a family, by how many edges are ``expected`` among the
    ``SUREST_OF`` surest of each.
    """
    alone = slot != UPRIGHT and expected.get(slot ^ 1, 0.0) < LEAST_EXPECTED
    return expected[slot] >= (LEAST_ALONE if alone else LEAST_EXPECTED)


def rim_inputs(seen: Floats, view: float) -> Floats:
    """(m, k) of circles (m, 16): share seen, lead over a copy, step, width in diagonals, rms in px, whether it stands
    upright, minor over major, share on straight lines, widest gap as a share of the turn, how many better seen circles
    lie about the same middle, lead over both copies, longest run seen, how much its step rises over what lies about it,
    at how many sides a line along its axis meets it, how well its partner is seen, and how much colour changes the same
    way across it all round. ``view``: as in ``edge_inputs``.
    """
    (
        share,
        against,
        step,
        wide,
        rms,
        standing,
        round_,
        straight,
        gap,
        rivals,
        alone,
        arc,
        clear,
        sides,
        partner,
        same_way,
    ) = seen.T
    size = np.log(np.maximum(wide, 1e-6))
    columns = (
        share,
        against,
        np.log1p(step),
        size,
        rms,
        standing,
        round_,
        straight,
        gap,
        np.log1p(rivals),
        alone,
        arc,
        np.log1p(clear),
    )
    both = np.maximum(share - 0.5, 0.0) * np.maximum(against - 0.3, 0.0) * 4.0
    return np.stack([*columns, sides > 0, sides > 1, both, partner, same_way, np.full(len(size), view)], axis=1)


# of EDGE_INPUTS, the constant last, as tools/finding/fit.py fits them to rendered scenes
EDGE_WEIGHTS = np.array(
    [
        0.577,
        -0.713,
        -0.432,
        1.703,
        0.0,
        0.11,
        2.825,
        0.543,
        0.369,
        0.202,
        0.525,
        0.29,
        -0.016,
        -0.095,
        0.582,
        0.355,
        0.47,
        -4.33,
        0.865,
        3.832,
        -10.175,
    ]
)
# likewise of RIM_INPUTS
RIM_WEIGHTS = np.array(
    [
        4.123,
        -0.586,
        0.181,
        1.641,
        -6.522,
        -2.305,
        1.72,
        -1.97,
        3.261,
        -0.176,
        -0.865,
        4.919,
        0.491,
        0.709,
        0.25,
        2.029,
        1.332,
        -1.316,
        -2.685,
        2.384,
    ]
)
