"""What a bay shows as it happens, over one WebSocket a screen: of a lesson to whoever is signed in, and of a bay,
without anything private, to a second screen that has its code."""

from __future__ import annotations

import asyncio
import json
import time
from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from typing import Any
from urllib.parse import urlsplit
from uuid import UUID

import anyio
import structlog
from fastapi import APIRouter, WebSocket
from starlette.websockets import WebSocketDisconnect

from finearc.api.context import COOKIE, Services
from finearc.api.routes.link import relay
from finearc.api.views.catalogue import measures
from finearc.api.views.told import to_reader
from finearc.devices.feed import Screen, TooManyScreens
from finearc.services.errors import NotFound
from finearc.services.lesson.lessons import FIRST_BAYS, bay_of
from finearc.services.people.ownership import NotYours
from finearc.services.people.roles import MAY, Right
from finearc.services.people.tokens import hash_token
from finearc.services.records import Lesson
from finearc.wording import tr

router = APIRouter()
log = structlog.get_logger()
Message = dict[str, Any]
Shown = Callable[[Message], Message | None]
HEARTBEAT_S, SLOW_S, CODE_S = 10.0, 10.0, 10.0
LEAST_S = 1.0 / 120.0
"""No screen is drawn oftener; what comes between is shown together."""
NOT_YOURS, NO_CODE, TOO_MANY = 4401, 4403, 4429
PUBLIC = ("type", "t", "phase", "along", "still", "values", "settled", "hand", "trainer", "decision", "figure", "bands")
"""What a second screen is told: nothing that names a person or a lesson."""


@router.websocket("/api/lessons/{lesson_id}/feed")
async def lesson_feed(socket: WebSocket, lesson_id: UUID) -> None:
    """What happens in a lesson's bay while its recording goes on there."""
    services: Services = socket.app.state.services
    if services.link is None:
        headers = {k: socket.headers[k] for k in ("cookie", "origin", "host") if k in socket.headers}
        await relay(socket, services.relay, socket.url.path, None, headers)
        return
    await socket.accept()
    session = hash_token(socket.cookies.get(COOKIE, ""))
    bay_id = await anyio.to_thread.run_sync(_bay_of_lesson, services, session, lesson_id)
    if bay_id is None or not _same_site(socket):
        await socket.close(NOT_YOURS, tr("Sign in again."))
        return

    def still_let_in() -> bool:
        return services.sessions.enter(session, {}) is not None

    feed = services.feeds.of(bay_id)
    await _watch(services, bay_id, socket, lambda told: told if feed.lesson_id == lesson_id else None, still_let_in)


@router.websocket("/api/screen")
async def second_screen(socket: WebSocket) -> None:
    """What happens in the bay whose code the first message has."""
    services: Services = socket.app.state.services
    if services.link is None:
        await relay(socket, services.relay, socket.url.path)
        return
    await socket.accept()
    try:
        told = json.loads(await asyncio.wait_for(socket.receive_text(), CODE_S))
        code = told["code"] if isinstance(told, dict) and isinstance(told.get("code"), str) else ""
    except (TimeoutError, ValueError, KeyError, WebSocketDisconnect):
        code = ""

    def bay() -> tuple[UUID, str] | None:
        with services.store.front_door() as door:
            found = door.bay_of_token(hash_token(code), "follow")
        return None if found is None else (found[0].id, found[0].name)

    known = await anyio.to_thread.run_sync(bay) if code else None
    if known is None:
        with suppress(RuntimeError):
            await socket.close(NO_CODE, tr("This code is of no bay, or was taken back."))
        return
    words = [x.model_dump(mode="json") for x in measures()]
    await socket.send_text(json.dumps({"type": "bay", "name": known[1], "measures": words}))
    await _watch(services, known[0], socket, _public, lambda: bay() is not None)


def _public(told: Message) -> Message | None:
    if told["type"] == "repetition":
        return told
    out = {k: v for k, v in told.items() if k in PUBLIC}
    if isinstance(out.get("trainer"), Mapping):
        out["trainer"] = {k: v for k, v in out["trainer"].items() if k != "block_id"}
    if "lesson" in told:
        out["going_on"] = told["lesson"] is not None
    return out


def _bay_of_lesson(services: Services, session: str, lesson_id: UUID) -> UUID | None:
    """The bay of a lesson that is the session's academy's; None where it is not."""
    try:
        entered = services.sessions.enter(session, {Lesson: lesson_id})
    except NotYours:
        return None
    if entered is None or not entered.owned or entered.bare or Right.FIT not in MAY[entered.role]:
        return None
    with suppress(NotFound), services.store.unit_of_work(entered.session.academy_id) as uow:
        return bay_of(uow, uow.get(Lesson, lesson_id).bay or FIRST_BAYS[0]).id
    return None


def _same_site(socket: WebSocket) -> bool:
    """Whether the page that asks is this application's own: a browser names it, others need not."""
    origin = socket.headers.get("origin")
    return origin is None or urlsplit(origin).netloc == socket.headers.get("host", "")


async def _watch(services: Services, bay_id: UUID, socket: WebSocket, shown: Shown, let_in: Callable[[], bool]) -> None:
    try:
        with services.feeds.watching(bay_id) as (_, screen):
            await _carry(socket, screen, shown, let_in)
    except TooManyScreens as many:
        await socket.close(TOO_MANY, str(many))


async def _carry(socket: WebSocket, screen: Screen, shown: Shown, let_in: Callable[[], bool]) -> None:
    """Send what is new, as fast as it can be shown, until the screen goes or is not let in any more."""
    gone = asyncio.create_task(_until_gone(socket))
    asked = time.monotonic()
    try:
        while not gone.done():
            told: Sequence[Message] = [{"type": "here"}]
            with suppress(TimeoutError):
                told = await screen.next(HEARTBEAT_S)
            if time.monotonic() - asked > HEARTBEAT_S / 2:
                asked = time.monotonic()
                if not await anyio.to_thread.run_sync(let_in):
                    await socket.close(NOT_YOURS, tr("Sign in again, or ask for a new code."))
                    return
            for message in filter(None, map(shown, told)):
                await asyncio.wait_for(socket.send_text(json.dumps(to_reader(message))), SLOW_S)
            await asyncio.sleep(LEAST_S)
    except (TimeoutError, RuntimeError, WebSocketDisconnect):
        pass
    finally:
        gone.cancel()


async def _until_gone(socket: WebSocket) -> None:
    """A screen says nothing; it is read all the same, to hear of its end."""
    with suppress(RuntimeError, WebSocketDisconnect):
        while (await socket.receive())["type"] != "websocket.disconnect":
            pass
