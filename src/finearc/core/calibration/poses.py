"""Finding and describing still poses."""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.calibration.model import PoseWindow
from finearc.core.errors import CalibrationRefused
from finearc.core.frames.rotations import angle_between, matrices_from_quaternions, unit
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.grid import moving_mean
from finearc.core.typing import Array, Mask
from finearc.wording import tr

POSE_MIN_S = 1.0
STILL_RAD_S = np.deg2rad(6.0)
POSE_STILL_RAD_S = np.deg2rad(9.0)
MIN_POSE_ANGLE_RAD = np.deg2rad(30.0)


@dataclass(frozen=True)
class Pose:
    """Forearm and hand during one still window.

    ``u_*`` (3,): up, in sensor axes, from the mean specific force. ``r_up_from_*`` (3, 3): orientation of
    the sensor in its own vertical frame. ``stillness_rad_s``: RMS angular speed. ``gravity_m_s2``: mean
    magnitude of the two sensors' specific force.
    """

    kind: str
    u_forearm: Array
    u_hand: Array
    r_up_from_forearm: Array
    r_up_from_hand: Array
    stillness_rad_s: float
    gravity_m_s2: tuple[float, float]


def speed_rad_s(motion: SensorMotion) -> Array:
    """Angular speed (n,), rad/s."""
    return np.asarray(np.sqrt(np.einsum("ij,ij->i", motion.gyr_rad_s, motion.gyr_rad_s)))


def still_mask(speed: Array, step_s: float, limit_rad_s: float = STILL_RAD_S, smooth_s: float = 0.1) -> Mask:
    """Samples (n,) at which the angular speed (n,), rad/s, sampled every ``step_s``, s, and averaged over ``smooth_s``,
    s, is below the limit."""
    return moving_mean(speed, max(1, round(smooth_s / step_s))) < limit_rad_s


