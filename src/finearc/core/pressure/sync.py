"""Bringing a mat with a clock of its own onto the clock of the other sources: by a heel tap, else by impact."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import hypot, sqrt

import numpy as np
from scipy.ndimage import median_filter

from finearc.core.orientation.fusion import SensorMotion
from finearc.core.pressure.clean import MatMotion
from finearc.core.typing import Array, Rows
from finearc.wording import mark, tr

MEDIAN_S = 0.15
TAP_SHARE = 0.18
TAP_M_S2 = 2.5
LONGEST_TAP_S = 0.09
"""A tap of the heel: a push of so much of the weight, felt so strongly, gone again soon (house values)."""
TAP_SD_S = 0.006
PEAK_SD_S = 0.05
ALIKE_S = 0.12
HAND_SD_S = 0.01
"""How well each way tells the offset: onset of a tap; vertical peak against impact (common practice); by hand."""
BY_TAP = mark("The mat's clock was set by the heel tap: {:+.3f} s, to about {:.0f} ms.")
BY_IMPACT = mark(
    "The mat's clock was set by impact: {:+.2f} s, only to about {:.0f} ms. Tap a heel once for a better fit."
)
BY_HAND = mark("The mat's clock was shifted by hand: {:+.3f} s.")
NOT_SET = mark("The mat has a clock of its own and nothing to set it by: tap a heel once before the first swing.")


@dataclass(frozen=True)
class Offset:
    """``shift_s`` is added to the mat's times; ``sd_s`` its standard uncertainty."""

    shift_s: float
    sd_s: float
    note: str


def on_clock(mat: MatMotion, offset: Offset) -> MatMotion:
    """The mat on the capture's clock."""
    return replace(mat, stream=mat.stream.shifted(offset.shift_s), offset_sd_s=offset.sd_s, offset_note=offset.note)


def find_offset(mat: MatMotion, sensors: Sequence[SensorMotion], impacts_s: Sequence[float]) -> Offset | None:
    """Shift of the mat's clock, or None when nothing can tell it. ``impacts_s``: as the other sources saw them."""
    if mat.stream.shift_s is not None:
        return Offset(mat.stream.shift_s, HAND_SD_S, tr(BY_HAND).format(mat.stream.shift_s))
    rough = _by_impact(mat, impacts_s)
    taps = taps_on_mat(mat)
    for sensor in sensors:
        felt = [t for t in taps_felt(sensor) if all(abs(t - i) > 1.0 for i in impacts_s)]
        pairs = [b - a for a, b in itertools.product(taps, felt)]
        if rough is not None:
            pairs = [p for p in pairs if abs(p - rough) < 2 * ALIKE_S]
        if pairs and (rough is not None or len(pairs) == 1):
            shift = min(pairs, key=lambda p: abs(p - (rough if rough is not None else p)))
            step = float(np.median(np.diff(sensor.time_s)))
            sd = hypot(TAP_SD_S, (step + mat.stream.step_s) / sqrt(12.0))
            return Offset(shift, sd, tr(BY_TAP).format(shift, 1000 * sd))
    if rough is None:
        return None
    return Offset(rough, PEAK_SD_S, tr(BY_IMPACT).format(rough, 1000 * PEAK_SD_S))


def taps_on_mat(mat: MatMotion) -> list[float]:
    """Onsets of short pushes on the mat, s."""
    ones = np.ones((mat.stream.grid.cells, 1))
    total = mat.sums(ones, slice(0, None))[:, 0]
    usual = float(np.percentile(total, 75))
    return _spikes(mat.time_s, total, TAP_SHARE * usual)


def taps_felt(sensor: SensorMotion) -> list[float]:
    """Onsets of short shocks in a sensor's forces, s."""
    return _spikes(sensor.felt_time_s, np.linalg.norm(sensor.felt_m_s2, axis=1), TAP_M_S2)


def _spikes(time_s: Array, values: Array, least: float) -> list[float]:
    """Onsets of what rises above a running median by ``least`` and is gone again soon."""
    step = float(np.median(np.diff(time_s)))
    size = 2 * round(MEDIAN_S / 2 / step) + 1
    off = np.abs(values - median_filter(values, size, mode="nearest"))
    near = max(1, round(LONGEST_TAP_S / step))
    out: list[float] = []
    over = np.flatnonzero(off > least)
    for a, b in _groups(over, near):
        if (b - a) * step > LONGEST_TAP_S or a == 0:
            continue
        level = 0.3 * float(off[a : b + 1].max())
        k = a + int(np.argmax(off[a : b + 1] >= level))
        while k > 0 and off[k - 1] > level:
            k -= 1
        rise = off[k] - off[k - 1]
        share = (level - off[k - 1]) / rise if rise > 0 else 0.5
        out.append(float(time_s[k - 1] + np.clip(share, 0.0, 1.0) * (time_s[k] - time_s[k - 1])))
    return out


def _groups(rows: Rows, apart: int) -> list[tuple[int, int]]:
    """First and last of runs of rows no farther than ``apart`` from each other."""
    if not len(rows):
        return []
    parts = np.split(rows, np.flatnonzero(np.diff(rows) > apart) + 1)
    return [(int(p[0]), int(p[-1])) for p in parts]


def _by_impact(mat: MatMotion, impacts_s: Sequence[float]) -> float | None:
    """The shift at which most pushes of the mat fall onto impacts."""
    if not impacts_s:
        return None
    ones = np.ones((mat.stream.grid.cells, 1))
    total = mat.sums(ones, slice(0, None))[:, 0]
    peaks = _pushes(mat.time_s, total)
    best: tuple[int, float, float] | None = None
    for one, other in itertools.product(peaks, impacts_s):
        off = [min((i - p for p in peaks), key=lambda d: abs(d - (other - one))) - (other - one) for i in impacts_s]
        close = [d for d in off if abs(d) < ALIKE_S]
        score = (len(close), -float(np.std(close)))
        if best is None or score > best[:2]:
            best = (*score, other - one + float(np.median(close)))
    return None if best is None or best[0] < max(1, 0.6 * len(impacts_s)) else best[2]


def _pushes(time_s: Array, total: Array) -> list[float]:
    """Instants of the strongest pushes, at least 2 s apart."""
    usual = float(np.median(total[total > 0.3 * total.max()]))
    left = np.where(total > 1.1 * usual, total, 0.0)
    out: list[float] = []
    while left.max() > 0 and len(out) < 400:
        k = int(np.argmax(left))
        out.append(float(time_s[k]))
        left[np.abs(time_s - time_s[k]) < 2.0] = 0.0
    return sorted(out)
