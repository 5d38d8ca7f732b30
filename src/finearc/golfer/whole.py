"""The rest of the model player: legs, head and trail arm, found from where trunk, lead arm and club already are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d

from finearc.core.typing import Array
from finearc.golfer.anatomy import Anatomy
from finearc.golfer.session import TrueSession
from finearc.golfer.trunk import DOFS, tipped

FLARE_DEG = {"lead": 22.0, "trail": 17.0}
TRAIL_GRIP_M = 0.085
"""How far below the lead hand the trail hand holds the club."""


@dataclass(frozen=True)
class Limb:
    """Three joint centres (n, 3), m, and the direction (n, 3) across the middle one, to its lateral side."""

    top_m: Array
    middle_m: Array
    end_m: Array
    lateral: Array


@dataclass(frozen=True)
class Foot:
    """Ankle centre (n, 3), m, and orientation (n, 3, 3): x to the toes, y outward, z up."""

    ankle_m: Array
    r_foot: Array


@dataclass(frozen=True)
class WholeBody:
    """Everything the trunk and the lead arm leave open, (n, …), bay axes, m."""

    lead_arm: Limb
    trail_arm: Limb
    lead_leg: Limb
    trail_leg: Limb
    lead_foot: Foot
    trail_foot: Foot
    r_head: Array
    head_m: Array
    r_trail_hand: Array
    trail_wrist_m: Array
    lead_wrist_m: Array
    grip_m: Array
    club_head_m: Array
    pelvis_m: Array


def _unit(v: Array) -> Array:
    return np.asarray(v / np.linalg.norm(v, axis=-1, keepdims=True))


def two_links(top: Array, end: Array, upper: float, lower: float, pole: Array) -> tuple[Array, Array]:
    """The middle joint (n, 3) of two links between ``top`` and ``end`` that bends toward ``pole``, and the
    direction across it. The end must be within reach."""
    line = end - top
    size = np.linalg.norm(line, axis=-1, keepdims=True)
    along = line / size
    share = (upper**2 - lower**2 + size**2) / (2 * size)
    off = np.sqrt(np.maximum(upper**2 - share**2, 1e-8))
    side = _unit(pole - np.sum(pole * along, axis=-1, keepdims=True) * along)
    return top + share * along + off * side, np.asarray(np.cross(along, side))


def _foot(session: TrueSession, side: str) -> Foot:
    """A foot on the floor; the trail foot comes onto its toes as it lets go."""
    a, n = session.anatomy, len(session.time_s)
    sign = 1.0 if side == "lead" else -1.0
    flare = np.deg2rad(sign * FLARE_DEG[side])
    c, s = np.cos(flare), np.sin(flare)
    ahead = np.array([c, s, 0.0])
    flat = np.column_stack([ahead, sign * np.array([-s, c, 0.0]), [0.0, 0.0, 1.0]])
    ankle = np.array([0.0, sign * a.half_stance, a.ankle_height])
    if side == "lead":
        return Foot(np.tile(ankle, (n, 1)), np.tile(flat, (n, 1, 1)))
    up = session.dofs[:, DOFS.index("trail_heel")]
    ball_of_foot = ankle + flat @ np.array([0.12, 0.0, -a.ankle_height + 0.01])
    swivel = tipped(np.zeros(n), np.zeros(n), -58.0 * up)
    pitch = tipped(66.0 * up, np.zeros(n), np.zeros(n))
    r = swivel @ flat @ np.diag([1.0, -1.0, 1.0]) @ pitch @ np.diag([1.0, -1.0, 1.0])
    return Foot(ball_of_foot - np.einsum("nij,j->ni", r, flat.T @ (ball_of_foot - ankle)), r)


def _leg(hip: Array, foot: Foot, anatomy: Anatomy, outward: float) -> Limb:
    inward = foot.r_foot[:, :, 0] * np.array([1.0, 1.0, 0.0]) + np.array([0.35, 0.0, 0.0])
    knee, across = two_links(hip, foot.ankle_m, anatomy.thigh, anatomy.shank, inward)
    return Limb(hip, knee, foot.ankle_m, outward * across)


def _within_reach(session: TrueSession, feet: tuple[Foot, Foot]) -> Array:
    """How far the pelvis must come down (n, 3), m, for both legs to reach their feet."""
    a = session.anatomy
    longest = 0.9985 * (a.thigh + a.shank)
    drop = np.zeros(len(session.time_s))
    for hip, foot in zip((session.trunk.lead_hip_m, session.trunk.trail_hip_m), feet, strict=True):
        away = np.hypot(*(hip - foot.ankle_m)[:, :2].T)
        highest = foot.ankle_m[:, 2] + np.sqrt(np.maximum(longest**2 - away**2, 0.01))
        drop = np.maximum(drop, hip[:, 2] - highest)
    return np.asarray(gaussian_filter1d(np.maximum(drop, 0.0), 25.0, mode="nearest"))


def head_of(session: TrueSession) -> tuple[Array, Array]:
    """Orientation (n, 3, 3) and place (n, 3), m, of the head."""
    d = {name: session.dofs[:, k] for k, name in enumerate(DOFS)}
    turned = d["thorax_turn"]
    follows = np.where(turned < -30.0, 0.85 * (turned + 30.0), 0.12 * np.clip(turned, -30.0, 90.0))
    r = tipped(
        0.75 * d["thorax_posture"] + 4.0, 0.5 * d["thorax_lean"], gaussian_filter1d(follows, 60.0, mode="nearest")
    )
    spine = tipped(0.85 * d["thorax_posture"], d["thorax_lean"], np.zeros(len(r)))
    return r, session.trunk.upper_m + spine @ np.array([0.055, 0.0, 0.185])


def _trail_hand(session: TrueSession) -> Array:
    """Orientation (n, 3, 3), columns d, o, r, fixed to the club: the lead hand's mirror image at address."""
    at = int(session.swings[0].times_s["address"] * 1000) if session.swings else len(session.time_s) - 1
    mirror = np.diag([1.0, -1.0, 1.0])
    mirrored = mirror @ session.r_bay_from_hand[at]
    return np.asarray(session.r_bay_from_club @ (session.r_bay_from_club[at].T @ mirrored))


