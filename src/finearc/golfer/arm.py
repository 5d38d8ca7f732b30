"""The lead arm, wrist and club of the golfer model: how they are built and turn.

Bay axes: x to the ball, y to the target, z up; right-handed player (left-handers are mirrored at the end).
The forearm turns by ``psi`` in a plane tilted ``zeta`` (0 hanging, negative going back) and rolls by ``rho``
about its long axis; the hand follows by the three wrist angles; the club is held firmly.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.typing import Array
from finearc.golfer.anatomy import Anatomy

STEP_S = 0.001
SMOOTH_S = 0.014
ADDRESS_ARM_DEG = (-11.0, 79.0, 0.0)
"""Turn in its plane, tilt of that plane and roll of the lead forearm at address: it hangs from the shoulder, its hand a
hand's width and more in front of the thighs (common practice)."""
LIE_DEG = 62.0


def minimum_jerk(u: Array) -> Array:
    """Smooth step 0..1 with zero velocity and acceleration at both ends."""
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u**3 * (10 - 15 * u + 6 * u * u))


def smooth_curve(knots_s: Array, values: Array, time_s: Array) -> Array:
    """Through the knots without overshoot, then smoothed so that accelerations are continuous."""
    return np.asarray(gaussian_filter1d(PchipInterpolator(knots_s, values)(time_s), SMOOTH_S / STEP_S, mode="nearest"))


@dataclass(frozen=True)
class ArmMotion:
    """Forearm orientation (n, 3, 3), bay from segment, wrist angles (n,), rad, how far the shoulder gives way
    along the arm (n,), m, and how far the club hinges in the fingers (n,), rad. ``pole`` (n, 3), bay axes: toward
    where the elbow points, where it is not left to the arm."""

    r_bay_from_forearm: Array
    extension: Array
    deviation: Array
    twist: Array
    give_m: Array
    grip: Array
    pole: Array | None = None


def forearm_orientation(psi_deg: Array, zeta_deg: Array, rho_deg: Array) -> Array:
    """Columns ``d, o, r`` in bay axes, (n, 3, 3)."""
    psi, zeta, rho = np.deg2rad(psi_deg), np.deg2rad(zeta_deg), np.deg2rad(rho_deg)
    zero = np.zeros_like(psi)
    down = np.stack([np.cos(zeta), zero, -np.sin(zeta)], axis=-1)
    target = np.stack([zero, zero + 1.0, zero], axis=-1)
    d = down * np.cos(psi)[..., None] + target * np.sin(psi)[..., None]
    o0 = -down * np.sin(psi)[..., None] + target * np.cos(psi)[..., None]
    r0 = np.cross(d, o0)
    o = o0 * np.cos(rho)[..., None] + r0 * np.sin(rho)[..., None]
    return np.stack([d, o, np.cross(d, o)], axis=-1)


def true_twist(extension: Array, deviation: Array, rest_rad: float) -> Array:
    """The small twist about the hand's long axis: a player's constant and a coupling, within 5°."""
    twist = rest_rad + 0.07 * (deviation + np.deg2rad(23.0)) + 0.03 * (extension - np.deg2rad(20.0))
    return np.asarray(np.deg2rad(5.0) * np.tanh(twist / np.deg2rad(5.0)))


def address_forearm() -> Array:
    """Lead forearm at address (3, 3), bay from segment."""
    return np.asarray(forearm_orientation(*(np.full(1, v) for v in ADDRESS_ARM_DEG))[0])


def club_in_hand(extension_deg: float, deviation_deg: float, twist_rest: float, lean_deg: float) -> tuple[Array, Array]:
    """Shaft direction and face normal (3,) in hand axes that put the club head square on the ground at this
    address."""
    e, v = np.deg2rad([extension_deg]), np.deg2rad([deviation_deg])
    hand = address_forearm() @ rotation_of(e, v, true_twist(e, v, twist_rest))[0]
    lie, lean = np.deg2rad(LIE_DEG), np.deg2rad(lean_deg)
    shaft = np.array([np.cos(lie) * np.cos(lean), -np.sin(lean), -np.sin(lie) * np.cos(lean)])
    target = np.array([0.0, 1.0, 0.0])
    face = target - (target @ shaft) * shaft
    return hand.T @ shaft, hand.T @ (face / np.linalg.norm(face))


