"""The device link: one WebSocket a device. What it says and means stands in ``devices.link``; here it is carried."""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import Mapping, Sequence
from contextlib import suppress

import anyio
import structlog
from fastapi import APIRouter, WebSocket
from starlette.websockets import WebSocketDisconnect
from websockets.asyncio.client import ClientConnection, unix_connect
from websockets.exceptions import ConnectionClosed
from websockets.typing import Subprotocol

from finearc.api.context import Services
from finearc.devices.link import messages as msg
from finearc.devices.link.bay import Bay
from finearc.devices.link.bays import Bays, TokenOwner
from finearc.devices.link.device import DeviceState
from finearc.devices.link.messages import Close, LinkRefused, Message
from finearc.services.people.tokens import hash_token
from finearc.wording import mark, tr

router = APIRouter()
log = structlog.get_logger()
HELLO_S = 10.0
"""So long a device may take to say hello."""
SLOW_S = 10.0
"""So long a device may take to read what it is told."""
MOST_WAITING = 200
"""Messages that wait for a device that does not read; acknowledgements of one stream are one."""
FULL_PAUSE_S = 0.02
WRONG_PROTOCOL = mark("this server speaks the subprotocol finearc.link.v1, protocol 1")
NO_HELLO = mark("the first message is hello, within ten seconds")
NO_TOKEN = mark("this token is of no bay, or was revoked. Make one on the screen of the bays.")
AWAY = mark("the database does not answer. Try again in a moment.")
NEVER_READS = mark("what is told is not read; read every message, or the socket is closed")


class _Outlet:
    """What a device is told, sent by a task of its own so that one that does not read keeps nobody waiting."""

    def __init__(self, socket: WebSocket) -> None:
        self._socket = socket
        self._acks: dict[int, Message] = {}
        self._others: deque[Message] = deque()
        self._more = asyncio.Event()
        self._ending: LinkRefused | None = None
        self.closed = asyncio.Event()
        self.task = asyncio.create_task(self._send())

    def tell(self, message: Message) -> None:
        if message["type"] == "ack":
            self._acks[message["stream"]] = message
        else:
            self._others.append(message)
        if len(self._others) > MOST_WAITING:
            self._ending = LinkRefused(Close.TOO_FAST, tr(NEVER_READS))
        self._more.set()

    def close(self, error: LinkRefused) -> None:
        self._ending = self._ending or error
        self._more.set()

    async def _send(self) -> None:
        try:
            while self._ending is None:
                await self._more.wait()
                self._more.clear()
                waiting = [*self._others, *self._acks.values()]
                self._others.clear()
                self._acks.clear()
                for message in waiting:
                    await asyncio.wait_for(self._socket.send_text(json.dumps(message)), SLOW_S)
            await asyncio.wait_for(self._socket.send_text(json.dumps(msg.refused(self._ending))), 1.0)
            await self._socket.close(int(self._ending.close), self._ending.reason[:120])
        except (TimeoutError, RuntimeError, WebSocketDisconnect):
            with suppress(RuntimeError):
                await asyncio.wait_for(self._socket.close(int(Close.TOO_FAST)), 1.0)
        finally:
            self.closed.set()


@router.websocket("/api/link")
async def link(socket: WebSocket) -> None:
    """A device from its hello to its end."""
    services: Services = socket.app.state.services
    offered = socket.scope.get("subprotocols", [])
    if services.link is None:
        known = [Subprotocol(msg.SUBPROTOCOL)] if msg.SUBPROTOCOL in offered else None
        await relay(socket, services.relay, "/api/link", known)
        return
    await socket.accept(msg.SUBPROTOCOL if msg.SUBPROTOCOL in offered else None)
    outlet = _Outlet(socket)
    try:
        if msg.SUBPROTOCOL not in offered:
            raise LinkRefused(Close.PROTOCOL, tr(WRONG_PROTOCOL))
        hello = await _hello(socket)
        owner = await anyio.to_thread.run_sync(_owner, services, hello.token)
        if hello.log:
            await _take_log(socket, services.link, owner, hello, outlet)
            return
        bay = services.link.open(owner)
        device = bay.welcome(hello, outlet)
        services.link.came_with(bay, device.id, owner.token_id)
        try:
            await _listen(socket, bay, device, outlet)
        finally:
            bay.gone(device, outlet)
    except LinkRefused as error:
        outlet.close(error)
        with suppress(TimeoutError):
            await asyncio.wait_for(outlet.closed.wait(), 3.0)
    except (WebSocketDisconnect, RuntimeError):
        pass
    finally:
        outlet.task.cancel()


