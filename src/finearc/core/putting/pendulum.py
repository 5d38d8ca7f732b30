"""The putter against a free pendulum: the putter as it stood at address, turned rigidly about a fixed horizontal axis.

The axis is parallel to the ground and square to the vertical plane in which the head moves as it passes the ball; its
place in that plane is fitted, or set. A pendulum starts and turns from rest: going back as half a cosine, coming
through, until 0.1 s after the ball, as a quarter of one.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from finearc.core.typing import Array

PASSAGE_M, AFTER_S = 0.1, 0.1
USUAL_PIVOT_M = (1.0, 1.5)
"""A fitted height outside these is said: sway in step with the stroke cannot be told from another height."""
LEAST_SAMPLES = 20
UP = np.array([0.0, 0.0, 1.0])


@dataclass(frozen=True)
class Swing:
    """A pendulum's turn: ``size`` rad, from rest at ``start_s``, back for ``back_s`` and through in ``through_s``."""

    size: float
    start_s: float
    back_s: float
    through_s: float

    def at(self, time_s: Array) -> Array:
        """What it has turned (n,), rad, + toward the target, until 0.1 s after the ball."""
        t1 = self.start_s + self.back_s
        back = -self.size * (1.0 - np.cos(np.pi * (time_s - self.start_s) / self.back_s)) / 2.0
        through = -self.size * np.cos(np.pi * (time_s - t1) / (2.0 * self.through_s))
        return np.where(time_s < self.start_s, 0.0, np.where(time_s < t1, back, through))


@dataclass(frozen=True)
class Pendulum:
    """``along`` (3,): the horizontal direction of the stroke; ``pivot_m`` (3,): a point of the axis, in the plane of
    the stroke; ``swing``: how it turns; ``residual_m``: RMS distance of both points from it; ``fitted``: whether the
    pivot is fitted, and not set."""

    along: Array
    pivot_m: Array
    swing: Swing
    residual_m: float
    fitted: bool

    @property
    def height_m(self) -> float:
        """Of the pivot, over the ground."""
        return float(self.pivot_m[2])

    @property
    def is_unusual(self) -> bool:
        """Whether its height is none that a player's pivot has."""
        return not USUAL_PIVOT_M[0] <= self.height_m <= USUAL_PIVOT_M[1]

    def place(self, at_address_m: Array, time_s: Array) -> Array:
        """Where a point of the putter (3,), m, would be (n, 3) at times (n,), s."""
        return _turned(at_address_m, self.pivot_m, self.along, self.swing.at(time_s))


def _turned(point_m: Array, pivot_m: Array, along: Array, angle: Array) -> Array:
    """A point (3,) turned by angles (n,) about the axis through the pivot: its part across the plane stays."""
    arm = point_m - pivot_m
    ahead, up = float(arm @ along), float(arm[2])
    c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
    still = point_m - ahead * along - up * UP
    return np.asarray(still + (ahead * c - up * s) * along + (ahead * s + up * c) * UP)


def direction_of(head_m: Array, home_m: Array, time_s: Array, transition_s: float) -> Array | None:
    """Horizontal direction (3,) of the head's motion as it passes the ball: the least-squares line through its ground
    track within 0.1 m of its address place, coming through. None where too little of it was seen."""
    off = (head_m - home_m)[:, :2]
    near = (time_s > transition_s) & (np.linalg.norm(off, axis=1) <= PASSAGE_M)
    track = off[near]
    if len(track) < 4 or np.ptp(track[:, 1]) < 0.05:
        return None
    slope = float(np.polyfit(track[:, 1], track[:, 0], 1)[0])
    way = np.array([slope, 1.0, 0.0])
    return np.asarray(way / np.linalg.norm(way))


def measured_turn(grip_m: Array, head_m: Array, address: slice, along: Array) -> Array:
    """What the putter has turned (n,), rad, in the plane of the stroke since address, + toward the target."""
    shaft = head_m - grip_m
    angle = np.arctan2(shaft @ along, -shaft[:, 2])
    return np.asarray(angle - np.median(angle[address]))


def fit_swing(time_s: Array, turn: Array, start_s: float, transition_s: float, impact_s: float) -> Swing:
    """The pendulum's turn by least squares on a measured one (n,), rad, over times (n,), s."""
    first = np.array(
        [
            max(float(-turn.min()), 0.01),
            start_s,
            max(transition_s - start_s, 0.1),
            max(impact_s - transition_s, 0.05),
        ]
    )

    def missed(x: Array) -> Array:
        return Swing(*x.tolist()).at(time_s) - turn

    found = least_squares(
        missed,
        first,
        x_scale=0.1,
        bounds=([0.002, start_s - 0.5, 0.05, 0.03], [1.5, transition_s, 3.0, 2.0]),
        xtol=1e-12,
        ftol=1e-12,
    )
    return Swing(*(float(v) for v in found.x))


def fit_pendulum(
    time_s: Array,
    grip_m: Array,
    head_m: Array,
    address: slice,
    takeaway_s: float,
    transition_s: float,
    impact_s: float,
    pivot_m: Array | None = None,
) -> Pendulum | None:
    """The free pendulum of a stroke. ``grip_m``, ``head_m`` (n, 3), m, bay, not a number where hidden; ``pivot_m``: set
    by the instructor, else fitted. None where too little was seen."""
    seen = np.asarray(np.isfinite(grip_m).all(axis=1) & np.isfinite(head_m).all(axis=1))
    if not seen[address].any():
        return None
    home_grip, home_head = (np.nanmedian(p[address], axis=0) for p in (grip_m, head_m))
    along = direction_of(head_m[seen], home_head, time_s[seen], transition_s)
    used = seen & (time_s >= takeaway_s) & (time_s <= impact_s + AFTER_S)
    if along is None or used.sum() < LEAST_SAMPLES:
        return None
    shaft = home_head - home_grip
    standing = float(np.arctan2(shaft @ along, -shaft[2]))
    moved = head_m[used] - grip_m[used]
    turn = np.arctan2(moved @ along, -moved[:, 2]) - standing
    swing = fit_swing(time_s[used], turn, takeaway_s, transition_s, impact_s)
    angle = swing.at(time_s[used])
    points = ((home_grip, grip_m[used]), (home_head, head_m[used]))
    fitted = pivot_m is None
    if pivot_m is None:
        pivot_m = _fit_pivot(points, along, angle)
    off = np.concatenate([seen_m - _turned(home, pivot_m, along, angle) for home, seen_m in points])
    residual = float(np.sqrt(np.mean(np.sum(off**2, axis=1))))
    return Pendulum(along, pivot_m, swing, residual, fitted)


def _fit_pivot(points: tuple[tuple[Array, Array], ...], along: Array, angle: Array) -> Array:
    """The pivot (3,): its two coordinates in the plane by linear least squares, as a turned point is
    ``P + R (X - P) = R X + (I - R) P``."""
    rows, wanted = [], []
    c, s = np.cos(angle), np.sin(angle)
    for home, seen in points:
        ahead, up = float(home @ along), float(home[2])
        rows += [np.column_stack([1.0 - c, s]), np.column_stack([-s, 1.0 - c])]
        wanted += [seen @ along - (ahead * c - up * s), seen[:, 2] - (ahead * s + up * c)]
    place, *_ = np.linalg.lstsq(np.concatenate(rows), np.concatenate(wanted), rcond=None)
    across = points[0][0] - (points[0][0] @ along) * along
    return np.asarray(place[0] * along + place[1] * UP + np.array([across[0], across[1], 0.0]))
