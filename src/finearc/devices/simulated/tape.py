"""A recording that is played on demand: run to a place, stand still there as long as it takes, go on."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from finearc.core.sources.kind import Kind
from finearc.core.typing import Array
from finearc.devices.link.declared import Declared
from finearc.devices.link.frames import Values
from finearc.devices.played import as_sent
from finearc.devices.simulated.plays import Play, Plays, Score
from finearc.services.capture.raw import ADDRESS, POSES, key_of_swing

LOOP_S = 0.5
"""What is repeated while the player stands still: a whole number of samples at all usual rates."""
AT_ADDRESS_S = 0.9
"""The player waits so long after an address begins (s); what comes before belongs to walking into it."""


@dataclass
class Strand:
    """One stream of the tape, as far as it is loaded: times (n,), s, and values as they are sent."""

    declared: Declared
    time_s: Array = field(default_factory=lambda: np.empty(0))
    values: Values = field(default_factory=lambda: np.empty((0, 0)))

    def add(self, time_s: Array, values: Values) -> None:
        """What follows."""
        self.time_s = np.concatenate([self.time_s, time_s])
        self.values = np.concatenate([self.values, values]) if len(self.values) else values

    def between(self, after_s: float, until_s: float) -> tuple[Array, Values]:
        """Samples after one instant, up to and with another."""
        a, b = np.searchsorted(self.time_s, [after_s, until_s], side="right")
        return self.time_s[a:b], self.values[a:b]


@dataclass
class Tape:
    """The player's tape. ``at_s``: where it stands; ``run_to_s``: up to where it may run; it then repeats the last
    ``LOOP_S`` before. ``shift_s``: how much later than on the tape everything happens, as often as it has stood."""

    plays: Plays
    score: Score
    play: Play = field(init=False)
    strands: dict[str, Strand] = field(default_factory=dict)
    at_s: float = 0.0
    run_to_s: float = LOOP_S
    shift_s: float = 0.0
    swings_done: int = 0
    _loaded: int = 0

    def __post_init__(self) -> None:
        self.play = self.plays.get(self.score)
        self._load(1)

    @property
    def poses(self) -> list[str]:
        """The calibration's poses in their order."""
        return [s.name for s in self.play.steps]

    @property
    def swings_left(self) -> int:
        return len(self.play.swing_ends_s) - self.swings_done

    def hold_pose(self, name: str) -> bool:
        """Go on to a pose and hold it; whether it still lies ahead."""
        steps = [s for s in self.play.steps if s.name == name]
        later = [s for s in steps if s.end_s > self.at_s - LOOP_S]
        if later:
            self.run_to_s = later[0].end_s - 0.05
        return bool(later)

    def stand_at_address(self) -> None:
        """Go on to the next address and stand there."""
        if self.swings_left:
            self._load(3 + self.swings_done)  # an address belongs to the batch of its swing
            self.run_to_s = max(self.run_to_s, self.play.swing_starts_s[self.swings_done] + AT_ADDRESS_S)

    def swing(self) -> bool:
        """Make the next swing; whether there is one left."""
        if not self.swings_left:
            return False
        self._load(3 + self.swings_done)
        self.run_to_s = self.play.swing_ends_s[self.swings_done] - 0.02
        self.swings_done += 1
        return True

    @property
    def is_standing(self) -> bool:
        """Whether it has run as far as it may: it is in the last moments before, which repeat."""
        return self.at_s >= self.run_to_s - LOOP_S - 1e-9

    def advance(self, by_s: float) -> Iterator[tuple[str, Array, Values]]:
        """Let time pass: per stream, times (n,) on the device's clock, s, and values of what happened."""
        left = by_s
        while left > 1e-9:
            if self.at_s >= self.run_to_s - 1e-9:
                self.at_s -= LOOP_S
                self.shift_s += LOOP_S
            until = min(self.at_s + left, self.run_to_s)
            for name, strand in self.strands.items():
                time_s, values = strand.between(self.at_s, until)
                if len(time_s):
                    yield name, time_s + self.shift_s, values
            left -= until - self.at_s
            self.at_s = until

    def _load(self, batches: int) -> None:
        keys = [POSES, ADDRESS, *(key_of_swing(k) for k in range(len(self.play.swing_ends_s)))]
        for key in keys[self._loaded : batches]:
            self._add(self.plays.batch(self.score, key))
        self._loaded = max(self._loaded, min(batches, len(keys)))

    def _add(self, streams: Mapping[Kind, Any]) -> None:
        for name, declared, time_s, values in as_sent(streams):
            strand = self.strands.setdefault(name, Strand(declared))
            strand.add(time_s, values)
