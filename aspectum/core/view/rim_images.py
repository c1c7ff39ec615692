"""What the camera requires of every laid rim, compiled: the reading of circles that the solver takes at each step."""

from __future__ import annotations

from typing import NamedTuple, cast

import numpy as np

from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.ellipses import curved_weight, foot_of, halves
from aspectum.core.plane.lines import Floats, Ints
from aspectum.core.view.camera import OWN_BEARING, Lens, image_of, lens_of, place_of

ARC_PARTS = (-0.6, 0.0, 0.6)  # where the arc may lie: half minor axes from the middle of its chord
LARGEST = 3.0  # log of the radius, in units of the centre's depth, that a circle may reach
SMALLEST_ROOT = 1e-9  # a root's diagonal is held off zero by so much
# steps of the rims' own unknowns; no plain integers, for each of which the compiler would make a version of its own
LOOK, SETTLE = (cast("int", np.int64(steps)) for steps in (0, 4))
OWN, TURNS, REST = 3, 2, 6  # columns: own unknowns, free turns of the ellipse, camera with bearing
FORM = 5  # numbers of an ellipse


class LaidRims(NamedTuple):
    """What was laid of R rims, in camera units.

    ``points`` (R, K, 2), of which rim k has the first ``many[k]``, and their ``weight`` (R, K); ``ends`` of
    the major axis (R, 2, 2) with the ``chord`` between them (R, 2) and their weight ``tip_weight`` (R,);
    ``chi2`` (R,) of the free ellipse; ``sd`` (R,) the point error; ``bearing``: index of the bearing that
    the rim's axis follows, -1 for level planes; ``offset``: radians added to it; ``start`` (R, 2) and
    ``half_major`` (R,): a first guess.
    """

    points: Floats
    many: Ints
    weight: Floats
    ends: Floats
    chord: Floats
    tip_weight: Floats
    chi2: Floats
    sd: Floats
    bearing: Ints
    offset: Floats
    start: Floats
    half_major: Floats


# a sheet without rims
NO_RIMS = LaidRims(
    *(
        np.zeros((0, 0, 2)),
        np.zeros(0, np.intp),
        np.zeros((0, 0)),
        np.zeros((0, 2, 2)),
        np.zeros((0, 2)),
        np.zeros(0),
        np.zeros(0),
        np.zeros(0),
    ),
    *(np.zeros(0, np.intp), np.zeros(0), np.zeros((0, 2)), np.zeros(0)),
)


class RimLook(NamedTuple):
    """R rims under one camera: ``z`` (R, 2) whitened disagreement of opening and lean and ``by`` (R, 2, 6)
    its derivatives by the camera and the rim's bearing; ``cost`` (R,) chi-square over the free ellipse's;
    ``own_r`` (R, 3), ``own_root`` (R, 3, 3), ``own_by`` (R, 3, 6): residuals, triangular root and the same
    derivatives of the rims' own unknowns: where each circle's centre is drawn, and the log of its radius in units of
    the centre's depth.
    """

    z: Floats
    by: Floats
    cost: Floats
    own_r: Floats
    own_root: Floats
    own_by: Floats


@compiled
def room_for(count: int) -> RimLook:
    """A ``RimLook`` of ``count`` rims, to be filled."""
    own = np.zeros((count, OWN)), np.zeros((count, OWN, OWN)), np.zeros((count, OWN, REST))
    return RimLook(np.zeros((count, TURNS)), np.zeros((count, TURNS, REST)), np.zeros(count), own[0], own[1], own[2])


class Workspace(NamedTuple):
    """Room to look at one rim: images of its plane's two directions (2, 3) with their derivatives (2, 3, 6), what moves
    them and the centre (3, 3, 9), its ellipse's ``form`` (5,) with ``slopes`` (5, 9), the rows of what was laid (K + 2,
    6) and those that say it all (5, 12). Set up once for all rims: arrays cost more to make than to fill.
    """

    images: Floats
    by: Floats
    moves: Floats
    form: Floats
    slopes: Floats
    rows: Floats
    table: Floats


