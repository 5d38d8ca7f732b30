"""Zero-lag low-pass filtering: a second-order Butterworth filter passed forward and backward."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.signal import butter, sosfiltfilt

from finearc.core.typing import Array


@lru_cache(maxsize=64)
def _design(cut_hz: float, rate_hz: float) -> Array:
    two_passes = (np.sqrt(2.0) - 1.0) ** 0.25  # two passes lower the cut-off by this factor
    return np.asarray(butter(2, min(cut_hz / two_passes, 0.45 * rate_hz), fs=rate_hz, output="sos"))


def low_pass(values: Array, cut_hz: float, rate_hz: float) -> Array:
    """Zero-lag low-pass of (n, …), any unit, along its first axis: a Butterworth filter of order 2 run both ways, its
    cut-off, Hz, that of both passes together; at most 0.45 of ``rate_hz``. Pieces of 12 samples or fewer pass
    unchanged. D. A. Winter, Biomechanics and Motor Control of Human Movement, 4th ed., 2009, section 3.4.4 (correction
    for two passes; from memory)."""
    if len(values) <= 12:
        return values
    pad = min(len(values) - 1, max(12, int(0.12 * rate_hz)))
    return np.asarray(sosfiltfilt(_design(round(cut_hz, 3), round(rate_hz, 3)), values, axis=0, padlen=pad))
