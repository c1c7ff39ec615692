"""The sighting sheet (``*.sighting.json``): a picture's sightings with their judgements."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, StrictBool, ValidationError, model_validator

from aspectum.core.sightings import Looking, Perspective
from aspectum.core.tolerance import School
from aspectum.formats.reading import FormatError, first_fault, read_object, written
from aspectum.formats.sightings import (
    FAR_PX,
    AnySighting,
    DivisionSighting,
    FaceSighting,
    Form,
    GivenEyeLevel,
    Id,
    LengthSighting,
    LevelFamily,
    Metres,
    Millimetres,
    Name,
    Number,
    Part,
    PictureInfo,
    Sighting,
    read_from_life,
)
from aspectum.formats.stand import StandFile
from aspectum.language import say

MOST_SIGHTINGS = 1000
# by which a flattened paper's pixels may be out of square: a picture's size is whole pixels, a torn edge is not
PAPER_SQUARE = 0.05


Share = Annotated[Number, Field(ge=0, le=1)]


class Stick(Part):
    """The measuring stick: eye to stick with a straight arm, the near upright's mark on it, and that upright's true
    height where it is known.
    """

    arm_mm: Number | None = Field(default=None, ge=100, le=1500)
    unit_mm: Number | None = Field(default=None, ge=1, le=1500)  # as fine as a thumb marks off
    upright_m: Metres | None = None


class PaperPlan(Part):
    """How the sheet of paper is to be used: its size as it lies, its margins, where in the room left over the drawing
    sits (0 to 1 from the left and from the top), and how long the near upright is wanted; without that the drawing is
    as large as fits.
    """

    paper_mm: tuple[Millimetres, Millimetres] = (420.0, 297.0)
    margin_mm: Number = Field(default=20.0, ge=0, le=1000)
    near_upright_mm: Annotated[Number, Field(ge=1, le=5000, allow_inf_nan=False)] | None = None
    place: tuple[Share, Share] = (0.5, 0.5)


class GivenOnPaper(Part):
    """What a worksheet prints beside its given sightings: eye level, and the vanishing points of forms' families."""

    eye_level: StrictBool = False
    vanishing_points: list[tuple[Id, LevelFamily]] = Field(default_factory=list, max_length=100)


class FoundEyeLevel(Part):
    """Where a whole picture puts eye level: its heights at the left and right side, and their standard deviation in the
    middle.
    """

    left_y_px: Number = Field(ge=-FAR_PX, le=FAR_PX)
    right_y_px: Number = Field(ge=-FAR_PX, le=FAR_PX)
    sd_px: Number = Field(gt=0, le=FAR_PX)


class FoundView(Part):
    """What a whole picture says of its view. It rests on lines that nobody has accepted, so it is held against what was
    sighted, and no evidence; with all proposals ``accepted`` it counts beside them, never as given.
    """

    eye_level: FoundEyeLevel
    focal_px: Number = Field(gt=0, le=FAR_PX)
    focal_sd_px: Number = Field(gt=0, le=FAR_PX)
    accepted: StrictBool | None = None


class OwnTolerance(Part):
    """A tutor's own tolerances, in place of a school's: tilts and ellipse degrees in degrees, lengths in per cent."""

    tilt_deg: Number = Field(gt=0, lt=90)
    length_percent: Number = Field(gt=0, lt=90)
    degree_deg: Number = Field(gt=0, lt=90)


