"""One swing of the golfer model: true orientations of arm, wrist and club, and curves of the trunk, on a fine grid."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from scipy.optimize import brentq, root

from finearc.core.kinematics.wrist import rotation_of
from finearc.core.typing import Array
from finearc.golfer.arm import (
    ADDRESS_ARM_DEG,
    STEP_S,
    Arm,
    ArmMotion,
    Shoulder,
    forearm_orientation,
    grip_opened,
    minimum_jerk,
    smooth_curve,
    true_twist,
)
from finearc.golfer.style import SwingStyle
from finearc.golfer.trunk import DOFS

THORAX_TURN = DOFS.index("thorax_turn")
TOP_ZETA_DEG = 58.0
TOP_YAW_DEG = -31.0
LEVEL_YAW_DEG = 6.0
"""How far the arms are swung outward where the shaft is level going back, and half of it where the arm is: so the shaft
lies near the target line (house value)."""
GRIP_OPENS_DEG = (0.0, 5.0, 12.0, 24.0, 20.0, 0.0)
"""How far the club hinges in the fingers at address, shaft level, arm level, top, arm level down and impact: the hand
and the club do not reverse at the same instant (house values)."""
FOLLOW_S = 0.85
LEAD_IN_S = 0.10
HITCH_HZ = 5.0


def _one(psi: float, zeta: float, rho: float) -> Array:
    return np.asarray(forearm_orientation(np.full(1, psi), np.full(1, zeta), np.full(1, rho))[0])


def _impact_arm(style: SwingStyle, arm: Arm, shoulder: Shoulder, wrists: tuple[Array, Array]) -> tuple[Array, float]:
    """Turn, tilt and roll (deg) of the forearm that bring the club head back to where it was at address with the
    face square to the target, and by how much the shoulder gives way along the arm for it, m."""
    elbow = np.array(shoulder.elbow_deg)
    ball = shoulder.address_m + arm.to_head(_one(*ADDRESS_ARM_DEG), wrists[0], elbow[0])
    need = ball - shoulder.impact_m

    def off(x: Array) -> Array:
        r = _one(*x)
        reach = arm.to_head(r, wrists[1], elbow[1])
        across = reach / np.linalg.norm(reach) - need / np.linalg.norm(need)
        face = r @ wrists[1] @ arm.face_hand
        return np.array([across[0], across[1], np.arctan2(face[0], face[1]) + np.deg2rad(style.face_impact_deg)])

    found = root(off, np.array([6.0, 92.0, -12.0]), tol=1e-8).x
    reach = arm.to_head(_one(*found), wrists[1], elbow[1])
    return np.asarray(found), float(np.linalg.norm(need) - np.linalg.norm(reach))


def _top_arm(style: SwingStyle, arm: Arm, wrist: Array, opened: Array) -> tuple[float, float]:
    """Turn and roll (deg) of the forearm at the top for the style's shaft and face elevation."""

    def off(x: Array) -> Array:
        hand = _one(x[0], TOP_ZETA_DEG, x[1]) @ wrist @ opened
        shaft = float(np.rad2deg(np.arcsin(np.clip((hand @ arm.shaft_hand)[2], -1, 1))))
        face = (arm.face_elevation_deg(hand) - style.face_top_deg + 180) % 360 - 180
        return np.array([shaft - style.shaft_top_deg, face])

    best: tuple[float, Array] | None = None
    for start in ((-150.0, 84.0), (-165.0, 84.0), (-140.0, 100.0), (-170.0, 60.0)):
        found = root(off, np.array(start), tol=1e-6).x
        size = float(np.abs(off(found)).max())
        if -240.0 < found[0] < -90.0 and -20.0 < found[1] < 160.0 and (best is None or size < best[0] - 1e-3):
            best = (size, found)
    if best is None or best[0] > 3.0:
        return -160.0, 84.0
    return float(best[1][0]), float(best[1][1])


def swing_duration(style: SwingStyle) -> tuple[float, float, float]:
    """Start of the takeaway, top and impact, s from the start of the swing's grid."""
    back, down = style.backswing_s / style.speed, style.downswing_s / style.speed
    return LEAD_IN_S, LEAD_IN_S + back, LEAD_IN_S + back + down


