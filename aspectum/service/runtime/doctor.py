"""What is wrong with an installation, and what to do about it."""

from __future__ import annotations

import hashlib
import shutil
import sqlite3
import stat
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

from aspectum.language import figure, say
from aspectum.store.database import newest_schema
from aspectum.store.picture_files import PictureFiles
from aspectum.store.secret import is_weak

LEAST_FREE_BYTES = 1 << 30  # a class's evening of photos


class State(StrEnum):
    """How a thing stands: fine, to be looked at, or wrong."""

    FINE = "fine"
    LOOK = "look"
    WRONG = "wrong"


@dataclass(frozen=True)
class Told:
    """One thing that was looked at, and in ``words`` how it stands and what to do."""

    what: str
    state: State
    words: str


@dataclass(frozen=True)
class Looked:
    """Where an installation keeps its things; ``database``: None where it is not SQLite."""

    data: Path
    database: Path | None
    pictures: Path
    front_end: Path
    secret: str


def examine(where: Looked) -> Iterator[Told]:
    """Look at everything in order; one that cannot be looked at ends no other."""
    for what, look in (
        (say("data folder"), folder),
        (say("free disk"), free_disk),
        ("interface", interface),
        ("database", database),
        ("schema", schema),
        ("pictures", picture_files),
        ("secret", secret),
        ("libraries", libraries),
    ):
        yield seen(what, look, where)


def seen(what: str, look: Callable[[Looked], tuple[State, str]], where: Looked) -> Told:
    try:
        state, words = look(where)
    except (OSError, sqlite3.DatabaseError) as error:
        state, words = State.WRONG, say("cannot be looked at: {error}", error=error)
    return Told(what, state, words)


def folder(where: Looked) -> tuple[State, str]:
    if not where.data.is_dir():
        return State.WRONG, say(
            "{data} is no folder. Name the one that is served with --data, or start `aspectum serve` once to make it.",
            data=where.data,
        )
    probe = where.data / ".written-by-doctor"
    try:
        probe.write_bytes(b"")
        probe.unlink()
    except OSError as error:
        return State.WRONG, say(
            "{data} cannot be written: {strerror}. Give it to the account that serves.",
            data=where.data,
            strerror=error.strerror,
        )
    mode = stat.S_IMODE(where.data.stat().st_mode)
    if mode & 0o077 and not mode & stat.S_ISVTX:
        return State.LOOK, say(
            "{data} is open to other accounts ({mode:o}); the next start of `aspectum serve` closes it.",
            data=where.data,
            mode=mode,
        )
    return State.FINE, say("{data} can be written and is closed to other accounts", data=where.data)


def free_disk(where: Looked) -> tuple[State, str]:
    free = shutil.disk_usage(where.data if where.data.is_dir() else Path.cwd()).free
    words = say("{free} GB free", free=figure(free / (1 << 30), 1))
    return (
        (State.FINE, words)
        if free >= LEAST_FREE_BYTES
        else (State.LOOK, say("{words}: make room before the next class; a photo takes up to 10 MB", words=words))
    )


def interface(where: Looked) -> tuple[State, str]:
    if (where.front_end / "index.html").exists():
        return State.FINE, say("is built")
    return State.WRONG, say("is not built: run `make setup`, or install from the wheel, which holds it")


def database(where: Looked) -> tuple[State, str]:
    if where.database is None:
        return State.FINE, say("is not SQLite: its own tools look after it")
    if not where.database.exists():
        return State.LOOK, say("{database} is not there yet; the first start makes it", database=where.database)
    with closing(read_only(where.database)) as connection:
        (sound,) = connection.execute("PRAGMA integrity_check").fetchone()
        dangling = connection.execute("PRAGMA foreign_key_check").fetchall()
    if sound != "ok":
        return State.WRONG, say("is damaged ({sound}). Put the last backup back with `aspectum restore`.", sound=sound)
    if dangling:
        return State.WRONG, say(
            "has {dangling} rows that name what is not there. Put the last backup back, or report it.",
            dangling=len(dangling),
        )
    return State.FINE, say("is whole, {st_size} MB", st_size=figure(where.database.stat().st_size / (1 << 20), 1))


def schema(where: Looked) -> tuple[State, str]:
    newest = newest_schema()
    if where.database is None or not where.database.exists():
        return State.FINE, say("{newest} is this Aspectum's", newest=newest)
    with closing(read_only(where.database)) as connection:
        (found,) = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    if found == newest:
        return State.FINE, say("{found}, this Aspectum's own", found=found)
    if found < newest:
        return State.LOOK, say(
            "{found}; the next start brings it to {newest}. Take a backup first.", found=found, newest=newest
        )
    return State.WRONG, say(
        "{found} is of a newer Aspectum than this one ({newest}). Install the newer one.", found=found, newest=newest
    )


def picture_files(where: Looked) -> tuple[State, str]:
    if where.database is None or not where.database.exists():
        return State.FINE, say("are looked at where the database is SQLite")
    files = PictureFiles(where.pictures)
    with closing(read_only(where.database)) as connection:
        names = {name for (name,) in connection.execute("SELECT DISTINCT sha256 FROM pictures")}
    missing = sorted(name for name in names if not files.path(name).exists())
    changed = [
        name
        for name in sorted(names - set(missing))
        if hashlib.sha256(files.path(name).read_bytes()).hexdigest() != name
    ]
    if missing or changed:
        some = ", ".join(name[:8] for name in (missing + changed)[:5])
        return State.WRONG, say(
            "{missing} are missing and {changed} are not as they were ({some}). Put the last backup back with "
            "`aspectum restore`.",
            missing=len(missing),
            changed=len(changed),
            some=some,
        )
    lone = len({name for name, _ in files.kept()} - names)
    words = say("{names}, each as it was stored", names=len(names))
    return State.FINE, words + (say("; {lone} that no sheet needs are swept away in time", lone=lone) if lone else "")


def secret(where: Looked) -> tuple[State, str]:
    if where.secret:
        if is_weak(where.secret):
            return State.WRONG, say(
                "ASPECTUM_SECRET is short, or the one from the documents. Leave it out, or set a random one."
            )
        return State.FINE, say("is set by ASPECTUM_SECRET")
    return State.FINE, say("a random one is kept in the data folder")


def libraries(where: Looked) -> tuple[State, str]:
    import cv2
    import numba
    import numpy as np

    marker = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000), 7, 70)
    if np.asarray(marker).shape != (70, 70):
        return State.WRONG, say(
            "OpenCV draws no markers: worksheets cannot be printed. Install the versions of requirements.txt."
        )
    return State.FINE, say(
        "numpy {version}, numba {version2}, OpenCV {version3}",
        version=np.__version__,
        version2=numba.__version__,
        version3=cv2.__version__,
    )


def read_only(path: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"file:{path}?mode=ro", uri=True)