@compiled
def workspace_for(longest: int) -> Workspace:
    """For rims of at most ``longest`` points."""
    images, by, moves, form = np.zeros((2, 3)), np.zeros((2, 3, REST)), np.zeros((3, 3, OWN + REST)), np.zeros(FORM)
    moves[2, 0, 0] = moves[2, 1, 1] = 1.0
    return Workspace(
        images,
        by,
        moves,
        form,
        np.zeros((FORM, OWN + REST)),
        np.zeros((longest + 2, FORM + 1)),
        np.zeros((FORM, OWN + TURNS + REST + 1)),
    )


@compiled
def plane_ways(laid: LaidRims, k: int, lens: Lens, params: Floats, images: Floats, by: Floats) -> None:
    """Write the images of the two directions in the plane of rim ``k`` into ``images`` (2, 3), and their derivatives by
    the camera and the rim's own bearing into ``by`` (2, 3, 6).
    """
    by[:] = 0.0
    if laid.bearing[k] < 0:
        place_of(lens, 1.0, 0.0, 0.0, images[0], by[0])
        place_of(lens, 0.0, 1.0, 0.0, images[1], by[1])
    else:
        angle = params[laid.bearing[k]] + laid.offset[k]
        sin_b, cos_b = np.sin(angle), np.cos(angle)
        place_of(lens, cos_b, -sin_b, 0.0, images[0], by[0])
        place_of(lens, 0.0, 0.0, 1.0, images[1], by[1])
        by[0, 0, OWN_BEARING], by[0, 1, OWN_BEARING], by[0, 2, OWN_BEARING] = image_of(lens, -sin_b, -cos_b, 0.0)


@compiled
def support_form(x: float, y: float, spans: Floats, moves: Floats, form: Floats, slopes: Floats) -> None:
    """Write the ellipse that a circle is drawn as into ``form`` (5,), centre and square S = AAᵀ (xx, xy, yy): its
    centre's image at (x, y), its plane's two ways times its radius at ``spans`` (2, 3). And its derivatives by what
    moves the two ways and the centre by ``moves`` (3, 3, Q) into ``slopes`` (5, Q).

    The conic of a plane's circle under a homography (Hartley & Zisserman, Multiple View Geometry,
    2nd ed., result 2.13) is C = H⁻ᵀ diag(1, 1, -1) H⁻¹; its dual H diag(1, 1, -1) Hᵀ gives centre and
    square without inverting an H that is seen nearly edge-on.
    """
    ax, ay, aw = spans[0, 0], spans[0, 1], spans[0, 2]
    bx, by, bw = spans[1, 0], spans[1, 1], spans[1, 2]
    over = 1.0 / min(aw * aw + bw * bw - 1.0, -1e-9)  # zero or above: the circle reaches behind the eye
    xx, xy, yy = (
        (ax * ax + bx * bx - x * x) * over,
        (ax * ay + bx * by - x * y) * over,
        (ay * ay + by * by - y * y) * over,
    )
    cx, cy = (ax * aw + bx * bw - x) * over, (ay * aw + by * bw - y) * over
    form[0], form[1], form[2], form[3], form[4] = cx, cy, cx * cx - xx, cx * cy - xy, cy * cy - yy
    for q in range(moves.shape[2]):
        dax, day, daw = moves[0, 0, q], moves[0, 1, q], moves[0, 2, q]
        dbx, dby, dbw = moves[1, 0, q], moves[1, 1, q], moves[1, 2, q]
        dx, dy, dw = moves[2, 0, q], moves[2, 1, q], moves[2, 2, q]
        far = 2.0 * (aw * daw + bw * dbw - dw)
        dxx = (2.0 * (ax * dax + bx * dbx - x * dx) - xx * far) * over
        dxy = (ax * day + ay * dax + bx * dby + by * dbx - x * dy - y * dx - xy * far) * over
        dyy = (2.0 * (ay * day + by * dby - y * dy) - yy * far) * over
        dcx = (ax * daw + aw * dax + bx * dbw + bw * dbx - x * dw - dx - cx * far) * over
        dcy = (ay * daw + aw * day + by * dbw + bw * dby - y * dw - dy - cy * far) * over
        slopes[0, q], slopes[1, q] = dcx, dcy
        slopes[2, q], slopes[3, q], slopes[4, q] = 2 * cx * dcx - dxx, cx * dcy + cy * dcx - dxy, 2 * cy * dcy - dyy


