"""One clock for the application and its stand-in devices, which are processes of their own: it stands while either of
them is held up, so that devices never send more than a busy machine can take, nor hear of a time they have not lived."""

from __future__ import annotations

import asyncio
import os
import time
from pathlib import Path

import numpy as np

from finearc.devices.link.server_clock import ServerClock
from tests.devices.held_clock import AT_MOST_S, TICK_S

AHEAD_S = 0.06
"""So far the application's time goes on before the devices have followed, s."""
GONE_S = 10.0
"""Devices that have not turned for so long, s, are not waited for: a test ended them."""
PASSED, TURNED, MORE, SEEN, BEAT = range(5)
"""What is shared: time that has passed and when that was, how much more may pass before the next turn; what the devices
have seen of it and when."""
FILE = "FINEARC_HELD_CLOCK"


class Shared:
    """The clock's state in a file that both processes hold in memory; ``make`` it before they begin."""

    def __init__(self, path: Path) -> None:
        self._state = np.memmap(path, dtype=float, mode="r+", shape=(5,))

    @staticmethod
    def make(path: Path) -> None:
        """A clock at 0 that nobody turns yet."""
        np.zeros(5).tofile(path)

    @staticmethod
    def of_environment() -> Shared:
        """Where the tests have put it."""
        return Shared(Path(os.environ[FILE]))

    def real_s(self) -> float:
        """What has passed before the pace, s: the same in both processes."""
        while True:
            passed, turned, more = (float(self._state[k]) for k in (PASSED, TURNED, MORE))
            if (passed, turned, more) == tuple(float(self._state[k]) for k in (PASSED, TURNED, MORE)):
                return passed + min(max(time.monotonic() - turned, 0.0), more)

    def turn(self) -> None:
        """By the application: more may pass, unless the devices are behind."""
        passed, now = self.real_s(), time.monotonic()
        behind = now - self._state[BEAT] < GONE_S and self._state[SEEN] < passed - AHEAD_S
        self._state[MORE] = 0.0
        self._state[PASSED], self._state[TURNED] = passed, now
        self._state[MORE] = 0.0 if behind else AT_MOST_S

    def follow(self) -> None:
        """By the devices: they have come so far."""
        self._state[SEEN], self._state[BEAT] = self.real_s(), time.monotonic()


class SharedClock(ServerClock):
    """The application's clock, ``pace`` times as fast as what is shared."""

    def __init__(self, pace: float, shared: Shared) -> None:
        super().__init__(pace)
        self._shared, self._turning = shared, None
        self._begin_us = super().now_us() - int(shared.real_s() * pace * 1e6)

    def now_us(self) -> int:
        """The present."""
        return self._begin_us + int(self._shared.real_s() * self.pace * 1e6)

    def turn_with_the_loop(self) -> None:
        """Held by the running event loop from now on."""
        if self._turning is None:
            self._turning = asyncio.get_running_loop().create_task(turning(self._shared.turn))


async def turning(turn) -> None:
    """With every turn of the event loop."""
    while True:
        turn()
        await asyncio.sleep(TICK_S)
