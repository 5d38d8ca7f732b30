"""Putts in the result of an analysis."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, cast

import numpy as np
from pydantic import Field

from finearc.core.events.model import Checkpoint
from finearc.core.putting.notes import (
    Break,
    Outcome,
    PuttKind,
    PuttNote,
    Slope,
    growths,
    order_of,
    strike_of,
)
from finearc.core.putting.phases import PuttPhase, phases_of
from finearc.core.putting.wrists import order_in_words
from finearc.core.sources.putts import counting, kind_in, values_of
from finearc.core.sources.reading import SwingReading
from finearc.services.record.shape import Shape

DIGITS = 6
Side = Literal["toe", "heel", "centre"]


class PhaseResult(Shape):
    """A phase of a putt, s."""

    phase: PuttPhase
    start_s: float
    end_s: float


class PuttResult(Shape):
    """What a stroke was, what is noted of it, its phases, in which order the lead wrist's motions began (in words, and
    as groups of what began together), and where the ball was struck: a *hint* where the wrist alone says so."""

    kind: PuttKind
    distance_m: float | None = None
    outcome: Outcome | None = None
    rolled_past_m: float | None = None
    slope: Slope | None = None
    breaks: Break | None = Field(default=None, serialization_alias="break")
    order: str
    order_groups: list[list[str]]
    strike: Side | None = None
    strike_is_hint: bool = False
    phases: list[PhaseResult] = Field(default_factory=list)


class GrowthResult(Shape):
    """How a range grows with the distance: a straight line's slope with its 95 % interval."""

    metric: str
    slope: float
    ci95: tuple[float, float]
    unit: Literal["deg/m"] = "deg/m"
    putts: int


class SessionResult(Shape):
    """What is said of all putts together."""

    putt_growth: list[GrowthResult]


def putt_result(reading: SwingReading, note: PuttNote | None) -> PuttResult:
    """One putt, with what is noted of it."""
    noted, values = note or PuttNote(), values_of(reading)
    groups = order_of(values, reading.events.get(Checkpoint.TAKEAWAY))
    strike = strike_of(values)
    return PuttResult(
        kind=kind_in(reading),
        distance_m=noted.distance_m,
        outcome=noted.outcome,
        rolled_past_m=noted.rolled_past_m,
        slope=noted.slope,
        breaks=noted.breaks,
        order=order_in_words(groups),
        order_groups=[[one.name for one in group] for group in groups],
        strike=cast(Side, strike.side) if strike is not None else None,
        strike_is_hint=strike is not None and strike.is_hint,
        phases=[
            PhaseResult(phase=s.phase, start_s=round(s.start_s, DIGITS), end_s=round(s.end_s, DIGITS))
            for s in phases_of({k: e.time_s for k, e in reading.events.items()})
        ],
    )


def session_result(readings: Sequence[SwingReading]) -> SessionResult | None:
    """All counting putts together: practice strokes and tap-ins do not count. None where nothing is a putt."""
    putts = [r for r in readings if r.of_putt]
    if not putts:
        return None
    return SessionResult(
        putt_growth=[
            GrowthResult(
                metric=metric.id,
                slope=_deg(line.slope),
                ci95=(_deg(line.low), _deg(line.high)),
                putts=line.putts,
            )
            for metric, line in growths([values_of(r) for r in counting(putts)]).items()
        ]
    )


def _deg(rad: float) -> float:
    return round(float(np.rad2deg(rad)), DIGITS)
