"""The model stand for people and files: from the format to the core and back, and from a view to a sheet."""

from __future__ import annotations

import dataclasses
from typing import Any

from pydantic import ValidationError

from aspectum.core.sightings import Edge, Kind, Rim
from aspectum.core.stand import things
from aspectum.core.stand.camera import View, stepped
from aspectum.core.stand.construction import Construction, construction
from aspectum.core.stand.drawing import draw, set_up_for
from aspectum.core.stand.drawn import Curve, Drawing
from aspectum.core.stand.kinds import Parallel
from aspectum.core.stand.paths import Path
from aspectum.core.stand.presets import Preset, parallel_view, preset
from aspectum.core.stand.rail import level_rail
from aspectum.core.stand.setting import Placed, extent_in_room
from aspectum.core.stand.steps import steps
from aspectum.core.stand.taken import Taken, taken
from aspectum.core.stand.things import AnyThing, Chimney, Flight, Opening, Stand, StandError
from aspectum.core.view.vanishing_points import off_sheet
from aspectum.formats.reading import FormatError, first_fault
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.sightings import EdgeSighting, Form, LengthSighting, PictureInfo, RimSighting
from aspectum.formats.stand import (
    AnyStandThing,
    BuildingThing,
    DrawnCurve,
    DrawnEdge,
    DrawnEllipse,
    DrawnEyeLevel,
    DrawnMark,
    DrawnOutline,
    DrawnPoint,
    DrawnThrough,
    HullThing,
    Outlined,
    OutlineThing,
    SeenThing,
    StandDrawing,
    StandFile,
    StandStep,
    StandSteps,
    StandStroke,
    StandView,
    TurnedThing,
)
from aspectum.language import say
from aspectum.service.words.notes import off_sheet_words
from aspectum.service.words.stand import step_reason, step_title

CLASSES: dict[str, type[AnyThing]] = {
    "box": things.Box,
    "cylinder": things.Cylinder,
    "cone": things.Cone,
    "tube": things.Tube,
    "turned": things.Turned,
    "building": things.Building,
    "outline": things.Outline,
    "hull": things.Hull,
    "wheels": things.Wheels,
    "section": things.Section,
    "figure": things.Figure,
    "ramp": things.Ramp,
    "levels": things.Levels,
}

# of points that are laid by arithmetic: what is left is rounding, and the polylines of curves do not take part
EXACT_SD_PX = 0.01


def view_of(view: StandView) -> View:
    """The format's view as the core has it."""
    return View(**view.model_dump())


def stand_of(file: StandFile) -> Stand:
    """The format's set-up as the core has it."""
    return Stand(tuple(core_thing(thing) for thing in file.things), file.sun_deg)


def core_thing(thing: AnyStandThing) -> AnyThing:
    """A thing of the format as the core has it: entry by entry, with its paths and parts."""
    fields: dict[str, Any] = {name: _hashable(value) for name, value in thing if name != "kind"}
    if isinstance(thing, TurnedThing):
        fields["profile"] = path_of(thing.profile)
    elif isinstance(thing, OutlineThing):
        fields |= {"outline": path_of(thing.outline), "holes": tuple(path_of(hole) for hole in thing.holes)}
    elif isinstance(thing, HullThing):
        fields["stations"] = tuple((x, tuple(half)) for x, half in thing.stations)
    elif isinstance(thing, BuildingThing):
        fields["openings"] = tuple(Opening(**o.model_dump()) for o in thing.openings)
        fields["flights"] = tuple(Flight(**f.model_dump()) for f in thing.flights)
        fields["chimney"] = None if thing.chimney is None else Chimney(**thing.chimney.model_dump())
    return CLASSES[thing.kind](**fields)


def _hashable(value: Any) -> Any:
    return tuple(value) if isinstance(value, list) else value


def path_of(outlined: Outlined) -> Path:
    """An outline of the format as the core has it."""
    return Path(tuple(outlined.points), tuple(outlined.smooth))


