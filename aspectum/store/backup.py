"""A whole installation in one file, taken and put back while it is served.

The database comes as SQLite's own online backup (https://www.sqlite.org/backup.html): one moment of it, whatever is
saved meanwhile. Then every picture that this moment knows is copied. A manifest holds the SHA-256 of every part.
"""

from __future__ import annotations

import hashlib
import json
import os
import sqlite3
import tempfile
import zipfile
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from aspectum.language import say
from aspectum.store.picture_files import PictureFiles
from aspectum.store.privacy import close

FORMAT = "aspectum-backup"
DATABASE, MANIFEST = "aspectum.sqlite", "manifest.json"
PARTS = ("", "view", "thumb")
CHUNK = 1 << 20
LARGEST_MANIFEST = 64 << 20
Progress = Callable[[int, int], None]  # parts done, and of how many


class BackupError(ValueError):
    """A backup that cannot be taken or put back; nothing was changed."""


@dataclass(frozen=True)
class BackedUp:
    """``pictures``: files that were packed; ``missing``: names of pictures that the database knows and the folder has
    not, whole.
    """

    schema: str
    pictures: int
    missing: tuple[str, ...]


def back_up(database: Path, files: PictureFiles, to: Path, progress: Progress = lambda done, of: None) -> BackedUp:
    """Write a backup to a new file ``to``, whole or not at all. Raises ``BackupError`` where that is there already, and
    ``OSError``.
    """
    if to.exists():
        raise BackupError(say("{to} is there already; name another file", to=to))
    with tempfile.TemporaryDirectory(dir=to.parent) as folder:
        copy, packed_to = Path(folder) / DATABASE, Path(folder) / "backup.zip"
        try:
            with closing(sqlite3.connect(database)) as live, closing(sqlite3.connect(copy)) as taken:
                live.backup(taken)
        except sqlite3.DatabaseError as error:
            raise BackupError(say("the database cannot be read: {error}", error=error)) from error
        schema, names = known_to(copy)
        sums: dict[str, str] = {}
        missing: list[str] = []
        count = 0
        with zipfile.ZipFile(packed_to, "w", zipfile.ZIP_DEFLATED) as packed:
            sums[DATABASE] = pack(packed, copy, DATABASE, zipfile.ZIP_DEFLATED)
            for n, sha256 in enumerate(names, 1):
                paths = [files.path(sha256, part) for part in PARTS]
                try:
                    for path in paths:
                        sums[f"pictures/{path.parent.name}/{path.name}"] = pack(
                            packed, path, f"pictures/{path.parent.name}/{path.name}", zipfile.ZIP_STORED
                        )
                        count += 1
                except FileNotFoundError:
                    # deleted for good since the database's moment, or lost before: told, and no reason to have no
                    # backup
                    missing.append(sha256)
                progress(n, len(names))
            told = {
                "format": FORMAT,
                "version": 1,
                "at": datetime.now(UTC).isoformat(),
                "schema": schema,
                "missing": missing,
                "sha256": sums,
            }
            packed.writestr(MANIFEST, json.dumps(told, indent=1) + "\n")
        close(packed_to)
        with packed_to.open("rb") as written:
            os.fsync(written.fileno())
        os.replace(packed_to, to)
    return BackedUp(schema, count, tuple(missing))


def known_to(database: Path) -> tuple[str, list[str]]:
    """The schema's revision of a database that nobody else uses, and the names of its pictures. Raises ``BackupError``
    for one that is damaged.
    """
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as connection:
        try:
            (sound,) = connection.execute("PRAGMA integrity_check").fetchone()
            if sound != "ok":
                raise BackupError(say("the database is damaged: {sound}", sound=sound))
            (schema,) = connection.execute("SELECT version_num FROM alembic_version").fetchone()
            names = [name for (name,) in connection.execute("SELECT DISTINCT sha256 FROM pictures ORDER BY sha256")]
        except (sqlite3.DatabaseError, TypeError) as error:
            raise BackupError(say("this is no database of Aspectum: {error}", error=error)) from error
    return str(schema), names


def pack(packed: zipfile.ZipFile, path: Path, name: str, how: int) -> str:
    """Put a file into a backup; answers its SHA-256."""
    summed = hashlib.sha256()
    with path.open("rb") as source:
        entry = zipfile.ZipInfo.from_file(path, name)
        entry.compress_type = how
        with packed.open(entry, "w", force_zip64=True) as to:
            while chunk := source.read(CHUNK):
                summed.update(chunk)
                to.write(chunk)
    return summed.hexdigest()


