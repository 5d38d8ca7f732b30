"""Bridging short gaps, for whole recordings and for samples as they come."""

from __future__ import annotations

import numpy as np
from scipy.interpolate import CubicHermiteSpline

from finearc.core.signals.streams import FILLED_GAP_S
from finearc.core.typing import Array

GAP_STEPS = 2.5
"""More than so many steps between two samples are a gap."""


def bridged(time_s: Array, values: Array, step_s: float) -> tuple[Array, Array]:
    """Samples (n,), s, and (n, k), any unit, with gaps up to ``FILLED_GAP_S`` filled every ``step_s``, s, by a cubic
    that leaves and meets the samples with their own slopes, taken from the two samples on either side; at the ends, and
    beside another gap, with that of the straight line across."""
    gaps = np.flatnonzero((np.diff(time_s) > GAP_STEPS * step_s) & (np.diff(time_s) <= FILLED_GAP_S + 1e-9))
    if not len(gaps):
        return time_s, values
    times, filled = [], []
    for k in gaps:
        count = max(1, round((time_s[k + 1] - time_s[k]) / step_s) - 1)
        inside = np.linspace(time_s[k], time_s[k + 1], count + 2)[1:-1]
        times.append(inside)
        filled.append(_across(time_s, values, int(k), step_s)(inside))
    at = np.repeat(gaps + 1, [len(t) for t in times])
    return np.insert(time_s, at, np.concatenate(times)), np.insert(values, at, np.concatenate(filled), axis=0)


def _across(time_s: Array, values: Array, k: int, step_s: float) -> CubicHermiteSpline:
    """The cubic from sample ``k`` to the next."""

    def slope(a: int) -> Array:
        return np.asarray((values[a + 1] - values[a]) / (time_s[a + 1] - time_s[a]))

    def is_near(a: int) -> bool:
        return 0 <= a < len(time_s) - 1 and bool(time_s[a + 1] - time_s[a] <= GAP_STEPS * step_s)

    straight = slope(k)
    ends = [slope(a) if is_near(a) else straight for a in (k - 1, k + 1)]
    return CubicHermiteSpline(time_s[k : k + 2], values[k : k + 2], np.array(ends), axis=0)
