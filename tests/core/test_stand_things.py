"""What is set up on the stand: closed surfaces of the right size, turned and built up as the handbook's numbers say."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
import shapely

from aspectum.core.sightings import Point
from aspectum.core.stand.camera import View
from aspectum.core.stand.construction import construction
from aspectum.core.stand.drawing import draw
from aspectum.core.stand.drawn_on import Hand, drawn_on
from aspectum.core.stand.elevations import (
    Elevations,
    carried,
    divided,
    elevations_of,
    measured,
    mirrored,
    off_middle,
    resized,
    right_half,
    snapped,
    thing_of,
)
from aspectum.core.stand.kinds import Parallel, RoofKind, Stage, Wall, Weight
from aspectum.core.stand.paths import Path, flat
from aspectum.core.stand.presets import Preset, preset
from aspectum.core.stand.setting import set_up
from aspectum.core.stand.shapes import solid_of
from aspectum.core.stand.solid import about_z
from aspectum.core.stand.steps import steps
from aspectum.core.stand.things import (
    AnyThing,
    Box,
    Building,
    Chimney,
    Cone,
    Cylinder,
    Figure,
    Flight,
    Hull,
    Opening,
    Outline,
    Ramp,
    Section,
    Stand,
    StandError,
    Tube,
    Turned,
    Wheels,
)
from aspectum.core.stand.turning import About, end_on_turns, poses, quarter_turns, strip_offsets
from tests.samples import sample
from tests.stand_scenes import ARCH, ELL, LAMP, VASE, WINDOW, mesh_of, scaled

ROUND = math.pi
SQUARE = View(parallel=Parallel.SQUARE, px_per_m=100.0)


@pytest.mark.parametrize(
    ("thing", "volume"),
    [
        (Box("t", size_m=(0.6, 0.4, 0.5)), 0.12),
        (Cylinder("t", radius_m=0.2, height_m=0.5), ROUND * 0.02),
        (Cylinder("t", radius_m=0.2, height_m=0.5, lean_deg=90.0), ROUND * 0.02),
        (Cone("t", radius_m=0.3, top_radius_m=0.0, height_m=0.6), ROUND * 0.018),
        (Cone("t", radius_m=0.3, top_radius_m=0.1, height_m=0.6), ROUND * 0.6 / 3 * (0.09 + 0.03 + 0.01)),
        (Tube("t", radius_m=0.2, height_m=0.5, wall_m=0.05), ROUND * 0.5 * (0.04 - 0.0225)),
        (Tube("t", radius_m=0.2, height_m=0.5, wall_m=0.05, floor_m=0.1), ROUND * (0.5 * 0.04 - 0.4 * 0.0225)),
        (
            Wheels("t", radius_m=0.3, width_m=0.1, gauge_m=0.8, axle_radius_m=0.05),
            ROUND * (2 * 0.1 * 0.09 + 0.7 * 0.0025),
        ),
        (Outline("t", outline=ELL, depth_m=0.5), 0.5 * (0.3 + 0.4 * 0.7)),
        (Ramp("t", size_m=(2.0, 6.0, 1.0)), 6.0),
        (Building("t", size_m=(6.0, 4.0, 3.0), roof=RoofKind.GABLED, rise_m=1.5, eaves_m=0.0), 72.0 + 18.0),
        (Building("t", size_m=(6.0, 4.0, 3.0), roof=RoofKind.PENT, rise_m=1.0, eaves_m=0.0), 72.0 + 12.0),
        # a hipped roof is a wedge under its ridge and two half pyramids: rise · depth / 6 · (2 · width + ridge)
        (
            Building("t", size_m=(6.0, 4.0, 3.0), roof=RoofKind.HIPPED, rise_m=1.5, eaves_m=0.0),
            72.0 + 1.5 * 4.0 / 6 * (2 * 6.0 + 2.0),
        ),
        (
            Building(
                "t",
                size_m=(6.0, 4.0, 3.0),
                roof=RoofKind.FLAT,
                eaves_m=0.0,
                openings=(Opening(Wall.BACK, 1.0, 1.0, 2.0, 1.0, 0.2),),
            ),
            72.0 - 0.4,
        ),
        (
            Building(
                "t",
                size_m=(6.0, 4.0, 3.0),
                roof=RoofKind.FLAT,
                eaves_m=0.0,
                flights=(Flight(Wall.LEFT, 2.0, 1.0, 3, 0.2, 0.3),),
            ),
            72.0 + 0.06 * 6,
        ),
    ],
)
def test_surfaces_enclose_what_they_should(thing: AnyThing, volume: float) -> None:
    """Volumes by the formulas of solid geometry, of a mesh made by a library from the surface; all faces turned
    outwards.
    """
    mesh = mesh_of(solid_of(thing, 1e-6))
    assert mesh.volume == pytest.approx(volume, rel=2e-5)


@pytest.mark.parametrize("roof", list(RoofKind))
@pytest.mark.parametrize("eaves", [0.0, 0.3])
def test_buildings_have_all_their_parts_and_a_chimney_that_meets_the_roof(roof: RoofKind, eaves: float) -> None:
    house = Building(
        "h", size_m=(6.0, 4.0, 3.0), roof=roof, rise_m=1.2, eaves_m=eaves, chimney=Chimney((1.0, 0.1), (0.6, 0.5), 0.4)
    )
    solid = solid_of(house, 1e-4)
    assert solid.high[2] == pytest.approx(
        3.0 + (0.0 if roof is RoofKind.FLAT else 1.2) + 0.4 + (0.12 if eaves and roof is not RoofKind.HIPPED else 0.0)
    )
    feet = [
        c
        for f, name in enumerate(solid.face_name)
        if name == "chimney"
        for c in solid.corners[solid.face_corner[solid.face_start[f] : solid.face_start[f + 1]]]
    ]
    roofs = [f for f, name in enumerate(solid.face_name) if name == "roof"]
    for foot in feet:
        if foot[2] < solid.high[2] - 1e-9:  # every foot stands on a plane of the roof
            assert min(abs(float(solid.normal[f] @ foot - solid.offset[f])) for f in roofs) < 1e-9


@pytest.mark.parametrize(
    ("opening", "fault"),
    [
        (Opening(Wall.FRONT, 5.5, 0.0, 1.0, 2.0), "beyond the front wall"),
        (Opening(Wall.FRONT, 1.0, 2.0, 1.0, 1.5), "beyond the front wall"),
        (Opening(Wall.FRONT, 0.2, 0.5, 1.0, 1.0), "two openings meet"),
    ],
)
def test_openings_that_do_not_fit_are_refused(opening: Opening, fault: str) -> None:
    with pytest.raises(StandError, match=fault) as refused:
        solid_of(Building("h", openings=(Opening(Wall.FRONT, 1.0, 1.0, 1.0, 1.0), opening)), 1e-4)
    assert refused.value.place == "h.openings[1]"


@pytest.mark.parametrize("seed", range(4))
def test_smooth_outlines_keep_to_their_tolerance_and_pass_through_their_points(seed: int) -> None:
    """Against the same curve cut a hundred times finer, by shapely's Hausdorff distance."""
    rng = np.random.default_rng(seed)
    turns = np.sort(rng.uniform(0, 2 * np.pi, 9))
    points: list[Point] = [
        (float(math.cos(t) * r), float(math.sin(t) * r)) for t, r in zip(turns, rng.uniform(0.5, 1.0, 9), strict=True)
    ]
    path = Path(tuple(points), tuple(i for i in range(9) if i % 4))
    rough, fine = flat(path, True, 1e-3), flat(path, True, 1e-7)
    assert (
        shapely.hausdorff_distance(shapely.LinearRing(rough.points), shapely.LinearRing(fine.points), densify=0.01)
        < 1.2e-3
    )
    assert {tuple(p) for p in points} <= {tuple(p) for p in rough.points.tolist()}
    assert shapely.LinearRing(fine.points).is_simple


