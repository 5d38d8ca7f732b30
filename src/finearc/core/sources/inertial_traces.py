"""What inertial sensors measure over a swing: wrist, lead arm, club, pelvis and thorax."""

from __future__ import annotations

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration
from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.kinematics.pronation import sensed_pronation
from finearc.core.kinematics.rates import axis_speed
from finearc.core.kinematics.segments import turn_side_forward
from finearc.core.kinematics.session import WristFrames
from finearc.core.kinematics.wrist import hand_roll, wrist_angles
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.metrics.trace import Trace
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial_sensors import InertialSensors
from finearc.core.typing import Array
from finearc.wording import mark, tr

CLIP_SD_RAD = np.deg2rad(1.2)
SENSOR_SD_RAD = np.deg2rad(0.5)
"""What sensors and filter add once the poses are exact (measured on the golfer model, docs/validation.md)."""
BODY_SD_RAD = np.deg2rad(0.7)
"""What one body sensor is off by within a swing (measured on the golfer model)."""
ARM_SD_RAD = np.deg2rad(1.5)
"""What an upper-arm sensor is off by within a swing (measured on the golfer model)."""
SATURATED_SD_RAD = np.deg2rad(3.0)
STALE = mark("absolute turn needs a fresh square upright: stand square again")


def shaft_elevation(club: SensorMotion, window: slice) -> Array:
    """``asin(s_z)`` (n,), rad: the clip's +x points to the head."""
    r = matrices_from_quaternions(club.q_up_from_sensor[window])
    return np.asarray(np.arcsin(np.clip(r[:, 2, 0], -1.0, 1.0)))


def error_shapes(frames: WristFrames, extension: Array, deviation: Array) -> tuple[Array, Array]:
    """Derivatives (7, n) of extension and radial deviation with respect to small errors of the forearm's
    axes (3), the hand's axes (3) and the heading (1)."""
    r = frames.r_forearm_from_hand
    d_hand = r[:, :, 0]
    up = frames.r_up_from_forearm[:, 2, :]
    eye = np.eye(3)
    moves = [-np.cross(eye[k], d_hand) for k in range(3)]
    moves += [np.zeros_like(d_hand), -r[:, :, 2], r[:, :, 1]]
    moves.append(np.cross(up, d_hand))
    cos_v = np.maximum(np.cos(deviation), 0.2)
    sin_e, cos_e = np.sin(extension), np.cos(extension)
    extension_shape = np.array([(cos_e * v[:, 1] - sin_e * v[:, 0]) / cos_v for v in moves])
    deviation_shape = np.array([v[:, 2] / cos_v for v in moves])
    return extension_shape, deviation_shape


def saturated(sources: InertialSensors, start_s: float, end_s: float) -> bool:
    """Whether a wrist sensor's gyroscope was past its range between two times, s."""
    spans = [s for p in (sources.forearm, sources.hand) if p is not None for s in p.clipped]
    return any(a < end_s and b > start_s for a, b in spans)


def arm_traces(
    sources: InertialSensors, window: slice, frames: WristFrames | None, address: slice
) -> list[tuple[Source, Trace]]:
    """Wrist, lead arm and club over time, as far as worn."""
    traces: list[tuple[Source, Trace]] = []
    step = sources.main.step_s
    if frames is not None:
        extension, deviation, twist = wrist_angles(frames.r_forearm_from_hand)
        times = sources.main.time_s[window]
        sensor_sd = SATURATED_SD_RAD if saturated(sources, times[0], times[-1]) else SENSOR_SD_RAD
        extension_shape, deviation_shape = error_shapes(frames, extension, deviation)
        wrist = [
            Trace(m.LEAD_WRIST_EXTENSION, extension, sensor_sd, extension_shape),
            Trace(m.LEAD_WRIST_DEVIATION, deviation, sensor_sd, deviation_shape),
            Trace(m.WRIST_TWIST, twist, np.deg2rad(2.5)),
            Trace(m.HAND_RATE, axis_speed(frames.r_up_from_hand[:, :, 0], step), np.deg2rad(12.0)),
            Trace(m.LEAD_ARM_RATE, axis_speed(frames.r_up_from_forearm[:, :, 0], step), np.deg2rad(12.0)),
        ]
        if address.stop:
            at = (address.start + address.stop) // 2
            wrist.append(Trace(m.HAND_ROLL, hand_roll(frames.r_up_from_hand, at), np.deg2rad(3.0)))
        traces += [(Source.WRIST, t) for t in wrist] + _upper_arm(sources, window, frames, float(times[0]))
    if sources.club is not None:
        gyr = sources.club.gyr_rad_s[window]
        club = [
            Trace(m.SHAFT_ELEVATION, shaft_elevation(sources.club, window), CLIP_SD_RAD),
            Trace(m.CLUB_RATE, np.hypot(gyr[:, 1], gyr[:, 2]), np.deg2rad(15.0)),
        ]
        traces += [(Source.CLUB, t) for t in club]
    return traces


