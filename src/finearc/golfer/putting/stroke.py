"""The putter in one stroke: a pendulum about a fixed axis, and by how much it leaves it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.typing import Array
from finearc.golfer.putting.style import PuttStyle

LENGTH_M = 0.86
"""From grip end to sweet spot, along the shaft."""
LIE_RAD = np.deg2rad(70.0)
BALL_M = np.array([0.28, 0.06, 0.03])
"""Where the sweet spot stands at address: bay axes, m."""
UP = np.array([0.0, 0.0, 1.0])


@dataclass(frozen=True)
class PutterMotion:
    """``r_bay_from_putter`` (n, 3, 3): columns shaft (grip to head), face normal, and their product (toward the toe);
    ``grip_end_m`` and ``sweet_spot_m`` (n, 3), bay; ``swung_rad`` (n,): what the pendulum has turned."""

    r_bay_from_putter: Array
    grip_end_m: Array
    sweet_spot_m: Array
    swung_rad: Array


def address_putter(style: PuttStyle) -> Array:
    """The putter's axes (3, 3) at address, bay from putter: soled, its face turned by ``face_deg``."""
    lie, lean = LIE_RAD, np.deg2rad(style.lean_deg)
    shaft = np.array([np.cos(lie) * np.cos(lean), -np.sin(lean), -np.sin(lie) * np.cos(lean)])
    open_rad = np.deg2rad(style.face_deg)
    aim = np.array([np.sin(open_rad), np.cos(open_rad), 0.0])
    toe = np.cross(shaft, aim)
    toe /= np.linalg.norm(toe)
    return np.column_stack([shaft, np.cross(toe, shaft), toe])


def swung(style: PuttStyle, time_s: Array, takeaway_s: float) -> Array:
    """What the pendulum has turned (n,), rad, + toward the target: back from rest as a half cosine, through and past
    the ball as a cosine, until it is as far on the other side."""
    back, through = style.back_s, style.through_s
    t1 = takeaway_s + back
    a = style.amplitude
    out = np.zeros(len(time_s))
    going = (time_s >= takeaway_s) & (time_s < t1)
    out[going] = -a * (1.0 - np.cos(np.pi * (time_s[going] - takeaway_s) / back)) / 2.0
    coming = time_s >= t1
    out[coming] = -a * np.cos(np.pi * np.minimum(time_s[coming] - t1, 2.0 * through) / (2.0 * through))
    return out


def putter_motion(style: PuttStyle, time_s: Array, takeaway_s: float) -> PutterMotion:
    """The putter over ``time_s`` (n,), s, of a stroke that begins at ``takeaway_s``."""
    at_address = address_putter(style)
    shaft0 = at_address[:, 0]
    grip0 = BALL_M - LENGTH_M * shaft0
    path = np.deg2rad(style.path_deg)
    along = np.array([np.sin(path), np.cos(path), 0.0])
    axis = np.cross(along, UP)
    pivot = np.array([0.0, float(grip0[1]), style.pivot_m])
    alpha = swung(style, time_s, takeaway_s)
    turned = Rotation.from_rotvec(alpha[:, None] * axis)
    closing = np.deg2rad(style.course(style.roll, time_s, takeaway_s))
    r = (turned * Rotation.from_rotvec(-closing[:, None] * shaft0)).as_matrix() @ at_address
    grip = pivot + turned.apply(grip0 - pivot)
    head = pivot + turned.apply(BALL_M - pivot)
    for steps, grip_way, head_way in (
        (style.handle_along, along, np.zeros(3)),
        (style.both_up, UP, UP),
        (style.head_out, np.zeros(3), np.array([along[1], -along[0], 0.0])),
    ):
        by_m = 0.01 * style.course(steps, time_s, takeaway_s)[:, None]
        grip, head = grip + by_m * grip_way, head + by_m * head_way
    wanted = head - grip
    wanted /= np.linalg.norm(wanted, axis=1, keepdims=True)
    r = _onto(r[:, :, 0], wanted) @ r
    return PutterMotion(r, grip, grip + LENGTH_M * r[:, :, 0], alpha)


def _onto(now: Array, wanted: Array) -> Array:
    """The least rotations (n, 3, 3) that take directions (n, 3) onto others."""
    axis = np.cross(now, wanted)
    sine = np.linalg.norm(axis, axis=1)
    angle = np.arctan2(sine, np.sum(now * wanted, axis=1))
    scale = np.where(sine > 1e-12, angle / np.maximum(sine, 1e-12), 1.0)
    return np.asarray(Rotation.from_rotvec(scale[:, None] * axis).as_matrix())
