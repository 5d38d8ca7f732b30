"""Zero-lag low-pass filtering of marker positions.

A second-order Butterworth filter passed forward and backward. The cut-offs are those that a residual analysis (D. A.
Winter, *Biomechanics and Motor Control of Human Movement*, the method of residuals) of the golfer model and of the
walking recording supports, rounded up so that a downswing is not blunted (docs/validation.md prints it).
"""

from __future__ import annotations

import itertools

import numpy as np

from finearc.core.markers.labels import CLUB, Marker
from finearc.core.markers.repair import spans_of
from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array, Mask

TRUNK_HZ = 18.0
LIMB_HZ = 25.0
CLUB_HZ = 45.0
_LIMB = frozenset(m for m in Marker if any(part in m.name for part in ("WRIST", "HAND", "ELBOW")))


def cut_off_hz(marker: Marker) -> float:
    """The marker's cut-off."""
    if marker in CLUB:
        return CLUB_HZ
    return LIMB_HZ if marker in _LIMB else TRUNK_HZ


def smooth(markers: list[Marker], points: Array, rate_hz: float, cuts: list[int]) -> Array:
    """Filtered points (n, k, 3). What is hidden stays hidden; the club is filtered apart before and after each
    of ``cuts`` (samples of impact), as a strike is no smooth motion."""
    out = np.empty_like(points)
    hidden = np.isnan(points[:, :, 0])
    by_cut: dict[float, list[int]] = {}
    for k, marker in enumerate(markers):
        by_cut.setdefault(cut_off_hz(marker), []).append(k)
    for cut_hz, columns in by_cut.items():
        whole = [k for k in columns if not hidden[:, k].any()]
        edges = [0, *[c for c in cuts if 0 < c < len(points)], len(points)] if cut_hz == CLUB_HZ else [0, len(points)]
        for a, b in itertools.pairwise(edges):
            if whole:
                out[a:b, whole] = low_pass(points[a:b, whole], cut_hz, rate_hz)
            for k in columns:
                if hidden[:, k].any():
                    out[a:b, k] = _pieces(points[a:b, k], ~hidden[a:b, k], cut_hz, rate_hz)
    return out


def _pieces(values: Array, seen: Mask, cut_hz: float, rate_hz: float) -> Array:
    out = np.full_like(values, np.nan)
    for a, b in spans_of(seen):
        out[a:b] = low_pass(values[a:b], cut_hz, rate_hz)
    return out


def residual_cut_off(values: Array, rate_hz: float, candidates_hz: Array) -> float:
    """Cut-off by the method of residuals for one signal (n,): where the residual of the filtered signal meets the
    line fitted to its flat, noisy end and carried back to 0 Hz."""
    residuals = np.array([float(np.sqrt(np.mean((values - low_pass(values, c, rate_hz)) ** 2))) for c in candidates_hz])
    tail = slice(len(candidates_hz) // 2, None)
    _, intercept = np.polyfit(candidates_hz[tail], residuals[tail], 1)
    below = np.flatnonzero(residuals <= intercept)
    return float(candidates_hz[below[0]] if len(below) else candidates_hz[-1])