def still_windows(mask: Mask, time_s: Array, min_s: float) -> list[tuple[float, float]]:
    """Stretches of stillness at least ``min_s`` long, as (start, end) in s."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8))).reshape(-1, 2)
    spans = [(float(time_s[a]), float(time_s[b - 1])) for a, b in edges]
    return [(a, b) for a, b in spans if b - a >= min_s]


@dataclass(frozen=True)
class Held:
    """One sensor during one still window: ``up`` (3,), in sensor axes, from the mean specific force;
    ``r_up_from_sensor`` (3, 3) in the middle; RMS angular speed; the stretch without long gaps it stands in."""

    up: Array
    r_up_from_sensor: Array
    stillness_rad_s: float
    piece: int


def hold(motion: SensorMotion, window: tuple[float, float], pose: str) -> Held:
    """A sensor held still in ``window``, s. Raises ``CalibrationRefused`` when that is not inside the recording, too
    short, or not still."""
    t = motion.time_s
    a, b = np.searchsorted(t, window)
    if b - a < 2 or window[0] < t[0] - 0.05 or window[1] > t[-1] + 0.05:
        raise CalibrationRefused(
            tr(
                "the window {window:.2f} to {window2:.2f} s lies outside the recording ({t:.2f} to {t2:.2f} s)",
                window=window[0],
                window2=window[1],
                t=t[0],
                t2=t[-1],
            ),
            tr("Correct the window, or hold the pose again"),
            tr("pose {pose}", pose=pose),
        )
    if window[1] - window[0] < POSE_MIN_S - 0.05:
        raise CalibrationRefused(
            tr(
                "held {value:.1f} s, at least {pose_min_s:.0f} s is needed",
                value=window[1] - window[0],
                pose_min_s=POSE_MIN_S,
            ),
            tr("Hold it again"),
            tr("pose {pose}", pose=pose),
        )
    rms = float(np.sqrt(np.mean(speed_rad_s(motion)[a:b] ** 2)))
    if rms > POSE_STILL_RAD_S:
        raise CalibrationRefused(
            tr(
                "the {value} was moving at {rms:.0f} deg/s",
                value=motion.segment.value.replace("_", " "),
                rms=np.rad2deg(rms),
            ),
            tr("Stand still and hold it again"),
            tr("pose {pose}", pose=pose),
        )
    middle = (a + b) // 2
    r = matrices_from_quaternions(motion.q_up_from_sensor[middle : middle + 1])[0]
    return Held(unit(motion.acc_m_s2[a:b].mean(axis=0)), r, rms, int(motion.piece[middle]))


def measure_pose(window: PoseWindow, forearm: SensorMotion, hand: SensorMotion) -> Pose:
    """Describe one pose. Raises ``CalibrationRefused`` when it is outside the capture, too short or moving."""
    time_s = forearm.time_s
    a, b = np.searchsorted(time_s, [window.start_s, window.end_s])
    if b - a < 2 or window.start_s < time_s[0] - 0.05 or window.end_s > time_s[-1] + 0.05:
        raise CalibrationRefused(
            tr(
                "the window {start_s:.2f} to {end_s:.2f} s lies outside the recording ({time_s:.2f} to {time_s2:.2f} "
                "s)",
                start_s=window.start_s,
                end_s=window.end_s,
                time_s=time_s[0],
                time_s2=time_s[-1],
            ),
            tr("Correct the window, or hold the pose again"),
            tr("pose {kind}", kind=window.kind),
        )
    length = float(time_s[min(b, len(time_s) - 1)] - time_s[a])
    if length < POSE_MIN_S - 0.05:
        raise CalibrationRefused(
            tr("held {length:.1f} s, at least {pose_min_s:.0f} s is needed", length=length, pose_min_s=POSE_MIN_S),
            tr("Hold the pose again"),
            tr("pose {kind}", kind=window.kind),
        )
    rms = float(np.sqrt(np.mean(speed_rad_s(forearm)[a:b] ** 2 + speed_rad_s(hand)[a:b] ** 2) / 2))
    if rms > POSE_STILL_RAD_S:
        raise CalibrationRefused(
            tr(
                "the arm was moving at {rms:.0f} deg/s, still means below {pose_still_rad_s:.0f}",
                rms=np.rad2deg(rms),
                pose_still_rad_s=np.rad2deg(POSE_STILL_RAD_S),
            ),
            tr("Rest the forearm on a board and hold the pose again"),
            tr("pose {kind}", kind=window.kind),
        )
    mean_f, mean_h = forearm.acc_m_s2[a:b].mean(axis=0), hand.acc_m_s2[a:b].mean(axis=0)
    middle = (a + b) // 2
    return Pose(
        window.kind,
        unit(mean_f),
        unit(mean_h),
        matrices_from_quaternions(forearm.q_up_from_sensor[middle : middle + 1])[0],
        matrices_from_quaternions(hand.q_up_from_sensor[middle : middle + 1])[0],
        rms,
        (float(np.linalg.norm(mean_f)), float(np.linalg.norm(mean_h))),
    )


def find_poses(forearm: SensorMotion, hand: SensorMotion, before_s: float | None = None) -> list[PoseWindow]:
    """The two poses of a recording that does not name them: the first two still windows, both sensors at
    rest, whose up directions differ by 30° or more. Raises ``CalibrationRefused`` when there are none."""
    still = still_mask(np.maximum(speed_rad_s(forearm), speed_rad_s(hand)), forearm.step_s)
    if before_s is not None:
        still &= forearm.time_s < before_s
    windows = still_windows(still, forearm.time_s, POSE_MIN_S)
    ups = [_up_in(forearm, w) for w in windows]
    for k in range(len(windows) - 1):
        if angle_between(ups[k], ups[k + 1]) >= MIN_POSE_ANGLE_RAD:
            return [_inner("flat", windows[k]), _inner("raised", windows[k + 1])]
    largest = max((angle_between(a, b) for a, b in itertools.pairwise(ups)), default=0.0)
    raise CalibrationRefused(
        tr(
            "{windows} still poses found, the two farthest apart by {largest:.0f}°; two poses at least 30° apart are "
            "needed",
            windows=len(windows),
            largest=np.rad2deg(largest),
        ),
        tr("Hold the arm flat for two seconds, then raised by about 60° for two seconds"),
    )


def _up_in(motion: SensorMotion, window: tuple[float, float]) -> Array:
    a, b = np.searchsorted(motion.time_s, window)
    return unit(motion.acc_m_s2[a:b].mean(axis=0))


def _inner(kind: str, window: tuple[float, float]) -> PoseWindow:
    """The middle of a still window: its edges still carry the end of the movement."""
    start, end = window
    trim = min(0.15, (end - start - POSE_MIN_S) / 2)
    return PoseWindow(kind, start + trim, end - trim)


def pose_angle(poses: Sequence[Pose]) -> float:
    """Angle, rad, between the flat and the raised pose as the forearm sensor's gravity shows it."""
    flat = unit(np.sum([p.u_forearm for p in poses if p.kind == "flat"], axis=0))
    raised = unit(np.sum([p.u_forearm for p in poses if p.kind == "raised"], axis=0))
    return angle_between(flat, raised)
