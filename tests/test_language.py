"""What the server says comes from one catalogue: a second language is one file more, and what stands in
none is found.
"""

from __future__ import annotations

import ast
import json
import re
from collections.abc import Iterator
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from flask import Flask
from flask.testing import FlaskClient

from aspectum import language
from aspectum.core.sightings import Family
from aspectum.language import Text, best, day, figure, say, say_many, speaking
from aspectum.message_template import HEADER, messages
from aspectum.web.app import create_app
from tests.conftest import settings_in
from tests.databases import copy_folder

PACKAGE = Path(language.__file__).parents[1]
SPOKEN_IN = ("service", "web", "pictures", "formats")
MARKED = {"Accept-Language": "en-XA"}


@pytest.fixture
def german(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Iterator[None]:
    """A second language, as a translator would add it."""
    forms = (
        'msgid "{count} line"\nmsgid_plural "{count} lines"\nmsgstr[0] "{count} Linie"\nmsgstr[1] "{count} Linien"\n'
    )
    words = (
        'msgid "left"\nmsgstr "links"\n\nmsgid "The {family} edges lean {lean}."\nmsgstr "Die Kanten nach {family} '
        'neigen sich um {lean}."\n'
    )
    plural = b'"Plural-Forms: nplurals=2; plural=(n != 1);\\n"\n\n'
    (tmp_path / "de.po").write_bytes(HEADER.rstrip() + b"\n" + plural + f"{forms}\n{words}".encode())
    monkeypatch.setattr(language, "FOLDER", tmp_path)
    language.languages.cache_clear()
    yield
    language.languages.cache_clear()
    language.catalogue.cache_clear()


def test_a_second_language_is_one_file_more(german: None) -> None:
    with speaking(best(["de-AT", "en"])):
        assert (
            say("The {family} edges lean {lean}.", family=Family.LEFT, lean=figure(2.5, 1))
            == "Die Kanten nach links neigen sich um 2,5."
        )
        assert [say_many("{count} line", "{count} lines", n) for n in (1, 3)] == ["1 Linie", "3 Linien"]
        assert day(date(2026, 3, 4)) == "4 März 2026"
        assert say("What nobody has translated stays as it is.") == "What nobody has translated stays as it is."
        assert (figure(2.50, None), figure(-1.25, 1, signed=True)) == ("2,5", "-1,2")
    assert say_many("{count} line", "{count} lines", 1) == "1 line" and figure(2.5, 1, signed=True) == "+2.5"


@pytest.mark.parametrize(
    ("asked", "spoken"),
    [([], "en"), (["fr"], "en"), (["en-GB", "de"], "en"), (["nl", "de"], "de"), (["DE"], "de"), (["en-XA"], "en-XA")],
)
def test_the_first_language_asked_for_that_there_is_is_spoken(german: None, asked: list[str], spoken: str) -> None:
    assert best(asked) == spoken


@pytest.mark.parametrize(
    ("variables", "spoken"),
    [({"LANG": "de_DE.UTF-8"}, "de"), ({"LANGUAGE": "nl:de", "LANG": "C"}, "de"), ({"LANG": "C"}, "en")],
)
def test_a_command_speaks_the_terminal_s_language(
    german: None, monkeypatch: pytest.MonkeyPatch, variables: dict[str, str], spoken: str
) -> None:
    for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"):
        monkeypatch.delenv(name, raising=False)
    for name, value in variables.items():
        monkeypatch.setenv(name, value)
    assert language.from_environment() == spoken


def test_a_text_of_a_table_is_said_where_it_is_read() -> None:
    named = Text("{n} lines", n=3)
    assert str(named) == "3 lines" == f"{named}"
    with speaking(language.PSEUDO):
        assert str(named) == "⟦3 lîñés⟧"


def test_every_part_of_a_message_is_given() -> None:
    """A ``{part}`` that no call gives would fail where it is said."""
    for path in PACKAGE.rglob("*.py"):
        for call in ast.walk(ast.parse(path.read_text())):
            if (
                isinstance(call, ast.Call)
                and isinstance(call.func, ast.Name)
                and call.func.id in ("say", "say_many", "Text")
                and call.keywords
            ):
                texts = [
                    node.value
                    for node in ast.walk(call.args[0])
                    if isinstance(node, ast.Constant) and isinstance(node.value, str)
                ]
                given = {keyword.arg for keyword in call.keywords} | {"count"}
                wanted = {name for text in texts for name in re.findall(r"\{(\w+)", text.replace("{{", ""))}
                assert None in given or wanted <= given, f"{path}:{call.lineno}"


def test_messages_are_whole() -> None:
    """No message is a part alone, which nobody can translate."""
    assert not [m for m in messages() if not re.search("[A-Za-z]{2}", re.sub(r"\{.*?\}", "", m.text))]


# what looks like a sentence and is none: names of fields and keys, headers, formats, queries, and errors that only a
# programmer meets
TECHNICAL = re.compile(
    r"^[\w.:/*-]+$|SELECT|PRAGMA|BEGIN|no-cache|no-store|max-age|charset|'self'|'none'|camera=|x-forwarded|pg_|"
    r"^ON |%\(|%s|<|\{|^[a-z_, ]+$|"
    r"No space left|^Value error, $|viewport|stroke|^As ``|``|^%|schema|rgb\(|translate\("
)


# what else is read by programmers, or is a message already
NOT_SAID = {"say", "say_many", "Text", "Field", "feature", "LookupError", "ValueError", "RuntimeError"}
NOT_SAID |= {"debug", "info", "warning", "error", "exception"}


def sentences(path: Path) -> Iterator[tuple[int, str]]:
    """Texts of a module that a person might read, outside messages, docstrings, descriptions of the API, and what is
    logged or raised for programmers.
    """
    tree = ast.parse(path.read_text())
    passed: set[ast.AST] = set()
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant):
            passed.add(node.value)
        elif isinstance(node, ast.Call):
            name = (
                node.func.id
                if isinstance(node.func, ast.Name)
                else node.func.attr
                if isinstance(node.func, ast.Attribute)
                else ""
            )
            if name in NOT_SAID:
                passed.update(ast.walk(node))
        elif isinstance(node, ast.ClassDef) and any("Enum" in ast.unparse(base) for base in node.bases):
            passed.update(ast.walk(node))
    for node in ast.walk(tree):
        if not isinstance(node, ast.Constant) or not isinstance(node.value, str) or node in passed:
            continue
        if re.match(r"[A-Z“].*[a-z]{2,} .*[a-z]", node.value) and not TECHNICAL.search(node.value):
            yield node.lineno, node.value


