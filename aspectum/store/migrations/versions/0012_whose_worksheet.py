"""Printed worksheets know whose they are, and what on them is printed rather than drawn; readings of sheets are to be
recorded again.

What a tutor brought in of a student's sheet moves to the student: the drawing, the sheet of its truth, their pictures,
and the readings.
"""

from __future__ import annotations

import unicodedata
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None


def table(name: str, *columns: str) -> Any:
    """A table with the columns that are needed here, documents as JSON."""
    return sa.table(name, *(sa.column(c, sa.JSON()) if c in ("document", "names") else sa.column(c) for c in columns))


PEOPLE = table("people", "id", "sign_in_name")
MEMBERS = table("members", "class_id", "person_id", "role")
SETS = table("worksheet_sets", "id", "person_id", "names")
PRINTED = table("printed_worksheets", "code", "set_id", "copy_number", "person_id", "document")
RETURNED = table("returned_worksheets", "id", "code", "person_id", "subject_id", "drawing_id")
SHEETS = table("sheets", "id", "person_id", "picture_id", "document")
DRAWINGS = table("drawings", "sheet_id", "photo_id")
PICTURES = table("pictures", "id", "person_id")
READINGS = table("readings", "person_id", "sheet_id")


def upgrade() -> None:
    with op.batch_alter_table("printed_worksheets") as printed:
        printed.add_column(sa.Column("person_id", sa.String(32), nullable=True))
        printed.create_foreign_key(
            op.f("fk_printed_worksheets_person_id_people"), "people", ["person_id"], ["id"], ondelete="SET NULL"
        )
        printed.create_index(op.f("ix_printed_worksheets_person_id"), ["person_id"])
    op.add_column("sheets", sa.Column("recorded", sa.Integer(), nullable=False, server_default="0"))
    bind = op.get_bind()
    name_the_owners(bind)
    mark_the_printed(bind)
    move_to_the_owners(bind)


def name_the_owners(bind: Any) -> None:
    """Copies with a name on them are the student's of that name in a class of whoever printed them; no two people sign
    in by one name.
    """
    known = {name: id for id, name in bind.execute(sa.select(PEOPLE.c.id, PEOPLE.c.sign_in_name)) if name}
    taught: dict[str, set[str]] = {}
    rows = bind.execute(sa.select(MEMBERS.c.class_id, MEMBERS.c.person_id, MEMBERS.c.role)).all()
    students: dict[str, set[str]] = {}
    for class_id, person_id, role in rows:
        if role != "tutor":
            students.setdefault(class_id, set()).add(person_id)
    for class_id, person_id, role in rows:
        if role == "tutor":
            taught.setdefault(person_id, set()).update(students.get(class_id, ()))
    for set_id, maker, names in bind.execute(sa.select(SETS.c.id, SETS.c.person_id, SETS.c.names)).all():
        for number, name in enumerate(names or [], 1):
            whose = known.get(" ".join(unicodedata.normalize("NFKC", name).split()).casefold())
            if whose in taught.get(maker, ()):
                bind.execute(
                    PRINTED.update()
                    .where(PRINTED.c.set_id == set_id, PRINTED.c.copy_number == number)
                    .values(person_id=whose)
                )


def mark_the_printed(bind: Any) -> None:
    """Mark what is printed on every worksheet, on the sheets of what came back too."""
    back: dict[int, list[str]] = {}
    for code, *ids in bind.execute(sa.select(RETURNED.c.code, RETURNED.c.subject_id, RETURNED.c.drawing_id)):
        back.setdefault(code, []).extend(id for id in ids if id is not None)
    for code, document in bind.execute(sa.select(PRINTED.c.code, PRINTED.c.document)).all():
        levels = printed_levels(document)
        asked = {a["id"] for a in document["asked"]}
        document["subject"] = marked(document["subject"], asked, levels)
        bind.execute(PRINTED.update().where(PRINTED.c.code == code).values(document=document))
        for id in back.get(code, []):
            kept = bind.scalar(sa.select(SHEETS.c.document).where(SHEETS.c.id == id))
            if kept is not None:
                bind.execute(SHEETS.update().where(SHEETS.c.id == id).values(document=marked(kept, asked, levels)))


def printed_levels(document: dict[str, Any]) -> dict[str, Any]:
    """What a worksheet says of eye level and vanishing points on its paper."""
    words = [
        m for m in document["printed"] if m["mark"] == "tag" and m.get("said") is not None and m["role"] != "answer"
    ]
    points = [m["at"] for m in words if m["said"] == "vanishing point"]
    families: dict[str, list[str]] = {}
    for s in document["subject"]["sightings"]:
        if s["kind"] == "edge" and s["family"] in ("left", "right", "depth"):
            mine = families.setdefault(s["form"], [])
            mine += [s["family"]] if s["family"] not in mine else []
    found: list[list[str]] = []
    if document["kind"] == "mirrored half":
        # one front each, in order, and the word stands just beside its point
        for (form, mine), (x, y) in zip(families.items(), document["vanishing_points"], strict=False):
            found += [
                [form, family] for family in mine if any(abs(px - x) < 4.0 and abs(py - y) < 4.0 for px, py in points)
            ]
    elif points:
        found = [[form, family] for form, mine in families.items() for family in sorted(mine)]
    return {"eye_level": any(m["said"] == "eye level" for m in words), "vanishing_points": found}


def marked(sheet: dict[str, Any], asked: set[str], levels: dict[str, Any]) -> dict[str, Any]:
    """A sheet with what is printed on it marked."""
    return sheet | {
        "given": levels,
        "sightings": [s if s["id"] in asked else s | {"given": True} for s in sheet["sightings"]],
    }


def move_to_the_owners(bind: Any) -> None:
    """Give a student what somebody else brought in of a sheet with the student's name."""
    query = sa.select(RETURNED.c.id, RETURNED.c.subject_id, RETURNED.c.drawing_id, PRINTED.c.person_id).join(
        PRINTED, PRINTED.c.code == RETURNED.c.code
    )
    wrong = query.where(PRINTED.c.person_id.is_not(None), PRINTED.c.person_id != RETURNED.c.person_id)
    for id, subject_id, drawing_id, whose in bind.execute(wrong).all():
        bind.execute(RETURNED.update().where(RETURNED.c.id == id).values(person_id=whose))
        mine = [one for one in (subject_id, drawing_id) if one is not None]
        bind.execute(SHEETS.update().where(SHEETS.c.id.in_(mine)).values(person_id=whose))
        bind.execute(READINGS.update().where(READINGS.c.sheet_id.in_(mine)).values(person_id=whose))
        pictures = [
            *bind.scalars(sa.select(SHEETS.c.picture_id).where(SHEETS.c.id.in_(mine))),
            *bind.scalars(photo_of(mine)),
        ]
        bind.execute(
            PICTURES.update()
            .where(PICTURES.c.id.in_([one for one in pictures if one is not None]))
            .values(person_id=whose)
        )


def photo_of(sheets: list[str]) -> Any:
    return sa.select(DRAWINGS.c.photo_id).where(DRAWINGS.c.sheet_id.in_(sheets))


def downgrade() -> None:
    op.drop_column("sheets", "recorded")
    with op.batch_alter_table("printed_worksheets") as printed:
        printed.drop_index(op.f("ix_printed_worksheets_person_id"))
        printed.drop_constraint(op.f("fk_printed_worksheets_person_id_people"))
        printed.drop_column("person_id")
