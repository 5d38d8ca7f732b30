"""Orientation of a sensor in a vertical frame of its own, by a published filter.

VQF, offline variant (D. Laidig and T. Seel, Information Fusion 91:187, 2023,
doi:10.1016/j.inffus.2022.10.014), six axes: rest detection and gyroscope bias estimation included.
It takes rad/s and m/s² and gives ``wxyz``; everything here is ``xyzw``. Each sensor's frame has z up and
a heading of its own: headings of two sensors are tied together by calibration.

During a fast swing a wrist sensor feels 10 to 20 g, often past its range, and what it clips no longer
averages out. There gravity is carried by the gyroscopes alone: the accelerometer is replaced by the
gravity direction known before the fast stretch, turned by the gyroscopes.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from vqf import VQF, offlineVQF

from finearc.core.frames.rotations import matrices_from_quaternions, unit
from finearc.core.signals.streams import GRAVITY_M_S2, CleanStream, Segment
from finearc.core.typing import Array, Mask

MIN_PIECE_S = 1.0
FAST_RAD_S = np.deg2rad(300.0)
FAST_MARGIN_S = 0.25
CALM_S = 0.15
CALM_RAD_S = np.deg2rad(15.0)
LONGEST_FAST_S = 3.0
"""Longer fast stretches are left alone: gyroscopes alone would drift."""


@dataclass(frozen=True)
class SensorMotion:
    """A sensor's motion on the capture's grid.

    ``q_up_from_sensor`` (n, 4) ``xyzw``; ``gyr_rad_s`` (n, 3) with the bias removed, sensor axes;
    ``bias_rad_s`` (3,) median; ``rest`` (n,) still by the filter's own test;
    ``piece`` (n,) numbers the stretches between long gaps (headings do not carry across), -1 inside a gap.
    """

    segment: Segment
    time_s: Array
    acc_m_s2: Array
    gyr_rad_s: Array
    q_up_from_sensor: Array
    bias_rad_s: Array
    rest: Mask
    piece: np.ndarray[tuple[int], np.dtype[np.int64]]
    felt_time_s: Array
    felt_m_s2: Array
    clipped: tuple[tuple[float, float], ...] = ()

    @property
    def step_s(self) -> float:
        return float(self.time_s[1] - self.time_s[0])


def _pieces(valid: Mask) -> list[tuple[int, int]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], valid, [False]]).astype(np.int8)))
    return [(int(a), int(b)) for a, b in edges.reshape(-1, 2)]


def fast_stretches(gyr_rad_s: Array, step_s: float) -> list[tuple[int, int]]:
    """Index ranges in which the sensor turns fast, with a margin, joined when closer than 0.2 s; ``gyr_rad_s`` (n, 3),
    rad/s in sensor axes, sampled every ``step_s``, s. Longer ones than ``LONGEST_FAST_S`` are left out."""
    fast = np.einsum("ij,ij->i", gyr_rad_s, gyr_rad_s) > FAST_RAD_S**2
    if not fast.any():
        return []
    index = np.flatnonzero(fast)
    breaks = np.flatnonzero(np.diff(index) > 0.2 / step_s)
    starts = np.concatenate([[index[0]], index[breaks + 1]])
    ends = np.concatenate([index[breaks], [index[-1]]]) + 1
    margin = int(FAST_MARGIN_S / step_s)
    n = len(gyr_rad_s)
    spans = [(max(0, int(a) - margin), min(n, int(b) + margin)) for a, b in zip(starts, ends, strict=True)]
    return [(a, b) for a, b in spans if (b - a) * step_s <= LONGEST_FAST_S]


def _calm_before(gyr_rad_s: Array, start: int, end: int, step_s: float) -> int | None:
    """Last index at or up to 1 s before ``start`` that ends a calm stretch, or None."""
    first = max(0, start - int(1.0 / step_s))
    slow = np.einsum("ij,ij->i", gyr_rad_s[first:end], gyr_rad_s[first:end]) < CALM_RAD_S**2
    width = max(2, int(CALM_S / step_s))
    runs = np.convolve(slow, np.ones(width), "valid") >= width
    fast = np.flatnonzero(~slow[start - first :])
    limit = start - first + (int(fast[0]) if len(fast) else 0)
    ends = np.flatnonzero(runs[: max(0, limit - width + 1)])
    return first + int(ends[-1]) + width - 1 if len(ends) else None


def carry_gravity(acc_m_s2: Array, gyr_rad_s: Array, step_s: float) -> Array:
    """Specific force (n, 3), m/s² in sensor axes, with fast stretches that follow a calm moment replaced by gravity
    carried by the gyroscopes (n, 3), rad/s, sampled every ``step_s``, s. Their bias is taken from the calm moments of
    the recording."""
    stretches = fast_stretches(gyr_rad_s, step_s)
    if not stretches:
        return acc_m_s2
    slow = np.einsum("ij,ij->i", gyr_rad_s, gyr_rad_s) < CALM_RAD_S**2
    bias = np.median(gyr_rad_s[slow], axis=0) if slow.any() else np.zeros(3)
    width = max(2, int(CALM_S / step_s))
    calm = acc_m_s2.copy()
    for start, b in stretches:
        a = _calm_before(gyr_rad_s, start, b, step_s)
        if a is None:
            continue
        up = unit(acc_m_s2[max(0, a - width) : a + 1].mean(axis=0))
        turning = _gyro_only(gyr_rad_s[a:b] - bias, step_s)
        calm[a:b] = GRAVITY_M_S2 * np.einsum("nji,j->ni", turning, turning[0] @ up)
    return calm


def _gyro_only(gyr_rad_s: Array, step_s: float) -> Array:
    """Rotations (n, 3, 3) by the gyroscopes alone: the filter passes over zero forces."""
    strapdown = VQF(step_s, motionBiasEstEnabled=False, restBiasEstEnabled=False)
    out = strapdown.updateBatch(np.ascontiguousarray(gyr_rad_s), np.zeros((len(gyr_rad_s), 3)))
    return matrices_from_quaternions(out["quat6D"][:, [1, 2, 3, 0]])


def between_samples(gyr_rad_s: Array) -> Array:
    """Mean rate (n, 3), rad/s, over the step that ends at each sample (trapezoid). The filter takes a sample as the
    rate of the whole step before it; at 1000 deg/s and 200 Hz that alone would lag by 2.5°."""
    mean = gyr_rad_s.copy()
    mean[1:] += gyr_rad_s[:-1]
    mean[1:] *= 0.5
    return mean


def estimate_motion(stream: CleanStream) -> SensorMotion:
    """Run the filter over each stretch between long gaps."""
    n = len(stream.time_s)
    quaternions = np.tile([0.0, 0.0, 0.0, 1.0], (n, 1))
    gyr = stream.gyr_rad_s.copy()
    rest = np.zeros(n, dtype=bool)
    piece = np.full(n, -1)
    biases = []
    for number, (a, b) in enumerate(_pieces(stream.valid)):
        if (b - a) * stream.step_s < MIN_PIECE_S:
            continue
        turn = between_samples(stream.gyr_rad_s[a:b])
        felt = np.ascontiguousarray(stream.acc_m_s2[a:b])
        out = offlineVQF(turn, carry_gravity(felt, turn, stream.step_s), None, stream.step_s)
        quaternions[a:b] = out["quat6D"][:, [1, 2, 3, 0]]
        gyr[a:b] -= out["bias"]
        rest[a:b] = out["restDetected"]
        piece[a:b] = number
        biases.append(np.median(out["bias"], axis=0))
    bias = np.median(biases, axis=0) if biases else np.zeros(3)
    return SensorMotion(
        stream.segment,
        stream.time_s,
        stream.acc_m_s2,
        gyr,
        quaternions,
        bias,
        rest,
        piece,
        stream.felt_time_s,
        stream.felt_m_s2,
        stream.flags.clipped,
    )
