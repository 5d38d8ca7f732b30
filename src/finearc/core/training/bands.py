"""A band of live feedback: whether a value is within, without stuttering at its edge, and how wide it is."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from finearc.core.metrics.definition import Metric
from finearc.core.training.parts import Phase
from finearc.core.typing import Array, Mask

EDGE_SHARE = 0.05
"""How far beyond a limit, of the band's width, a value that was inside must go to be outside (house value)."""
EDGE_RAD = np.deg2rad(0.5)
"""The same for a band with one limit, and never less (house value)."""
ONE_SIDED_RAD = np.deg2rad(20.0)
"""What stands for the width of a band with one limit."""


@dataclass(frozen=True)
class Band:
    """``low`` and ``high`` (SI), None for none, of a metric in a phase. ``relative``: told from the value at address;
    ``above_address``: how far it may lie above that besides."""

    metric: Metric
    low: float | None
    high: float | None
    phase: Phase
    relative: bool = False
    above_address: float | None = None

    @property
    def width(self) -> float:
        """From limit to limit."""
        return ONE_SIDED_RAD if self.low is None or self.high is None else self.high - self.low

    def at(self, address: float | None, share: float = 1.0) -> Band:
        """The same as limits of the value itself, ``address`` its value there (SI), and ``share`` times as wide about
        its middle. One that is told from an address that is not known has no limits."""
        if (self.relative or self.above_address is not None) and address is None:
            return replace(self, low=None, high=None)
        low, high = self.low, self.high
        if self.relative:
            low, high = (None if v is None else v + (address or 0.0) for v in (low, high))
        if self.above_address is not None and address is not None:
            above = address + self.above_address
            high = above if high is None else min(high, above)
        more = 0.5 * (share - 1.0) * self.width
        return replace(self, low=None if low is None else low - more, high=None if high is None else high + more)

    def error(self, values: Array) -> Array:
        """How far (k,), SI, each value lies beyond the limits: negative below, positive above, 0 inside."""
        below = 0.0 if self.low is None else np.minimum(values - self.low, 0.0)
        above = 0.0 if self.high is None else np.maximum(values - self.high, 0.0)
        return np.asarray(below + above + np.zeros(len(values)))


@dataclass
class EdgeState:
    """Whether the last value was inside; None before any."""

    inside: bool | None = None


def within(band: Band, state: EdgeState, values: Array) -> Mask:
    """Whether each value (k,), SI, counts as inside: what was inside stays so a little beyond the limit."""
    edge = max(EDGE_RAD, EDGE_SHARE * band.width)
    out = np.empty(len(values), dtype=bool)
    for k, error in enumerate(np.abs(band.error(values)).tolist()):
        state.inside = error <= (edge if state.inside else 0.0)
        out[k] = state.inside
    return out
