"""From surfaces to lines: which edges, rims and outlines a view shows, in pieces that can be hidden part by part."""

from __future__ import annotations

import numpy as np

from aspectum.core.plane.lines import Flags, Floats, Ints
from aspectum.core.sightings import Family, Plane, Point
from aspectum.core.stand.camera import View
from aspectum.core.stand.contours import contour, turning
from aspectum.core.stand.crossings import Pieces
from aspectum.core.stand.drawn import Drawing, Line, Seen, VanishingPoint
from aspectum.core.stand.families import ThingFamilies, Way
from aspectum.core.stand.figures import TOUCHING, curve_of, rims_of
from aspectum.core.stand.gather import NOWHERE, Lines, beside_of, turned_to_eye
from aspectum.core.stand.names import edge_names
from aspectum.core.stand.sections import section_lines
from aspectum.core.stand.setting import Placed
from aspectum.core.stand.solid import ALONG_AXIS, Lathe
from aspectum.core.stand.things import Section

PLANE_OF = {
    Family.UPRIGHT: Plane.LEVEL,
    Family.LEFT: Plane.LEFT,
    Family.RIGHT: Plane.RIGHT,
    Family.DEPTH: Plane.DEPTH,
    Family.ACROSS: Plane.ACROSS,
}
INNER_OUTLINE = "inner outline"
ON_GROUND = -1  # owner of lines that belong to no thing


