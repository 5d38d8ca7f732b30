"""The putter itself: where its face looks, which way its head goes, and how far sweet spot and grip end leave the free
pendulum."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from finearc.core.putting.pendulum import Pendulum, fit_pendulum
from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array

SMOOTH_HZ = 20.0
BEFORE_BALL_S = 0.06
TOWARD_TOE_M, TOWARD_HEEL_M = -0.006, 0.006
"""A ball is struck toward the toe where the sweet spot is so far inside the pendulum at impact, toward the heel where
it is so far outside (house values; the sign is common practice)."""
HOLE_RADIUS_M = 0.054
"""Half the hole's diameter of 108 mm (Rules of Golf, definition of *hole*)."""


@dataclass(frozen=True)
class PutterTrack:
    """The putter over ``time_s`` (n,), s: ``grip_m`` and ``head_m`` (the sweet spot) (n, 3), m, bay; ``face`` (n, 3),
    the face's normal, or None; not a number where hidden. ``address``: samples of its stillness."""

    time_s: Array
    grip_m: Array
    head_m: Array
    face: Array | None
    address: slice


@dataclass(frozen=True)
class Stroke:
    """A track with its instants (s) and the pendulum it is held against, where one can be fitted."""

    track: PutterTrack
    takeaway_s: float
    transition_s: float
    impact_s: float
    pendulum: Pendulum | None = field(default=None)

    def apart(self, which: str, at_s: float) -> Array:
        """How far a point, ``head`` or ``grip``, is from the pendulum's (3,), m: along the target line, out (away from
        the player) and up."""
        seen = self._seen(which)
        now = np.array([_interpolated(self.track.time_s, c, at_s) for c in seen.T])
        off: Array = self._off(which, now[None], np.array([at_s]))[0]
        return off

    def deviation(self, which: str) -> float:
        """Root mean square of the same, all three together, from takeaway to impact, m."""
        t = self.track.time_s
        inside = (t >= self.takeaway_s) & (t <= self.impact_s) & np.isfinite(self._seen(which)[:, 0])
        off = self._off(which, self._seen(which)[inside], t[inside])
        return float(np.sqrt(np.mean(np.sum(off**2, axis=1))))

    def _seen(self, which: str) -> Array:
        return self.track.head_m if which == "head" else self.track.grip_m

    def _off(self, which: str, seen: Array, time_s: Array) -> Array:
        assert self.pendulum is not None
        home = np.nanmedian(self._seen(which)[self.track.address], axis=0)
        off = seen - self.pendulum.place(home, time_s)
        return off[:, [1, 0, 2]]


def stroke_of(
    track: PutterTrack, takeaway_s: float, transition_s: float, impact_s: float, pivot_m: Array | None = None
) -> Stroke:
    """A track held against its free pendulum; ``pivot_m`` (3,): set instead of fitted."""
    pendulum = fit_pendulum(
        track.time_s, track.grip_m, track.head_m, track.address, takeaway_s, transition_s, impact_s, pivot_m
    )
    return Stroke(track, takeaway_s, transition_s, impact_s, pendulum)


def smoothed(values: Array, time_s: Array) -> Array:
    """A course (n, 3) below 20 Hz, its gaps left open."""
    hidden = ~np.isfinite(values).all(axis=1)
    if hidden.all() or len(values) < 2:
        return values
    rows = np.arange(len(values))
    whole = np.column_stack([np.interp(rows, rows[~hidden], c[~hidden]) for c in values.T])
    low = low_pass(whole, SMOOTH_HZ, 1.0 / float(time_s[1] - time_s[0]))
    low[hidden] = np.nan
    return low


def _interpolated(time_s: Array, values: Array, at_s: float) -> float:
    seen = np.isfinite(values)
    return float(np.interp(at_s, time_s[seen], values[seen]))


def heading(direction: Array) -> Array:
    """Heading (n,), rad, of directions (n, 3) against the target line, + to the side away from the player."""
    return np.asarray(np.arctan2(direction[..., 0], direction[..., 1]))


def face_course(track: PutterTrack, impact_s: float | None) -> Array | None:
    """Heading of the face (n,), rad, + open, below 20 Hz: before and after the ball each for itself, as the strike
    turns the head. None without a marker in front of the face; not a number where that was hidden."""
    if track.face is None:
        return None
    ball = len(track.time_s) if impact_s is None else int(np.searchsorted(track.time_s, impact_s))
    return heading(
        np.concatenate([smoothed(track.face[:ball], track.time_s), smoothed(track.face[ball:], track.time_s)])
    )


def velocity_at_ball(track: PutterTrack, impact_s: float) -> Array | None:
    """Velocity of the head (3,), m/s, at the ball: a quadratic through its places in the 60 ms before."""
    near = (track.time_s > impact_s - BEFORE_BALL_S) & (track.time_s <= impact_s) & np.isfinite(track.head_m[:, 0])
    if near.sum() < 5:
        return None
    return np.asarray(np.polyfit(track.time_s[near] - impact_s, track.head_m[near], 2)[1])


def shaft_lean(track: PutterTrack) -> Array:
    """Lean (n,), rad, of the shaft along the target line, + the head ahead of the hands: more loft."""
    shaft = track.head_m - track.grip_m
    return np.asarray(np.arctan2(shaft[:, 1], -shaft[:, 2]))


def strike_side(out_m: float) -> str:
    """Where on the face the ball is struck, from how far the sweet spot is out of the pendulum at impact, m."""
    if out_m < TOWARD_TOE_M:
        return "toe"
    return "heel" if out_m > TOWARD_HEEL_M else "centre"


def strike_hint(deviation_change_rad: float, least_rad: float) -> str:
    """The same from the wrist alone, as a hint: from ulnar to radial through the stroke goes with the heel."""
    if abs(deviation_change_rad) < least_rad:
        return "centre"
    return "heel" if deviation_change_rad > 0 else "toe"


def forgiven(distance_m: float) -> float:
    """How far a putt may start off its line to either side and still drop, rad, for a hole 108 mm wide."""
    return float(np.arctan(HOLE_RADIUS_M / distance_m))
