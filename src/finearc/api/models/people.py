"""Signing in, players, the diary."""

from __future__ import annotations

from datetime import date, datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.api.models.diary import CourseOut, LessonStatus, PlaceOut
from finearc.services.people.roles import Right, Role
from finearc.wording import Clock, Distances, Language, Lengths


class SignInRequest(In):
    email: str = Field(max_length=200, examples=["mara@harbour.example"])
    password: str = Field(max_length=200, examples=["arc-demo"])
    end_others: bool = False
    code: str = Field(default="", max_length=40, description="Of the second factor, where the account has one")


class SessionOut(BaseModel):
    """Where somebody is signed in; ``this``: the session that asks."""

    id: UUID
    agent: str
    made_at: datetime
    seen_at: datetime
    this: bool


class PasswordIn(In):
    old: str = Field(max_length=200)
    new: str = Field(max_length=200)


class PasswordAgainIn(In):
    password: str = Field(max_length=200)


class CodeIn(In):
    code: str = Field(min_length=1, max_length=40)


class SecondFactorOut(BaseModel):
    """``since``: when it came into force, empty without one; ``paper_left``: codes for a lost phone; ``asked``: the
    academy asks this person for one."""

    since: datetime | None
    paper_left: int
    asked: bool


class SecondFactorOffer(BaseModel):
    """``rows`` of a QR code, 1 for a dark cell; ``secret`` to type without a camera. Shown this once."""

    secret: str
    uri: str
    rows: list[str]


class PaperCodes(BaseModel):
    """Shown this once."""

    codes: list[str]
    factor: SecondFactorOut


class MannerFields(BaseModel):
    """How the academy's screens speak: language, lengths of bodies and clubs, distances of putts, the clock."""

    language: Language = "en"
    lengths: Lengths = "cm"
    distances: Distances = "m"
    clock: Clock = "24"


class OwnManner(BaseModel):
    """How what goes home to a player speaks; empty where the academy's manner holds."""

    language: Language | Literal[""] = ""
    lengths: Lengths | Literal[""] = ""
    distances: Distances | Literal[""] = ""
    clock: Clock | Literal[""] = ""


class Me(BaseModel):
    instructor_id: UUID
    instructor: str
    academy: str
    csrf: str
    manner: MannerFields
    role: Role
    rights: list[Right]
    bare: bool = Field(description="The academy asks for a second factor, and there is none: nothing else opens")
    apart: bool = Field(description="Only one's own players open")


class AcademyOut(MannerFields):
    """``time_zone`` (IANA) is the clock the academy lives by; ``time_zones``: those to choose from."""

    name: str
    time_zone: str
    time_zones: list[str]
    revision: str


class ClockIn(In):
    time_zone: str = Field(max_length=60)


class MannerIn(In, MannerFields):
    pass


class LimitOut(BaseModel):
    id: UUID
    area: str
    side: str
    movement: str
    from_date: date | None
    until_date: date | None
    note: str
    comfortable: float | None
    holds: bool


class LimitIn(In):
    area: str = Field(min_length=1, max_length=40, examples=["wrist"])
    side: Literal["lead", "trail", "both", ""] = ""
    movement: str = Field(min_length=1, max_length=40, examples=["flexion"])
    from_date: date | None = None
    until_date: date | None = None
    note: str = Field(default="", max_length=2000)
    comfortable: float | None = Field(default=None, gt=0, le=180, description="How far it goes in comfort, deg")


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
    status: LessonStatus
    club: str
    swings: int
    note: str
    next_date: date | None
    priorities: list[PriorityOut]


class PlayerListed(PlayerBrief):
    """A player in the list of all: when the last and the next lesson are, the last lesson's first priority, and whether
    limits are noted."""

    last_lesson: datetime | None
    next_lesson: datetime | None
    priority: str
    limits: bool


class PlayerOut(PlayerBrief, OwnManner):
    height_m: float | None
    goals: str
    usual_miss: str
    schools: dict[str, str]
    own_schools: dict[str, str]
    words: Literal["plain", "standard"]
    consent_by: str
    consent_at: datetime | None
    revision: str
    limits: list[LimitOut]
    lessons: list[LessonBrief]


class PlayerIn(In, OwnManner):
    name: str = Field(min_length=1, max_length=200, examples=["Ilse Marrow"])
    handedness: Literal["right", "left"] = "right"
    height_m: float | None = Field(default=None, gt=0.5, lt=2.8)
    population: Literal["adult", "junior", "senior"] = "adult"
    goals: str = Field(default="", max_length=4000)
    usual_miss: str = Field(default="", max_length=4000)
    schools: dict[str, str] = Field(default_factory=dict)
    consent_by: str = Field(default="", max_length=200)
    consent_as: Literal["player", "guardian", ""] = ""
    words: Literal["plain", "standard"] = "plain"


class ConsentOut(BaseModel):
    """A consent as it was noted; ``given`` false where it was taken back."""

    given: bool
    by: str
    as_: Literal["player", "guardian"] = Field(serialization_alias="as")
    noted_by: str
    at: datetime


class AuthorOut(BaseModel):
    """Who changed what: never what stood there."""

    who: str
    what: str
    at: datetime


class ConsentIn(In):
    by: str = Field(min_length=1, max_length=200)
    as_: Literal["player", "guardian"] = Field(default="player", alias="as")


class PractisedOut(BaseModel):
    """What was practised since the last lesson: ``done`` of ``blocks``, minutes, how it felt (1 to 5, in order of
    time), and the words with which pain stopped it."""

    done: int
    blocks: int
    minutes: int
    felt: list[int]
    stopped: str


class DiaryEntry(BaseModel):
    """A lesson with what to know before it: what was worn last time (``fit``), what was practised, until when the
    practice plan goes (``retest``), of which course it is."""

    id: UUID
    starts_at: datetime
    ends_at: datetime
    bay: str
    status: LessonStatus
    instructor: str
    instructor_id: UUID
    player: PlayerBrief
    limits: list[LimitOut]
    last_priorities: list[PriorityOut]
    sensor_set: str
    markers: bool
    fit: list[str]
    practised: PractisedOut | None
    retest: date | None
    course: CourseOut | None


class InstructorBrief(BaseModel):
    id: UUID
    name: str


class LeftOpenOut(BaseModel):
    """A lesson of a day before today that was neither ended nor taken out of the diary."""

    id: UUID
    starts_at: datetime
    player: str
    status: LessonStatus


class Diary(BaseModel):
    """A day's lessons by the academy's clock; ``today`` is its present day. Of today also: ``free`` places that are
    left, and lessons of the days before that nobody ended (``left_open``)."""

    day: date
    today: date
    time_zone: str
    lessons: list[DiaryEntry]
    instructors: list[InstructorBrief]
    bays: list[str]
    free: list[PlaceOut]
    left_open: list[LeftOpenOut]


class StartNowIn(In):
    """A walk-in, or a lesson of a known player, beginning now; without a bay in the academy's first."""

    player_id: UUID | None = None
    handedness: Literal["right", "left"] = "right"
    club: str = "7-iron"
    bay: str | None = Field(default=None, min_length=1, max_length=60)
