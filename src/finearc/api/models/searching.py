"""Swings found by words."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.services.lesson.ids import MetricId, MomentId


class SaidOut(BaseModel):
    """A phrase of the question, what it was taken for, and that in the field's words and in plain ones."""

    text: str
    kind: Literal["club", "finding", "tag", "player", "source", "period", "measure"]
    label: str
    plain_label: str


class FindingNameOut(BaseModel):
    label: str
    plain_label: str


class FoundColumnOut(BaseModel):
    metric: MetricId
    moment: MomentId


class FoundSwingOut(BaseModel):
    """``values``: of the columns, in their order, in the measures' units."""

    id: UUID
    number: int
    club: str
    ball_start: str
    ball_curve: str
    strike: str
    tags: list[str]
    findings: list[str]
    values: list[float | None]


class FoundLessonOut(BaseModel):
    """``medians``: of the columns over the swings that were found."""

    lesson_id: UUID
    on: date
    player_id: UUID
    player: str
    handedness: Literal["right", "left"]
    swings: list[FoundSwingOut]
    medians: list[float | None]


class FoundPlayerOut(BaseModel):
    id: UUID
    name: str


class FoundOut(BaseModel):
    """``said``: what was understood; ``unknown``: what was not; ``labels``: of the findings that are shown, by id;
    ``more``: whether older swings are left out; ``before``: the same question about the time before, or empty."""

    text: str
    said: list[SaidOut]
    unknown: list[str]
    columns: list[FoundColumnOut]
    lessons: list[FoundLessonOut]
    labels: dict[str, FindingNameOut]
    swings: int
    more: bool
    players: list[FoundPlayerOut]
    before: str


class SearchIn(In):
    name: str = Field(max_length=120)
    query: str = Field(max_length=300)


class SavedSearchOut(BaseModel):
    id: UUID
    name: str
    query: str
    made_by: str
    made_at: datetime
