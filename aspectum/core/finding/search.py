"""The view in which most lines are uprights or level edges of a few bearings, found among all views.

Every view of a grid is asked: under one camera a line is an upright, or it meets eye level at one bearing; level edges
of a form share two bearings square to each other, so that folded by 90° they pile up. Few piles that hold much make a
view good. Nothing is drawn by lot: five unknowns less the bearings are three, and three can be walked through (compare
Lu, Yao, Wang & Jiang, 2-Line Exhaustive Searching for Real-Time Vanishing Point Estimation in Manhattan World, WACV
2017, which walks two lines at a time instead).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from aspectum.core.finding.lines import Lines, turned_by
from aspectum.core.plane.compiled import compiled
from aspectum.core.plane.lines import Floats
from aspectum.core.plane.projection import focal_of
from aspectum.core.view.camera import FIRST_BEARING, LOG_F, PITCH, ROLL, camera_matrix, eye_level_height
from aspectum.core.view.lens import EXIF_LOG_SD, TYPICAL_FOCAL_35MM, TYPICAL_LOG_SD

BINS = 120  # of a quarter turn
MOST_BEARINGS = 4  # families of level lines held at once: a house and its neighbour askew to it
# mean lines that a further bearing must gather beyond what it explains: square families are common, new bearings rare
NEW_BEARING = 8.0
A_RIM, STANDING = (
    3.0,
    0.6,
)  # mean lines that a level circle counts, and what one that stands upright counts of that: more circles do by chance
AXIS_SD = np.radians(2.5)  # of a circle's axis by its ellipse
REACH = 3.0  # standard deviations at which a line no longer counts for a direction
SURE_BEARING = np.radians(30.0)  # a line whose bearing is less sure says less: on eye level it fits every one
MOST_LINES = 120  # the longest; brick and tile would outvote a house
SHARE = 0.08  # of the picture's diagonal: a line this long counts one
# from a phone's wide lens to a short tele, each 1.3 to 1.4 times the last: focal lengths err by less after settling
FOCALS_35MM = (22.0, 28.0, 36.0, 48.0, 68.0)
# as far as photos of things and buildings are tilted, in steps that settling bridges
PITCHES = np.radians(np.arange(-48.0, 48.1, 1.5))
ROLLS = np.radians(np.arange(-6.0, 6.1, 1.0))  # nobody holds a camera more askew on purpose
COARSE = np.radians(0.6)  # what half a step of the grid turns a line by
PITCH_SD, ROLL_SD = np.radians(16.0), np.radians(2.5)  # how photographs are held
HELD = 4.0  # mean lines that one standard deviation of it weighs
# powers of how many like it stand about a line by which it comes later among the longest, and counts less: planks and
# courses go wrong together
ORDER, LIKE = 0.25, 0.5
# by how much likelier (log) a view is that explains all lines than one that explains none: by the gallery, all of it
SCORE_SAYS = 100.0
# a view that explains less of the lines than that is less sure than those that it does explain can tell: by the inverse
# of the share, to the third power (held against shaded views of stands with a known view, of which so nineteen of
# twenty fall within the interval)
FULL_VIEW, UNSURE = 0.4, 3.0
# views that are settled, and how far apart on the grid two must lie to be two; more cost time and find the same
KEPT, NEIGHBOURS = 12, np.radians(1.6)
STEPS = (
    (0.10, 0.9, 0.7),
    (0.06, 0.5, 0.4),
    (0.03, 0.25, 0.2),
    (0.015, 0.12, 0.1),
)  # log focal, degrees of pitch and roll: a walk's ever finer steps


@dataclass(frozen=True)
class Guess:
    """A view as the search leaves it: ``params`` as in ``view.camera``, a bearing for each pile; ``score``: mean lines
    explained.
    """

    params: Floats
    score: float


@compiled(always=True)
def gather_piles(
    camera: Floats,
    middle: Floats,
    way: Floats,
    sd: Floats,
    weight: Floats,
    rounds: Floats,
    taken: Floats,
    bearings: Floats,
    new_bearing: float,
) -> tuple[float, int]:
    """What a view with ``camera`` (3, 3) explains of lines by ``middle`` and ``way`` (n, 2) with tilts good to ``sd``
    (n,), weighed by ``weight`` (n,), and of ``rounds`` (k, 8), circles by their two possible axes (unit directions from
    the eye), the error of these (radians) and weight: the sum, and how many ``bearings`` (b,) were written. ``taken``
    (n + 2k,): what of each line, and of a circle by either axis, is explained.
    """
    lines, n = len(sd), len(sd) + 2 * len(rounds)
    bearing, loose, pile, weighs = np.empty(n), np.empty(n), np.zeros(BINS), np.zeros(n)
    weighs[:lines] = weight
    step = 0.5 * np.pi / BINS
    total = 0.0
    focal = np.sqrt(camera[0, 0] * camera[0, 0] + camera[1, 0] * camera[1, 0])
    for k in range(len(rounds)):
        level, known = 0.0, rounds[k, 6]
        for which in range(2):
            i = lines + 2 * k + which
            a, b, c = rounds[k, 3 * which] / focal, rounds[k, 3 * which + 1] / focal, rounds[k, 3 * which + 2]
            east = camera[0, 0] * a + camera[1, 0] * b + camera[2, 0] * c
            north = camera[0, 1] * a + camera[1, 1] * b + camera[2, 1] * c
            up = camera[0, 2] * a + camera[1, 2] * b + camera[2, 2] * c
            flat = np.arccos(min(abs(up), 1.0)) / known
            level = max(level, 1.0 - (flat / REACH) ** 2)
            stands = max(0.0, 1.0 - (np.arcsin(min(abs(up), 1.0)) / known / REACH) ** 2)
            bearing[i], loose[i], taken[i], weighs[i] = (
                np.arctan2(east, north) % (0.5 * np.pi),
                known,
                0.0,
                STANDING * rounds[k, 7] * stands,
            )
        if level > 0.0:
            total += rounds[k, 7] * level
            weighs[lines + 2 * k] = weighs[lines + 2 * k + 1] = 0.0
    upright = camera[:, 2].copy()
    for i in range(lines):
        x, y = middle[i]
        off = turned_by(upright, middle[i], way[i]) / sd[i]
        taken[i] = weight[i] * max(0.0, 1.0 - (off / REACH) ** 2)
        total += taken[i]
        # as a level line its bearing, and that of the line turned by its own error
        for turned in range(2):
            ax, ay = way[i]
            if turned == 1:
                ax, ay = ax - sd[i] * way[i, 1], ay + sd[i] * way[i, 0]
            a, b = ay, -ax
            c = -(a * x + b * y)
            east = camera[0, 0] * a + camera[1, 0] * b + camera[2, 0] * c
            north = camera[0, 1] * a + camera[1, 1] * b + camera[2, 1] * c
            at = np.arctan2(-north, east)
            if turned == 0:
                bearing[i] = at % (0.5 * np.pi)
                first = at
            else:
                loose[i] = max(abs((at - first + 0.5 * np.pi) % np.pi - 0.5 * np.pi), 0.5 * step)
    count = 0
    while count < len(bearings):
        pile[:] = 0.0
        for i in range(n):
            left = (weighs[i] - taken[i]) * min(1.0, SURE_BEARING / loose[i])
            if left <= 0.05 * weighs[i]:
                continue
            wide = min(int(REACH * loose[i] / step) + 1, BINS // 2 - 1)
            middle_bin = int(bearing[i] / step)
            for k in range(middle_bin - wide, middle_bin + wide + 1):
                off = ((k + 0.5) * step - bearing[i]) / loose[i]
                pile[k % BINS] += left * max(0.0, 1.0 - (off / REACH) ** 2)
        best = np.argmax(pile)
        if pile[best] < new_bearing:
            break
        # the middle of what lies about the fullest place
        at, gain = (best + 0.5) * step, 0.0
        for _ in range(2):
            pull, hold = 0.0, 0.0
            for i in range(n):
                apart = (bearing[i] - at + 0.25 * np.pi) % (0.5 * np.pi) - 0.25 * np.pi
                off = apart / loose[i]
                if abs(off) < REACH:
                    kept = (weighs[i] - taken[i]) * (1.0 - (off / REACH) ** 2) / (loose[i] * loose[i])
                    pull, hold = pull + kept * apart, hold + kept
            if hold > 0:
                at += pull / hold
        c, s = np.cos(at), np.sin(at)
        # both families' vanishing points, homogeneous
        own = camera[:, 0] * s + camera[:, 1] * c
        square = camera[:, 1] * s - camera[:, 0] * c
        for i in range(n):
            off = ((bearing[i] - at + 0.25 * np.pi) % (0.5 * np.pi) - 0.25 * np.pi) / loose[i]
            if i < lines:
                # by how far the line itself is off: under a long lens bearings lie so close that a pile would hold
                # lines of any tilt
                off = min(turned_by(own, middle[i], way[i]), turned_by(square, middle[i], way[i])) / sd[i]
            found = weighs[i] * min(1.0, SURE_BEARING / loose[i]) * max(0.0, 1.0 - (off / REACH) ** 2)
            if found > taken[i]:
                gain += found - taken[i]
                taken[i] = found
        if gain < new_bearing:
            break
        bearings[count] = at
        count += 1
        total += gain - new_bearing
    return total, count


@compiled(always=True)
def ask_all(
    views: Floats,
    middle: Floats,
    way: Floats,
    sd: Floats,
    weight: Floats,
    rounds: Floats,
    held: Floats,
    new_bearing: float,
) -> Floats:
    """The score (v,) of each of ``views`` (v, 5), less what its holding costs."""
    scores, taken, bearings = np.empty(len(views)), np.empty(len(sd) + 2 * len(rounds)), np.empty(MOST_BEARINGS)
    for v in range(len(views)):
        total, _ = gather_piles(camera_matrix(views[v]), middle, way, sd, weight, rounds, taken, bearings, new_bearing)
        scores[v] = total - held_cost(views[v], held)
    return scores


@compiled(always=True)
def held_cost(view: Floats, held: Floats) -> float:
    """What an unusual lens or hold costs; ``held``: usual log focal, and what one standard deviation of lens, pitch and
    roll is.
    """
    lens, pitch, roll = (view[LOG_F] - held[0]) / held[1], view[PITCH] / held[2], view[ROLL] / held[3]
    cost: float = 0.5 * held[4] * (lens * lens + pitch * pitch + roll * roll)
    return cost


def find_guesses(lines: Lines, focal_35mm: float | None, like: Floats, rounds: Floats, most: int = 6) -> list[Guess]:
    """The views that explain most of the longest of ``lines``, each with ``like`` (n,) others about it, and of
    ``rounds`` (k, 6), ellipses as their middle, half axes, direction of the longer (camera units, radians) and what
    each counts (0 to 1); best first, none of them twice.
    """
    order = np.argsort(-lines.length_px / (1.0 + like) ** ORDER, kind="stable")[:MOST_LINES]
    longest = lines.take(order)
    if len(longest) < 2:
        return []
    weight = weights(longest) / (1.0 + like[order]) ** LIKE
    new_bearing = NEW_BEARING * float(weight.mean())
    a_rim = A_RIM * float(weight.mean())
    long_side = max(lines.width_px, lines.height_px) / lines.scale
    focals = [focal_35mm] if focal_35mm else list(FOCALS_35MM)
    usual = np.log(focal_of(focal_35mm or TYPICAL_FOCAL_35MM, long_side))
    held = np.array(
        [usual, EXIF_LOG_SD if focal_35mm else TYPICAL_LOG_SD, PITCH_SD, ROLL_SD, HELD * float(weight.mean())]
    )
    grid = np.zeros((len(focals) * len(PITCHES) * len(ROLLS), FIRST_BEARING))
    f, p, r = np.meshgrid(np.log([focal_of(v, long_side) for v in focals]), PITCHES, ROLLS, indexing="ij")
    grid[:, LOG_F], grid[:, PITCH], grid[:, ROLL] = f.ravel(), p.ravel(), r.ravel()
    coarse = np.hypot(longest.tilt_sd, COARSE)
    per_focal = len(PITCHES) * len(ROLLS)
    scores = np.concatenate(
        [
            ask_all(
                part,
                longest.middle,
                longest.way,
                coarse,
                weight,
                circle_axes(rounds, float(np.exp(part[0, LOG_F])), a_rim),
                held,
                new_bearing,
            )
            for part in np.split(grid, len(grid) // per_focal)
        ]
    )
    found: list[Guess] = []
    for k in apart(grid, scores):
        view, score = grid[k].copy(), -np.inf
        for lens, pitch, roll in STEPS:
            steps = np.array(
                [
                    [a * lens, b * np.radians(pitch), c * np.radians(roll)]
                    for a in (-1, 0, 1)
                    for b in (-1, 0, 1)
                    for c in (-1, 0, 1)
                ]
            )
            if focal_35mm:
                steps = steps[steps[:, 0] == 0]
            circles = circle_axes(rounds, float(np.exp(view[LOG_F])), a_rim)
            loose = np.hypot(longest.tilt_sd, np.radians(pitch) / 2)
            score = -np.inf
            for _ in range(8):
                near = np.repeat(view[None], len(steps), axis=0)
                near[:, [LOG_F, PITCH, ROLL]] += steps
                asked = ask_all(near, longest.middle, longest.way, loose, weight, circles, held, new_bearing)
                best = int(np.argmax(asked))
                if asked[best] <= score + 1e-9:
                    break
                view, score = near[best], float(asked[best])
        found.append(Guess(view, score))
    found.sort(key=lambda g: -g.score)
    kept: list[Guess] = []
    for guess in found:
        if all(np.abs(guess.params[:3] - k.params[:3]).max() > 0.03 for k in kept):
            kept.append(guess)
    return [
        with_bearings(g, longest, weight, circle_axes(rounds, float(np.exp(g.params[LOG_F])), a_rim), new_bearing)
        for g in kept[:most]
    ]


def doubt(guesses: list[Guess], lines: Lines) -> tuple[float, float]:
    """How far other views that explain nearly as much put eye level (px, in the middle) and focal length (a share) from
    the best: root mean square over all, each as likely as its score says.
    """
    best = guesses[0]
    likely = np.exp([(g.score - best.score) * SCORE_SAYS for g in guesses])
    heights = np.array([eye_level_height(g.params, 0.0)[0] for g in guesses]) * lines.scale
    lenses = np.array([g.params[LOG_F] for g in guesses])
    of = likely / likely.sum()
    return float(np.sqrt(of @ (heights - heights[0]) ** 2)), float(np.sqrt(of @ (lenses - lenses[0]) ** 2))


def widening(score: float) -> float:
    """By how much the errors of a view that explains ``score`` of the lines (as ``Guess`` has it) are larger than its
    lines alone say.
    """
    return float(max(FULL_VIEW / score, 1.0) ** UNSURE)


def apart(grid: Floats, scores: Floats) -> list[int]:
    """The best of a grid's views, none of them beside a better one."""
    kept: list[int] = []
    for k in np.argsort(-scores):
        if all(
            np.abs(grid[k, [PITCH, ROLL]] - grid[o, [PITCH, ROLL]]).max() > NEIGHBOURS
            or abs(grid[k, LOG_F] - grid[o, LOG_F]) > 0.5
            for o in kept
        ):
            kept.append(int(k))
        if len(kept) == KEPT:
            break
    return kept


