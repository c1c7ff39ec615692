"""Small errors put into the code one at a time, to see whether a test notices each. Run with ``make mutants``.

A seeded sample of places in the heart of the job (``HEART``): a comparison turned round or made strict, *and* for *or*,
plus for minus, a number one larger, the larger for the smaller. Each is written into a copy of the project, and the
tests that name its module run until one fails. Functions that are kept as machine code are left alone: each change
would have them compiled anew for a minute. What fails without the change too has caught nothing.
"""

from __future__ import annotations

import argparse
import ast
import hashlib
import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).parents[1]
HEART = (
    "core/tolerance.py",
    "core/judge",
    "core/view",
    "core/form",
    "core/drawing",
    "service/people/may.py",
    "service/school/hand_ins.py",
    "store",
)
TURNED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.And: ast.Or,
    ast.Or: ast.And,
}
OTHER_NAME = {"min": "max", "max": "min", "any": "all", "all": "any"}
NO_TESTS = 5  # pytest found none
ONE_TEST_S = 300.0  # after which a mutant's tests are given up: it is counted by itself, neither caught nor missed


@dataclass(frozen=True)
class Place:
    """The ``number``-th place of a module at which something can be changed."""

    module: Path
    number: int


def nodes(tree: ast.Module) -> Iterator[ast.AST]:
    """Every node at which something can be changed, in order; annotations, docstrings and compiled functions are passed
    over.
    """

    def visit(node: ast.AST) -> Iterator[ast.AST]:
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            if any("compiled" in ast.unparse(d) for d in node.decorator_list):
                return
            for statement in node.body:
                yield from visit(statement)
            return
        if isinstance(node, ast.AnnAssign):
            if node.value is not None:
                yield from visit(node.value)
            return
        if isinstance(node, ast.Import | ast.ImportFrom) or (
            isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        ):
            return
        if changed(node) is not None:
            yield node
        for child in ast.iter_child_nodes(node):
            yield from visit(child)

    yield from visit(tree)


def changed(node: ast.AST) -> str | None:
    """What would be changed at a node, in words; None where nothing can be."""
    match node:
        case ast.Compare(ops=[op]) if type(op) in TURNED:
            return f"{type(op).__name__} for {TURNED[type(op)].__name__}"
        case ast.BinOp(left=ast.Constant() | ast.JoinedStr()):
            return None  # most often a text that is put together
        case ast.BinOp(op=op) | ast.BoolOp(op=op) if type(op) in TURNED:
            return f"{type(op).__name__} for {TURNED[type(op)].__name__}"
        case ast.Constant(value=bool() | int() | float()):
            return f"{node.value!r} changed"
        case ast.UnaryOp(op=ast.Not()):
            return "not left out"
        case ast.Call(func=ast.Name(id=name)) if name in OTHER_NAME:
            return f"{name} for {OTHER_NAME[name]}"
    return None


def change(node: ast.AST) -> None:
    """Make the change at a node."""
    match node:
        case ast.Compare():
            node.ops = [TURNED[type(node.ops[0])]()]  # type: ignore[list-item]
        case ast.BinOp():
            node.op = TURNED[type(node.op)]()  # type: ignore[assignment]
        case ast.BoolOp():
            node.op = TURNED[type(node.op)]()  # type: ignore[assignment]
        case ast.Constant(value=bool(value)):
            node.value = not value
        case ast.Constant(value=int() | float() as number):
            node.value = number + 1 if isinstance(number, int) else number * 1.5 + 0.5
        case ast.UnaryOp():
            node.operand = ast.UnaryOp(ast.Not(), node.operand)
        case ast.Call(func=ast.Name() as name):
            name.id = OTHER_NAME[name.id]


