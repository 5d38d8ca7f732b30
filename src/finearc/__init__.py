"""Fine Arc: measures golf swings, finds the cause of a fault, keeps the record."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

    from finearc.formats.tidy import Tables

__version__ = "0.10.0"


def read(path: str | Path, *, traces: bool = True) -> Tables:
    """A capture bundle or an export as tidy Arrow tables of swings, events, values, findings and traces: see
    ``finearc.formats.tidy.read``. Raises ``FineArcError``."""
    from finearc.formats import tidy

    return tidy.read(path, traces=traces)
