"""Checkpoints of a swing."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Checkpoint(StrEnum):
    """In the order in which they happen. A putt has a transition, the putter's reversal, where a swing has a top; it
    has no levels."""

    ADDRESS = "address"
    TAKEAWAY = "takeaway"
    SHAFT_LEVEL_BACK = "shaft_level_back"
    ARM_LEVEL_BACK = "arm_level_back"
    TOP = "top"
    TRANSITION = "transition"
    ARM_LEVEL_DOWN = "arm_level_down"
    SHAFT_LEVEL_DOWN = "shaft_level_down"
    IMPACT = "impact"
    SHAFT_LEVEL_THROUGH = "shaft_level_through"
    FINISH = "finish"


ORDER = tuple(Checkpoint)


@dataclass(frozen=True)
class Event:
    """When a checkpoint was passed: s on the capture's clock, standard uncertainty in s, how it was found,
    and how sure it is (0 to 1). ``others`` are the same checkpoint as less certain sources saw it."""

    time_s: float
    uncertainty_s: float
    method: str
    confidence: float
    others: tuple[Event, ...] = ()


def event(time_s: float, uncertainty_s: float, method: str) -> Event:
    """An event whose confidence follows from its uncertainty: 0.95 at 5 ms, one half at 50 ms."""
    confidence = 1.0 / (1.0 + (uncertainty_s / 0.05) ** 2)
    return Event(float(time_s), float(uncertainty_s), method, round(min(0.98, confidence), 3))
