"""Errors of the use cases."""

from __future__ import annotations

from dataclasses import dataclass

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
    """A bay or an instructor is already booked."""

    what: str
    when: str
    code = "double_booking"

    def __str__(self) -> str:
        return f"{self.what} is already booked {self.when}. Choose another time, bay or instructor."
