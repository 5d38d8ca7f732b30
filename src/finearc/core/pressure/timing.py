"""When the pressure moves: trail peak, return, even, lead peak, push-off, and its lead over the body."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np

from finearc.core.events.model import Checkpoint, Event, event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import WHOLE_SWING, Measured, Metric, Moment, Source
from finearc.core.metrics.sequence import Course, Courses
from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array
from finearc.wording import tr

WITHIN = 0.02
"""The trail share counts as still at its peak while it stays within this of it."""
AFTER_IMPACT_S = 0.30
PUSH_BEFORE_S, PUSH_AFTER_S = 0.08, 0.04
"""Push-off is read from so long before impact to so long after it (house values)."""
SHARE_NOISE, SHARE_SD = 0.0008, 0.0015
"""Of a filtered lead share: from frame to frame, and in all (measured on the golfer model, docs/validation.md)."""
SHARE_HZ = 15.0
LEAST_SWING = 0.03
"""A trail peak that stands out by less than this over the address is none (house value)."""
LAG_HZ, LAG_LIMIT_S, LAG_STEP_S, LAG_FIT = 8.0, 0.35, 0.005, 0.5
"""For the lead over the body: cut-off, farthest shift, step, and the least correlation that counts (house values)."""
REFERENCES = (Checkpoint.ARM_LEVEL_BACK, Checkpoint.TOP, Checkpoint.IMPACT)
TIMES: tuple[tuple[str, Metric, tuple[Checkpoint, ...]], ...] = (
    ("trail_peak", m.TRAIL_PEAK_TIME, REFERENCES),
    ("return", m.RETURN_TIME, (Checkpoint.TOP, Checkpoint.IMPACT)),
    ("even", m.EVEN_TIME, (Checkpoint.TOP, Checkpoint.IMPACT)),
    ("lead_peak", m.LEAD_PEAK_TIME, (Checkpoint.TOP, Checkpoint.IMPACT)),
)


@dataclass(frozen=True)
class GroundMoments:
    """Instants of the pressure's own course by name, and the peak shares."""

    events: Mapping[str, Event]
    peak_trail: float
    peak_lead: float | None


def ground_moments(share: Course, address_s: float, impact: Event, offset_sd_s: float = 0.0) -> GroundMoments | None:
    """Instants of the lead share's course between address and impact, or None when nothing moves."""
    t, values = share.between(address_s, impact.time_s + AFTER_IMPACT_S)
    if len(values) < 12:
        return None
    smooth = low_pass(values, SHARE_HZ, (len(t) - 1) / float(t[-1] - t[0]))
    last = int(np.searchsorted(t, impact.time_s, side="right"))
    step = float(np.median(np.diff(t)))
    base = hypot(step / sqrt(12.0), offset_sd_s)
    low = int(np.argmin(smooth[:last]))
    if smooth[0] - smooth[low] < LEAST_SWING:
        return GroundMoments({}, 1.0 - float(smooth[low]), None)
    at, least, bend = _vertex(t, smooth, low)
    events = {"trail_peak": _event(at, bend, base)}
    even = np.flatnonzero((smooth[low:-1] < 0.5) & (smooth[low + 1 :] >= 0.5))
    if len(even):
        events["even"] = _crossing(t, smooth, low + int(even[0]) + 1, 0.5, base)
    back = low + int(even[0]) + 1 if len(even) else last
    started = _return(t, smooth, slice(low, back), least, base)
    if started is not None:
        events["return"] = started
    high = low + int(np.argmax(smooth[low:]))
    at, most, bend = _vertex(t, -smooth, high)
    if high < len(t) - 1:
        events["lead_peak"] = _event(at, bend, base)
    return GroundMoments(events, 1.0 - least, -most)


def _event(at_s: float, bend: float, base_s: float) -> Event:
    """A flat peak is less certain in time than a sharp one."""
    flat = sqrt(2.0 * SHARE_NOISE / bend) / 2.0 if bend > 0 else 0.05
    return event(at_s, hypot(base_s, min(flat, 0.05)), "ground")


def _return(t: Array, smooth: Array, span: slice, least: float, base_s: float) -> Event | None:
    """The last instant in ``span`` before which the course stays within ``WITHIN`` of ``least``. How far that instant
    moves when the limit does by the noise of a share is part of its uncertainty: a ripple that nearly touches it
    leaves it open."""
    found = []
    for level in (WITHIN - SHARE_SD, WITHIN, WITHIN + SHARE_SD):
        within = np.flatnonzero(smooth[span] <= least + level)
        k = span.start + int(within[-1]) + 1 if len(within) else span.start
        if k >= len(smooth):
            return None
        found.append(_crossing(t, smooth, k, least + level, base_s))
    open_s = (found[2].time_s - found[0].time_s) / 2.0
    return event(found[1].time_s, hypot(found[1].uncertainty_s, open_s), "ground")


def _crossing(t: Array, values: Array, k: int, level: float, base_s: float) -> Event:
    """Where the course passes ``level`` on its way to sample ``k``."""
    a, b = max(k - 1, 0), k
    rise = float(values[b] - values[a])
    share = (level - float(values[a])) / rise if rise > 1e-9 else 1.0
    at = float(t[a]) + min(max(share, 0.0), 1.0) * float(t[b] - t[a])
    slope = max(rise / max(float(t[b] - t[a]), 1e-9), 0.02)
    return event(at, hypot(base_s, min(SHARE_NOISE / slope, 0.05)), "ground")


