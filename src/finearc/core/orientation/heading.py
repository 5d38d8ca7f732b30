"""A sensor's heading carried from one stretch of a recording into the next that overlaps it.

The filter starts each stretch with a heading of its own. Both stretches saw the overlap, so that the turn about the
vertical between their orientations there is what tells them apart."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.typing import Array

OVERLAP_S = 12.0
EVERY_S = 0.1
"""So long, and so densely, orientations are kept to be found again (house values)."""
STILL_S = 0.4
STILL_RAD_S, TREMBLES_RAD_S = np.deg2rad(0.8), np.deg2rad(6.0)
"""A sensor is held still while it turns no faster over so long, however it trembles about that (house values)."""


@dataclass(frozen=True)
class HeadingMark:
    """``q_up_from_sensor`` (k, 4), xyzw, at ``time_s`` (k,), s, and the ``piece`` (stretch without long gaps) they
    stand in; ``later``: the number of the newest piece."""

    time_s: Array
    q_up_from_sensor: Array
    piece: int
    later: int


def heading_mark(motion: SensorMotion, start_s: float) -> HeadingMark:
    """Orientations from ``start_s`` on. Those of the last piece within ``OVERLAP_S`` are kept: a heading does not carry
    across a long gap."""
    a, b = (int(k) for k in np.searchsorted(motion.time_s, [start_s, start_s + OVERLAP_S]))
    rows = np.arange(a, b, max(1, round(EVERY_S / motion.step_s)))
    known = rows[motion.piece[rows] >= 0]
    piece = int(motion.piece[known[-1]]) if len(known) else -1
    kept = known[motion.piece[known] == piece]
    return HeadingMark(motion.time_s[kept], motion.q_up_from_sensor[kept], piece, int(motion.piece.max(initial=-1)))


def on_marked_heading(motion: SensorMotion, mark: HeadingMark) -> SensorMotion:
    """A stretch read on its own, turned about the vertical so that its headings go on from the mark, its pieces
    numbered on likewise. Without an overlap its pieces count as new: the heading says nothing any more."""
    nearest = np.rint((mark.time_s - motion.time_s[0]) / motion.step_s).astype(np.int64)
    inside = (nearest >= 0) & (nearest < len(motion.time_s))
    rows, q_marked = nearest[inside], mark.q_up_from_sensor[inside]
    if not len(rows) or (motion.piece[rows] < 0).all():
        return replace(motion, piece=np.where(motion.piece >= 0, motion.piece + mark.later + 1, -1))
    piece = int(np.bincount(motion.piece[rows][motion.piece[rows] >= 0]).argmax())
    same = motion.piece[rows] == piece
    turn = yaw_between(motion.q_up_from_sensor[rows[same]], q_marked[same])
    here = motion.piece == piece
    q = motion.q_up_from_sensor.copy()
    q[here] = (Rotation.from_euler("z", turn) * Rotation.from_quat(q[here])).as_quat()
    shift = mark.piece - piece
    return replace(motion, q_up_from_sensor=q, piece=np.where(motion.piece >= 0, motion.piece + shift, -1))


def yaw_between(q_from: Array, q_to: Array) -> float:
    """Angle about the vertical, rad, that best turns orientations ``q_from`` into ``q_to`` (k, 4), xyzw: it maximises
    the sum of cosines of what is left, in closed form."""
    between = (Rotation.from_quat(q_to) * Rotation.from_quat(q_from).inv()).as_matrix()
    return float(np.arctan2((between[:, 1, 0] - between[:, 0, 1]).sum(), (between[:, 0, 0] + between[:, 1, 1]).sum()))


def heading_rate(motion: SensorMotion, start_s: float, end_s: float) -> float:
    """How fast a sensor's heading drifts, rad/s: what its gyroscope, its bias taken off, still reads about the vertical
    while it is held still between two instants, s, trembling averaged out. The filter's own test of rest does not see
    a hand that trembles as still. 0 without three still moments."""
    a, b = (int(k) for k in np.searchsorted(motion.time_s, [start_s, end_s]))
    size = max(4, round(STILL_S / motion.step_s))
    blocks = (b - a) // size
    if blocks < 3:
        return 0.0
    rows = slice(a, a + blocks * size)
    gyr = motion.gyr_rad_s[rows].reshape(blocks, size, 3)
    mean = gyr.mean(axis=1)
    still = (np.linalg.norm(mean, axis=1) < STILL_RAD_S) & (np.linalg.norm(gyr.std(axis=1), axis=1) < TREMBLES_RAD_S)
    if still.sum() < 3:
        return 0.0
    up = matrices_from_quaternions(motion.q_up_from_sensor[rows][size // 2 :: size][still])[:, 2]
    return float(np.median(np.einsum("ij,ij->i", up, mean[still])))
