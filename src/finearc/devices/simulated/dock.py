"""A dock into which a golfer puts the clips after a round: it hands their logs over, one stream a club."""

from __future__ import annotations

import asyncio
import time
from collections.abc import Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from itertools import pairwise

import numpy as np

from finearc.core.live.sequence import Samples
from finearc.core.signals.streams import ImuStream
from finearc.devices.link.frames import Layout, write_frame
from finearc.devices.simulated.client import LinkClient

FRAME = 500
"""Samples a frame: 14 kB."""
LAYOUT = Layout(6, "<f4")
PATIENCE_S = 120.0
RATE_HZ = 200.0


@dataclass(frozen=True)
class Dock:
    """``url`` of the link and ``token`` of a bay; ``logs`` by club, s on the clips' clock; ``ago_s``: so long ago their
    last sample was taken; ``boot``: one and the same while it tries again."""

    url: str
    token: str
    logs: Mapping[str, ImuStream]
    ago_s: float = 1200.0
    name: str = "dock"
    boot: int = 1
    made_s: float = field(default_factory=time.monotonic)
    """When ``ago_s`` was true, by this machine's clock."""

    def client(self) -> LinkClient:
        """Says hello with a stream for each club."""
        streams = [
            {"stream": k, "kind": "imu", "segment": "club", "club": club, "rate_hz": RATE_HZ}
            for k, club in enumerate(self.logs)
        ]
        device = {"id": self.name, "name": self.name, "model": "simulated dock", "firmware": "1", "boot": self.boot}
        return LinkClient(
            self.url, {"token": self.token, "log": True, "device": device, "streams": streams}, self.now_us
        )

    @property
    def ends_s(self) -> float:
        """When the last sample was taken, by the clips' clock."""
        return max(float(log.time_s[-1]) for log in self.logs.values())

    def now_us(self) -> int:
        """The clips' clock: it stood at the last sample so long ago."""
        return int(1e6 * (self.ends_s + self.ago_s) + 1e6 * (time.monotonic() - self.made_s))


async def hand_over(dock: Dock) -> None:
    """Send every log, wait until all of it is safe, say goodbye. Raises ``Refused``, ``TimeoutError``."""
    client = dock.client()
    running = asyncio.create_task(client.run())
    try:
        sending = asyncio.create_task(_send(client, dock))
        done, _ = await asyncio.wait({running, sending}, timeout=PATIENCE_S, return_when=asyncio.FIRST_COMPLETED)
        if running in done:
            running.result()  # refused
        if sending not in done:
            raise TimeoutError("the link does not take the log")
        sending.result()
    finally:
        running.cancel()
        with suppress(asyncio.CancelledError):
            await running


async def _send(client: LinkClient, dock: Dock) -> None:
    while not client.connected:
        await asyncio.sleep(0.02)
    for number, log in enumerate(dock.logs.values()):
        values = np.column_stack([log.acc_m_s2, log.gyr_rad_s]).astype("<f4")
        for first in range(0, len(values), FRAME):
            part = slice(first, first + FRAME)
            time_us = np.rint(1e6 * log.time_s[part])
            samples = Samples(first, time_us, values[part])
            for piece in short_frames(samples):
                await client.send(number, piece.first, piece.after, write_frame(number, piece, LAYOUT))
    while client.unacknowledged:
        await asyncio.sleep(0.02)
    await client.tell({"type": "bye", "reason": "all is handed over"})
    await asyncio.sleep(0.2)


def short_frames(samples: Samples) -> list[Samples]:
    """Frames within the four bytes that an offset in time has: a clip that slept for hours begins another."""
    time_us = np.asarray(samples.time_s)
    cuts = [0, *(np.flatnonzero(np.diff(time_us) > 1e9) + 1).tolist(), samples.count]
    values = np.asarray(samples.values)
    return [Samples(samples.first + a, time_us[a:b], values[a:b]) for a, b in pairwise(cuts)]
