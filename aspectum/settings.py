"""Where an installation keeps its things, from the environment."""

from __future__ import annotations

import os
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import make_url


@dataclass(frozen=True)
class Settings:
    """``data``: folder of pictures and, by default, the database; ``hosts``: names the server answers to, against pages
    that point their own name at this machine; ``secret``: what cookies and links are signed with, by default one that
    is kept in the data folder; ``loopback``: whether only this machine reaches the server; ``one_click``: whether demo
    people are signed in without a passphrase; ``address``: where people reach it, when that is not the address they ask
    at; ``most_mb``: that one person's pictures may take, 0 for no limit; ``processes``: that compute beside the
    server's own, 0 for none.
    """

    data: Path
    database_url: str
    hosts: tuple[str, ...] = ("127.0.0.1", "localhost", "[::1]")
    secret: str = ""
    loopback: bool = True
    one_click: bool = False
    address: str = ""
    most_mb: int = 3000
    processes: int = 0

    @property
    def database_file(self) -> Path | None:
        """The database's file, where it is SQLite's own."""
        url = make_url(self.database_url)
        return Path(url.database) if url.get_backend_name() == "sqlite" and url.database else None

    @property
    def picture_folder(self) -> Path:
        return self.data / "pictures"


def settings_from_environment(data: Path | None = None) -> Settings:
    """From ``ASPECTUM_DATA``, ``_DATABASE_URL``, ``_HOSTS`` (comma-separated), ``_SECRET``, ``_ADDRESS`` and
    ``_PICTURES_MB``.
    """
    folder = (data or Path(os.environ.get("ASPECTUM_DATA", "data"))).resolve()
    url = os.environ.get("ASPECTUM_DATABASE_URL") or f"sqlite:///{folder / 'aspectum.sqlite'}"
    extra = tuple(h.strip() for h in os.environ.get("ASPECTUM_HOSTS", "").split(",") if h.strip())
    secret, address = os.environ.get("ASPECTUM_SECRET", ""), os.environ.get("ASPECTUM_ADDRESS", "").rstrip("/")
    most = os.environ.get("ASPECTUM_PICTURES_MB", "")
    return Settings(
        folder,
        url,
        Settings.hosts + extra,
        secret,
        address=address,
        most_mb=int(most) if most.isdecimal() else Settings.most_mb,
    )
