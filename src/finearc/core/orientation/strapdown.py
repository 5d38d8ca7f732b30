"""Turning by the gyroscopes alone, for a second or two from a rest: what forces do is left out."""

from __future__ import annotations

import numpy as np
from vqf import VQF

from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.typing import Array


def turned_by_gyroscope(gyr_rad_s: Array, step_s: float) -> Array:
    """Rotations (n, 3, 3) from the sensor to where it all began, by rates (n, 3), rad/s in sensor axes, each holding
    through the step before its sample. The published filter's own integration, which passes over zero forces."""
    strapdown = VQF(step_s, motionBiasEstEnabled=False, restBiasEstEnabled=False)
    out = strapdown.updateBatch(np.ascontiguousarray(gyr_rad_s), np.zeros((len(gyr_rad_s), 3)))
    return matrices_from_quaternions(out["quat6D"][:, [1, 2, 3, 0]])
