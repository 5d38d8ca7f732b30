"""Swings: values, findings, events."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import GripAnswer, In, Kind, Side, Strike
from finearc.api.models.ground import GroundOut
from finearc.core.putting.notes import Break, Outcome, Slope
from finearc.services.lesson.documents import (
    FindingOut,
    Headline,
    JudgedOut,
    NotAssessedOut,
    PowerOut,
    SummaryOut,
    ValuesOut,
    absent,
)
from finearc.services.lesson.ids import CheckpointId, MetricId


class GripOut(BaseModel):
    """The wrist stands otherwise at this address than before: the question, and what was answered."""

    question: str
    plain_question: str
    answer: GripAnswer


class PuttOut(BaseModel):
    """What is noted of a putt; empty, or None, where it is not."""

    distance_m: float | None
    outcome: Outcome | Literal[""]
    rolled_past_m: float | None
    slope: Slope | Literal[""]
    breaks: Break | Literal[""]


class SwingBrief(BaseModel):
    """A swing in a lesson's strip. ``outside``: stretches (s) in which a metric's trace leaves its band;
    ``checkpoints`` (s); ``measuring`` is part of the address of its blocks."""

    id: UUID
    number: int
    recording_id: UUID
    kind: Kind
    discard_reason: str
    club: str
    ball_start: Side
    ball_curve: Side
    strike: Strike
    sensor_moved: bool
    grip: GripOut | None
    tags: list[str]
    pattern: str | None
    dip: bool
    outside: dict[str, list[list[float]]]
    checkpoints: dict[str, float]
    block_id: UUID | None
    measuring: int
    putt: PuttOut | None = absent()


class OtherEventOut(BaseModel):
    """The same checkpoint as a less certain source saw it."""

    time_s: float
    uncertainty_s: float
    method: str


class EventOut(BaseModel):
    name: CheckpointId
    time_s: float
    uncertainty_s: float
    method: str
    confidence: float
    detected_s: float | None
    corrected: bool
    others: list[OtherEventOut]


class AbsentEvent(BaseModel):
    name: CheckpointId
    reason: str


class MissingOut(BaseModel):
    """Why metrics have no value in this swing."""

    reason: str
    metrics: list[MetricId]


class FigureInfo(BaseModel):
    """What the figure of a swing rests on; its points come as a binary block."""

    measured: list[str]
    faint: list[str]
    placed: bool
    note: str


class SwingOut(SwingBrief):
    """``values``: all numbers, by metric; ``judged``: those that a range speaks of, or that are not judged for a reason
    of this player's, in words. All of them in words: ``/swings/{id}/numbers``."""

    lesson_id: UUID
    start_s: float
    end_s: float
    engine: str
    benchmarks: str
    events: list[EventOut]
    absent_events: list[AbsentEvent]
    values: dict[str, ValuesOut]
    judged: list[JudgedOut]
    missing: list[MissingOut]
    findings: list[FindingOut]
    not_assessed: list[NotAssessedOut]
    warnings: list[str]
    headline: Headline
    bands: dict[str, list[list[float]]] = Field(
        description="Where each metric's band is tied: s, lower and upper limit in the metric's own unit; between, the "
        "monotone cubic of Fritsch and Butland"
    )
    figure: FigureInfo | None
    ground: GroundOut | None
    power: list[PowerOut]
    sources: list[str]
    captured_at: datetime


class CheckpointPatch(In):
    name: str
    time_s: float | None = Field(default=None, description="None goes back to the detected instant")


class PuttPatch(In):
    """What is noted of a putt; what is not given stays, None or empty clears it."""

    distance_m: float | None = Field(default=None, gt=0, le=60)
    outcome: Outcome | Literal[""] = ""
    rolled_past_m: float | None = Field(default=None, ge=-60, le=60)
    slope: Slope | Literal[""] = ""
    breaks: Break | Literal[""] = ""


class PuttRow(In):
    """Distance, slope and break of several putts of a lesson; what is not given stays."""

    swings: list[UUID] = Field(min_length=1, max_length=500)
    distance_m: float | None = Field(default=None, gt=0, le=60)
    slope: Slope | Literal[""] = ""
    breaks: Break | Literal[""] = ""


class SwingPatch(In):
    kind: Kind | None = None
    reason: str = Field(default="", max_length=200)
    ball_start: Side | None = None
    ball_curve: Side | None = None
    strike: Strike | None = None
    club: str | None = None
    tags: list[str] | None = Field(default=None, max_length=12)
    grip: GripAnswer | None = None
    putt: PuttPatch | None = None
    checkpoint: CheckpointPatch | None = None


class SwingChanged(BaseModel):
    """What a change of a swing changed. ``swing`` whole where its values or verdicts did; ``others``: swings whose
    place in the strip changed with it; ``stale``: what is said of other swings of the lesson changed too (the ball
    flight)."""

    brief: SwingBrief
    headline: Headline
    findings: list[FindingOut]
    swing: SwingOut | None = absent()
    others: list[SwingBrief] = []
    summaries: list[SummaryOut] = []
    can_undo: str | None
    can_redo: str | None
    stale: bool = False
