"""A lesson as a table, as it is answered."""

from __future__ import annotations

from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In, Kind
from finearc.services.lesson.ids import MetricId, MomentId


class TableColumnOut(BaseModel):
    """``key``: what to ask for."""

    key: str
    metric: MetricId
    moment: MomentId


class TableRowOut(BaseModel):
    """A swing with its values in the columns' order and units; null and empty where there is none."""

    swing_id: UUID
    number: int
    kind: Kind
    club: str
    ball_start: str
    ball_curve: str
    strike: str
    tags: list[str]
    sensor_moved: bool
    values: list[float | None]
    uncertainties: list[float | None]
    verdicts: list[str]


class TableOut(BaseModel):
    """``offered``: columns that can be chosen."""

    columns: list[TableColumnOut]
    offered: list[TableColumnOut]
    rows: list[TableRowOut]
    can_undo: str | None
    can_redo: str | None


class MarkSeveralIn(In):
    swing_ids: list[UUID] = Field(min_length=1, max_length=500)
    kind: Kind
    reason: str = Field(default="", max_length=200)
