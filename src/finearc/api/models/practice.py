"""Practice between lessons."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from finearc.api.models.base import In
from finearc.core.practice.plan import Place

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
    each."""

    number: int
    day: date
    minutes: int
    drills: list[PracticeDrillOut]
    feedback: float
    why: list[str]
    done: bool


class BrokenOut(BaseModel):
    """A rule that the plan does not keep."""

    rule: Literal["minutes", "day", "week", "drill", "lump"]
    day: date
    words: str


class PracticeOut(BaseModel):
    """A lesson's plan. ``withheld``: drills that are left out, each with its reason; ``stopped``: the words with which
    pain ended it; ``dropped``: blocks that had no day left; ``room``: what the place has room for."""

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
    """The plan, where one was made."""

    plan: PracticeOut | None