def test_an_outline_of_given_depths_has_them_there() -> None:
    """A section at a share of the length sets the width there; between two the width changes evenly."""
    thing = Outline("toy", outline=ARCH, depth_m=0.4, widths=((0.0, 0.2), (0.25, 0.6), (1.0, 0.2)))
    solid = solid_of(thing, 1e-4)
    for share, width in ((0.0, 0.2), (0.25, 0.6), (1.0, 0.2)):
        there = solid.corners[np.abs(solid.corners[:, 0] - (share - 0.5)) < 1e-9]
        assert np.ptp(there[:, 1]) == pytest.approx(width)
    cut = Stand((thing, Section("cut", of="toy", along="x", share=0.125)))
    room = np.vstack([c.room for c in draw(cut, View()).curves if c.thing == "cut"])
    assert np.ptp(room[:, 1]) == pytest.approx(0.4)
    letter_c = Path(
        ((-0.5, 0.0), (0.5, 0.0), (0.5, 0.2), (-0.3, 0.2), (-0.3, 0.8), (0.5, 0.8), (0.5, 1.0), (-0.5, 1.0))
    )
    with pytest.raises(StandError, match="one piece"):
        solid_of(Outline("c", outline=letter_c, widths=((0.0, 0.2), (0.5, 0.3))), 1e-4)


