"""A lesson's putts: the plan of distances, what is noted, and the reading step by step."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In, Kind
from finearc.api.models.swing import PuttOut
from finearc.core.judging.putt_row import Step, Tone
from finearc.core.putting.phases import PuttPhase
from finearc.services.capture.putter_notes import PutterNotes
from finearc.services.lesson.ids import MetricId, MomentId

Unit = Literal["m", "ft"]


class PuttPlanOut(BaseModel):
    """``distances_m`` in their order, ``each`` so many putts, told in ``unit``; ``next_m``: from where putts that come
    now are made, None where that is not chosen."""

    distances_m: list[float]
    each: int
    unit: Unit
    next_m: float | None


class PuttPlanIn(In):
    """What is not given stays; another unit alone brings its usual distances."""

    distances_m: list[float] | None = Field(default=None, min_length=1, max_length=8)
    each: int | None = Field(default=None, ge=1, le=30)
    unit: Unit | None = None
    next_m: float | None = Field(default=None, gt=0, le=60)


class PuttingNotesOut(BaseModel):
    """Noted of a fitting's putts. ``face_grip_bias_deg``: + the face open against the hands."""

    recording_id: UUID
    green_speed_ft: float | None
    putter_grip: str
    face_grip_bias_deg: float | None
    putter: PutterNotes


class PuttingNotesIn(In):
    """What is not given stays; None, or empty, clears it."""

    green_speed_ft: float | None = Field(default=None, gt=0, le=20)
    putter_grip: str = Field(default="", max_length=200)
    face_grip_bias_deg: float | None = Field(default=None, ge=-45, le=45)
    putter: PutterNotes | None = None


class WordsOut(BaseModel):
    """The same in standard and in plain words."""

    text: str
    plain: str


class StepFactOut(BaseModel):
    """A value beside a sentence; ``told``: relative (to address), absolute, noted."""

    name: WordsOut
    words: WordsOut
    told: str


class StepOut(BaseModel):
    """What a step answers; ``over`` how many putts; ``note``: what is to be known of how it was measured."""

    step: Step
    tone: Tone
    said: WordsOut
    facts: list[StepFactOut]
    over: int
    note: str


class PieceOut(BaseModel):
    """A piece of what hangs together, and how it stands ``now``. ``asks``: what changing it asks of the others;
    ``left``: what it tends to do where it is left while another is changed."""

    id: str
    label: str
    plain_label: str
    now: WordsOut
    asks: str
    left: str
    drills: list[str]


class PuttRowOut(BaseModel):
    """The putts of one distance, None where it is not noted. ``steps``: the first six."""

    distance_m: float | None
    putts: list[UUID]
    counting: int
    owed: int
    steps: list[StepOut]
    pieces: list[PieceOut]


class PhaseOut(BaseModel):
    """A phase of a putt, on the recording's clock."""

    phase: PuttPhase
    start_s: float
    end_s: float


class PuttShownOut(BaseModel):
    """One putt. ``at_s``: takeaway, transition, impact; ``values`` by metric and moment in the metrics' own units;
    ``strike_hint``: told by the wrist alone."""

    id: UUID
    number: int
    measuring: int
    kind: Kind
    what: Literal["putt", "practice", "tap_in"]
    counts: bool
    putt: PuttOut
    at_s: dict[str, float]
    phases: list[PhaseOut]
    order: WordsOut
    strike: Literal["toe", "heel", "centre"] | None
    strike_hint: bool
    values: dict[MetricId, dict[MomentId, float]]


class GrowthOut(BaseModel):
    """A straight line through a range against the distance, deg: ``slope`` per m with its 95 % interval."""

    metric: MetricId
    slope: float
    low: float
    high: float
    at_zero: float
    putts: int


class PuttingOut(BaseModel):
    """``scales_deg``: how far the graphs of each angle reach to either side; ``notes``: what is to be said first;
    ``next_m``: from how far putts that come now are made."""

    plan: PuttPlanOut
    school: Literal["quiet", "transition"]
    noted: PuttingNotesOut | None
    putts: list[PuttShownOut]
    rows: list[PuttRowOut]
    across: StepOut
    scales_deg: dict[str, float]
    growth: list[GrowthOut]
    notes: list[str]
    next_m: float
    can_undo: str | None
    can_redo: str | None