def places(root: Path) -> list[Place]:
    """All of them under ``root``, module by module in order."""
    modules = [
        path
        for part in HEART
        for path in sorted(
            [root / "aspectum" / part] if part.endswith(".py") else (root / "aspectum" / part).rglob("*.py")
        )
    ]
    kept = [path for path in modules if path.exists() and "migrations" not in path.parts]
    return [Place(path, number) for path in kept for number in range(len(list(nodes(ast.parse(path.read_text())))))]


def drawn(found: list[Place], count: int, seed: int) -> list[Place]:
    """So many of them, a quarter from outside the core: drawn by what each is, so that two states of the project are
    tried at the same places.
    """

    def lot(place: Place) -> str:
        return hashlib.sha256(f"{seed} {place.module.name} {place.number}".encode()).hexdigest()

    core = sorted((place for place in found if "core" in place.module.parts), key=lot)
    others = sorted((place for place in found if "core" not in place.module.parts), key=lot)
    return core[: count - count // 4] + others[: count // 4]


def tests_of(root: Path, module: Path) -> list[str]:
    """Test files called after the module, and those that name it, or where none does its folder: those of the browser
    aside.
    """
    name = ".".join(module.relative_to(root).with_suffix("").parts)
    files = [path for path in sorted((root / "tests").rglob("test_*.py")) if "browser" not in path.parts]
    own = [str(path) for path in files if module.stem in path.stem]
    for wanted in (name, name.rsplit(".", 1)[0]):
        stem, last = wanted.rsplit(".", 1)
        pattern = re.compile(rf"{re.escape(wanted)}\b|from {re.escape(stem)} import .*\b{last}\b")
        found = [str(path) for path in files if pattern.search(path.read_text()) and str(path) not in own]
        if found:
            return own + found
    return own or [str(root / "tests/core")]


def tested(root: Path, tests: list[str]) -> subprocess.CompletedProcess[str]:
    """The tests run until one fails."""
    command = [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
    return subprocess.run(
        command,
        cwd=root,
        env=os.environ | {"PYTHONPATH": str(root)},
        capture_output=True,
        text=True,
        timeout=ONE_TEST_S,
        check=False,
    )


def tried(root: Path, place: Place) -> tuple[str, str]:
    """``caught``, ``missed``, ``given up`` or ``fails anyway``, and what was changed where. The module is as it was
    afterwards.
    """
    before = place.module.read_text()
    tree = ast.parse(before)
    node = list(nodes(tree))[place.number]
    what = f"{place.module.relative_to(root)}:{getattr(node, 'lineno', 0)} {changed(node)}"
    change(node)
    try:
        place.module.write_text(ast.unparse(ast.fix_missing_locations(tree)))
        done = tested(root, tests_of(root, place.module))
    except subprocess.TimeoutExpired:
        return "given up", what
    finally:
        place.module.write_text(before)
    if done.returncode in (0, NO_TESTS):
        return "missed", what
    failed = re.search(r"^(?:FAILED|ERROR) (\S+)", done.stdout, re.MULTILINE)
    return ("fails anyway" if failed and tested(root, [failed[1]]).returncode else "caught"), what


def main() -> int:
    asked = argparse.ArgumentParser()
    asked.add_argument("--root", type=Path, default=ROOT, help="the project, of which a copy is changed")
    asked.add_argument("--count", type=int, default=32)
    asked.add_argument("--seed", type=int, default=37)
    how = asked.parse_args()
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "aspectum"
        shutil.copytree(
            how.root, copy, ignore=shutil.ignore_patterns(".git", ".venv", "node_modules", ".setup", "data")
        )
        found = places(copy)
        chosen = drawn(found, how.count, how.seed)
        counts: dict[str, int] = {}
        for place in chosen:
            start = time.monotonic()
            verdict, what = tried(copy, place)
            counts[verdict] = counts.get(verdict, 0) + 1
            print(f"{verdict:13}{time.monotonic() - start:6.0f} s  {what}", flush=True)
    print(
        f"{len(chosen)} of {len(found)} places: "
        + ", ".join(f"{count} {verdict}" for verdict, count in sorted(counts.items()))
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
