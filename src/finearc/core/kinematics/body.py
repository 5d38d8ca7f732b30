"""The body and the club in one swing, from markers: every segment and joint as far as the markers go."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from finearc.core.kinematics import segments as sg
from finearc.core.markers.labels import HEAD, PELVIS, THORAX, Marker
from finearc.core.typing import Array

Points = Mapping[Marker, Array]
M = Marker
FOOT_SIDES = {
    "lead": (M.LEAD_HEEL, M.LEAD_TOE, M.LEAD_ANKLE_LATERAL),
    "trail": (M.TRAIL_HEEL, M.TRAIL_TOE, M.TRAIL_ANKLE_LATERAL),
}


@dataclass(frozen=True)
class Frame:
    """Axes (n, 3, 3), bay from segment, and origin (n, 3), m."""

    r: Array
    origin_m: Array


@dataclass(frozen=True)
class BodyPose:
    """Whatever the markers allow, (n, …), bay axes, m; absent parts are not in the mappings.

    ``frames``: pelvis, thorax, head, club, and forearms and hands by ``lead_``/``trail_``. ``joints``: centres of hips,
    knees, ankles, shoulders, elbows, wrists by side; club head and grip end; ``upper``: the middle of notch and C7.
    """

    n: int
    frames: Mapping[str, Frame]
    joints: Mapping[str, Array]
    points: Points


def _middle(points: Points, a: Marker, b: Marker) -> Array | None:
    return (points[a] + points[b]) / 2.0 if a in points and b in points else None


def body_pose(points: Points) -> BodyPose:
    """All segments of smoothed markers."""
    n = len(next(iter(points.values())))
    frames: dict[str, Frame] = {}
    joints: dict[str, Array] = {}
    if all(m in points for m in PELVIS):
        frames["pelvis"] = Frame(*sg.pelvis_frame(*(points[m] for m in PELVIS)))
        lead, trail = sg.hip_centres(frames["pelvis"].r, *(points[m] for m in PELVIS))
        joints["lead_hip"], joints["trail_hip"] = lead, trail
    if all(m in points for m in THORAX):
        frames["thorax"] = Frame(*sg.thorax_frame(*(points[m] for m in THORAX)))
    upper = _middle(points, M.NOTCH, M.C7)
    if upper is not None:
        joints["upper"] = upper
    if all(m in points for m in HEAD):
        frames["head"] = Frame(*sg.head_frame(*(points[m] for m in HEAD)))
    _shoulders(points, frames, joints)
    for side in ("lead", "trail"):
        _limbs(points, side, frames, joints)
    _club(points, frames, joints)
    return BodyPose(n, frames, joints, points)


def _shoulders(points: Points, frames: Mapping[str, Frame], joints: dict[str, Array]) -> None:
    if M.LEAD_ACROMION not in points or M.TRAIL_ACROMION not in points:
        return
    lead, trail = points[M.LEAD_ACROMION], points[M.TRAIL_ACROMION]
    if "thorax" in frames:
        lead, trail = sg.shoulder_centres(frames["thorax"].r, lead, trail)
    joints["lead_shoulder"], joints["trail_shoulder"] = lead, trail


def _of(side: str, name: str) -> Marker:
    return Marker[f"{side.upper()}_{name}"]


def _limbs(points: Points, side: str, frames: dict[str, Frame], joints: dict[str, Array]) -> None:
    for joint, a, b in (
        ("knee", "KNEE_LATERAL", "KNEE_MEDIAL"),
        ("ankle", "ANKLE_LATERAL", "ANKLE_MEDIAL"),
        ("elbow", "ELBOW_LATERAL", "ELBOW_MEDIAL"),
        ("wrist", "WRIST_THUMB", "WRIST_LITTLE"),
    ):
        middle = _middle(points, _of(side, a), _of(side, b))
        if middle is not None:
            joints[f"{side}_{joint}"] = middle
    elbow, wrist = joints.get(f"{side}_elbow"), joints.get(f"{side}_wrist")
    if elbow is None or wrist is None:
        return
    lead = side == "lead"
    thumb, little = points[_of(side, "WRIST_THUMB")], points[_of(side, "WRIST_LITTLE")]
    forearm = sg.forearm_frame(elbow, thumb, little, lead=lead)
    frames[f"{side}_forearm"] = Frame(forearm, elbow)
    knuckle = points.get(_of(side, "HAND"))
    if knuckle is not None:
        frames[f"{side}_hand"] = Frame(sg.hand_frame(forearm, wrist, knuckle, lead=lead), wrist)


def _club(points: Points, frames: dict[str, Frame], joints: dict[str, Array]) -> None:
    head = _middle(points, M.CLUB_HEEL, M.CLUB_TOE)
    grip = points.get(M.CLUB_GRIP)
    shaft = points.get(M.CLUB_SHAFT)
    if shaft is None:
        shaft = head
    if head is not None:
        joints["club_head"] = head
    if grip is None or shaft is None:
        return
    joints["grip_end"] = grip
    r = sg.club_frame(grip, shaft, points.get(M.CLUB_HEEL), points.get(M.CLUB_TOE), points.get(M.CLUB_FACE))
    frames["club"] = Frame(r, grip)


def has_face(points: Points) -> bool:
    """Whether the face of the club is known."""
    return all(m in points for m in (M.CLUB_HEEL, M.CLUB_TOE, M.CLUB_FACE))


def outer_edge_m(points: Points, address: slice) -> float | None:
    """Outermost marker of the lead foot along y at address, m."""
    known = [float(np.nanmedian(points[m][address, 1])) for m in FOOT_SIDES["lead"] if m in points]
    return max(known) if len(known) >= 2 else None


def untilted(r: Array, forward_rad: float) -> Array:
    """The frame counted from an upright pose whose forward bend was ``forward_rad``: ``R Ry(-theta0)``."""
    c, s = np.cos(forward_rad), np.sin(forward_rad)
    return np.asarray(r @ np.array([[c, 0.0, -s], [0.0, 1.0, 0.0], [s, 0.0, c]]))
