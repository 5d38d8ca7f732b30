"""Lessons: recordings, setup, the summary, blocks, the end."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In, Kind
from finearc.api.models.diary import LessonStatus
from finearc.api.models.people import PlayerOut, PriorityOut
from finearc.api.models.swing import SwingBrief, SwingChanged
from finearc.services.lesson.documents import CalibrationOut, SetupOut, SummaryOut
from finearc.services.lesson.ids import FindingId, MetricId, MomentId


class RecordingOut(BaseModel):
    """``shot``: what is looked for in it."""

    id: UUID
    number: int
    source: str
    glove: bool
    segments: list[str]
    calibration: CalibrationOut | None
    warnings: list[str]
    scenario: str
    shot: str
    setup: SetupOut | None


class ChangeOut(BaseModel):
    """Before against after a drill, in the measure's unit. ``difference`` of the means, after less before, with its
    95 % interval ``ci95``; ``detectable``: the smallest detectable change."""

    metric: MetricId
    moment: MomentId
    before: list[int]
    after: list[int]
    before_median: float | None
    after_median: float | None
    before_spread: float | None
    after_spread: float | None
    before_words: str
    after_words: str
    typical_error: float | None
    detectable: float | None
    difference: float | None
    ci95: list[float] | None
    smallest_relevant: float
    verdict: Literal["changed", "unchanged", "not_distinguishable", "too_few"]
    more_swings: int | None
    changed: bool
    sentence: str
    across_calibrations: bool


class BlockOut(BaseModel):
    id: UUID
    kind: Literal["drill", "test"]
    finding: FindingId
    metric: MetricId
    moment: MomentId
    drill: str
    club: str
    running: bool
    swings: int
    change: ChangeOut | None


class TrainerBandOut(BaseModel):
    """The band of a drill under the ranges and schools that the lesson is judged by."""

    words: str
    plain_words: str


class LessonOut(BaseModel):
    """``trainer_bands`` by drill: of those that are chosen or offered."""

    id: UUID
    player: PlayerOut
    instructor: str
    bay: str
    starts_at: datetime
    ends_at: datetime
    status: LessonStatus
    club: str
    kind: Kind
    pain: Literal["yes", "no", ""]
    pain_note: str
    pinned: list[UUID]
    note: str
    next_date: date | None
    schools: dict[str, str]
    benchmarks: str
    planned: bool
    last_priorities: list[PriorityOut]
    priorities: list[PriorityOut]
    recordings: list[RecordingOut]
    swings: list[SwingBrief]
    summaries: list[SummaryOut]
    blocks: list[BlockOut]
    revision: str
    can_undo: str | None
    can_redo: str | None
    trainer_bands: dict[str, TrainerBandOut]


class LessonJoined(BaseModel):
    """What came to a lesson: its newer swings, and what may have changed with them; ``summaries`` take the place of
    those of the same clubs."""

    recordings: list[RecordingOut]
    swings: list[SwingBrief]
    summaries: list[SummaryOut]
    blocks: list[BlockOut]


class LessonChanged(BaseModel):
    """What a change of a lesson changed; ``summaries`` made anew take the place of those of the same clubs."""

    pain: Literal["yes", "no", ""]
    pain_note: str
    club: str
    kind: Kind
    note: str
    revision: str
    summaries: list[SummaryOut] = []


class LessonPatch(In):
    pain: Literal["yes", "no", ""] | None = None
    pain_note: str | None = Field(default=None, max_length=2000)
    club: str | None = None
    kind: Kind | None = None
    note: str | None = Field(default=None, max_length=4000)


class RecordingIn(In):
    """Fit what sends into the lesson's bay, for putts where the lesson's club is the putter. ``devices``: whatever is
    there; else the bay's simulated player with these sensors, ``scenario`` saying how it swings, or putts; the clip
    then sits on the putter."""

    devices: bool = False
    scenario: str = "over-extended"
    seed: int = Field(default=1, ge=0, le=2_000_000_000)
    glove: bool = False
    club_clip: bool = True
    body_pack: bool = False
    upper_arm: bool = False
    mat: bool = False
    putter_markers: bool = False


class SwingCount(In):
    count: int = Field(default=1, ge=1, le=10)


class PinIn(In):
    swing_ids: list[UUID] = Field(max_length=200)


class BlockIn(In):
    kind: Literal["drill", "test"]
    finding: FindingId = ""
    metric: MetricId
    moment: MomentId
    drill: str = ""


class ChosenIn(In):
    """A chosen priority. ``finding`` is empty for one of the instructor's own, without a measurement."""

    finding: FindingId = Field(default="", max_length=60)
    label: str = Field(min_length=1, max_length=200)
    drill: str = ""
    why: str = Field(default="", max_length=1000)
    override_reason: str = Field(default="", max_length=1000)


class PlanIn(In):
    """The priorities as they stand, kept before the lesson ends."""

    priorities: list[ChosenIn] = Field(max_length=2)


class CloseIn(In):
    priorities: list[ChosenIn] = Field(max_length=2)
    note: str = Field(default="", max_length=4000)
    next_date: date | None = None


class Closed(BaseModel):
    kept: bool


class NameIn(In):
    name: str = Field(min_length=1, max_length=200)
    consent_by: str = Field(default="", max_length=200)
    consent_as: Literal["player", "guardian", ""] = ""


class Undone(BaseModel):
    """``changed``: the swing that it was about; without it more has changed than one swing."""

    label: str
    changed: SwingChanged | None = None


class Accepted(BaseModel):
    ok: bool = True


class RecordingStarted(BaseModel):
    recording_id: UUID


class Imported(BaseModel):
    recording_id: UUID
    swings: list[UUID]