def _vertex(t: Array, values: Array, k: int) -> tuple[float, float, float]:
    """Least value near sample ``k``: its time, the value and the second derivative, by a parabola over 80 ms."""
    step = float(t[1] - t[0])
    reach = max(1, round(0.04 / step))
    rows = slice(max(0, k - reach), min(len(t), k + reach + 1))
    if rows.stop - rows.start < 3:
        return float(t[k]), float(values[k]), 0.0
    a, b, _ = np.polyfit(t[rows] - t[k], values[rows], 2)
    shift = float(np.clip(-b / (2 * a), -reach * step, reach * step)) if a > 0 else 0.0
    return float(t[k]) + shift, float(values[k]), 2.0 * float(a)


def unseen(moments: GroundMoments | None) -> dict[Metric, str]:
    """Why instants of the pressure's course are not there."""
    known = moments.events if moments is not None else {}
    if "trail_peak" not in known:
        return {metric: tr("the pressure does not move to the trail foot") for _, metric, _ in TIMES}
    reasons = {
        "return": tr("the pressure does not come back before the recording of the swing ends"),
        "even": tr("the pressure does not pass the middle"),
        "lead_peak": tr("the share of the lead foot still rises 0.3 s after impact"),
    }
    return {metric: reasons[name] for name, metric, _ in TIMES if name not in known}


def ground_timing(
    courses: Courses, events: Mapping[Checkpoint, Event], moments: GroundMoments | None
) -> list[Measured]:
    """Peak shares and the times of the pressure's own instants against the checkpoints that were seen."""
    if moments is None:
        return []
    source = courses[m.LEAD_SHARE].source
    out = [Measured(m.PEAK_TRAIL_SHARE, WHOLE_SWING, moments.peak_trail, 0.004, source=source)]
    if moments.peak_lead is not None:
        out.append(Measured(m.PEAK_LEAD_SHARE, WHOLE_SWING, moments.peak_lead, 0.004, source=source))
    for name, metric, references in TIMES:
        seen = moments.events.get(name)
        for key in references if seen is not None else ():
            against = events.get(key)
            if seen is not None and against is not None:
                u = hypot(seen.uncertainty_s, against.uncertainty_s)
                out.append(Measured(metric, Moment(key), seen.time_s - against.time_s, u, source=source))
    return out


def push_off(courses: Courses, impact: Event | None) -> list[Measured]:
    """Force that the trail foot lets go of through impact, over the standing weight."""
    trail, share = courses.get(m.TRAIL_FORCE), courses.get(m.LEAD_SHARE)
    if impact is None or trail is None or share is None or impact.method == "vertical-force-peak":
        return []
    before, after = impact.time_s - PUSH_BEFORE_S, impact.time_s + PUSH_AFTER_S
    let_go = trail.at(before) - trail.at(after)
    rises = share.at(after) - share.at(before)
    if let_go != let_go or rises != rises:
        return []
    value = let_go if rises > 0 else min(let_go, 0.0)
    rate = abs(let_go) / (PUSH_BEFORE_S + PUSH_AFTER_S)
    return [
        Measured(m.TRAIL_PUSH_OFF, WHOLE_SWING, value, hypot(0.01, rate * impact.uncertainty_s), source=trail.source)
    ]


def lags(courses: Courses, events: Mapping[Checkpoint, Event], offset_sd_s: float = 0.0) -> list[Measured]:
    """How much sooner the pressure moves than the pelvis sways, and than it turns."""
    pressure = courses.get(m.STANCE_POSITION)
    takeaway, impact = events.get(Checkpoint.TAKEAWAY), events.get(Checkpoint.IMPACT)
    if pressure is None or takeaway is None or impact is None:
        return []
    out = []
    for body, sign, metric in (
        (m.PELVIS_SWAY, 1.0, m.PRESSURE_BEFORE_SWAY),
        (m.PELVIS_TURN, -1.0, m.PRESSURE_BEFORE_TURN),
    ):
        if body not in courses:
            continue
        found = lead_of(pressure, courses[body], sign, takeaway.time_s, impact.time_s)
        if found is not None:
            out.append(Measured(metric, WHOLE_SWING, found, hypot(0.015, offset_sd_s), source=Source.SEVERAL))
    return out


def lead_of(first: Course, second: Course, sign: float, start_s: float, end_s: float) -> float | None:
    """Seconds by which ``first`` runs ahead of ``sign`` times ``second``: the shift at which their rates correlate
    best, or None when they never do well."""
    a = _rates(first, start_s - LAG_LIMIT_S, end_s + LAG_LIMIT_S)
    b = _rates(second, start_s - LAG_LIMIT_S, end_s + LAG_LIMIT_S)
    reach = round(LAG_LIMIT_S / LAG_STEP_S)
    inner = slice(reach, len(b) - reach)
    if inner.stop - inner.start < 20 or not np.isfinite(a).all() or not np.isfinite(b[inner]).all():
        return None
    wanted = sign * b[inner]
    fits = []
    for k in range(-reach, reach + 1):
        moved = a[inner.start - k : inner.stop - k]
        size = float(np.linalg.norm(moved) * np.linalg.norm(wanted))
        fits.append(float(moved @ wanted) / size if size > 0 else 0.0)
    best = int(np.argmax(fits))
    if fits[best] < LAG_FIT or best in (0, 2 * reach):
        return None
    left, here, right = fits[best - 1 : best + 2]
    bend = left - 2 * here + right
    shift = 0.5 * (left - right) / bend if bend < 0 else 0.0
    return (best - reach + shift) * LAG_STEP_S


def _rates(course: Course, start_s: float, end_s: float) -> Array:
    """Rates of a course on an even grid."""
    grid = np.arange(start_s, end_s, LAG_STEP_S)
    known = np.isfinite(course.values)
    values = np.interp(grid, course.time_s[known], course.values[known])
    return np.asarray(np.gradient(low_pass(values, LAG_HZ, 1.0 / LAG_STEP_S), LAG_STEP_S))
