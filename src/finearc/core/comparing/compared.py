"""Two swings or groups of swings compared measure by measure: values, then how the courses differ."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.comparing.seen import Side, courses
from finearc.core.comparing.traces import (
    PHASES,
    SMOOTHNESS_SD,
    Intensity,
    Shift,
    SwingTrace,
    group_shift,
    intensity,
    peak_rate,
    phase_smoothness,
    shape_rms,
    stretched,
    top_node,
)
from finearc.core.events.model import ORDER, Checkpoint
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Metric, Moment
from finearc.core.typing import Array

PLACES = (
    (Checkpoint.TAKEAWAY, Checkpoint.ARM_LEVEL_BACK),
    (Checkpoint.ARM_LEVEL_BACK, Checkpoint.TOP),
    (Checkpoint.TOP, Checkpoint.ARM_LEVEL_DOWN),
    (Checkpoint.ARM_LEVEL_DOWN, Checkpoint.IMPACT),
)
"""Phases over which one trace lies beside the other."""
LEAST_IN_PLACE = 3
"""Fewer samples have no mean (house value)."""
CROSSED = {
    m.LEAD_WRIST_EXTENSION: m.LEAD_WRIST_DEVIATION,
    m.LEAD_WRIST_DEVIATION: m.LEAD_WRIST_EXTENSION,
    m.TRAIL_WRIST_EXTENSION: m.TRAIL_WRIST_DEVIATION,
    m.TRAIL_WRIST_DEVIATION: m.TRAIL_WRIST_EXTENSION,
    m.PELVIS_FORWARD_BEND: m.PELVIS_TURN,
    m.PELVIS_SIDE_BEND: m.PELVIS_TURN,
    m.THORAX_FORWARD_BEND: m.THORAX_TURN,
    m.THORAX_SIDE_BEND: m.THORAX_TURN,
}
"""Whose motion a calibration that is a little off lets into which measure."""
LEAK = 1.25
"""How much more than that: the heading between two sensors lets in the hand's roll (from ``validation.comparing``)."""
OF_ITS_OWN = {m.HAND_ROLL: 0.01}
"""What a calibration leaves open of a rate that no neighbour leaks into, as a share of it (from the same)."""
SHIFTED_AT = tuple(c for c in ORDER if c not in (Checkpoint.ADDRESS, Checkpoint.FINISH))


@dataclass(frozen=True)
class ValueCompared:
    """Means of both sides, SI; ``difference``: first less second, with its standard uncertainty."""

    moment: Moment
    first: float
    second: float
    difference: float
    uncertainty: float


@dataclass(frozen=True)
class Smoothness:
    """Spectral arc lengths over a phase; ``differs``: by more than they repeat."""

    start: Checkpoint
    end: Checkpoint
    first: float
    second: float
    differs: bool


@dataclass(frozen=True)
class Place:
    """How much more the first is over a phase on average, SI, with its standard uncertainty."""

    start: Checkpoint
    end: Checkpoint
    difference: float
    uncertainty: float


@dataclass(frozen=True)
class MetricCompared:
    """One measure, the first side against the second. ``shape_rms``: SI, None where the courses cannot be laid over
    each other."""

    metric: Metric
    values: tuple[ValueCompared, ...]
    shifts: tuple[Shift, ...]
    intensity: tuple[Intensity, ...]
    shape_rms: float | None
    smoothness: tuple[Smoothness, ...]
    places: tuple[Place, ...]


def compare_sides(first: Side, second: Side, *, one_calibration: bool) -> list[MetricCompared]:
    """Every measure that both sides have. ``one_calibration``: whether what a calibration leaves open is the same on
    both sides and cancels."""
    values = compare_values(first, second, one_calibration=one_calibration)
    return [
        compare_courses(metric, of, first, second, one_calibration=one_calibration) for metric, of in values.items()
    ]


def compare_values(first: Side, second: Side, *, one_calibration: bool) -> dict[Metric, tuple[ValueCompared, ...]]:
    """The values of every measure that both sides have."""
    here, there = (_by_key(side) for side in (first, second))
    shared = {metric for metric, _ in there}
    found: dict[Metric, list[ValueCompared]] = {metric: [] for metric, _ in here if metric in shared}
    for key in here:
        if key in there:
            found[key[0]].append(_value(here[key], there[key], one_calibration=one_calibration))
    return {metric: tuple(values) for metric, values in found.items()}


def compare_courses(
    metric: Metric, values: tuple[ValueCompared, ...], first: Side, second: Side, *, one_calibration: bool
) -> MetricCompared:
    """One measure, with its values as they were compared."""
    timed = all(s.timed for side in (first, second) for s in side)
    sides = courses(metric, first), courses(metric, second)
    open_rates = {
        phase: (0.0, 0.0) if one_calibration else (_leak(metric, first, phase), _leak(metric, second, phase))
        for phase in PHASES
    }
    return _compared(metric, values, *sides, open_rates if timed else {})


def _leak(metric: Metric, side: Side, phase: tuple[Checkpoint, Checkpoint]) -> float:
    """How much of another axis' rate a calibration's error lets into this one's, SI per s: an axis that lies off by an
    angle sees that much of the motion about its neighbour."""
    other, share = CROSSED.get(metric), OF_ITS_OWN.get(metric, 0.0)
    off = LEAK * max((v.calibration_part for s in side for v in s.measured if v.metric is metric), default=0.0)
    of_other = off * _peak(other, side, phase) if other is not None else 0.0
    return math.hypot(of_other, share * _peak(metric, side, phase) if share else 0.0)


