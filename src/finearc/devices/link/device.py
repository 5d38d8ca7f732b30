"""One device as a bay knows it: what it has sent, how its clock stands, how it is."""

from __future__ import annotations

from collections import deque
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

import numpy as np

from finearc.core.live.clock import ClockState, Exchange, take_in
from finearc.core.live.sequence import SequenceParams, SequenceState
from finearc.core.typing import Array
from finearc.devices.link.declared import AnyDeclared
from finearc.devices.link.messages import Clock, Close, Health, Hello, LinkRefused, Message
from finearc.wording import tr

FASTER = 1.5
"""So many times its declared rate a stream may send in the long run (house value)."""
BACKLOG_S = 60.0
"""So much may come at once after a time away (house value; a device keeps at least five seconds)."""
PACE_US = 3_000_000
MOST_BAD = 20
"""Frames in a row that are no measurement before the device is refused (house value)."""


class Outlet(Protocol):
    """The way back to a device that is connected."""

    def tell(self, message: Message) -> None: ...

    def close(self, error: LinkRefused) -> None: ...


@dataclass
class Pace:
    """How many samples a second come, over the last seconds."""

    since_us: int = 0
    samples: int = 0
    last_hz: float = 0.0

    def count(self, samples: int, now_us: int) -> None:
        """Take in samples."""
        if now_us - self.since_us > PACE_US:
            self.last_hz = self.rate_hz(now_us) if now_us - self.since_us < 2 * PACE_US else 0.0
            self.since_us, self.samples = now_us, 0
        self.samples += samples

    def rate_hz(self, now_us: int) -> float:
        """The rate now: of the last whole stretch until this one is long enough."""
        took_s = (now_us - self.since_us) / 1e6
        if took_s > 2 * PACE_US / 1e6:
            return 0.0
        return self.samples / took_s if took_s > 1.0 else self.last_hz


@dataclass
class StreamState:
    """One stream: its order, what it may still send (``budget``, samples, at most ``backlog``), and what of it waits
    for the disk."""

    declared: AnyDeclared
    params: SequenceParams
    order: SequenceState = field(default_factory=SequenceState)
    backlog: float = np.inf
    budget: float = 0.0
    budget_at_us: int = 0
    bad: int = 0
    lost: int = 0
    acked: int = -1
    unsafe: deque[tuple[int, int]] = field(default_factory=deque)
    clipped_at_us: int = 0
    last_s: float = -np.inf
    pace: Pace = field(default_factory=Pace)

    @classmethod
    def of(cls, declared: AnyDeclared, now_us: int, pace: float = 1.0) -> StreamState:
        """``pace``: how much faster than real time passes."""
        backlog = BACKLOG_S * pace * declared.rate_hz
        return cls(declared, SequenceParams.at(declared.rate_hz), backlog=backlog, budget=backlog, budget_at_us=now_us)

    def spend(self, count: int, now_us: int) -> None:
        """Raises ``LinkRefused`` for far more than was declared."""
        rate = self.declared.rate_hz
        earned = FASTER * rate * (now_us - self.budget_at_us) / 1e6
        self.budget = min(self.backlog, self.budget + earned) - count
        self.budget_at_us = now_us
        if self.budget < 0:
            raise LinkRefused(
                Close.TOO_FAST,
                tr(
                    "stream {stream} sends far more than the {rate:g} samples a second that it declared",
                    stream=self.declared.stream,
                    rate=rate,
                ),
            )

    def safe_up_to(self, position: int) -> int | None:
        """The newest sequence that is on disk now, None when that is no news."""
        newest = None
        while self.unsafe and self.unsafe[0][0] <= position:
            newest = self.unsafe.popleft()[1]
        if newest is None or newest <= self.acked:
            return None
        self.acked = newest
        return newest


