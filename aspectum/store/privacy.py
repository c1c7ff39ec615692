"""The data folder is its owner's alone: photos of homes and people lie in it."""

from __future__ import annotations

import stat
from pathlib import Path


def make_private(folder: Path, pictures: Path, database: Path | None) -> None:
    """Make the data folder, and close it and what Aspectum keeps in it to other accounts: folders
    0700, files 0600, also those that an earlier version left open. Raises ``OSError``.

    ``database``: the SQLite file, where there is one. A folder that everybody shares (with the sticky bit, as /tmp) is
    left as it is; so is whatever else lies in the folder.
    """
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    if not folder.stat().st_mode & stat.S_ISVTX:
        close(folder)
    # made before SQLite makes it, whose companion files take after it
    if database is not None:
        database.touch(mode=0o600)
        for path in database.parent.glob(f"{database.name}*"):
            close(path)
    pictures.mkdir(mode=0o700, exist_ok=True)
    for path in [pictures, *pictures.rglob("*")]:
        close(path)


def close(path: Path) -> None:
    mode = path.stat().st_mode
    wanted = 0o700 if stat.S_ISDIR(mode) else 0o600
    if stat.S_IMODE(mode) != wanted:
        path.chmod(wanted)