@compiled
def ellipses_of(own: Floats, spans: Floats) -> Floats:
    """``support_form`` of n circles ``own`` (n, 3), as (n, 5) centre, half axes and direction."""
    found, form, still, none = np.empty((len(own), 5)), np.empty(FORM), np.zeros((3, 3, 0)), np.zeros((FORM, 0))
    for n in range(len(own)):
        support_form(own[n, 0], own[n, 1], spans[n], still, form, none)
        found[n, 0], found[n, 1] = form[0], form[1]
        found[n, 2], found[n, 3], found[n, 4] = halves(form[2], form[3], form[4])
    return found


@compiled
def outline_rows(laid: LaidRims, k: int, form: Floats, rows: Floats) -> int:
    """Whitened derivatives of all that was laid of rim ``k`` by its ellipse's ``form`` (5,) with, last, its residuals,
    written into ``rows`` (K + 2, 6); returns how many.

    An ellipse of centre c and square S reaches h(n) = n·c + sqrt(nᵀSn) in direction n, so its
    outline at a foot with normal n moves by n·dc + nᵀdS n / (2 sqrt(nᵀSn)). An end of the major axis lies,
    across the chord, as far from where the ellipse reaches farthest along it: v·c ± vᵀSu / sqrt(uᵀSu).
    """
    xx, xy, yy = form[2], form[3], form[4]
    major, minor, angle = halves(xx, xy, yy)
    c, s = np.cos(angle), np.sin(angle)
    count = laid.many[k]
    wide, narrow = max(major, 1e-9), max(minor, 1e-5 * major + 1e-9)
    for i in range(count):
        px, py = laid.points[k, i, 0], laid.points[k, i, 1]
        cos_t, sin_t, fx, fy, nx, ny = foot_of(px, py, form[0], form[1], major, minor, c, s)
        weight = laid.weight[k, i] * curved_weight(wide, narrow, cos_t, sin_t, laid.sd[k])
        reach = np.sqrt(max(xx * nx * nx + 2 * xy * nx * ny + yy * ny * ny, 1e-18))
        rows[i, 0], rows[i, 1] = nx * weight, ny * weight
        rows[i, 2], rows[i, 3], rows[i, 4] = (
            nx * nx / (2 * reach) * weight,
            nx * ny / reach * weight,
            ny * ny / (2 * reach) * weight,
        )
        rows[i, FORM] = ((fx - px) * nx + (fy - py) * ny) * weight
    if laid.tip_weight[k] == 0.0:
        return count
    ux, uy = laid.chord[k, 0], laid.chord[k, 1]
    vx, vy = -uy, ux
    reach = np.sqrt(max(ux * ux * xx + 2 * ux * uy * xy + uy * uy * yy, 1e-18))
    side = vx * ux * xx + (vx * uy + vy * ux) * xy + vy * uy * yy
    for e in range(2):
        sign, i, weight = 2.0 * e - 1.0, count + e, laid.tip_weight[k]
        rows[i, 0], rows[i, 1] = vx * weight, vy * weight
        rows[i, 2] = sign * weight * (vx * ux / reach - side / reach**3 * ux * ux / 2)
        rows[i, 3] = sign * weight * ((vx * uy + vy * ux) / reach - side / reach**3 * ux * uy)
        rows[i, 4] = sign * weight * (vy * uy / reach - side / reach**3 * uy * uy / 2)
        rows[i, FORM] = (
            (form[0] - laid.ends[k, e, 0]) * vx + (form[1] - laid.ends[k, e, 1]) * vy + sign * side / reach
        ) * weight
    return count + 2