def swing_motion(style: SwingStyle, twist_rest: float, arm: Arm, shoulder: Shoulder) -> tuple[ArmMotion, float]:
    """One swing on the fine grid; returns the motion and the impact time from its start, s."""
    start, top, impact = swing_duration(style)
    slow = 1.0 / style.speed
    n = round((impact + FOLLOW_S * slow) / STEP_S)
    time_s = STEP_S * np.arange(n, dtype=np.float64)
    extension, deviation = _wrist(style, time_s, start, top, impact, slow)
    twist = true_twist(extension, deviation, twist_rest)
    wrist = rotation_of(extension, deviation, twist)
    at_top, at_impact = round(top / STEP_S), round(impact / STEP_S)
    knots = _arm_knots(start, top, impact, slow, time_s[-1])
    grip = style.length * np.deg2rad(smooth_curve(knots, np.array([0.0, *GRIP_OPENS_DEG, 0.0, 0.0, 0.0]), time_s))
    opened = grip_opened(grip)
    struck, give = _impact_arm(style, arm, shoulder, (wrist[0], wrist[at_impact]))
    psi_top, rho_full = _top_arm(style, arm, wrist[at_top], opened[at_top])
    rho_top = style.length * rho_full
    yaw = style.length * smooth_curve(
        knots,
        style.takeaway_in_deg * np.array([0.0, 0.0, -1, -1, 0, 0, 0, 0, 0, 0])
        + np.array([0, 0, LEVEL_YAW_DEG, 0.5 * LEVEL_YAW_DEG, TOP_YAW_DEG, -10, 0, 0, 0, 0]),
        time_s,
    )
    roll = np.array(
        [
            0.0,
            0.0,
            style.length * style.takeaway_roll_deg,
            0.5 * (style.length * style.takeaway_roll_deg + rho_top),
            rho_top,
            0.85 * rho_top,
            struck[2],
            struck[2] - 50.0 * style.through,
            struck[2] + style.through * (-84.0 - struck[2]),
            struck[2] + style.through * (-86.0 - struck[2]),
        ]
    )
    rho = smooth_curve(knots, roll, time_s)
    share = np.clip((time_s - start) / (top - start), 0.0, 1.0)
    hitch = style.hitch_deg * np.sin(np.pi * share) ** 2 * np.sin(2 * np.pi * HITCH_HZ * (time_s - start))

    def forearm_of(turn_top: float, slope: float) -> Array:
        psi = _turn((ADDRESS_ARM_DEG[0], turn_top, float(struck[0])), style, time_s, start, top, impact) + hitch
        zeta = _tilt(float(struck[1]), slope, style, time_s, start, top, impact)
        return np.asarray(_yawed(yaw) @ forearm_orientation(psi, zeta, rho))

    def off(turn_top: float) -> float:
        span = slice(at_top - 30, at_top + 30, 10)
        shaft = forearm_of(turn_top, 0.0)[span] @ wrist[span] @ opened[span] @ arm.shaft_hand
        return float(np.rad2deg(np.arcsin(shaft[:, 2].min()))) - style.shaft_top_deg

    low, high = psi_top - 30.0, psi_top + 30.0
    if style.length < 1.0:
        psi_top = ADDRESS_ARM_DEG[0] + style.length * (psi_top - ADDRESS_ARM_DEG[0])
    elif off(low) * off(high) < 0:
        psi_top = float(brentq(off, low, high, xtol=0.05))
    slope = _path_slope(style, lambda s: forearm_of(psi_top, s), arm, shoulder, wrist, at_impact)
    return ArmMotion(
        forearm_of(psi_top, slope), extension, deviation, twist, _give(time_s, top, impact, give), grip
    ), impact


def _arm_knots(start: float, top: float, impact: float, slow: float, end: float) -> Array:
    """Address twice, shaft level, arm level, top, arm level down, impact, 0.1 and 0.3 s after it, the end; s."""
    back, down = top - start, impact - top
    return np.array(
        [
            0.0,
            start,
            start + 0.36 * back,
            start + 0.52 * back,
            top,
            top + 0.6 * down,
            impact,
            impact + 0.1 * slow,
            impact + 0.3 * slow,
            end,
        ]
    )


def _yawed(yaw_deg: Array) -> Array:
    yaw = np.deg2rad(yaw_deg)
    c, s = np.cos(yaw), np.sin(yaw)
    zero, one = np.zeros_like(c), np.ones_like(c)
    return np.asarray(np.stack([c, -s, zero, s, c, zero, zero, zero, one], axis=-1).reshape(-1, 3, 3))


