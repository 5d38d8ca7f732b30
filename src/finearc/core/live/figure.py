"""The figure of the present moment: the batch's drawing of what markers or sensors have last shown."""

from __future__ import annotations

import numpy as np

from finearc.core.frames.rotations import about_z
from finearc.core.kinematics.body import body_pose
from finearc.core.live.angles import TRUNK, arm_now, seat_now
from finearc.core.live.take import LiveTake
from finearc.core.sources.figure import Figure, arm_frames, oriented_figure, placed_figure
from finearc.core.typing import Array


def figure_now(take: LiveTake) -> Figure | None:
    """One moment (n = 1) of a right-hander's figure, bay axes; None before anything is calibrated or seen. It is drawn
    and never measured from."""
    return _of_markers(take) or _of_sensors(take)


def _of_markers(take: LiveTake) -> Figure | None:
    state = take.optical
    shown = {k: p for k, p in state.newest.items() if np.isfinite(p).all()}
    if not shown:
        return None
    pose = body_pose({k: np.concatenate([state.address[k], p]) for k, p in shown.items() if k in state.address})
    if not pose.frames:
        return None
    both = placed_figure(np.zeros(2), pose, slice(0, 1))
    return Figure(both.time_s[1:], {k: p[1:] for k, p in both.points.items()}, both.measured, True, both.note)


def _of_sensors(take: LiveTake) -> Figure | None:
    frames: dict[str, Array] = {}
    for segment, _, _ in TRUNK:
        r = seat_now(take.sensors, take.anchors, segment)
        if r is not None:
            frames[segment.value] = r
    arm = arm_now(take.sensors, take.anchors, take.angles.address)
    if arm is not None:
        forearm, hand, at_address, heading_rad = arm
        turn = about_z(heading_rad)
        frames |= arm_frames(forearm, turn @ hand, turn @ at_address, take.setting.lie_rad)
    return oriented_figure(np.zeros(1), frames) if frames else None
