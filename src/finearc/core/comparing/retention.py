"""What is left of a change in the next lesson."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

FIRST = 5
"""So many swings of the next lesson are looked at, the first ones: before anything is trained again."""
KEPT_SHARE, LOST_SHARE = 0.75, 0.25
"""At least so much of the change is left, or at most (the second a house value)."""


class Left(StrEnum):
    """What is left of a change."""

    KEPT = "kept"
    PART = "part"
    LOST = "lost"
    EARLY = "early"
    UNCERTAIN = "uncertain"


@dataclass(frozen=True)
class Retention:
    """``share`` of the change that is left and ``now``, the middle of the first swings; None before there are
    enough."""

    left: Left
    now: float | None
    share: float | None
    swings: int


def retention(before: float, after: float, now: Sequence[float], calibration_sd: float = 0.0) -> Retention:
    """What is left of the change from ``before`` to ``after`` (medians, any unit, not equal) in the first values of the
    next lesson. ``calibration_sd``: standard uncertainty that all values of one calibration share, where the lessons
    have different ones: a change that is no larger than twice what two of them differ by says nothing."""
    first = np.asarray(now[:FIRST], dtype=float)
    if len(first) < FIRST:
        return Retention(Left.EARLY, None, None, len(first))
    middle = float(np.median(first))
    share = (middle - before) / (after - before)
    if abs(after - before) <= 2.0 * np.sqrt(2.0) * calibration_sd:
        return Retention(Left.UNCERTAIN, middle, None, len(first))
    left = Left.KEPT if share >= KEPT_SHARE else Left.LOST if share <= LOST_SHARE else Left.PART
    return Retention(left, middle, float(share), len(first))