@dataclass
class DeviceState:
    """A device and its boot. ``session``: its number in the journal; ``outlet``: None while it is away."""

    hello: Hello
    session: int
    streams: dict[int, StreamState]
    outlet: Outlet | None = None
    clock: ClockState = field(default_factory=ClockState)
    asked: Clock | None = None
    asked_at_us: int = 0
    answered_at_us: int = 0
    has_clock: bool = False
    health: Health | None = None
    seen_us: int = 0

    @property
    def id(self) -> str:
        return self.hello.device.id

    @property
    def name(self) -> str:
        return self.hello.device.name or self.hello.device.model or self.id

    def resume(self) -> dict[int, int]:
        """The next sequence that is wanted of each stream that has sent before."""
        return {n: s.order.next for n, s in self.streams.items() if s.order.next is not None}

    def server_s(self, stream: StreamState, device_us: Array, *, late: bool = False) -> Array:
        """A stream's device times, µs, on the server's clock, s. Times of samples in order never go back: where the
        clock was set back, samples follow one another at twice their rate until it has caught up."""
        line = self.clock.line
        assert line is not None, "samples are put in order after the first exchange"
        time_s = line.server_s(np.asarray(device_us, dtype=float) / 1e6)
        if late:
            return time_s
        if time_s[0] <= stream.last_s:
            step_s = 0.5 / stream.declared.rate_hz
            time_s = np.maximum(time_s, stream.last_s + step_s * np.arange(1, len(time_s) + 1))
        stream.last_s = float(time_s[-1])
        return np.asarray(time_s)

    def hear_clock(self, message: Clock, now_us: int) -> bool:
        """Take in the exchange before this one, whose round trip is known now, else this one without; whether the
        clock has jumped."""
        exchange = Exchange(message.t0_us / 1e6, now_us / 1e6)
        before = self.asked
        if before is not None and message.last_t0_us == before.t0_us and message.last_t3_us is not None:
            trip_us = (message.last_t3_us - before.t0_us) - (self.answered_at_us - self.asked_at_us)
            exchange = Exchange(before.t0_us / 1e6, self.asked_at_us / 1e6, max(0.0, trip_us / 1e6))
        if not self.has_clock:  # how samples arrived says less than any exchange, and nothing was built on it
            self.clock = ClockState()
            for stream in self.streams.values():
                stream.last_s = -np.inf
        self.asked, self.asked_at_us, self.has_clock = message, now_us, True
        return take_in(self.clock, exchange)

    def hear_arrival(self, newest_us: int, now_us: int) -> None:
        """A device that sends no clock messages is set by when its samples arrive: roughly."""
        if not self.has_clock:
            take_in(self.clock, Exchange(newest_us / 1e6, now_us / 1e6))

    def snapshot(self) -> Mapping[str, Any]:
        """What the journal needs to go on from here."""
        told = self.hello.model_dump(mode="json", exclude={"token"})
        return {
            "session": self.session,
            "hello": {**told, "token": ""},
            "next": {str(n): s.order.next for n, s in self.streams.items()},
            "clock": [[e.device_s, e.server_s, e.trip_s] for e in self.clock.best],
            "has_clock": self.has_clock,
            "last_s": {str(n): s.last_s for n, s in self.streams.items() if np.isfinite(s.last_s)},
        }

    @classmethod
    def from_snapshot(cls, told: Mapping[str, Any], now_us: int, pace: float) -> DeviceState:
        """As it stood."""
        hello = Hello.model_validate(told["hello"])
        state = cls(hello, told["session"], {s.stream: StreamState.of(s, now_us, pace) for s in hello.streams})
        for number, following in told["next"].items():
            order = state.streams[int(number)].order
            order.next, order.newest = following, -1 if following is None else following - 1
            state.streams[int(number)].acked = order.newest
        for number, last_s in told.get("last_s", {}).items():  # times do not go back across a restart either
            state.streams[int(number)].last_s = last_s
        for device_s, server_s, trip_s in told["clock"]:
            take_in(state.clock, Exchange(device_s, server_s, trip_s))
        state.has_clock = told["has_clock"]
        return state
