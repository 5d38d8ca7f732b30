"""How long a frame takes from its arrival to the trainer's decision at a screen, beside a bare WebSocket echo.

Real time: one process takes frames in, measures them and decides; devices with eight sensors of 200 Hz each send from
another. The echo goes over the same kind of socket at the same rate, to the same process while it does nothing else, in
the same run. Run with ``python -m bench.live [--bays 1] [--seconds 20]``.
"""

from __future__ import annotations

import argparse
import asyncio
import json
import multiprocessing
import struct
import tempfile
import time
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from websockets.asyncio.client import connect
from websockets.asyncio.server import ServerConnection, serve

from finearc.core.frames.handedness import Hand
from finearc.core.live.reader import Learned, told
from finearc.core.live.sequence import Samples
from finearc.core.metrics import registry as m
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial import INERTIAL
from finearc.core.training.parts import Phase
from finearc.devices.coach import Coach
from finearc.devices.feed import Feed, Screen
from finearc.devices.link.bay import Bay
from finearc.devices.link.frames import write_frame
from finearc.devices.link.messages import Clock, Hello
from finearc.devices.link.server_clock import ServerClock
from finearc.devices.plan import Plan
from finearc.devices.takes import Take
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.lesson.training import TrainingKept
from finearc.services.modelled import capture_of

RATE_HZ, PER_FRAME = 200, 4
SEGMENTS = (
    Segment.LEAD_FOREARM,
    Segment.LEAD_HAND,
    Segment.CLUB,
    Segment.PELVIS,
    Segment.THORAX,
    Segment.HEAD,
    Segment.LEAD_UPPER_ARM,
    Segment.TRAIL_HAND,
)
BAND = TrainingKept(metric=m.LEAD_WRIST_EXTENSION.id, low=-10.0, high=30.0, phase=Phase.ALWAYS, fades=False)
STAMP = struct.Struct("<Qd")
SENT_AT = struct.Struct("<d")


class Nobody:
    """Keeps nothing: only the way from frame to screen is timed."""

    def __getattr__(self, _: str) -> Any:
        return lambda *_: None


class Outlet:
    def tell(self, _: object) -> None: ...

    def close(self, error: object) -> None:
        raise RuntimeError(str(error))


def _recorded() -> tuple[list[tuple[Segment, Any]], Learned]:
    """A session whose streams are played, and what the batch makes of its poses."""
    recording = play("hold-then-flex", 5, sources=("wrist", "body", "club"))
    capture = capture_of(recording)
    streams = list(capture.streams[INERTIAL])
    by_segment = {s.segment: s for s in streams}
    played = [(k, by_segment.get(k, streams[0])) for k in SEGMENTS]
    return played, told(an.read(capture), {}).learned


class BenchBay:
    """A bay with a take that trains from its first sample on, and where its frames come in."""

    def __init__(self, folder: Path, learned: Learned) -> None:
        loop = asyncio.get_running_loop()
        self.bay = Bay(uuid4(), "Bay", folder, ServerClock(1.0), loop.call_soon_threadsafe)
        self.feed, self.learned = Feed(), learned
        later = loop.call_later
        self.take = Take(self.bay, Nobody(), Plan(Hand.RIGHT, poses=()), loop.call_soon_threadsafe, later, self.feed)  # type: ignore[arg-type]
        self.take.screens.coach = Coach.of(uuid4(), BAND.model_copy(deep=True), test=False)
        self.devices: dict[int, Any] = {}

        self._count, self._taught, self._sent = 0, False, 0.0
        self._show, self.feed.show = self.feed.show, self._stamped  # type: ignore[method-assign]

    def begin(self) -> None:
        now = self.bay.clock.now_us()
        for k, segment in enumerate(SEGMENTS):
            stream = {"stream": 0, "kind": "imu", "segment": segment.value, "rate_hz": RATE_HZ}
            device = {"id": f"d{k}", "boot": 1}
            hello = {"type": "hello", "protocol": 1, "token": "", "device": device, "streams": [stream]}
            self.devices[k] = self.bay.welcome(Hello.model_validate(hello), Outlet())
            self.bay.hear(self.devices[k], Clock(type="clock", t0_us=now))
        self.take.begin()

    def take_in(self, message: bytes) -> None:
        """A frame, with when it was sent."""
        device, self._sent = STAMP.unpack_from(message)
        self.bay.frame(self.devices[device], message[STAMP.size :])
        self._count += 1
        if not self._taught and self._count > 3 * RATE_HZ / PER_FRAME * len(SEGMENTS) and self.take.live is not None:
            self._teach()

    def _teach(self) -> None:
        """Any heading does: only time counts."""
        assert self.take.live is not None
        pieces = {k: s.track.piece for k, s in self.take.live.sensors.by_segment.items()}
        self.take.live.anchors = replace(self.learned.anchors, held_in=pieces)
        self.take._arm()
        self._taught = True

    def _stamped(self, now: dict[str, Any], *events: Any) -> None:
        """Say of a decision which frame brought it."""
        self._show(now | {"sent": self._sent} if "decision" in now else now, *events)

    async def watch(self, socket: ServerConnection) -> None:
        """What a screen is told, as the application tells it."""
        screen = Screen()
        self.feed.screens.append(screen)
        while True:
            for message in await screen.next(60.0):
                await socket.send(json.dumps(message))


