"""Every table, for whoever compares or migrates the whole."""

from __future__ import annotations

from aspectum.store import assignments, classes, counted, room, worksheets
from aspectum.store.models import Base

__all__ = ["Base", "assignments", "classes", "counted", "room", "worksheets"]
