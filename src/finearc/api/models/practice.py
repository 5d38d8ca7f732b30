"""Practice between lessons."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Annotated, Literal, Self
from uuid import UUID

from pydantic import BaseModel, Field, model_validator

from finearc.api.models.base import In
from finearc.api.models.people import MannerFields
from finearc.core.practice.plan import Place
from finearc.services.practice.document import AnswerKind

Weekday = Annotated[int, Field(ge=0, le=6)]
Minutes = Annotated[int, Field(ge=0, le=180)]


class PracticeIn(In):
    """What the player can. ``minutes`` by weekday, Monday 0; ``last``: the last day, else the one before the next
    lesson; ``equipment`` that is there beside a club, null for all of it."""

    minutes: dict[Weekday, Minutes] = Field(max_length=7)
    place: Place = Place.RANGE
    equipment: list[Annotated[str, Field(max_length=100)]] | None = Field(default=None, max_length=40)
    last: date | None = None


class MovedIn(In):
    """A block on another day."""

    number: int = Field(ge=0, le=5000)
    to: date


class MissedIn(In):
    """A day on which nothing was practised."""

    day: date


class PainIn(In):
    """Where it hurts; empty where that was not said."""

    where: str = Field(default="", max_length=60)


class PracticeDrillOut(BaseModel):
    """A drill of a block, in the player's words."""

    id: str
    label: str
    how: str
    feel: str
    caution: str
    dose: str


class PracticeBlockOut(BaseModel):
    """A block of a day. ``feedback``: share of repetitions with it, 0 to 1; ``why`` it stands there, a sentence
    each; ``feel``: how it felt to the player, 1 to 5; ``pain_free``: whether they said so."""

    number: int
    day: date
    minutes: int
    drills: list[PracticeDrillOut]
    feedback: float
    why: list[str]
    done: bool
    feel: int | None
    pain_free: bool


class BrokenOut(BaseModel):
    """A rule that the plan does not keep."""

    rule: Literal["minutes", "day", "week", "drill", "lump"]
    day: date
    words: str


class PracticeOut(BaseModel):
    """A lesson's plan. ``revision``: with which it is made anew; ``withheld``: drills that are left out, each with its
    reason; ``stopped``: the words with which pain ended it; ``dropped``: blocks that had no day left; ``room``: what
    the place has room for."""

    id: UUID
    revision: str
    first: date
    last: date
    minutes: dict[int, int]
    place: Place
    equipment: list[str] | None
    blocks: list[PracticeBlockOut]
    withheld: list[str]
    broken: list[BrokenOut]
    stopped: str
    dropped: int
    room: str
    today: date


class PracticeFound(BaseModel):
    """The plan, where one was made; ``equipment`` that drills of the lesson's priorities need beside a club."""

    plan: PracticeOut | None
    equipment: list[str]


class AnswerIn(In):
    """What a player says by the private link. ``key``: the device's own name for it, the same however often it is sent;
    ``plan``: the plan it is about; ``block`` of it; ``at`` by the device's clock; ``feel`` 1 to 5; ``to``: the day that
    the block moves to; ``where`` it hurts."""

    key: str = Field(min_length=8, max_length=40, pattern=r"^[0-9A-Za-z-]+$")
    kind: AnswerKind
    plan: UUID
    at: datetime
    block: int | None = Field(default=None, ge=0, le=5000)
    day: date | None = None
    minutes: int = Field(default=0, ge=0, le=180)
    feel: int | None = Field(default=None, ge=1, le=5)
    to: date | None = None
    where: str = Field(default="", max_length=60)

    @model_validator(mode="after")
    def zoned(self) -> Self:
        """A time without a zone is taken as UTC."""
        if self.at.tzinfo is None:
            self.at = self.at.replace(tzinfo=UTC)
        return self


class AnswersIn(In):
    """All that was said since the device was last online, in the order in which it was said."""

    answers: list[AnswerIn] = Field(min_length=1, max_length=500)


class ElsewhereOut(BaseModel):
    """A day to which a block can go; ``breaks``: the rules that this would break, in words."""

    day: date
    breaks: list[str]


class NotDoneOut(BaseModel):
    """An answer that changed nothing, and why."""

    key: str
    why: str


class PlayerPracticeOut(BaseModel):
    """The player's own page: ``player`` by the first name; ``plan``: null where there is none any more; ``days`` to
    which each block that is still to come can go, by its number; ``not_done``: answers that changed nothing;
    ``when_it_hurts``: what the page says at once when pain stops the plan; ``manner``: how the page speaks."""

    player: str
    manner: MannerFields
    plan: PracticeOut | None
    days: dict[int, list[ElsewhereOut]]
    not_done: list[NotDoneOut]
    when_it_hurts: str
