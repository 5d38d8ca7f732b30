"""What was shown while a bundle was played, in the place of the traces that are read afterwards."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from finearc.core.typing import Array
from finearc.services.judging.analysis import Analysis, JudgedSwing

Shown = Mapping[str, tuple[Array, Array]]


def with_shown(analysis: Analysis, shown: Shown) -> Analysis:
    """The analysis with what was shown live as its traces: times of samples, values as they were then."""
    return replace(analysis, swings=tuple(_with_shown(s, shown) for s in analysis.swings))


def _with_shown(swing: JudgedSwing, shown: Shown) -> JudgedSwing:
    """One swing; where sources were shown at times of their own, each metric has values at its own and none between."""
    reading = swing.reading
    inside = {k: _between(*trace, reading.start_s, reading.end_s) for k, trace in shown.items()}
    time_s = np.unique(np.concatenate([np.empty(0), *(t for t, _ in inside.values())]).round(7))
    traces = {k: _on(time_s, t, v) for k, (t, v) in inside.items() if len(t)}
    return replace(swing, reading=replace(reading, time_s=time_s, traces=traces), bands={})


def _between(time_s: Array, values: Array, start_s: float, end_s: float) -> tuple[Array, Array]:
    kept = (time_s >= start_s) & (time_s <= end_s)
    return time_s[kept], values[kept]


def _on(time_s: Array, own_s: Array, values: Array) -> Array:
    out = np.full(len(time_s), np.nan)
    out[np.searchsorted(time_s, own_s.round(7))] = values
    return out
