"""What is kept of the diary beside the lessons. The store maps this to tables."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, datetime
from uuid import UUID, uuid4

from finearc.services.records import now


@dataclass(eq=False)
class DiaryRules:
    """An academy's hours, holidays and sensor sets (``services.diary.document``). One an academy, held by whoever
    books: ``bookings`` counts them, so that two at once stand in each other's way on any database node."""

    academy_id: UUID
    document: str
    bookings: int = 0
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Waiting:
    """Somebody who would take a place that becomes free: between two days, on weekdays (Monday 0) between two times of
    the day (minutes), with one instructor or any (None)."""

    academy_id: UUID
    player_id: UUID
    instructor_id: UUID | None
    first: date
    last: date
    weekdays: list[int]
    from_minute: int
    until_minute: int
    minutes: int
    note: str = ""
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class BusyCalendar:
    """A calendar file whose times an instructor is busy; of what stands in it only the times are kept (``spans``, pairs
    of ISO instants), expanded until ``until``."""

    academy_id: UUID
    instructor_id: UUID
    name: str
    spans: list[list[str]]
    until: datetime
    remarks: list[str] = field(default_factory=list)
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class CalendarFeed:
    """With which any calendar follows an instructor's lessons; only the link's hash is kept."""

    academy_id: UUID
    instructor_id: UUID
    token_hash: str
    made_at: datetime = field(default_factory=now)
    used_at: datetime | None = None
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class Package:
    """A course of lessons: so many, of which those that took place or were not come to are used. Counts only."""

    academy_id: UUID
    player_id: UUID
    name: str
    lessons: int
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)