@compiled
def triangulate(table: Floats, rows: int, columns: int) -> None:
    """Turn the first ``columns`` of ``table`` (rows, all) upper triangular by Householder reflections
    applied to all its columns, in place.
    """
    everything = table.shape[1]
    for c in range(min(columns, rows)):
        norm = 0.0
        for i in range(c, rows):
            norm += table[i, c] * table[i, c]
        norm = np.sqrt(norm)
        if norm < 1e-300:
            continue
        if table[c, c] > 0:
            norm = -norm
        head = table[c, c] - norm
        over = -1.0 / (norm * head)
        table[c, c] = norm
        for k in range(c + 1, everything):
            dot = head * table[c, k]
            for i in range(c + 1, rows):
                dot += table[i, c] * table[i, k]
            dot *= over
            table[c, k] -= dot * head
            for i in range(c + 1, rows):
                table[i, k] -= dot * table[i, c]
        for i in range(c + 1, rows):
            table[i, c] = 0.0


@compiled
def look_at_rim(
    laid: LaidRims, k: int, lens: Lens, params: Floats, own: Floats, workspace: Workspace, seen: RimLook
) -> None:
    """Fill row ``k`` of ``seen`` with the rim whose own unknowns stand at ``own`` (3,)."""
    images, moves, slopes, rows, table = (
        workspace.images,
        workspace.moves,
        workspace.slopes,
        workspace.rows,
        workspace.table,
    )
    plane_ways(laid, k, lens, params, images, workspace.by)
    radius = np.exp(min(own[2], LARGEST))
    for w in range(2):
        for i in range(3):
            images[w, i] *= radius
            moves[w, i, 2] = images[w, i]
            for c in range(REST):
                moves[w, i, OWN + c] = radius * workspace.by[w, i, c]
    support_form(own[0], own[1], images, moves, workspace.form, slopes)
    count = outline_rows(laid, k, workspace.form, rows)
    square = 0.0
    for i in range(count):
        square += rows[i, FORM] * rows[i, FORM]
    seen.cost[k] = square - laid.chi2[k]
    # all move the outline through the ellipse's five numbers: as many rows as these say everything
    triangulate(rows, count, FORM)
    count = min(count, FORM)
    # the rim's own unknowns first, then two free turns of the ellipse: what they leave is noise
    table[:] = 0.0
    for i in range(count):
        for e in range(i, FORM):
            for c in range(OWN):
                table[i, c] += rows[i, e] * slopes[e, c]
            for c in range(REST):
                table[i, OWN + TURNS + c] += rows[i, e] * slopes[e, OWN + c]
        table[i, 3], table[i, 4] = rows[i, 2] - rows[i, 4], rows[i, 3]
        table[i, OWN + TURNS + REST] = rows[i, FORM]
    triangulate(table, count, OWN + TURNS)
    for i in range(OWN):
        seen.own_r[k, i] = table[i, OWN + TURNS + REST]
        for c in range(OWN):
            seen.own_root[k, i, c] = table[i, c] if c >= i else 0.0
        for c in range(REST):
            seen.own_by[k, i, c] = table[i, OWN + TURNS + c]
    for i in range(TURNS):
        row = OWN + i
        seen.z[k, i] = table[row, OWN + TURNS + REST] if row < count else 0.0
        for c in range(REST):
            seen.by[k, i, c] = table[row, OWN + TURNS + c] if row < count else 0.0


@compiled
def advance(seen: RimLook, k: int, moved: Floats, own: Floats, found: Floats) -> None:
    """Write into ``found`` (3,) where the own unknowns ``own`` (3,) of rim ``k`` come to rest after its camera
    and bearing move by ``moved`` (6,), to first order.
    """
    target = np.empty(OWN)
    for i in range(OWN):
        target[i] = seen.own_r[k, i]
        for c in range(REST):
            target[i] += seen.own_by[k, i, c] * moved[c]
    for i in range(OWN - 1, -1, -1):
        left = -target[i]
        for c in range(i + 1, OWN):
            left -= seen.own_root[k, i, c] * found[c]
        held = seen.own_root[k, i, i]
        if abs(held) < SMALLEST_ROOT:
            held = -SMALLEST_ROOT if held < 0 else SMALLEST_ROOT
        found[i] = left / held
    size = np.exp(own[2])
    found[0], found[1] = own[0] + min(max(found[0], -size), size), own[1] + min(max(found[1], -size), size)
    found[2] = own[2] + min(max(found[2], -0.5), 0.5)


