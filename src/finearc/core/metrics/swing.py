"""Values of one swing: at checkpoints, changes, and figures of the whole swing, each with its uncertainty."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from math import hypot, sqrt

import numpy as np

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import WHOLE_SWING, Measured, Metric, Moment, Source
from finearc.core.metrics.trace import Trace
from finearc.core.typing import Array, Mask
from finearc.wording import tr

RELEASE_S = 0.1
AFTER_IMPACT = f"{Checkpoint.IMPACT}+0.1s"
SENSOR_SD_RAD = np.deg2rad(0.5)
RATE_SD_RAD_S = np.deg2rad(8.0)
"""Noise of a rate after filtering (house value)."""
DIP_RECOVERY_RAD = np.deg2rad(8.0)


class SwingReader:
    """Reads one source's traces at moments. ``covariance`` (7, 7) is the wrist calibration's; ``address``: samples of
    this source's address window."""

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
        self.step_s = float(time_s[1] - time_s[0])
        self._at = self._instants()

    def instants(self) -> dict[str, tuple[float, float]]:
        """Time and timing uncertainty, s, of every moment that can be read."""
        return self._at

    def _instants(self) -> dict[str, tuple[float, float]]:
        known = {str(k): (e.time_s, e.uncertainty_s) for k, e in self.events.items()}
        if Checkpoint.IMPACT in self.events:
            impact = self.events[Checkpoint.IMPACT]
            known[AFTER_IMPACT] = (impact.time_s + RELEASE_S, impact.uncertainty_s)
        first, last = self.time_s[0] - self.step_s, self.time_s[-1] + self.step_s
        return {k: v for k, v in known.items() if first <= v[0] <= last and self._is_valid(v[0])}

    def _place(self, at_s: float) -> tuple[int, float]:
        """Sample before an instant and the share of the step from it."""
        position = min(max((at_s - float(self.time_s[0])) / self.step_s, 0.0), len(self.time_s) - 1.0)
        k = min(int(position), len(self.time_s) - 2)
        return k, position - k

    def _index(self, at_s: float) -> int:
        """First sample at or after ``at_s``."""
        k, share = self._place(at_s)
        return min(k + (share > 1e-9), len(self.time_s) - 1)

    def _is_valid(self, at_s: float) -> bool:
        k = self._index(at_s)
        return bool(self.valid[k] and self.valid[max(0, k - 1)])

    def at(self, values: Array, at_s: float) -> float:
        """Value of a trace (n,) at an instant, s, linear between samples; in the trace's unit (SI)."""
        k, share = self._place(at_s)
        return float(values[k]) * (1.0 - share) + float(values[k + 1]) * share

    def value(self, values: Array, key: str, at_s: float) -> float:
        """Value of a trace (n,) at a moment, SI. Address: median of its window; else linear between samples."""
        if self._from_window(key):
            return float(np.median(values[self.address]))
        return self.at(values, at_s)

    def _from_window(self, key: str) -> bool:
        if key != Checkpoint.ADDRESS or self.address.stop == 0:
            return False
        return self.events[Checkpoint.ADDRESS].method != "instructor"

    def calibration_sd(self, trace: Trace, at_s: float, minus_s: float | None = None) -> float:
        """Standard uncertainty from calibration or marker placement, of a value or of a difference of two (what both
        have in common cancels)."""
        if trace.error_shapes is None:
            return trace.common_sd if minus_s is None else 0.0
        shape = trace.error_shapes[:, self._index(at_s)]
        if minus_s is not None:
            shape = shape - trace.error_shapes[:, self._index(minus_s)]
        return sqrt(max(0.0, float(shape @ self.covariance @ shape)))

    def _table(self, stacked: Array, keys: Sequence[str]) -> Array:
        """Values (keys, traces) of columns (n, traces) at moments."""
        places = [self._place(self._at[k][0]) for k in keys]
        index = np.array([p[0] for p in places])
        share = np.array([p[1] for p in places])[:, None]
        out: Array = stacked[index] * (1.0 - share) + stacked[index + 1] * share
        for row, key in enumerate(keys):
            if self._from_window(key):
                out[row] = np.median(stacked[self.address], axis=0)
        return out

    def read(self, traces: Sequence[tuple[Source, Trace]], stacked: Array, rates: Array) -> list[Measured]:
        """Every trace at every moment, and its changes. ``stacked`` and ``rates`` (n, traces) hold the traces' values
        (SI) and their rates (SI per s); what is hidden at a moment is not read there, and what is only a course
        nowhere. The standard uncertainty of each value joins that of the calibration, of the trace, and of the moment's
        time at the rate of the trace."""
        keys = list(self._at)
        if not keys or not traces:
            return []
        values, slopes = self._table(stacked, keys), np.abs(self._table(rates, keys))
        row = {k: i for i, k in enumerate(keys)}
        out: list[Measured] = []
        for column, (source, trace) in enumerate(traces):
            if trace.metric.course_only:
                continue
            timing = [
                0.0 if k == Checkpoint.ADDRESS else float(slopes[i, column]) * self._at[k][1]
                for i, k in enumerate(keys)
            ]
            here = values[:, column].tolist()
            for i, key in enumerate(keys):
                if key == AFTER_IMPACT or here[i] != here[i]:
                    continue
                pose = self.calibration_sd(trace, self._at[key][0])
                total = sqrt(pose**2 + trace.base_sd**2 + _number(timing[i]) ** 2)
                out.append(
                    Measured(
                        trace.metric,
                        Moment(key),
                        here[i],
                        total,
                        pose,
                        source,
                        not_judged_reason=trace.not_judged_reason,
                        note=trace.note,
                    )
                )
            for first, second in trace.metric.changes_read:
                a, b = row.get(first), row.get(second)
                if a is None or b is None or here[a] != here[a] or here[b] != here[b]:
                    continue
                pose = self.calibration_sd(trace, self._at[second][0], self._at[first][0])
                total = sqrt(pose**2 + trace.base_sd**2 + _number(timing[a]) ** 2 + _number(timing[b]) ** 2)
                out.append(Measured(trace.metric, Moment(f"{first}..{second}"), here[b] - here[a], total, pose, source))
        return out


