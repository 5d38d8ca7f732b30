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


def read(kept: str) -> PracticeDocument:
    """As it was made."""
    return _SHAPE.validate_json(kept)
