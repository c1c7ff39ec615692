"""Everything that is a person's: as one file of open formats to take away, and deleted for good."""

from __future__ import annotations

import json
import zipfile
from collections.abc import Iterator
from typing import IO, Any

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session, sessionmaker

from aspectum.formats.logbook import write_logbook
from aspectum.language import Text, say
from aspectum.service.errors import Unfit
from aspectum.service.practice.logbook import log_rows
from aspectum.service.school.hand_ins import remarks_of
from aspectum.service.sheets.pictures import tidy_name
from aspectum.store.assignments import Begun, HandIn, Phrase
from aspectum.store.classes import ClassRow, Member, Role, SignIn
from aspectum.store.models import (
    Drawing,
    Person,
    Picture,
    PracticeQuestion,
    PracticeSet,
    Reading,
    Sheet,
    StandRow,
    TimedDrawing,
)
from aspectum.store.picture_files import PictureFiles
from aspectum.store.room import RoomAnswer, RoomQuestion
from aspectum.store.worksheets import PrintedWorksheet, ReturnedWorksheet, WorksheetSet

READ_ME = Text(
    "Everything of yours in Aspectum.\n\nperson.json     name and classes\nsheets/         sighting sheets, one "
    "*.sighting.json each; 'picture' names its photo\npictures/       the photos as they were kept, without location\n"
    "drawings.json   drawings on paper: which sheet is the drawing, of which subject, from which photo, and what was "
    "noted\nstands/         set-ups on the model stand, one *.stand.json each\nlogbook.csv     every reading of a "
    "skill\npractice.json   questions that were asked, and the answers\ntimed.json      drawings against the clock\n"
    "worksheets/     worksheets that were printed, one *.worksheet.json each, with their truth\nhand-ins/       what "
    "was handed in, as it was, with the tutor's mark, word and remarks\n\nTimes are UTC. The formats are described in "
    "docs/formats.md of Aspectum.\n"
)


def everything(session: Session, files: PictureFiles, person: Person, made: IO[bytes]) -> None:
    """Write a zip of all that is a person's into ``made``, and go back to its beginning; photos are stored as they are.
    Raises ``OSError``.
    """
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in parts(session, person):
            packed.writestr(name, content)
        for picture in session.scalars(select(Picture).where(Picture.person_id == person.id)):
            path = files.path(picture.sha256)
            if path.exists():
                packed.write(path, f"pictures/{picture_name(picture)}", zipfile.ZIP_STORED)
    made.seek(0)


def parts(session: Session, person: Person) -> Iterator[tuple[str, bytes | str]]:
    """Every part but the photos: its name and content."""
    yield "read-me.txt", str(READ_ME)
    classes = [
        {"class": m.of.name, "as": m.role, "joined": moment(m.joined_at)}
        for m in session.scalars(select(Member).where(Member.person_id == person.id))
    ]
    yield (
        "person.json",
        text({"name": person.name, "since": moment(person.created_at), "arm_mm": person.arm_mm, "classes": classes}),
    )
    for sheet in session.scalars(select(Sheet).where(Sheet.person_id == person.id)):
        document = dict(sheet.document)
        if sheet.picture is not None and isinstance(document.get("picture"), dict):
            document["picture"] = document["picture"] | {"file": f"../pictures/{picture_name(sheet.picture)}"}
        yield f"sheets/{file_name(sheet.title, sheet.id)}.sighting.json", text(document)
    for stand in session.scalars(select(StandRow).where(StandRow.person_id == person.id)):
        yield f"stands/{file_name(stand.title, stand.id)}.stand.json", text(stand.document)
    yield (
        "drawings.json",
        text(
            [
                drawing(one)
                for one in session.scalars(select(Drawing).join(Drawing.sheet).where(Sheet.person_id == person.id))
            ]
        ),
    )
    yield "logbook.csv", write_logbook(log_rows(session, person))
    asked = (
        select(PracticeQuestion)
        .join(PracticeQuestion.set)
        .where(PracticeSet.person_id == person.id, PracticeQuestion.answered_at.is_not(None))
    )
    yield (
        "practice.json",
        text(
            [
                {
                    "at": moment(q.answered_at),
                    "skill": q.skill,
                    "question": q.document,
                    "answer": q.answer,
                    "judged": q.judged,
                    "truth": q.truth,
                }
                for q in session.scalars(asked.order_by(PracticeQuestion.answered_at))
            ]
        ),
    )
    timed = session.scalars(
        select(TimedDrawing).where(TimedDrawing.person_id == person.id).order_by(TimedDrawing.made_at)
    )
    yield (
        "timed.json",
        text(
            [
                {
                    "title": t.title,
                    "at": moment(t.made_at),
                    "minutes": t.minutes,
                    "shares": t.shares,
                    "ended_s": t.ended_s,
                    "drawn_s": t.drawn_s,
                    "holds": t.holds,
                    "next_time": t.next_time,
                }
                for t in timed
            ]
        ),
    )
    printed = (
        select(PrintedWorksheet)
        .join(WorksheetSet, WorksheetSet.id == PrintedWorksheet.set_id)
        .where(WorksheetSet.person_id == person.id)
    )
    for page in session.scalars(printed):
        yield f"worksheets/{page.code}.worksheet.json", text(page.document)
    for made in session.scalars(select(HandIn).where(HandIn.person_id == person.id).order_by(HandIn.made_at)):
        yield f"hand-ins/{file_name(made.assignment.title, made.id)}.json", text(piece(session, made))


