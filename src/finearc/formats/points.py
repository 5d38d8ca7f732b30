"""A table of points as a file holds it, before any mapping."""

from __future__ import annotations

from dataclasses import dataclass

from finearc.core.typing import Array


@dataclass(frozen=True)
class PointTable:
    """``time_s`` (n,) on the file's clock, ``labels`` (k,), ``points_m`` (n, k, 3) in the file's axes, not a number
    where a point was not seen."""

    time_s: Array
    labels: tuple[str, ...]
    points_m: Array
    rate_hz: float