@pytest.mark.parametrize(
    ("turned", "ratio", "length"), [(22.5, 0.383, 0.924), (45.0, 0.707, 0.707), (67.5, 0.924, 0.383)]
)
def test_a_cylinder_turned_end_on_opens_by_the_sine_and_shortens_by_the_cosine(
    turned: float, ratio: float, length: float
) -> None:
    """Handbook section 3."""
    pose = poses(Cylinder("drum", radius_m=0.3, height_m=1.0), [turned], About.END_ON, SQUARE)[0]
    assert list(pose.degrees_deg.values()) == pytest.approx([turned] * 2)
    assert pose.drawing.rims[0].ellipse.ratio == pytest.approx(ratio, abs=5e-4)
    assert pose.length_px / 100 == pytest.approx(length, abs=5e-4)


@pytest.mark.parametrize(("turned", "width"), [(0.0, 2.0), (22.5, 2.23), (45.0, 2.121), (67.5, 1.689), (90.0, 1.0)])
def test_a_turning_box_is_as_wide_as_the_table_says(turned: float, width: float) -> None:
    """Handbook section 3: a box 2 × 1; its cosine times 2 and its sine (2.2304 at 22.5°)."""
    pose = poses(Box("box", size_m=(2.0, 1.0, 1.0)), [turned], About.UPRIGHT, SQUARE)[0]
    assert pose.width_px / 100 == pytest.approx(width, abs=1e-3)
    assert pose.height_px / 100 == pytest.approx(1.0)


def test_marks_crowd_towards_the_outline_of_a_turning_form() -> None:
    """Handbook section 3: R·sin θ; front and back share one outline."""
    pose = poses(Cylinder("tin"), [0.0], About.UPRIGHT, SQUARE, marks_deg=(0.0, 22.5, 45.0, 67.5, 90.0, 180.0))[0]
    assert [place for _, place in pose.marks] == pytest.approx([0.0, 0.383, 0.707, 0.924, 1.0], abs=5e-4)


def test_poses_come_by_quarter_turns_then_their_halves_and_stand_in_one_row() -> None:
    assert quarter_turns(4) == [0, 90, 180, 270]
    assert quarter_turns(12) == [0, 90, 180, 270, 45, 135, 225, 315, 22.5, 67.5, 112.5, 157.5]
    row = poses(Box("box", size_m=(2.0, 1.0, 1.0)), sorted(quarter_turns(8)), About.UPRIGHT, SQUARE)
    places = strip_offsets(row)
    assert np.diff(places) == pytest.approx(np.diff(places)[0])
    assert np.diff(places)[0] > max(pose.width_px for pose in row)
    with pytest.raises(StandError, match="round"):
        poses(Box("box"), [0.0], About.END_ON, SQUARE)