class Sketch:
    """Which pieces make which line, until they are known to be seen."""

    def __init__(self, view: View, lines: Lines) -> None:
        self.view, self.lines = view, lines
        self.ways: dict[str, ThingFamilies] = {}
        self._edges: list[tuple[str, str, Way, int]] = []
        self._outlines: list[tuple[str, str, int]] = []
        self._chains: list[tuple[str, str, Ints, Flags]] = []
        self._shadows: list[tuple[str, str, Ints, Flags]] = []
        self._rims: list[tuple[str, str, Plane | None, int]] = []

    def _chain(self, thing: str, name: str, pieces: Ints, turned: Flags) -> None:
        self._chains += _unbroken(thing, name, pieces, turned)

    def take_edges(self, body: Placed, number: int, start: tuple[int, int], outline_only: bool = False) -> None:
        """Edges of flat faces; soft ones, and with ``outline_only`` all, only where one of their faces is turned to the
        eye and the other away.
        """
        solid, thing = body.body, body.thing
        ways = self.ways[thing.id] = ThingFamilies(body, self.view)
        if not len(solid.edge):
            return
        away = np.append(~turned_to_eye(solid, self.view), True)  # -1, no second face, counts as turned away
        outline = away[solid.edge_faces[:, 0]] != away[solid.edge_faces[:, 1]]
        shown = np.flatnonzero(outline | ~(solid.soft | outline_only))
        a, b = solid.corners[solid.edge[shown, 0]], solid.corners[solid.edge[shown, 1]]
        pieces = self.lines.straights(a, b, number, beside_of(solid, start, solid.edge_faces[shown]))
        names = edge_names(body, self.view, ways)
        runs: dict[int, list[int]] = {}
        for k, (i, piece) in enumerate(zip(shown.tolist(), pieces.tolist(), strict=True)):
            if solid.run[i] >= 0:
                runs.setdefault(int(solid.run[i]), []).append(k)
            elif piece != NOWHERE and solid.soft[i]:
                self._outlines.append((thing.id, "outline", piece))
            elif piece != NOWHERE:
                self._edges.append((thing.id, names[i], ways.of(int(solid.edge_axis[i]), b[k] - a[k]), piece))
        for members in runs.values():
            for order, turned in _in_order(solid.edge[shown[members]]):
                self._chain(thing.id, "curve", pieces[members][order], turned)

    def take_rims(self, body: Placed, number: int, start: tuple[int, int]) -> None:
        """Circles that show; they may pass from sight where the outline of a band beside them leaves them."""
        solid, thing = body.body, body.thing
        seen = [turning(lathe, self.view) for lathe in solid.lathes]
        for rim in solid.rims:
            lathe = solid.lathes[rim.lathe]
            cuts = tuple(t for b in rim.bands for t in seen[rim.lathe].turns(b - solid.faces - lathe.first))
            centre = lathe.origin + rim.height * lathe.axis
            beside = tuple(beside_of(solid, start, np.array(rim.bands)).tolist())
            piece = self.lines.circle(
                centre, rim.radius * lathe.first_way, rim.radius * lathe.second_way, number, beside, cuts
            )
            if piece != NOWHERE:
                self._rims.append((thing.id, rim.name, _plane(body, lathe, self.ways[thing.id]), piece))

    def take_contours(self, body: Placed, number: int, start: tuple[int, int]) -> None:
        """Outlines of what is turned."""
        solid = body.body
        for lathe in solid.lathes:
            found = contour(lathe, turning(lathe, self.view))
            if not len(found.circle):
                continue
            pieces = np.empty(len(found.circle), dtype=np.intp)
            at, band = lathe.origin + lathe.height[:, None] * lathe.axis, solid.faces + lathe.first + found.circle
            line, arc = found.straight, ~found.straight
            i, t = found.circle[line], found.turns[line, 0]
            out = np.cos(t)[:, None] * lathe.first_way + np.sin(t)[:, None] * lathe.second_way
            p, q = at[i] + lathe.radius[i, None] * out, at[i + 1] + lathe.radius[i + 1, None] * out
            pieces[line] = self.lines.straights(p, q, number, beside_of(solid, start, band[line, None]))
            i = found.circle[arc]
            beside = beside_of(solid, start, np.stack([band[arc] - 1, band[arc]], axis=1))
            r, span = lathe.radius[i, None], np.sort(found.turns[arc], axis=1)
            pieces[arc] = self.lines.arcs(at[i], r * lathe.first_way, r * lathe.second_way, span, number, beside)
            turned = found.turns[:, 0] > found.turns[:, 1]
            starts = np.flatnonzero(np.diff(found.chain, prepend=-1))
            for members in np.split(np.arange(len(pieces)), starts[1:]):
                name = "outline" if lathe.normals[found.circle[members[0]], 0] > 0 else INNER_OUTLINE
                if len(members) == 1 and found.straight[members[0]]:
                    if pieces[members[0]] != NOWHERE:
                        self._outlines.append((body.thing.id, name, int(pieces[members[0]])))
                else:
                    self._chain(body.thing.id, name, pieces[members], turned[members])

    def take_section(self, section: Section, body: Placed, number: int, start: tuple[int, int]) -> None:
        """Where a plane cuts a thing."""
        for cut in section_lines(section, body):
            beside = beside_of(body.body, start, np.full((len(cut.p), 1), cut.patch))
            self._chain(
                section.id,
                section.name or "section",
                self.lines.straights(cut.p, cut.q, number, beside),
                np.zeros(len(cut.p), dtype=bool),
            )

    def take_shadow(self, thing: str, arc: Flags, geometry: Floats, span: Floats, turned: Flags) -> None:
        """A line of a shadow on the ground, in pieces (k) that follow one another."""
        pieces = np.empty(len(arc), dtype=np.intp)
        beside = np.empty((len(arc), 0), dtype=np.intp)
        pieces[~arc] = self.lines.straights(geometry[~arc, :3], geometry[~arc, 3:6], ON_GROUND, beside[~arc])
        pieces[arc] = self.lines.arcs(
            geometry[arc, :3], geometry[arc, 3:6], geometry[arc, 6:9], span[arc], ON_GROUND, beside[arc]
        )
        self._shadows += _unbroken(thing, "shadow", pieces, turned)

    def finished(
        self,
        pieces: Pieces,
        numbers: Ints,
        parts: Floats,
        placed: tuple[Placed, ...],
        bodies: list[Placed],
        seen_of: tuple[Seen, ...],
    ) -> Drawing:
        """The drawing, once ``parts`` (K, 2) of the pieces ``numbers`` (K,) are known to be seen."""
        geometry, span = pieces.geometry, pieces.span
        ends = self.view.project(geometry[:, :6].reshape(-1, 2, 3))
        seen: list[list[tuple[float, float]]] = [[] for _ in range(len(pieces.arc))]
        for number, a, b in zip(numbers.tolist(), parts[:, 0].tolist(), parts[:, 1].tolist(), strict=True):
            seen[number].append((a, b))

        def end(i: int, k: int) -> Point:
            return float(ends[i, k, 0]), float(ends[i, k, 1])

        edges = tuple(
            Line(t, n, end(i, 0), end(i, 1), tuple(seen[i]), geometry[i, :6].reshape(2, 3), way)
            for t, n, way, i in self._edges
        )
        outlines = tuple(
            Line(t, n, end(i, 0), end(i, 1), tuple(seen[i]), geometry[i, :6].reshape(2, 3))
            for t, n, i in self._outlines
        )
        curves = []
        at = np.array([i for _, _, _, i in self._rims], dtype=np.intp)
        whole = span[at, 1] - span[at, 0] > 2 * np.pi - TOUCHING
        rims = rims_of(
            self.view, [r for r, w in zip(self._rims, whole.tolist(), strict=True) if w], geometry, numbers, parts
        )
        for (thing, name, _, i), all_round in zip(self._rims, whole.tolist(), strict=True):
            if not all_round:  # what comes round behind the viewer is no ellipse
                curves.append(
                    curve_of(self.view, thing, name, pieces, np.array([i]), np.zeros(1, dtype=bool), numbers, parts)
                )
        curves += [
            curve_of(self.view, thing, name, pieces, chain, turned, numbers, parts)
            for thing, name, chain, turned in self._chains
        ]
        # the inner side of a wall is outlined only where one looks past a waist into it: elsewhere nobody draws it
        return Drawing(
            self.view,
            tuple(self._vanishing_points(bodies)),
            edges,
            rims,
            tuple(o for o in outlines if o.visible or o.name != INNER_OUTLINE),
            tuple(c for c in curves if c.visible or c.name != INNER_OUTLINE),
            seen_of,
            placed,
            tuple(
                curve_of(self.view, thing, name, pieces, chain, turned, numbers, parts)
                for thing, name, chain, turned in self._shadows
            ),
        )

    def _vanishing_points(self, bodies: list[Placed]) -> list[VanishingPoint]:
        found = []
        for body in bodies:
            ways = self.ways[body.thing.id]
            used = [way for thing, _, way, _ in self._edges if thing == body.thing.id]
            for lathe in body.body.lathes:  # what is turned has the family of its axis
                used += [ways.axes[k] for k in range(3) if _runs_along(lathe, body, k)]
            for way in dict.fromkeys(used):
                point, tilt = self.view.vanishing_point(np.array(way.direction))
                found.append(VanishingPoint(body.thing.id, way, point, tilt))
        return found


