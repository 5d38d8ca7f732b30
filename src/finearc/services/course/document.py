"""What is kept of a round: one typed document, one codec."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from pydantic import TypeAdapter

from finearc import __version__
from finearc.core.course.card import CardLine
from finearc.core.course.motions import Motion
from finearc.services.course.round_reading import RoundRead


@dataclass(frozen=True)
class RoundDocument:
    """Every motion in the order of time, by number the card's line about it, clubs whose clock is wrong, what a person
    should know; ``engine``: by which version it was read."""

    motions: list[Motion]
    lines: dict[int, CardLine]
    off_clock: list[str]
    notes: list[str]
    handedness: Literal["right", "left"]
    engine: str = __version__
    version: Literal[1] = 1


_SHAPE = TypeAdapter(RoundDocument)


def document_of(read: RoundRead, handedness: Literal["right", "left"]) -> str:
    """As it is kept."""
    found = RoundDocument(list(read.motions), dict(read.lines), sorted(read.off_clock), list(read.notes), handedness)
    return _SHAPE.dump_json(found).decode()


def document(kept: str) -> RoundDocument:
    """As it was found."""
    return _SHAPE.validate_json(kept)
