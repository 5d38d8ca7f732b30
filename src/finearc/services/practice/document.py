"""What is kept of a practice plan: one typed document, one codec."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
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
