"""A take: what one player's devices send while a recording goes on, measured as it comes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.frames.handedness import Hand
from finearc.core.live.anchors import Anchors, carried_over
from finearc.core.live.angles import AnglesState, LiveTrace, new_angles
from finearc.core.live.gridding import Grid
from finearc.core.live.ground import GroundState, new_loads
from finearc.core.live.optical import OpticalState, new_places, turned
from finearc.core.live.sensors import LiveSensors
from finearc.core.live.swings import SwingParams, SwingState, Turned, swing_is_over
from finearc.core.markers.stream import MarkerStream
from finearc.core.metrics.body import Upright
from finearc.core.metrics.definition import Metric, Source
from finearc.core.pressure.stream import MatStream
from finearc.core.signals.streams import ImuStream, Segment
from finearc.core.sources.kind import Setting
from finearc.core.typing import Array

SILENT_S = 0.5
"""A source silent for so long gives its metrics over to the next best."""
SPEED_S = 0.02
"""Over so long an angular speed is averaged, as where the batch looks for swings."""
MAIN = ((Segment.LEAD_HAND, 1.0), (Segment.CLUB, 1.0), (Segment.THORAX, 0.5), (Segment.PELVIS, 0.5))
"""In which sensor swings are looked for, best first, with the share of the hand's speed that it reaches."""


@dataclass
class LiveTake:
    """One recording as it goes on. ``segments``: the inertial sensors that are worn; times are on the recording's
    clock, axes those of the sensors and the laboratory."""

    setting: Setting
    grid: Grid
    segments: Sequence[Segment]
    sensors: LiveSensors = field(init=False)
    anchors: Anchors = field(default_factory=Anchors)
    angles: AnglesState = field(default_factory=AnglesState)
    optical: OpticalState = field(default_factory=OpticalState)
    ground: GroundState = field(default_factory=GroundState)
    swing: SwingState = field(default_factory=SwingState)
    main: tuple[Segment, float] | None = field(init=False)
    _seen: list[LiveTrace] = field(default_factory=list)
    _asked_at: int = -1
    _best: dict[Metric, tuple[float, Source, float]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.sensors = LiveSensors.of(self.grid, self.segments)
        self.main = next((m for m in MAIN if m[0] in self.segments), None)

    def hear(self, stretch: ImuStream) -> None:
        """The next samples of a sensor, in order."""
        if stretch.segment not in self.sensors.by_segment:
            return
        if self.setting.hand is Hand.LEFT:
            stretch = stretch.mirrored()
        self.sensors.take_in(stretch.segment, stretch.time_s, stretch.acc_m_s2, stretch.gyr_rad_s)

    def see(self, frames: MarkerStream) -> None:
        """The next frames of the cameras, in order. What cannot be read now is left to the batch, which says why."""
        try:
            self._seen += new_places(self.optical, frames, self.setting.hand)
        except FineArcError:
            return

    def tread(self, frames: MatStream) -> None:
        """The next frames of the mat, in order. One on a clock of its own is left to the batch, which finds how that
        is set."""
        if not frames.own_clock:
            self._seen += new_loads(self.ground, frames)

    def new_values(self, of: Metric | None = None) -> list[LiveTrace]:
        """Whatever can be read now and could not before; of two sources for one metric the more certain. ``of``: this
        metric of worn sensors, and what is read together with it, alone; the rest waits."""
        traces = new_angles(self.sensors, self.anchors, self.angles, of)
        if of is None:
            traces, self._seen = [*traces, *self._seen], []
        return [t for t in traces if self._is_best(t)]

    def _is_best(self, trace: LiveTrace) -> bool:
        now_s = float(trace.time_s[-1])
        best = self._best.get(trace.metric)
        if best is not None and best[1] != trace.source and best[0] <= trace.sd and now_s - best[2] < SILENT_S:
            return False
        self._best[trace.metric] = (trace.sd, trace.source, now_s)
        return True

    def learn(self, anchors: Anchors, upright: Upright | None = None) -> None:
        """Go on from what the batch has found: calibrations after the poses, the headings after each swing. What was
        found so late that nothing of it is remembered here does not take the place of what is known."""
        self.anchors = carried_over(anchors, self.sensors).or_else(self.anchors)
        self.angles.address.hold = None
        self.optical.upright = upright or self.optical.upright

    def swing_is_over(self) -> bool:
        """Whether a swing has ended since this was asked last; asked after every frame."""
        if self.main is not None:
            before, self._asked_at = self._asked_at, self.sensors.by_segment[self.main[0]].track.next
            if before == self._asked_at:
                return False  # another sensor's frame
        now = self._turned()
        return now is not None and swing_is_over(
            SwingParams.of(self.setting.shot, now.least), self.swing, now.at_s, now.speed_rad_s
        )

    def _turned(self) -> Turned | None:
        if self.main is None:
            return turned(self.optical)
        segment, least = self.main
        after = self.sensors.by_segment[segment].track.next
        speed = self.sensors.speed_rad_s(segment, after - max(1, round(SPEED_S / self.grid.step_s)), after)
        if not len(speed):
            return None
        return Turned(self.grid.origin_s + after * self.grid.step_s, float(np.mean(speed)), least)


def joined_traces(parts: Sequence[LiveTrace]) -> Mapping[str, tuple[Array, Array]]:
    """All that was shown of each metric, by id: times (n,), s, and values (n,), SI."""
    by_id: dict[str, tuple[list[Array], list[Array]]] = {}
    for part in parts:
        times, values = by_id.setdefault(part.metric.id, ([], []))
        times.append(part.time_s)
        values.append(part.values)
    return {k: (np.concatenate(t), np.concatenate(v)) for k, (t, v) in by_id.items()}
