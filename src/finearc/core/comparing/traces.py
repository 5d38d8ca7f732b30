"""How two traces of one measure differ: later or earlier, harder or softer, more or less, smoother or rougher.

Real time is tied at impact. Stretched time runs linearly between takeaway, top and impact; before and after them it
runs as it is."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from scipy.interpolate import CubicSpline

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics.definition import Metric, Unit
from finearc.core.metrics.sequence import spectral_arc_length
from finearc.core.metrics.trace import derivative
from finearc.core.typing import Array

HALF_S, SEARCH_S, LAG_STEP_S = 0.12, 0.15, 0.001
"""About an event so much of a trace is laid over the other, shifted by so much either way (house values)."""
LEAST_LIKENESS = 0.8
"""Correlation below which no shift is told (house value)."""
RIVAL, APART_S = 0.005, 0.01
"""Where another lag, farther off than this, is alike within so much, no shift is told (house values)."""
SAME_SIZE = 2.5
"""Rates that are so many times as large as those they are laid over are another motion: no shift is told (house
value)."""
CERTAIN = 3.0
"""A rate smaller than so many times its uncertainty says nothing (house value)."""
NODES = 101
"""Of stretched time, one for each per cent from takeaway to impact."""
RATE_SD = {Unit.DEG: np.deg2rad(8.0), Unit.CM: 0.03, Unit.PERCENT: 0.15}
"""Standard uncertainty of a rate, SI per s, by the measure's unit (house values)."""
SMOOTHNESS_SD = 0.05
"""Of a spectral arc length (house value, as for the measure of that name)."""
LEAST_SAMPLES = 20
"""Shorter courses are not laid over each other (house value)."""
PHASES = (
    (Checkpoint.TAKEAWAY, Checkpoint.TOP),
    (Checkpoint.TOP, Checkpoint.IMPACT),
    (Checkpoint.TAKEAWAY, Checkpoint.TRANSITION),
    (Checkpoint.TRANSITION, Checkpoint.IMPACT),
)
"""Of a swing, and of a putt: it has a transition where a swing has a top, never both."""


@dataclass(frozen=True)
class SwingTrace:
    """One measure through one swing: times (n,), s, evenly spaced, values (n,), SI, NaN where there is none, and the
    swing's checkpoints."""

    metric: Metric
    time_s: Array
    values: Array
    events: Mapping[Checkpoint, Event]

    @property
    def knots(self) -> tuple[float, float, float] | None:
        """Takeaway, top (a putt's transition) and impact, s, between which time is stretched; None where one is not
        known."""
        turn = Checkpoint.TRANSITION if Checkpoint.TRANSITION in self.events else Checkpoint.TOP
        needed = (Checkpoint.TAKEAWAY, turn, Checkpoint.IMPACT)
        if any(k not in self.events for k in needed):
            return None
        start, top, end = (self.events[k].time_s for k in needed)
        return start, top, end

    @property
    def impact_s(self) -> float:
        return self.events[Checkpoint.IMPACT].time_s

    @property
    def rate_sd(self) -> float:
        """Standard uncertainty of its rates, SI per s."""
        return float(RATE_SD.get(self.metric.unit, 0.0))

    @cached_property
    def _pieces(self) -> list[tuple[float, float, CubicSpline]]:
        """Its rates between gaps, each with its first and last instant."""
        step = float(np.median(np.diff(self.time_s)))
        there = np.isfinite(self.values)
        edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(np.int8))).reshape(-1, 2)
        out = []
        for a, b in edges:
            if b - a >= 5:
                t = self.time_s[a:b]
                rates = derivative(self.values[a:b, None], step)[:, 0]
                out.append((float(t[0]), float(t[-1]), CubicSpline(t, rates)))
        return out

    def rates(self, time_s: Array) -> Array:
        """Rates, SI per s, at any instants, s; NaN beside the trace and in its gaps."""
        out = np.full(np.shape(time_s), np.nan)
        for first, last, spline in self._pieces:
            inside = (time_s >= first) & (time_s <= last)
            out[inside] = spline(time_s[inside])
        return out

    def at(self, time_s: Array) -> Array:
        """Values at any instants; NaN beside the trace and beside its gaps."""
        return np.asarray(np.interp(time_s, self.time_s, self.values, left=np.nan, right=np.nan))


@dataclass(frozen=True)
class Shift:
    """``shift_s``: + where the first is later."""

    at: Checkpoint
    shift_s: float
    sd_s: float


@dataclass(frozen=True)
class Intensity:
    """``ratio``: 1.2 where the first moves 1.2 times as hard."""

    start: Checkpoint
    end: Checkpoint
    ratio: float
    sd: float