def _tilt(
    struck: float, slope: float, style: SwingStyle, time_s: Array, start: float, top: float, impact: float
) -> Array:
    """Tilt of the arm's plane (n,), deg, changing by ``slope`` deg/s through impact."""
    slow = 1.0 / style.speed
    near = 0.05 * slow
    knots = np.array(
        [
            0.0,
            start,
            start + 0.36 * (top - start),
            top,
            impact - near,
            impact,
            impact + near,
            impact + 0.3 * slow,
            time_s[-1],
        ]
    )
    level = ADDRESS_ARM_DEG[1]
    up = level + style.length * (TOP_ZETA_DEG - level)
    on, end = (struck + style.through * (v - struck) for v in (60.0, 54.0))
    values = np.array([level, level, level, up, struck - slope * near, struck, struck + slope * near, on, end])
    return smooth_curve(knots, values, time_s)


def _path_slope(
    style: SwingStyle, forearm_of: Callable[[float], Array], arm: Arm, shoulder: Shoulder, wrist: Array, at: int
) -> float:
    """The tilt's change through impact, deg/s, that gives the style's club path."""

    def path(slope: float) -> float:
        span = slice(at - 3, at + 1, 3)
        elbow = np.full(2, shoulder.elbow_deg[1])
        head = arm.to_head(forearm_of(slope)[span], wrist[span], elbow)
        v = (head[1] - head[0]) / (3 * STEP_S) + shoulder.impact_m_s
        return float(np.rad2deg(np.arctan2(v[0], v[1])))

    slope, step = 0.0, 120.0
    for _ in range(2):
        here = path(slope)
        rate = (path(slope + step) - here) / step
        slope += float(np.clip((style.path_deg - here) / rate, -500.0, 500.0)) if abs(rate) > 1e-4 else 0.0
    return float(np.clip(slope, -450.0, 450.0))


def _give(time_s: Array, top: float, impact: float, give: float) -> Array:
    """How far the shoulder gives way along the arm (n,), m: nothing at the top, ``give`` at impact, then fading."""
    coming = minimum_jerk((time_s - top) / (impact - top))
    fading = 1.0 - minimum_jerk((time_s - impact - 0.02) / 0.35)
    return np.asarray(give * coming * fading)


def _turn(
    knots_deg: tuple[float, float, float], style: SwingStyle, time_s: Array, start: float, top: float, impact: float
) -> Array:
    psi_0, psi_top, psi_impact = knots_deg
    slow = 1.0 / style.speed
    back = np.linspace(0.0, 1.0, 9)
    down = np.array([0.25, 0.5, 0.75, 1.0])
    share = np.array([0.085, 0.30, 0.65, 1.0])
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
        [
            [psi_0],
            psi_0 + (psi_top - psi_0) * minimum_jerk(back),
            psi_top + share * (psi_impact - psi_top),
            psi_impact + style.through * np.array([30.0, 62.0, 112.0, 134.0, 134.0]),
        ]
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
            top + 0.67 * down,
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
    deviation = smooth_curve(knots, along(style.deviation, -1.5), time_s)
    return np.deg2rad(extension), np.deg2rad(deviation)


def body_curves(style: SwingStyle, n: int) -> Array:
    """The trunk's quantities (n, 13) through one swing, in the units of ``BodyStyle``."""
    start, top, impact = swing_duration(style)
    slow = 1.0 / style.speed
    time_s = STEP_S * np.arange(n, dtype=np.float64)
    back, down = top - start, impact - top
    knots = np.array(
        [
            0.0,
            start,
            start + 0.36 * back,
            start + 0.52 * back,
            start + 0.84 * back,
            top,
            top + 0.35 * down,
            top + 0.65 * down,
            impact,
            impact + 0.1 * slow,
            impact + 0.45 * slow,
            impact + FOLLOW_S * slow,
        ]
    )
    table = style.body.table()
    values = np.vstack([table[:1], table, table[-1:]])
    later = knots.copy()
    later[6:8] += style.body.thorax_late * down  # early down and arm level down
    return np.column_stack(
        [smooth_curve(later if k == THORAX_TURN else knots, column, time_s) for k, column in enumerate(values.T)]
    )
