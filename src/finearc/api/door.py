"""The door before every route: who asks, whose the named records are, how often, how much. No body is read before."""

from __future__ import annotations

import hmac
from collections.abc import Iterator
from functools import cached_property
from typing import Any
from uuid import UUID

import anyio
from fastapi import Request
from fastapi.dependencies.models import Dependant
from fastapi.params import Form
from fastapi.routing import APIRoute
from sqlalchemy.exc import IntegrityError
from starlette.exceptions import HTTPException
from starlette.responses import StreamingResponse
from starlette.types import Message, Receive, Scope, Send

from finearc.api.context import COOKIE, CSRF_HEADER, SAFE, BadCsrf, NotSignedIn, Services, Who, heavy, who
from finearc.api.private import leaving_out, sees_all
from finearc.api.rights import right_of
from finearc.core.errors import FineArcError
from finearc.services.course.records import Round
from finearc.services.diary.records import BusyCalendar, CalendarFeed, Package, Waiting
from finearc.services.errors import NotFound
from finearc.services.jobs.records import Job
from finearc.services.people.roles import NotAllowed, Right, refuse_unless
from finearc.services.people.second_factor import NotSetUp
from finearc.services.people.tokens import hash_token
from finearc.services.records import (
    Author,
    BayToken,
    Block,
    Clip,
    Instructor,
    Invitation,
    Lesson,
    MarkerPreset,
    MovementLimit,
    Player,
    Recording,
    Reference,
    SavedSearch,
    ShareLink,
    Swing,
)
from finearc.store.faults import is_away, is_clash
from finearc.wording import tr

OWNED: dict[str, type[Any]] = {
    "lesson_id": Lesson,
    "swing_id": Swing,
    "clip_id": Clip,
    "player_id": Player,
    "limit_id": MovementLimit,
    "recording_id": Recording,
    "block_id": Block,
    "reference_id": Reference,
    "preset_id": MarkerPreset,
    "job_id": Job,
    "token_id": BayToken,
    "link_id": ShareLink,
    "search_id": SavedSearch,
    "round_id": Round,
    "instructor_id": Instructor,
    "invitation_id": Invitation,
    "waiting_id": Waiting,
    "calendar_id": BusyCalendar,
    "feed_id": CalendarFeed,
    "course_id": Package,
}
"""Records by the names that paths have for them; a test fails when a path names one that does not stand here."""
OPENED: dict[str, tuple[str, str]] = {
    "player": ("player", "opened"),
    "progress": ("player", "opened"),
    "lesson": ("lesson", "opened"),
    "one_round": ("round", "opened"),
    "record": ("lesson", "opened"),
    "export_player": ("player", "exported"),
    "export": ("lesson", "exported"),
    "page_pdf": ("lesson", "exported"),
    "record_pdf": ("lesson", "exported"),
    "table_csv": ("lesson", "exported"),
    "traces_csv": ("swing", "exported"),
    "take_away": ("round", "exported"),
}
"""Reads that stand in the academy's log: of what, and how. A swing is opened with its lesson."""
OPENED_KINDS = (Player, Lesson, Round, Swing)
LARGEST_BODY = 256_000
"""Bytes of a request to any route that does not say otherwise."""
TRIES, PAUSE_S = 4, 0.03


class NoId(FineArcError):
    """A path names a record by something that is no id."""

    code = "invalid"

    def __init__(self, name: str) -> None:
        super().__init__(name)
        self.name = name

    def __str__(self) -> str:
        return tr("{name}: this is not an id. Take it from the record that you mean.", name=self.name)


class TooLarge(HTTPException):
    """More is sent than a route takes."""

    def __init__(self, largest: int) -> None:
        super().__init__(
            413,
            tr(
                "More was sent than this address takes ({value:g} MB). Split it, or shorten it",
                value=largest / 1000000.0,
            ),
        )


