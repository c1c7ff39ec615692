"""A class's marks as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime

from aspectum.formats.logbook import safe

HEAD = (
    "student",
    "assignment",
    "try",
    "handed_in",
    "late",
    "holds",
    "off",
    "unsure",
    "judged",
    "mark",
    "word",
    "returned",
)


@dataclass(frozen=True)
class MarkRow:
    """A student's try at an assignment; without a ``number`` nothing was handed in."""

    student: str
    assignment: str
    number: int | None
    handed_in: datetime | None
    late: bool
    holds: int | None
    off: int | None
    unsure: int | None
    judged: int | None
    mark: str
    word: str
    returned: datetime | None


def write_marks(rows: Iterable[MarkRow]) -> bytes:
    """UTF-8 with a byte-order mark, as spreadsheets ask for it; moments in UTC."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(HEAD)
    for r in rows:
        counts = ["" if n is None else n for n in (r.holds, r.off, r.unsure, r.judged)]
        moments = ["" if at is None else at.isoformat(timespec="seconds") for at in (r.handed_in, r.returned)]
        number = "" if r.number is None else r.number
        writer.writerow(
            [
                safe(r.student),
                safe(r.assignment),
                number,
                moments[0],
                "yes" if r.late else "no",
                *counts,
                safe(r.mark),
                safe(r.word),
                moments[1],
            ]
        )
    return out.getvalue().encode("utf-8-sig")