def whole_body(session: TrueSession) -> WholeBody:
    """All joints of a session."""
    a = session.anatomy
    d = session.r_bay_from_forearm[:, :, 0]
    lead_wrist = session.elbow_m + a.forearm * d
    grip = lead_wrist + a.hand_to_grip * session.r_bay_from_hand[:, :, 0]
    shaft = session.r_bay_from_club[:, :, 0]
    r_hand = _trail_hand(session)
    trail_wrist = grip + TRAIL_GRIP_M * shaft - a.hand_to_grip * r_hand[:, :, 0]
    shoulder = session.trunk.trail_shoulder_m
    reach = trail_wrist - shoulder
    size = np.linalg.norm(reach, axis=1, keepdims=True)
    over = gaussian_filter1d(np.maximum(size - 0.985 * (a.upper_arm + a.forearm), 0.0), 15.0, axis=0, mode="nearest")
    shoulder = shoulder + over * reach / size
    pole = np.array([-0.25, -0.25, -1.0]) + 0.0 * reach
    elbow, across = two_links(shoulder, trail_wrist, a.upper_arm, a.forearm, pole)
    feet = (_foot(session, "lead"), _foot(session, "trail"))
    down = np.column_stack([np.zeros((len(reach), 2)), _within_reach(session, feet)])
    r_head, head = head_of(session)
    lead_across = session.r_bay_from_upper_arm[:, :, 2]
    return WholeBody(
        Limb(session.lead_shoulder_m, session.elbow_m, lead_wrist, lead_across),
        Limb(shoulder, elbow, trail_wrist, -across),
        _leg(session.trunk.lead_hip_m - down, feet[0], a, -1.0),
        _leg(session.trunk.trail_hip_m - down, feet[1], a, 1.0),
        *feet,
        r_head,
        head,
        r_hand,
        trail_wrist,
        lead_wrist,
        grip,
        grip + a.grip_to_head * shaft,
        session.trunk.pelvis_m - down,
    )
