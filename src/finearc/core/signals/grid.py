"""Putting all streams of a capture on one uniform clock, mending short gaps, cutting at long ones."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.interpolate import CubicSpline

from finearc.core.errors import StreamError
from finearc.core.signals.gaps import GAP_STEPS, bridged
from finearc.core.signals.streams import (
    FILLED_GAP_S,
    CleanStream,
    ImuStream,
    StreamFlags,
    check_stream,
    check_units,
    clipped_runs,
)
from finearc.core.typing import Array, Mask
from finearc.wording import tr

MIN_RATE_HZ = 40.0


def uniform_grid(streams: Sequence[ImuStream]) -> Array:
    """The time axis (n,), s, shared by all streams: their common span at the fastest stream's median step."""
    step = min(float(np.median(np.diff(s.time_s))) for s in streams)
    if step > 1.0 / MIN_RATE_HZ:
        slowest = streams[0]
        raise StreamError(
            slowest.source,
            tr(
                "{value:.0f} samples a second, at least {min_rate_hz:.0f} are needed",
                value=1 / step,
                min_rate_hz=MIN_RATE_HZ,
            ),
            tr("column time_s"),
            tr("Raise the sensor's rate"),
        )
    start = max(float(s.time_s[0]) for s in streams)
    end = min(float(s.time_s[-1]) for s in streams)
    if end - start < 2 * step:
        raise StreamError(
            streams[0].source,
            tr("the streams of this capture do not overlap in time"),
            tr("column time_s"),
            tr('Check "offset_s" and "rate_scale" in capture.json'),
        )
    return np.asarray(start + step * np.arange(int(np.floor((end - start) / step + 1e-6)) + 1), dtype=np.float64)


def _spans(mask: Mask, time_s: Array) -> tuple[tuple[float, float], ...]:
    if not mask.any():
        return ()
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8)))
    return tuple((float(time_s[a]), float(time_s[b - 1])) for a, b in edges.reshape(-1, 2))


def _mend_clipping(time_s: Array, values: Array, clipped: Mask) -> Array:
    """Replace short saturated runs by a cubic through their neighbours, never below the limit."""
    good = ~clipped
    mended = values.copy()
    for axis in range(values.shape[1]):
        spline = CubicSpline(time_s[good], values[good, axis])
        guess = spline(time_s[clipped])
        held = values[clipped, axis]
        mended[clipped, axis] = np.where(
            (np.abs(guess) > np.abs(held)) & (np.abs(held) > 8.0) & (np.sign(guess) == np.sign(held)), guess, held
        )
    return mended


def _resample(time_s: Array, values: Array, grid_s: Array, *, smooth: bool) -> Array:
    """Rates (``smooth``) by a cubic; forces linearly, as a cubic rings ahead of a strike; across gaps linearly,
    as a cubic would swing out there."""
    step = grid_s[1] - grid_s[0]
    first = round((grid_s[0] - time_s[0]) / step)
    if first >= 0 and first + len(grid_s) <= len(time_s):
        same = time_s[first : first + len(grid_s)]
        if np.abs(same - grid_s).max() < 0.02 * step:
            return values[first : first + len(grid_s)]
    if smooth:
        return np.asarray(CubicSpline(time_s, values)(grid_s))
    return np.column_stack([np.interp(grid_s, time_s, column) for column in values.T])


def clean(streams: Sequence[ImuStream]) -> list[CleanStream]:
    """Check, mend and resample. Each returned stream lives on the same grid.

    Raises ``StreamError`` for what cannot be used.
    """
    checked = [check_stream(s) for s in streams]
    for stream, _ in checked:
        check_units(stream)
    grid_s = uniform_grid([s for s, _ in checked])
    return [_clean_one(stream, duplicates, grid_s) for stream, duplicates in checked]


def _clean_one(stream: ImuStream, duplicates: int, grid_s: Array) -> CleanStream:
    time_s, gyr = stream.time_s, stream.gyr_rad_s
    steps = np.diff(time_s)
    usual_s = float(np.median(steps))
    gap = steps > GAP_STEPS * usual_s
    clipped = clipped_runs(gyr)
    if clipped.any() and not clipped.all():
        gyr = _mend_clipping(time_s, gyr, clipped)
    cut = bool((steps[gap] > FILLED_GAP_S + 1e-9).any())  # a cubic swings out across a long gap: linear throughout
    turning = _resample(*bridged(time_s, gyr, usual_s), grid_s, smooth=not cut)
    felt = _resample(time_s, stream.acc_m_s2, grid_s, smooth=False)
    valid = np.ones(len(grid_s), dtype=bool)
    filled, long = [], []
    for k in np.flatnonzero(gap):
        start, end = float(time_s[k]), float(time_s[k + 1])
        if end - start <= FILLED_GAP_S + 1e-9:
            filled.append((start, end))
        else:
            long.append((start, end))
            valid &= ~((grid_s > start) & (grid_s < end))
    flags = StreamFlags(duplicates, tuple(filled), tuple(long), _spans(clipped, time_s))
    return CleanStream(stream.segment, grid_s, felt, turning, valid, flags, time_s, stream.acc_m_s2)


def moving_mean(values: Array, width: int) -> Array:
    """Centred moving mean of (n,), any unit, over ``width`` samples (one more when that is even); the ends average what
    is there."""
    total = np.concatenate([[0.0], np.cumsum(values)])
    n = len(values)
    half = width // 2
    index = np.arange(n)
    low, high = np.maximum(index - half, 0), np.minimum(index + half + 1, n)
    return np.asarray((total[high] - total[low]) / (high - low))