class SightingSheet(Part):
    """A sheet from life has no ``picture``; then nothing on it has points. ``looking`` straight up or down goes with
    one-point perspective: the uprights recede, and eye level is not in the picture. ``eye_height_m``: of the viewer's
    eye above the ground that the forms stand on. ``paper_mm``: width and height of the sheet of paper, on a drawing's
    sheet, whose picture is that paper flattened. ``found``: what the program found of the view; ``judged_eye_level``:
    where eye level was said to lie by eye. ``given``: what is printed on the sheet of paper, and is nobody's judgement.
    ``stand``: the set-up and view that the picture shows, for a subject whose truth is known; its forms are named as
    the things are.
    """

    format: Literal["aspectum-sighting-sheet"] = "aspectum-sighting-sheet"
    version: Literal[1] = 1
    title: Name = ""
    picture: PictureInfo | None = None
    paper_mm: tuple[Millimetres, Millimetres] | None = None
    given: GivenOnPaper | None = None
    point_sd_px: Number = Field(default=1.5, gt=0, le=1000)
    perspective: Perspective = Perspective.AUTO
    looking: Looking = Looking.AHEAD
    eye_level: GivenEyeLevel | None = None
    judged_eye_level: GivenEyeLevel | None = None
    found: FoundView | None = None
    level_camera: StrictBool = False
    eye_height_m: Metres | None = None
    stick: Stick | None = None
    plan: PaperPlan | None = None
    lowest_rim_extra_deg: Number = Field(default=0.0, ge=0, le=30)
    tolerance: School | OwnTolerance = School.FREEHAND
    stand: StandFile | None = None
    forms: list[Form] = Field(default_factory=list, max_length=200)
    sightings: list[Sighting] = Field(default_factory=list, max_length=MOST_SIGHTINGS)

    @property
    def accepted(self) -> list[AnySighting]:
        """The sightings that take part: all but proposals, and what stands on a face that is one."""
        if not self.proposing:
            return self.sightings
        aside = {s.id for s in self.sightings if s.proposed}
        return [
            s for s in self.sightings if s.id not in aside and not (isinstance(s, DivisionSighting) and s.face in aside)
        ]

    @property
    def proposing(self) -> bool:
        """Whether proposals stand."""
        return any(s.proposed for s in self.sightings)

    @property
    def found_standing(self) -> FoundView | None:
        """What the program found of the view, where that is accepted as evidence."""
        return self.found if self.found is not None and self.found.accepted else None

    def accepting(self) -> SightingSheet:
        """The sheet with its proposals taking part, and the view that they rest on."""
        found = None if self.found is None else self.found.model_copy(update={"accepted": True})
        return self.model_copy(
            update={"found": found, "sightings": [s.model_copy(update={"proposed": None}) for s in self.sightings]}
        )

    @model_validator(mode="after")
    def _references(self) -> Self:
        if self.looking is not Looking.AHEAD and self.perspective is not Perspective.ONE_POINT:
            raise ValueError(
                say(
                    "looking: straight {looking} is one-point perspective, and this sheet's is {perspective}",
                    looking=self.looking,
                    perspective=self.perspective,
                )
            )
        self._paper()
        forms: set[str] = set()
        for i, form in enumerate(self.forms):
            if form.id in forms:
                raise ValueError(say("forms[{i}].id: '{form}' is taken", i=i, form=form.id))
            forms.add(form.id)
        seen: set[str] = set()
        faces = {s.id for s in self.sightings if isinstance(s, FaceSighting)}
        units = 0
        for i, s in enumerate(self.sightings):
            if s.id in seen:
                raise ValueError(say("sightings[{i}].id: '{s}' is taken", i=i, s=s.id))
            seen.add(s.id)
            if self.picture is None and not read_from_life(s):
                raise ValueError(say("picture: missing, and sightings[{i}] is laid on it", i=i))
            if s.form is not None and self.forms and s.form not in forms:
                raise ValueError(say("sightings[{i}].form: no form '{form}'", i=i, form=s.form))
            if isinstance(s, DivisionSighting) and s.face not in faces:
                raise ValueError(say("sightings[{i}].face: no face '{face}'", i=i, face=s.face))
            if isinstance(s, LengthSighting) and s.unit:
                units += 1
                if units > 1:
                    raise ValueError(say("sightings[{i}].unit: a sheet has one unit", i=i))
        return self

    def _paper(self) -> None:
        """Refuse a paper that its picture cannot be, and an eye level judged on none."""
        if self.judged_eye_level is not None and self.picture is None:
            raise ValueError(say("judged_eye_level: this sheet is from life and has no picture to judge it on"))
        if self.paper_mm is None:
            return
        if self.picture is None:
            raise ValueError(say("paper_mm: a sheet of paper has a picture"))
        across, down = self.paper_mm[0] / self.picture.width_px, self.paper_mm[1] / self.picture.height_px
        if abs(across / down - 1.0) > PAPER_SQUARE:
            raise ValueError(say("paper_mm: the picture has other proportions than the paper"))


def read_sheet(data: bytes) -> SightingSheet:
    """Parse a sheet. Raises ``FormatError`` naming the first place that does not fit."""
    content = read_object(data, "aspectum-sighting-sheet")
    try:
        return SightingSheet.model_validate(content)
    except ValidationError as error:
        raise FormatError(first_fault(error)) from None


def write_sheet(sheet: SightingSheet) -> bytes:
    """The sheet as indented JSON without empty entries."""
    return written(sheet)
