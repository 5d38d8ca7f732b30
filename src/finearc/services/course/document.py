"""What is kept of a round: one typed document, one codec."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Literal

from pydantic import TypeAdapter

from finearc import __version__
from finearc.catalogue.library import clubs
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


MOST_MOTIONS = 20_000
"""More in one round is no round (house value: a full one has about five hundred)."""


def refuse_unreadable(kept: str) -> None:
    """Raises ``ValueError`` for what this application would not have kept."""
    json.dumps(json.loads(kept), allow_nan=False)  # no number that is none
    motions = document(kept).motions
    if len(motions) > MOST_MOTIONS:
        raise ValueError(f"{len(motions)} motions in one round")
    clubs_known = clubs()
    if any(m.club not in clubs_known for m in motions):
        raise ValueError("a club that is not known here")


def document(kept: str) -> RoundDocument:
    """As it was found."""
    return _SHAPE.validate_json(kept)
