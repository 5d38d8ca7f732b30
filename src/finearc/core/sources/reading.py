"""Reading one swing: every source's view of it, the best of them, the others kept beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import TypeVar

import numpy as np

from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Metric, Source
from finearc.core.metrics.sequence import (
    Course,
    knee_straightening,
    sequence_metrics,
    smoothness,
    start_of_move,
    stretch_and_share,
)
from finearc.core.metrics.swing import RATE_SD_RAD_S, SwingReader, hinge_held, takeaway_dip, timing_metrics
from finearc.core.metrics.trace import Trace, derivative
from finearc.core.sources.address_check import GripChange
from finearc.core.sources.kind import Motion, Motions, States, View, Window
from finearc.core.typing import Array, Mask
from finearc.wording import mark, tr

Seen = list[tuple[Source, Trace]]
ADDRESS_HALF_S = 0.1
DISAGREE_S = 0.03
"""Sources that see impact this far apart have clocks that run apart (house value)."""
DISAGREE = mark("Markers and sensors see impact {:.0f} ms apart: check offset_s in capture.json.")


AnyView = TypeVar("AnyView", bound=View)


@dataclass
class SwingReading:
    """Everything measured in one swing; times in s on the capture's clock, values SI. ``lacking``: why metrics have no
    value where a marker or a pose is to blame. ``views``: the swing as each source saw it."""

    start_s: float
    end_s: float
    events: dict[Checkpoint, Event]
    absent: dict[Checkpoint, str]
    time_s: Array
    valid: Mask
    traces: dict[str, Array]
    measured: list[Measured]
    present: tuple[Source, ...] = ()
    lacking: dict[Metric, str] = field(default_factory=dict)
    warnings: list[str] = field(default_factory=list)
    sensor_moved: bool = False
    grip_changed: GripChange | None = None
    views: tuple[View, ...] = ()

    @property
    def strike_felt(self) -> bool | None:
        """Whether a ball was struck, as the first source says that can tell; None where none can."""
        return next((v.strike_felt for v in self.views if v.strike_felt is not None), None)

    @property
    def of_putt(self) -> bool:
        """Whether it was read as a putt."""
        return any(v.of_putt for v in self.views)

    def view(self, kind: type[AnyView]) -> AnyView | None:
        """The swing as a source of this class saw it, or None."""
        return next((v for v in self.views if isinstance(v, kind)), None)


def read_swing(
    motions: Motions,
    span: Window,
    states: States,
    corrections: Mapping[Checkpoint, float],
    split_m: float | None = None,
) -> SwingReading:
    """Checkpoints, traces and values of the swing in ``span`` (s). ``states``: what the swings before it have left,
    and this one changes; ``split_m``: the instructor's line between the feet."""
    seen = [(motion, motion.view(span, states, split_m)) for motion in motions]
    views = [v for _, v in seen if v is not None]
    found = cp.best_of([v.found for v in views])
    main = views[0] if views else None
    step = 0.005 if main is None else float(main.time_s[1] - main.time_s[0])
    cp.apply_corrections(found, corrections, step)
    cp.keep_in_order(found)
    empty = np.linspace(span[0], span[1], 2)
    reading = SwingReading(
        float(span[0]),
        float(span[1]),
        found.events,
        found.absent,
        empty if main is None else main.time_s,
        np.zeros(2, dtype=bool) if main is None else main.valid,
        {},
        [],
        motions.present,
        {},
        [w for v in views for w in v.warnings] + _disagreement(found.events),
        any(v.sensor_moved for v in views),
        next((v.grip_changed for v in views if v.grip_changed is not None), None),
        tuple(views),
    )
    courses: dict[Metric, Course] = {}
    gathered: list[Measured] = []
    for view in views:
        gathered += _measure(view, found, reading, courses)
        gathered += view.values(found.events, courses, reading.present)
    gathered += timing_metrics(found.events)
    reading.measured = merge(gathered)
    values = {(v.metric.id, v.moment.key): v for v in reading.measured}
    reading.measured += sequence_metrics(courses, found.events)
    reading.measured += start_of_move(courses, found.events)
    reading.measured += stretch_and_share(courses, found.events, values)
    reading.measured += knee_straightening(courses, found.events)
    reading.measured += smoothness(courses, found.events)
    for view in views:
        reading.measured += view.values_across(found.events, courses)
    reading.lacking = _lacking(motions, seen)
    return reading


def _lacking(motions: Motions, seen: Sequence[tuple[Motion, View | None]]) -> dict[Metric, str]:
    """Why metrics have no value, as the first source says that has a reason more exact than *needs this source*."""
    out: dict[Metric, str] = {}
    for motion, view in seen:
        for metric, why in motion.lacking(view).items():
            out.setdefault(metric, why)
    for kind, why in motions.unused.items():
        out |= dict.fromkeys(kind.measures, why)
    return out


