"""A take: what one player's devices send while a recording goes on, measured as it comes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.live.anchors import Anchors, carried_over
from finearc.core.live.angles import AnglesState, LiveTrace, new_angles
from finearc.core.live.gridding import Grid
from finearc.core.live.sensors import LiveSensors
from finearc.core.live.swings import SwingParams, SwingState, swing_is_over
from finearc.core.signals.streams import ImuStream, Segment
from finearc.core.sources.kind import Setting

SPEED_S = 0.02
"""Over so long an angular speed is averaged, as where the batch looks for swings."""
MAIN = (Segment.LEAD_HAND, Segment.CLUB, Segment.THORAX, Segment.PELVIS)
"""In which sensor swings are looked for, best first."""


@dataclass
class LiveTake:
    """One recording as it goes on. ``segments``: the inertial sensors that are worn; times are on the recording's
    clock, axes the sensors' own."""

    setting: Setting
    grid: Grid
    segments: Sequence[Segment]
    sensors: LiveSensors = field(init=False)
    anchors: Anchors = field(default_factory=Anchors)
    angles: AnglesState = field(default_factory=AnglesState)
    swing: SwingState = field(default_factory=SwingState)
    main: Segment | None = field(init=False)

    def __post_init__(self) -> None:
        self.sensors = LiveSensors.of(self.grid, self.segments)
        self.main = next((s for s in MAIN if s in self.segments), None)

    def take_in(self, stretch: ImuStream) -> None:
        """The next samples of a sensor, in order."""
        if self.setting.hand is Hand.LEFT:
            stretch = stretch.mirrored()
        self.sensors.take_in(stretch.segment, stretch.time_s, stretch.acc_m_s2, stretch.gyr_rad_s)

    def new_values(self) -> list[LiveTrace]:
        """Whatever can be read now and could not before."""
        return new_angles(self.sensors, self.anchors, self.angles)

    def learn(self, anchors: Anchors) -> None:
        """Go on from what the batch has found: calibrations after the poses, the headings after each swing."""
        self.anchors = carried_over(anchors, self.sensors)
        self.angles.address.hold = None

    def swing_is_over(self) -> bool:
        """Whether a swing has ended since this was asked last; asked after every frame of the main sensor."""
        if self.main is None:
            return False
        after = self.sensors.by_segment[self.main].track.next
        speed = self.sensors.speed_rad_s(self.main, after - max(1, round(SPEED_S / self.grid.step_s)), after)
        if not len(speed):
            return False
        params = SwingParams.of(self.setting.shot, 1.0 if self.main in MAIN[:2] else 0.5)
        now_s = self.grid.origin_s + after * self.grid.step_s
        return swing_is_over(params, self.swing, now_s, float(np.mean(speed)))


def joined_traces(parts: Sequence[LiveTrace]) -> Mapping[str, tuple[np.ndarray, np.ndarray]]:
    """All that was shown of each metric, by id: times (n,), s, and values (n,), SI."""
    by_id: dict[str, tuple[list[np.ndarray], list[np.ndarray]]] = {}
    for part in parts:
        times, values = by_id.setdefault(part.metric.id, ([], []))
        times.append(part.time_s)
        values.append(part.values)
    return {k: (np.concatenate(t), np.concatenate(v)) for k, (t, v) in by_id.items()}
