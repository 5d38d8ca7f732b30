"""What happens when: peak turn rates and their order, the start of the move, smoothness, stretch, straightening."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import WHOLE_SWING, Measured, Metric, Source
from finearc.core.typing import Array

START_M = 0.005
TOGETHER_S = 0.05
"""What counts as a move, and as moving together (house values)."""
PEAK_SD_S = {Source.MARKERS: 0.004, Source.WRIST: 0.004, Source.CLUB: 0.004, Source.BODY: 0.006}


@dataclass(frozen=True)
class Course:
    """A trace as its best source saw it: values (n,), SI, on its own time axis (n,), with its standard uncertainty."""

    time_s: Array
    values: Array
    sd: float
    source: Source

    def between(self, start_s: float, end_s: float) -> tuple[Array, Array]:
        """Times (k,), s, and values (k,), SI, within two instants, hidden samples left out."""
        inside = (self.time_s >= start_s) & (self.time_s <= end_s) & np.isfinite(self.values)
        return self.time_s[inside], self.values[inside]

    def at(self, at_s: float) -> float:
        return float(np.interp(at_s, self.time_s, self.values))


Courses = Mapping[Metric, Course]


@dataclass(frozen=True)
class Peak:
    rate: float
    time_s: float
    sd_s: float
    course: Course


PARTS = (
    (m.PELVIS_TURN_RATE, -1.0, m.PELVIS_PEAK_RATE, m.PELVIS_PEAK_TIME),
    (m.THORAX_TURN_RATE, -1.0, m.THORAX_PEAK_RATE, m.THORAX_PEAK_TIME),
    (m.LEAD_ARM_RATE, 1.0, m.LEAD_ARM_PEAK_RATE, m.LEAD_ARM_PEAK_TIME),
    (m.CLUB_RATE, 1.0, m.CLUB_PEAK_RATE, m.CLUB_PEAK_TIME),
)
GAINS = (m.THORAX_GAIN, m.LEAD_ARM_GAIN, m.CLUB_GAIN)


def _peak(course: Course, sign: float, top_s: float, impact_s: float) -> Peak | None:
    """Largest rate between top and impact, its time by a parabola through the highest three samples."""
    t, values = course.between(top_s, impact_s)
    rate = sign * values
    if len(rate) < 5 or rate.max() <= 0:
        return None
    k = int(np.argmax(rate))
    at, size = float(t[k]), float(rate[k])
    if 0 < k < len(rate) - 1:
        a, b, c = rate[k - 1 : k + 2]
        bend = a - 2 * b + c
        if bend < 0:
            shift = float(np.clip(0.5 * (a - c) / bend, -1.0, 1.0))
            at += shift * float(t[k + 1] - t[k])
            size = float(b - 0.25 * (a - c) * shift)
    return Peak(size, at, PEAK_SD_S[course.source], course)


def sequence_metrics(courses: Courses, events: Mapping[Checkpoint, Event]) -> list[Measured]:
    """Peak rates, their times before impact, gains, and the shortest step from one part's peak to the next one's."""
    if Checkpoint.TOP not in events or Checkpoint.IMPACT not in events:
        return []
    top, impact = events[Checkpoint.TOP], events[Checkpoint.IMPACT]
    out: list[Measured] = []
    peaks: list[Peak | None] = []
    for rate, sign, size, when in PARTS:
        peak = _peak(courses[rate], sign, top.time_s - 0.05, impact.time_s) if rate in courses else None
        peaks.append(peak)
        if peak is None:
            continue
        u = hypot(peak.sd_s, impact.uncertainty_s)
        out.append(
            Measured(size, WHOLE_SWING, peak.rate, max(peak.course.sd, 0.02 * peak.rate), source=peak.course.source)
        )
        out.append(Measured(when, WHOLE_SWING, impact.time_s - peak.time_s, u, source=peak.course.source))
    for gain, before, after in zip(GAINS, peaks[:-1], peaks[1:], strict=True):
        if before is not None and after is not None:
            source = before.course.source if before.course.source is after.course.source else Source.SEVERAL
            ratio = after.rate / before.rate
            out.append(Measured(gain, WHOLE_SWING, ratio, 0.04 * ratio, source=source))
    known = [p for p in peaks if p is not None]
    if len(known) == len(PARTS):
        steps = [(b.time_s - a.time_s, hypot(a.sd_s, b.sd_s)) for a, b in itertools.pairwise(known)]
        gap, u = min(steps)
        sources = {p.course.source for p in known}
        source = sources.pop() if len(sources) == 1 else Source.SEVERAL
        out.append(Measured(m.SEQUENCE_GAP, WHOLE_SWING, gap, u, source=source))
    return out


def start_of_move(courses: Courses, events: Mapping[Checkpoint, Event]) -> list[Measured]:
    """First instant after which pelvis sway gains 5 mm toward the target without returning, minus top; and how far the
    thorax goes the same way in the 0.05 s after it."""
    needed = (Checkpoint.TAKEAWAY, Checkpoint.TOP, Checkpoint.IMPACT)
    if m.PELVIS_SWAY not in courses or any(k not in events for k in needed):
        return []
    sway = courses[m.PELVIS_SWAY]
    takeaway, top, impact = (events[k] for k in needed)
    t, values = sway.between(takeaway.time_s, impact.time_s)
    if len(values) < 5:
        return []
    lowest = int(np.argmin(values))
    if values[-1] - values[lowest] < START_M:
        return []
    at = float(t[lowest])
    bend = _curvature(t, values, lowest)
    u = hypot(sqrt(2.0 * 0.0002 / bend) if bend > 0 else 0.03, top.uncertainty_s)
    out = [Measured(m.START_OF_MOVE, WHOLE_SWING, at - top.time_s, min(u, 0.05), source=sway.source)]
    thorax = courses.get(m.THORAX_SWAY)
    if thorax is not None and at + TOGETHER_S <= thorax.time_s[-1]:
        moved = thorax.at(at + TOGETHER_S) - thorax.at(at)
        if moved == moved:
            out.append(Measured(m.MOVE_TOGETHER, WHOLE_SWING, moved, 0.001, source=thorax.source))
    return out


def _curvature(t: Array, values: Array, k: int) -> float:
    """Second derivative, per s², near sample ``k``."""
    rows = slice(max(0, k - 8), min(len(t), k + 9))
    if rows.stop - rows.start < 5:
        return 0.0
    return 2.0 * float(np.polyfit(t[rows] - t[k], values[rows], 2)[0])


def stretch_and_share(
    courses: Courses, events: Mapping[Checkpoint, Event], values: Mapping[tuple[str, str], Measured]
) -> list[Measured]:
    """Separation stretch, and the share of the thorax turn done at shaft level back."""
    out: list[Measured] = []
    top, impact = events.get(Checkpoint.TOP), events.get(Checkpoint.IMPACT)
    apart = courses.get(m.SEPARATION)
    if top is not None and apart is not None:
        end = impact.time_s if impact is not None else top.time_s + 0.25
        _, course = apart.between(top.time_s, end)
        if len(course):
            stretch = float(course.max()) - apart.at(top.time_s)
            out.append(Measured(m.SEPARATION_STRETCH, WHOLE_SWING, max(0.0, stretch), apart.sd, source=apart.source))
    keys = [(m.THORAX_TURN.id, k) for k in ("address..shaft_level_back", "address..top")]
    if all(k in values for k in keys):
        early, whole = (values[k] for k in keys)
        if whole.value > np.deg2rad(15.0):
            share = early.value / whole.value
            u = hypot(early.uncertainty, share * whole.uncertainty) / whole.value
            out.append(Measured(m.SHARE_OF_TURN, WHOLE_SWING, share, u, source=whole.source))
    return out


def knee_straightening(courses: Courses, events: Mapping[Checkpoint, Event]) -> list[Measured]:
    """Deepest lead-knee flexion between top and impact minus that at impact."""
    knee = courses.get(m.LEAD_KNEE_FLEXION)
    if knee is None or Checkpoint.TOP not in events or Checkpoint.IMPACT not in events:
        return []
    impact = events[Checkpoint.IMPACT].time_s
    _, course = knee.between(events[Checkpoint.TOP].time_s, impact)
    last = knee.at(impact)
    if not len(course) or last != last:
        return []
    return [
        Measured(
            m.LEAD_KNEE_STRAIGHTENING, WHOLE_SWING, float(course.max()) - last, np.deg2rad(1.0), source=knee.source
        )
    ]


def spectral_arc_length(speed: Array, step_s: float, cut_hz: float = 10.0, amplitude: float = 0.05) -> float:
    """Smoothness of a speed profile (n,) of any unit, sampled every ``step_s``, s: the negative length of its amplitude
    spectrum (of height one) up to ``cut_hz``, within where that is above ``amplitude``. No unit; nearer to 0 is
    smoother; -1.41 for a minimum-jerk movement; NaN where a single frequency is left. S. Balasubramanian, A.
    Melendez-Calderon, A. Roby-Brami, E. Burdet, J NeuroEng Rehabil 12:112, 2015, with its values of both limits."""
    n = 1 << (int(np.ceil(np.log2(len(speed)))) + 4)
    spectrum = np.abs(np.fft.fft(speed, n))
    frequency = np.arange(n) / (n * step_s)
    spectrum = spectrum / spectrum.max()
    inside = frequency <= cut_hz
    frequency, spectrum = frequency[inside], spectrum[inside]
    above = np.flatnonzero(spectrum >= amplitude)
    frequency, spectrum = frequency[above[0] : above[-1] + 1], spectrum[above[0] : above[-1] + 1]
    if len(frequency) < 2:
        return float("nan")
    across = np.diff(frequency) / (frequency[-1] - frequency[0])
    return float(-np.sum(np.sqrt(across**2 + np.diff(spectrum) ** 2)))


SMOOTHED = (
    (m.CLUB_RATE, m.SMOOTHNESS),
    (m.HAND_RATE, m.HAND_SMOOTHNESS),
    (m.THORAX_TURN_RATE, m.UPPER_BODY_SMOOTHNESS),
)
"""Speeds, the fastest source first, and what their smoothness is called: each has a range of its own."""


def smoothness(courses: Courses, events: Mapping[Checkpoint, Event]) -> list[Measured]:
    """Spectral arc length of the fastest source's speed from takeaway to top."""
    there = next(((course, metric) for rate, metric in SMOOTHED if (course := courses.get(rate)) is not None), None)
    if there is None or Checkpoint.TAKEAWAY not in events or Checkpoint.TOP not in events:
        return []
    course, metric = there
    t, rate = course.between(events[Checkpoint.TAKEAWAY].time_s, events[Checkpoint.TOP].time_s)
    speed = np.abs(rate)
    if len(speed) < 20 or speed.max() <= 0:
        return []
    value = spectral_arc_length(speed, float(t[1] - t[0]))
    return [] if value != value else [Measured(metric, WHOLE_SWING, value, 0.05, source=course.source)]
