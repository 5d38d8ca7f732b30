"""Errors of the use cases."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from finearc.core.errors import FineArcError


@dataclass
class NotFound(FineArcError):
    what: str
    code = "not_found"

    def __str__(self) -> str:
        return f"{self.what}: not found in this academy"


@dataclass
class Refused(FineArcError):
    """Something that cannot be done now: why, and what to do."""

    reason: str
    advice: str = ""
    code = "refused"

    def __str__(self) -> str:
        return f"{self.reason}. {self.advice}" if self.advice else f"{self.reason}."


@dataclass
class Clash(FineArcError):
    """Somebody or something is already booked then; ``places``: the next that are free."""

    what: str
    when: str
    places: tuple[Mapping[str, str], ...] = ()
    several: bool = False
    code = "double_booking"

    @property
    def words(self) -> str:
        """Without what to do."""
        return f"{self.what} {'are' if self.several else 'is'} already booked {self.when}"

    def __str__(self) -> str:
        return f"{self.words}. Choose another time, bay or instructor."

    def details(self) -> dict[str, Any]:
        """What the answer says beside the words."""
        return {"places": [dict(p) for p in self.places]}


@dataclass
class Outside(FineArcError):
    """Nobody works then; ``places``: the next that are free."""

    words: str
    places: tuple[Mapping[str, str], ...] = ()
    code = "outside_hours"

    def __str__(self) -> str:
        return f"{self.words}. Choose another time, or book it anyway."

    def details(self) -> dict[str, Any]:
        """What the answer says beside the words."""
        return {"places": [dict(p) for p in self.places]}
