"""One training: values within their band as they come, repetitions as they end."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.live.angles import LiveTrace
from finearc.core.training.bands import Band, EdgeState, within
from finearc.core.training.parts import Ended, Part, PartsState, phase_at
from finearc.core.training.success import Fading, Width
from finearc.core.typing import Array

GOOD_SHARE = 0.8
"""Of the phase's time within the band makes a good repetition (house value)."""
LEAST_SAMPLES = 3


@dataclass(frozen=True)
class Repetition:
    """``share`` of the phase's time within the band, ``value`` the middle of what was there (SI), ``error`` how far
    that lies beyond the band; ``width`` the band's share of its own width then; ``speed_share`` of the player's own
    full speed, None where that is not known; ``spoken``: whether there was feedback."""

    number: int
    good: bool
    share: float
    value: float
    error: float
    width: float
    seconds: float
    speed_share: float | None
    spoken: bool


@dataclass(frozen=True)
class Decision:
    """What the newest value says. ``inside`` is None outside the phase; ``error`` (SI) beyond the band; ``speaks``:
    whether this repetition has feedback."""

    time_s: float
    value: float
    inside: bool | None
    error: float
    speaks: bool


@dataclass
class Trainer:
    """``band`` as it was chosen; ``fades``: whether feedback becomes less; ``full_rad_s``: the player's fastest;
    ``test``: no feedback at all. ``address``: the value at the last stillness, SI."""

    band: Band
    fades: bool = True
    test: bool = False
    full_rad_s: float | None = None
    width: Width = field(default_factory=Width)
    fading: Fading = field(default_factory=Fading)
    edge: EdgeState = field(default_factory=EdgeState)
    made: int = 0
    address: float | None = None
    _values: list[float] = field(default_factory=list)
    _inside: list[bool] = field(default_factory=list)
    _torn: bool = False

    @property
    def now(self) -> Band:
        """The band as it holds now."""
        return self.band.at(self.address, self.width.share)

    @property
    def speaks(self) -> bool:
        """Whether the repetition under way has feedback."""
        return not self.test and (not self.fades or self.fading.speaks(self.made + 1))

    def tear(self) -> None:
        """What has come of this repetition does not belong together: it is not counted."""
        self._torn = True

    def hear(
        self, parts: PartsState, traces: Sequence[LiveTrace], ended: Sequence[Ended]
    ) -> tuple[Decision | None, list[Repetition]]:
        """Take in what values came while the movement stood as ``parts`` say, and the repetitions that have ``ended``
        within: what the newest says, and those that count."""
        decision = None
        for trace in traces:
            if trace.metric is self.band.metric:
                decision = self._decide(parts, trace.time_s, trace.values) or decision
        counted = [r for e in ended if (r := self._count(e)) is not None]
        if not ended and self._at_address(parts):
            self._torn = False
        return decision, counted

    @staticmethod
    def _at_address(parts: PartsState) -> bool:
        return parts.part is Part.REST and parts.still_s is not None and parts.ready

    def _decide(self, parts: PartsState, time_s: Array, values: Array) -> Decision | None:
        there = np.isfinite(values)
        time_s, values = time_s[there], values[there]
        if not len(values):
            return None
        if self._at_address(parts):
            self.address = float(np.median(values))
        band = self.now
        inside, counts = within(band, self.edge, values), phase_at(parts, time_s, self.band.phase)
        if parts.part is not Part.REST:
            self._values += values[counts].tolist()
            self._inside += inside[counts].tolist()
        error = float(band.error(values[-1:])[0])
        return Decision(
            float(time_s[-1]), float(values[-1]), bool(inside[-1]) if counts[-1] else None, error, self.speaks
        )

    def _count(self, ended: Ended) -> Repetition | None:
        """A repetition; None where the value was not there in its phase, or was torn."""
        values, inside, torn = np.array(self._values), np.array(self._inside), self._torn
        self._values, self._inside, self._torn = [], [], False
        if torn or len(values) < LEAST_SAMPLES:
            return None
        share, value, band = float(inside.mean()), float(np.median(values)), self.now
        spoken, good = self.speaks, share >= GOOD_SHARE
        self.made += 1
        full = self.full_rad_s
        told = Repetition(
            self.made,
            good,
            share,
            value,
            float(band.error(np.array([value]))[0]),
            self.width.share,
            ended.ended_s - ended.began_s,
            None if full is None else ended.peak_rad_s / full,
            spoken,
        )
        if not self.test:
            self.width, self.fading = self.width.after(good=good), self.fading.after(good=good)
        return told
