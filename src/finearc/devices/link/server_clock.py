"""The clock that all devices are set against."""

from __future__ import annotations

import time
from typing import Protocol


class TellsTime(Protocol):
    """Whatever stands for the server's clock."""

    def now_us(self) -> int: ...


class ServerClock:
    """Microseconds that never go back, counted from the wall clock at the start of the process, so that they go on
    across a restart. ``pace``: how much faster than real it runs, for stand-ins that play faster."""

    def __init__(self, pace: float = 1.0) -> None:
        self.pace = pace
        self._wall_us, self._began = time.time_ns() // 1000, time.monotonic_ns()

    def now_us(self) -> int:
        """The present."""
        return self._wall_us + int((time.monotonic_ns() - self._began) / 1000 * self.pace)