# told by the API's description alone, kept as a document's own words, or a default name in the database
ELSEWHERE = {"openapi.py", "people.py", "routes.py", "checking.py", "logbook.py", "stand_files.py"}


def test_no_sentence_stands_outside_the_catalogue() -> None:
    found = [
        f"{path.relative_to(PACKAGE)}:{line}: {text}"
        for room in SPOKEN_IN
        for path in (PACKAGE / room).rglob("*.py")
        if path.name not in ELSEWHERE
        for line, text in sentences(path)
    ]
    assert not found, "\n".join(found)


@pytest.fixture
def harbour_class(tmp_path: Path, term: Path) -> Flask:
    copy_folder(term, tmp_path)
    return create_app(replace(settings_in(tmp_path), one_click=True))


def signed_in(app: Flask, role: str) -> FlaskClient:
    client = app.test_client()
    who = next(person for person in client.get("/api/me").get_json()["one_click"] if person["role"] == role)
    assert client.post("/api/sign-in/one-click", json={"person_id": who["person_id"]}).status_code < 300
    return client


# what people wrote, and words of enumerations that the interface says by its own catalogue
OWN = {
    "title",
    "name",
    "word",
    "note",
    "notes",
    "holds",
    "next_time",
    "file",
    "class_name",
    "kind",
    "how_far",
    "unit",
    "assignment",
    "drawing",
    "subject",
}


def plain(answer: Any, key: str = "") -> Iterator[str]:
    """Texts of an answer that are not marked, under keys that say what the server says."""
    if isinstance(answer, dict):
        for name, value in answer.items():
            yield from plain(value, name)
    elif isinstance(answer, list):
        for value in answer:
            yield from plain(value, key)
    elif isinstance(answer, str) and key not in OWN:
        depth, outside = 0, ""
        for letter in answer:
            depth += (letter == "⟦") - (letter == "⟧")
            outside += letter if not depth else ""
        if re.search("[a-z]{3,} [a-z]{2,}", outside):
            yield f"{key}: {answer}"


@pytest.mark.parametrize(
    ("role", "address"),
    [
        ("student", "logbook"),
        *(("tutor", of) for of in ("practice/skills", "worksheets/exercises", "assignment-templates", "easel")),
    ],
)
def test_what_the_server_says_is_in_the_language_asked_for(harbour_class: Flask, role: str, address: str) -> None:
    client = signed_in(harbour_class, role)
    answer = client.get(f"/api/{address}", headers=MARKED)
    assert (
        answer.status_code == 200
        and answer.headers["Content-Language"] == "en-XA"
        and "Accept-Language" in answer.headers["Vary"]
    )
    assert "⟦" in json.dumps(answer.get_json(), ensure_ascii=False)
    skills = {skill["skill"] for skill in client.get("/api/practice/skills").get_json()["skills"]}
    assert not [said for said in plain(answer.get_json()) if said.split(": ", 1)[1] not in skills]


def test_a_sheet_is_answered_in_the_language_asked_for(harbour_class: Flask) -> None:
    """Its report too, which a process beside the server may have computed; names of its lines stay as they
    were given.
    """
    tutor = signed_in(harbour_class, "tutor")
    sheets = tutor.get("/api/sheets").get_json()["sheets"]
    for sheet in sheets[:3]:
        report = tutor.get(f"/api/sheets/{sheet['id']}", headers=MARKED).get_json()["report"]
        said = [finding["words"] for finding in report["findings"]]
        assert said and all(words.startswith("⟦") for words in said), said


def test_a_refusal_is_told_in_the_language_asked_for(harbour_class: Flask) -> None:
    tutor = signed_in(harbour_class, "tutor")
    problem = tutor.get("/api/sheets/none", headers=MARKED).get_json()
    assert (problem["title"], problem["detail"]) == ("⟦Nöt föûñd⟧", "⟦Théré îs ñö sûçh shéét.⟧")
    page = tutor.get("/api/sheets/none", headers=MARKED | {"Accept": "text/html"}).get_data(as_text=True)
    assert '<html lang="en-XA">' in page and "⟦Tö thé fîrst pàgé⟧" in page
