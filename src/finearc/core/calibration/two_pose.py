"""Two still poses find how both sensors sit.

In *flat* the up direction is the back of the hand, ``u_flat = o``; raised about the elbow by ``beta``,
``u_raised = o cos(beta) + d sin(beta)``. So ``r = u_raised x u_flat / sin(beta)`` and ``d = o x r``, in each
sensor alone. That closed form is the starting point. A person holds no pose exactly, so the answer is then
balanced over all that is known (the forearm is about level and unrolled, the wrist is about straight in
*both* poses, gyroscopes link the poses) by least squares, each residual in units of how exactly people
hold it. Its covariance is the calibration's uncertainty. A repeat adds its residuals and shrinks it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from scipy.optimize import least_squares

from finearc.core.calibration.model import (
    LEVEL_SD_RAD,
    WRIST_POSE_SD_RAD,
    CalibrationQuality,
    PoseWindow,
    WristCalibration,
)
from finearc.core.calibration.placement import exchanged_warning
from finearc.core.calibration.poses import MIN_POSE_ANGLE_RAD, Pose, measure_pose, pose_angle
from finearc.core.errors import CalibrationRefused
from finearc.core.frames.rotations import about_z, from_rotation_vector, rotation_vector, unit
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import GRAVITY_M_S2
from finearc.core.typing import Array
from finearc.wording import tr


def segment_axes(u_flat: Array, u_raised: Array) -> Array:
    """Columns ``d, o, r`` (3, 3) of a segment in sensor axes, from where up points (3,), unit length, in sensor axes
    while the forearm is held level and while it is raised (closed form)."""
    o = unit(u_flat)
    r = unit(np.cross(u_raised, u_flat))
    return np.column_stack([np.cross(o, r), o, r])


def _mean_up(poses: Sequence[Pose], kind: str, which: str) -> Array:
    return unit(np.sum([getattr(p, which) for p in poses if p.kind == kind], axis=0))


def straight_heading(pairs: Sequence[tuple[Array, Array]]) -> float:
    """Heading, rad, that turns the hand's vertical frame onto the forearm's so that the segment
    orientations of each (forearm, hand) pair, (3, 3) each, agree best."""
    m = np.sum([forearm @ hand.T for forearm, hand in pairs], axis=0)
    return float(np.arctan2(m[1, 0] - m[0, 1], m[0, 0] + m[1, 1]))


class _Balance:
    """Residuals of all poses for small corrections ``x`` (7,) of the closed-form answer."""

    def __init__(self, poses: Sequence[Pose], forearm0: Array, hand0: Array, heading0: float) -> None:
        self.poses, self.forearm0, self.hand0, self.heading0 = poses, forearm0, hand0, heading0

    def unpack(self, x: Array) -> tuple[Array, Array, float]:
        """Sensor from forearm, sensor from hand, (3, 3) each, and the heading, rad, after the corrections ``x`` (7,):
        two rotation vectors and an angle, rad."""
        return (
            self.forearm0 @ from_rotation_vector(x[:3]),
            self.hand0 @ from_rotation_vector(x[3:6]),
            self.heading0 + float(x[6]),
        )

    def __call__(self, x: Array) -> Array:
        forearm, hand, heading = self.unpack(x)
        turn = about_z(heading)
        parts: list[Array] = []
        for pose in self.poses:
            up = forearm.T @ pose.u_forearm
            if pose.kind == "flat":
                parts.append(up[[0, 2]] / LEVEL_SD_RAD)
            else:
                roll = up[2] / max(0.2, float(np.hypot(up[1], up[2])))
                parts.append(np.array([roll / LEVEL_SD_RAD]))
            wrist = (pose.r_up_from_forearm @ forearm).T @ turn @ pose.r_up_from_hand @ hand
            parts.append(rotation_vector(wrist) / WRIST_POSE_SD_RAD)
        return np.concatenate(parts)


def calibrate(
    windows: Sequence[PoseWindow], forearm: SensorMotion, hand: SensorMotion, *, check_placement: bool = True
) -> WristCalibration:
    """Calibrate a wrist pair from one or more flat/raised pairs of windows.

    Raises ``CalibrationRefused`` with the pose, the reason and what to do.
    """
    poses = [measure_pose(w, forearm, hand) for w in windows]
    kinds = {p.kind for p in poses}
    if kinds != {"flat", "raised"}:
        raise CalibrationRefused(
            tr(
                "only the pose {value} was held, flat and raised are both needed",
                value=", ".join(sorted(kinds)) or tr("none"),
            ),
            tr("Hold both poses"),
        )
    beta = pose_angle(poses)
    if beta < MIN_POSE_ANGLE_RAD:
        raise CalibrationRefused(
            tr(
                "the two poses are {beta:.0f}° apart, at least 30° is needed (45° to 80° is best)",
                beta=np.rad2deg(beta),
            ),
            tr(
                "Keep the wrist straight and raise the arm about the elbow until the fingers are well above it, then "
                "hold both poses again"
            ),
            tr("raised pose"),
        )
    forearm0 = segment_axes(_mean_up(poses, "flat", "u_forearm"), _mean_up(poses, "raised", "u_forearm"))
    hand0 = segment_axes(_mean_up(poses, "flat", "u_hand"), _mean_up(poses, "raised", "u_hand"))
    heading0 = straight_heading([(p.r_up_from_forearm @ forearm0, p.r_up_from_hand @ hand0) for p in poses])
    balance = _Balance(poses, forearm0, hand0, heading0)
    fit = least_squares(balance, np.zeros(7), method="lm", xtol=1e-10, ftol=1e-10)
    r_forearm, r_hand, heading = balance.unpack(fit.x)
    jacobian = np.asarray(fit.jac, dtype=np.float64)
    covariance = np.asarray(np.linalg.inv(jacobian.T @ jacobian), dtype=np.float64)
    disagreement = _disagreement(poses, forearm0, hand0, heading0)
    ends = max(w.end_s for w in windows)
    level = next((w.start_s, w.end_s) for w in windows if w.kind == "flat")
    quality = judge_quality(poses, beta, disagreement, _bias(forearm, hand))
    warnings = []
    if check_placement:
        start = min(w.start_s for w in windows)
        warnings += exchanged_warning(forearm, hand, r_forearm, r_hand, heading, start, ends)
    return WristCalibration(
        r_forearm, r_hand, heading, covariance, quality, "two-pose", ends, _notes(quality), tuple(warnings), level
    )


def _bias(forearm: SensorMotion, hand: SensorMotion) -> float:
    return float(max(np.linalg.norm(forearm.bias_rad_s), np.linalg.norm(hand.bias_rad_s)))


def _disagreement(poses: Sequence[Pose], forearm: Array, hand: Array, heading: float) -> float:
    """RMS rotation, rad, by which the wrist differs from straight over the poses, closed form."""
    turn = about_z(heading)
    off = [rotation_vector((p.r_up_from_forearm @ forearm).T @ turn @ p.r_up_from_hand @ hand) for p in poses]
    return float(np.sqrt(np.mean([v @ v for v in off])))


def _fade(value: float, good: float, bad: float) -> float:
    """1 up to ``good``, falling to 0 at ``bad``."""
    return float(np.clip((bad - value) / (bad - good), 0.0, 1.0))


def judge_quality(poses: Sequence[Pose], beta: float, disagreement: float, bias_rad_s: float) -> CalibrationQuality:
    """One number and a sentence from stillness, gravity, bias, pose angle and disagreement (house weights)."""
    stillness = max(p.stillness_rad_s for p in poses)
    gravity = max(abs(g - GRAVITY_M_S2) for p in poses for g in p.gravity_m_s2)
    parts = {
        "the arm was not quite still": _fade(np.rad2deg(stillness), 1.5, 9.0),
        "a sensor does not read gravity well": _fade(gravity, 0.15, 1.0),
        "a gyroscope drifts more than usual": _fade(np.rad2deg(bias_rad_s), 1.5, 8.0),
        "the two poses were close together": _fade(45.0 - np.rad2deg(beta), 0.0, 25.0),
        "the arm was raised very far": _fade(np.rad2deg(beta), 80.0, 110.0),
        "the wrist was bent differently in the two poses": _fade(np.rad2deg(disagreement), 2.5, 10.0),
    }
    worst = min(parts, key=lambda name: parts[name])
    score = float(np.prod([0.4 + 0.6 * p for p in parts.values()]) * min(parts.values()) ** 0.5)
    repeats = sum(p.kind == "flat" for p in poses)
    if parts[worst] > 0.7:
        sentence = tr("Good: still, straight and far enough apart.")
    elif parts[worst] > 0.35:
        sentence = tr("Usable: {worst}. A second calibration makes the values more certain.", worst=worst)
    else:
        sentence = tr("Poor: {worst}. Hold both poses again.", worst=worst)
    return CalibrationQuality(round(score, 3), sentence, stillness, gravity, bias_rad_s, beta, disagreement, repeats)


def _notes(quality: CalibrationQuality) -> tuple[str, ...]:
    notes = [quality.sentence]
    if quality.repeats == 1:
        notes.append(
            tr(
                "How straight the wrist was held is the largest part of the uncertainty; a second calibration "
                "shrinks it."
            )
        )
    else:
        notes.append(tr("Rests on {repeats} pairs of poses.", repeats=quality.repeats))
    return tuple(notes)
