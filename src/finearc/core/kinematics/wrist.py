"""Wrist angles of the lead arm, in forearm axes.

``extension = atan2(d_hand . o, d_hand . d)``, + extended (cupped); ``radial deviation = asin(d_hand . r)``,
+ toward the thumb (hinged); what is left is twist about ``d_hand``. This is the joint coordinate system of
Grood and Suntay (J Biomech Eng 105:136, 1983) as the ISB recommends it for the wrist (Wu et al.,
J Biomech 38:981, 2005). ISB's own signs are the opposite for both (flexion +, ulnar +); trade usage wins and
the sign stands only here.
"""

from __future__ import annotations

import numpy as np

from finearc.core.typing import Array


def wrist_angles(r_forearm_from_hand: Array) -> tuple[Array, Array, Array]:
    """Extension, radial deviation and twist, rad, each (n,), of rotations (n, 3, 3) with axes ``d, o, r``."""
    d_hand = r_forearm_from_hand[..., :, 0]
    extension = np.arctan2(d_hand[..., 1], d_hand[..., 0])
    deviation = np.arcsin(np.clip(d_hand[..., 2], -1.0, 1.0))
    sin_e, cos_e = np.sin(extension), np.cos(extension)
    o_hand, r_hand = r_forearm_from_hand[..., :, 1], r_forearm_from_hand[..., :, 2]
    across_o = -sin_e * o_hand[..., 0] + cos_e * o_hand[..., 1]
    across_r = -sin_e * r_hand[..., 0] + cos_e * r_hand[..., 1]
    return extension, deviation, np.arctan2(-across_r, across_o)


def rotation_of(extension: Array, deviation: Array, twist: Array) -> Array:
    """Rotations (n, 3, 3), forearm from hand, of the three angles (n,), rad: the inverse of ``wrist_angles``."""
    ce, se = np.cos(extension), np.sin(extension)
    cv, sv = np.cos(deviation), np.sin(deviation)
    ct, st = np.cos(twist), np.sin(twist)
    zero, one = np.zeros_like(ce), np.ones_like(ce)
    about_r = np.stack([ce, -se, zero, se, ce, zero, zero, zero, one], axis=-1).reshape(*ce.shape, 3, 3)
    about_o = np.stack([cv, zero, -sv, zero, one, zero, sv, zero, cv], axis=-1).reshape(*ce.shape, 3, 3)
    about_d = np.stack([one, zero, zero, zero, ct, -st, zero, st, ct], axis=-1).reshape(*ce.shape, 3, 3)
    return np.asarray(about_r @ about_o @ about_d)


def hand_roll(r_up_from_hand: Array, address_index: int) -> Array:
    """Twist (n,), rad, of the hand in space about its own long axis since address, + closing, unwrapped.

    ``q_rel = q_address^-1 q_hand`` in hand axes, ``roll = -2 atan2(q_rel . d, q_rel . w)``.
    """
    relative = r_up_from_hand[address_index].T @ r_up_from_hand
    w2 = 1.0 + relative[:, 0, 0] + relative[:, 1, 1] + relative[:, 2, 2]
    sine = relative[:, 2, 1] - relative[:, 1, 2]  # 4 w x: same sign as x, as w is taken positive
    roll = -2.0 * np.arctan2(sine, w2)
    unwrapped = np.unwrap(roll)
    return np.asarray(unwrapped - unwrapped[address_index])
