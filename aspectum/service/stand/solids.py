"""The surfaces of a set-up as the screen shades them."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Floats
from aspectum.core.stand.construction import footprint
from aspectum.core.stand.drawing import COARSEST_M
from aspectum.core.stand.setting import Placed, extent_in_room, set_up
from aspectum.core.stand.solid import Lathe, Solid
from aspectum.core.stand.things import StandError
from aspectum.formats.reading import FormatError
from aspectum.formats.stand import StandFile
from aspectum.formats.stand_shown import SolidFace, SolidLathe, Spot, StandSolid, StandSolids
from aspectum.service.stand.from_format import place_of, stand_of

FINE = (
    1 / 2000
)  # of a thing's extent by which a shaded curve may leave its true place: half a pixel where it fills a picture
DECIMALS = 6  # of a metre: a thousandth of a millimetre


def stand_solids(file: StandFile) -> StandSolids:
    """Every thing's surface, curves cut finer than shading shows; an empty set-up has a box of no size. Raises
    ``FormatError`` for one that cannot be.
    """
    try:
        rough = set_up(stand_of(file), {}, COARSEST_M)
        bodies = [
            p
            for p in set_up(stand_of(file), {p.thing.id: _tolerance(p) for p in rough if p.own is not None}, COARSEST_M)
            if p.own is not None
        ]
    except StandError as error:
        raise FormatError(place_of(file, error)) from None
    low, high = extent_in_room(tuple(bodies)) if bodies else (np.zeros(3), np.zeros(3))
    return StandSolids(
        low_m=_spot(low),
        high_m=_spot(high),
        solids=[_solid(p) for p in bodies],
    )


def _solid(placed: Placed) -> StandSolid:
    frame, shape = placed.frame, placed.shape
    rings = [(ring - frame.at) @ frame.turn for ring in footprint(placed)]
    return StandSolid(
        thing=placed.thing.id,
        base_m=float(frame.at[2]),
        footprint=[[(x, y) for x, y, _ in ring.round(DECIMALS).tolist()] for ring in rings],
        faces=_faces(shape),
        lathes=[_lathe(m) for m in shape.lathes],
    )


def _tolerance(placed: Placed) -> float:
    """A power of two, so that a thing is not made anew at every step of a drag."""
    extent = float((placed.shape.high - placed.shape.low).max())
    return float(2.0 ** np.floor(np.log2(max(extent, 1e-6) * FINE)))


def _faces(solid: Solid) -> list[SolidFace]:
    return [
        SolidFace(normal=_spot(solid.normal[f]), rings=[[_spot(p) for p in ring] for ring in solid.rings(f)])
        for f in range(solid.faces)
    ]


def _lathe(lathe: Lathe) -> SolidLathe:
    return SolidLathe(
        origin=_spot(lathe.origin),
        axis=_spot(lathe.axis),
        first_way=_spot(lathe.first_way),
        radius=lathe.radius.round(DECIMALS).tolist(),
        height=lathe.height.round(DECIMALS).tolist(),
        corner=lathe.corner.tolist(),
    )


def _spot(point: Floats) -> Spot:
    x, y, z = point.round(DECIMALS).tolist()
    return x, y, z