class DoorRoute(APIRoute):
    """A route behind the door. One that does not ask who is signed in is open: sign-in itself. ``max_body_size``:
    bytes that it takes."""

    def __init__(self, *args: Any, max_body_size: int | None = None, **options: Any) -> None:
        super().__init__(*args, **options)
        self.largest = max_body_size or LARGEST_BODY

    @cached_property
    def open(self) -> bool:
        """Whether nobody needs to be signed in."""
        return all(d.call is not who for d in _dependencies(self.dependant))

    @cached_property
    def right(self) -> Right:
        """What whoever asks must be allowed."""
        return right_of(self.name, str(self.tags[0]), reads=set(self.methods or ()) <= set(SAFE))

    @cached_property
    def takes_file(self) -> bool:
        """Whether a file is dropped here, which is read once."""
        return any(isinstance(p.field_info, Form) for p in self.dependant.body_params)

    @cached_property
    def takes_turns(self) -> bool:
        """Whether it reads something short: neither a stream that stays open nor a whole document."""
        quick = self.response_class is not StreamingResponse and all(
            d.call is not heavy for d in _dependencies(self.dependant)
        )
        return quick and bool(self.methods) and set(self.methods or ()) <= set(SAFE)

    async def handle(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Let in who may come in; readers a few at a time, in the order of coming."""
        if not self.takes_turns:
            await self._let_in(scope, receive, send)
            return
        turn = scope["app"].state.services.turns.here()
        await turn.acquire()
        mine = True

        async def told(message: Message) -> None:
            nonlocal mine
            if mine:  # the answer is made: whoever is slow to take it keeps nobody waiting
                mine = False
                turn.release()
            await send(message)

        try:
            await self._let_in(scope, receive, told)
        finally:
            if mine:
                turn.release()

    async def _let_in(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Ask who it is; do the work again where two stood in each other's way."""
        request = Request(scope)
        if not self.open:
            signed_in = scope.setdefault("state", {})["who"] = await _enter(request, self.right)
            if not sees_all(signed_in.role):
                send = leaving_out(send)
            if self.name in OPENED:
                await anyio.to_thread.run_sync(_note_opened, request, self.name, signed_in)
        again = Again(receive, self.largest)
        if _told_length(request) > self.largest:
            raise TooLarge(self.largest)
        tries = 1 if self.takes_file else TRIES
        for number in range(1, tries + 1):
            try:
                await super().handle(scope, again.receive if tries > 1 else again.receive_once, again.watch(send))
            except Exception as error:
                lost = is_away(error) and request.method in SAFE  # what was read can be read again
                first = isinstance(error, IntegrityError) and number == 1  # another made the same: now it is there
                if again.answered or number == tries or not (is_clash(error) or lost or first):
                    raise
                await anyio.sleep(PAUSE_S * 4**number if lost else PAUSE_S * number)
                again.rewind()
            else:
                return


def _note_opened(request: Request, name: str, who: Who) -> None:
    """Write down that somebody looked at, or took out, what is a player's: once in a while for the same thing."""
    services: Services = request.app.state.services
    kind, how = OPENED[name]
    found = next(((k, v) for k, v in _named(request)[0].items() if k in OPENED_KINDS), None)
    if found is None or not services.opened.is_new((who.token_hash, found[1], how)):
        return
    line = Author(who.academy_id, who.instructor_id, kind, found[1], how)
    with services.store.front_door() as door:
        door.add(line)


def _told_length(request: Request) -> int:
    """Bytes that the request says it has; what is no number is more than anything."""
    told = request.headers.get("content-length", "0")
    return int(told) if told.isdigit() and len(told) < 16 else 10**16


def _dependencies(dependant: Dependant) -> Iterator[Dependant]:
    for inner in dependant.dependencies:
        yield inner
        yield from _dependencies(inner)


class Again:
    """A request that can be given once more: what was received of it, and whether its answer has begun."""

    def __init__(self, receive: Receive, largest: int) -> None:
        self._receive, self._largest = receive, largest
        self._kept, self._at, self._size = list[Message](), 0, 0
        self.answered = False

    def rewind(self) -> None:
        self._at = 0

    async def receive_once(self) -> Message:
        """Raises ``TooLarge`` as soon as it is, also where nothing was said about the size."""
        message = await self._receive()
        self._size += len(message.get("body", b""))
        if self._size > self._largest:
            raise TooLarge(self._largest)
        return message

    async def receive(self) -> Message:
        if self._at == len(self._kept):
            message = await self.receive_once()
            if message["type"] != "http.request":  # a browser that has gone stays gone
                return message
            self._kept.append(message)
        self._at += 1
        return self._kept[self._at - 1]

    def watch(self, send: Send) -> Send:
        async def told(message: Message) -> None:
            self.answered = True
            await send(message)

        return told


async def _enter(request: Request, right: Right) -> Who:
    services: Services = request.app.state.services
    token = request.cookies.get(COOKIE, "")
    if not token:
        raise NotSignedIn
    hashed = hash_token(token)
    named, wrong = _named(request)
    entered = await anyio.to_thread.run_sync(services.sessions.enter, hashed, named)
    if entered is None:
        services.seen.security("session_refused", address=services.address(request))
        raise NotSignedIn
    found = entered.session
    given = request.headers.get(CSRF_HEADER, "")
    if request.method not in SAFE and not hmac.compare_digest(given.encode("utf-8", "replace"), found.csrf.encode()):
        services.seen.security("csrf_refused", session=hashed[:12])
        raise BadCsrf
    services.reads.count(hashed)
    try:
        refuse_unless(entered.role, right)
    except NotAllowed:
        services.seen.security("not_allowed", session=hashed[:12], route=_template(request))
        raise
    if entered.bare and right is not Right.ACCOUNT:
        raise NotSetUp
    if wrong:
        raise NoId(wrong)
    if not entered.owned:
        services.seen.security("not_owned", session=hashed[:12], route=_template(request))
        raise NotFound(tr("this record"))
    return Who(found.academy_id, found.instructor_id, found.csrf, hashed, entered.role, entered.apart)


def _named(request: Request) -> tuple[dict[type[Any], UUID], str]:
    """The records that the path names, and the name of one that is no id."""
    found, wrong = {}, ""
    for name, given in request.path_params.items():
        kind = OWNED.get(name)
        if kind is not None:
            try:
                found[kind] = UUID(str(given))
            except ValueError:
                wrong = name
    return found, wrong


def _template(request: Request) -> str:
    return str(getattr(request.scope.get("route"), "path", ""))
