"""Small rotation helpers on matrices. A matrix ``r_a_from_b`` takes components in ``b`` to ``a``.

Quaternions are ``xyzw``. SciPy's ``Rotation`` is the reference (tests compare); these helpers exist
for stacks of matrices in the inner loop.
"""

from __future__ import annotations

import numpy as np

from finearc.core.typing import Array


def matrices_from_quaternions(q_xyzw: Array) -> Array:
    """Rotation matrices (n, 3, 3) of unit quaternions (n, 4), ``xyzw``."""
    x, y, z, w = q_xyzw.T
    m = np.empty((len(q_xyzw), 3, 3))
    m[:, 0, 0], m[:, 0, 1], m[:, 0, 2] = 1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)
    m[:, 1, 0], m[:, 1, 1], m[:, 1, 2] = 2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)
    m[:, 2, 0], m[:, 2, 1], m[:, 2, 2] = 2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)
    return m


def about_z(angle_rad: float) -> Array:
    """Rotation (3, 3) about the vertical by ``angle_rad``, counter-clockwise seen from above."""
    c, s = np.cos(angle_rad), np.sin(angle_rad)
    return np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])


def from_rotation_vector(v: Array) -> Array:
    """Rotation (3, 3) of a rotation vector (3,), rad (Rodrigues' formula)."""
    angle = float(np.sqrt(v @ v))
    k = np.array([[0.0, -v[2], v[1]], [v[2], 0.0, -v[0]], [-v[1], v[0], 0.0]])
    if angle < 1e-9:
        return np.asarray(np.eye(3) + k)
    sin_part = np.sin(angle) / angle
    cos_part = (1.0 - np.cos(angle)) / angle**2
    return np.asarray(np.eye(3) + sin_part * k + cos_part * (k @ k))


def rotation_vector(r: Array) -> Array:
    """Rotation vector (3,), rad, of a rotation (3, 3) by less than half a turn."""
    cos_angle = np.clip((np.trace(r) - 1.0) / 2.0, -1.0, 1.0)
    angle = np.arccos(cos_angle)
    skew = np.array([r[2, 1] - r[1, 2], r[0, 2] - r[2, 0], r[1, 0] - r[0, 1]])
    scale = 0.5 if angle < 1e-6 else angle / (2.0 * np.sin(angle))
    return np.asarray(scale * skew)


def angle_between(a: Array, b: Array) -> float:
    """Angle, rad, between two vectors (3,)."""
    return float(np.arctan2(np.linalg.norm(np.cross(a, b)), a @ b))


def unit(v: Array) -> Array:
    """Vector (3,) of length one in the direction of ``v``."""
    return np.asarray(v / np.linalg.norm(v))
