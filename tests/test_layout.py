"""The arrows of the architecture point one way, in the package, in the core's rooms, and in the front end."""

from __future__ import annotations

import ast
import math
import re
from pathlib import Path

import pytest

from aspectum.core.plane.projection import FULL_FRAME_MM, ISOMETRIC_PITCH_DEG
from aspectum.formats.exports import LETTER

ROOT = Path(__file__).parents[1]
PACKAGE, FRONT = ROOT / "aspectum", ROOT / "frontend/src"
ALLOWED = {
    "core": {"core"},
    "pictures": {"language", "core", "pictures"},
    "formats": {"language", "core", "formats"},
    "language": {"language"},
    "store": {"language", "store"},
    "service": {"language", "core", "pictures", "formats", "store", "service"},
    "demo": {"language", "core", "pictures", "formats", "store", "service", "demo"},
    "web": {"language", "core", "pictures", "formats", "store", "service", "settings", "web"},
}
SERVICE = (
    "words",
    "runtime",
    "people",
    "stand",
    "sheets",
    "practice",
    "pages",
    "paper",
    "school",
)  # each stands on those before it
DATA = {
    "sightings",
    "reasons",
    "findings",
    "tolerance",
    "wording",
}  # data classes and the rule, known to every room of the core
CORE = {
    "plane": {"sightings", "plane"},
    "view": DATA | {"plane", "view"},
    "aids": DATA | {"plane", "view", "aids"},
    "form": DATA | {"plane", "view", "form"},
    "finding": {"sightings", "plane", "view", "finding"},
    "judge": DATA | {"plane", "view", "aids", "form", "judge"},
    "life": DATA | {"plane", "judge", "life"},
    "plan": DATA | {"plane", "view", "aids", "life", "plan"},
    "drawing": DATA | {"plane", "view", "aids", "form", "judge", "check", "look", "drawing"},
    "stand": {"sightings", "plane", "stand"},  # its forward camera shares nothing with view
    "practice": DATA | {"plane", "drawing", "life", "stand", "practice"},
    "worksheet": {"sightings", "plane", "stand", "practice", "worksheet"},
    "sightings": set(),
    "tolerance": {"plane"},
    "reasons": {"sightings"},
    "findings": {"sightings", "reasons", "tolerance", "plane"},
    "wording": set(),
    "check": DATA | {"plane", "view", "aids", "form", "judge"},
    "look": DATA | {"plane", "view", "aids", "form", "judge", "check"},
}
OF_COMPILING = {
    "contextlib",
    "threading",
    "time",
    "types",
}  # what decides when loops turn to machine code takes the time that they took
CORE_LIBRARIES = {"numpy", "numba", "scipy", "fsrs"}
STANDARD = {
    "__future__",
    "abc",
    "collections",
    "dataclasses",
    "enum",
    "fractions",
    "datetime",
    "functools",
    "itertools",
    "math",
    "statistics",
    "typing",
}
# in order: the tests are dealt out to two processes, which must name them alike
SCREENS = ("card", "class", "logbook", "paper", "plan", "practice", "sheets", "sighting", "stand-room", "worksheets")
FRONT_END = {
    "words": {"words"},
    "api": {"words", "api"},
    "ui": {"words", "api", "ui"},
    "stage": {"words", "api", "ui", "stage"},
    "sheet": {"words", "api", "ui", "stage", "sheet"},
    "drill": {"words", "api", "ui", "stage", "drill"},
    "testing": {"api"},
    **{screen: {"words", "api", "ui", "stage", "sheet", "drill", screen} for screen in SCREENS},
    "app": {"words", "api", "ui", "stage", "sheet", "drill", "app", *SCREENS},
}


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


@pytest.mark.parametrize("room", SERVICE)
def test_rooms_of_the_service_import_only_what_lies_below_them(room: str) -> None:
    below = {*SERVICE[: SERVICE.index(room) + 1], "errors"}
    for path in (PACKAGE / "service" / room).rglob("*.py"):
        named = {name.split(".")[2] for name in imports(path) if name.startswith("aspectum.service.")}
        assert named <= below, f"{path} imports {named - below}"


def test_the_service_has_the_rooms_that_are_described() -> None:
    assert {
        path.name for path in (PACKAGE / "service").iterdir() if path.is_dir() and path.name != "__pycache__"
    } == set(SERVICE)


def test_the_core_has_the_rooms_that_are_described() -> None:
    assert {p.stem for p in (PACKAGE / "core").iterdir() if p.stem not in ("__init__", "__pycache__")} == set(CORE)


@pytest.mark.parametrize("room", list(CORE))
def test_rooms_of_the_core_import_only_what_lies_below_them(room: str) -> None:
    inside = PACKAGE / "core" / room
    for path in inside.rglob("*.py") if inside.is_dir() else [inside.with_suffix(".py")]:
        for name in imports(path):
            if name.startswith("aspectum.core."):
                assert name.split(".")[2] in CORE[room], f"{path} imports {name}"


def test_core_stands_on_numpy_and_its_compiler_alone() -> None:
    for path in (PACKAGE / "core").rglob("*.py"):
        outside = {n.split(".")[0] for n in imports(path)} - {"aspectum"}
        allowed = OF_COMPILING if path.name == "compiled.py" else set()
        assert outside <= CORE_LIBRARIES | STANDARD | allowed, path


def test_only_the_web_knows_http() -> None:
    for room in ("core", "pictures", "formats", "store", "service", "demo"):
        for path in (PACKAGE / room).rglob("*.py"):
            assert not {n.split(".")[0] for n in imports(path)} & {"flask", "werkzeug", "spectree"}, path


def test_the_rule_of_verdicts_is_written_once() -> None:
    """Beside it, twice a deviation only says how clearly a thing lies off eye level, or a point short of infinity."""
    users = {p.name for p in (PACKAGE / "core").rglob("*.py") if re.search(r"import .*\bDEVIATIONS\b", p.read_text())}
    assert users == {"rims.py", "vanishing_points.py"}


def test_the_front_end_has_the_rooms_that_are_described() -> None:
    assert {p.name for p in FRONT.iterdir()} == set(FRONT_END)


@pytest.mark.parametrize("room", list(FRONT_END))
def test_rooms_of_the_front_end_import_only_what_lies_below_them(room: str) -> None:
    for path in (FRONT / room).rglob("*.ts*"):
        for name in re.findall(r"""(?:from|import)\s*\(?["'](\.[^"']+)["']""", path.read_text()):
            target = (path.parent / name).resolve().relative_to(FRONT.resolve()).parts[0]
            allowed = FRONT_END[room] | ({"testing"} | set(FRONT_END) if ".test." in path.name else set())
            assert target in allowed, f"{path} imports {name}"


def test_what_a_hand_moves_by_before_the_server_answers_is_what_the_server_reckons_with() -> None:
    eye = (FRONT / "stand-room/eye.ts").read_text()
    (film,) = re.findall(r"FULL_FRAME_MM = ([\d.]+);", eye)
    (isometric,) = re.findall(r"ISOMETRIC_PITCH = -Math\.asin\(Math\.tan\((\d+) \* RAD\)\);", eye)
    assert float(film) == FULL_FRAME_MM
    assert math.degrees(math.asin(math.tan(math.radians(float(isometric))))) == pytest.approx(ISOMETRIC_PITCH_DEG)


def test_families_have_the_same_letters_on_screens_and_on_paper() -> None:
    shown = re.findall(r"^  (\w+): \{\s*letter: \"(\w)\"", (FRONT / "ui/marks.ts").read_text(), re.MULTILINE)
    assert dict(shown) == {family.value: letter for family, letter in LETTER.items()}
