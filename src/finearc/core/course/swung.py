"""What a club does in one recording: its swings, measured with the definitions of the bay, from the clip alone."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.course.clip_log import Recording
from finearc.core.errors import NoSwingFound
from finearc.core.events.checkpoints import find_address, find_takeaway, find_top, is_unstruck, shock
from finearc.core.events.swings import Shot, find_swings
from finearc.core.events.turning import Turning
from finearc.core.frames.rotations import unit
from finearc.core.metrics.sequence import spectral_arc_length
from finearc.core.orientation.fusion import between_samples
from finearc.core.orientation.strapdown import turned_by_gyroscope
from finearc.core.signals.grid import moving_mean
from finearc.core.signals.streams import GRAVITY_M_S2, clipped_runs
from finearc.core.typing import Array

Index = np.ndarray[tuple[int], np.dtype[np.intp]]

PUTTER = "putter"
LEVEL_SD_RAD = np.deg2rad(0.22)
"""What the accelerometer's own offset and hands that are not quite still leave open in the shaft's elevation at rest
(house value)."""
SCALE_SD = 0.002
"""Of a gyroscope's scale (house value)."""
UNLEVELLED_SD_RAD = np.deg2rad(4.0)
"""Where nothing stood still before the swing (house value)."""
REST_BEFORE_S = 0.5
STRIKE_LEAST = {Shot.CHIP: 10.0, Shot.PUTT: 1.5}
"""A strike bends the clip's forces at least so much between samples, m/s² (house values: the sharpest of 300 simulated
practice swings 6 and 0.3, the softest of 480 strikes 13 and 1.8)."""
SLOW_STEP_S = 1.0 / 150.0
"""A strike rings for some 10 ms: between samples farther apart than this it can be lost (house value)."""
AFTER_S = 0.4
"""So long after the ball the way through is looked at."""


@dataclass(frozen=True)
class ClubSwing:
    """One swing of a club on the recording's clock, s and rad. ``low_s``: when the head passes the bottom, ``impact_s``
    the strike, None where none was felt, ``unstruck`` whether one would have been felt. ``elevation`` of the shaft at
    the top with its standard uncertainty (+ short of level), ``swept`` by the shaft from the takeaway to the top,
    ``through`` in the 0.4 s after the bottom, on in the direction in which it came down, ``peak_rad_s`` of the shaft's
    turning, ``saturated`` where the gyroscope went past its range: the peak is at least that. ``standing``: how long
    the club stood still before, s, None where the clip woke in the middle of the swing."""

    club: str
    start_s: float
    end_s: float
    takeaway_s: float
    top_s: float
    low_s: float
    impact_s: float | None
    unstruck: bool
    elevation: float
    elevation_sd: float
    swept: float
    through: float
    peak_rad_s: float
    smoothness: float | None
    standing: float | None
    saturated: bool

    @property
    def back_s(self) -> float:
        """From the takeaway to the top."""
        return self.top_s - self.takeaway_s

    @property
    def down_s(self) -> float:
        """From the top to the ball, or to the bottom without one."""
        return (self.low_s if self.impact_s is None else self.impact_s) - self.top_s

    @property
    def tempo(self) -> float:
        """Time back over time down."""
        return self.back_s / max(self.down_s, 1e-3)


def swings_in(recording: Recording) -> list[ClubSwing]:
    """Whatever goes back and comes down again, whether it was meant for a ball or not; none where nothing does."""
    shot = Shot.PUTT if recording.club == PUTTER else Shot.CHIP
    seen = _seen(recording)
    turning = Turning("club", seen.time_s, seen.speed, lambda window: seen.rates[window], _LEAST[shot])
    try:
        windows = find_swings(turning, shot)
    except NoSwingFound:
        return []
    found = (_measured(recording, seen, window, shot) for window in windows)
    return [s for s in found if s is not None]


_LEAST = {Shot.CHIP: 0.7, Shot.PUTT: 0.6}
"""Of the bay's least speeds: here whatever is too slow is named, not left out."""