def time_shift(first: SwingTrace, second: SwingTrace, at: Checkpoint) -> Shift | None:
    """How much later the first moves about a checkpoint of the second, real time tied at impact: the lag at which the
    rates are most alike. None where they are not alike enough, or nothing moves."""
    if at not in second.events or any(Checkpoint.IMPACT not in t.events for t in (first, second)):
        return None
    half, reach = round(HALF_S / LAG_STEP_S), round(SEARCH_S / LAG_STEP_S)
    lags = LAG_STEP_S * np.arange(-reach, reach + 1.0)
    t = LAG_STEP_S * np.arange(-half - reach, half + reach + 1.0) + second.events[at].time_s - second.impact_s
    there = second.rates(t[reach : reach + 2 * half + 1] + second.impact_s)
    if not np.isfinite(there).all() or np.abs(there).max() < CERTAIN * second.rate_sd:
        return None
    here = sliding_window_view(first.rates(t + first.impact_s), 2 * half + 1)  # a row a lag
    norms = np.sqrt(np.sum(here**2, axis=1) * np.sum(there**2))
    likeness = np.sum(here * there, axis=1) / np.where(norms > 0, norms, np.nan)
    if not np.isfinite(likeness).any():
        return None
    best = int(np.nanargmax(likeness))
    if likeness[best] < LEAST_LIKENESS or not 0 < best < len(lags) - 1:
        return None
    if not np.isfinite(likeness[best - 1 : best + 2]).all() or _has_rival(likeness, best):
        return None
    if abs(math.log(float(np.linalg.norm(here[best]) / np.linalg.norm(there)))) > math.log(SAME_SIZE):
        return None
    shift = float(lags[best] + LAG_STEP_S * _vertex(*likeness[best - 1 : best + 2]))
    sampling = max(_step(first), _step(second)) / np.sqrt(12.0)
    bend = float(np.sqrt(np.mean(np.gradient(there, LAG_STEP_S) ** 2)))
    sds = (
        first.events[Checkpoint.IMPACT].uncertainty_s,
        second.events[Checkpoint.IMPACT].uncertainty_s,
        sampling,
        math.hypot(first.rate_sd, second.rate_sd) / max(bend, 1e-9),  # where rates hardly change, any lag fits
    )
    return Shift(at, shift, float(np.linalg.norm(sds)))


def _has_rival(likeness: Array, best: int) -> bool:
    """Whether some other lag is nearly as likely: then nobody can tell which it is."""
    inner = likeness[1:-1]
    peaks = 1 + np.flatnonzero((inner > likeness[:-2]) & (inner >= likeness[2:]))
    others = peaks[np.abs(peaks - best) * LAG_STEP_S > APART_S]
    return bool((likeness[others] > likeness[best] - RIVAL).any())


def _vertex(before: float, middle: float, after: float) -> float:
    """Where a parabola through three neighbours is highest, in steps from the middle one."""
    bend = before - 2.0 * middle + after
    return 0.0 if bend == 0.0 else 0.5 * (before - after) / bend


def _step(trace: SwingTrace) -> float:
    return float(np.median(np.diff(trace.time_s)))


def mean_in_real_time(traces: Sequence[SwingTrace]) -> SwingTrace:
    """The mean of a group, real time tied at impact, which is at 0; its checkpoints lie at their own means."""
    if len(traces) == 1:
        (one,) = traces
        return one
    step = min(_step(t) for t in traces)
    first = max(float(t.time_s[0]) - t.impact_s for t in traces)
    last = min(float(t.time_s[-1]) - t.impact_s for t in traces)
    grid = np.arange(first, last, step)
    values = np.mean([t.at(grid + t.impact_s) for t in traces], axis=0)
    shared = [c for c in traces[0].events if all(c in t.events for t in traces)]
    events = {}
    for c in shared:
        times = [t.events[c].time_s - t.impact_s for t in traces]
        sd = float(np.sqrt(np.mean([t.events[c].uncertainty_s ** 2 for t in traces]) / len(traces)))
        events[c] = Event(float(np.mean(times)), sd, "mean", 1.0)
    return SwingTrace(traces[0].metric, grid, values, events)


