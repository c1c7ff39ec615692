"""Reading the open formats: what every file must be, and how a fault is told in one line."""

from __future__ import annotations

import json
from typing import Any

from pydantic import BaseModel, ValidationError

from aspectum.core.sightings import Kind
from aspectum.formats.sightings import printable
from aspectum.language import say

LIMIT_BYTES = 4 * 1024 * 1024


class FormatError(ValueError):
    """Something that does not fit the format; the message names the place in one line."""


def read_object(data: bytes, name: str) -> dict[str, Any]:
    """The JSON object of a file of the format ``name``, version 1. Raises ``FormatError`` for anything else."""
    if len(data) > LIMIT_BYTES:
        raise FormatError(say("the file is larger than {limit_bytes} MB", limit_bytes=LIMIT_BYTES // 1024 // 1024))
    try:
        content = json.loads(data)
    except UnicodeDecodeError:
        raise FormatError(say("not a text file")) from None
    except json.JSONDecodeError as error:
        raise FormatError(
            say(
                "line {lineno}, column {colno}: not JSON ({msg})", lineno=error.lineno, colno=error.colno, msg=error.msg
            )
        ) from None
    except RecursionError:
        raise FormatError(say("nested too deeply")) from None
    except ValueError as error:
        raise FormatError(say("not JSON ({error})", error=error)) from None
    if not isinstance(content, dict):
        raise FormatError(say("expected an object"))
    if content.get("format") != name:
        raise FormatError(say("format: expected '{name}'", name=name))
    if content.get("version") != 1 or isinstance(content.get("version"), bool):
        raise FormatError(say("version: this Aspectum reads version 1"))
    return content


KINDS = [kind.value for kind in Kind]


def first_fault(error: ValidationError, kinds: list[str] = KINDS) -> str:
    """The first fault as ``place: what is wrong`` (``sightings[3].p: expected two numbers``). ``kinds``: of what its
    list may hold.
    """
    fault = error.errors(include_url=False)[0]
    message = fault["msg"].removeprefix("Value error, ")
    if fault["type"] == "missing":
        message = "missing"
    elif fault["type"] == "extra_forbidden":
        message = say("unknown entry")
    elif fault["type"].startswith("union_tag"):
        message = say("kind: expected {kinds} or {kinds2}", kinds=", ".join(kinds[:-1]), kinds2=kinds[-1])
    place = ""
    previous: int | str | None = None
    for step in fault["loc"]:
        if isinstance(step, int):
            place += f"[{step}]"
        elif not (isinstance(previous, int) and step in kinds) and not step.startswith(
            ("literal[", "function-", "float", "tuple[")
        ):
            place += f".{step}" if place else step
        previous = step
    place = str(printable(place))
    head = message.split(":", 1)[0]
    if place and ":" in message and (head.isidentifier() or "[" in head):
        return f"{place}.{message}"
    return f"{place}: {message}" if place else message


def written(content: BaseModel) -> bytes:
    """A file of an open format: indented JSON without empty entries."""
    return (
        json.dumps(content.model_dump(mode="json", exclude_none=True), indent=1, ensure_ascii=False) + "\n"
    ).encode()


def compact(content: BaseModel) -> str:
    """The same on one line."""
    return json.dumps(content.model_dump(mode="json", exclude_none=True), ensure_ascii=False)