def test_steps_build_a_carried_outline_up_in_the_order_of_drawing() -> None:
    stand = Stand(
        (
            Outline("sign", outline=ARCH, holes=(WINDOW,), depth_m=0.3, turn_deg=30.0),
            Box("before", at_m=(0.0, -1.0), size_m=(0.3, 0.3, 0.3)),
        )
    )
    view = preset(Preset.TWO_POINT, set_up(stand, {}, 1e-3), View())
    found = steps(stand, view, "sign")
    assert [s.stage for s in found] == [
        Stage.EYE_LEVEL,
        Stage.ENCLOSING_BOX,
        Stage.DIAGONALS,
        Stage.NEAR_FACE,
        Stage.CARRIED_THROUGH,
        Stage.HIDDEN,
        Stage.LINED_IN,
    ]
    assert all(
        s.weight is (Weight.THICK if step.stage is Stage.LINED_IN else Weight.THIN)
        for step in found
        for s in step.strokes
    )
    box = next(s for s in found if s.stage is Stage.ENCLOSING_BOX)
    assert len(box.strokes) == 12
    # the diagonals and the middle lines of the near face meet in one point (handbook section 4)
    lines = [shapely.LineString(s.points) for s in next(s for s in found if s.stage is Stage.DIAGONALS).strokes]
    meets = [a.intersection(b) for i, a in enumerate(lines) for b in lines[:i]]
    assert max(m.distance(meets[0]) for m in meets) < 1e-6


def test_the_near_face_of_a_form_of_changing_depth_is_its_nearer_half() -> None:
    toy = Outline("toy", outline=ELL, depth_m=0.4, widths=((0.0, 0.2), (0.5, 0.4), (1.0, 0.1)), turn_deg=20.0)
    found = {s.stage: s for s in steps(Stand((toy,)), View(eye_m=(0.3, -3.0, 0.8)), "toy")}
    sides = len(ELL.points) + 2  # crossed above and below where the depth is given half-way
    assert len(found[Stage.NEAR_FACE].strokes) == sides + 1  # and the crease there
    assert len(found[Stage.CARRIED_THROUGH].strokes) == len(ELL.points)  # its flat top and foot have no crease


def test_steps_put_ellipses_in_their_squares_before_anything_is_lined_in() -> None:
    """Handbook section 3: the ellipse touches the middles of the square's sides."""
    stand = Stand((Turned("lamp", profile=scaled(LAMP, 0.3)),))
    view = preset(Preset.NORMAL, set_up(stand, {}, 1e-3), View())
    found = {s.stage: s for s in steps(stand, view, "lamp")}
    assert list(found) == [
        Stage.EYE_LEVEL,
        Stage.ENCLOSING_BOX,
        Stage.DIAGONALS,
        Stage.AXES,
        Stage.SQUARES,
        Stage.RIMS,
        Stage.LINED_IN,
    ]
    for rim, points in zip(draw(stand, view).rims, (s.points for s in found[Stage.RIMS].strokes), strict=True):
        ring = shapely.Polygon(points)
        sides = [shapely.LineString(s.points) for s in found[Stage.SQUARES].strokes]
        assert sum(side.distance(shapely.LineString(points)) < 0.5 for side in sides) >= 4
        assert ring.area == pytest.approx(math.pi / 4 * rim.ellipse.major_px * rim.ellipse.minor_px, rel=2e-3)
    with pytest.raises(StandError, match="no thing"):
        steps(stand, view, "jar")


def test_what_is_drawn_through_has_its_box_axis_and_footprint() -> None:
    stand = Stand(
        (
            Box("box", size_m=(1.0, 1.0, 0.5)),
            Turned("jar", on="box", profile=scaled(VASE, 0.2), wall_m=0.01),
            Figure("figure", at_m=(1.0, 1.0)),
            Hull("h", stations=((0.0, ((0.0, 0.0), (0.2, 0.1))), (1.0, ((0.0, 0.0), (0.1, 0.1))))),
        )
    )
    view = View(eye_m=(0.5, -4.0, 2.0), pitch_deg=-15.0)
    for placed in draw(stand, view).placed:
        built = construction(placed, view)
        assert len(built.box) == 12
        assert len(built.footprint) == 1
        assert len(built.axes) == len(placed.body.lathes)
    ring = np.array(construction(draw(stand, view).placed[1], view).footprint[0])
    ground = view.project(np.array([[0.0, 0.0, 0.0]]))[0]
    assert shapely.Polygon(ring).contains(shapely.Point(ground))  # on the ground, under the box that it stands on


