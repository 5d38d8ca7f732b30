"""Standing still on the ground."""

from __future__ import annotations

import numpy as np

from finearc.core.pressure.clean import MatMotion
from finearc.core.pressure.plates import PlateMotion
from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array

GroundMotion = MatMotion | PlateMotion
STILL_M_S = 0.05
STILL_HZ = 8.0
LEAST_STILL_S = 0.35
ADDRESS_S = 0.2
"""Standing still: the centre of pressure, slower than this, for so long (house values)."""


def stillness(time_s: Array, places_m: Array, before: int | None = None) -> slice | None:
    """The last ``ADDRESS_S`` of the last rest before the pressure moves most, or before sample ``before``, as samples;
    None without a rest. ``time_s`` (n,), s; ``places_m`` (n, 2), m, of the centre of pressure."""
    step = float(time_s[-1] - time_s[0]) / max(len(time_s) - 1, 1)
    smooth = low_pass(places_m, STILL_HZ, 1.0 / step)
    speed = np.linalg.norm(np.gradient(smooth, step, axis=0), axis=1)
    stop = int(np.argmax(speed)) if before is None else before
    still = speed[: stop + 1] < STILL_M_S
    edges = np.flatnonzero(np.diff(np.concatenate([[False], still, [False]]).astype(np.int8))).reshape(-1, 2)
    runs = [(int(a), int(b)) for a, b in edges if (b - a) * step >= LEAST_STILL_S]
    if not runs:
        return None
    a, b = runs[-1]
    return slice(max(a, b - max(3, round(ADDRESS_S / step))), b)