@dataclass(frozen=True)
class _Seen:
    """A recording, or a window of it (n), in the frame in which its gyroscopes turn: ``r`` (n, 3, 3) to it from the
    sensor, ``rates`` (n, 3), rad/s, ``speed`` (n,) of the shaft, rad/s, ``felt`` (n, 3), m/s², sensor axes."""

    time_s: Array
    r: Array
    rates: Array
    speed: Array
    felt: Array
    step_s: float

    @property
    def shaft(self) -> Array:
        """Where the shaft points (n, 3)."""
        return self.r[:, :, 0]

    def between(self, a: int, b: int) -> _Seen:
        """The samples from ``a`` on and before ``b``."""
        k = slice(a, b)
        return _Seen(self.time_s[k], self.r[k], self.rates[k], self.speed[k], self.felt[k], self.step_s)


def _seen(recording: Recording) -> _Seen:
    gyr = recording.gyr_rad_s
    r = turned_by_gyroscope(between_samples(gyr), recording.step_s)
    across = np.hypot(gyr[:, 1], gyr[:, 2])  # of the shaft, not about itself
    rates = np.einsum("nij,nj->ni", r, gyr)
    return _Seen(recording.time_s, r, rates, across, recording.acc_m_s2, recording.step_s)


@dataclass(frozen=True)
class _Marks:
    """Where a swing turns, as samples of its window and s: ``moved_at`` the takeaway, ``woke`` whether the clip woke
    only then, ``top_s``, ``low_s`` the bottom, ``impact_s``, ``near_s`` that or the fastest moment."""

    moved_at: int
    woke: bool
    top_s: float
    at_top: int
    low_s: float
    at_low: int
    impact_s: float | None
    near_s: float


def _marks(w: _Seen, shot: Shot) -> _Marks | None:
    """None where the top cannot be found."""
    peak_s = float(w.time_s[np.argmax(moving_mean(w.speed, max(1, round(0.02 / w.step_s))))])
    struck = shock(w.time_s, w.felt, peak_s, STRIKE_LEAST[shot])
    near_s = peak_s if struck is None else struck[0]
    top, _ = find_top(w.time_s, w.rates, near_s, "club")
    if top is None:
        return None
    takeaway, moved_at = find_takeaway(w.time_s, w.speed, top.time_s, "club")
    if takeaway is None:  # the clip woke in the middle, or the club went to and fro before
        moved_at = _turned_back(w.time_s, w.rates, top.time_s, near_s)
    at_top = int(np.searchsorted(w.time_s, top.time_s))
    low_s = _bottom(w.time_s, w.shaft, moved_at, at_top, near_s)
    at_low = int(np.searchsorted(w.time_s, low_s))
    impact_s = None if struck is None else struck[0]
    return _Marks(moved_at, takeaway is None, top.time_s, at_top, low_s, at_low, impact_s, near_s)


def _measured(recording: Recording, seen: _Seen, window: tuple[float, float], shot: Shot) -> ClubSwing | None:
    """One swing, or None where its top cannot be found."""
    a, b = (int(k) for k in np.searchsorted(recording.time_s, window))
    w = seen.between(a, b)
    marks = _marks(w, shot) if len(w.time_s) >= LEAST_WINDOW else None
    if marks is None:
        return None
    up, level_sd, rest_s = _up(seen, a if marks.woke else a + marks.moved_at)
    elevation = np.arcsin(np.clip(w.shaft @ up, -1.0, 1.0))
    going_back = slice(marks.moved_at, marks.at_top)
    swept = float(np.linalg.norm(np.diff(w.shaft, axis=0), axis=1)[going_back].sum())
    drift = recording.offset_sd * abs(marks.top_s - rest_s)
    coming_down = slice(marks.at_top, marks.at_low + max(2, round(0.06 / w.step_s)))
    return ClubSwing(
        club=recording.club,
        start_s=float(window[0]),
        end_s=float(window[1]),
        takeaway_s=float(w.time_s[marks.moved_at]),
        top_s=marks.top_s,
        low_s=marks.low_s,
        impact_s=marks.impact_s,
        unstruck=w.step_s < SLOW_STEP_S and bool(is_unstruck(w.time_s, w.felt, marks.near_s)),
        elevation=float(np.interp(marks.top_s, w.time_s, elevation)),
        elevation_sd=float(np.sqrt(level_sd**2 + drift**2 + (SCALE_SD * swept) ** 2)),
        swept=swept,
        through=_through(w, marks),
        peak_rad_s=float(w.speed[coming_down].max(initial=0.0)),
        smoothness=_smoothness(w.speed[going_back], w.step_s),
        standing=None if marks.woke else _standing(w.speed, marks.moved_at, w.step_s),
        saturated=bool(clipped_runs(recording.gyr_rad_s[a:b]).any()),
    )