def test_shadows_on_level_ground_are_as_long_as_the_sun_makes_them() -> None:
    """A post h high throws a shadow h/tan(height) long, away from the sun."""
    sun = (225.0, 40.0)
    drawing = draw(Stand((Box("post", size_m=(0.1, 0.1, 2.0)),), sun), View(eye_m=(0.0, -8.0, 3.0), pitch_deg=-15.0))
    room = np.vstack([c.room for c in drawing.shadows])
    assert np.abs(room[:, 2]).max() < 1e-12
    tip = room[np.linalg.norm(room, axis=1).argmax()]
    away = np.array([math.sin(math.radians(45.0)), math.cos(math.radians(45.0)), 0.0])
    assert float(tip @ away) == pytest.approx(2.0 / math.tan(math.radians(40.0)) + 0.05 * math.sqrt(2.0), abs=1e-9)


@pytest.mark.parametrize("seed", range(sample(4, 2)))
def test_a_shadows_outline_is_that_of_the_union_of_all_that_stands_there(seed: int) -> None:
    """Against shapely's union of the projected triangles of every surface."""
    rng = np.random.default_rng(seed)
    things: list[AnyThing] = [
        Box(f"b{k}", tuple(rng.uniform(-0.6, 0.6, 2)), turn_deg=float(rng.uniform(0, 90)), size_m=(0.4, 0.3, 0.5))
        for k in range(3)
    ]
    things += [
        Cylinder("tin", (0.3, 0.9), radius_m=0.2, height_m=0.6),
        Cylinder("drum", (-1.0, 0.2), radius_m=0.2, height_m=0.6, lean_deg=90.0),
    ]
    bearing, height = float(rng.uniform(-180, 180)), float(rng.uniform(25, 70))
    drawing = draw(Stand(tuple(things), (bearing, height)), View(eye_m=(0.0, -6.0, 3.0), pitch_deg=-20.0))
    b, h = math.radians(bearing), math.radians(height)
    sun = np.array([math.sin(b) * math.cos(h), math.cos(b) * math.cos(h), math.sin(h)])
    parts = []
    for placed in drawing.placed:
        triangles = mesh_of(placed.body).triangles
        down = triangles - sun * (triangles[..., 2:] / sun[2])
        polygons = [shapely.Polygon(t[:, :2]) for t in down]
        parts.append(shapely.union_all([p for p in polygons if p.area > 1e-12], grid_size=1e-9))
    whole = shapely.union_all(parts).buffer(1e-6)  # closes the hair cracks between the library's triangles
    outer = [part.exterior for part in getattr(whole, "geoms", [whole])]
    drawn = shapely.MultiLineString([c.room[:, :2] for c in drawing.shadows])
    assert shapely.hausdorff_distance(shapely.MultiLineString(outer), drawn) < 2e-3
    assert drawn.length == pytest.approx(sum(ring.length for ring in outer), rel=2e-3)


def test_a_sun_under_the_horizon_is_refused() -> None:
    with pytest.raises(StandError, match="sun"):
        draw(Stand((Box("a"),), (0.0, 1.0)), View())


GABLE_SIDE = Path(((-0.5, 0.0), (0.5, 0.0), (0.5, 0.6), (0.0, 1.0), (-0.5, 0.6)))
STEPPED = Path(((-0.6, 0.0), (0.6, 0.0), (0.6, 0.5), (0.2, 0.5), (0.2, 1.0), (-0.6, 1.0)))


@pytest.mark.parametrize(
    "drawn", [Elevations((1.0, 0.5, 1.0), front=GABLE_SIDE), Elevations((0.5, 1.0, 1.0), side=GABLE_SIDE)]
)
def test_an_outline_on_one_elevation_is_carried_through_the_other(drawn: Elevations) -> None:
    made = thing_of(drawn, Box("t", turn_deg=20.0))
    solid = solid_of(made, 1e-4)
    assert mesh_of(solid).volume == pytest.approx(0.5 * 0.8)
    assert made.turn_deg == (20.0 if drawn.front is not None else 110.0)


