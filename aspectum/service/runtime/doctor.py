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
        ("data folder", folder),
        ("free disk", free_disk),
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
        state, words = State.WRONG, f"cannot be looked at: {error}"
    return Told(what, state, words)


def folder(where: Looked) -> tuple[State, str]:
    if not where.data.is_dir():
        return State.WRONG, f"{where.data} is no folder. Name the one that is served with --data, or start `aspectum serve` once to make it."
    probe = where.data / ".written-by-doctor"
    try:
        probe.write_bytes(b"")
        probe.unlink()
    except OSError as error:
        return State.WRONG, f"{where.data} cannot be written: {error.strerror}. Give it to the account that serves."
    mode = stat.S_IMODE(where.data.stat().st_mode)
    if mode & 0o077 and not mode & stat.S_ISVTX:
        return State.LOOK, f"{where.data} is open to other accounts ({mode:o}); the next start of `aspectum serve` closes it."
    return State.FINE, f"{where.data} can be written and is closed to other accounts"


def free_disk(where: Looked) -> tuple[State, str]:
    free = shutil.disk_usage(where.data if where.data.is_dir() else Path.cwd()).free
    words = f"{free / (1 << 30):.1f} GB free"
    return (State.FINE, words) if free >= LEAST_FREE_BYTES else (State.LOOK, f"{words}: make room before the next class; a photo takes up to 10 MB")


def interface(where: Looked) -> tuple[State, str]:
    if (where.front_end / "index.html").exists():
        return State.FINE, "is built"
    return State.WRONG, "is not built: run `make setup`, or install from the wheel, which holds it"


def database(where: Looked) -> tuple[State, str]:
    if where.database is None:
        return State.FINE, "is not SQLite: its own tools look after it"
    if not where.database.exists():
        return State.LOOK, f"{where.database} is not there yet; the first start makes it"
    with closing(read_only(where.database)) as connection:
        (sound,) = connection.execute("PRAGMA integrity_check").fetchone()
        dangling = connection.execute("PRAGMA foreign_key_check").fetchall()
    if sound != "ok":
        return State.WRONG, f"is damaged ({sound}). Put the last backup back with `aspectum restore`."
    if dangling:
        return State.WRONG, f"has {len(dangling)} rows that name what is not there. Put the last backup back, or report it."
    return State.FINE, f"is whole, {where.database.stat().st_size / (1 << 20):.1f} MB"


def schema(where: Looked) -> tuple[State, str]:
    newest = newest_schema()
    if where.database is None or not where.database.exists():
        return State.FINE, f"{newest} is this Aspectum's"
    with closing(read_only(where.database)) as connection:
        (found,) = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    if found == newest:
        return State.FINE, f"{found}, this Aspectum's own"
    if found < newest:
        return State.LOOK, f"{found}; the next start brings it to {newest}. Take a backup first."
    return State.WRONG, f"{found} is of a newer Aspectum than this one ({newest}). Install the newer one."


def picture_files(where: Looked) -> tuple[State, str]:
    if where.database is None or not where.database.exists():
        return State.FINE, "are looked at where the database is SQLite"
    files = PictureFiles(where.pictures)
    with closing(read_only(where.database)) as connection:
        names = {name for (name,) in connection.execute("SELECT DISTINCT sha256 FROM pictures")}
    missing = sorted(name for name in names if not files.path(name).exists())
    changed = [name for name in sorted(names - set(missing)) if hashlib.sha256(files.path(name).read_bytes()).hexdigest() != name]
    if missing or changed:
        some = ", ".join(name[:8] for name in (missing + changed)[:5])
        return State.WRONG, f"{len(missing)} are missing and {len(changed)} are not as they were ({some}). Put the last backup back with `aspectum restore`."
    lone = len({name for name, _ in files.kept()} - names)
    words = f"{len(names)}, each as it was stored"
    return State.FINE, words + (f"; {lone} that no sheet needs are swept away in time" if lone else "")


def secret(where: Looked) -> tuple[State, str]:
    if where.secret:
        if is_weak(where.secret):
            return State.WRONG, "ASPECTUM_SECRET is short, or the one from the documents. Leave it out, or set a random one."
        return State.FINE, "is set by ASPECTUM_SECRET"
    return State.FINE, "a random one is kept in the data folder"


def libraries(where: Looked) -> tuple[State, str]:
    import cv2
    import numba
    import numpy as np

    marker = cv2.aruco.generateImageMarker(cv2.aruco.getPredefinedDictionary(cv2.aruco.DICT_5X5_1000), 7, 70)
    if np.asarray(marker).shape != (70, 70):
        return State.WRONG, "OpenCV draws no markers: worksheets cannot be printed. Install the versions of requirements.txt."
    return State.FINE, f"numpy {np.__version__}, numba {numba.__version__}, OpenCV {cv2.__version__}"


def read_only(path: Path) -> sqlite3.Connection:
    return sqlite3.connect(f"file:{path}?mode=ro", uri=True)
