"""What goes wrong with a device on demand, each fault by a name and a size: ``loss=0.05``, ``late=30`` …"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.errors import FineArcError
from finearc.core.live.sequence import Samples
from finearc.core.typing import Array
from finearc.golfer.arm import minimum_jerk

KNOWN = {
    "loss": "share of samples lost, in bursts",
    "burst": "length of a burst of lost samples, ms",
    "late": "frames come up to so much late, ms",
    "double": "share of frames sent twice",
    "reorder": "share of frames sent after the one that follows",
    "battery": "level of the battery at the start, 0 to 1",
    "drain": "of the battery, a minute",
    "drift": "of the device's clock, parts in a million",
    "jump": "of the device's clock after half a minute, ms",
    "clip": "range of the gyroscope, rad/s",
    "slip": "degrees that the hand's sensor turns on the hand after the second swing",
    "dead": "cells of the mat that read nothing",
    "hidden": "share of markers hidden, a few at a time",
    "vanish": "every so many seconds the device vanishes for three",
}

SLIPS_IN_S = 0.6
"""So slowly that it is no swing."""


@dataclass
class UnknownFault(FineArcError):
    """A fault that no stand-in has."""

    given: str
    code = "fault"

    def __str__(self) -> str:
        known = "; ".join(f"{name}: {what}" for name, what in KNOWN.items())
        return f'--faults: "{self.given}" is none. Write name=size; known are {known}.'


def read_faults(items: Sequence[str]) -> Mapping[str, float]:
    """From ``name=size``. Raises ``UnknownFault``."""
    found = {}
    for item in items:
        name, _, size = item.partition("=")
        try:
            found[name] = float(size)
        except ValueError:
            raise UnknownFault(item) from None
        if name not in KNOWN:
            raise UnknownFault(item)
    return found


@dataclass
class Slipping:
    """A sensor that turns by so many degrees about its own x axis within ``SLIPS_IN_S``, beginning as soon as it is
    ``going``."""

    angle_deg: float
    rate_hz: float
    going: bool = False
    _done: int = 0

    def turned(self, values: Array) -> Array:
        """Accelerations and rates (n, 6 or more) as the turning sensor feels them."""
        if not self.going:
            return values
        share = (self._done + np.arange(len(values) + 1)) / (SLIPS_IN_S * self.rate_hz)
        self._done += len(values)
        angle = np.deg2rad(self.angle_deg) * minimum_jerk(np.clip(share, 0.0, 1.0))
        back = Rotation.from_rotvec(np.outer(-angle[1:], [1.0, 0.0, 0.0]))
        own_rate = np.outer(np.diff(angle) * self.rate_hz, [1.0, 0.0, 0.0])
        return np.hstack([back.apply(values[:, :3]), back.apply(values[:, 3:6]) + own_rate, values[:, 6:]])


@dataclass
class FrameFaults:
    """What happens to one stream's frames on their way. ``late_s`` of each frame that ``mishandled`` gives is how much
    later it leaves."""

    faults: Mapping[str, float]
    rate_hz: float
    rng: np.random.Generator
    slips: Slipping | None = None
    _left: int = 0
    _held: Samples | None = field(default=None)

    def lost(self, samples: Samples) -> list[Samples]:
        """The stretches that are left of a frame."""
        share = self.faults.get("loss", 0.0)
        if not share:
            return [samples]
        burst = max(1, round(self.faults.get("burst", 40.0) / 1000.0 * self.rate_hz))
        there = np.ones(samples.count, dtype=bool)
        for k in range(samples.count):
            if self._left == 0 and self.rng.random() < share / (1.0 - share) / burst:
                self._left = burst
            if self._left > 0:
                there[k] = False
                self._left -= 1
        edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(np.int8))).reshape(-1, 2)
        return [samples.between(samples.first + a, samples.first + b) for a, b in edges.tolist()]

    def late_s(self) -> float:
        """How much later a frame leaves."""
        late = self.faults.get("late", 0.0)
        return float(self.rng.uniform(0.0, late)) / 1000.0 if late else 0.0

    def twice(self) -> bool:
        """Whether a frame is sent again."""
        return self.rng.random() < self.faults.get("double", 0.0)

    def reordered(self, samples: Samples) -> list[Samples]:
        """What leaves now: a frame may wait for the next and follow it."""
        if self._held is not None:
            out, self._held = [samples, self._held], None
            return out
        if self.rng.random() < self.faults.get("reorder", 0.0):
            self._held = samples
            return []
        return [samples]

    def spoiled(self, kind: str, samples: Samples) -> Samples:
        """Clipped rates, a sensor that slips, dead cells, hidden markers."""
        values = samples.values
        if kind == "imu" and (limit := self.faults.get("clip")):
            values = np.concatenate([values[:, :3], np.clip(values[:, 3:6], -limit, limit)], axis=1)
        if self.slips is not None:
            values = self.slips.turned(values)
        if kind == "pressure" and (dead := int(self.faults.get("dead", 0))):
            values = values.copy()
            values[:, np.random.default_rng(7).choice(values.shape[1], min(dead, values.shape[1]), replace=False)] = 0
        if kind == "markers" and (share := self.faults.get("hidden", 0.0)):
            values = values.reshape(samples.count, -1, 3).copy()
            values[:, self.rng.random(values.shape[1]) < share] = np.nan
            values = values.reshape(samples.count, -1)
        return replace(samples, values=values)
