"""Calibration by movement, for a forearm that cannot lie palm down.

Held: *straight* (wrist straight, forearm rolled as it likes) and *raised* (the same straight line at
another height). Moved slowly: *flexion* (first toward the palm) and *deviation* (first toward the thumb).
A straight wrist is one rigid body, so both held poses have the same sensor-to-sensor rotation: that gives
the heading between the sensors. The axes are the main directions of the angular velocity of the hand
relative to the forearm, as in T. Seel, J. Raisch and T. Schauer, Sensors 14:6891, 2014.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.optimize import minimize_scalar

from finearc.core.calibration.model import (
    WRIST_POSE_SD_RAD,
    CalibrationQuality,
    PoseWindow,
    WristCalibration,
)
from finearc.core.calibration.poses import Pose, measure_pose, pose_angle
from finearc.core.errors import CalibrationRefused
from finearc.core.frames.rotations import about_z, matrices_from_quaternions, rotation_vector, unit
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import GRAVITY_M_S2
from finearc.core.typing import Array
from finearc.wording import tr

AXIS_SD_RAD = np.deg2rad(3.0)
MIN_RANGE_RAD = np.deg2rad(25.0)
MIN_SHARE = 0.85
"""Least share of the relative rotation that must lie about one axis for it to be an axis."""


@dataclass(frozen=True)
class FunctionalWindows:
    """When each part was done, (start, end) in s."""

    straight: tuple[float, float]
    raised: tuple[float, float]
    flexion: tuple[float, float]
    deviation: tuple[float, float]


def _common_heading(a: Pose, b: Pose) -> float:
    """Heading, rad, for which the sensor-to-sensor rotation is the same in both held poses."""

    def mismatch(heading: float) -> float:
        turn = about_z(heading)
        first = a.r_up_from_forearm.T @ turn @ a.r_up_from_hand
        second = b.r_up_from_forearm.T @ turn @ b.r_up_from_hand
        return float(np.sum((first - second) ** 2))

    grid = np.linspace(-np.pi, np.pi, 73)
    best = grid[int(np.argmin([mismatch(h) for h in grid]))]
    found = minimize_scalar(mismatch, bounds=(best - 0.1, best + 0.1), method="bounded", options={"xatol": 1e-6})
    return float(found.x)


def _main_axis(
    window: tuple[float, float], name: str, forearm: SensorMotion, hand: SensorMotion, heading: float
) -> tuple[Array, float]:
    """Unit axis in hand sensor axes, signed by the first movement, and the share of rotation about it."""
    a, b = np.searchsorted(forearm.time_s, window)
    if b - a < 10:
        raise CalibrationRefused(
            tr("no data in its window"), tr("Do the movement again"), tr("movement {name}", name=name)
        )
    up_f = matrices_from_quaternions(forearm.q_up_from_sensor[a:b])
    up_h = matrices_from_quaternions(hand.q_up_from_sensor[a:b])
    forearm_felt = np.einsum("nij,nj->ni", up_f, forearm.gyr_rad_s[a:b]) @ about_z(heading)
    relative = hand.gyr_rad_s[a:b] - np.einsum("nji,nj->ni", up_h, forearm_felt)
    values, vectors = np.linalg.eigh(relative.T @ relative)
    axis = vectors[:, -1]
    angle = np.cumsum(relative @ axis) * forearm.step_s
    if np.ptp(angle) < MIN_RANGE_RAD:
        raise CalibrationRefused(
            tr(
                "the wrist moved {value:.0f}°, at least {min_range_rad:.0f}° is needed",
                value=np.rad2deg(np.ptp(angle)),
                min_range_rad=np.rad2deg(MIN_RANGE_RAD),
            ),
            tr("Move slowly as far as is comfortable, three times; stop if it hurts"),
            tr("movement {name}", name=name),
        )
    first = angle[int(np.argmax(np.abs(angle) > 0.5 * np.abs(angle).max()))]
    return axis * np.sign(first), float(values[-1] / values.sum())


def calibrate_functional(windows: FunctionalWindows, forearm: SensorMotion, hand: SensorMotion) -> WristCalibration:
    """Calibrate by movement. Raises ``CalibrationRefused``."""
    straight = measure_pose(PoseWindow("flat", *windows.straight), forearm, hand)
    raised = measure_pose(PoseWindow("raised", *windows.raised), forearm, hand)
    beta = pose_angle([straight, raised])
    if beta < np.deg2rad(25.0):
        raise CalibrationRefused(
            tr("the two straight poses are {beta:.0f}° apart, at least 25° is needed", beta=np.rad2deg(beta)),
            tr("Keep the wrist straight and raise the arm farther"),
            tr("raised pose"),
        )
    heading = _common_heading(straight, raised)
    flexing, share_r = _main_axis(windows.flexion, "flexion", forearm, hand, heading)
    deviating, share_o = _main_axis(windows.deviation, "deviation", forearm, hand, heading)
    if min(share_r, share_o) < MIN_SHARE:
        raise CalibrationRefused(
            tr(
                "only {value:.0f} % of the movement was about one axis, {value2:.0f} % is needed",
                value=100 * min(share_r, share_o),
                value2=100 * MIN_SHARE,
            ),
            tr("Move slowly in one direction only, forearm resting"),
            "movement",
        )
    r_axis = -flexing  # flexion turns against r
    o_rough = -deviating  # radial deviation turns against o
    across = float(np.rad2deg(np.arccos(np.clip(abs(r_axis @ o_rough), 0.0, 1.0))))
    if across < 60.0:
        raise CalibrationRefused(
            tr("the two movements were {across:.0f}° apart, about 90° is needed", across=across),
            tr("First bend toward the palm and back, then only toward the thumb and back"),
            "movement",
        )
    o_axis = unit(o_rough - r_axis * (o_rough @ r_axis))
    r_hand = np.column_stack([np.cross(o_axis, r_axis), o_axis, r_axis])
    relative = straight.r_up_from_forearm.T @ about_z(heading) @ straight.r_up_from_hand
    r_forearm = relative @ r_hand
    spread = np.full(7, AXIS_SD_RAD)
    spread[:3] = np.hypot(AXIS_SD_RAD, WRIST_POSE_SD_RAD)
    spread[6] = WRIST_POSE_SD_RAD
    apart = rotation_vector(relative.T @ raised.r_up_from_forearm.T @ about_z(heading) @ raised.r_up_from_hand)
    quality = _quality([straight, raised], beta, float(np.linalg.norm(apart)), min(share_r, share_o), across)
    return WristCalibration(
        r_forearm,
        r_hand,
        heading,
        np.diag(spread**2),
        quality,
        "functional",
        max(windows.deviation[1], windows.raised[1], windows.flexion[1]),
        (quality.sentence, tr("Calibrated by movement: values are less certain than with two held poses.")),
        level=windows.straight,
    )


def _quality(poses: list[Pose], beta: float, apart: float, share: float, across_deg: float) -> CalibrationQuality:
    gravity = max(abs(g - GRAVITY_M_S2) for p in poses for g in p.gravity_m_s2)
    score = 0.9 * min(1.0, (share - 0.8) / 0.15) * min(1.0, (across_deg - 50.0) / 30.0)
    sentence = (
        tr("Usable: axes found by movement.") if score > 0.5 else tr("Weak: the movement axes are not very clear.")
    )
    return CalibrationQuality(
        round(max(score, 0.05), 3), sentence, max(p.stillness_rad_s for p in poses), gravity, 0.0, beta, apart
    )
