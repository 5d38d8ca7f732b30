"""What is kept of who works in an academy, beside the account: a second factor, and which players are theirs."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID, uuid4

from finearc.services.records import now


@dataclass(eq=False)
class SecondFactor:
    """``secret`` (base32) of a phone, in force since ``confirmed_at``; ``last_step``: the step of the clock whose code
    counted last; ``paper``: hashes of the codes that are left for a lost phone."""

    academy_id: UUID
    instructor_id: UUID
    secret: str
    confirmed_at: datetime | None = None
    last_step: int = 0
    paper: list[str] = field(default_factory=list)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class KeepingPeriods:
    """How long an academy keeps what, one a row: months after a lesson, days for walk-ins without a name; 0 for ever.
    ``changed_at``: when that was chosen; it holds a day later."""

    academy_id: UUID
    raw_months: int = 0
    lessons_months: int = 0
    walk_ins_days: int = 0
    changed_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class OwnPlayer:
    """A player whom an instructor opens, beside those of their own lessons, where the academy keeps players apart."""

    academy_id: UUID
    instructor_id: UUID
    player_id: UUID
    shared_by: str = ""
    at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)
