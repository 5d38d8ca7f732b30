"""A sensor that streams by Lab Streaming Layer, sent on over the device link.

Six channels (specific force x y z, angular velocity x y z) or nine (then the magnetic field), in units that are said.
Each sample keeps the layer's own time, which is the device's clock on the link."""

from __future__ import annotations

import asyncio
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.live.sequence import Samples
from finearc.core.signals.streams import GRAVITY_M_S2, Segment
from finearc.devices.link.declared import ImuDeclared
from finearc.devices.link.frames import write_frame
from finearc.devices.simulated.client import LinkClient
from finearc.wording import tr

FIND_S = 10.0
CHUNK_S, MOST = 0.02, 256
TO_SI = {"m/s2": 1.0, "g": GRAVITY_M_S2, "rad/s": 1.0, "deg/s": float(np.pi / 180.0)}


@dataclass
class NoSuchStream(FineArcError):
    """The layer has no such stream, or one that is no inertial sensor."""

    name: str
    problem: str
    advice: str
    code = "stream"

    def __str__(self) -> str:
        return tr('stream "{name}": {problem}. {advice}.', name=self.name, problem=self.problem, advice=self.advice)


@dataclass(frozen=True)
class Bridged:
    """What is to be sent on: the stream's ``name``, what it is worn on, its units."""

    name: str
    segment: Segment
    acc_unit: str = "m/s2"
    gyr_unit: str = "rad/s"

    @property
    def scale(self) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
        """To SI units (6,)."""
        return np.repeat([TO_SI[self.acc_unit], TO_SI[self.gyr_unit]], 3)


async def run_bridge(url: str, token: str, bridged: Bridged, told: Callable[[str], None] = lambda _: None) -> None:
    """Send until cancelled. Raises ``NoSuchStream``, and ``Refused`` when the bay does not take it."""
    import pylsl

    inlet, declared = await asyncio.to_thread(_found, pylsl, bridged)
    boot = abs(hash(inlet.info().uid())) % 2**53
    device = {"id": f"lsl-{bridged.name}", "name": bridged.name, "model": tr("lab streaming layer"), "boot": boot}
    hello = {"token": token, "device": device, "streams": [declared.model_dump(mode="json")]}
    client = LinkClient(url, hello, lambda: int(pylsl.local_clock() * 1e6))
    connected = asyncio.create_task(client.run())
    told(f"{bridged.name} is sent on as {declared.place}; Ctrl-C ends it.")
    sequence = 0
    try:
        while not connected.done():
            rows, stamps = await asyncio.to_thread(inlet.pull_chunk, CHUNK_S, MOST)
            if stamps:
                samples = _samples(bridged, sequence, rows, stamps)
                sequence = samples.after
                await client.send(0, samples.first, samples.after, write_frame(0, samples, declared.layout))
        await connected
    finally:
        connected.cancel()
        inlet.close_stream()


def _samples(bridged: Bridged, first: int, rows: Any, stamps: Any) -> Samples:
    values = np.array(rows, dtype=float)[:, :6] * bridged.scale
    return Samples(first, np.rint(np.array(stamps) * 1e6).astype(np.int64), values.astype(np.float32))


def _found(pylsl: Any, bridged: Bridged) -> tuple[Any, ImuDeclared]:
    """The stream, and how it is declared."""
    streams = pylsl.resolve_byprop("name", bridged.name, 1, FIND_S)
    if not streams:
        raise NoSuchStream(
            bridged.name,
            tr("not found within {find_s:.0f} seconds", find_s=FIND_S),
            tr("Start it, or correct its name"),
        )
    info = streams[0]
    if info.channel_count() not in (6, 9) or info.nominal_srate() <= 0:
        told = tr(
            "{channel_count} channels at {nominal_srate:g} Hz",
            channel_count=info.channel_count(),
            nominal_srate=info.nominal_srate(),
        )
        raise NoSuchStream(bridged.name, told, tr("An inertial sensor has 6 or 9 channels and a rate"))
    declared = ImuDeclared(kind="imu", stream=0, segment=bridged.segment, rate_hz=info.nominal_srate())
    inlet = pylsl.StreamInlet(info, max_buflen=60)
    return inlet, declared
