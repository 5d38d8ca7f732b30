"""Requests and responses."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, ConfigDict, Field

Kind = Literal["warm_up", "normal", "drill", "no_ball", "test", "discard"]
Side = Literal["lead", "straight", "trail", ""]
Strike = Literal["centre", "toe", "heel", "thin", "fat", ""]
Verdict = Literal["in_range", "edge_low", "edge_high", "low", "high", "not_judged"]


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Problem(BaseModel):
    """What went wrong: what, where, what to do."""

    code: str
    message: str


class SignInRequest(In):
    email: str = Field(max_length=200, examples=["mara@harbour.example"])
    password: str = Field(max_length=200, examples=["arc-demo"])


class Me(BaseModel):
    instructor_id: UUID
    instructor: str
    academy: str
    csrf: str


class MetricInfo(BaseModel):
    id: str
    label: str
    plain_label: str
    unit: str
    family: str
    positive: str
    negative: str
    plain_positive: str
    plain_negative: str
    explained: str
    decimals: int
    needs: str


class ClubInfo(BaseModel):
    id: str
    label: str


class SchoolOptionInfo(BaseModel):
    id: str
    label: str
    explained: str


class SchoolInfo(BaseModel):
    axis: str
    label: str
    options: list[SchoolOptionInfo]


class FindingInfo(BaseModel):
    id: str
    label: str
    plain_label: str
    phase: str
    tends: str
    note: str
    drills: list[str]
    metric: str
    event: str


class DrillInfo(BaseModel):
    id: str
    label: str
    how: str
    feel: str
    caution: str


class ScenarioInfo(BaseModel):
    id: str
    about: str


class Catalogue(BaseModel):
    metrics: list[MetricInfo]
    clubs: list[ClubInfo]
    schools: list[SchoolInfo]
    findings: list[FindingInfo]
    drills: list[DrillInfo]
    scenarios: list[ScenarioInfo]
    benchmarks: str
    engine: str


class LimitOut(BaseModel):
    id: UUID
    area: str
    side: str
    movement: str
    from_date: date | None
    until_date: date | None
    note: str
    holds: bool


class LimitIn(In):
    area: str = Field(min_length=1, max_length=40, examples=["wrist"])
    side: Literal["lead", "trail", "both", ""] = ""
    movement: str = Field(min_length=1, max_length=40, examples=["flexion"])
    from_date: date | None = None
    until_date: date | None = None
    note: str = Field(default="", max_length=2000)


class PriorityOut(BaseModel):
    rank: int
    finding: str
    label: str
    drill: str
    drill_label: str
    why: str
    override_reason: str


class PlayerBrief(BaseModel):
    id: UUID
    name: str
    handedness: Literal["right", "left"]
    population: str
    walk_in: bool
    consent: bool


class LessonBrief(BaseModel):
    id: UUID
    starts_at: datetime
    ends_at: datetime
    status: Literal["planned", "running", "closed"]
    club: str
    swings: int
    note: str
    next_date: date | None
    priorities: list[PriorityOut]


class PlayerOut(PlayerBrief):
    height_m: float | None
    goals: str
    usual_miss: str
    schools: dict[str, str]
    consent_by: str
    consent_at: datetime | None
    limits: list[LimitOut]
    lessons: list[LessonBrief]


class PlayerIn(In):
    name: str = Field(min_length=1, max_length=200, examples=["Ilse Marrow"])
    handedness: Literal["right", "left"] = "right"
    height_m: float | None = Field(default=None, gt=0.5, lt=2.8)
    population: Literal["adult", "junior", "senior"] = "adult"
    goals: str = Field(default="", max_length=4000)
    usual_miss: str = Field(default="", max_length=4000)
    schools: dict[str, str] = {}
    consent_by: str = Field(default="", max_length=200)


class DiaryEntry(BaseModel):
    id: UUID
    starts_at: datetime
    ends_at: datetime
    bay: str
    status: Literal["planned", "running", "closed"]
    instructor: str
    instructor_id: UUID
    player: PlayerBrief
    limits: list[LimitOut]
    last_priorities: list[PriorityOut]


class InstructorBrief(BaseModel):
    id: UUID
    name: str


class Diary(BaseModel):
    day: date
    lessons: list[DiaryEntry]
    instructors: list[InstructorBrief]
    bays: list[str]


class BookIn(In):
    player_id: UUID
    instructor_id: UUID
    bay: str = Field(min_length=1, max_length=60)
    starts_at: datetime
    minutes: int = Field(default=45, ge=10, le=240)
    club: str = "7-iron"


class StartNowIn(In):
    """A walk-in, or a lesson of a known player, beginning now."""

    player_id: UUID | None = None
    handedness: Literal["right", "left"] = "right"
    club: str = "7-iron"
    bay: str = Field(default="Bay 1", max_length=60)


class OtherValueOut(BaseModel):
    """The same value as a less certain source saw it."""

    source: str
    value: float
    uncertainty: float
    words: str
    plain_words: str


class MetricValue(BaseModel):
    metric: str
    event: str
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
    distance: float
    source: str
    note: str | None
    barred: str | None
    others: list[OtherValueOut]


class CalibrationOut(BaseModel):
    refused: str | None = None
    quality: float | None = None
    sentence: str = ""
    notes: list[str] = []
    method: str = ""
    pose_angle_deg: float | None = None
    disagreement_deg: float | None = None
    value_sd_deg: float | None = None


class SetupOut(BaseModel):
    """One question, one answer, one instruction."""

    question: str
    answer: str
    plain_answer: str
    instruction: str
    good: bool
    metric: str
    values: list[MetricValue]


class TakeOut(BaseModel):
    id: UUID
    number: int
    source: str
    glove: bool
    segments: list[str]
    calibration: CalibrationOut | None
    warnings: list[str]
    scenario: str
    setup: SetupOut | None


class SwingBrief(BaseModel):
    id: UUID
    number: int
    take_id: UUID
    kind: Kind
    discard_reason: str
    club: str
    ball_start: Side
    ball_curve: Side
    strike: Strike
    sensor_moved: bool
    pattern: str | None
    dip: bool
    verdicts: dict[str, Verdict]
    values: dict[str, float]
    out_spans: dict[str, list[list[float]]]
    beads: dict[str, float]
    block_id: UUID | None


class EvidenceOut(BaseModel):
    metric: str
    event: str
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
    metric: str
    event: str
    evidence: list[EvidenceOut]
    drills: list[str]


class NotAssessedOut(BaseModel):
    finding: str
    label: str
    reason: str


class WithheldOut(BaseModel):
    drill: str
    label: str
    reason: str


class ProposalOut(BaseModel):
    finding: str
    label: str
    why: str
    drills: list[str]
    withheld: list[WithheldOut]


class SpreadOut(BaseModel):
    metric: str
    event: str
    n: int
    median: float
    spread: float
    words: str


class TogetherOut(BaseModel):
    club: str
    counting: int
    findings: list[FindingOut]
    not_assessed: list[NotAssessedOut]
    proposals: list[ProposalOut]
    good: list[str]
    plain_good: list[str]
    spreads: list[SpreadOut]


class ChangeOut(BaseModel):
    """Before against after a drill."""

    metric: str
    event: str
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
    changed: bool
    sentence: str
    across_calibrations: bool


class BlockOut(BaseModel):
    id: UUID
    kind: Literal["drill", "test"]
    finding: str
    metric: str
    event: str
    drill: str
    club: str
    running: bool
    swings: int
    change: ChangeOut | None


class LessonOut(BaseModel):
    id: UUID
    player: PlayerOut
    instructor: str
    bay: str
    starts_at: datetime
    ends_at: datetime
    status: Literal["planned", "running", "closed"]
    club: str
    kind: Kind
    pain: Literal["yes", "no", ""]
    pain_note: str
    pinned: list[UUID]
    note: str
    next_date: date | None
    schools: dict[str, str]
    last_priorities: list[PriorityOut]
    priorities: list[PriorityOut]
    takes: list[TakeOut]
    swings: list[SwingBrief]
    together: list[TogetherOut]
    blocks: list[BlockOut]
    can_undo: str | None
    can_redo: str | None


class LessonPatch(In):
    pain: Literal["yes", "no", ""] | None = None
    pain_note: str | None = Field(default=None, max_length=2000)
    club: str | None = None
    kind: Kind | None = None
    note: str | None = Field(default=None, max_length=4000)


class TakeIn(In):
    """Fit the stand-in device. ``scenario`` says how its player swings."""

    scenario: str = "over-extended"
    seed: int = Field(default=1, ge=0, le=2_000_000_000)
    glove: bool = False
    club_clip: bool = True
    body_pack: bool = False


class SwingCount(In):
    count: int = Field(default=1, ge=1, le=10)


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
    event: str


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
    power: list[PowerOut]
    sources: list[str]
    captured_at: datetime


class EventPatch(In):
    name: str
    time_s: float | None = Field(default=None, description="None goes back to the detected instant")


class SwingPatch(In):
    kind: Kind | None = None
    reason: str = Field(default="", max_length=200)
    ball_start: Side | None = None
    ball_curve: Side | None = None
    strike: Strike | None = None
    club: str | None = None
    event: EventPatch | None = None


class PinIn(In):
    swing_ids: list[UUID] = Field(max_length=200)


class BlockIn(In):
    kind: Literal["drill", "test"]
    finding: str = ""
    metric: str
    event: str
    drill: str = ""


class ChosenIn(In):
    finding: str
    label: str = Field(max_length=200)
    drill: str = ""
    why: str = Field(default="", max_length=1000)
    override_reason: str = Field(default="", max_length=1000)


class CloseIn(In):
    priorities: list[ChosenIn] = Field(max_length=2)
    note: str = Field(default="", max_length=4000)
    next_date: date | None = None


class Closed(BaseModel):
    kept: bool


class NameIn(In):
    name: str = Field(min_length=1, max_length=200)
    consent_by: str = Field(default="", max_length=200)


class Undone(BaseModel):
    label: str


class Accepted(BaseModel):
    ok: bool = True


class TakeStarted(BaseModel):
    take_id: UUID


class Imported(BaseModel):
    take_id: UUID
    swings: list[UUID]
