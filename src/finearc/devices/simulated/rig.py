"""A player with sensors: every device of a kit on a connection and a clock of its own, doing what the bay asks for.

The devices hear the bay's ``state`` like any others: *calibrating* a pose holds it, *armed* stands at the address and
swings. ``cue``, told to stand-ins alone, says what to play and how many swings are wanted."""

from __future__ import annotations

import asyncio
import itertools
import time
from collections import deque
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import structlog

from finearc.core.frames.handedness import Hand
from finearc.core.live.sequence import Samples
from finearc.devices.link.declared import Declared
from finearc.devices.link.frames import Values, write_frame
from finearc.devices.simulated.client import LinkClient, Refused
from finearc.devices.simulated.faults import FrameFaults, Slipping
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.simulated.tape import LOOP_S, Tape

log = structlog.get_logger()
TICK_S = 0.02
"""Fifty frames a second, as real devices send."""
FRAME_BYTES = 200_000
MODEL = "stand-in"
VANISHES_S = 3.0
JUMPS_AFTER_S = 30.0
UNSEEN_S = 20.0
"""A player who waits for the bay to be ready again waits no longer than this."""
SLIPPING, SLIPS_AFTER = "lead_hand", 2
"""Swings, then the sensor on the hand slips if it is to."""
NAMES = {
    "lead_forearm": "Forearm",
    "lead_hand": "Hand",
    "lead_upper_arm": "Upper arm",
    "pelvis": "Pelvis",
    "thorax": "Upper back",
    "head": "Head",
    "club": "Club clip",
    "putter": "Putter clip",
    "trail_forearm": "Trail forearm",
    "trail_hand": "Trail hand",
    "markers": "Cameras",
    "pressure": "Mat",
}


@dataclass
class StandInDevice:
    """One device: its clock, its battery, what goes wrong with it."""

    name: str
    declared: Declared
    client: LinkClient
    faults: FrameFaults
    next: int = 0
    waiting: list[tuple[float, Samples]] = field(default_factory=list)

    def frames_of(self, time_us: Values, values: Values) -> list[tuple[float, Samples]]:
        """New samples as they leave: how much later, and what of them."""
        samples = Samples(self.next, time_us, values)
        self.next = samples.after
        samples = self.faults.spoiled(str(getattr(self.declared, "kind", "")), samples)
        left = [part for s in self.faults.reordered(samples) for part in self.faults.lost(s)]
        return [(self.faults.late_s(), part) for part in left for _ in range(1 + self.faults.twice())]


