"""Names for edges as a tutor would call them: by height, and by nearness to the viewer."""

from __future__ import annotations

import numpy as np

from aspectum.core.stand.camera import View
from aspectum.core.stand.families import ThingFamilies
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.solid import SLOPING
from aspectum.core.stand.things import Box

UPRIGHT_AXIS = 2  # of x, y and z, in the thing's own frame


def edge_names(placed: Placed, view: View, ways: ThingFamilies) -> list[str]:
    """A name for every edge of a thing: its own where it has one; a box's by where they lie."""
    solid = placed.body
    if not isinstance(placed.thing, Box):
        plain = ["slope" if axis == SLOPING else ways.axes[axis].family.value for axis in solid.edge_axis.tolist()]
        return [own or name for own, name in zip(solid.edge_name, plain, strict=True)]
    middles = (solid.corners[solid.edge[:, 0]] + solid.corners[solid.edge[:, 1]]) / 2
    depth = middles @ view.axes[2]
    aside = middles @ view.axes[0]
    height = middles[:, 2]
    names = []
    uprights = np.flatnonzero(solid.edge_axis == UPRIGHT_AXIS)
    by_depth = uprights[np.argsort(depth[uprights], kind="stable")]
    between = sorted(by_depth[1:-1], key=lambda i: float(aside[i]))
    upright_names = {
        int(by_depth[0]): "near upright",
        int(by_depth[-1]): "far upright",
        int(between[0]): "left upright",
        int(between[1]): "right upright",
    }
    for i, axis in enumerate(solid.edge_axis.tolist()):
        if axis == UPRIGHT_AXIS:
            names.append(upright_names[i])
            continue
        fellows = np.flatnonzero((solid.edge_axis == axis) & (np.abs(height - height[i]) < 1e-9))
        level = "top" if height[i] > solid.corners[:, 2].mean() else "base"
        near = "near" if depth[i] <= depth[fellows].min() + 1e-12 else "far"
        names.append(f"{level} {ways.axes[axis].family.value}, {near}")
    return names
