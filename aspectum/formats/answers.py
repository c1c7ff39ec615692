"""What all reports are made of."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Part(BaseModel):
    """Every entry is always written, so a reader may rely on it."""

    model_config = ConfigDict(defer_build=True, extra="forbid", json_schema_serialization_defaults_required=True)