def _own_address(time_s: Array, own: slice, seen: cp.Found, best: cp.Found) -> slice:
    """A source's samples of the address that was chosen: its own window, else a tenth of a second on either side."""
    address = best.events.get(Checkpoint.ADDRESS)
    if address is None:
        return slice(0, 0)
    mine = seen.events.get(Checkpoint.ADDRESS)
    if own.stop and mine is not None and mine.time_s == address.time_s:
        return own
    if address.method == "instructor" and own.stop:
        return own
    a, b = np.searchsorted(time_s, [address.time_s - ADDRESS_HALF_S, address.time_s + ADDRESS_HALF_S])
    return slice(int(a), int(b)) if b > a else slice(0, 0)


def _disagreement(events: Mapping[Checkpoint, Event]) -> list[str]:
    impact = events.get(Checkpoint.IMPACT)
    if impact is None or not impact.others:
        return []
    apart = max(abs(o.time_s - impact.time_s) - 2 * o.uncertainty_s for o in impact.others)
    return [tr(DISAGREE).format(1000 * apart)] if apart > DISAGREE_S else []


def _measure(view: View, found: cp.Found, reading: SwingReading, courses: dict[Metric, Course]) -> list[Measured]:
    """One view's traces read at the chosen checkpoints; its traces and courses kept where it is the best."""
    time_s, valid = view.time_s, view.valid
    address = _own_address(time_s, view.address, view.found, found)
    seen = view.traces(address, found.events)
    if not seen or len(time_s) < 6:
        return []
    step = float(time_s[1] - time_s[0])
    reader = SwingReader(time_s, view.dated(found.events), address, view.covariance, valid)
    stacked = np.column_stack([t.values for _, t in seen])
    rates = derivative(stacked, step)
    _mend_rates(rates, stacked, time_s)
    out = reader.read(seen, stacked, rates)
    extra: Seen = []
    columns = []
    for k, (source, trace) in enumerate(seen):
        rate = m.RATE_OF.get(trace.metric)
        if rate is not None:
            extra.append((source, Trace(rate, rates[:, k], RATE_SD_RAD_S)))
            columns.append(k)
    if extra:
        bends = derivative(stacked[:, columns], step, 2)
        out += reader.read(extra, rates[:, columns], bends)
    for source, trace in [*seen, *extra]:
        _keep_course(source, trace, time_s, valid, reading, courses)
    out += _shapes(reader, seen)
    return out


def _mend_rates(rates: Array, stacked: Array, time_s: Array) -> None:
    """Rates of traces with gaps: what a filter cannot take is differenced plainly, gaps stay open."""
    for k in np.flatnonzero(np.isnan(stacked).any(axis=0)):
        rates[:, k] = np.gradient(stacked[:, k], time_s)


def _keep_course(
    source: Source, trace: Trace, time_s: Array, valid: Mask, reading: SwingReading, courses: dict[Metric, Course]
) -> None:
    sd = float(np.hypot(trace.base_sd, trace.common_sd))
    if trace.error_shapes is not None:
        sd = float(np.hypot(sd, np.deg2rad(2.7)))
    known = courses.get(trace.metric)
    if known is not None and known.sd <= sd:
        return
    values = np.where(valid, trace.values, np.nan)
    courses[trace.metric] = Course(time_s, values, sd, source)
    if time_s is not reading.time_s:
        values = np.interp(reading.time_s, time_s, values, left=np.nan, right=np.nan)
    reading.traces[trace.metric.id] = values


def _shapes(reader: SwingReader, seen: Seen) -> list[Measured]:
    by_metric = {t.metric: (s, t) for s, t in seen}
    out: list[Measured] = []
    hinge = by_metric.get(m.LAG, by_metric.get(m.LEAD_WRIST_DEVIATION))
    if hinge is not None:
        out += hinge_held(reader, *hinge)
    if m.LEAD_WRIST_EXTENSION in by_metric:
        out += takeaway_dip(reader, *by_metric[m.LEAD_WRIST_EXTENSION])
    return out


def merge(measured: Sequence[Measured]) -> list[Measured]:
    """Each value as the most certain source that may be judged saw it, the others kept beside it."""
    by_key: dict[tuple[str, str], Measured | list[Measured]] = {}
    for value in measured:
        key = (value.metric.id, value.moment.key)
        known = by_key.get(key)
        if known is None:
            by_key[key] = value
        elif isinstance(known, list):
            known.append(value)
        else:
            by_key[key] = [known, value]
    out = []
    for entry in by_key.values():
        if isinstance(entry, list):
            best, *others = sorted(entry, key=lambda v: (bool(v.not_judged_reason), v.uncertainty))
            out.append(best._replace(others=tuple(others)))
        else:
            out.append(entry)
    return out
