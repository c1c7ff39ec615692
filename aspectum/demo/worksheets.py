"""The demo's worksheets: a set of eight for the harbour class, and one that Ilse filled in, photographed and brought
back.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import count
from pathlib import Path

from aspectum.core.worksheet.exercise import ExerciseKind, Grade
from aspectum.pictures.opening import open_picture
from aspectum.service.runtime.installation import Installation
from aspectum.service.school.brought_back import BroughtBack, bring_back
from aspectum.service.school.worksheets import Wanted, begin_set, make_copy
from aspectum.service.sheets.pictures import keep_picture
from aspectum.store.models import Person

PHOTO = Path(__file__).parent / "worksheets/lower-rims.jpg"
SEED = 20_261_119
BROUGHT = ExerciseKind.LOWER_RIM
EIGHT = (
    ExerciseKind.ONE_POINT,
    ExerciseKind.NEAR_CORNER,
    BROUGHT,
    ExerciseKind.RIM_LADDER,
    ExerciseKind.PARTS,
    ExerciseKind.FIGURES,
    ExerciseKind.EYE_LEVEL,
    ExerciseKind.TILTS,
)


def numbers() -> Iterator[int]:
    """The numbers in their corners, always the same, so that the photo is known by its own."""
    return count(6_120_001, 61)


def number_brought() -> int:
    """The number of the sheet that was photographed: of the first copy."""
    return next(n for n, kind in zip(numbers(), EIGHT, strict=False) if kind is BROUGHT)


def print_set(here: Installation, tutor_id: str, names: tuple[str, ...], class_line: str, sheet_id: str | None) -> str:
    """The set of eight, a copy for each of ``names``; ``sheet_id``: whose photo two of them ask about. Answers the
    set's id.
    """
    wanted = Wanted(
        EIGHT,
        Grade.EASY,
        "A4",
        title="The first month",
        class_line=class_line,
        names=names,
        seed=SEED,
        sheet_id=sheet_id,
    )
    given = numbers()
    with here.sessions.begin() as session:
        tutor = session.get_one(Person, tutor_id)
        made = begin_set(session, tutor, wanted)
        for _ in names:
            make_copy(session, tutor, made.id, given)
        return made.id


def bring_one_back(here: Installation, student_id: str) -> BroughtBack:
    """The photographed sheet, brought in by the student who drew it."""
    photo = keep_picture(here.sessions, here.files, student_id, PHOTO.name, open_picture(PHOTO.read_bytes()))
    back = bring_back(here.sessions, here.files, student_id, photo.id)
    assert isinstance(back, BroughtBack)
    return back
