"""Reading one swing: every source's view of it, the best of them, the others kept beside it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event
from finearc.core.kinematics import inertial as ine, optical as opt
from finearc.core.kinematics.body import BodyPose
from finearc.core.kinematics.inertial import SessionState
from finearc.core.markers.motion import MarkerMotion
from finearc.core.metrics import registry as m
from finearc.core.metrics.body import Upright
from finearc.core.metrics.definition import Measured, Metric, Source
from finearc.core.metrics.families.ground import ALL as GROUND
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
from finearc.core.pressure import timing, view as grd
from finearc.core.typing import Array, Mask

Seen = list[tuple[Source, Trace]]
ADDRESS_HALF_S = 0.1
DISAGREE_S = 0.03
"""Sources that see impact this far apart have clocks that run apart (house value)."""
DISAGREE = "Markers and sensors see impact {:.0f} ms apart: check offset_s in capture.json."


@dataclass(frozen=True)
class Everything:
    """All sources of a capture: inertial sensors, markers, the ground, or several. ``no_ground``: why what was recorded
    of the ground says nothing, or empty."""

    inertial: ine.Sources | None
    markers: MarkerMotion | None = None
    upright: Upright | None = None
    ground: grd.GroundMotion | None = None
    no_ground: str = ""

    @property
    def present(self) -> tuple[Source, ...]:
        out = []
        if self.inertial is not None:
            if self.inertial.hand is not None:
                out.append(Source.WRIST)
            if self.inertial.club is not None:
                out.append(Source.CLUB)
            if self.inertial.body is not None:
                out.append(Source.BODY)
        if self.markers is not None:
            out.append(Source.MARKERS)
        if self.ground is not None:
            out.append(grd.SOURCE[type(self.ground)])
        return tuple(out)


@dataclass
class SwingReading:
    """Everything measured in one swing; times in s on the capture's clock, values SI. ``lacking``: why metrics have no
    value where a marker or a pose is to blame. ``pose``: the body on ``pose_time_s``, when markers saw it."""

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
    inertial: ine.InertialView | None = None
    optical: opt.OpticalView | None = None
    ground: grd.GroundView | None = None
    moments: timing.GroundMoments | None = None

    @property
    def pose(self) -> BodyPose | None:
        return self.optical.pose if self.optical else None


def read_swing(
    sources: Everything,
    span: tuple[float, float],
    state: SessionState,
    corrections: Mapping[Checkpoint, float],
    split_m: float | None = None,
) -> SwingReading:
    """Events, traces and values of the swing in ``span`` (s). ``split_m``: the instructor's line between the feet."""
    inertial = _inertial_view(sources, span, state)
    optical = opt.view_swing(sources.markers, span, sources.upright) if sources.markers is not None else None
    ground = grd.view_swing(sources.ground, span, split_m) if sources.ground is not None else None
    views: list[ine.InertialView | opt.OpticalView | grd.GroundView] = [
        v for v in (inertial, optical, ground) if v is not None
    ]
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
        sources.present,
        _lacking(sources, inertial, optical, ground),
        [w for v in views for w in v.warnings] + _disagreement(found.events),
        inertial is not None and inertial.sensor_moved,
        inertial,
        optical,
        ground,
    )
    courses: dict[Metric, Course] = {}
    gathered: list[Measured] = []
    if inertial is not None:
        address = _own_address(inertial.time_s, inertial.address, inertial.found, found)
        gathered += _measure(
            inertial.time_s, inertial.valid, address, inertial.covariance, inertial.traces(address), reading, courses
        )
    if optical is not None:
        address = _own_address(optical.time_s, optical.address, optical.found, found)
        impact = found.events.get(Checkpoint.IMPACT)
        seen = optical.traces(address, impact.time_s if impact else None)
        gathered += _measure(optical.time_s, optical.valid, address, np.zeros((7, 7)), seen, reading, courses)
        if impact is not None:
            gathered += optical.at_impact(impact)
    if ground is not None:
        gathered += _on_ground(ground, found, reading, courses)
    gathered += timing_metrics(found.events)
    reading.measured = merge(gathered)
    values = {(v.metric.id, v.moment.key): v for v in reading.measured}
    reading.measured += sequence_metrics(courses, found.events)
    reading.measured += start_of_move(courses, found.events)
    reading.measured += stretch_and_share(courses, found.events, values)
    reading.measured += knee_straightening(courses, found.events)
    reading.measured += smoothness(courses, found.events)
    if ground is not None:
        reading.measured += timing.lags(courses, found.events, ground.offset_sd_s)
    return reading


