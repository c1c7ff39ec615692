"""In which language the server's sentences, printed pages and command line are said: gettext's catalogues, chosen per
request or by the environment.

English stands in the code and is the key of a catalogue, as gettext has it. A second language is one file beside this
one, ``<language>.po``, made from ``messages.pot``. Figures and days follow the language by the Unicode CLDR, as Babel
has it.
"""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date
from enum import Enum
from functools import cache
from gettext import NullTranslations
from pathlib import Path

ENGLISH, PSEUDO = "en", "en-XA"
FOLDER = Path(__file__).parent


def from_environment() -> str:
    """The language that a terminal asks for, as gettext finds it."""
    asked = (os.environ.get(name, "") for name in ("LANGUAGE", "LC_ALL", "LC_MESSAGES", "LANG"))
    first = next((tag for tag in asked if tag), "")
    return best(tag.split(".")[0].replace("_", "-") for tag in first.split(":"))


def best(asked: Iterable[str]) -> str:
    """The first of the languages ``asked`` for, the most wanted first, that there is a catalogue of; English where
    there is none.
    """
    there = {tag.lower(): tag for tag in languages()}
    for tag in asked:
        for wanted in (tag.lower(), tag.lower().split("-")[0]):
            if wanted in there:
                return there[wanted]
    return ENGLISH


@cache
def languages() -> tuple[str, ...]:
    """Those that there are catalogues of, and the marked one of tests."""
    return (ENGLISH, PSEUDO, *sorted(path.stem for path in FOLDER.glob("*.po")))


_language: ContextVar[str | None] = ContextVar("language", default=None)


@cache
def of_terminal() -> str:
    """``from_environment``, asked once: a command says thousands of sentences."""
    return from_environment()


def spoken() -> str:
    """The language that sentences are said in here and now."""
    return _language.get() or of_terminal()


def speak(language: str) -> None:
    """Say sentences in this language from now on, in this thread and what it calls."""
    _language.set(language)


@contextmanager
def speaking(language: str) -> Iterator[None]:
    """Say sentences in this language meanwhile."""
    token = _language.set(language)
    try:
        yield
    finally:
        _language.reset(token)


class Text:
    """A sentence that is named where no language is known yet, as in a table of a module, and said where it is read
    (``str``).
    """

    def __init__(self, text: str, **parts: object) -> None:
        self.text, self.parts = text, parts

    def __str__(self) -> str:
        return say(self.text, **self.parts)

    def __format__(self, spec: str) -> str:
        return format(str(self), spec)


def say(text: str, /, **parts: object) -> str:
    """A sentence in the language spoken, ``{named}`` parts put in; a part that is a word of an enumeration is said in
    that language too.
    """
    language = spoken()
    if language != ENGLISH:
        text, parts = catalogue(language).gettext(text), in_words(parts)
    return text.format(**parts) if parts else text


def say_many(one: str, many: str, count: int, /, **parts: object) -> str:
    """A sentence about so many things, in the form that the language has for that number; ``{count}`` stands for it."""
    language = spoken()
    if language != ENGLISH:
        text, parts = catalogue(language).ngettext(one, many, count), in_words(parts)
    else:
        text = one if count == 1 else many
    return text.format(count=count, **parts)


def in_words(parts: dict[str, object]) -> dict[str, object]:
    return {
        name: say(part.value) if isinstance(part, Enum) and isinstance(part.value, str) else part
        for name, part in parts.items()
    }


def figure(value: float, places: int | None, signed: bool = False) -> str:
    """A figure to so many decimal places; with None, to as many as it has."""
    kind = "g" if places is None else f".{places}f"
    plain = f"{value:{'+' if signed else ''}{kind}}"
    language = spoken()
    if language in (ENGLISH, PSEUDO):
        return plain
    from babel.numbers import get_decimal_symbol

    return plain.replace(".", get_decimal_symbol(language.replace("-", "_")))


def day(when: date) -> str:
    """A day by its name, month and year: 4 March 2026."""
    return _written(when, "d MMMM y")


def short_day(when: date) -> str:
    """A day and its month: 4 March."""
    return _written(when, "d MMMM")


def brief_day(when: date) -> str:
    """A day where there is little room: 4 Mar."""
    return _written(when, "d MMM")


def month(when: date) -> str:
    """A month by its name."""
    return _written(when, "LLLL")


def _written(when: date, pattern: str) -> str:
    language = spoken()
    if language in (ENGLISH, PSEUDO):
        return {
            "d MMMM y": f"{when.day} {when:%B} {when.year}",
            "d MMMM": f"{when.day} {when:%B}",
            "d MMM": f"{when.day} {when:%b}",
            "LLLL": f"{when:%B}",
        }[pattern]
    from babel.dates import format_date

    return format_date(when, pattern, locale=language.replace("-", "_"))


class Marked(NullTranslations):
    """English in other letters between brackets, for tests: whatever is said in plain letters stands in no
    catalogue.
    """

    LETTERS = str.maketrans("aeiouyAEIOUYcn", "àéîöûýÀÉÎÖÛÝçñ")

    def gettext(self, message: str) -> str:
        kept = iter_parts(message)
        return "⟦" + "".join(text if is_part else text.translate(self.LETTERS) for text, is_part in kept) + "⟧"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)


def iter_parts(message: str) -> Iterator[tuple[str, bool]]:
    """A message's own words, and its ``{parts}``, in order, with which of the two each is."""
    rest = message
    while rest:
        before, brace, after = rest.partition("{")
        yield before, False
        if not brace:
            return
        part, _, rest = after.partition("}")
        yield f"{{{part}}}", True


@cache
def catalogue(language: str) -> NullTranslations:
    """The translations of a language. Raises ``FileNotFoundError`` where there is none."""
    if language == PSEUDO:
        return Marked()
    from gettext import GNUTranslations
    from io import BytesIO

    from babel.messages.mofile import write_mo
    from babel.messages.pofile import read_po

    compiled = BytesIO()
    with (FOLDER / f"{language}.po").open("rb") as file:
        write_mo(compiled, read_po(file, locale=language.replace("-", "_")))
    compiled.seek(0)
    return GNUTranslations(compiled)
