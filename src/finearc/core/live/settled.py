"""What a value settles at while a person stands still, and how far it wanders there."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from finearc.core.live.angles import LiveTrace
from finearc.core.metrics.definition import Metric

WINDOW_S, LEAST_S = 1.0, 0.3
"""Of a stillness the last second counts, and no less than this (house values)."""
EVERY_S = 0.1
"""So often it is worked out anew: nobody reads faster."""


@dataclass(frozen=True)
class Settled:
    """The median, and half the range of the middle nine tenths, SI."""

    value: float
    spread: float


@dataclass
class SettledState:
    """``recent``: values since all was still, by metric: instants, s, and values, SI; ``known_s``: when that
    was worked out, s."""

    recent: dict[Metric, tuple[list[float], list[float]]] = field(default_factory=dict)
    known: dict[Metric, Settled] = field(default_factory=dict)
    known_s: dict[Metric, float] = field(default_factory=dict)


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
        if times and times[-1] - state.known_s.get(trace.metric, -np.inf) >= EVERY_S:
            _work_out(state, trace.metric)


def _work_out(state: SettledState, metric: Metric) -> None:
    times, values = state.recent[metric]
    old = int(np.searchsorted(times, times[-1] - WINDOW_S))
    del times[:old], values[:old]
    if times[-1] - times[0] >= LEAST_S:
        low, middle, high = np.percentile(values, [5.0, 50.0, 95.0])
        state.known[metric], state.known_s[metric] = Settled(float(middle), float(high - low) / 2.0), times[-1]