def _number(value: float) -> float:
    return value if value == value else 0.0


def timing_metrics(events: Mapping[Checkpoint, Event]) -> list[Measured]:
    """Tempo and the two times, when their checkpoints are there; a putt's are parted by its transition."""
    turn = Checkpoint.TRANSITION if Checkpoint.TRANSITION in events else Checkpoint.TOP
    needed = (Checkpoint.TAKEAWAY, turn, Checkpoint.IMPACT)
    if any(k not in events for k in needed):
        return []
    takeaway, top, impact = (events[k] for k in needed)
    back, down = top.time_s - takeaway.time_s, impact.time_s - top.time_s
    if back <= 0 or down <= 0:
        return []
    u_back = hypot(takeaway.uncertainty_s, top.uncertainty_s)
    u_down = hypot(impact.uncertainty_s, top.uncertainty_s)
    tempo = back / down
    source = source_of(top)
    return [
        Measured(m.TEMPO, WHOLE_SWING, tempo, tempo * hypot(u_back / back, u_down / down), source=source),
        Measured(m.BACKSWING_TIME, WHOLE_SWING, back, u_back, source=source),
        Measured(m.DOWNSWING_TIME, WHOLE_SWING, down, u_down, source=source),
    ]


def source_of(found: Event) -> Source:
    """What saw a checkpoint."""
    if found.method.startswith(("marker", "head-", "hands-")):
        return Source.MARKERS
    if found.method.startswith("putter"):
        return Source.PUTTER
    if found.method.startswith("club"):
        return Source.CLUB
    if found.method.startswith(("ground", "vertical")):
        return Source.MAT
    return Source.BODY if found.method.startswith(("upper", "pelvis")) else Source.WRIST


def hinge_held(reader: SwingReader, source: Source, trace: Trace) -> list[Measured]:
    """Share of the lag, else of the radial deviation, gained since address that is still there at arm level down."""
    at = reader.instants()
    if not {"address", "arm_level_down", "takeaway"} <= set(at):
        return []
    t = reader.time_s
    start = reader.value(trace.values, "address", at["address"][0])
    stop = at["arm_level_down"][0]
    span = trace.values[(t >= at["takeaway"][0]) & (t <= stop)]
    if not len(span) or not np.isfinite(span).any():
        return []
    gained = float(np.nanmax(span)) - start
    held = reader.value(trace.values, "arm_level_down", stop) - start
    if not gained > np.deg2rad(8.0) or held != held:
        return []
    noise = reader.calibration_sd(trace, stop, at["address"][0])
    u = hypot(noise, SENSOR_SD_RAD) / gained * (1.0 - min(1.0, held / gained) + 0.15)
    return [Measured(m.HINGE_HELD, WHOLE_SWING, held / gained, u, source=source)]


def takeaway_dip(reader: SwingReader, source: Source, extension: Trace) -> list[Measured]:
    """How far the wrist falls toward flexion before arm level and comes back by the top."""
    at = reader.instants()
    if not {"address", "arm_level_back", "top", "takeaway"} <= set(at):
        return []
    t = reader.time_s
    span = np.flatnonzero((t >= at["takeaway"][0]) & (t <= at["arm_level_back"][0]))
    if not len(span) or not np.isfinite(extension.values[span]).all():
        return []
    lowest = int(span[np.argmin(extension.values[span])])
    start = reader.value(extension.values, "address", at["address"][0])
    fall = start - float(extension.values[lowest])
    later = extension.values[(t >= t[lowest]) & (t <= at["top"][0])]
    recovered = float(np.nanmax(later)) - float(extension.values[lowest]) if len(later) else 0.0
    value = max(0.0, fall) if recovered >= DIP_RECOVERY_RAD else 0.0
    pose = reader.calibration_sd(extension, float(t[lowest]), at["address"][0])
    return [Measured(m.TAKEAWAY_DIP, WHOLE_SWING, value, hypot(pose, SENSOR_SD_RAD), pose, source)]


def missing_reason(metric: Metric, present: Sequence[Source], lacking: str, swing_reason: str) -> str:
    """Why a metric has no value in this swing: its source is not there, a marker or a checkpoint is missing."""
    if lacking:
        return lacking
    if not metric.can_be_given(present):
        return tr("needs {needs}", needs=metric.needs)
    return swing_reason or tr("its checkpoints were not found in this swing")