@dataclass(frozen=True)
class Manifest:
    """What a backup says that it holds."""

    at: str
    schema: str
    sums: dict[str, str]


def proved(packed: zipfile.ZipFile, progress: Progress = lambda done, of: None) -> Manifest:
    """The manifest of a backup, every part of which is there and as it was. Raises ``BackupError`` naming the first
    that is not.
    """
    try:
        if packed.getinfo(MANIFEST).file_size > LARGEST_MANIFEST:
            raise BackupError(say("its manifest is far too large"))
        told = json.loads(packed.read(MANIFEST))
        if told["format"] != FORMAT or told["version"] != 1:
            raise BackupError(say("this is no backup of Aspectum"))
        manifest = Manifest(
            str(told["at"]), str(told["schema"]), {str(name): str(sha) for name, sha in told["sha256"].items()}
        )
    except (KeyError, TypeError, ValueError, AttributeError) as error:
        raise error if isinstance(error, BackupError) else BackupError(say("this is no backup of Aspectum")) from error
    if DATABASE not in manifest.sums:
        raise BackupError(say("it holds no database"))
    for n, (name, due) in enumerate(manifest.sums.items(), 1):
        if not (name == DATABASE or is_picture(name)):
            raise BackupError(say("it holds what no backup holds: {name!r}", name=name[:80]))
        try:
            with packed.open(name) as part:
                summed = hashlib.sha256()
                while chunk := part.read(CHUNK):
                    summed.update(chunk)
        except (KeyError, zipfile.BadZipFile, OSError, EOFError) as error:
            raise BackupError(say("{name} is missing or damaged", name=name)) from error
        if summed.hexdigest() != due:
            raise BackupError(say("{name} is not as it was", name=name))
        progress(n, len(manifest.sums))
    return manifest


def is_picture(name: str) -> bool:
    """Whether a part's name is one of a picture's files: anything else could lead out of the folder."""
    parts = name.split("/")
    if len(parts) != 3 or parts[0] != "pictures" or not parts[2].endswith(".jpg"):
        return False
    stem = parts[2].split(".")[0]
    return len(stem) == 64 and all(c in "0123456789abcdef" for c in stem) and parts[1] == stem[:2]


@contextmanager
def opened(backup: Path) -> Iterator[zipfile.ZipFile]:
    """A backup's file. Raises ``BackupError`` where it is none."""
    try:
        with zipfile.ZipFile(backup) as packed:
            yield packed
    except zipfile.BadZipFile as error:
        raise BackupError(say("{backup} is no backup, or was cut short", backup=backup)) from error


def put_back(
    backup: Path,
    database: Path,
    files: PictureFiles,
    newest: str,
    before: Callable[[], None] = lambda: None,
    progress: Progress = lambda done, of: None,
) -> Manifest:
    """Put a backup in place of what is there, also under a server that runs: pictures first, so that none is missed,
    then the database in one step.

    ``newest``: the revision of this Aspectum's schema, numbered in order; ``before`` is called once all is proved and
    nothing is changed yet. Raises ``BackupError`` for a backup that is damaged or from a newer Aspectum, and
    ``OSError``; nothing was changed then but for pictures that are swept away in time.
    """
    with opened(backup) as packed, tempfile.TemporaryDirectory(dir=database.parent) as folder:
        manifest = proved(packed, progress)
        if manifest.schema > newest:
            raise BackupError(
                say(
                    "it is from a newer Aspectum (schema {schema}, this one has {newest}); update first",
                    schema=manifest.schema,
                    newest=newest,
                )
            )
        copy = Path(folder) / DATABASE
        with packed.open(DATABASE) as source, copy.open("wb") as to:
            pour(source, to)
        known_to(copy)
        before()
        for name in manifest.sums:
            if name != DATABASE:
                _, _, file = name.split("/")
                with packed.open(name) as source:
                    data = source.read()
                files.put(file, data)
        with closing(sqlite3.connect(copy)) as kept, closing(sqlite3.connect(database, timeout=60.0)) as live:
            kept.backup(live)
            live.execute("PRAGMA journal_mode=WAL")
    close(database)
    return manifest


def pour(source: IO[bytes], to: IO[bytes]) -> None:
    while chunk := source.read(CHUNK):
        to.write(chunk)
