"""What every part of a result is."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Shape(BaseModel):
    """A part of a result: what it does not name it does not hold."""

    model_config = ConfigDict(extra="forbid", serialize_by_alias=True)
