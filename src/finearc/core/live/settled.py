"""What a value settles at while a person stands still, and how far it wanders there."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from finearc.core.live.angles import LiveTrace
from finearc.core.metrics.definition import Metric

WINDOW_S, LEAST_S = 1.0, 0.3
"""Of a stillness the last second counts, and no less than this (house values)."""


@dataclass(frozen=True)
class Settled:
    """The median, and half the range of the middle nine tenths, SI."""

    value: float
    spread: float


@dataclass
class SettledState:
    """``recent``: values since all was still, by metric: instants, s, and values, SI."""

    recent: dict[Metric, tuple[list[float], list[float]]] = field(default_factory=dict)
    known: dict[Metric, Settled] = field(default_factory=dict)


def settle(state: SettledState, traces: list[LiveTrace], *, still: bool) -> None:
    """Take in new values; ``still``: whether the person stands still. What it last settled at stays known."""
    if not still:
        state.recent.clear()
        return
    for trace in traces:
        times, values = state.recent.setdefault(trace.metric, ([], []))
        there = np.isfinite(trace.values)
        times += trace.time_s[there].tolist()
        values += trace.values[there].tolist()
        old = int(np.searchsorted(times, times[-1] - WINDOW_S)) if times else 0
        del times[:old], values[:old]
        if times and times[-1] - times[0] >= LEAST_S:
            low, middle, high = np.percentile(values, [5.0, 50.0, 95.0])
            state.known[trace.metric] = Settled(float(middle), float(high - low) / 2.0)
