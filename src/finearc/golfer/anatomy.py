"""Sizes of the model player, from body height: segment lengths after D. A. Winter, *Biomechanics and Motor Control
of Human Movement* (fractions of height from memory), landmark places of a typical adult (house values).

All local coordinates are in metres in the segment's own axes: pelvis and thorax ``x`` forward, ``y`` to the lead
side, ``z`` up; lead is the left side, as everyone is modelled right-handed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.typing import Array

PELVIS_TILT_DEG = 8.0
"""The four pelvis markers lie in a plane that tips forward by this much when the player stands upright."""


@dataclass(frozen=True)
class Anatomy:
    """Lengths, m."""

    upper_arm: float = 0.318
    forearm: float = 0.256
    hand_to_grip: float = 0.075
    grip_to_head: float = 0.79
    grip_to_butt: float = 0.11
    thigh: float = 0.428
    shank: float = 0.432
    ankle_height: float = 0.075
    spine: float = 0.432
    half_shoulders: float = 0.185
    half_stance: float = 0.205

    @staticmethod
    def of_height(height_m: float) -> Anatomy:
        """Lengths in proportion to height; 1.78 m is the default."""
        k = height_m / 1.78
        base = Anatomy()
        return Anatomy(
            base.upper_arm * k,
            base.forearm * k,
            base.hand_to_grip * k,
            base.grip_to_head,
            base.grip_to_butt,
            base.thigh * k,
            base.shank * k,
            base.ankle_height * k,
            base.spine * k,
            base.half_shoulders * k,
            base.half_stance * k,
        )

    @property
    def acromion_drop(self) -> float:
        """How far the shoulder's centre lies below the acromion: 17 % of the distance between the acromia."""
        return 0.17 * 2.0 * self.half_shoulders


HIP = np.array([0.012, 0.085, -0.083])
"""Lead hip centre from the pelvis origin, in upright pelvis axes. On purpose not where a regression puts it."""
LUMBAR = np.array([-0.030, 0.0, 0.060])
PELVIS_MARKERS = {
    "LASI": np.array([0.090, 0.125, 0.0]),
    "RASI": np.array([0.090, -0.125, 0.0]),
    "LPSI": np.array([-0.090, 0.045, 0.0]),
    "RPSI": np.array([-0.090, -0.045, 0.0]),
}
"""In marker axes, which tip by ``PELVIS_TILT_DEG``."""
THORAX_MARKERS = {
    "C7": np.array([-0.065, 0.0, 0.030]),
    "CLAV": np.array([0.065, 0.0, -0.030]),
    "T10": np.array([-0.105, 0.0, -0.170]),
    "STRN": np.array([0.105, 0.0, -0.210]),
}
"""From the midpoint of notch and C7."""
HEAD_MARKERS = {
    "LFHD": np.array([0.085, 0.065, 0.060]),
    "RFHD": np.array([0.085, -0.065, 0.060]),
    "LBHD": np.array([-0.095, 0.060, 0.050]),
    "RBHD": np.array([-0.095, -0.060, 0.050]),
}
FOOT_MARKERS = {
    "HEE": np.array([-0.055, 0.0, -0.040]),
    "TOE": np.array([0.150, 0.010, -0.045]),
}
"""From the ankle centre, foot axes: x to the toes, y outward, z up."""


def mirrored(v: Array) -> Array:
    """The same place on the trail side."""
    return np.asarray(v * np.array([1.0, -1.0, 1.0]))
