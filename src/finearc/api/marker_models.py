"""Requests and responses of the marker import."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models import In

Axis = Literal["+x", "-x", "+y", "-y", "+z", "-z"]


class AxesIO(In):
    """Along which axes of the file the true directions lie."""

    ball: Axis = "+x"
    target: Axis = "+y"
    up: Axis = "+z"


class MarkerRow(BaseModel):
    """One marker Fine Arc knows and the file's label suggested for it."""

    ours: str
    meaning: str
    group: str
    label: str | None


class MarkerInspection(BaseModel):
    """A marker file before it is kept."""

    file: str
    labels: list[str]
    seconds: float
    rate_hz: float
    rows: list[MarkerRow]
    axes: AxesIO
    axes_from: Literal["remembered", "player", "default"]
    preset: str | None


class MarkerImport(In):
    """How to read a marker file."""

    names: dict[str, str] = Field(max_length=60)
    axes: AxesIO = AxesIO()
    club: str = "7-iron"
    remember_as: str = Field(default="", max_length=80)


class PresetOut(BaseModel):
    id: UUID
    name: str
    handedness: str
    markers: int
