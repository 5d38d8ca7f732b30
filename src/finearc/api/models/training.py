"""Training with live feedback, as it is sent and answered."""

from __future__ import annotations

from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.core.training.parts import Phase
from finearc.services.lesson.ids import FindingId, MetricId
from finearc.services.lesson.training import RepetitionKept

Guess = Literal["much_less", "less", "same", "more", "much_more"]


class TrainingIn(In):
    """A band in the metric's unit; a limit of null is open. ``practice``: it is the practice plan's next block, whose
    feedback it takes over and which it ticks."""

    kind: Literal["drill", "test"] = "drill"
    metric: MetricId
    low: float | None = None
    high: float | None = None
    phase: Phase
    relative: bool = False
    above_address: float | None = None
    told_from: str = Field(default="", max_length=200)
    fades: bool = True
    locked: bool = False
    finding: FindingId = ""
    drill: str = Field(default="", max_length=60)
    practice: bool = False


class TrainingPatch(In):
    """``test``: go on to a test of the same band."""

    fades: bool | None = None
    locked: bool | None = None
    test: bool = False


class FeltIn(In):
    number: int = Field(ge=1, le=100_000)
    guess: Guess


class OfferOut(BaseModel):
    """A band that can be trained. ``words``, ``plain_words``: what it is; ``label``: what it is for; ``practice``: that
    it is the practice plan's next block, in words."""

    source: Literal["drill", "finding"]
    label: str
    words: str
    plain_words: str
    metric: MetricId
    low: float | None
    high: float | None
    phase: Phase
    relative: bool
    above_address: float | None
    finding: FindingId
    drill: str
    practice: str


class BandAtOut(BaseModel):
    """A range in force at a checkpoint, in its measure's unit; ``relative``: a change since address."""

    metric: MetricId
    at: str
    low: float | None
    high: float | None
    relative: bool


class TrainingOut(BaseModel):
    """A drill or test block with live feedback. ``line``: what it has come to, in one line; ``real``: of a test,
    whether its swings differ from those before the drill, empty while there are none."""

    block_id: UUID
    kind: Literal["drill", "test"]
    running: bool
    words: str
    plain_words: str
    metric: MetricId
    low: float | None
    high: float | None
    phase: Phase
    relative: bool
    told_from: str
    fades: bool
    locked: bool
    width: float
    every: int
    line: str
    real: str
    made: int
    good: int
    run: int
    best: int
    repetitions: list[RepetitionKept]
    drill: str
    finding: FindingId
    club: str


class RetentionOut(BaseModel):
    """What is left of what the last lesson's test had shown, in one line."""

    left: Literal["kept", "part", "lost", "early", "uncertain"]
    line: str
    plain_line: str


class TrainingPage(BaseModel):
    """``done``: earlier blocks of the lesson, oldest first; ``retention``: None where the last lesson changed
    nothing with this club."""

    club: str
    retention: RetentionOut | None
    offers: list[OfferOut]
    running: TrainingOut | None
    done: list[TrainingOut]