def test_outlines_on_both_elevations_give_what_lies_inside_both() -> None:
    """Volume by shapely's widths of both outlines at every height; walls that run on flush carry no line across."""
    solid = solid_of(thing_of(Elevations((1.2, 1.0, 1.0), front=STEPPED, side=GABLE_SIDE), Box("t")), 1e-4)
    heights = (np.arange(4000) + 0.5) / 4000
    widths = [
        shapely.Polygon(p.points).intersection(shapely.LineString([(-2, z), (2, z)])).length
        for p in (STEPPED, GABLE_SIDE)
        for z in heights
    ]
    assert mesh_of(solid).volume == pytest.approx(
        float(np.mean(np.array(widths[:4000]) * np.array(widths[4000:]))), rel=1e-4
    )
    assert not (solid.edge_faces < 0).any()
    left = [
        pair
        for pair, faces in zip(solid.edge, solid.edge_faces, strict=True)
        if all(solid.face_name[f] == "left" for f in faces)
    ]
    assert all(
        abs(solid.corners[a, 2] - 0.6) < 1e-9 or abs(solid.corners[b, 2] - 0.6) < 1e-9 for a, b in left
    )  # only where the gable begins


@pytest.mark.parametrize(
    ("drawn", "place", "fault"),
    [
        (
            Elevations((1.0, 1.0, 1.2), front=GABLE_SIDE),
            "front",
            "highest point lies at 1 m, and the plan and sizes put it at 1.2 m",
        ),
        (Elevations((1.0, 1.4, 1.0), side=GABLE_SIDE), "side", "left point lies at -0.5 m"),
        (Elevations((1.0, 0.5, 1.0), front=GABLE_SIDE, widths=((0.5, 0.7),)), "widths", "wider than the plan"),
        (Elevations((1.0, 1.0, 1.0), side=GABLE_SIDE, widths=((0.5, 0.2),)), "widths", "on the front alone"),
        (Elevations((1.0, 1.0, 1.0), front=Path(GABLE_SIDE.points, (3,)), side=GABLE_SIDE), "front", "curves"),
        (
            Elevations(
                (1.0, 1.0, 1.0),
                front=Path(((-0.5, 0.0), (0.5, 0.0), (0.5, 1.0), (0.3, 1.0), (0.1, 0.4), (-0.1, 0.9), (-0.5, 0.9))),
                side=GABLE_SIDE,
            ),
            "front",
            "turns back down",
        ),
    ],
)
def test_elevations_that_contradict_one_another_are_refused_with_the_place(
    drawn: Elevations, place: str, fault: str
) -> None:
    with pytest.raises(StandError, match=fault) as refused:
        thing_of(drawn, Box("t"))
    assert refused.value.place == place


def test_the_grid_snaps_halves_mirror_and_lengths_divide() -> None:
    assert snapped((0.26, 0.52), 0.05) == pytest.approx((0.25, 0.5))
    assert snapped((0.33, 0.52), 0.1, ([1 / 3], [])) == pytest.approx(
        (1 / 3, 0.5)
    )  # a third draws nearer than the grid
    bell = mirrored(Path(((0.0, 0.0), (0.4, 0.0), (0.2, 0.5), (0.0, 1.0)), (2,)))
    assert bell.points == ((0.0, 0.0), (0.4, 0.0), (0.2, 0.5), (0.0, 1.0), (-0.2, 0.5), (-0.4, 0.0))
    assert bell.smooth == (2, 4)
    with pytest.raises(StandError, match="centre line"):
        mirrored(Path(((0.0, 0.0), (-0.1, 0.5))))
    assert divided(0.0, 1.2, "thirds") == pytest.approx([0.4, 0.8])
    assert divided(-1.0, 1.0, "bays", 5) == pytest.approx([-0.6, -0.2, 0.2, 0.6])


@pytest.mark.parametrize("turned_over", [False, True])
def test_the_right_half_of_an_outline_gives_all_of_a_symmetrical_one(turned_over: bool) -> None:
    bell = ((0.4, 0.0), (0.2, 0.5), (0.0, 1.0), (-0.2, 0.5), (-0.4, 0.0))
    half = right_half(Path(bell[::-1] if turned_over else bell, (1, 3)))
    assert half == Path(((0.4, 0.0), (0.2, 0.5), (0.0, 1.0)), (1,))
    assert mirrored(half).points == bell
    with pytest.raises(StandError, match="nothing is drawn"):
        right_half(Path(((-0.4, 0.0), (-0.1, 0.0), (-0.1, 1.0))))


