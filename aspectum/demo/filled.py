"""The demo as it is shipped: filled once from its sources (``fill``, ``school``), so that the first start does not have
to.

``filled/tables.jsonl`` holds a line a row, tables in the order of their keys, and in its first line the moment at which
it was filled; ``filled/pictures`` the pictures by what is in them. When it is put back, every moment moves by whole
days, so that the class is in mid-term today and is due in the evening as before.
"""

from __future__ import annotations

import json
import math
import re
import shutil
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from sqlalchemy import delete, func, select

from aspectum.demo.fill import fill
from aspectum.demo.school import fill_class
from aspectum.service.people.people import person_alone
from aspectum.service.runtime.installation import Installation
from aspectum.store.backup import PARTS
from aspectum.store.models import HERE, Base, Person, Picture, Sheet, UtcDateTime, now
from aspectum.store.picture_files import PictureFiles

FILLED = Path(__file__).parent / "filled"
TABLES, PICTURES = "tables.jsonl", "pictures"
# what was tried and who looks on is of a server that runs
LEFT_OUT = {"tries", "seen_in_room", "sign_ins"}

HEX = re.compile("[0-9a-f]{32}|[0-9a-f]{64}")

Row = dict[str, Any]


@dataclass(frozen=True)
class Filling:
    """When it was filled, and every row with its table's name, as JSON holds it, in the order in which they
    were made.
    """

    at: datetime
    rows: list[tuple[str, Row]]


def filling_of(here: Installation) -> Filling:
    """What an installation that was just filled holds."""
    found: list[tuple[str, Row]] = []
    with here.sessions() as session:
        for table in Base.metadata.sorted_tables:
            if table.name not in LEFT_OUT:
                for row in session.execute(select(table)).mappings():
                    found.append(
                        (
                            table.name,
                            {
                                name: value.isoformat() if isinstance(value, datetime) else value
                                for name, value in row.items()
                            },
                        )
                    )
    return Filling(now(), found)


def write(here: Installation, to: Path) -> None:
    """Keep a filled installation in the folder ``to``, in place of what is there."""
    filling = filling_of(here)
    shutil.rmtree(to, ignore_errors=True)
    to.mkdir(parents=True)
    lines = [
        json.dumps({"filled_at": filling.at.isoformat()}),
        *(json.dumps([name, row], ensure_ascii=False) for name, row in filling.rows),
    ]
    (to / TABLES).write_text("\n".join(lines) + "\n", encoding="utf-8")
    kept = PictureFiles(to / PICTURES)
    with here.sessions() as session:
        for sha256 in session.scalars(select(Picture.sha256).distinct()):
            for part in PARTS:
                source = here.files.path(sha256, part)
                kept.put(source.name, source.read_bytes())


def read(folder: Path) -> Filling:
    head, *lines = (folder / TABLES).read_text(encoding="utf-8").splitlines()
    return Filling(
        datetime.fromisoformat(json.loads(head)["filled_at"]), [(name, row) for name, row in map(json.loads, lines)]
    )


class Comparing:
    """Whether two fillings are the same but for ids, codes, the hour, the bytes of pictures, and the last digits of
    what was computed.
    """

    DAYS, RELATIVE, ABSOLUTE = 1.0, 1e-3, 1e-3

    def __init__(self, one: Filling, other: Filling) -> None:
        self.one, self.other = one, other
        self.ids: dict[str, str] = {}

    def difference(self) -> str | None:
        """The first place where they differ; None where they do not."""
        if len(self.one.rows) != len(self.other.rows):
            return f"{len(self.one.rows)} rows, and {len(self.other.rows)}"
        for (name, a), (other_name, b) in zip(self.one.rows, self.other.rows, strict=True):
            if name != other_name:
                return f"a row of {name} where the other has one of {other_name}"
            if (found := self.within(a, b, name)) is not None:
                return found
        return None

    def within(self, a: Any, b: Any, place: str) -> str | None:
        if isinstance(a, dict) and isinstance(b, dict) and a.keys() == b.keys():
            each = ((a[key], b[key], f"{place}.{key}") for key in a)
        elif isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
            each = ((x, y, f"{place}[{n}]") for n, (x, y) in enumerate(zip(a, b, strict=True)))
        else:
            return None if self.alike(a, b, place.rpartition(".")[2]) else f"{place}: {a!r}, and {b!r}"
        return next((found for x, y, at in each if (found := self.within(x, y, at)) is not None), None)

    def alike(self, a: Any, b: Any, key: str) -> bool:
        if isinstance(a, int | float) and isinstance(b, int | float) and not isinstance(a, bool):
            return math.isclose(a, b, rel_tol=self.RELATIVE, abs_tol=self.ABSOLUTE)
        if not (isinstance(a, str) and isinstance(b, str)):
            return bool(a == b)
        if key.endswith("_at"):
            ago = [
                (datetime.fromisoformat(at) - filling.at).total_seconds() / 86400
                for at, filling in ((a, self.one), (b, self.other))
            ]
            return abs(ago[0] - ago[1]) <= self.DAYS
        if HEX.fullmatch(a) and HEX.fullmatch(
            b
        ):  # the same id stands for the same id throughout; a picture is named by its bytes
            return len(a) == len(b) and (len(a) == 64 or self.ids.setdefault(a, b) == b)
        return key == "code" or a == b


def put_demo(here: Installation, folder: Path = FILLED) -> bool:
    """Put the demo into an installation in which nobody has worked yet; answers whether it was one."""
    with here.sessions() as session:
        if person_alone(session) is None or session.scalar(select(func.count()).select_from(Sheet)):
            return False
    filling = read(folder)
    later = timedelta(days=(now() - filling.at).days)  # rounded down: nothing that was done lies ahead
    for path in (folder / PICTURES).glob("*/*.jpg"):
        here.files.put(path.name, path.read_bytes())
    with here.sessions.begin() as session:
        # who works here alone is in it; of two servers that start together, one finds somebody to take out
        if session.execute(delete(Person).where(Person.place == HERE).returning(Person.id)).first() is None:
            return False
        for table in Base.metadata.sorted_tables:
            moments = [column.name for column in table.columns if isinstance(column.type, UtcDateTime)]
            mine = [row for name, row in filling.rows if name == table.name]
            for row in mine:
                row |= {name: datetime.fromisoformat(row[name]) + later for name in moments if row[name] is not None}
            if mine:
                session.execute(table.insert(), mine)
    return True


def make(here: Installation, folder: Path) -> None:
    """Fill an empty installation from the demo's sources, and keep that in ``folder``, unless it holds the same
    already.
    """
    fill(here)
    fill_class(here)
    if not (folder / TABLES).exists() or Comparing(read(folder), filling_of(here)).difference() is not None:
        write(here, folder)
