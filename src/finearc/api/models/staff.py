"""The people of an academy and what they did."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.services.people.roles import Role


class StaffPerson(BaseModel):
    """``left_at``: since when they may not come in; ``me``: who asks."""

    id: UUID
    name: str
    email: str
    role: Role
    left_at: datetime | None
    me: bool
    second_factor: bool


class InvitationOut(BaseModel):
    """A link that is neither used nor over; ``again``: for another password of somebody who is here."""

    id: UUID
    name: str
    email: str
    role: Role
    again: bool
    made_by: str
    expires_at: datetime


class ChoicesIn(In):
    """``owners_second_factor``: owners need one; ``own_players``: an instructor opens only the players that are
    theirs."""

    owners_second_factor: bool
    own_players: bool


class ChoicesOut(BaseModel):
    owners_second_factor: bool
    own_players: bool


class Periods(BaseModel):
    """Months after a lesson's end, days for walk-ins without a name; 0 keeps for ever. ``raw_months``: samples and
    videos; ``lessons_months``: lessons with all that was measured."""

    raw_months: int = Field(ge=0, le=600)
    lessons_months: int = Field(ge=0, le=600)
    walk_ins_days: int = Field(ge=0, le=3650)


class PeriodsIn(In, Periods):
    """``seen``: how much would go, as the preview said."""

    seen: int = Field(ge=0)


class WouldGo(BaseModel):
    """``raw``: recordings whose samples and videos go; ``names`` of the players whose lessons go, the first of them;
    ``oldest`` and ``newest`` of these lessons; ``count`` of everything."""

    raw: int
    lessons: int
    players: int
    walk_ins: int
    names: list[str]
    oldest: datetime | None
    newest: datetime | None
    count: int


class PeriodsOut(BaseModel):
    """``holds_from``: when the periods begin to hold, empty where nothing was chosen."""

    periods: Periods
    holds_from: datetime | None
    would_go: WouldGo


class BackupOut(BaseModel):
    """``made_at``: of the last backup; ``verified_at``: when one was last restored, on trial, and found equal;
    ``trouble``: why the last try failed, else empty; ``late``: none was verified for more than a day."""

    made_at: datetime | None
    verified_at: datetime | None
    swings: int
    trouble: str
    late: bool


class OpenerOut(BaseModel):
    """``taught``: by a lesson of theirs; ``shared``: by a colleague."""

    id: UUID
    name: str
    taught: bool
    shared: bool


class OpenersOut(BaseModel):
    """Who opens a player beside the owners; ``apart``: whether the academy keeps players apart at all."""

    apart: bool
    openers: list[OpenerOut]


class OpenersIn(In):
    shared_with: list[UUID] = Field(max_length=200)


class StaffOut(BaseModel):
    people: list[StaffPerson]
    invited: list[InvitationOut]
    choices: ChoicesOut


class StaffLink(BaseModel):
    """``path`` stands behind the application's address. It is shown this once."""

    path: str
    staff: StaffOut


class InvitationIn(In):
    name: str = Field(min_length=1, max_length=100)
    email: str = Field(min_length=3, max_length=200)
    role: Role


class RoleIn(In):
    role: Role


class InvitedOut(BaseModel):
    academy: str
    name: str
    email: str
    role: str
    again: bool


class AcceptIn(In):
    password: str = Field(max_length=200)


class LogLine(BaseModel):
    """``player``: whose it is, empty where it is nobody's or they are erased."""

    id: UUID
    at: datetime
    who: str
    what: str
    how: str
    fields: str
    player: str
    player_id: UUID | None
