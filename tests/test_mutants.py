"""What is changed is changed in one place, noticed where a test looks at it, and put back."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

from tests.mutants import change, changed, drawn, nodes, places, tried

MODULE = '''"""A rule, 3 lines long."""
from aspectum.core.plane.compiled import compiled

LIMIT: float = 3.0

def holds(value):
    return abs(value) <= LIMIT

def farther(value):
    return value + 1

@compiled
def fast(value):
    return value - 1
'''
TEST = """from aspectum.core.tolerance import holds

def test_at_the_limit_it_holds():
    assert holds(3.0) and not holds(3.1)
"""


@pytest.fixture
def project(tmp_path: Path) -> Path:
    for path, text in (
        ("aspectum/core/tolerance.py", MODULE.replace("@compiled\n", "")),
        ("tests/test_tolerance.py", TEST),
    ):
        (tmp_path / path).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / path).write_text(text.replace("from aspectum.core.plane.compiled import compiled\n", ""))
    return tmp_path


def test_docstrings_annotations_and_compiled_functions_are_left_alone() -> None:
    assert [changed(node) for node in nodes(ast.parse(MODULE))] == [
        "3.0 changed",
        "LtE for Lt",
        "Add for Sub",
        "1 changed",
    ]


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("a < b", "a <= b"),
        ("a and b", "a or b"),
        ("a * b", "a / b"),
        ("not a", "not not a"),
        ("min(a, b)", "max(a, b)"),
        ("x = True", "x = False"),
        ("x = 2", "x = 3"),
    ],
)
def test_one_thing_is_changed(before: str, after: str) -> None:
    tree = ast.parse(before)
    change(next(nodes(tree)))
    assert ast.unparse(tree) == after


def test_what_a_test_looks_at_is_caught_and_the_rest_is_missed(project: Path) -> None:
    of = {
        what: place
        for place in places(project)
        for what in [changed(list(nodes(ast.parse(place.module.read_text())))[place.number])]
    }
    assert tried(project, of["LtE for Lt"])[0] == "caught" and tried(project, of["Add for Sub"])[0] == "missed"
    (project / "tests/test_tolerance.py").write_text(
        TEST + "\n\ndef test_that_fails_whatever_is_changed():\n    assert not holds(3.0)\n"
    )
    assert tried(project, of["Add for Sub"])[0] == "fails anyway"
    assert "<= LIMIT" in (project / "aspectum/core/tolerance.py").read_text()


def test_two_states_of_a_project_are_tried_at_the_same_places(project: Path) -> None:
    found = places(project)
    assert drawn(found, 4, 37) == drawn(found[::-1], 4, 37) and len(drawn(found, 4, 37)) == 3
