"""Values of one swing: at checkpoints, changes, and figures of the whole swing, each with its uncertainty."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import sqrt

import numpy as np
from scipy.signal import savgol_filter

from finearc.core.events.model import ORDER, Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import WHOLE_SWING, Measured, Metric, Moment
from finearc.core.typing import Array, Mask

RELEASE_S = 0.1
AFTER_IMPACT = f"{Checkpoint.IMPACT}+0.1s"
CHANGES: dict[str, tuple[tuple[str, str], ...]] = {
    m.LEAD_WRIST_EXTENSION.id: (
        ("address", "shaft_level_back"),
        ("address", "top"),
        ("top", "impact"),
        ("shaft_level_back", "top"),
        ("impact", AFTER_IMPACT),
        ("address", "impact"),
    ),
    m.LEAD_WRIST_DEVIATION.id: (
        ("address", "shaft_level_back"),
        ("address", "top"),
        ("top", "impact"),
        ("address", "impact"),
    ),
}
SENSOR_SD_RAD = np.deg2rad(0.5)
"""What sensors and filter add once the poses are exact (measured on the golfer model, docs/validation.md)."""
CLIP_SD_RAD = np.deg2rad(1.2)
DIP_RECOVERY_RAD = np.deg2rad(8.0)


@dataclass(frozen=True)
class Trace:
    """A metric over the swing's time axis, SI. ``error_shapes`` (7, n) are the derivatives of the value with
    respect to the calibration's seven small errors, or None for values no pose error reaches."""

    metric: Metric
    values: Array
    base_sd: float
    error_shapes: Array | None = None


def derivative(values: Array, step_s: float, order: int = 1) -> Array:
    """Rates (n, k) per s (or per s² with ``order`` 2) of columns (n, k) after a cubic Savitzky–Golay filter of
    about 45 ms."""
    window = max(5, 2 * round(0.0225 / step_s) + 1)
    if len(values) < window:
        rate = np.gradient(values, step_s, axis=0)
        return rate if order == 1 else np.gradient(rate, step_s, axis=0)
    return np.asarray(savgol_filter(values, window, 3, deriv=order, delta=step_s, axis=0, mode="nearest"))


class SwingReader:
    """Reads traces at moments. ``covariance`` (7, 7) is the calibration's."""

    def __init__(
        self,
        time_s: Array,
        events: Mapping[Checkpoint, Event],
        address: slice,
        covariance: Array,
        valid: Mask,
    ) -> None:
        self.time_s, self.events, self.address, self.covariance, self.valid = (
            time_s,
            events,
            address,
            covariance,
            valid,
        )
        self._places: dict[float, tuple[int, float]] = {}
        self._at = self._instants()
        self._address_values: dict[int, tuple[Array, float]] = {}

    def instants(self) -> dict[str, tuple[float, float]]:
        """Time and timing uncertainty, s, of every moment that can be read."""
        return self._at

    def _instants(self) -> dict[str, tuple[float, float]]:
        known = {str(k): (e.time_s, e.uncertainty_s) for k, e in self.events.items()}
        if Checkpoint.IMPACT in self.events:
            impact = self.events[Checkpoint.IMPACT]
            if impact.time_s + RELEASE_S <= self.time_s[-1]:
                known[AFTER_IMPACT] = (impact.time_s + RELEASE_S, impact.uncertainty_s)
        return {k: v for k, v in known.items() if self._is_valid(v[0])}

    def _index(self, at_s: float) -> int:
        """First sample at or after ``at_s``."""
        k, share = self._place(at_s)
        return min(k + (share > 1e-9), len(self.time_s) - 1)

    def _is_valid(self, at_s: float) -> bool:
        k = self._index(at_s)
        return bool(self.valid[k] and self.valid[max(0, k - 1)])

    def _place(self, at_s: float) -> tuple[int, float]:
        """Sample before an instant and the share of the step from it; worked out once an instant."""
        known = self._places.get(at_s)
        if known is None:
            step = float(self.time_s[1] - self.time_s[0])
            position = min(max((at_s - float(self.time_s[0])) / step, 0.0), len(self.time_s) - 1.0)
            k = min(int(position), len(self.time_s) - 2)
            known = self._places[at_s] = (k, position - k)
        return known

    def at(self, values: Array, at_s: float) -> float:
        """Value at an instant, linear between samples."""
        k, share = self._place(at_s)
        return float(values[k]) * (1.0 - share) + float(values[k + 1]) * share

    def value(self, values: Array, key: str, at_s: float) -> float:
        """Address: median of its window; else linear between samples."""
        if key == Checkpoint.ADDRESS and self.events[Checkpoint.ADDRESS].method != "instructor":
            known = self._address_values.get(id(values))
            if known is None:  # the array is kept too, so that its identity stays its own
                known = self._address_values[id(values)] = (values, float(np.median(values[self.address])))
            return known[1]
        return self.at(values, at_s)

    def calibration_sd(self, trace: Trace, at_s: float, minus_s: float | None = None) -> float:
        """Standard uncertainty from the poses, of a value or of a difference of two (shared errors cancel)."""
        if trace.error_shapes is None:
            return 0.0
        shape = trace.error_shapes[:, self._index(at_s)]
        if minus_s is not None:
            shape = shape - trace.error_shapes[:, self._index(minus_s)]
        return sqrt(max(0.0, float(shape @ self.covariance @ shape)))

    def _timing(self, key: str, rate: Array, instant: tuple[float, float]) -> float:
        """What the timing of a moment leaves open in a value: rate there times timing uncertainty."""
        return 0.0 if key == Checkpoint.ADDRESS else abs(self.at(rate, instant[0])) * instant[1]

    def read(self, trace: Trace, rate: Array) -> list[Measured]:
        """The trace at every moment, and its changes."""
        at = self.instants()
        out = []
        for key, (time_s, u_s) in at.items():
            if key == AFTER_IMPACT:
                continue
            pose = self.calibration_sd(trace, time_s)
            timing = self._timing(key, rate, (time_s, u_s))
            out.append(
                Measured(
                    trace.metric,
                    Moment(key),
                    self.value(trace.values, key, time_s),
                    sqrt(pose**2 + trace.base_sd**2 + timing**2),
                    pose,
                )
            )
        for first, second in CHANGES.get(trace.metric.id, ()):
            if first in at and second in at:
                out.append(self._change(trace, rate, first, second, at))
        return out

    def _change(
        self, trace: Trace, rate: Array, first: str, second: str, at: Mapping[str, tuple[float, float]]
    ) -> Measured:
        difference = self.value(trace.values, second, at[second][0]) - self.value(trace.values, first, at[first][0])
        pose = self.calibration_sd(trace, at[second][0], at[first][0])
        timing = [self._timing(k, rate, at[k]) for k in (first, second)]
        total = sqrt(pose**2 + trace.base_sd**2 + timing[0] ** 2 + timing[1] ** 2)
        return Measured(trace.metric, Moment(f"{first}..{second}"), difference, total, pose)