def _turned_back(time_s: Array, rates: Array, top_s: float, near_s: float) -> int:
    """The sample at which the club last began to go back before the top: from there on it turned against the way in
    which it came down; the first where it did all along."""
    at_top, near = (int(k) for k in np.searchsorted(time_s, [top_s, near_s]))
    along = rates[:at_top] @ unit(rates[at_top : max(at_top + 2, near)].mean(axis=0))
    forward = np.flatnonzero(along[: max(1, at_top - 3)] > 0.0)
    return int(forward[-1]) + 1 if len(forward) else 0


def _bottom(time_s: Array, shaft: Array, moved_at: int, at_top: int, near_s: float) -> float:
    """When the shaft comes back nearest to where it pointed before the takeaway, between the top and 0.15 s after the
    fastest moment or the strike, s."""
    stop = int(np.searchsorted(time_s, near_s + 0.15))
    way = shaft[at_top:stop] @ shaft[moved_at]
    return float(time_s[at_top + int(np.argmax(way))]) if len(way) else near_s


def _smoothness(speed: Array, step_s: float) -> float | None:
    """Spectral arc length of the speed (n,), rad/s, going back; None where too little was logged."""
    if len(speed) < LEAST_QUIET:
        return None
    length = spectral_arc_length(speed, step_s)
    return length if np.isfinite(length) else None


def _through(w: _Seen, marks: _Marks) -> float:
    """How far the club goes on in the 0.4 s after the bottom, rad, about the axis about which it came down."""
    came = w.rates[marks.at_top : max(marks.at_top + 1, marks.at_low)].mean(axis=0)
    after = int(np.searchsorted(w.time_s, marks.low_s + AFTER_S))
    way = np.cumsum(w.rates[marks.at_low : after] @ unit(came)) * w.step_s
    return float(way.max(initial=0.0))


def _up(seen: _Seen, moved_at: int) -> tuple[Array, float, float]:
    """Up (3,) in the frame that the gyroscopes turn in, how well it is known, rad, and the middle of the rest that told
    it, s: the stillness before sample ``moved_at`` of the recording, else whatever rest there is after it. Where the
    club never stood, gravity is what is felt on the average."""
    rows = _rest_before(seen, moved_at)
    if len(rows) < LEAST_QUIET:
        rows = _quiet(seen, moved_at, len(seen.time_s))
    told = len(rows) >= LEAST_QUIET
    used = rows if told else slice(None)
    up = unit(np.einsum("nij,nj->ni", seen.r[used], seen.felt[used]).mean(axis=0))
    return up, float(LEVEL_SD_RAD if told else UNLEVELLED_SD_RAD), float(seen.time_s[used].mean())


def _rest_before(seen: _Seen, moved_at: int) -> Index:
    """The samples of the last stillness before one, at most half a second of it; none where nothing stood still."""
    if moved_at < LEAST_WINDOW:
        return np.empty(0, dtype=np.intp)
    _, still, why = find_address(seen.time_s[: moved_at + 1], seen.speed[: moved_at + 1], moved_at)
    if why:
        return np.empty(0, dtype=np.intp)
    return _quiet(seen, max(0, min(still.start, still.stop - round(REST_BEFORE_S / seen.step_s))), still.stop)


LEAST_QUIET, LEAST_WINDOW = 10, 20
"""Samples: fewer tell nothing (house values)."""


def _quiet(seen: _Seen, begin: int, end: int) -> Index:
    """The samples in which the club hardly turns and gravity is all that is felt."""
    felt = np.linalg.norm(seen.felt[begin:end], axis=1)
    quiet = (np.abs(felt - GRAVITY_M_S2) < 0.6) & (seen.speed[begin:end] < np.deg2rad(14.0))
    return np.flatnonzero(quiet) + begin


def _standing(speed: Array, moved_at: int, step_s: float) -> float:
    """How long the club stood still before it moved, s, as far as it was logged."""
    moving = np.flatnonzero(moving_mean(speed[: moved_at + 1], max(1, round(0.05 / step_s))) > np.deg2rad(14.0))
    return float((moved_at - (int(moving[-1]) if len(moving) else 0)) * step_s)
