"""A device's side of the link: says hello, sets its clock, sends, keeps what is not acknowledged, comes back."""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

import structlog
from websockets.asyncio.client import ClientConnection, connect
from websockets.exceptions import ConnectionClosed, InvalidHandshake, WebSocketException
from websockets.typing import Subprotocol

from finearc.devices.link.messages import SUBPROTOCOL, Close

log = structlog.get_logger()
CLOCK_EVERY_S, HEALTH_EVERY_S = 1.0, 5.0
AGAIN_S = (0.2, 0.5, 1.0, 2.0, 5.0)
"""Pauses before each further try to connect."""
KEPT_FRAMES = 4000
"""Unacknowledged frames kept: a minute and more."""
Frame = tuple[int, int, int, bytes]
"""Stream, first sequence, sequence after the last, bytes."""


class Refused(Exception):
    """The server does not take this device; its reason."""


@dataclass
class LinkClient:
    """``url`` of the link, ``hello`` as it is sent; ``now_us``: the device's clock. ``heard`` is told every message."""

    url: str
    hello: dict[str, Any]
    now_us: Callable[[], int]
    heard: Callable[[dict[str, Any]], None] = lambda _: None
    health: Callable[[], dict[str, Any]] | None = None
    clock_of: Callable[[float], int] = int
    acked: dict[int, int] = field(default_factory=dict)
    refused: str = ""
    welcomes: int = 0
    _kept: deque[Frame] = field(default_factory=lambda: deque(maxlen=KEPT_FRAMES))
    _socket: ClientConnection | None = None
    _unplugged: bool = False
    _last: tuple[int, int] | None = None

    @property
    def connected(self) -> bool:
        return self._socket is not None

    @property
    def unacknowledged(self) -> int:
        """Frames that are not known to be safe."""
        return len(self._kept)

    async def run(self) -> None:
        """Stay connected until cancelled. Raises ``Refused``."""
        tries = 0
        while True:
            if not self._unplugged:
                with suppress(OSError, InvalidHandshake, ConnectionClosed, TimeoutError, WebSocketException):
                    await self._once()
                    tries = 0
            await asyncio.sleep(AGAIN_S[min(tries, len(AGAIN_S) - 1)])
            tries += 1

    async def _once(self) -> None:
        async with connect(
            self.url,
            subprotocols=[Subprotocol(SUBPROTOCOL)],
            compression=None,
            open_timeout=5,
            ping_interval=5,
            ping_timeout=10,
            proxy=None,
        ) as socket:
            await socket.send(json.dumps({"type": "hello", "protocol": 1, **self.hello}))
            told = json.loads(await socket.recv())
            if told["type"] == "refused":
                self._take(told, welcomed=False)
                return
            self.welcomes += 1
            self.heard(told)
            await socket.send(json.dumps({"type": "clock", "t0_us": self.now_us()}))
            await self._send_again(socket, {int(k): v for k, v in told.get("resume", {}).items()})
            beats = asyncio.create_task(self._beat(socket))
            try:
                await self._listen(socket)
            finally:
                self._socket = None
                beats.cancel()

    async def _send_again(self, socket: ClientConnection, resume: dict[int, int]) -> None:
        """Whatever the server does not have yet, what is measured meanwhile too: then frames go out as they come."""
        sent: Frame | None = None
        while waiting := self._after(sent):
            for sent in waiting:
                stream, _, after, data = sent
                if after > resume.get(stream, 0):
                    await socket.send(data)
        self._socket = socket

    def _after(self, sent: Frame | None) -> list[Frame]:
        """The frames that are kept and came after one, which may have become safe."""
        kept = list(self._kept)
        at = next((k for k in range(len(kept) - 1, -1, -1) if kept[k] is sent), None)
        if at is not None or sent is None:
            return kept[0 if at is None else at + 1 :]
        return [f for f in kept if f[0] != sent[0] or f[1] >= sent[2]]

    async def _listen(self, socket: ClientConnection) -> None:
        async for text in socket:
            message = json.loads(text)
            if message["type"] == "ack":
                self.acked[message["stream"]] = message["sequence"]
                self._forget(message["stream"], message["sequence"])
            elif message["type"] == "clock":
                self._last = (message["t0_us"], self.now_us())
            elif message["type"] == "refused":
                self._take(message, welcomed=True)
                return
            self.heard(message)

    def _take(self, told: Mapping[str, Any], *, welcomed: bool) -> None:
        """Come again where that may help: the server is busy, or another connection of this very device took the place
        of a connection that had been welcomed. Raises ``Refused`` otherwise."""
        self.refused = told["reason"]
        if told.get("code") == Close.TOO_FAST or (welcomed and told.get("code") == Close.TAKEN):
            return
        raise Refused(told["reason"])

    def _forget(self, stream: int, sequence: int) -> None:
        """What is safe; frames of other streams before it stay."""
        while self._kept and self._is_safe(self._kept[0]):
            self._kept.popleft()

    def _is_safe(self, frame: Frame) -> bool:
        return frame[2] - 1 <= self.acked.get(frame[0], -1)

    async def _beat(self, socket: ClientConnection) -> None:
        """Clock and health."""
        beats = 0
        while True:
            clock: dict[str, Any] = {"type": "clock", "t0_us": self.now_us()}
            if self._last is not None:
                clock |= {"last_t0_us": self._last[0], "last_t3_us": self._last[1]}
            await socket.send(json.dumps(clock))
            if self.health is not None and beats % round(HEALTH_EVERY_S / CLOCK_EVERY_S) == 0:
                await socket.send(json.dumps({"type": "health", **self.health()}))
            beats += 1
            await asyncio.sleep(CLOCK_EVERY_S if beats > 4 else 0.1)

    async def send(self, stream: int, first: int, after: int, data: bytes) -> None:
        """A frame: now where there is a connection, and again after the next welcome where it was not acknowledged."""
        self._kept.append((stream, first, after, data))
        if self._socket is not None and not self._unplugged:
            with suppress(ConnectionClosed):
                await self._socket.send(data)

    async def tell(self, message: dict[str, Any]) -> None:
        """A control message."""
        if self._socket is not None:
            with suppress(ConnectionClosed):
                await self._socket.send(json.dumps(message))

    async def unplug(self) -> None:
        """Vanish without a word, until ``plug_in``."""
        self._unplugged = True
        if self._socket is not None:
            self._socket.transport.abort()

    def plug_in(self) -> None:
        """Come back."""
        self._unplugged = False


def unsafe_frames(clients: Sequence[LinkClient]) -> int:
    """Frames of all that are not known to be safe."""
    return sum(c.unacknowledged for c in clients)
