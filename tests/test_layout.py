"""The arrows of the architecture point one way."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

PACKAGE = Path(__file__).parents[1] / "aspectum"
ALLOWED = {
    "core": {"core"},
    "pictures": {"pictures"},
    "formats": {"core", "formats"},
    "store": {"store"},
    "service": {"core", "pictures", "formats", "store", "service"},
}
CORE_LIBRARIES = {"numpy", "scipy"}
STANDARD = {"__future__", "collections", "dataclasses", "enum", "fractions", "functools", "math", "typing"}


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
            if node.module == "aspectum.service":
                found |= {f"aspectum.service.{alias.name}" for alias in node.names}
    return found


@pytest.mark.parametrize("room", list(ALLOWED))
def test_rooms_import_only_what_lies_below_them(room: str) -> None:
    for path in (PACKAGE / room).rglob("*.py"):
        for name in imports(path):
            if name.startswith("aspectum."):
                assert name.split(".")[1] in ALLOWED[room], f"{path} imports {name}"


def test_core_stands_on_numpy_and_scipy_alone() -> None:
    for path in (PACKAGE / "core").rglob("*.py"):
        outside = {n.split(".")[0] for n in imports(path)} - {"aspectum"}
        assert outside <= CORE_LIBRARIES | STANDARD, path


def test_only_the_web_knows_http() -> None:
    for room in ("core", "pictures", "formats", "store", "service"):
        for path in (PACKAGE / room).rglob("*.py"):
            assert not {n.split(".")[0] for n in imports(path)} & {"flask", "werkzeug", "spectree"}, path
