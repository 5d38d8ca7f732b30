"""Errors of reading and writing files."""

from __future__ import annotations

from dataclasses import dataclass

from finearc.core.errors import FineArcError


@dataclass
class BundleError(FineArcError):
    """A bundle or one of its files cannot be used: ``file``, ``place`` in it, ``problem``, ``advice``."""

    file: str
    problem: str
    place: str = ""
    advice: str = ""
    code = "bundle"

    def __str__(self) -> str:
        place = f", {self.place}" if self.place else ""
        advice = f". {self.advice}" if self.advice else ""
        return f"{self.file}{place}: {self.problem}{advice}"
