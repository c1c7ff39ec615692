"""The template of the catalogues (``language/messages.pot``), read from the package's sources: what ``say``,
``say_many`` and ``Text`` are given, the words of the enumerations that sentences name, and the help of the commands.
"""

from __future__ import annotations

import ast
import inspect
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from enum import Enum
from io import BytesIO
from pathlib import Path

from aspectum.core.aids.standpoint import ViewKind
from aspectum.core.drawing.critique import Direction
from aspectum.core.findings import Source
from aspectum.core.sightings import Family, Looking, Perspective
from aspectum.core.wording import Place, Remainder

PACKAGE = Path(__file__).parent
HEADER = b"""# What the server, its pages and its command say. A language is a copy of this file,
# language/<language>.po, with its msgstr filled in.
msgid ""
msgstr ""
"Project-Id-Version: Aspectum\\n"
"MIME-Version: 1.0\\n"
"Content-Type: text/plain; charset=UTF-8\\n"
"Content-Transfer-Encoding: 8bit\\n"

"""
# those whose words are put into sentences (``language.in_words``)
ENUMERATIONS: tuple[type[Enum], ...] = (Direction, Family, Looking, Perspective, Place, Remainder, Source, ViewKind)


@dataclass(frozen=True)
class Message:
    """A message where it stands; ``many``: its plural, where it counts."""

    path: str
    line: int
    text: str
    many: str | None = None


def messages(package: Path = PACKAGE) -> Iterator[Message]:
    """Every message of the package's sources, in their order."""
    for path in sorted(package.rglob("*.py")):
        name = path.relative_to(package.parent).as_posix()
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Call):
                yield from of_call(name, node)
            elif isinstance(node, ast.FunctionDef) and is_command(node):
                yield from of_command(name, node)
    for enumeration in ENUMERATIONS:
        for member in enumeration:
            yield Message(inspect.getmodule(enumeration).__name__.replace(".", "/") + ".py", 1, member.value)  # type: ignore[union-attr]


def of_call(name: str, call: ast.Call) -> Iterator[Message]:
    function = call.func.id if isinstance(call.func, ast.Name) else ""
    if function in ("say", "Text"):
        for text in choices(call.args[:1]):
            yield Message(name, call.lineno, text)
    elif function == "say_many":
        one, many = (next(iter(choices([arg])), None) for arg in call.args[:2])
        if one is not None:
            yield Message(name, call.lineno, one, many)


def choices(nodes: Iterable[ast.expr]) -> Iterator[str]:
    """A text, or both of which one is chosen."""
    for node in nodes:
        if isinstance(node, ast.IfExp):
            yield from choices((node.body, node.orelse))
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and node.value:
            yield node.value


def is_command(function: ast.FunctionDef) -> bool:
    return any("command(" in ast.unparse(by) or "group(" in ast.unparse(by) for by in function.decorator_list)


def of_command(name: str, function: ast.FunctionDef) -> Iterator[Message]:
    """A command's own help, and that of its options."""
    doc = ast.get_docstring(function)
    if doc:
        yield Message(name, function.lineno, doc)
    for by in function.decorator_list:
        for given in by.keywords if isinstance(by, ast.Call) else ():
            if given.arg == "help":
                for text in choices([given.value]):
                    yield Message(name, given.value.lineno, text)


def template() -> bytes:
    """The template as Babel writes it. Where a message stands is given by its file: a line would change with every edit
    above it.
    """
    from babel.messages.catalog import Catalog
    from babel.messages.pofile import write_po

    catalog = Catalog(project="Aspectum", fuzzy=False)
    for message in messages():
        id = message.text if message.many is None else (message.text, message.many)
        catalog.add(id, locations=[(message.path, 0)], flags=["python-brace-format"] if "{" in message.text else [])
    written = BytesIO()
    write_po(written, catalog, width=120, omit_header=True, sort_output=True, include_lineno=False)
    return HEADER + written.getvalue()