def grip_opened(grip: Array) -> Array:
    """Rotations (n, 3, 3) in hand axes by which the club hinges in the fingers toward the thumb."""
    c, s = np.cos(grip), np.sin(grip)
    zero, one = np.zeros_like(c), np.ones_like(c)
    return np.asarray(np.stack([c, zero, -s, zero, one, zero, s, zero, c], axis=-1).reshape(*c.shape, 3, 3))


def own_pole(r_bay_from_forearm: Array) -> Array:
    """Where the elbow points (n, 3), bay axes, in a swing: down, and away from the thumb's side."""
    return np.asarray(np.array([0.0, 0.0, -1.0]) - 0.6 * r_bay_from_forearm[..., 2])


def elbow_side(r_bay_from_forearm: Array, pole: Array | None = None) -> Array:
    """Direction (n, 3), across the forearm, in which the elbow lies off the line from shoulder to wrist; toward the
    ``pole``, else where the arm's own is."""
    d = r_bay_from_forearm[..., 0]
    raw = own_pole(r_bay_from_forearm) if pole is None else pole
    side = raw - np.sum(raw * d, axis=-1, keepdims=True) * d
    return np.asarray(side / np.linalg.norm(side, axis=-1, keepdims=True))


@dataclass(frozen=True)
class Arm:
    """The lead arm with the club as a chain from the shoulder to the club head."""

    anatomy: Anatomy
    shaft_hand: Array
    face_hand: Array

    def upper_arm(self, r_bay_from_forearm: Array, elbow_deg: Array, pole: Array | None = None) -> Array:
        """Shoulder to elbow (n, 3), m."""
        bend = np.deg2rad(elbow_deg)[..., None]
        along = np.cos(bend) * r_bay_from_forearm[..., 0] + np.sin(bend) * elbow_side(r_bay_from_forearm, pole)
        return np.asarray(self.anatomy.upper_arm * along)

    def to_wrist(self, r_bay_from_forearm: Array, elbow_deg: Array, pole: Array | None = None) -> Array:
        """Shoulder to wrist centre (n, 3), m."""
        along = self.anatomy.forearm * r_bay_from_forearm[..., 0]
        return self.upper_arm(r_bay_from_forearm, elbow_deg, pole) + along

    def to_head(self, r_bay_from_forearm: Array, r_forearm_from_hand: Array, elbow_deg: Array) -> Array:
        """Shoulder to club head (n, 3), m."""
        hand = r_bay_from_forearm @ r_forearm_from_hand
        club = hand @ (
            self.anatomy.hand_to_grip * np.array([1.0, 0.0, 0.0]) + self.anatomy.grip_to_head * self.shaft_hand
        )
        return np.asarray(self.to_wrist(r_bay_from_forearm, elbow_deg) + club)

    def face_elevation_deg(self, r_bay_from_hand: Array) -> float:
        """Face elevation of one hand orientation (3, 3), deg."""
        s, f = r_bay_from_hand @ self.shaft_hand, r_bay_from_hand @ self.face_hand
        v = np.array([0.0, 0.0, 1.0]) - s[2] * s
        v /= np.linalg.norm(v)
        return float(np.rad2deg(np.arctan2(f @ v, f @ np.cross(s, v))))


@dataclass(frozen=True)
class Shoulder:
    """Lead shoulder at address and at impact (3,), m, its velocity at impact, m/s: what the arm must make up for."""

    address_m: Array
    impact_m: Array
    impact_m_s: Array
    elbow_deg: tuple[float, float]