def trunk_traces(sources: InertialSensors, window: slice, time_s: Array, address: slice) -> list[tuple[Source, Trace]]:
    """Turn and bends of pelvis and thorax. Without a fresh *square upright* the turn is only good against address."""
    body, turns = sources.body, {}
    out: list[Trace] = []
    if body is None:
        return []
    at_s = float(time_s[(address.start + address.stop) // 2]) if address.stop else float(time_s[0])
    square_sd, stale = body.square_sd_rad(at_s), body.is_stale(at_s)
    for segment, turn, forward, side in (
        (Segment.PELVIS, m.PELVIS_TURN, m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND),
        (Segment.THORAX, m.THORAX_TURN, m.THORAX_FORWARD_BEND, m.THORAX_SIDE_BEND),
    ):
        motion, seat = sources.trunk.get(segment), body.seats.get(segment)
        if motion is None or seat is None:
            continue
        r = seat.r_bay_from_segment(matrices_from_quaternions(motion.q_up_from_sensor[window]), at_s)
        psi, phi, theta = turn_side_forward(r)
        turns[segment] = psi
        not_judged_reason = tr(STALE) if stale else ""
        out.append(Trace(turn, psi, BODY_SD_RAD, common_sd=square_sd, not_judged_reason=not_judged_reason))
        if body.has_bow:
            out.append(Trace(forward, theta, BODY_SD_RAD, common_sd=body.bend_sd_rad))
            out.append(Trace(side, phi, BODY_SD_RAD, common_sd=body.bend_sd_rad))
    out += _head_turn(sources, body, window, address, at_s)
    if len(turns) == 2:
        apart = turns[Segment.THORAX] - turns[Segment.PELVIS]
        out.append(
            Trace(
                m.SEPARATION,
                apart,
                BODY_SD_RAD * 1.4,
                common_sd=square_sd * 1.4,
                not_judged_reason=tr(STALE) if stale else "",
            )
        )
    return [(Source.BODY, t) for t in out]


def _head_turn(
    sources: InertialSensors, body: BodyCalibration, window: slice, address: slice, at_s: float
) -> list[Trace]:
    """Turn of a head sensor. Its own gaps leave it open, and nothing else: no event or other value rests on it."""
    motion, seat = sources.trunk.get(Segment.HEAD), body.seats.get(Segment.HEAD)
    if motion is None or seat is None:
        return []
    r = seat.r_bay_from_segment(matrices_from_quaternions(motion.q_up_from_sensor[window]), at_s)
    piece = motion.piece[window]
    known = piece[(address.start + address.stop) // 2] if address.stop else piece[0]
    turn = np.where((piece == known) & (piece >= 0), turn_side_forward(r)[0], np.nan)
    reason = tr(STALE) if body.is_stale(at_s) else ""
    return [Trace(m.HEAD_TURN, turn, BODY_SD_RAD, common_sd=body.square_sd_rad(at_s), not_judged_reason=reason)]


def _upper_arm(sources: InertialSensors, window: slice, frames: WristFrames, at_s: float) -> list[tuple[Source, Trace]]:
    """Forearm pronation, where the upper arm is worn and calibrated."""
    upper, seat = sources.upper_arm, sources.upper_arm_seat
    if upper is None or seat is None:
        return []
    turned = sensed_pronation(frames.r_up_from_forearm, upper, window, seat)
    return [(Source.UPPER_ARM, Trace(m.FOREARM_PRONATION, turned, ARM_SD_RAD, common_sd=seat.sd_rad(at_s)))]
