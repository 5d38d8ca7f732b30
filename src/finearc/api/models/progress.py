"""A player's progress, as it is answered; values are in the measure's unit."""

from __future__ import annotations

from datetime import date
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

from finearc.services.lesson.ids import MetricId, MomentId


class ProgressPointOut(BaseModel):
    """A lesson: middle and middle half of its swings before training, their scatter, the middle of its test, and what
    was left in it of the test before."""

    lesson_id: UUID
    on: date
    swings: int
    median: float
    low: float
    high: float
    sd: float | None
    test: float | None
    kept: str


class ProgressEventOut(BaseModel):
    on: date
    kind: Literal["priority", "drill", "school", "limit", "sensors", "club"]
    says: str


class ProgressOfferOut(BaseModel):
    metric: MetricId
    moment: MomentId
    club: str


class ProgressOut(BaseModel):
    """``noise``: half the width of the band about the first lesson that scatter alone reaches; ``per_week``: of a trend
    that goes one way, null where none does; ``low``, ``high``: the band it is judged by."""

    metric: MetricId
    moment: MomentId
    club: str
    sentence: str
    plain_sentence: str
    verdict: Literal["changed", "unchanged", "not_distinguishable", "too_few", "one_lesson"]
    points: list[ProgressPointOut]
    noise: float | None
    per_week: float | None
    low: float | None
    high: float | None
    events: list[ProgressEventOut]
    offered: list[ProgressOfferOut]


class SteadyOut(BaseModel):
    """A lesson: scatter of the value with its 95 % interval, null of fewer than three swings; ``likeness``: the
    coefficient of multiple correlation of the whole sequence, null where it cannot be said."""

    lesson_id: UUID
    on: date
    swings: int
    sd: float | None
    low: float | None
    high: float | None
    likeness: float | None


class ConsistencyOut(BaseModel):
    metric: MetricId
    moment: MomentId
    sentence: str
    points: list[SteadyOut]


class SinceOut(BaseModel):
    """Whether what is first differs from the player's last lesson with this club: ``a`` and ``b`` are what to
    compare."""

    a: str
    b: str
    metric: MetricId
    moment: MomentId
    verdict: Literal["changed", "unchanged", "not_distinguishable", "too_few"]
    sentence: str
    plain_sentence: str
