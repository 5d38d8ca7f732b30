"""When a swing is over, told while samples come: the batch then looks for it and says exactly where it is."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.calibration.poses import STILL_RAD_S
from finearc.core.events.swings import PEAK_DEG_S, Shot

STILL_S = 0.4
"""So long everything is still after a swing before it is over: the batch's window ends 0.3 s into it."""
LONGEST_S = 2.1
"""So long after its fastest moment a swing is over in any case, as for the batch."""


@dataclass(frozen=True)
class SwingParams:
    """``least_rad_s``: no slower movement is a swing."""

    least_rad_s: float

    @classmethod
    def of(cls, shot: Shot, least: float = 1.0) -> SwingParams:
        """``least``: the share of the hand's speed that this sensor reaches (``events.turning``)."""
        return cls(float(np.deg2rad(PEAK_DEG_S[shot])) * least)


@dataclass(frozen=True)
class Turned:
    """How fast something turns now: rad/s at an instant, s; ``least`` as above."""

    at_s: float
    speed_rad_s: float
    least: float


@dataclass
class SwingState:
    """``peak_s``: the fastest moment of a movement fast enough, None between swings; ``still_s``: since when all is
    still."""

    peak_s: float | None = None
    peak_rad_s: float = 0.0
    still_s: float | None = None


def swing_is_over(params: SwingParams, state: SwingState, now_s: float, speed_rad_s: float) -> bool:
    """Take in the mean angular speed of the last few samples; whether a swing has just ended."""
    if speed_rad_s >= params.least_rad_s and speed_rad_s > state.peak_rad_s:
        state.peak_s, state.peak_rad_s = now_s, speed_rad_s
    still = speed_rad_s < STILL_RAD_S
    state.still_s = (state.still_s if state.still_s is not None else now_s) if still else None
    if state.peak_s is None:
        return False
    settled = state.still_s is not None and now_s - state.still_s >= STILL_S
    if not settled and now_s - state.peak_s < LONGEST_S:
        return False
    state.peak_s, state.peak_rad_s = None, 0.0
    return True