def _on_ground(
    ground: grd.GroundView, found: cp.Found, reading: SwingReading, courses: dict[Metric, Course]
) -> list[Measured]:
    """Everything the ground gives at the checkpoints that were chosen."""
    address, impact = (found.events.get(k) for k in (Checkpoint.ADDRESS, Checkpoint.IMPACT))
    window = _own_address(ground.time_s, ground.address, ground.found, found)
    events = found.events
    if ground.offset_sd_s:  # what is read from the mat at another source's instant is as uncertain as its clock
        events = {
            k: replace(e, uncertainty_s=float(np.hypot(e.uncertainty_s, ground.offset_sd_s))) for k, e in events.items()
        }
    out = _measure(
        ground.time_s, ground.valid, window, np.zeros((7, 7)), ground.traces(window), reading, courses, events
    )
    out += ground.figures(address.time_s if address else None, impact.time_s if impact else None)
    share = courses.get(m.LEAD_SHARE)
    if share is not None and address is not None and impact is not None:
        reading.moments = timing.ground_moments(share, address.time_s, impact, ground.offset_sd_s)
        seen = events if set(reading.present) - {ground.source} else {Checkpoint.IMPACT: events[Checkpoint.IMPACT]}
        out += [
            v._replace(not_judged_reason=ground.not_judged_reason)
            for v in timing.ground_timing(courses, seen, reading.moments)
        ]
        reading.lacking |= timing.unseen(reading.moments)
        out += timing.push_off(courses, impact)
    return out


def _inertial_view(sources: Everything, span: tuple[float, float], state: SessionState) -> ine.InertialView | None:
    if sources.inertial is None:
        return None
    time_s = sources.inertial.main.time_s
    if span[1] <= time_s[0] or span[0] >= time_s[-1]:
        return None
    return ine.view_swing(sources.inertial, span, state)


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


def _lacking(
    sources: Everything,
    inertial: ine.InertialView | None,
    optical: opt.OpticalView | None,
    ground: grd.GroundView | None,
) -> dict[Metric, str]:
    """Reasons that are more exact than *needs this source*."""
    out: dict[Metric, str] = {}
    body = sources.inertial.body if sources.inertial is not None else None
    if body is not None and not body.has_bow:
        for metric in (m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND, m.THORAX_FORWARD_BEND, m.THORAX_SIDE_BEND):
            out[metric] = ine.NO_BOW
    if sources.inertial is not None and sources.inertial.trunk and body is None:
        for metric in (m.PELVIS_TURN, m.THORAX_TURN, m.PELVIS_FORWARD_BEND, m.THORAX_FORWARD_BEND, m.SEPARATION):
            out[metric] = "needs the square upright pose: the body sensors are not calibrated"
    if optical is not None:
        out |= {k: why for k, why in optical.lacking().items() if k not in out}
    if ground is not None:
        out |= ground.lacking()
    elif sources.no_ground:
        out |= dict.fromkeys(GROUND, sources.no_ground)
    elif sources.ground is not None:
        out |= dict.fromkeys(GROUND, "the ground was not recorded during this swing")
    return out


def _disagreement(events: Mapping[Checkpoint, Event]) -> list[str]:
    impact = events.get(Checkpoint.IMPACT)
    if impact is None or not impact.others:
        return []
    apart = max(abs(o.time_s - impact.time_s) - 2 * o.uncertainty_s for o in impact.others)
    return [DISAGREE.format(1000 * apart)] if apart > DISAGREE_S else []


def _measure(
    time_s: Array,
    valid: Mask,
    address: slice,
    covariance: Array,
    seen: Seen,
    reading: SwingReading,
    courses: dict[Metric, Course],
    events: Mapping[Checkpoint, Event] | None = None,
) -> list[Measured]:
    """One view's traces read at the chosen checkpoints, or at ``events``; its traces and courses kept where it is the
    best."""
    if not seen or len(time_s) < 6:
        return []
    step = float(time_s[1] - time_s[0])
    reader = SwingReader(time_s, reading.events if events is None else events, address, covariance, valid)
    stacked = np.column_stack([t.values for _, t in seen])
    rates = derivative(stacked, step)
    _mend_rates(rates, stacked, reading.events, time_s)
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


def _mend_rates(rates: Array, stacked: Array, events: Mapping[Checkpoint, Event], time_s: Array) -> None:
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
