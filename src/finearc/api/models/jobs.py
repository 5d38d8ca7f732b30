"""Long work."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel

from finearc.services.jobs.measuring import MeasuringReport

JobState = Literal["waiting", "running", "done", "failed", "cancelled"]


class JobOut(BaseModel):
    """A piece of long work. ``done`` of ``total`` steps are behind it; ``message``: why it came to nothing.
    ``recording_id``, ``swings``: what an import kept."""

    id: UUID
    kind: Literal["import", "bring", "round", "measure_again", "accept_measuring"]
    name: str
    state: JobState
    done: int
    total: int
    step: str
    code: str
    message: str
    stopping: bool
    created_at: datetime
    ended_at: datetime | None
    recording_id: UUID | None = None
    player_id: UUID | None = None
    round_id: UUID | None = None
    swings: list[UUID] = []


class ChangeShown(BaseModel):
    """A value that reads otherwise when it is measured again, in words."""

    swing_id: UUID
    label: str
    metric: str
    moment: str
    before: str
    after: str


class MeasuringOut(BaseModel):
    """Measuring everything again: the job, what it found so far, and the largest changes in words; nothing where
    nothing is being measured or waits to be decided. ``engine`` is today's; ``accepting``: the job that puts the new
    values in place; ``stopped``: the last one, where it can go on."""

    engine: str
    job: JobOut | None
    accepting: JobOut | None
    stopped: JobOut | None
    report: MeasuringReport | None
    largest: list[ChangeShown] = []


class DecisionIn(BaseModel):
    decision: Literal["accept", "dismiss"]
