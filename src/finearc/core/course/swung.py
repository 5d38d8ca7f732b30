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
    r = turned_by_gyroscope(between_samples(recording.gyr_rad_s), recording.step_s)
    rates = np.einsum("nij,nj->ni", r, recording.gyr_rad_s)
    across = np.hypot(recording.gyr_rad_s[:, 1], recording.gyr_rad_s[:, 2])  # of the shaft, not about itself
    turning = Turning("club", recording.time_s, across, lambda window: rates[window], _LEAST[shot])
    try:
        windows = find_swings(turning, shot)
    except NoSwingFound:
        return []
    found = (_measured(recording, r, rates, across, window, shot) for window in windows)
    return [s for s in found if s is not None]


_LEAST = {Shot.CHIP: 0.7, Shot.PUTT: 0.6}
"""Of the bay's least speeds: here whatever is too slow is named, not left out."""


def _measured(
    recording: Recording, r: Array, rates: Array, across: Array, window: tuple[float, float], shot: Shot
) -> ClubSwing | None:
    """One swing, or None where its top cannot be found."""
    a, b = np.searchsorted(recording.time_s, window)
    time_s, step_s = recording.time_s[a:b], recording.step_s
    speed, felt = across[a:b], recording.acc_m_s2[a:b]
    if len(time_s) < 20:
        return None
    peak = int(np.argmax(moving_mean(speed, max(1, round(0.02 / step_s)))))
    struck = shock(time_s, felt, float(time_s[peak]), STRIKE_LEAST[shot])
    impact_s = None if struck is None else struck[0]
    near_s = float(time_s[peak]) if impact_s is None else impact_s
    top, _ = find_top(time_s, rates[a:b], near_s, "club")
    if top is None:
        return None
    takeaway, moved_at = find_takeaway(time_s, speed, top.time_s, "club")
    if takeaway is None:  # the clip woke in the middle, or the club went to and fro before
        moved_at = _turned_back(time_s, rates[a:b], top.time_s, near_s)
    shaft = r[a:b, :, 0]
    at_top = int(np.searchsorted(time_s, top.time_s))
    low_s = _bottom(time_s, shaft, moved_at, at_top, near_s)
    up, level_sd, rest_s = _up(r, recording, across, a + moved_at if takeaway is not None else a)
    elevation = np.arcsin(np.clip(shaft @ up, -1.0, 1.0))
    steps = np.linalg.norm(np.diff(shaft, axis=0), axis=1)
    after = int(np.searchsorted(time_s, low_s + AFTER_S))
    at_low = int(np.searchsorted(time_s, low_s))
    swept = float(steps[moved_at:at_top].sum())
    carried_s = abs(top.time_s - rest_s)
    saturated = bool(clipped_runs(recording.gyr_rad_s[a:b]).any())
    fast = slice(at_top, min(len(speed), at_low + max(2, round(0.06 / step_s))))
    return ClubSwing(
        recording.club,
        float(window[0]),
        float(window[1]),
        float(time_s[moved_at]),
        top.time_s,
        low_s,
        impact_s,
        bool(is_unstruck(time_s, felt, near_s)),
        float(np.interp(top.time_s, time_s, elevation)),
        float(np.sqrt(level_sd**2 + (recording.offset_sd * carried_s) ** 2 + (SCALE_SD * swept) ** 2)),
        swept,
        _through(rates[a:b], at_top, at_low, after, step_s),
        float(speed[fast].max(initial=0.0)),
        _smoothness(speed[moved_at:at_top], step_s),
        None if takeaway is None else _standing(speed, moved_at, step_s),
        saturated,
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


def _through(rates: Array, at_top: int, at_low: int, after: int, step_s: float) -> float:
    """How far the club goes on, rad, about the axis about which it came down; less than nothing where it comes back."""
    came = rates[at_top:at_low].mean(axis=0) if at_low > at_top else rates[at_low]
    way = np.cumsum(rates[at_low:after] @ unit(came)) * step_s
    return float(way.max(initial=0.0))


def _up(r: Array, recording: Recording, across: Array, moved_at: int) -> tuple[Array, float, float]:
    """Up (3,) in the frame that the gyroscopes turn in, how well it is known, rad, and the middle of the rest that told
    it, s: the stillness before sample ``moved_at``, else the longest after the swing. Where the club never stood,
    gravity is what is felt on the average."""
    felt, time_s = recording.acc_m_s2, recording.time_s
    _, still, why = (
        find_address(time_s[: moved_at + 1], across[: moved_at + 1], moved_at) if moved_at > 20 else _NO_REST
    )
    if not why:
        begin = max(0, min(still.start, still.stop - round(REST_BEFORE_S / recording.step_s)))
        rows = _quiet(felt, across, begin, still.stop)
    else:
        rows = _quiet(felt, across, moved_at, len(felt))
    if len(rows) < LEAST_QUIET:
        return unit(np.einsum("nij,nj->ni", r, felt).mean(axis=0)), float(UNLEVELLED_SD_RAD), float(time_s.mean())
    up = unit(np.einsum("nij,nj->ni", r[rows], felt[rows]).mean(axis=0))
    return up, float(LEVEL_SD_RAD), float(time_s[rows].mean())


LEAST_QUIET = 10
_NO_REST = (None, slice(0, 0), "the clip woke in the middle of the swing")


def _quiet(felt: Array, across: Array, begin: int, end: int) -> Index:
    """The samples in which the club hardly turns and gravity is all that is felt."""
    gravity = np.abs(np.linalg.norm(felt[begin:end], axis=1) - GRAVITY_M_S2) < 0.6
    return np.flatnonzero(gravity & (across[begin:end] < np.deg2rad(14.0))) + begin


def _standing(speed: Array, moved_at: int, step_s: float) -> float:
    """How long the club stood still before it moved, s, as far as it was logged."""
    moving = np.flatnonzero(moving_mean(speed[: moved_at + 1], max(1, round(0.05 / step_s))) > np.deg2rad(14.0))
    return float((moved_at - (int(moving[-1]) if len(moving) else 0)) * step_s)