@compiled
def copy_rim(seen: RimLook, into: RimLook, k: int) -> None:
    into.cost[k] = seen.cost[k]
    for i in range(OWN):
        into.own_r[k, i] = seen.own_r[k, i]
        for c in range(OWN):
            into.own_root[k, i, c] = seen.own_root[k, i, c]
        for c in range(REST):
            into.own_by[k, i, c] = seen.own_by[k, i, c]
    for i in range(TURNS):
        into.z[k, i] = seen.z[k, i]
        for c in range(REST):
            into.by[k, i, c] = seen.by[k, i, c]


@compiled
def bring_to_rest(
    laid: LaidRims, k: int, lens: Lens, params: Floats, own: Floats, workspace: Workspace, seen: RimLook, steps: int
) -> None:
    """Bring the own unknowns ``own`` (3,) of rim ``k`` to rest under a fixed camera, in place, and its row of ``seen``
    with them; a step that would not help is shortened. Where they are no numbers it starts afresh: the circle
    about as large as its arc, which may be the near or the far part of it, whichever holds the points better.
    """
    begin = np.isnan(own[0])
    trial, still, reach = np.empty(OWN), np.zeros(REST), 1.0
    there = room_for(len(laid.many))
    tried = 1
    x, y, mx, my = 0.0, 0.0, 0.0, 0.0
    if begin:
        tried = len(ARC_PARTS)
        images = workspace.images
        plane_ways(laid, k, lens, params, images, workspace.by)
        x, y = laid.start[k, 0], laid.start[k, 1]
        ax, ay = images[0, 0] - x * images[0, 2], images[0, 1] - y * images[0, 2]
        bx, by = images[1, 0] - x * images[1, 2], images[1, 1] - y * images[1, 2]
        wide, narrow, angle = halves(ax * ax + bx * bx, ax * ay + bx * by, ay * ay + by * by)
        radius = laid.half_major[k] / max(wide, 1e-9)
        own[2] = np.log(radius)
        mx, my = -np.sin(angle) * narrow * radius, np.cos(angle) * narrow * radius
    for turn in range(tried + steps):
        # first the starts, then the steps from the best of them
        first = turn < tried
        if first:
            for i in range(OWN):
                trial[i] = own[i]
            if begin:
                trial[0], trial[1] = x + ARC_PARTS[turn] * mx, y + ARC_PARTS[turn] * my
        else:
            advance(seen, k, still, own, trial)
            for i in range(OWN):
                trial[i] = own[i] + reach * (trial[i] - own[i])
        look_at_rim(laid, k, lens, params, trial, workspace, there)
        if turn == 0 or there.cost[k] <= seen.cost[k] + (0.0 if first else 1e-9):
            for i in range(OWN):
                own[i] = trial[i]
            copy_rim(there, seen, k)
            reach = 1.0
        elif not first:
            reach *= 0.25


@compiled
def see_rims(laid: LaidRims, params: Floats, own: Floats, steps: int, wanted: Floats) -> RimLook:
    """The rims ``wanted`` (R,; not zero) under one camera, with their own unknowns ``own`` (R, 3) brought to rest by
    ``steps`` steps, in place; what is no number starts afresh.
    """
    lens, seen, workspace = lens_of(params), room_for(len(own)), workspace_for(laid.points.shape[1])
    for k in range(len(own)):
        if wanted[k] == 0.0:
            continue
        if steps <= 0:
            look_at_rim(laid, k, lens, params, own[k], workspace, seen)
        else:
            bring_to_rest(laid, k, lens, params, own[k], workspace, seen, steps)
    return seen