def _unbroken(thing: str, name: str, pieces: Ints, turned: Flags) -> list[tuple[str, str, Ints, Flags]]:
    """Pieces that follow one another, some ``turned`` end for end; where one lies behind the picture's plane the line
    breaks.
    """
    kept = np.flatnonzero(pieces != NOWHERE)
    runs = np.split(kept, np.flatnonzero(np.diff(kept) > 1) + 1)
    return [(thing, name, pieces[run], turned[run]) for run in runs if len(run)]


def _in_order(edges: Ints) -> list[tuple[Ints, Flags]]:
    """The edges (k, 2) of one run, of which some may not show, as lines: places of the edges of each, every one led on
    from where the one before ended, and whether it is led from its second corner.
    """
    meets: dict[int, list[int]] = {}
    for k, pair in enumerate(edges.tolist()):
        for corner in pair:
            meets.setdefault(corner, []).append(k)
    left = dict.fromkeys(range(len(edges)))
    open_ends = [corner for corner, members in meets.items() if len(members) == 1]
    lines = []
    for start in [*open_ends, *meets]:
        at, order, turned = start, [], []
        while (k := next((k for k in meets[at] if k in left), NOWHERE)) != NOWHERE:
            left.pop(k)
            a, b = edges[k].tolist()
            order.append(k)
            turned.append(b == at)
            at = a if b == at else b
        if order:
            lines.append((np.array(order), np.array(turned)))
    return lines


def _runs_along(lathe: Lathe, body: Placed, axis: int) -> bool:
    return abs(float(lathe.axis @ body.frame.turn[:, axis])) > ALONG_AXIS


def _plane(body: Placed, lathe: Lathe, ways: ThingFamilies) -> Plane | None:
    return next((PLANE_OF[ways.axes[k].family] for k in range(3) if _runs_along(lathe, body, k)), None)
