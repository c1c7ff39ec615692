"""Reading the open formats: what every file must be, and how a fault is told in one line."""

from __future__ import annotations

import json
from typing import Any

from pydantic import BaseModel, ValidationError

from aspectum.core.sightings import Kind
from aspectum.formats.sightings import printable

LIMIT_BYTES = 4 * 1024 * 1024


class FormatError(ValueError):
    """Something that does not fit the format; the message names the place in one line."""


def read_object(data: bytes, name: str) -> dict[str, Any]:
    """The JSON object of a file of the format ``name``, version 1. Raises ``FormatError`` for anything else."""
    if len(data) > LIMIT_BYTES:
        raise FormatError(f"the file is larger than {LIMIT_BYTES // 1024 // 1024} MB")
    try:
        content = json.loads(data)
    except UnicodeDecodeError:
        raise FormatError("not a text file") from None
    except json.JSONDecodeError as error:
        raise FormatError(f"line {error.lineno}, column {error.colno}: not JSON ({error.msg})") from None
    except RecursionError:
        raise FormatError("nested too deeply") from None
    except ValueError as error:
        raise FormatError(f"not JSON ({error})") from None
    if not isinstance(content, dict):
        raise FormatError("expected an object")
    if content.get("format") != name:
        raise FormatError(f"format: expected '{name}'")
    if content.get("version") != 1 or isinstance(content.get("version"), bool):
        raise FormatError("version: this Aspectum reads version 1")
    return content


KINDS = [kind.value for kind in Kind]


def first_fault(error: ValidationError, kinds: list[str] = KINDS) -> str:
    """The first fault as ``place: what is wrong`` (``sightings[3].p: expected two numbers``). ``kinds``: of what its list may hold."""
    fault = error.errors(include_url=False)[0]
    message = fault["msg"].removeprefix("Value error, ")
    if fault["type"] == "missing":
        message = "missing"
    elif fault["type"] == "extra_forbidden":
        message = "unknown entry"
    elif fault["type"].startswith("union_tag"):
        message = f"kind: expected {', '.join(kinds[:-1])} or {kinds[-1]}"
    place = ""
    previous: int | str | None = None
    for step in fault["loc"]:
        if isinstance(step, int):
            place += f"[{step}]"
        elif not (isinstance(previous, int) and step in kinds) and not step.startswith(("literal[", "function-", "float", "tuple[")):
            place += f".{step}" if place else step
        previous = step
    place = str(printable(place))
    head = message.split(":", 1)[0]
    if place and ":" in message and (head.isidentifier() or "[" in head):
        return f"{place}.{message}"
    return f"{place}: {message}" if place else message


def written(content: BaseModel) -> bytes:
    """A file of an open format: indented JSON without empty entries."""
    return (json.dumps(content.model_dump(mode="json", exclude_none=True), indent=1, ensure_ascii=False) + "\n").encode()


def compact(content: BaseModel) -> str:
    """The same on one line."""
    return json.dumps(content.model_dump(mode="json", exclude_none=True), ensure_ascii=False)