def _peak(metric: Metric, side: Side, phase: tuple[Checkpoint, Checkpoint]) -> float:
    """The largest rate of a measure over a phase on average, SI per s; 0 where none was seen."""
    peaks = [p for c in courses(metric, side) if (p := peak_rate(c, *phase)) is not None]
    return float(np.mean(peaks)) if peaks else 0.0


def _by_key(side: Side) -> dict[tuple[Metric, str], list[Measured]]:
    found: dict[tuple[Metric, str], list[Measured]] = {}
    for swing in side:
        for v in swing.measured:
            found.setdefault((v.metric, v.moment.key), []).append(v)
    return found


def _value(here: Sequence[Measured], there: Sequence[Measured], *, one_calibration: bool) -> ValueCompared:
    a, b = (float(np.mean([v.value for v in side])) for side in (here, there))
    noise = np.hypot(_scatter(here), _scatter(there))
    left_open = 0.0 if one_calibration else math.hypot(*(_calibration_part(side) for side in (here, there)))
    return ValueCompared(here[0].moment, a, b, a - b, float(np.hypot(noise, left_open)))


def _calibration_part(side: Sequence[Measured]) -> float:
    """What all values of a side share."""
    return max(v.calibration_part for v in side)


def _scatter(side: Sequence[Measured]) -> float:
    """Standard error of a side's mean without what its calibration leaves open: no less than what is known of each."""
    n = len(side)
    own = float(np.sqrt(np.mean([max(0.0, v.uncertainty**2 - v.calibration_part**2) for v in side]) / n))
    return own if n < 3 else max(own, float(np.std([v.value for v in side], ddof=1) / np.sqrt(n)))


def _compared(
    metric: Metric,
    values: tuple[ValueCompared, ...],
    first: list[SwingTrace],
    second: list[SwingTrace],
    open_rates: Mapping[tuple[Checkpoint, Checkpoint], tuple[float, float]],
) -> MetricCompared:
    """``open_rates``: by phase, what each calibration leaves open of rates; empty where the times are not their own."""
    if not first or not second:
        return MetricCompared(metric, values, (), (), None, (), ())
    shifts = (group_shift(first, second, c) for c in (SHIFTED_AT if open_rates else ()))
    harder = (intensity(first, second, *phase, left_open) for phase, left_open in open_rates.items())
    top = top_node((first, second))
    a, b = (_mean_course(side, top) for side in (first, second))
    return MetricCompared(
        metric,
        values,
        tuple(s for s in shifts if s is not None),
        tuple(i for i in harder if i is not None),
        None if a is None or b is None else shape_rms(a, b),
        tuple(s for phase in open_rates if (s := _smoothness(first, second, *phase)) is not None),
        _places(first, second, values, PLACES) or _places(first, second, values, PHASES),
    )


def _mean_course(side: Sequence[SwingTrace], top: int) -> Array | None:
    found = [c for t in side if (c := stretched(t, top)) is not None]
    return np.asarray(np.mean(found, axis=0)) if found else None


def _smoothness(
    first: Sequence[SwingTrace], second: Sequence[SwingTrace], start: Checkpoint, end: Checkpoint
) -> Smoothness | None:
    found = [[s for t in side if (s := phase_smoothness(t, start, end)) is not None] for side in (first, second)]
    if not all(found):
        return None
    a, b = (float(np.mean(side)) for side in found)
    repeats = math.hypot(*(max(SMOOTHNESS_SD, float(np.std(side))) / np.sqrt(len(side)) for side in found))
    return Smoothness(start, end, a, b, bool(abs(a - b) > 2.0 * repeats))


def _places(
    first: Sequence[SwingTrace],
    second: Sequence[SwingTrace],
    values: Sequence[ValueCompared],
    phases: Sequence[tuple[Checkpoint, Checkpoint]],
) -> tuple[Place, ...]:
    return tuple(p for phase in phases if (p := _place(first, second, values, *phase)) is not None)


def _place(
    first: Sequence[SwingTrace],
    second: Sequence[SwingTrace],
    values: Sequence[ValueCompared],
    start: Checkpoint,
    end: Checkpoint,
) -> Place | None:
    means = []
    for side in (first, second):
        found = [m for t in side if (m := _mean_between(t, start, end)) is not None]
        if not found:
            return None
        means.append(found)
    known = [v.uncertainty for v in values if not v.moment.is_change]
    if not known:
        return None
    difference = float(np.mean(means[0]) - np.mean(means[1]))
    spread = math.hypot(*(float(np.std(m, ddof=1) / np.sqrt(len(m))) if len(m) > 2 else 0.0 for m in means))
    return Place(start, end, difference, float(max(np.median(known), spread)))


def _mean_between(trace: SwingTrace, start: Checkpoint, end: Checkpoint) -> float | None:
    if start not in trace.events or end not in trace.events:
        return None
    a, b = trace.events[start].time_s, trace.events[end].time_s
    inside = (trace.time_s >= a) & (trace.time_s <= b) & np.isfinite(trace.values)
    return float(trace.values[inside].mean()) if inside.sum() >= LEAST_IN_PLACE else None
