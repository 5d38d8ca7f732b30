"""What is kept of a practice plan: one typed document, one codec."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from typing import Literal

from pydantic import TypeAdapter

from finearc.core.practice.plan import Place, Plan


@dataclass(frozen=True)
class Wishes:
    """What the player can: days ``first`` to ``last``, minutes by weekday (Monday 0), place, and the equipment that is
    there; None: all of it."""

    first: date
    last: date
    minutes: dict[int, int]
    place: Place = Place.RANGE
    equipment: list[str] | None = None


@dataclass(frozen=True)
class PracticeDocument:
    """What was asked for, and the plan."""

    wishes: Wishes
    plan: Plan
    version: Literal[1] = field(default=1)


_SHAPE = TypeAdapter(PracticeDocument)


def written(document: PracticeDocument) -> str:
    """As it is kept."""
    return _SHAPE.dump_json(document).decode()


MOST_MINUTES, MOST_BLOCKS = 180, 2000
"""Of a day, and of a plan: nobody practises more (house values)."""


def refuse_unreadable(kept: str) -> None:
    """Raises ``ValueError`` for what this application would not have kept."""
    found = read(kept)
    days = found.wishes.minutes
    if not all(0 <= day <= 6 and 0 <= minutes <= MOST_MINUTES for day, minutes in days.items()):
        raise ValueError("minutes that nobody practises")
    if len(found.plan.blocks) > MOST_BLOCKS:
        raise ValueError(f"{len(found.plan.blocks)} blocks in one plan")


def read(kept: str) -> PracticeDocument:
    """As it was made."""
    return _SHAPE.validate_json(kept)


class AnswerKind(StrEnum):
    """What a player says of a block, or of the plan."""

    DONE = "done"
    UNDONE = "undone"
    FELT = "felt"
    NO_PAIN = "no_pain"
    MOVED = "moved"
    PAIN = "pain"


@dataclass(frozen=True)
class Answer:
    """``block``: its number, None of an answer about the whole plan; ``day`` and ``minutes`` it had then; ``feel`` 1 to
    5; ``to``: the day it was moved to; ``where`` it hurts."""

    block: int | None = None
    day: date | None = None
    minutes: int = 0
    feel: int | None = None
    to: date | None = None
    where: str = ""


_ANSWER = TypeAdapter(Answer)


def answer_written(answer: Answer) -> str:
    """As it is kept."""
    return _ANSWER.dump_json(answer).decode()


def answer_read(kept: str) -> Answer:
    """As it was said. Raises ``ValueError``."""
    return _ANSWER.validate_json(kept)
