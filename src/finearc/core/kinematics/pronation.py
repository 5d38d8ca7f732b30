"""Forearm pronation: how far the forearm is turned palm down against the upper arm.

The angle about the forearm's long axis from the line across the elbow (to its lateral side) to the thumb's side,
+ pronated; 0 with the palm ahead in a hanging arm. It is not hand roll, which is in space."""

from __future__ import annotations

import numpy as np

from finearc.core.calibration.upper_arm import UpperArmCalibration
from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.kinematics.segments import across, cross, dots
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.typing import Array


def pronation(lateral: Array, r_from_forearm: Array) -> Array:
    """Pronation (n,), rad, of forearm orientations (n, 3, 3), columns ``d, o, r``, against directions ``lateral``
    (n, 3) across the elbow to its lateral side, in the same axes."""
    d, thumb = r_from_forearm[:, :, 0], r_from_forearm[:, :, 2]
    outside = across(lateral, d)
    return np.arctan2(dots(cross(outside, thumb), d), dots(outside, thumb))


def sensed_pronation(
    r_up_from_forearm: Array, upper: SensorMotion, window: slice, calibration: UpperArmCalibration
) -> Array:
    """The same (n,) from an upper-arm sensor; ``r_up_from_forearm`` (n, 3, 3) in the forearm sensor's vertical frame.
    What lies behind a long gap since the calibration is not a number."""
    seat = matrices_from_quaternions(upper.q_up_from_sensor[window]) @ calibration.r_sensor_from_segment
    lateral = (about_z(calibration.heading_rad) @ seat)[:, :, 2]
    seen = upper.piece[window] == calibration.piece
    return np.where(seen, pronation(lateral, r_up_from_forearm), np.nan)
