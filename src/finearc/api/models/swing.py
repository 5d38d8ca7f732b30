"""Swings: values, findings, events."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In, Kind, Side, Strike, Verdict
from finearc.api.models.ground import GroundOut


class OtherValueOut(BaseModel):
    """The same value as a less certain source saw it."""

    source: str
    value: float
    uncertainty: float
    words: str
    plain_words: str


class MetricValue(BaseModel):
    metric: str
    moment: str
    value: float
    unit: str
    uncertainty: float
    low: float | None
    high: float | None
    range_id: str | None
    verdict: Verdict
    reason: str | None
    words: str
    plain_words: str
    band_words: str
    plain_band_words: str
    band_by: str
    distance: float
    source: str
    note: str | None
    not_judged_reason: str | None
    others: list[OtherValueOut]


class SwingBrief(BaseModel):
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
    tags: list[str]
    pattern: str | None
    dip: bool
    verdicts: dict[str, Verdict]
    values: dict[str, float]
    out_spans: dict[str, list[list[float]]]
    checkpoints: dict[str, float]
    block_id: UUID | None


class EvidenceOut(BaseModel):
    metric: str
    moment: str
    sentence: str
    plain_sentence: str


class TargetOut(BaseModel):
    """What the retest looks at: a value, its band and how it stood, in words."""

    metric: str
    moment: str
    sentence: str
    plain_sentence: str


class FindingOut(BaseModel):
    finding: str
    label: str
    plain_label: str
    phase: str
    status: Literal["hint", "finding"]
    role: Literal["root", "explained"]
    explained_by: str | None
    severity: float
    confidence: float
    shown: int
    assessed: int
    says: str
    plain_says: str
    player_says: str
    tends: str
    note: str
    fits: list[str]
    caution: str
    own: bool
    target: TargetOut | None
    metric: str
    moment: str
    evidence: list[EvidenceOut]
    drills: list[str]


class NotAssessedOut(BaseModel):
    finding: str
    label: str
    reason: str


class OtherEventOut(BaseModel):
    """The same checkpoint as a less certain source saw it."""

    time_s: float
    uncertainty_s: float
    method: str


class EventOut(BaseModel):
    name: str
    time_s: float
    uncertainty_s: float
    method: str
    confidence: float
    detected_s: float | None
    corrected: bool
    others: list[OtherEventOut]


class AbsentEvent(BaseModel):
    name: str
    reason: str


class MissingOut(BaseModel):
    metric: str
    label: str
    family: str
    reason: str


class Headline(BaseModel):
    """The one sentence of a swing, in standard and plain words."""

    text: str
    plain_text: str
    tends: str
    player_text: str
    finding: str | None
    metric: str
    moment: str


class FigureInfo(BaseModel):
    """What the figure of a swing rests on; its points come as a binary block."""

    measured: list[str]
    faint: list[str]
    placed: bool
    note: str


class PowerOut(BaseModel):
    """One source of power: what was measured of it, or why it was not."""

    kind: Literal["lateral", "rotational", "vertical"]
    label: str
    says: list[str]
    missing: str | None


class SwingOut(SwingBrief):
    lesson_id: UUID
    start_s: float
    end_s: float
    engine: str
    benchmarks: str
    events: list[EventOut]
    absent_events: list[AbsentEvent]
    metrics: list[MetricValue]
    missing: list[MissingOut]
    findings: list[FindingOut]
    not_assessed: list[NotAssessedOut]
    warnings: list[str]
    headline: Headline
    figure: FigureInfo | None
    ground: GroundOut | None
    power: list[PowerOut]
    sources: list[str]
    captured_at: datetime


class CheckpointPatch(In):
    name: str
    time_s: float | None = Field(default=None, description="None goes back to the detected instant")


class SwingPatch(In):
    kind: Kind | None = None
    reason: str = Field(default="", max_length=200)
    ball_start: Side | None = None
    ball_curve: Side | None = None
    strike: Strike | None = None
    club: str | None = None
    tags: list[str] | None = Field(default=None, max_length=12)
    checkpoint: CheckpointPatch | None = None