def piece(session: Session, made: HandIn) -> dict[str, Any]:
    remarks = [
        {"words": r.words, "sighting": r.sighting, "at_px": None if r.x_px is None else [r.x_px, r.y_px]}
        for r in remarks_of(session, made)
    ]
    return {
        "assignment": made.assignment.title,
        "try": made.number,
        "at": moment(made.made_at),
        "sheet": made.document,
        "drawing": made.drawing,
        "note": made.note,
        "found": made.found,
        "mark": made.mark,
        "word": made.word,
        "returned": moment(made.returned_at),
        "remarks": remarks if made.returned_at else [],
    }


def drawing(one: Drawing) -> dict[str, Any]:
    return {
        "drawing": one.sheet_id[:8],
        "subject": None if one.subject_id is None else one.subject_id[:8],
        "before": None if one.before_id is None else one.before_id[:8],
        "photo": picture_name(one.photo),
        "flattening": one.flattening,
        "content": one.content,
        "next_time": one.next_time,
        "noted": moment(one.noted_at),
    }


def moment(at: Any) -> str | None:
    return None if at is None else at.isoformat()


def text(content: object) -> str:
    return json.dumps(content, indent=1, ensure_ascii=False) + "\n"


def file_name(title: str, id: str) -> str:
    """A title as a file's name, told from others of the same title by the beginning of the id."""
    kept = "".join(c if c.isalnum() or c in " -_" else " " for c in tidy_name(title))
    return f"{' '.join(kept.split())[:60] or 'untitled'} {id[:8]}"


def picture_name(picture: Picture) -> str:
    """By its content: one photo under several sheets is packed once for each, and told apart by its own id."""
    return f"{file_name(picture.name.rsplit('.', 1)[0], picture.id)}.jpg"


def delete_work(sessions: sessionmaker[Session], files: PictureFiles, person_id: str, and_person: bool) -> None:
    """Delete for good all that is a person's, also photos on the disk; with ``and_person`` the person too. Raises
    ``Unfit`` for a tutor whose class still has others in it.
    """
    with files.lock:
        with sessions.begin() as session:
            if and_person:
                leave(session, person_id)
            gone = set(session.scalars(select(Picture.sha256).where(Picture.person_id == person_id)))
            mine = select(Picture.id).where(Picture.person_id == person_id)
            session.execute(delete(RoomQuestion).where(RoomQuestion.picture_id.in_(mine)))
            session.execute(delete(RoomAnswer).where(RoomAnswer.person_id == person_id))
            for table in (WorksheetSet, ReturnedWorksheet, Phrase, Begun, HandIn, Reading, PracticeSet, TimedDrawing):
                session.execute(delete(table).where(table.person_id == person_id))
            # what hangs on a sheet goes with it, but what was drawn from it elsewhere forgets it first
            session.execute(
                delete(Drawing).where(Drawing.sheet_id.in_(select(Sheet.id).where(Sheet.person_id == person_id)))
            )
            for kept in (Sheet, StandRow, Picture):
                session.execute(delete(kept).where(kept.person_id == person_id))
            if and_person:
                session.execute(delete(SignIn).where(SignIn.person_id == person_id))
                session.execute(delete(Person).where(Person.id == person_id))
            else:
                session.execute(update(Person).where(Person.id == person_id).values(arm_mm=None))
        with sessions() as session:
            still = set(session.scalars(select(Picture.sha256).where(Picture.sha256.in_(gone))))
        for sha256 in gone - still:
            files.drop(sha256)


def leave(session: Session, person_id: str) -> None:
    """Take a person out of their classes; a tutor's own, with nobody else in it, is deleted."""
    for member in session.scalars(select(Member).where(Member.person_id == person_id)).all():
        if member.role == Role.TUTOR:
            others = session.scalar(
                select(func.count())
                .select_from(Member)
                .where(Member.class_id == member.class_id, Member.person_id != person_id)
            )
            if others:
                raise Unfit(
                    say(
                        "Your class {name} still has {others} in it. Delete their work for good first, or keep the "
                        "class.",
                        name=member.of.name,
                        others=others,
                    )
                )
            session.execute(delete(ClassRow).where(ClassRow.id == member.class_id))
        else:
            session.delete(member)
    session.flush()
