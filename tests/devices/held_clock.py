"""A server's clock that waits for a machine that cannot follow."""

from __future__ import annotations

import asyncio
import time

from finearc.devices.link.server_clock import ServerClock

TICK_S = 0.01
AT_MOST_S = 0.03
"""More does not pass between two turns of the event loop, however long it was held up."""


class HeldClock(ServerClock):
    """Time passes ``pace`` times as fast as the real one while the event loop turns, and stands while it is held up:
    devices that are played by this clock never send more than what hears them can take."""

    def __init__(self, pace: float) -> None:
        super().__init__(pace)
        self._passed_s, self._turned_s = 0.0, time.monotonic()
        self._begin_us = super().now_us()
        self._turning: asyncio.Task[None] | None = None

    def real_s(self) -> float:
        """What has passed before the pace, s."""
        return self._passed_s + min(time.monotonic() - self._turned_s, AT_MOST_S)

    def now_us(self) -> int:
        """The present."""
        return self._begin_us + int(self.real_s() * self.pace * 1e6)

    def turn_with_the_loop(self) -> None:
        """Held by the running event loop from now on; until then no time passes."""
        if self._turning is None:
            self._turning = asyncio.get_running_loop().create_task(self._turn())

    async def _turn(self) -> None:
        while True:
            self._passed_s, self._turned_s = self.real_s(), time.monotonic()
            await asyncio.sleep(TICK_S)