def drawn(file: StandFile) -> Drawing:
    """The exact drawing of a file's set-up. Raises ``FormatError`` naming the place of what cannot be."""
    try:
        return draw(stand_of(file), view_of(file.view))
    except StandError as error:
        raise FormatError(place_of(file, error)) from None


def place_of(file: StandFile, error: StandError) -> str:
    """The fault with the thing's place in the file: ``things[2].wall_m: …``."""
    head, _, rest = error.place.partition(".")
    number = next((i for i, thing in enumerate(file.things) if thing.id == head), None)
    return (
        str(error)
        if number is None
        else str(error).replace(error.place, f"things[{number}]" + (f".{rest}" if rest else ""), 1)
    )


def stand_drawing(file: StandFile, name: str | None = None) -> StandDrawing:
    """The exact drawing as the format has it. Raises ``FormatError`` for a set-up that cannot be."""
    found = drawn(file)
    level = found.view.eye_level_px
    return StandDrawing(
        file=name,
        width_px=found.view.width_px,
        height_px=found.view.height_px,
        eye_level=None if level is None else DrawnEyeLevel(left_y_px=level[0], right_y_px=level[1]),
        vanishing_points=[
            DrawnPoint(
                thing=vp.thing,
                family=vp.way.family,
                slope=vp.way.slope,
                x_px=None if vp.at_px is None else vp.at_px[0],
                y_px=None if vp.at_px is None else vp.at_px[1],
                direction_deg=vp.direction_deg,
                words=off_sheet_words(None if vp.at_px is None else off_sheet(vp.at_px[0], found.view.width_px)),
            )
            for vp in found.vanishing_points
        ],
        edges=[
            DrawnEdge(
                thing=e.thing,
                family=e.way.family,
                slope=e.way.slope,
                name=e.name,
                p=e.p,
                q=e.q,
                visible=list(e.visible),
            )
            for e in found.edges
            if e.way is not None
        ],
        rims=[
            DrawnEllipse(
                thing=r.thing,
                name=r.name,
                plane=None if r.plane is None else r.plane.value,
                centre_px=r.ellipse.centre_px,
                middle_px=r.middle_px,
                major_px=r.ellipse.major_px,
                minor_px=r.ellipse.minor_px,
                major_tilt_deg=r.major_tilt_deg,
                degree_deg=r.ellipse.degree_deg,
                visible=list(r.visible),
            )
            for r in found.rims
        ],
        outlines=[
            DrawnOutline(thing=o.thing, name=o.name, p=o.p, q=o.q, visible=list(o.visible)) for o in found.outlines
        ],
        curves=[_curve(c) for c in found.curves],
        shadows=[_curve(c) for c in found.shadows],
        seen=[SeenThing(thing=s.thing, shows=s.shows, faces=list(s.faces)) for s in found.seen],
        construction=[_through(construction(p, found.view)) for p in found.placed if p.own is not None],
        level_rail=[DrawnMark(**vars(mark)) for mark in level_rail(found.placed, found.view)],
    )


def _curve(curve: Curve) -> DrawnCurve:
    return DrawnCurve(thing=curve.thing, name=curve.name, points=list(curve.points), visible=list(curve.visible))


def stand_steps(file: StandFile, thing: str) -> StandSteps:
    """The construction of one thing of a set-up, each step with its reason. Raises ``FormatError`` where there is no
    such thing.
    """
    try:
        found = steps(stand_of(file), view_of(file.view), thing)
    except StandError as error:
        raise FormatError(place_of(file, error)) from None
    name = next(t.name for t in file.things if t.id == thing)
    made = [
        StandStep(
            number=i + 1,
            stage=step.stage,
            title=step_title(step),
            words=step_reason(step),
            strokes=[StandStroke(points=list(s.points), weight=s.weight) for s in step.strokes],
        )
        for i, step in enumerate(found)
    ]
    return StandSteps(
        thing=thing, name=name or thing, width_px=file.view.width_px, height_px=file.view.height_px, steps=made
    )