def weights(lines: Lines) -> Floats:
    """What each line counts: by the root of its length, so that many short ones do not outvote a long one nor one the
    rest.
    """
    return np.sqrt(np.minimum(lines.length_px / (SHARE * 2 * lines.scale), 4.0))


def circle_axes(rounds: Floats, focal: float, weight: float) -> Floats:
    """(k, 8) of ellipses (k, 6) seen through a lens of ``focal``: the two axes that a circle may have which looks so,
    as unit directions from the eye, their error and ``weight`` (the cone through an ellipse has two circular sections;
    Safaee-Rad et al., IEEE Trans. Robotics and Automation 8(5), 1992).
    """
    out = np.zeros((len(rounds), 8))
    for k, (x, y, major, minor, way, worth) in enumerate(rounds.tolist()):
        c, s = np.cos(way), np.sin(way)
        turn = np.array([[c, -s, x], [s, c, y], [0.0, 0.0, 1.0]])
        to_circle = np.linalg.inv(turn) @ np.diag([focal, focal, 1.0])
        cone = to_circle.T @ np.diag([1 / major**2, 1 / minor**2, -1.0]) @ to_circle
        low, middle, high = np.linalg.eigh(cone)[0]
        frame = np.linalg.eigh(cone)[1]
        along, across = (
            np.sqrt(max((high - middle) / (high - low), 0.0)),
            np.sqrt(max((middle - low) / (high - low), 0.0)),
        )
        for which, sign in enumerate((1.0, -1.0)):
            out[k, 3 * which : 3 * which + 3] = along * frame[:, 2] + sign * across * frame[:, 0]
        out[k, 6:] = AXIS_SD, weight * worth
    return out


def with_bearings(guess: Guess, lines: Lines, weight: Floats, circles: Floats, new_bearing: float) -> Guess:
    taken, bearings = np.empty(len(lines) + 2 * len(circles)), np.empty(MOST_BEARINGS)
    _, count = gather_piles(
        camera_matrix(guess.params),
        lines.middle,
        lines.way,
        lines.tilt_sd,
        weight,
        circles,
        taken,
        bearings,
        new_bearing,
    )
    return Guess(np.concatenate([guess.params, bearings[:count]]), guess.score / float(weight.sum()))