async def _take_log(socket: WebSocket, link: Bays, owner: TokenOwner, hello: msg.Hello, outlet: _Outlet) -> None:
    """A log that clips hand over, until they say *bye* or vanish. Raises ``LinkRefused``."""
    link.begin()
    logs = link.logs
    assert logs is not None, "the application was wired with a place for logs"
    log = logs.welcome(owner, hello, outlet, link.clock.now_us())
    done = False
    try:
        while True:
            while log.journal.is_full:
                await asyncio.sleep(FULL_PAUSE_S)
            message = await socket.receive()
            if message["type"] == "websocket.disconnect" or outlet.closed.is_set():
                return
            if message.get("bytes") is not None:
                logs.frame(log, message["bytes"])
                continue
            heard = msg.read_message(message["text"])
            if isinstance(heard, msg.Bye):
                done = True
                await socket.close()
                return
            logs.hear(log, heard, link.clock.now_us())
    finally:
        await anyio.to_thread.run_sync(lambda: logs.gone(log, outlet, done=done))


async def _hello(socket: WebSocket) -> msg.Hello:
    try:
        text = await asyncio.wait_for(socket.receive_text(), HELLO_S)
    except (TimeoutError, KeyError):
        raise LinkRefused(Close.BAD_HELLO, tr(NO_HELLO)) from None
    hello = msg.read_message(text)
    if not isinstance(hello, msg.Hello):
        raise LinkRefused(Close.BAD_HELLO, tr(NO_HELLO))
    if hello.protocol != msg.PROTOCOL:
        raise LinkRefused(
            Close.PROTOCOL,
            tr("protocol {protocol}: {wrong_protocol}", protocol=hello.protocol, wrong_protocol=WRONG_PROTOCOL),
        )
    return hello


def _owner(services: Services, token: str) -> TokenOwner:
    """Raises ``LinkRefused``."""
    try:
        with services.store.front_door() as door:
            found = door.bay_of_token(hash_token(token))
    except Exception as error:
        log.warning("a token could not be looked up", kind=type(error).__name__)
        raise LinkRefused(Close.TOO_FAST, tr(AWAY)) from None
    if found is None:
        raise LinkRefused(Close.TOKEN, tr(NO_TOKEN))
    bay, token_id = found
    return TokenOwner(bay.academy_id, bay.id, bay.name, token_id)


async def _listen(socket: WebSocket, bay: Bay, device: DeviceState, outlet: _Outlet) -> None:
    """Until the device goes, or its outlet has closed the socket."""
    while True:
        while bay.journal.is_full:
            await asyncio.sleep(FULL_PAUSE_S)
        message = await socket.receive()
        if message["type"] == "websocket.disconnect" or outlet.closed.is_set():
            return
        if message.get("bytes") is not None:
            bay.frame(device, message["bytes"])
            continue
        heard = msg.read_message(message["text"])
        if isinstance(heard, msg.Bye):
            await socket.close()
            return
        bay.hear(device, heard)


async def relay(
    socket: WebSocket,
    unix_path: str,
    path: str,
    subprotocols: Sequence[Subprotocol] | None = None,
    headers: Mapping[str, str] | None = None,
) -> None:
    """Carry a socket to the process that has the bays, and back."""
    await socket.accept(subprotocols[0] if subprotocols else None)
    host = dict(headers or {}).pop("host", "localhost")
    others = {k: v for k, v in (headers or {}).items() if k != "host"}
    try:
        there = unix_connect(
            unix_path,
            f"ws://{host}{path}",
            subprotocols=subprotocols,
            additional_headers=others,
            compression=None,
            max_size=None,
        )
        async with there as link:
            forth = asyncio.create_task(_carry_forth(socket, link))
            try:
                async for message in link:
                    await (socket.send_bytes(message) if isinstance(message, bytes) else socket.send_text(message))
            except ConnectionClosed:
                pass
            forth.cancel()
            await socket.close(link.close_code or 1011, link.close_reason or "")
    except (OSError, RuntimeError, WebSocketDisconnect):  # that process is being started again: who came comes back
        with suppress(RuntimeError):
            await socket.close(1013, tr("The devices are being started again. Connect again."))


async def _carry_forth(socket: WebSocket, link: ClientConnection) -> None:
    with suppress(ConnectionClosed):
        while (message := await socket.receive())["type"] != "websocket.disconnect":
            await link.send(message["text"] if message.get("bytes") is None else message["bytes"])
        await link.close()
