"""Angular velocities from orientations."""

from __future__ import annotations

import numpy as np

from finearc.core.typing import Array


def angular_velocity(r_bay_from_segment: Array, step_s: float) -> Array:
    """Angular velocity (n, 3), rad/s, bay axes, of smooth orientations (n, 3, 3): ``dR/dt R^T``."""
    rate = np.gradient(r_bay_from_segment, step_s, axis=0)
    w = np.einsum("nij,nkj->nik", rate, r_bay_from_segment)
    return np.stack([w[:, 2, 1] - w[:, 1, 2], w[:, 0, 2] - w[:, 2, 0], w[:, 1, 0] - w[:, 0, 1]], axis=1) / 2.0


def axis_speed(axis: Array, step_s: float) -> Array:
    """Angular speed (n,), rad/s, of unit vectors (n, 3)."""
    rate = np.gradient(axis, step_s, axis=0)
    return np.asarray(np.sqrt(np.einsum("ij,ij->i", rate, rate)))


def axis_velocity(axis: Array, step_s: float) -> Array:
    """Angular velocity (n, 3), rad/s, of unit vectors (n, 3) without the turn about themselves: ``s x ds/dt``."""
    return np.cross(axis, np.gradient(axis, step_s, axis=0))
