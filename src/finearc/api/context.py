"""What the routes work with: store, devices, sign-in."""

from __future__ import annotations

import hashlib
import hmac
import secrets
import threading
import time
from collections import defaultdict, deque
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Annotated
from uuid import UUID

from fastapi import Depends, Request

from finearc.core.errors import FineArcError
from finearc.devices.hub import LiveHub
from finearc.devices.live import Devices
from finearc.services.jobs.board import Board
from finearc.services.ports import Hasher, PageMaker, RawCodec, UnitOfWork
from finearc.services.records import Instructor, SignIn, now
from finearc.store.unit_of_work import Store

COOKIE = "finearc_session"
CSRF_HEADER = "x-csrf-token"
SESSION_DAYS = 14
SAFE = ("GET", "HEAD", "OPTIONS")


@dataclass
class NotSignedIn(FineArcError):
    code = "not_signed_in"

    def __str__(self) -> str:
        return "Not signed in. Sign in first."


@dataclass
class WrongPassword(FineArcError):
    code = "wrong_password"

    def __str__(self) -> str:
        return "E-mail or password is not right. Try again."


@dataclass
class TooManyTries(FineArcError):
    wait_s: int
    code = "too_many_tries"

    def __str__(self) -> str:
        return f"Too many tries. Wait {self.wait_s} seconds, then try again."


@dataclass
class BadCsrf(FineArcError):
    code = "csrf"

    def __str__(self) -> str:
        return "This page is out of date. Reload it and try again."


class SignInLimiter:
    """At most ``tries`` failed sign-ins per address and account in ``window_s``."""

    def __init__(self, tries: int = 6, window_s: float = 300.0) -> None:
        self._tries, self._window = tries, window_s
        self._failed: dict[str, deque[float]] = defaultdict(deque)
        self._lock = threading.Lock()

    def check(self, key: str) -> None:
        with self._lock:
            times = self._failed[key]
            while times and time.monotonic() - times[0] > self._window:
                times.popleft()
            if len(times) >= self._tries:
                raise TooManyTries(int(self._window - (time.monotonic() - times[0])) + 1)

    def failed(self, key: str) -> None:
        with self._lock:
            self._failed[key].append(time.monotonic())

    def passed(self, key: str) -> None:
        with self._lock:
            self._failed.pop(key, None)


@dataclass
class Services:
    """All that the application wires together."""

    store: Store
    codec: RawCodec
    hasher: Hasher
    pages: PageMaker
    hub: LiveHub
    devices: Devices
    jobs: Board
    limiter: SignInLimiter = field(default_factory=SignInLimiter)
    secure_cookie: bool = False
    closing: threading.Event = field(default_factory=threading.Event)


def services(request: Request) -> Services:
    """The wired services."""
    found: Services = request.app.state.services
    return found


ServicesDep = Annotated[Services, Depends(services)]


def hash_token(token: str) -> str:
    """What is kept of a session token."""
    return hashlib.sha256(token.encode()).hexdigest()


def open_session(s: Services, instructor: Instructor) -> tuple[str, SignIn]:
    """A new session; the token goes to the browser only."""
    token = secrets.token_urlsafe(32)
    record = SignIn(
        instructor.academy_id,
        instructor.id,
        hash_token(token),
        secrets.token_urlsafe(24),
        now() + timedelta(days=SESSION_DAYS),
    )
    with s.store.front_door() as door:
        door.add(record)
    return token, record


@dataclass(frozen=True)
class Who:
    """Who is signed in."""

    academy_id: UUID
    instructor_id: UUID
    csrf: str
    token_hash: str


def who(request: Request, s: ServicesDep) -> Who:
    """The signed-in instructor; a change needs the page's own token as well."""
    token = request.cookies.get(COOKIE, "")
    if not token:
        raise NotSignedIn
    hashed = hash_token(token)
    with s.store.front_door() as door:
        record = door.sign_in_by_token(hashed)
        if record is None or record.expires_at < now():
            raise NotSignedIn
        found = Who(record.academy_id, record.instructor_id, record.csrf, hashed)
    given = request.headers.get(CSRF_HEADER, "")
    if request.method not in SAFE and not hmac.compare_digest(given.encode(), found.csrf.encode()):
        raise BadCsrf
    return found


WhoDep = Annotated[Who, Depends(who)]


def unit_of_work(s: ServicesDep, signed_in: WhoDep) -> Iterator[UnitOfWork]:
    """A unit of work of the signed-in academy; committed when the answer is made, before it is sent."""
    with s.store.unit_of_work(signed_in.academy_id) as opened:
        yield opened


UnitOfWorkDep = Annotated[UnitOfWork, Depends(unit_of_work, scope="function")]
