"""What an installation signs its cookies and links with."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

from aspectum.store.privacy import close

LEAST = 32  # characters of a secret that somebody chose
PLACEHOLDERS = {"change-this-secret-before-you-serve-anybody"}  # what the documents write in its place


def kept_secret(folder: Path) -> str:
    """The secret kept in the data folder, made at random when there is none; servers that start together agree. Raises
    ``OSError``.
    """
    path = folder / "secret"
    try:
        handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    except FileExistsError:
        pass
    else:
        with os.fdopen(handle, "w") as file:
            file.write(secrets.token_urlsafe(48))
    close(path)
    found = path.read_text().strip()
    if len(found) < LEAST:  # a server that was stopped in the middle of writing it
        path.unlink()
        return kept_secret(folder)
    return found


def is_weak(secret: str) -> bool:
    """Whether a chosen secret is too short, or the one that the documents show."""
    return len(secret) < LEAST or secret in PLACEHOLDERS
