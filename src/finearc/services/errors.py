"""Errors of the use cases."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from finearc.core.errors import FineArcError
from finearc.wording import tr


@dataclass
class NotFound(FineArcError):
    what: str
    code = "not_found"

    def __str__(self) -> str:
        return tr("{what}: not found in this academy", what=self.what)


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
        return tr(
            "{what} {value} already booked {when}",
            what=self.what,
            value=tr("are") if self.several else tr("is"),
            when=self.when,
        )

    def __str__(self) -> str:
        return tr("{words}. Choose another time, bay or instructor.", words=self.words)

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
        return tr("{words}. Choose another time, or book it anyway.", words=self.words)

    def details(self) -> dict[str, Any]:
        """What the answer says beside the words."""
        return {"places": [dict(p) for p in self.places]}
