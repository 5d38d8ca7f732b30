"""What a screen shows of a take as it goes on: every value that can be read now, what it settles at, how far along the
swing the movement is, and what the trainer says."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from finearc.core.live.angles import NEEDS, WRIST_PAIR, LiveTrace, arm_hangs
from finearc.core.live.settled import Settled, SettledState, settle
from finearc.core.live.swings import SwingParams
from finearc.core.live.take import LiveTake
from finearc.core.metrics.definition import Metric
from finearc.core.signals.streams import Segment
from finearc.core.training.parts import SCALE, Ended, Part, PartsState, follow
from finearc.core.training.trainer import Decision, Repetition, Trainer

USUAL_TOP_RAD = np.deg2rad(215.0)
"""So far a hand turns to the top before it has been seen to (from the golfer model)."""
SLICE_S = 0.05
"""No longer than this at once is a movement followed: whether somebody stands at address may change."""
FOLLOW_RAD = np.deg2rad(150.0)


@dataclass(frozen=True)
class Shown:
    """``values``: the newest of each metric (SI) with its standard uncertainty; ``along``: 0 at address, 1 at the top,
    2 at impact, 3 at the finish."""

    time_s: float
    values: Mapping[Metric, tuple[float, float]]
    settled: Mapping[Metric, Settled]
    along: float
    still: bool
    decision: Decision | None = None
    repetitions: tuple[Repetition, ...] = ()


@dataclass
class Showing:
    """A take as it is shown. ``trainer``: None while nothing is trained; ``full_rad_s``: the fastest swing so far."""

    take: LiveTake
    parts: PartsState = field(init=False)
    settled: SettledState = field(default_factory=SettledState)
    trainer: Trainer | None = None
    full_rad_s: float | None = None
    top_rad: float = USUAL_TOP_RAD
    _next: int = 0

    def __post_init__(self) -> None:
        share = self.take.main[1] if self.take.main is not None else 1.0
        self.parts = PartsState(share, SCALE.get(self.take.setting.shot, 1.0))

    def step(self, of: Metric | None = None) -> Shown | None:
        """What is new; None where nothing is. ``of``: of this metric of worn sensors and its like alone."""
        traces = self.take.new_values(of)
        ended = self._follow()
        still = self._is_still()
        settle(self.settled, traces, still=still)
        decision: Decision | None = None
        made: list[Repetition] = []
        if self.trainer is not None:
            decision, made = self.trainer.hear(self.parts, traces, ended)
        newest = {t.metric: value for t in traces if (value := _newest(t)) is not None}
        if not newest and not made:
            return None
        time_s = max((float(t.time_s[-1]) for t in traces), default=self.parts.last_s or 0.0)
        return Shown(time_s, newest, self.settled.known, self._along(), still, decision, tuple(made))

    def _is_still(self) -> bool:
        """By the sensor that swings are looked for in; without one, by the mat."""
        if self.take.main is None:
            return self.take.ground.still_s is not None
        return self.parts.part is Part.REST and self.parts.still_s is not None

    def front(self) -> int:
        """How far (index on the grid) the sensors have come that the trainer's value and its phase are read from."""
        take, trainer = self.take, self.trainer
        wanted = () if trainer is None else NEEDS.get(trainer.band.metric, ())
        main = () if take.main is None else (take.main[0],)
        worn = [s for s in (*wanted, *main) if s in take.sensors.by_segment]
        return take.sensors.front(worn) if worn and wanted else -1

    def train(self, trainer: Trainer | None) -> None:
        """Train this from now on, or nothing."""
        self.trainer = trainer

    def _follow(self) -> list[Ended]:
        if self.take.main is None:
            return []
        segment, sensors = self.take.main[0], self.take.sensors
        track = sensors.by_segment[segment].track
        after = sensors.front([s for s in (segment, WRIST_PAIR[0]) if s in sensors.by_segment])
        first, self._next = max(self._next, after - track.size), max(self._next, after)
        step = max(1, round(SLICE_S / sensors.grid.step_s))
        ended: list[Ended] = []
        for a in range(first, self._next, step):
            ended += self._follow_slice(segment, a, min(a + step, self._next))
        for over in ended:
            self.top_rad = over.top_rad
            if over.peak_rad_s >= SwingParams.of(self.take.setting.shot, self.parts.share).least_rad_s:
                self.full_rad_s = max(self.full_rad_s or 0.0, over.peak_rad_s)
        if self.trainer is not None:
            self.trainer.full_rad_s = self.full_rad_s
        return ended

    def _follow_slice(self, segment: Segment, first: int, after: int) -> list[Ended]:
        sensors = self.take.sensors
        track = sensors.by_segment[segment].track
        rows = track.rows(first, after)
        if not len(rows):
            return []
        r = sensors.r_up_from_sensor(segment, first, after)
        rates = np.einsum("kij,kj->ki", r, track.gyr_rad_s[rows])
        time_s = sensors.grid.origin_s + track.filled[rows] * sensors.grid.step_s
        hangs = arm_hangs(sensors, self.take.anchors, after)
        return follow(self.parts, time_s, rates, r, at_address=hangs)

    def _along(self) -> float:
        p = self.parts
        if self.take.main is None:
            return 0.0  # nothing tells how far the swing is
        if p.part is Part.BACK:
            return float(min(1.0, p.swept_rad / max(self.top_rad, p.top_rad)))
        if p.part is Part.DOWN:
            return 1.0 + float(np.clip((p.top_rad - p.swept_rad) / p.top_rad, 0.0, 1.0))
        if p.part is Part.THROUGH:
            return 2.0 + float(min(1.0, p.away_rad / FOLLOW_RAD))
        return 0.0 if p.ready else 3.0


def _newest(trace: LiveTrace) -> tuple[float, float] | None:
    there = trace.values[np.isfinite(trace.values)]
    return (float(there[-1]), trace.sd) if len(there) else None