def timing_metrics(events: Mapping[Checkpoint, Event]) -> list[Measured]:
    """Tempo and the two times, when their checkpoints are there."""
    needed = (Checkpoint.TAKEAWAY, Checkpoint.TOP, Checkpoint.IMPACT)
    if any(k not in events for k in needed):
        return []
    takeaway, top, impact = (events[k] for k in needed)
    back, down = top.time_s - takeaway.time_s, impact.time_s - top.time_s
    if back <= 0 or down <= 0:
        return []
    u_back = float(np.hypot(takeaway.uncertainty_s, top.uncertainty_s))
    u_down = float(np.hypot(impact.uncertainty_s, top.uncertainty_s))
    tempo = back / down
    return [
        Measured(m.TEMPO, WHOLE_SWING, tempo, tempo * float(np.hypot(u_back / back, u_down / down))),
        Measured(m.BACKSWING_TIME, WHOLE_SWING, back, u_back),
        Measured(m.DOWNSWING_TIME, WHOLE_SWING, down, u_down),
    ]


def shape_metrics(reader: SwingReader, extension: Trace, deviation: Trace) -> list[Measured]:
    """Hinge held and takeaway dip."""
    at = reader.instants()
    out = []
    t = reader.time_s
    if "address" in at and "arm_level_down" in at and "takeaway" in at:
        start = reader.value(deviation.values, "address", at["address"][0])
        stop = at["arm_level_down"][0]
        span = (t >= at["takeaway"][0]) & (t <= stop)
        largest = float(deviation.values[span].max())
        gained = largest - start
        held = reader.value(deviation.values, "arm_level_down", stop) - start
        if gained > np.deg2rad(8.0):
            noise = reader.calibration_sd(deviation, stop, at["address"][0])
            u = float(np.hypot(noise, SENSOR_SD_RAD)) / gained * (1.0 - min(1.0, held / gained) + 0.15)
            out.append(Measured(m.HINGE_HELD, WHOLE_SWING, held / gained, u))
    if "address" in at and "arm_level_back" in at and "top" in at and "takeaway" in at:
        out.append(_dip(reader, extension, at))
    return out


def _dip(reader: SwingReader, extension: Trace, at: Mapping[str, tuple[float, float]]) -> Measured:
    t = reader.time_s
    span = np.flatnonzero((t >= at["takeaway"][0]) & (t <= at["arm_level_back"][0]))
    lowest = int(span[np.argmin(extension.values[span])])
    start = reader.value(extension.values, "address", at["address"][0])
    fall = start - float(extension.values[lowest])
    later = (t >= t[lowest]) & (t <= at["top"][0])
    recovered = float(extension.values[later].max()) - float(extension.values[lowest])
    value = max(0.0, fall) if recovered >= DIP_RECOVERY_RAD else 0.0
    pose = reader.calibration_sd(extension, float(t[lowest]), at["address"][0])
    return Measured(m.TAKEAWAY_DIP, WHOLE_SWING, value, float(np.hypot(pose, SENSOR_SD_RAD)), pose)


def missing_reason(metric: Metric, has_club: bool, swing_reason: str) -> str:
    """Why a metric has no value in this swing."""
    if not metric.measured:
        return f"needs {metric.needs}"
    if metric in (m.SHAFT_ELEVATION, m.SHAFT_ELEVATION_RATE) and not has_club:
        return f"needs {metric.needs}"
    return swing_reason or "its checkpoints were not found in this swing"


def in_order(keys: Mapping[Checkpoint, Event]) -> list[Checkpoint]:
    """Checkpoints present, in order."""
    return [k for k in ORDER if k in keys]
