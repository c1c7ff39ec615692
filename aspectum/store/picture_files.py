"""Picture files on disk, named by their content and written whole or not at all."""

from __future__ import annotations

import hashlib
import os
import tempfile
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from filelock import FileLock

LOCK_WAIT_S = 30.0


class PictureFiles:
    """Files under ``folder`` as ``ab/abcdef….jpg``, ``….view.jpg`` and ``….thumb.jpg``; beside them what was found out
    about them, ``….name.json``.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder

    @property
    def lock(self) -> FileLock:
        """To be held from writing a file to committing the row that needs it, and while unneeded ones go; all servers
        on one folder wait for it. Taking it raises ``OSError`` where the folder cannot be written, or nothing comes
        free.
        """
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        return FileLock(self.folder / ".lock", timeout=LOCK_WAIT_S, mode=0o600)

    def path(self, sha256: str, part: str = "") -> Path:
        return self.folder / sha256[:2] / f"{sha256}{f'.{part}' if part else ''}.jpg"

    def size(self, sha256: str) -> int:
        """Bytes that a picture and its copies take; those that are gone take none."""
        found = 0
        for part in ("", "view", "thumb"):
            with suppress(OSError):
                found += self.path(sha256, part).stat().st_size
        return found

    def keep(self, original: bytes, copies: dict[str, bytes]) -> str:
        """Store a picture with its smaller copies; returns the name. Raises ``OSError``."""
        sha256 = hashlib.sha256(original).hexdigest()
        # the original comes last: where it stands, its copies stand too
        for part, data in [*copies.items(), ("", original)]:
            _write_whole(self.path(sha256, part), data)
        return sha256

    def put(self, name: str, data: bytes) -> None:
        """Store one of a picture's files under the name that it has in a backup. Raises ``OSError``."""
        _write_whole(self.folder / name[:2] / name, data)

    def note(self, sha256: str, name: str, data: bytes) -> None:
        """Keep what was found out about a picture, beside it, until the picture goes. Raises ``OSError``."""
        _write_whole(self._note(sha256, name), data)

    def noted(self, sha256: str, name: str) -> bytes | None:
        """What was found out about a picture; None where nobody has yet."""
        try:
            return self._note(sha256, name).read_bytes()
        except OSError:
            return None

    def _note(self, sha256: str, name: str) -> Path:
        return self.folder / sha256[:2] / f"{sha256}.{name}.json"

    def drop(self, sha256: str) -> None:
        """Remove a picture, its copies and what was found out about it."""
        for path in self.path(sha256).parent.glob(f"{sha256}.*"):
            path.unlink(missing_ok=True)

    def kept(self) -> Iterator[tuple[str, float]]:
        """Names of all stored pictures, whole or not, and when each was last written (seconds)."""
        for path in self.folder.glob("??/*.jpg"):
            yield path.name.split(".")[0], path.stat().st_mtime


def _write_whole(path: Path, data: bytes) -> None:
    if path.exists():
        return
    path.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=path.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
