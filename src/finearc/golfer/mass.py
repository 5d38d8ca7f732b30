"""The model player's centre of mass, from segment masses after D. A. Winter, *Biomechanics and Motor Control of Human
Movement* (fractions of body mass and of segment length from memory)."""

from __future__ import annotations

import numpy as np

from finearc.core.typing import Array
from finearc.golfer.session import TrueSession
from finearc.golfer.whole import Limb, WholeBody

HEAD, PELVIS, UPPER_TRUNK = 0.081, 0.142, 0.355
ARM = ((0.028, 0.436), (0.016, 0.430))
HAND = 0.006
LEG = ((0.100, 0.433), (0.0465, 0.433))
FOOT = 0.0145
"""Shares of body mass; of a limb's two segments also how far along each its centre lies."""
BODY_MASS_INDEX = 23.5


def body_mass_kg(height_m: float) -> float:
    """Mass of a player of a usual build."""
    return BODY_MASS_INDEX * height_m**2


def centre_of_mass(session: TrueSession, body: WholeBody) -> Array:
    """Centre of mass (n, 3), m, bay axes; the club is left aside (half a kilogram)."""
    hips = (body.lead_leg.top_m + body.trail_leg.top_m) / 2.0
    shoulders = (body.lead_arm.top_m + body.trail_arm.top_m) / 2.0
    moment = HEAD * body.head_m + HAND * (body.lead_wrist_m + body.trail_wrist_m)
    moment = moment + PELVIS * _along(hips, shoulders, 0.105) + UPPER_TRUNK * _along(hips, shoulders, 0.63)
    for limb, parts in ((body.lead_arm, ARM), (body.trail_arm, ARM), (body.lead_leg, LEG), (body.trail_leg, LEG)):
        moment = moment + _limb(limb, parts)
    for foot in (body.lead_foot, body.trail_foot):
        moment = moment + FOOT * (foot.ankle_m + foot.r_foot @ np.array([0.06, 0.0, -0.03]))
    total = HEAD + PELVIS + UPPER_TRUNK + 2 * (HAND + FOOT + sum(m for m, _ in (*ARM, *LEG)))
    return np.asarray(moment / total)


def _along(a: Array, b: Array, share: float) -> Array:
    return np.asarray(a + share * (b - a))


def _limb(limb: Limb, parts: tuple[tuple[float, float], tuple[float, float]]) -> Array:
    (upper, at_upper), (lower, at_lower) = parts
    return np.asarray(
        upper * _along(limb.top_m, limb.middle_m, at_upper) + lower * _along(limb.middle_m, limb.end_m, at_lower)
    )
