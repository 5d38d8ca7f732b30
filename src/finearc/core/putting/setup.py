"""What is known of a putter before it moves: its measures, and about what its free pendulum is to turn."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

LIE_RAD = float(np.deg2rad(70.0))
"""A putter's usual lie, where none is noted (common practice: 68 to 72 degrees)."""
FROM_GRIP_M = 0.30
"""How far below the grip end a sensor is clipped on, where it is not noted: just below the grip (common practice)."""


class Pivot(StrEnum):
    """About what the free pendulum turns: fitted, or set. The last three stand over the grip end as it was at
    address."""

    FITTED = "fitted"
    STERNUM = "sternum"
    SHOULDERS = "shoulders"
    GRIP = "grip"


@dataclass(frozen=True)
class PutterGeometry:
    """``length_m`` from grip end to sole along the shaft; ``lie_rad`` of the shaft over the ground; ``head_offset_m``:
    how far toward the toe the sweet spot lies from the shaft; ``sensor_m``: how far below the grip end the sensor
    sits."""

    length_m: float
    lie_rad: float = LIE_RAD
    head_offset_m: float = 0.0
    sensor_m: float = FROM_GRIP_M


@dataclass(frozen=True)
class PutterSetup:
    """``geometry``: None where it is not noted; ``pivot``, and where it is the sternum or between the shoulders its
    height over the ground, m, unless markers show it."""

    geometry: PutterGeometry | None = None
    pivot: Pivot = Pivot.FITTED
    pivot_height_m: float | None = None