@dataclass
class Rig:
    """All devices of one player in one bay. ``pace``: how much faster than real time passes; ``every_s``: while armed a
    swing is made so often, 0 for on cue alone; ``real_s``: the time that passes, s."""

    url: str
    token: str
    plays: Plays
    score: Score
    faults: Mapping[str, float] = field(default_factory=dict)
    pace: float = 1.0
    every_s: float = 0.0
    name: str = "rig"
    boot: int = field(default_factory=lambda: time.time_ns() // 1_000_000)
    devices: list[StandInDevice] = field(default_factory=list)
    tape: Tape | None = None
    goal: int = 0
    connect: Callable[..., LinkClient] = LinkClient
    real_s: Callable[[], float] = time.monotonic
    _story: str = ""
    _heard_of: deque[str] = field(default_factory=lambda: deque(maxlen=50))
    _began: float = 0.0
    _swung_s: float = 0.0
    _sent_s: float = 0.0
    _state: dict[str, Any] = field(default_factory=dict)
    _cues: asyncio.Queue[dict[str, Any]] = field(default_factory=asyncio.Queue)
    _tasks: list[asyncio.Task[None]] = field(default_factory=list)

    async def run(self) -> None:
        """Play until cancelled. Raises ``Refused`` when the bay does not take the devices."""
        self._began = self.real_s()
        try:
            await self._put_on(self.score)
            await self._perform()
        finally:
            await self._take_off()

    def _now_s(self) -> float:
        """The rig's time, s: as the player lives it."""
        return (self.real_s() - self._began) * self.pace

    # devices

    async def _put_on(self, score: Score) -> None:
        """A player of another story, with the devices of its kit, each switched on anew."""
        await self._take_off()
        self.score = score
        self.tape = await asyncio.to_thread(Tape, self.plays, score)
        self.tape.shift_s = self._sent_s = self._now_s()
        self.boot += 1
        seeds = np.random.default_rng(score.seed).spawn(len(self.tape.strands))
        self.devices = [
            self._device(name, strand.declared, rng)
            for (name, strand), rng in zip(self.tape.strands.items(), seeds, strict=True)
        ]
        self._tasks = [asyncio.create_task(d.client.run()) for d in self.devices]

    def _device(self, name: str, declared: Declared, rng: np.random.Generator) -> StandInDevice:
        drift = 1e-6 * self.faults.get("drift", float(rng.uniform(-20.0, 20.0)))
        origin = int(rng.integers(0, 2**40))
        battery = self.faults.get("battery", float(rng.uniform(0.55, 1.0)))

        def device_us(at_s: float) -> int:
            jump = self.faults.get("jump", 0.0) / 1000.0 if at_s > JUMPS_AFTER_S else 0.0
            return origin + int((at_s * (1.0 + drift) + jump) * 1e6)

        def health() -> dict[str, Any]:
            left = battery - self.faults.get("drain", 0.001) * self._now_s() / 60.0
            return {"battery": max(0.0, left), "charging": False, "rssi_dbm": float(rng.uniform(-70.0, -45.0))}

        told: dict[str, Any] = {"id": f"{self.name}-{name}", "name": NAMES.get(name, name), "model": MODEL}
        told |= {"boot": self.boot, "firmware": self._story}
        hello = {"token": self.token, "device": told, "streams": [declared.model_dump(mode="json")]}
        client = self.connect(self.url, hello, lambda: device_us(self._now_s()), self._heard, health)
        client.clock_of = device_us
        slips = Slipping(self.faults["slip"], declared.rate_hz) if name == SLIPPING and "slip" in self.faults else None
        return StandInDevice(name, declared, client, FrameFaults(self.faults, declared.rate_hz, rng, slips))

    async def _take_off(self) -> None:
        for task in self._tasks:
            task.cancel()
        await asyncio.gather(*self._tasks, return_exceptions=True)
        self._tasks, self.devices = [], []

    # what the bay says

    def _heard(self, message: dict[str, Any]) -> None:
        if message["type"] == "state" and message != self._state:
            self._state = message
            self._follow(message)
        elif message["type"] == "cue" and message["id"] not in self._heard_of:  # each device hears it
            self._heard_of.append(message["id"])
            self._cues.put_nowait(message)

    def _follow(self, state: Mapping[str, Any]) -> None:
        assert self.tape is not None
        if state["state"] == "calibrating" and "pose" in state:
            if not self.tape.hold_pose(state["pose"]) and state["pose"] in self.tape.poses:
                self._cues.put_nowait({"anew": True})  # fitted again: the player begins from the start
        elif state["state"] == "armed":
            self.tape.stand_at_address()

    async def _cue(self, message: Mapping[str, Any]) -> None:
        if message.get("anew"):
            self.goal, self._state = 0, {}
            await self._put_on(self.score)
        if "scenario" in message:
            self.goal, self._story = 0, message["id"]
            kit = tuple(message.get("sources", self.score.sources))
            hand = Hand(message.get("hand", self.score.hand.value))
            self._state = {}
            await self._put_on(Score(message["scenario"], int(message.get("seed", 1)), hand, kit))
        self.goal = max(self.goal, int(message.get("swings", 0)))

    # time passes

    async def _perform(self) -> None:
        rested_s, vanished = 0.0, self._now_s()
        while True:
            assert self.tape is not None
            await asyncio.sleep(TICK_S)
            with suppress(asyncio.QueueEmpty):
                await self._cue(self._cues.get_nowait())
            self._raise_refusals()
            now = self._now_s()
            passed_s, self._sent_s = now - self._sent_s, now
            self._let_slip()
            await self._send(passed_s, now)
            rested_s = rested_s + passed_s if self._is_waiting() else 0.0
            if self._is_waiting() and (self._is_wanted() or (self.every_s and rested_s > self.every_s)):
                self.tape.swing()
                rested_s, self._state, self._swung_s = 0.0, {}, now
            if not self._state and self.tape.is_standing and now - self._swung_s > UNSEEN_S:
                self._state = {"state": "armed"}  # nobody saw the swing: the player goes on
                self.tape.stand_at_address()
            if (every := self.faults.get("vanish")) and now - vanished > every:
                vanished = now
                self._tasks.append(asyncio.create_task(self._vanish(self.devices[0])))

    def _let_slip(self) -> None:
        """As soon as the swing before is over: long before the next address."""
        assert self.tape is not None
        for slips in (d.faults.slips for d in self.devices if d.faults.slips is not None):
            if self.tape.swings_done >= SLIPS_AFTER:
                slips.going = self.tape.at_s > self.tape.play.swing_ends_s[SLIPS_AFTER - 1] - 2 * LOOP_S or slips.going

    def _is_waiting(self) -> bool:
        """Whether the player stands at the address, the bay is armed, and nothing moves."""
        assert self.tape is not None
        return self._state.get("state") == "armed" and self.tape.is_standing

    def _is_wanted(self) -> bool:
        """Whether more swings were asked for than were made."""
        return self.tape is not None and self.tape.swings_done < self.goal

    async def _send(self, by_s: float, now_s: float) -> None:
        assert self.tape is not None
        by_name = {d.name: d for d in self.devices}
        for name, time_s, values in self.tape.advance(by_s):
            device = by_name.get(name)
            if device is not None:
                time_us = np.array([device.client.clock_of(t) for t in time_s.tolist()])
                device.waiting += [(now_s + late, part) for late, part in device.frames_of(time_us, values)]
        for device in self.devices:
            due = [part for at, part in device.waiting if at <= now_s]
            device.waiting = [(at, part) for at, part in device.waiting if at > now_s]
            for part in itertools.chain.from_iterable(_in_frames(p, device.declared) for p in due):
                data = write_frame(device.declared.stream, part, device.declared.layout)
                await device.client.send(device.declared.stream, part.first, part.after, data)

    async def _vanish(self, device: StandInDevice) -> None:
        await device.client.unplug()
        await asyncio.sleep(VANISHES_S / self.pace)
        device.client.plug_in()

    def _raise_refusals(self) -> None:
        for task in self._tasks:
            if task.done() and not task.cancelled() and isinstance(error := task.exception(), Refused):
                raise error


def _in_frames(samples: Samples, declared: Declared) -> Iterator[Samples]:
    """No frame is larger than any bay takes."""
    size = max(1, FRAME_BYTES // declared.layout.sample(own_offset=True).itemsize)
    for first in range(samples.first, samples.after, size):
        yield samples.between(first, first + size)


async def run_rigs(rigs: Sequence[Rig]) -> None:
    """All at once. One that its bay refuses ends alone; when none is left, raises its ``Refused``."""
    ended = await asyncio.gather(*(rig.run() for rig in rigs), return_exceptions=True)
    for error in ended:
        if isinstance(error, BaseException):
            raise error
