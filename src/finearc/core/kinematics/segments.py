"""Segment frames and joint centres from landmarks, in bay axes (x to the ball, y to the target, z up).

Pelvis and thorax after the ISB landmarks (Wu et al., J Biomech 35:543, 2002; 38:981, 2005), axes renamed: x forward,
y to the lead side, z up. Angles by ``R = Rz(psi) Rx(phi) Ry(theta)``: rotation, obliquity, tilt (R. Baker, Gait &
Posture 13:1, 2001), chosen because rotation and obliquity are then what an observer sees from above and from in front.
"""

from __future__ import annotations

import numpy as np

from finearc.core.typing import Array


def units(v: Array) -> Array:
    """Vectors (n, 3) of length one; one without a length has no direction, and is no number."""
    length = np.sqrt(np.einsum("ij,ij->i", v, v))
    return np.asarray(v / np.where(length > 0.0, length, np.nan)[:, None])


def dots(a: Array, b: Array) -> Array:
    """Scalar products (n,)."""
    return np.asarray(np.einsum("ij,ij->i", a, b))


def across(v: Array, axis: Array) -> Array:
    """The part of ``v`` (n, 3) square to unit vectors ``axis`` (n, 3), of length one."""
    return units(v - dots(v, axis)[:, None] * axis)


def cross(a: Array, b: Array) -> Array:
    """Vector products (n, 3); quicker than the general one."""
    return np.stack(
        [
            a[:, 1] * b[:, 2] - a[:, 2] * b[:, 1],
            a[:, 2] * b[:, 0] - a[:, 0] * b[:, 2],
            a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0],
        ],
        axis=1,
    )


def pelvis_frame(lead_asis: Array, trail_asis: Array, lead_psis: Array, trail_psis: Array) -> tuple[Array, Array]:
    """Axes (n, 3, 3), bay from pelvis, and origin (n, 3). ``y`` from trail to lead front spine, ``x`` from the middle
    of the back spines to that of the front ones made square to it; origin: mean of the four."""
    y = units(lead_asis - trail_asis)
    x = across(lead_asis + trail_asis - lead_psis - trail_psis, y)
    return np.stack([x, y, cross(x, y)], axis=2), (lead_asis + trail_asis + lead_psis + trail_psis) / 4.0


def thorax_frame(c7: Array, t10: Array, notch: Array, xiphoid: Array) -> tuple[Array, Array]:
    """Axes (n, 3, 3), bay from thorax, and origin (n, 3). ``z`` from the middle of xiphoid and T10 to that of notch
    and C7; ``y`` square to the plane of notch, C7 and that lower middle, to the lead side; origin: mean of the four."""
    lower, upper = (xiphoid + t10) / 2.0, (notch + c7) / 2.0
    z = units(upper - lower)
    y = units(cross(c7 - lower, notch - lower))
    return np.stack([cross(y, z), y, z], axis=2), (lower + upper) / 2.0


def head_frame(front_lead: Array, front_trail: Array, back_lead: Array, back_trail: Array) -> tuple[Array, Array]:
    """Axes (n, 3, 3), bay from head, and the mean of the four markers (n, 3); ``y`` to the lead side, ``x`` forward."""
    y = units(front_lead - front_trail + back_lead - back_trail)
    x = across(front_lead + front_trail - back_lead - back_trail, y)
    return np.stack([x, y, cross(x, y)], axis=2), (front_lead + front_trail + back_lead + back_trail) / 4.0


def turn_side_forward(r_bay_from_segment: Array) -> tuple[Array, Array, Array]:
    """Turn (+ closed, unwrapped), side bend (+ trail end lower) and forward bend (+ forward), rad, each (n,).

    Undefined angles of hidden frames are not a number."""
    r = r_bay_from_segment
    turn = np.arctan2(r[:, 0, 1], r[:, 1, 1])
    seen = np.isfinite(turn)
    if seen.any():
        turn[seen] = np.unwrap(turn[seen])
    side = np.arcsin(np.clip(r[:, 2, 1], -1.0, 1.0))
    return turn, side, np.arctan2(-r[:, 2, 0], r[:, 2, 2])


def heading_closed(line: Array) -> Array:
    """Heading (n,), rad, of lines (n, 3) that point to the lead side, + closed, unwrapped."""
    turn = np.arctan2(line[:, 0], line[:, 1])
    seen = np.isfinite(turn)
    if seen.any():
        turn[seen] = np.unwrap(turn[seen])
    return turn


