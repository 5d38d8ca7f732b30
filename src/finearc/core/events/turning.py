"""Something that turns: what swings and their reversal are looked for in."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from finearc.core.typing import Array


@dataclass(frozen=True)
class Turning:
    """``speed`` (n,), rad/s, on ``time_s`` (n,); ``rates_up`` gives angular velocities (k, 3), rad/s, of a window in a
    vertical frame. ``name`` is said to people; ``least`` scales the speed that counts as a swing (1 for a hand)."""

    name: str
    time_s: Array
    speed: Array
    rates_up: Callable[[slice], Array]
    least: float = 1.0

    @property
    def step_s(self) -> float:
        return float(self.time_s[1] - self.time_s[0])