async def _serve(port: int, bays: int, ready: Any) -> None:
    """Device frames in, decisions out to whoever watches; on ``/echo`` what comes goes back."""
    played, learned = _recorded()
    del played
    with tempfile.TemporaryDirectory() as folder:
        made = [BenchBay(Path(folder) / str(k), learned) for k in range(bays)]
        for bay in made:
            bay.begin()

        async def handle(socket: ServerConnection) -> None:
            assert socket.request is not None
            what, _, number = socket.request.path.strip("/").partition("/")
            if what == "echo":
                async for message in socket:
                    await socket.send(message)
                return
            bay = made[int(number)]
            if what == "screen":
                await bay.watch(socket)
                return
            async for message in socket:
                assert isinstance(message, bytes)
                bay.take_in(message)

        async with serve(handle, "127.0.0.1", port, compression=None, max_queue=512):
            ready.set()
            await asyncio.Future()


def _server(port: int, bays: int, ready: Any) -> None:
    asyncio.run(_serve(port, bays, ready))


async def _play(port: int, bay: int, seconds: float, trips: list[float], lost: list[int]) -> None:
    """Eight sensors of one bay, each 50 frames a second."""
    played, _ = _recorded()
    async with connect(f"ws://127.0.0.1:{port}/bay/{bay}", compression=None) as socket:

        async def listen() -> None:
            async with connect(f"ws://127.0.0.1:{port}/screen/{bay}", compression=None) as screen:
                async for message in screen:
                    if "sent" in (told := json.loads(message)):
                        trips.append(time.perf_counter() - told["sent"])

        hears = asyncio.create_task(listen())
        start, n = time.perf_counter(), 0
        wall_us = time.time_ns() // 1000
        layout = (
            Hello.model_validate(
                {
                    "type": "hello",
                    "protocol": 1,
                    "token": "",
                    "device": {"id": "x", "boot": 1},
                    "streams": [{"stream": 0, "kind": "imu", "segment": "club", "rate_hz": RATE_HZ}],
                }
            )
            .streams[0]
            .layout
        )
        while (due := n * PER_FRAME / RATE_HZ) < seconds:
            await asyncio.sleep(max(0.0, start + due - time.perf_counter()))
            first = n * PER_FRAME
            time_us = wall_us + (first + np.arange(PER_FRAME)) * (1_000_000 // RATE_HZ)
            for k, (_, stream) in enumerate(played):
                rows = (first + np.arange(PER_FRAME)) % len(stream.time_s)
                values = np.hstack([stream.acc_m_s2[rows], stream.gyr_rad_s[rows]])
                data = write_frame(0, Samples(first, time_us, values), layout)
                await socket.send(STAMP.pack(k, time.perf_counter()) + data)
            n += 1
        await asyncio.sleep(0.5)
        hears.cancel()
        lost.append(n)


async def _echo(port: int, seconds: float) -> list[float]:
    """The same number of messages of the same size, one after the other's time, against a server that does nothing."""
    trips: list[float] = []
    async with connect(f"ws://127.0.0.1:{port}/echo", compression=None) as socket:

        async def listen() -> None:
            async for message in socket:
                trips.append(time.perf_counter() - SENT_AT.unpack_from(message)[0])  # type: ignore[arg-type]

        hears = asyncio.create_task(listen())
        start, n = time.perf_counter(), 0
        while (due := n * PER_FRAME / RATE_HZ) < seconds:
            await asyncio.sleep(max(0.0, start + due - time.perf_counter()))
            for _ in SEGMENTS:
                await socket.send(SENT_AT.pack(time.perf_counter()) + bytes(128))
            n += 1
        await asyncio.sleep(0.3)
        hears.cancel()
    return trips


def _told(name: str, trips: Sequence[float]) -> dict[str, float]:
    ms = 1000.0 * np.array(trips)
    found = {"median": float(np.median(ms)), "p99": float(np.percentile(ms, 99.0)), "count": len(ms)}
    print(f"{name:28} median {found['median']:6.2f} ms   p99 {found['p99']:6.2f} ms   {len(ms)} messages")
    return found


async def _measure(port: int, bays: int, seconds: float) -> dict[str, Any]:
    echo = _told("bare echo", await _echo(port, min(seconds, 10.0)))
    trips: list[float] = []
    made: list[int] = []
    await asyncio.gather(*(_play(port, k, seconds, trips, made) for k in range(bays)))
    settled = trips[len(trips) // 5 :]
    live = _told(f"frame to decision, {bays} bay(s)", settled)
    over = {k: live[k] - echo[k] for k in ("median", "p99")}
    print(f"over the echo: median {over['median']:.2f} ms (goal 1), p99 {over['p99']:.2f} ms (goal 5)")
    return {"echo": echo, "live": live, "over": over}


def main() -> None:
    """Measure and print."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--bays", type=int, default=1)
    parser.add_argument("--seconds", type=float, default=20.0)
    parser.add_argument("--port", type=int, default=8437)
    args = parser.parse_args()
    spawn = multiprocessing.get_context("spawn")
    ready = spawn.Event()
    server = spawn.Process(target=_server, args=(args.port, args.bays, ready), daemon=True)
    server.start()
    ready.wait(120)
    print(json.dumps(asyncio.run(_measure(args.port, args.bays, args.seconds))))
    server.terminate()


if __name__ == "__main__":
    main()
