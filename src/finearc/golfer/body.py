"""One swing of the lead arm, wrist and club: true orientations on a fine grid.

Bay axes: x to the ball, y to the target, z up; right-handed player (left-handers are mirrored at the end).
The forearm turns by ``psi`` in a plane tilted ``zeta`` (0 hanging, negative going back) and rolls by ``rho``
about its long axis; the hand follows by the three wrist angles; the club is held firmly.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.interpolate import PchipInterpolator
from scipy.ndimage import gaussian_filter1d
from scipy.optimize import brentq

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.typing import Array
from finearc.golfer.style import SwingStyle

STEP_S = 0.001
SMOOTH_S = 0.014
ADDRESS_ZETA_DEG = 84.0
LIE_DEG = 62.0
FOLLOW_S = 0.85
LEAD_IN_S = 0.10


def minimum_jerk(u: Array) -> Array:
    """Smooth step 0..1 with zero velocity and acceleration at both ends."""
    u = np.clip(u, 0.0, 1.0)
    return np.asarray(u**3 * (10 - 15 * u + 6 * u * u))


def smooth_curve(knots_s: Array, values: Array, time_s: Array) -> Array:
    """Through the knots without overshoot, then smoothed so that accelerations are continuous."""
    return np.asarray(gaussian_filter1d(PchipInterpolator(knots_s, values)(time_s), SMOOTH_S / STEP_S, mode="nearest"))


@dataclass(frozen=True)
class ArmMotion:
    """Forearm orientation (n, 3, 3), bay from segment, and wrist angles (n,), rad."""

    r_bay_from_forearm: Array
    extension: Array
    deviation: Array
    twist: Array


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


def shaft_in_hand(extension_deg: float, deviation_deg: float, twist_rest: float, lean_deg: float) -> Array:
    """Shaft direction (3,) in hand axes that puts the club head on the ground at this address."""
    forearm = forearm_orientation(np.zeros(1), np.full(1, ADDRESS_ZETA_DEG), np.zeros(1))[0]
    e, v = np.deg2rad([extension_deg]), np.deg2rad([deviation_deg])
    hand = forearm @ rotation_of(e, v, true_twist(e, v, twist_rest))[0]
    lie, lean = np.deg2rad(LIE_DEG), np.deg2rad(lean_deg)
    shaft = np.array([np.cos(lie) * np.cos(lean), -np.sin(lean), -np.sin(lie) * np.cos(lean)])
    return np.asarray(hand.T @ shaft)


def swing_duration(style: SwingStyle) -> tuple[float, float, float]:
    """Start of the takeaway, top and impact, s from the start of the swing's grid."""
    back, down = style.backswing_s / style.speed, style.downswing_s / style.speed
    return LEAD_IN_S, LEAD_IN_S + back, LEAD_IN_S + back + down


def swing_motion(style: SwingStyle, twist_rest: float, shaft_hand: Array) -> tuple[ArmMotion, float]:
    """One swing on the fine grid; returns the motion and the impact time from its start, s."""
    start, top, impact = swing_duration(style)
    slow = 1.0 / style.speed
    n = round((impact + FOLLOW_S * slow) / STEP_S)
    time_s = STEP_S * np.arange(n, dtype=np.float64)
    extension, deviation = _wrist(style, time_s, start, top, impact, slow)
    twist = true_twist(extension, deviation, twist_rest)
    zeta = smooth_curve(
        np.array([0, start, top, impact, impact + 0.3 * slow, time_s[-1]]),
        np.array([ADDRESS_ZETA_DEG, ADDRESS_ZETA_DEG, 47.0, 80.0, 55.0, 50.0]),
        time_s,
    )
    f = np.array([0.0, 0.36, 0.52, 1.0])
    rho = smooth_curve(
        np.concatenate(
            [
                [0],
                start + f * (top - start),
                top + np.array([0.6, 0.86, 1.0]) * (impact - top),
                impact + slow * np.array([0.1, 0.3, 0.6]),
                [time_s[-1]],
            ]
        ),
        np.array([0.0, 0.0, 28.0, 50.0, 84.0, 74.0, 42.0, 6.0, -55.0, -80.0, -86.0, -86.0]),
        time_s,
    )
    wrist = rotation_of(extension, deviation, twist)
    at_top = round(top / STEP_S)

    def psi_of(psi_top: float) -> Array:
        return _turn(psi_top, time_s, start, top, impact, slow)

    def off(psi_top: float) -> float:
        forearm = forearm_orientation(psi_of(psi_top), zeta, rho)[at_top - 30 : at_top + 30 : 10]
        shaft = forearm @ wrist[at_top - 30 : at_top + 30 : 10] @ shaft_hand
        return float(np.rad2deg(np.arcsin(shaft[:, 2].min()))) - style.shaft_top_deg

    psi_top = brentq(off, -235.0, -120.0, xtol=0.05) if off(-235.0) * off(-120.0) < 0 else -175.0
    forearm = forearm_orientation(psi_of(float(psi_top)), zeta, rho)
    return ArmMotion(forearm, extension, deviation, twist), impact


def _turn(psi_top: float, time_s: Array, start: float, top: float, impact: float, slow: float) -> Array:
    back = np.linspace(0.0, 1.0, 9)
    down = np.array([0.25, 0.5, 0.75, 1.0])
    share = np.array([0.10, 0.33, 0.655, 1.0])
    knots = np.concatenate(
        [
            [0.0],
            start + back * (top - start),
            top + down * (impact - top),
            impact + slow * np.array([0.05, 0.1, 0.22, 0.4]),
            [time_s[-1]],
        ]
    )
    values = np.concatenate(
        [[0.0], psi_top * minimum_jerk(back), psi_top + share * (3.0 - psi_top), [44.0, 78.0, 122.0, 140.0], [140.0]]
    )
    return smooth_curve(knots, values, time_s)


def _wrist(
    style: SwingStyle, time_s: Array, start: float, top: float, impact: float, slow: float
) -> tuple[Array, Array]:
    back, down = top - start, impact - top
    knots = np.array(
        [
            0.0,
            start,
            start + 0.36 * back,
            start + 0.52 * back,
            top,
            top + 0.6 * down,
            impact,
            impact + 0.02 * slow,
            impact + 0.1 * slow,
            impact + 0.4 * slow,
            time_s[-1],
        ]
    )

    def along(v: tuple[float, ...], past: float) -> Array:
        return np.array([v[0], v[0], v[1], v[2], v[3], v[4], v[5], v[5] + past, v[6], v[7], v[7]])

    extension = smooth_curve(
        knots, along(style.extension, -1.0 if style.extension[5] < style.extension[4] else 1.0), time_s
    )
    if style.dip_deg:
        middle = start + 0.40 * back
        extension = extension - style.dip_deg * np.exp(-0.5 * ((time_s - middle) / (0.10 * back)) ** 2)
    deviation = smooth_curve(knots, along(style.deviation, 0.5), time_s)
    return np.deg2rad(extension), np.deg2rad(deviation)
