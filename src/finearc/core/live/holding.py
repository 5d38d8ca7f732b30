"""Whether a person holds a pose, or makes a movement, that is asked for: told while samples come."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.calibration.poses import POSE_MIN_S, STILL_RAD_S
from finearc.core.live.sensors import LiveSensors
from finearc.core.signals.streams import Segment
from finearc.core.sources.kind import Window
from finearc.core.typing import Array

SETTLING_S, EDGE_S = 0.45, 0.05
"""The beginning of a stillness still carries the end of the movement, and its last moment may begin the next."""
HOLD_S = SETTLING_S + POSE_MIN_S + EDGE_S
UNMOVED_S = 2.2
"""Who stands in the first pose already holds it a little longer (house value)."""
MOVING_RAD_S = 4.0 * STILL_RAD_S
LEAST_MOVE_S, MOVE_ENDS_S = 2.0, 0.5
"""A movement lasts so long at least, and is over when all has been still for so long (house values)."""
SPEED_S = 0.1
ELSEWHERE_RAD = np.deg2rad(25.0)
"""A sensor that is tilted otherwise by so much than in the pose before has been moved, seen or not (house value)."""


@dataclass(frozen=True)
class PoseAsked:
    """``segments``: the sensors that it is about; ``movement``: whether it is one; ``first``: whether nothing was asked
    before it."""

    name: str
    segments: Sequence[Segment]
    movement: bool = False
    first: bool = False


@dataclass
class HoldingState:
    """Since when (s) all is still; whether anything has moved since it was asked for, and since when. ``before``: where
    up was in each sensor (3,) in the pose before: a device may be away while the player moves. ``asked_s``: when it was
    asked for: what a sensor that is behind the others sends of the time before is not the answer."""

    asked_s: float = -np.inf
    since_s: float | None = None
    moved: bool = False
    moving_s: float | None = None
    before: Mapping[Segment, Array] = field(default_factory=dict)

    def left_s(self, asked: PoseAsked, now_s: float) -> float:
        """How much longer it is to be held, s."""
        needed = HOLD_S if self.moved or not asked.first else UNMOVED_S
        return needed if self.since_s is None else max(0.0, needed - (now_s - self.since_s))


def held(asked: PoseAsked, state: HoldingState, sensors: LiveSensors, after: int) -> Window | None:
    """Look at the present (the grid's index before ``after``): the window, s, once the pose has been held."""
    now_s = sensors.grid.origin_s + after * sensors.grid.step_s
    if now_s < state.asked_s:
        return None
    first = after - max(1, round(SPEED_S / sensors.grid.step_s))
    speeds = [sensors.speed_rad_s(s, first, after) for s in asked.segments]
    if not all(len(s) for s in speeds):
        return None
    speed = max(float(s.mean()) for s in speeds)
    if speed > MOVING_RAD_S and not state.moved:
        state.moved, state.moving_s = True, now_s
    if speed >= STILL_RAD_S:
        state.since_s = None
        return None
    state.since_s = now_s if state.since_s is None else state.since_s
    if asked.movement:
        return _moved(state, now_s)
    state.moved = state.moved or _stands_otherwise(state, ups(sensors, asked.segments))
    if not (state.moved or asked.first) or state.left_s(asked, now_s) > 0.0:
        return None
    return now_s - HOLD_S + SETTLING_S, now_s - EDGE_S


def ups(sensors: LiveSensors, segments: Sequence[Segment]) -> dict[Segment, Array]:
    """Where up is in each sensor (3,) as it was heard of last, of those that send."""
    heard = {s: sensors.front([s]) for s in segments}
    found = {s: sensors.r_up_from_sensor(s, after - 1, after) for s, after in heard.items()}
    return {s: r[-1, 2] for s, r in found.items() if len(r)}


def _stands_otherwise(state: HoldingState, now: Mapping[Segment, Array]) -> bool:
    both = [(state.before[s], up) for s, up in now.items() if s in state.before]
    return any(float(a @ b) < np.cos(ELSEWHERE_RAD) for a, b in both)


def _moved(state: HoldingState, now_s: float) -> Window | None:
    assert state.since_s is not None
    if state.moving_s is None or now_s - state.since_s < MOVE_ENDS_S:
        return None
    if state.since_s - state.moving_s < LEAST_MOVE_S:
        state.moved, state.moving_s = False, None  # a twitch
        return None
    return state.moving_s, state.since_s