@pytest.mark.parametrize(
    "drawn",
    [
        Elevations((0.4, 0.3, 0.2)),
        Elevations((1.0, 0.5, 1.0), front=GABLE_SIDE, widths=((0.0, 0.2), (1.0, 0.5))),
        Elevations((1.2, 0.5, 1.0), front=STEPPED, holes=(Path(((-0.4, 0.2), (0.2, 0.2), (0.0, 0.4))),)),
        Elevations((1.2, 1.0, 1.0), front=STEPPED, side=GABLE_SIDE),
        Elevations((0.6, 0.6, 0.5), front=Path(((0.3, 0.0), (0.2, 0.3), (0.25, 0.5)), (1,)), turned=True),
    ],
)
def test_a_thing_gives_back_the_elevations_that_it_was_made_from(drawn: Elevations) -> None:
    """Volume and enclosing box, as the same outline may begin at another corner."""
    like = Box("t", at_m=(1.0, 2.0), turn_deg=30.0)
    made = thing_of(drawn, like)
    back = elevations_of(made)
    assert back is not None and back.size_m == pytest.approx(drawn.size_m)
    again = thing_of(back, like)
    assert mesh_of(solid_of(again, 1e-4)).volume == pytest.approx(mesh_of(solid_of(made, 1e-4)).volume)
    wider = thing_of(resized(back, (2 * back.size_m[0], 2 * back.size_m[1], 2 * back.size_m[2])), like)
    assert mesh_of(solid_of(wider, 1e-4)).volume == pytest.approx(
        8 * mesh_of(solid_of(made, 1e-4)).volume, rel=2e-3
    )  # curves are cut as finely, in metres
    assert elevations_of(Figure("f")) is None


def test_an_outline_drawn_out_to_one_side_stays_where_it_was_drawn() -> None:
    """Its middle moves, its near wall does not."""
    like = Outline("t", at_m=(1.0, 2.0), turn_deg=90.0, outline=GABLE_SIDE, depth_m=0.5)
    wider = Elevations((1.0, 0.5, 1.0), front=Path(((-0.5, 0.0), (0.9, 0.0), (0.5, 0.6), (0.0, 1.0), (-0.5, 0.6))))
    found, off = measured(wider, "front")
    assert found.size_m == pytest.approx((1.4, 0.5, 1.0)) and off == pytest.approx((0.2, 0.0))
    made = carried(thing_of(found, like), (off[0], 0.0, off[1]))
    assert made.at_m == pytest.approx((1.0, 2.2))  # its own x runs away from the viewer
    assert off_middle(Outline("o", outline=wider.front or GABLE_SIDE)) == pytest.approx((0.2, 0.0, 0.0))


ROOF = Path(((0.3, 0.0), (0.3, 0.33), (0.013, 0.49), (-0.3, 0.33), (-0.3, 0.0)))


def test_only_the_point_in_hand_snaps() -> None:
    drawn = Elevations((0.6, 0.4, 0.5), front=ROOF)
    made = drawn_on(Box("t"), drawn, Hand(by="front", grid_m=0.05, held=2))
    assert isinstance(made, Outline)
    assert made.outline.points[2] == pytest.approx((0.0, 0.5)) and made.outline.points[1] == (0.3, 0.33)
    # held on the other elevation nothing of this one snaps
    side = drawn_on(Box("t"), replace(drawn, size_m=(0.6, 0.4, 0.49)), Hand(by="side", grid_m=0.05, held=2))
    assert isinstance(side, Outline) and side.outline.points == ROOF.points


def test_halves_alike_follow_the_right_one() -> None:
    lopsided = Path(((0.3, 0.0), (0.4, 0.3), (0.0, 0.5), (-0.1, 0.3), (-0.3, 0.0)))
    made = drawn_on(Box("t"), Elevations((0.7, 0.4, 0.5), front=lopsided), Hand(by="front", symmetrical=("front",)))
    assert isinstance(made, Outline)
    assert sorted(made.outline.points) == sorted((-x, z) for x, z in made.outline.points)
    assert (0.4, 0.3) in made.outline.points