def stand_view(file: StandFile, kind: Preset | Parallel) -> StandView:
    """The view that ``kind`` asks for, its whole set-up in the picture. Raises ``FormatError`` for a set-up that is
    empty or cannot be.
    """
    placed = set_up_of(file)
    if isinstance(kind, Parallel):
        return _filed(parallel_view(kind, placed, view_of(file.view)))
    return _filed(preset(kind, placed, view_of(file.view)))


def stepped_view(file: StandFile, share: float, keep_size: bool, thing: str | None = None) -> StandView:
    """The view from ``share`` of the eye's distance to a thing, or to the middle of all. Raises ``FormatError`` where
    nothing lies ahead of the eye.
    """
    placed = set_up_of(file)
    about = tuple(p for p in placed if p.thing.id == thing and p.own is not None) or placed
    low, high = extent_in_room(about)
    x, y, z = ((low + high) / 2).tolist()
    try:
        return _filed(stepped(view_of(file.view), (x, y, z), share, keep_size))
    except ValueError as error:
        raise FormatError(say("view.eye_m: {error}", error=error)) from None


def set_up_of(file: StandFile) -> tuple[Placed, ...]:
    """A file's things where they stand. Raises ``FormatError`` for a set-up that is empty or cannot be."""
    try:
        placed = set_up_for(stand_of(file), view_of(file.view))
        extent_in_room(placed)
    except StandError as error:
        raise FormatError(place_of(file, error)) from None
    return placed


def _filed(view: View) -> StandView:
    """``view`` in the format. Raises ``FormatError`` where it leaves what the format holds, as a lens too long does."""
    try:
        fields = {field.name: getattr(view, field.name) for field in dataclasses.fields(view)}
        return StandView.model_validate(fields | {"heading_deg": view.heading_deg % 360.0})
    except ValidationError as error:
        raise FormatError(say("view.{error}", error=first_fault(error, []))) from None


def _through(built: Construction) -> DrawnThrough:
    return DrawnThrough(
        thing=built.thing,
        box=list(built.box),
        axes=list(built.axes),
        footprint=[list(ring) for ring in built.footprint],
    )


def sheet_of_stand(file: StandFile) -> SightingSheet:
    """A sighting sheet of the view, every edge and rim that shows well laid where it truly is. Raises ``FormatError``
    for a set-up that cannot be.
    """
    return sheet_of(file, taken(drawn(file)))


def sheet_of(file: StandFile, found: Taken) -> SightingSheet:
    """What was taken from the view of ``file`` as a sheet."""
    view = file.view
    sightings: list[EdgeSighting | RimSighting | LengthSighting] = [
        _edge(edge, found.names[edge.id]) for edge in found.edges
    ]
    sightings += [_rim(rim, found.names[rim.id]) for rim in found.rims]
    if found.unit is not None:
        sightings.append(
            LengthSighting(
                id=found.unit.id,
                kind=Kind.LENGTH,
                p=found.unit.p,
                q=found.unit.q,
                along=found.unit.along,
                unit=True,
                name="near upright",
            )
        )
    return SightingSheet(
        title=file.title,
        picture=PictureInfo(
            width_px=view.width_px,
            height_px=view.height_px,
            focal_35mm=None if view.parallel is not None else view.focal_35mm,
        ),
        point_sd_px=EXACT_SD_PX,
        perspective=found.perspective,
        looking=found.looking,
        forms=[Form(id=form.id, kind=form.kind, name=form.name) for form in found.forms],
        sightings=list(sightings),
    )


def _edge(edge: Edge, name: str) -> EdgeSighting:
    return EdgeSighting(
        id=edge.id,
        form=edge.form,
        family=edge.family,
        slope=edge.slope,
        plan=edge.plan,  # type: ignore[arg-type]
        name=name,
        p=edge.p,
        q=edge.q,
        hidden=list(edge.hidden) or None,
    )


def _rim(rim: Rim, name: str) -> RimSighting:
    return RimSighting(
        id=rim.id,
        kind=Kind.RIM,
        form=rim.form,
        plane=rim.plane,
        name=name,
        points=list(rim.points),
        ends=rim.ends,
        near=rim.near,
    )
