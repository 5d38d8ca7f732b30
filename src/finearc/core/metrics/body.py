"""The body's metrics from markers: traces of one swing, and the figures at impact."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.kinematics import segments as sg
from finearc.core.kinematics.body import BodyPose, has_face, outer_edge_m, untilted
from finearc.core.kinematics.pronation import pronation
from finearc.core.kinematics.rates import axis_speed
from finearc.core.kinematics.wrist import hand_roll, wrist_angles
from finearc.core.markers.labels import HEAD, PELVIS, THORAX, Marker
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.trace import Trace
from finearc.core.typing import Array
from finearc.wording import mark, tr

DEG = float(np.pi / 180.0)
ABSOLUTE = mark("absolute: no upright pose was recorded, so it counts from the markers' own zero")
HIP_WIDTH_M = 0.095
"""From the hip centre outward to the outside of the hip (common practice). The uncertainties beside the traces below
are house values, for markers placed by a trained hand."""
_KNEES = {
    side: (*PELVIS, *(Marker[f"{side}_{j}_{e}"] for j in ("KNEE", "ANKLE") for e in ("LATERAL", "MEDIAL")))
    for side in ("LEAD", "TRAIL")
}
_ARMS = {
    side: (
        Marker[f"{side}_ACROMION"],
        *(Marker[f"{side}_{j}"] for j in ("ELBOW_LATERAL", "ELBOW_MEDIAL", "WRIST_THUMB", "WRIST_LITTLE")),
    )
    for side in ("LEAD", "TRAIL")
}
_HANDS = (*_ARMS["LEAD"][1:], Marker.LEAD_HAND)
_TRAIL_HANDS = (*_ARMS["TRAIL"][1:], Marker.TRAIL_HAND)
_ELBOWS = (*_ARMS["LEAD"][1:3], *_ARMS["TRAIL"][1:3])
_WRISTS = (*_ARMS["LEAD"][3:], *_ARMS["TRAIL"][3:])
_SHAFT = (Marker.CLUB_GRIP, Marker.CLUB_SHAFT)
_FACE = (*_SHAFT, Marker.CLUB_HEEL, Marker.CLUB_TOE, Marker.CLUB_FACE)
_ANKLES = (*_KNEES["LEAD"][6:], *_KNEES["TRAIL"][6:])
NEEDED: dict[Metric, Sequence[Marker]] = {
    m.PELVIS_TURN: PELVIS,
    m.PELVIS_TURN_RATE: PELVIS,
    m.PELVIS_FORWARD_BEND: PELVIS,
    m.PELVIS_SIDE_BEND: PELVIS,
    m.PELVIS_SWAY: PELVIS,
    m.PELVIS_THRUST: PELVIS,
    m.PELVIS_LIFT: PELVIS,
    m.PELVIS_PEAK_RATE: PELVIS,
    m.PELVIS_PEAK_TIME: PELVIS,
    m.TRAIL_HIP_DEPTH: PELVIS,
    m.LEAD_HIP_DEPTH: PELVIS,
    m.START_OF_MOVE: PELVIS,
    m.THORAX_TURN: THORAX,
    m.THORAX_TURN_RATE: THORAX,
    m.THORAX_FORWARD_BEND: THORAX,
    m.THORAX_SIDE_BEND: THORAX,
    m.THORAX_SWAY: THORAX,
    m.THORAX_THRUST: THORAX,
    m.THORAX_LIFT: THORAX,
    m.THORAX_PEAK_RATE: THORAX,
    m.THORAX_PEAK_TIME: THORAX,
    m.SHARE_OF_TURN: THORAX,
    m.SEPARATION: PELVIS + THORAX,
    m.SEPARATION_STRETCH: PELVIS + THORAX,
    m.MOVE_TOGETHER: PELVIS + THORAX,
    m.SPINE_LEAN: (*PELVIS, Marker.C7, Marker.NOTCH),
    m.POSTURE_FROM_GROUND: (*PELVIS, Marker.C7, Marker.NOTCH),
    m.SHOULDER_LINE_TURN: (Marker.LEAD_ACROMION, Marker.TRAIL_ACROMION),
    m.HEAD_TURN: HEAD,
    m.HEAD_SWAY: HEAD,
    m.HEAD_THRUST: HEAD,
    m.HEAD_LIFT: HEAD,
    m.LEAD_KNEE_FLEXION: _KNEES["LEAD"],
    m.TRAIL_KNEE_FLEXION: _KNEES["TRAIL"],
    m.LEAD_KNEE_STRAIGHTENING: _KNEES["LEAD"],
    m.LEAD_ELBOW_FLEXION: _ARMS["LEAD"],
    m.TRAIL_ELBOW_FLEXION: _ARMS["TRAIL"],
    m.ELBOW_GAP: _ELBOWS,
    m.KNEE_GAP: (*_KNEES["LEAD"][4:6], *_KNEES["TRAIL"][4:6]),
    m.HIPS_OVER_ANKLES: (*PELVIS, *_ANKLES),
    m.STANCE_WIDTH: _ANKLES,
    m.LEAD_HIP_OVERHANG: (*PELVIS, Marker.LEAD_ANKLE_LATERAL, Marker.LEAD_TOE, Marker.LEAD_HEEL),
    m.LEAD_FOOT_FLARE: (Marker.LEAD_HEEL, Marker.LEAD_TOE),
    m.TRAIL_FOOT_FLARE: (Marker.TRAIL_HEEL, Marker.TRAIL_TOE),
    m.HANDS_OUT: (*PELVIS, *_WRISTS),
    m.HANDS_LIFT: _WRISTS,
    m.LEAD_WRIST_EXTENSION: _HANDS,
    m.LEAD_WRIST_DEVIATION: _HANDS,
    m.LEAD_WRIST_EXTENSION_RATE: _HANDS,
    m.LEAD_WRIST_DEVIATION_RATE: _HANDS,
    m.HAND_ROLL: _HANDS,
    m.HAND_ROLL_RATE: _HANDS,
    m.TAKEAWAY_DIP: _HANDS,
    m.TRAIL_WRIST_EXTENSION: _TRAIL_HANDS,
    m.TRAIL_WRIST_DEVIATION: _TRAIL_HANDS,
    m.FOREARM_PRONATION: _HANDS[:4],
    m.LEAD_ARM_RATE: _HANDS[:4],
    m.HAND_RATE: _HANDS,
    m.LEAD_ARM_PEAK_RATE: _HANDS[:4],
    m.LEAD_ARM_PEAK_TIME: _HANDS[:4],
    m.SHAFT_ELEVATION: _SHAFT,
    m.SHAFT_ELEVATION_RATE: _SHAFT,
    m.SHAFT_HEADING: _SHAFT,
    m.CLUB_RATE: _SHAFT,
    m.CLUB_PEAK_RATE: _SHAFT,
    m.CLUB_PEAK_TIME: _SHAFT,
    m.LAG: (*_HANDS[:4], *_SHAFT),
    m.HINGE_HELD: (*_HANDS[:4], *_SHAFT),
    m.FACE_ELEVATION: _FACE,
    m.CLUB_PATH: _FACE[2:4],
    m.ATTACK_ANGLE: _FACE[2:4],
    m.SEQUENCE_GAP: (*PELVIS, *THORAX, *_HANDS[:4], *_SHAFT),
    m.THORAX_GAIN: PELVIS + THORAX,
    m.LEAD_ARM_GAIN: (*THORAX, *_HANDS[:4]),
    m.CLUB_GAIN: (*_HANDS[:4], *_SHAFT),
}
"""Which markers a metric needs; what lacks one is missing, with that as its reason."""


@dataclass(frozen=True)
class Upright:
    """Forward bend of pelvis and thorax, rad, in the upright pose."""

    pelvis: float
    thorax: float


@dataclass(frozen=True)
class _Reading:
    pose: BodyPose
    address: slice
    impact: int
    upright: Upright | None
    step_s: float

    def since_address(self, values: Array) -> Array:
        """Displacement (n, …), m or rad as given, from the median of the address window."""
        if self.address.stop == 0:
            return np.full_like(values, np.nan)
        return values - np.nanmedian(values[self.address], axis=0)


def marker_traces(
    pose: BodyPose, address: slice, impact: int | None, upright: Upright | None, step_s: float
) -> list[Trace]:
    """Every metric over time that the markers allow. ``address``: samples of the address window; ``impact``: its sample
    or None; ``upright``: forward bends in the upright pose, or None. Standard uncertainties of marker placement are
    house values."""
    reading = _Reading(pose, address, pose.n if impact is None else impact, upright, step_s)
    out: list[Trace] = []
    for part in (_trunk, _spine, _travel, _hips, _legs, _arms, _wrists, _hands, _club):
        out += part(reading)
    return out


def _trunk(reading: _Reading) -> list[Trace]:
    out, turns = [], {}
    frames = reading.pose.frames
    for name, turn, forward, side in (
        ("pelvis", m.PELVIS_TURN, m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND),
        ("thorax", m.THORAX_TURN, m.THORAX_FORWARD_BEND, m.THORAX_SIDE_BEND),
    ):
        if name not in frames:
            continue
        r, common, note = frames[name].r, 4.0, tr(ABSOLUTE)
        if reading.upright is not None:
            r, common, note = untilted(r, getattr(reading.upright, name)), 1.5, ""
        psi, phi, theta = sg.turn_side_forward(r)
        turns[name] = psi
        out += [
            Trace(turn, psi, 0.2 * DEG, common_sd=1.2 * DEG),
            Trace(forward, theta, 0.2 * DEG, common_sd=common * DEG, note=note),
            Trace(side, phi, 0.2 * DEG, common_sd=1.2 * DEG),
        ]
    if "head" in frames:
        out.append(Trace(m.HEAD_TURN, sg.turn_side_forward(frames["head"].r)[0], 0.3 * DEG, common_sd=2.0 * DEG))
    if len(turns) == 2:
        out.append(Trace(m.SEPARATION, turns["thorax"] - turns["pelvis"], 0.3 * DEG, common_sd=1.7 * DEG))
    points = reading.pose.points
    if Marker.LEAD_ACROMION in points and Marker.TRAIL_ACROMION in points:
        line = points[Marker.LEAD_ACROMION] - points[Marker.TRAIL_ACROMION]
        out.append(Trace(m.SHOULDER_LINE_TURN, sg.heading_closed(line), 0.2 * DEG, common_sd=1.5 * DEG))
    return out


def _spine(reading: _Reading) -> list[Trace]:
    frames, joints = reading.pose.frames, reading.pose.joints
    if "pelvis" not in frames or "upper" not in joints:
        return []
    line = joints["upper"] - frames["pelvis"].origin_m
    lean = np.arctan2(-line[:, 1], line[:, 2])
    posture = np.pi / 2 - np.arctan2(line[:, 0], line[:, 2])
    return [
        Trace(m.SPINE_LEAN, lean, 0.15 * DEG, common_sd=1.0 * DEG),
        Trace(m.POSTURE_FROM_GROUND, posture, 0.15 * DEG, common_sd=1.5 * DEG),
    ]


def _travel(reading: _Reading) -> list[Trace]:
    out = []
    for name, metrics in (
        ("pelvis", (m.PELVIS_THRUST, m.PELVIS_SWAY, m.PELVIS_LIFT)),
        ("thorax", (m.THORAX_THRUST, m.THORAX_SWAY, m.THORAX_LIFT)),
        ("head", (m.HEAD_THRUST, m.HEAD_SWAY, m.HEAD_LIFT)),
    ):
        if name in reading.pose.frames:
            moved = reading.since_address(reading.pose.frames[name].origin_m)
            out += [Trace(metric, moved[:, k], 0.001) for k, metric in enumerate(metrics)]
    return out


def _hips(reading: _Reading) -> list[Trace]:
    joints = reading.pose.joints
    if "lead_hip" not in joints:
        return []
    out = []
    for side, metric in (("lead", m.LEAD_HIP_DEPTH), ("trail", m.TRAIL_HIP_DEPTH)):
        out.append(Trace(metric, reading.since_address(joints[f"{side}_hip"])[:, 0], 0.003))
    edge = outer_edge_m(reading.pose.points, reading.address) if reading.address.stop else None
    if edge is not None:
        out.append(Trace(m.LEAD_HIP_OVERHANG, joints["lead_hip"][:, 1] + HIP_WIDTH_M - edge, 0.002, common_sd=0.015))
    if "lead_ankle" in joints and "trail_ankle" in joints:
        hips = (joints["lead_hip"] + joints["trail_hip"])[:, 0] / 2.0
        ankles = (joints["lead_ankle"] + joints["trail_ankle"])[:, 0] / 2.0
        out.append(Trace(m.HIPS_OVER_ANKLES, hips - ankles, 0.002, common_sd=0.012))
    return out


def _legs(reading: _Reading) -> list[Trace]:
    joints, points, out = reading.pose.joints, reading.pose.points, []
    for side, knee, flare, sign in (
        ("lead", m.LEAD_KNEE_FLEXION, m.LEAD_FOOT_FLARE, 1.0),
        ("trail", m.TRAIL_KNEE_FLEXION, m.TRAIL_FOOT_FLARE, -1.0),
    ):
        if all(f"{side}_{j}" in joints for j in ("hip", "knee", "ankle")):
            bend = sg.bend_between(*(joints[f"{side}_{j}"] for j in ("hip", "knee", "ankle")))
            out.append(Trace(knee, bend, 0.5 * DEG, common_sd=4.0 * DEG))
        heel, toe = Marker[f"{side.upper()}_HEEL"], Marker[f"{side.upper()}_TOE"]
        if heel in points and toe in points:
            line = points[toe] - points[heel]
            out.append(Trace(flare, sign * np.arctan2(line[:, 1], line[:, 0]), 0.3 * DEG, common_sd=2.0 * DEG))
    if "lead_knee" in joints and "trail_knee" in joints:
        out.append(Trace(m.KNEE_GAP, np.abs(joints["lead_knee"] - joints["trail_knee"])[:, 0], 0.002, common_sd=0.005))
    if "lead_ankle" in joints and "trail_ankle" in joints:
        apart = np.abs(joints["lead_ankle"] - joints["trail_ankle"])[:, 1]
        out.append(Trace(m.STANCE_WIDTH, apart, 0.001, common_sd=0.005))
    return out


def _arms(reading: _Reading) -> list[Trace]:
    joints, out = reading.pose.joints, []
    for side, metric in (("lead", m.LEAD_ELBOW_FLEXION), ("trail", m.TRAIL_ELBOW_FLEXION)):
        if all(f"{side}_{j}" in joints for j in ("shoulder", "elbow", "wrist")):
            bend = sg.bend_between(*(joints[f"{side}_{j}"] for j in ("shoulder", "elbow", "wrist")))
            out.append(Trace(metric, bend, 0.6 * DEG, common_sd=3.0 * DEG))
    if "lead_elbow" in joints and "trail_elbow" in joints and reading.address.stop:
        apart = np.linalg.norm(joints["lead_elbow"] - joints["trail_elbow"], axis=1)
        out.append(Trace(m.ELBOW_GAP, apart / np.nanmedian(apart[reading.address]), 0.01))
    return out


def _wrists(reading: _Reading) -> list[Trace]:
    frames, points, out = reading.pose.frames, reading.pose.points, []
    for side, extension, deviation in (
        ("lead", m.LEAD_WRIST_EXTENSION, m.LEAD_WRIST_DEVIATION),
        ("trail", m.TRAIL_WRIST_EXTENSION, m.TRAIL_WRIST_DEVIATION),
    ):
        if f"{side}_hand" not in frames:
            continue
        forearm, hand = frames[f"{side}_forearm"].r, frames[f"{side}_hand"].r
        bent, hinged, _ = wrist_angles(np.swapaxes(forearm, 1, 2) @ hand)
        out += [
            Trace(extension, bent, 0.8 * DEG, common_sd=4.0 * DEG),
            Trace(deviation, hinged, 0.8 * DEG, common_sd=4.0 * DEG),
        ]
    if "lead_hand" in frames and reading.address.stop:
        middle = (reading.address.start + reading.address.stop) // 2
        hand = frames["lead_hand"].r
        if np.isfinite(hand).all():
            out.append(Trace(m.HAND_ROLL, hand_roll(hand, middle), 3.5 * DEG))
    if "lead_hand" in frames:
        out.append(Trace(m.HAND_RATE, axis_speed(frames["lead_hand"].r[:, :, 0], reading.step_s), 8.0 * DEG))
    if "lead_forearm" in frames:
        d = frames["lead_forearm"].r[:, :, 0]
        lateral = points[Marker.LEAD_ELBOW_LATERAL] - points[Marker.LEAD_ELBOW_MEDIAL]
        turned = pronation(lateral, frames["lead_forearm"].r)
        out.append(Trace(m.FOREARM_PRONATION, turned, 1.0 * DEG, common_sd=5.0 * DEG))
        out.append(Trace(m.LEAD_ARM_RATE, axis_speed(d, reading.step_s), 8.0 * DEG))
    return out


def _hands(reading: _Reading) -> list[Trace]:
    joints, frames = reading.pose.joints, reading.pose.frames
    if "lead_wrist" not in joints or "trail_wrist" not in joints:
        return []
    hands = (joints["lead_wrist"] + joints["trail_wrist"]) / 2.0
    out = [Trace(m.HANDS_LIFT, reading.since_address(hands)[:, 2], 0.002)]
    if "pelvis" in frames:
        out.append(Trace(m.HANDS_OUT, reading.since_address(hands - frames["pelvis"].origin_m)[:, 0], 0.003))
    return out


def _club(reading: _Reading) -> list[Trace]:
    frames = reading.pose.frames
    if "club" not in frames:
        return []
    s = frames["club"].r[:, :, 0]
    along = np.where(np.arange(len(s)) <= reading.impact, -s[:, 1], s[:, 1])
    speed = np.empty(len(s))
    for part in (slice(0, reading.impact + 1), slice(reading.impact + 1, None)):
        if len(s[part]) > 2:  # a strike is a corner in the motion: rates are taken on either side of it
            speed[part] = axis_speed(s[part], reading.step_s)
        else:
            speed[part] = 0.0
    out = [
        Trace(m.SHAFT_ELEVATION, np.arcsin(np.clip(s[:, 2], -1.0, 1.0)), 0.3 * DEG, common_sd=0.3 * DEG),
        Trace(m.SHAFT_HEADING, np.arctan2(s[:, 0], along), 0.4 * DEG, common_sd=0.5 * DEG),
        Trace(m.CLUB_RATE, speed, 10.0 * DEG),
    ]
    if has_face(reading.pose.points):
        out.append(
            Trace(m.FACE_ELEVATION, sg.face_elevation(s, frames["club"].r[:, :, 1]), 1.0 * DEG, common_sd=1.5 * DEG)
        )
    if "lead_forearm" in frames:
        d = frames["lead_forearm"].r[:, :, 0]
        between = np.arctan2(np.linalg.norm(sg.cross(d, s), axis=1), sg.dots(d, s))
        out.append(Trace(m.LAG, between, 0.5 * DEG, common_sd=1.5 * DEG))
    return out


def path_and_attack(time_s: Array, head: Array, impact_s: float, frames: int = 6) -> tuple[float, float, float] | None:
    """Club path (+ in to out), attack angle (+ up) and head speed, rad and m/s, at impact, from ``head`` (n, 3), m, not
    filtered. The direction of the velocity between each two of the last ``frames`` frames before impact (at least 5),
    a quadratic through these directions carried on to impact: near impact the head turns by several degrees a frame,
    and a quadratic through its places lags by up to 4°. None when fewer frames are seen."""
    stop = int(np.searchsorted(time_s, impact_s - 1e-6))
    rows = np.arange(max(0, stop - frames), stop)
    rows = rows[np.isfinite(head[rows]).all(axis=1)]
    if len(rows) < 5:
        return None
    t = time_s[rows]
    velocity = np.diff(head[rows], axis=0) / np.diff(t)[:, None]
    level = np.hypot(velocity[:, 0], velocity[:, 1])
    size = np.sqrt(level**2 + velocity[:, 2] ** 2)
    directions = np.column_stack(
        [np.unwrap(np.arctan2(velocity[:, 0], velocity[:, 1])), np.arctan2(velocity[:, 2], level), size]
    )
    since = (t[1:] + t[:-1]) / 2.0 - impact_s
    design = np.column_stack([np.ones_like(since), since, since * since])
    fit, *_ = np.linalg.lstsq(design, directions, rcond=None)
    path, attack, speed = (float(v) for v in fit[0])
    return path, attack, speed