def group_shift(first: Sequence[SwingTrace], second: Sequence[SwingTrace], at: Checkpoint) -> Shift | None:
    """The mean shift of each of the first group against the mean of the second, less that of the second group's own
    swings (what scatters in time is not laid over its mean quite evenly), with its standard error: the scatter of both
    groups, or, of one swing, what is known of its impact."""
    mean = mean_in_real_time(second)
    found, others = ([s for t in group if (s := time_shift(t, mean, at)) is not None] for group in (first, second))
    if 2 * len(found) <= len(first) or 2 * len(others) <= len(second):
        return None
    here, there = (np.array([s.shift_s for s in group]) for group in (found, others))
    own, theirs = (_error([s.shift_s for s in g], [s.sd_s for s in g]) for g in (found, others))
    return Shift(at, float(here.mean() - there.mean()), float(np.hypot(own, theirs if len(second) > 1 else 0.0)))


def _error(values: Sequence[float], sds: Sequence[float]) -> float:
    """Standard error of a mean: by the scatter, and no less than what each is known to, shared out."""
    n = len(values)
    known = float(np.sqrt(np.mean(np.square(sds)) / n))
    return max(known, float(np.std(values, ddof=1) / np.sqrt(n))) if n > 2 else known


def peak_rate(trace: SwingTrace, start: Checkpoint, end: Checkpoint) -> float | None:
    """The largest rate between two checkpoints, SI per s; None where it is at one of them or within noise."""
    if start not in trace.events or end not in trace.events:
        return None
    a, b = trace.events[start].time_s, trace.events[end].time_s
    t = np.arange(a, b, LAG_STEP_S)
    speed = np.abs(trace.rates(t))
    if len(t) < LEAST_SAMPLES or not np.isfinite(speed).all():
        return None
    top = int(np.argmax(speed))
    if not 0 < top < len(t) - 1 or speed[top] < CERTAIN * trace.rate_sd:
        return None
    return float(speed[top])


def intensity(
    first: Sequence[SwingTrace],
    second: Sequence[SwingTrace],
    start: Checkpoint,
    end: Checkpoint,
    left_open: tuple[float, float] = (0.0, 0.0),
) -> Intensity | None:
    """How much harder the first group moves: the ratio of the means of their own largest rates. ``left_open``: standard
    uncertainty, SI per s, that each side's calibration leaves in all of its rates; 0 within one."""
    peaks = [[p for t in group if (p := peak_rate(t, start, end)) is not None] for group in (first, second)]
    if any(2 * len(p) <= len(group) for p, group in zip(peaks, (first, second), strict=True)):
        return None
    (a, b), rate_sd = (float(np.mean(p)) for p in peaks), first[0].rate_sd
    off = [
        math.hypot(_error(p, [rate_sd] * len(p)), open_sd) / m
        for p, m, open_sd in zip(peaks, (a, b), left_open, strict=True)
    ]
    return Intensity(start, end, a / b, float(a / b * math.hypot(*off)))


def top_node(groups: Sequence[Sequence[SwingTrace]]) -> int:
    """At which of ``NODES`` the top (a putt's transition) lies: where it does on average, so that stretched time runs
    as evenly as it can."""
    known = [t.knots for group in groups for t in group if t.knots is not None]
    shares = [(top - start) / (end - start) for start, top, end in known]
    return int(np.clip(round((NODES - 1) * float(np.mean(shares))), 1, NODES - 2)) if shares else 75


def stretched(trace: SwingTrace, top: int) -> Array | None:
    """Values (NODES,) from takeaway to impact in stretched time; ``top``: the node of the top. None where a checkpoint
    is not known."""
    knots = trace.knots
    return None if knots is None else trace.at(np.interp(np.arange(NODES), [0, top, NODES - 1], knots))


def shape_rms(first: Array, second: Array) -> float | None:
    """What is left of the difference of two courses (n,) after their means and the intensity (the factor that fits the
    second to the first best) are taken away: RMS, in their own unit."""
    there = np.isfinite(first) & np.isfinite(second)
    if there.sum() < LEAST_SAMPLES:
        return None
    a, b = first[there] - first[there].mean(), second[there] - second[there].mean()
    power = float(b @ b)
    factor = float(a @ b) / power if power > 0.0 else 0.0
    return float(np.sqrt(np.mean((a - factor * b) ** 2)))


def phase_smoothness(trace: SwingTrace, start: Checkpoint, end: Checkpoint) -> float | None:
    """Spectral arc length of the speed between two checkpoints; nearer to 0 is smoother."""
    if start not in trace.events or end not in trace.events:
        return None
    step = _step(trace)
    t = np.arange(trace.events[start].time_s, trace.events[end].time_s, step)
    speed = np.abs(trace.rates(t))
    if len(t) < LEAST_SAMPLES or not np.isfinite(speed).all() or speed.max() < CERTAIN * trace.rate_sd:
        return None
    found = spectral_arc_length(speed, step)
    return None if found != found else found
