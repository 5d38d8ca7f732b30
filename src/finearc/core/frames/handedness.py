"""Everyone is computed as right-handed: a left-hander's streams are mirrored once, here.

``M = diag(1, -1, 1)`` reflects the target axis. Specific force is a vector (``v' = M v``), angular
velocity a pseudo-vector (``w' = -M w``). How the sensor sits on the segment is unknown and found by
calibration, so reflecting the sensor's own axes is enough. ``+x`` of a club sensor stays ``+x``.
"""

from __future__ import annotations

from enum import StrEnum

import numpy as np

from finearc.core.typing import Array

MIRROR = np.array([1.0, -1.0, 1.0])


class Hand(StrEnum):
    """Which way the player swings."""

    RIGHT = "right"
    LEFT = "left"


def mirror_vectors(vectors: Array) -> Array:
    """Reflect vectors (n, 3), any unit."""
    return np.asarray(vectors * MIRROR)


def mirror_pseudovectors(pseudovectors: Array) -> Array:
    """Reflect pseudo-vectors such as angular velocities (n, 3), any unit."""
    return np.asarray(pseudovectors * -MIRROR)
