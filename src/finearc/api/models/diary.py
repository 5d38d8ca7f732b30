"""The diary: booking, moving, waiting, hours, busy times, courses of lessons."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In, Problem

LessonStatus = Literal["planned", "running", "closed", "cancelled", "no_show"]
Weekday = Annotated[int, Field(ge=0, le=6)]
Minute = Annotated[int, Field(ge=0, le=1440)]
Name = Annotated[str, Field(max_length=60)]
Stretches = dict[Weekday, list[tuple[Minute, Minute]]]


class PlaceOut(BaseModel):
    """A free place, by the academy's clock."""

    starts_at: datetime
    ends_at: datetime
    instructor_id: UUID
    instructor: str
    bay: str


class NoPlace(Problem):
    """What is taken, or that nobody works then; ``places``: the next that are free."""

    places: list[PlaceOut]


class BookIn(In):
    """A lesson; a time without a zone is by the academy's clock. ``anyway``: also outside the working hours."""

    player_id: UUID
    instructor_id: UUID
    bay: str = Field(min_length=1, max_length=60)
    starts_at: datetime
    minutes: int = Field(default=45, ge=10, le=240)
    club: str = "7-iron"
    sensor_set: Name = ""
    markers: bool = False
    anyway: bool = False


class RowIn(BookIn):
    """The same every so many weeks, at the same time on the wall, the last on or before ``until``."""

    every_weeks: int = Field(default=1, ge=1, le=26)
    until: date


class MoveIn(In):
    """Where a lesson goes; what is not said stays."""

    starts_at: datetime | None = None
    minutes: int | None = Field(default=None, ge=10, le=240)
    instructor_id: UUID | None = None
    bay: str | None = Field(default=None, min_length=1, max_length=60)
    sensor_set: Name | None = None
    markers: bool | None = None
    anyway: bool = False


class CancelIn(In):
    """Why it does not take place."""

    reason: str = Field(default="", max_length=200)


class CourseOut(BaseModel):
    """A course of lessons: ``left`` are neither used nor booked."""

    id: UUID
    name: str
    lessons: int
    used: int
    booked: int
    left: int


class CourseIn(In):
    name: str = Field(default="", max_length=120)
    lessons: int = Field(ge=1, le=200)


class SlotOut(BaseModel):
    """A lesson in its place in the diary, by the academy's clock."""

    id: UUID
    starts_at: datetime
    ends_at: datetime
    status: LessonStatus
    bay: str
    instructor_id: UUID
    instructor: str
    player_id: UUID
    player: str
    sensor_set: str
    markers: bool
    in_row: bool
    cancel_reason: str
    course: CourseOut | None


class NotBookedOut(BaseModel):
    """One of a row that has no place, by the clock on the wall, and why."""

    at: datetime
    why: str


class RowOut(BaseModel):
    """What became of a row of lessons."""

    booked: list[SlotOut]
    not_booked: list[NotBookedOut]


class StretchOut(BaseModel):
    """When an instructor works."""

    instructor_id: UUID
    begins: datetime
    ends: datetime


class BusyOut(StretchOut):
    """When an instructor is busy, and by which calendar."""

    calendar: str


class HolidayIn(In):
    """Days, both included, on which nobody works, or one instructor does not."""

    first: date
    last: date
    name: Name = ""
    instructor_id: UUID | None = None


class OwnHours(In):
    """Hours of one instructor, by weekday (Monday 0), in minutes of the day."""

    instructor_id: UUID
    hours: Stretches


class DiaryRulesIn(In):
    """``hours`` of the academy by weekday (Monday 0), in minutes of the day, null where none are noted."""

    hours: Stretches | None
    own_hours: list[OwnHours] = Field(default_factory=list, max_length=100)
    holidays: list[HolidayIn] = Field(default_factory=list, max_length=200)
    sensor_sets: list[Annotated[str, Field(min_length=1, max_length=60)]] = Field(default_factory=list, max_length=40)
    setup_minutes: int = Field(default=15, ge=0, le=120)
    lesson_minutes: int = Field(default=45, ge=10, le=240)


class DiaryRulesOut(BaseModel):
    """The academy's hours, holidays and sensor sets; ``revision``: with which they are changed."""

    hours: dict[int, list[tuple[int, int]]] | None
    own_hours: list[OwnHours]
    holidays: list[HolidayIn]
    sensor_sets: list[str]
    setup_minutes: int
    lesson_minutes: int
    revision: str


class PersonOut(BaseModel):
    id: UUID
    name: str


class DiarySpanOut(BaseModel):
    """Some days of the diary by the academy's clock. ``open``: when who works, nothing of those without hours."""

    first: date
    last: date
    today: date
    time_zone: str
    lessons: list[SlotOut]
    busy: list[BusyOut]
    open: list[StretchOut]
    holidays: list[HolidayIn]
    instructors: list[PersonOut]
    bays: list[str]
    sensor_sets: list[str]
    lesson_minutes: int


class WaitingIn(In):
    """Who would take a place that becomes free: between two days, on weekdays (none: any), within a time of the day."""

    player_id: UUID
    instructor_id: UUID | None = None
    first: date
    last: date
    weekdays: list[Weekday] = Field(default_factory=list, max_length=7)
    from_minute: Minute = 0
    until_minute: Minute = 1440
    minutes: int = Field(default=45, ge=10, le=240)
    note: str = Field(default="", max_length=500)


class WaitingOut(BaseModel):
    """Who waits; ``places`` that are free and would suit."""

    id: UUID
    player_id: UUID
    player: str
    instructor_id: UUID | None
    first: date
    last: date
    weekdays: list[int]
    from_minute: int
    until_minute: int
    minutes: int
    note: str
    made_at: datetime
    places: list[PlaceOut]


class CalendarOut(BaseModel):
    """A calendar file by which an instructor is busy. ``times``: how many; ``until``: how far it was followed;
    ``remarks``: what was left out."""

    id: UUID
    instructor_id: UUID
    name: str
    times: int
    until: datetime
    remarks: list[str]


class FeedOut(BaseModel):
    """A private link with which a calendar follows an instructor's lessons."""

    id: UUID
    instructor_id: UUID
    made_at: datetime
    used_at: datetime | None


class FeedMade(FeedOut):
    """``path``: where it leads, told this once."""

    path: str


class CalendarsOut(BaseModel):
    """What comes in from other calendars, and what goes out to them."""

    busy: list[CalendarOut]
    feeds: list[FeedOut]


class NextOut(BaseModel):
    """A player's next lesson: from which day on it is due, why, and free places, the usual time first."""

    due: date
    why: str
    minutes: int
    places: list[PlaceOut]
    courses: list[CourseOut]