def hip_centres(
    r_pelvis: Array, lead_asis: Array, trail_asis: Array, lead_psis: Array, trail_psis: Array
) -> tuple[Array, Array]:
    """Lead and trail hip centres (n, 3), m, by the regression of M. E. Harrington et al., J Biomech 40:595, 2007, from
    pelvic width and depth alone (coefficients from memory): from the middle of the front spines 0.24 depth + 9.9 mm
    back, 0.30 width + 10.9 mm down, 0.33 width + 7.3 mm aside. Knees built on any such one are off by 4 to 6°."""
    front, back = (lead_asis + trail_asis) / 2.0, (lead_psis + trail_psis) / 2.0
    width = float(np.nanmedian(np.linalg.norm(lead_asis - trail_asis, axis=1)))
    depth = float(np.nanmedian(np.linalg.norm(front - back, axis=1)))
    place = np.array([-0.24 * depth - 0.0099, 0.33 * width + 0.0073, -0.30 * width - 0.0109])
    return front + r_pelvis @ place, front + r_pelvis @ (place * np.array([1.0, -1.0, 1.0]))


ACROMION_DROP = 0.17
"""Shoulder centre below the acromion, as a share of the distance between the acromia (Rab et al., Gait & Posture
15:113, 2002, from memory)."""


def shoulder_centres(r_thorax: Array, lead_acromion: Array, trail_acromion: Array) -> tuple[Array, Array]:
    """Lead and trail shoulder centres (n, 3), m."""
    span = float(np.nanmedian(np.linalg.norm(lead_acromion - trail_acromion, axis=1)))
    drop = ACROMION_DROP * span * r_thorax[:, :, 2]
    return lead_acromion - drop, trail_acromion - drop


def bend_between(top: Array, middle: Array, end: Array) -> Array:
    """Flexion (n,), rad: 0 straight; 180° minus the included angle at ``middle``."""
    upper, lower = units(middle - top), units(end - middle)
    return np.asarray(np.arctan2(np.sqrt(np.maximum(1e-30, _square(cross(upper, lower)))), dots(upper, lower)))


def _square(v: Array) -> Array:
    return dots(v, v)


HAND_BACK_M = 0.010
MARKER_RADIUS_M = 0.007
"""From the skin of the hand's back to the bone's axis, and a marker of 14 mm (house values)."""


def forearm_frame(elbow: Array, wrist_thumb: Array, wrist_little: Array, *, lead: bool) -> Array:
    """Axes (n, 3, 3), columns ``d`` distal, ``o`` back of the hand, ``r`` to the thumb. The trail arm's are the lead
    arm's mirror image (``r = o x d``), so that signs mean the same."""
    d = units((wrist_thumb + wrist_little) / 2.0 - elbow)
    r = across(wrist_thumb - wrist_little, d)
    o = cross(r, d) if lead else cross(d, r)
    return np.stack([d, o, r], axis=2)


def hand_frame(r_forearm: Array, wrist: Array, knuckle: Array, *, lead: bool) -> Array:
    """Axes (n, 3, 3), columns ``d, o, r``, of the hand: ``d`` from the wrist centre to the knuckle marker moved
    palmward by 10 mm and the marker's radius; ``r`` from the wrist's own line, as one marker shows no twist."""
    d = units(knuckle - wrist)
    for _ in range(2):
        r = across(r_forearm[:, :, 2], d)
        o = cross(r, d) if lead else cross(d, r)
        d = units(knuckle - (HAND_BACK_M + MARKER_RADIUS_M) * o - wrist)
    r = across(r_forearm[:, :, 2], d)
    return np.stack([d, cross(r, d) if lead else cross(d, r), r], axis=2)


def club_frame(grip: Array, shaft: Array, heel: Array | None, toe: Array | None, face: Array | None) -> Array:
    """Axes (n, 3, 3), columns shaft ``s``, face ``f`` square to it, and ``s x f``; without head markers ``f`` is any
    direction square to the shaft. ``f``: front of the face minus the middle of heel and toe, square to heel–toe."""
    s = units(shaft - grip)
    if heel is None or toe is None or face is None:
        f = across(np.tile([1e-9, 1.0, 2e-9], (len(s), 1)), s)
    else:
        line = units(toe - heel)
        f = across(across(face - (heel + toe) / 2.0, line), s)
    return np.stack([s, f, cross(s, f)], axis=2)


def face_elevation(s: Array, face: Array) -> Array:
    """Face elevation (n,), rad: about 45° is square, toward 0° open, toward 90° shut; loft is projected away."""
    upward = np.array([0.0, 0.0, 1.0]) - s[:, 2:3] * s
    v = units(upward)
    f = across(face, s)
    return np.asarray(np.arctan2(dots(f, v), dots(f, cross(s, v))))
