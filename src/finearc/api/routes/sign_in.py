"""Signing in and out, one's sessions, one's password."""

from __future__ import annotations

import re
from uuid import UUID

import anyio
from anyio.lowlevel import RunVar
from fastapi import APIRouter, Request, Response

from finearc.api import models as m
from finearc.api.context import COOKIE, Services, ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.views.people import manner_fields
from finearc.core.errors import FineArcError
from finearc.services.people import second_factor
from finearc.services.people.ownership import is_kept_apart
from finearc.services.people.roles import MAY, Role
from finearc.services.people.sessions import ABSOLUTE, AT_ONCE, SignedIn, TooManyTries
from finearc.services.records import Academy, Instructor
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["sign-in"])
WAITING = 200
"""So many may wait for their password to be tried."""
_turns: RunVar[anyio.CapacityLimiter] = RunVar("turns")
BROWSERS = (("Edg/", "Edge"), ("Firefox/", "Firefox"), ("Chrome/", "Chromium"), ("Safari/", "Safari"))
SYSTEMS = ("Windows", "Android", "iPhone", "iPad", "Macintosh", "Linux")


def _limiter() -> anyio.CapacityLimiter:
    try:
        return _turns.get()
    except LookupError:
        _turns.set(anyio.CapacityLimiter(AT_ONCE))
        return _turns.get()


async def _verified(s: Services, body: m.SignInRequest, address: str) -> Instructor:
    """A few at once: many who sign in take neither the memory nor the threads of all others."""

    turns = _limiter()
    if turns.statistics().tasks_waiting >= WAITING:
        raise TooManyTries(2)
    asked = (body.email, body.password, address, body.code)
    return await anyio.to_thread.run_sync(s.sessions.check, *asked, limiter=turns)


def _agent(request: Request) -> str:
    """What kind of browser it says to be, in two words."""
    said = request.headers.get("user-agent", "")
    browser = next((name for mark, name in BROWSERS if mark in said), re.split(r"[/ ]", said)[0][:20] or "Unknown")
    system = next((name for name in SYSTEMS if name in said), "")
    return tr("{browser} on {system}", browser=browser, system=system) if system else browser


@router.post("/sign-in", max_body_size=8_000)
async def sign_in(body: m.SignInRequest, request: Request, response: Response, s: ServicesDep) -> m.Me:
    """Sign in; the session lives in an HttpOnly cookie. ``end_others`` ends the person's other sessions. With a second
    factor: 401 ``code_needed`` until its code comes too."""
    address = s.address(request)
    try:
        instructor = await _verified(s, body, address)
    except FineArcError as error:
        s.seen.security("sign_in_refused", why=error.code, address=address)
        raise

    def begin() -> SignedIn:
        return s.sessions.begin(instructor, _agent(request), end_others=body.end_others)

    made = await anyio.to_thread.run_sync(begin)
    s.seen.security("signed_in", person=str(instructor.id), session=made.session.token_hash[:12], address=address)
    life = int(ABSOLUTE.total_seconds())
    response.set_cookie(COOKIE, made.token, max_age=life, httponly=True, samesite="strict", secure=s.secure, path="/")
    entered = await anyio.to_thread.run_sync(s.sessions.enter, made.session.token_hash, {})
    return _me(instructor, made.academy, made.session.csrf, bare=entered is not None and entered.bare)


def _me(person: Instructor, academy: Academy, csrf: str, *, bare: bool) -> m.Me:
    role = Role(person.role)
    return m.Me(
        instructor_id=person.id,
        instructor=person.name,
        academy=academy.name,
        csrf=csrf,
        manner=manner_fields(academy),
        role=role,
        rights=sorted(MAY[role]),
        bare=bare,
        apart=is_kept_apart(academy, role),
    )


@router.post("/sign-out")
def sign_out(response: Response, s: ServicesDep, who: WhoDep) -> m.Accepted:
    """End the session on the server and in the browser."""
    mine = next((x for x in s.sessions.of(who.instructor_id) if x.token_hash == who.token_hash), None)
    if mine is not None:
        s.sessions.end(who.instructor_id, mine.id)
    s.seen.security("signed_out", person=str(who.instructor_id), session=who.token_hash[:12])
    response.delete_cookie(COOKIE, path="/")
    return m.Accepted()


@router.get("/me")
def me(uow: UnitOfWorkDep, who: WhoDep) -> m.Me:
    """Who is signed in."""
    person, academy = uow.get(Instructor, who.instructor_id), uow.academy()
    bare = second_factor.is_missing(uow, person, academy)
    return _me(person, academy, who.csrf, bare=bare)


def _sessions(s: Services, who: WhoDep) -> list[m.SessionOut]:
    return [
        m.SessionOut(id=x.id, agent=x.agent, made_at=x.made_at, seen_at=x.seen_at, this=x.token_hash == who.token_hash)
        for x in s.sessions.of(who.instructor_id)
    ]


@router.get("/me/sessions")
def sessions(s: ServicesDep, who: WhoDep) -> list[m.SessionOut]:
    """Where one is signed in, used last first."""
    return _sessions(s, who)


@router.delete("/me/sessions/{session_id}")
def end_session(session_id: UUID, s: ServicesDep, who: WhoDep) -> list[m.SessionOut]:
    """End one of one's own sessions; what streams to it ends too."""
    s.sessions.end(who.instructor_id, session_id)
    s.seen.security("session_ended", person=str(who.instructor_id))
    return _sessions(s, who)


@router.delete("/me/sessions")
def end_other_sessions(s: ServicesDep, who: WhoDep) -> list[m.SessionOut]:
    """End all of one's sessions but this one."""
    ended = s.sessions.end_others(who.instructor_id, who.token_hash)
    s.seen.security("sessions_ended", person=str(who.instructor_id), count=ended)
    return _sessions(s, who)


@router.put("/me/password", max_body_size=8_000)
def change_password(body: m.PasswordIn, request: Request, s: ServicesDep, who: WhoDep) -> m.Accepted:
    """Another password (12 to 128 characters, not easily guessed); all other sessions end."""
    try:
        s.sessions.change_password(who.instructor_id, body.old, body.new, s.address(request), who.token_hash)
    except FineArcError as error:
        s.seen.security("password_refused", person=str(who.instructor_id), why=error.code)
        raise
    s.seen.security("password_changed", person=str(who.instructor_id))
    return m.Accepted()
