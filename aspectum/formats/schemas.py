"""JSON Schemas of the open formats, written to ``docs/formats/`` by ``make generate``."""

from __future__ import annotations

import json
from pathlib import Path

from pydantic import BaseModel

from aspectum.formats.critique import Critique
from aspectum.formats.logbook import LogbookLine
from aspectum.formats.plan import Plan
from aspectum.formats.report import Report
from aspectum.formats.sheet import SightingSheet
from aspectum.formats.stand import StandDrawing, StandFile, StandSteps
from aspectum.formats.worksheet import Worksheet

SCHEMAS: dict[str, type[BaseModel]] = {
    "sighting-sheet": SightingSheet,
    "report": Report,
    "critique": Critique,
    "plan": Plan,
    "stand": StandFile,
    "logbook": LogbookLine,
    "stand-drawing": StandDrawing,
    "stand-steps": StandSteps,
    "worksheet": Worksheet,
}
WRITTEN_BY_HAND = (SightingSheet, StandFile)  # entries with defaults may be left out


def schema_text(name: str) -> str:
    model = SCHEMAS[name]
    fields = model.model_json_schema(mode="validation" if model in WRITTEN_BY_HAND else "serialization")
    schema = {"$schema": "https://json-schema.org/draft/2020-12/schema"} | fields
    return json.dumps(schema, indent=1, sort_keys=True) + "\n"


def write_schemas(folder: Path) -> None:
    folder.mkdir(parents=True, exist_ok=True)
    for name in SCHEMAS:
        (folder / f"{name}.schema.json").write_text(schema_text(name))
