"""Two sides compared, as it is answered. Values are in the measures' units, differences the first less the second."""

from __future__ import annotations

from datetime import date
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

from finearc.services.lesson.ids import CheckpointId, MetricId, MomentId

ChangeSaid = Literal["changed", "unchanged", "not_distinguishable", "too_few"]


class ChoiceOut(BaseModel):
    """Something that can be compared with: ``key`` is what to ask for."""

    key: str
    kind: Literal["previous", "swing", "lesson", "last_lesson", "block", "before", "tag", "reference", "model", "band"]
    name: str
    moment: str
    number: int | None
    on: date | None
    swings: int


class CompareSideOut(BaseModel):
    """``swing_ids``: of its swings, in order; empty of a reference."""

    key: str
    kind: Literal["swing", "lesson", "block", "before", "tag", "found", "reference", "model", "band"]
    name: str
    number: int | None
    on: date | None
    club: str
    player: str
    lesson_id: UUID | None
    swings: int
    swing_ids: list[UUID]


class CompareChangeOut(BaseModel):
    """Whether groups really differ, from the second to the first. ``real``: also after having looked at all values."""

    difference: float
    ci95: list[float] | None
    smallest_relevant: float
    verdict: ChangeSaid
    more_swings: int | None
    real: bool


class CompareValueOut(BaseModel):
    """``words`` and ``plain_words``: the difference, empty where it is within its uncertainty; ``change``: of
    groups."""

    moment: MomentId
    a: float
    b: float
    difference: float
    uncertainty: float
    words: str
    plain_words: str
    change: CompareChangeOut | None


class CompareMetricOut(BaseModel):
    metric: MetricId
    values: list[CompareValueOut]


class MeanCourseOut(BaseModel):
    """A mean course (n,) with its scatter, null where there is none, and the nodes of its checkpoints."""

    mean: list[float | None]
    sd: list[float | None] | None
    nodes: dict[CheckpointId, float]


class LaidBandOut(BaseModel):
    low: list[float | None]
    high: list[float | None]


class LaidOut(BaseModel):
    """Both courses on stretched time: ``node`` (n,) is 0 at the takeaway, ``top`` at the top, 100 at impact; ``band``
    where one side is a band."""

    node: list[float]
    top: int
    a: MeanCourseOut
    b: MeanCourseOut
    difference: list[float | None]
    uncertainty: list[float]
    band: LaidBandOut | None = None


class CompareShiftOut(BaseModel):
    """Positive where the first is later."""

    event: CheckpointId
    shift_ms: float
    uncertainty_ms: float


class CompareIntensityOut(BaseModel):
    start: CheckpointId
    end: CheckpointId
    ratio: float
    uncertainty: float


class CompareOut(BaseModel):
    """``metric`` and ``moment``: what is shown whole; ``sentences``: what is to be said of it, in terms and plainly;
    ``question``: whether it is real, in one sentence, empty where one side is no group."""

    a: CompareSideOut
    b: CompareSideOut
    notes: list[str]
    metric: MetricId
    moment: str
    sentences: list[str]
    plain_sentences: list[str]
    question: str
    laid: LaidOut | None
    shifts: list[CompareShiftOut]
    intensity: list[CompareIntensityOut]
    metrics: list[CompareMetricOut]


class CurveStretchOut(BaseModel):
    """Where along the swing two groups differ: nodes of ``LaidOut``, the checkpoints next to them, how rarely chance
    does as much."""

    first: float
    last: float
    start: CheckpointId
    end: CheckpointId
    more: bool
    p: float
    words: str


class CurvesOut(BaseModel):
    """``stretches``: null where a group has fewer than three whole courses."""

    metric: MetricId
    stretches: list[CurveStretchOut] | None
