"""Finding the swings of a recording."""

from __future__ import annotations

from enum import StrEnum

import numpy as np

from finearc.core.calibration.poses import still_mask
from finearc.core.errors import NoSwingFound
from finearc.core.events.turning import Turning
from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.grid import moving_mean
from finearc.core.typing import Array, Mask


class Shot(StrEnum):
    """What kind of shot is played."""

    FULL = "full"
    PITCH = "pitch"
    CHIP = "chip"
    BUNKER = "bunker"
    PUTT = "putt"


PEAK_DEG_S = {Shot.FULL: 400.0, Shot.PITCH: 220.0, Shot.CHIP: 140.0, Shot.BUNKER: 300.0, Shot.PUTT: 35.0}
"""Least peak angular speed of the hand that counts as a swing (house values; half speed included)."""
APART_S = 2.5
PUTT_REST_S = 0.3
"""A putt lies between rests of so long (house value)."""


def rates_in_up(motion: SensorMotion, window: slice) -> Array:
    """Angular velocity (n, 3), rad/s, in the sensor's vertical frame."""
    r = matrices_from_quaternions(motion.q_up_from_sensor[window])
    return np.asarray(np.einsum("nij,nj->ni", r, motion.gyr_rad_s[window]))


def _reverses(motion: Turning, peak: int) -> bool:
    """Whether a backswing comes before the peak: the rate about the downswing's axis was opposite before it."""
    step = motion.step_s
    a = max(0, peak - int(2.6 / step))
    omega = motion.rates_up(slice(a, peak + 1))
    normal = omega[-max(2, int(0.1 / step)) :].mean(axis=0)
    along = omega @ normal / max(float(np.linalg.norm(normal)), 1e-9)
    return bool(-along.min() > 0.12 * along[-1])


def find_swings(motion: Turning, shot: Shot = Shot.FULL, after_s: float = -np.inf) -> list[tuple[float, float]]:
    """Windows (start, end) in s, each from the stillness before a swing to the stillness after it.

    Raises ``NoSwingFound`` with the fastest movement there was.
    """
    step = motion.step_s
    speed = moving_mean(motion.speed, max(1, round(0.02 / step)))
    speed = np.where(motion.time_s > after_s, speed, 0.0)
    needed = np.deg2rad(PEAK_DEG_S[shot]) * motion.least
    left = speed.copy()
    apart = int(APART_S / step)
    peaks = []
    while left.size and left.max() >= needed:
        k = int(np.argmax(left))
        left[max(0, k - apart) : k + apart] = 0.0
        if _reverses(motion, k):
            peaks.append(k)
    if not peaks:
        raise NoSwingFound(float(np.rad2deg(speed.max(initial=0.0))), PEAK_DEG_S[shot] * motion.least, motion.name)
    still = still_mask(motion.speed, step)
    if shot is Shot.PUTT:
        still = _lasting(still, max(1, round(PUTT_REST_S / step)))
    return [_window(motion, still, k) for k in sorted(peaks)]


def _lasting(still: Mask, least: int) -> Mask:
    """Stillness (n,) that lasts at least so many samples: a putt stands still for a moment as it turns."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], still, [False]]).astype(np.int8))).reshape(-1, 2)
    out = np.zeros_like(still)
    for a, b in edges:
        out[a:b] = b - a >= least
    return out


def _window(motion: Turning, still: np.ndarray, peak: int) -> tuple[float, float]:
    step, time_s = motion.step_s, motion.time_s
    before = np.flatnonzero(still[max(0, peak - int(5.0 / step)) : peak])
    start = peak - int(2.5 / step)
    if len(before):
        last = max(0, peak - int(5.0 / step)) + int(before[-1])
        run = last
        while run > 0 and still[run - 1] and last - run < int(1.0 / step):
            run -= 1
        start = run
    after = np.flatnonzero(still[peak : peak + int(3.0 / step)])
    end = peak + (int(after[0]) + int(0.3 / step) if len(after) else int(2.0 / step))
    return float(time_s[max(0, start)]), float(time_s[min(len(time_s) - 1, end)])