@pytest.mark.parametrize("turn_deg", [0.0, 30.0, 200.0])
def test_drawing_one_side_out_moves_no_other_wall(turn_deg: float) -> None:
    """The left end of the front, and the near end of the side, stay where they stood in the room."""
    there = Box("t", at_m=(1.0, -2.0), turn_deg=turn_deg, size_m=(0.6, 0.4, 0.5))

    def ends(thing: Box | Outline) -> np.ndarray:
        placed = set_up(Stand((thing,)), {}, 1e-3)[0]
        corners = placed.box[:4] - np.array([1.0, -2.0, 0.0])
        along = about_z(turn_deg)
        return np.array([(corners @ along).min(axis=0)[:2], (corners @ along).max(axis=0)[:2]])

    wider = Path(((0.8, 0.0), (0.8, 0.5), (-0.3, 0.5), (-0.3, 0.0)))
    for by, drawn, axis in (
        ("front", Elevations((0.6, 0.4, 0.5), front=wider), 0),
        ("side", Elevations((0.6, 0.4, 0.5), side=Path(((0.7, 0.0), (0.7, 0.5), (-0.2, 0.5), (-0.2, 0.0)))), 1),
    ):
        made = drawn_on(there, drawn, Hand(by=by))  # type: ignore[arg-type]
        assert isinstance(made, Outline)
        assert ends(made)[0] == pytest.approx(ends(there)[0])
        assert ends(made)[1, axis] == pytest.approx(ends(there)[1, axis] + 0.5)


def test_sizes_pulled_keep_to_the_grid_and_typed_ones_to_what_was_typed() -> None:
    drawn = Elevations((0.6, 0.43, 0.51))
    pulled = drawn_on(Box("t"), drawn, Hand(typed=(0.66, 0.43, 0.51), held=0, grid_m=0.05))
    typed = drawn_on(Box("t"), drawn, Hand(typed=(0.66, 0.43, 0.51)))
    least = drawn_on(Box("t"), drawn, Hand(typed=(0.6, 0.43, 0.001), held=2, grid_m=0.05))
    assert [one.size_m for one in (pulled, typed, least) if isinstance(one, Box)] == [
        pytest.approx((0.65, 0.43, 0.51)),
        pytest.approx((0.66, 0.43, 0.51)),
        pytest.approx((0.6, 0.43, 0.05)),
    ]


def test_divisions_part_a_length_by_name_or_by_bays() -> None:
    assert Hand(divisions="quarters").parts(0.0, 1.0) == pytest.approx([0.25, 0.5, 0.75])
    assert Hand(bays=5).parts(0.0, 1.0) == pytest.approx([0.2, 0.4, 0.6, 0.8])
    assert Hand().parts(0.0, 1.0) == []


@pytest.mark.parametrize(
    ("drawn", "hand", "fault"),
    [
        (
            Elevations((0.6, 0.4, 0.5), front=Path(((0.3, 0.0), (0.3, 0.5), (0.3, 0.5001), (-0.3, 0.5), (-0.3, 0.0)))),
            Hand("front", 0.05, held=2),
            "coincide",
        ),
        (
            Elevations((0.6, 0.6, 0.5), front=Path(((0.3, 0.0), (-0.1, 0.5))), turned=True),
            Hand("front"),
            "a radius is not negative",
        ),
    ],
)
def test_what_a_hand_cannot_have_meant_is_refused(drawn: Elevations, hand: Hand, fault: str) -> None:
    with pytest.raises(StandError, match=fault) as refused:
        drawn_on(Box("t"), drawn, hand)
    assert refused.value.place == "front"


def test_a_face_gives_its_outer_ring_and_its_holes() -> None:
    """Areas by the shoelace formula: anticlockwise outside, clockwise within."""
    hole = Path(((-0.3, 0.2), (0.3, 0.2), (0.3, 0.8), (-0.3, 0.8)))
    solid = solid_of(
        Outline("f", outline=Path(((-0.5, 0.0), (0.5, 0.0), (0.5, 1.0), (-0.5, 1.0))), holes=(hole,), depth_m=0.2), 1e-3
    )
    rings = solid.rings(solid.face_name.index("front"))
    areas = [
        float(
            (np.cross(ring, np.roll(ring, -1, axis=0)).sum(axis=0) / 2) @ solid.normal[solid.face_name.index("front")]
        )
        for ring in rings
    ]
    assert areas == pytest.approx([1.0, -0.36])


def test_end_on_turns_run_evenly_from_the_side_to_the_end() -> None:
    """Handbook section 3: quarters of a right angle."""
    assert end_on_turns(5) == [0.0, 22.5, 45.0, 67.5, 90.0]
    assert end_on_turns(2) == [0.0, 90.0]
