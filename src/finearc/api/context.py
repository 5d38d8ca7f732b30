"""What the routes work with: store, devices, who is signed in."""

from __future__ import annotations

import asyncio
import ipaddress
import threading
import time
from collections.abc import AsyncIterator, Callable, Iterator
from dataclasses import dataclass, field
from pathlib import Path
from typing import Annotated, Protocol
from uuid import UUID
from weakref import WeakKeyDictionary

from fastapi import Depends, Request
from limits import RateLimitItemPerSecond
from limits.storage import MemoryStorage
from limits.strategies import FixedWindowRateLimiter

from finearc.core.errors import FineArcError
from finearc.devices.feed import Feeds
from finearc.devices.hub import LiveHub
from finearc.devices.link.bays import Bays
from finearc.devices.link.handed import HandedLogs
from finearc.devices.processes import BayControl, DeviceControl
from finearc.services.jobs.board import Board
from finearc.services.people.roles import Role
from finearc.services.people.sessions import Sessions
from finearc.services.ports import Hasher, PageMaker, RawCodec, UnitOfWork
from finearc.services.seen import Seen, unseen
from finearc.store.unit_of_work import Store
from finearc.wording import tr

COOKIE = "finearc_session"
CSRF_HEADER = "x-csrf-token"
SAFE = ("GET", "HEAD", "OPTIONS")


@dataclass
class NotSignedIn(FineArcError):
    code = "not_signed_in"

    def __str__(self) -> str:
        return tr("Not signed in. Sign in first.")


@dataclass
class TooManyReads(FineArcError):
    wait_s: int
    code = "too_many_reads"

    def __str__(self) -> str:
        return tr("More is asked for than any screen needs. Wait {wait_s} seconds, then go on.", wait_s=self.wait_s)


@dataclass
class BadCsrf(FineArcError):
    code = "csrf"

    def __str__(self) -> str:
        return tr("This page is out of date. Reload it and try again.")


class ReadLimit:
    """At most so many requests of one session in a while, counted by each process for itself: 20 busy screens of one
    person stay far below. The numbers are house values."""

    WINDOW_S = 10

    def __init__(self, requests: int = 4000, heavy: int = 40) -> None:
        self._limiter = FixedWindowRateLimiter(MemoryStorage())
        self._all = RateLimitItemPerSecond(requests, self.WINDOW_S, "all")
        self._heavy = RateLimitItemPerSecond(heavy, self.WINDOW_S, "heavy")

    def count(self, session: str) -> None:
        """Raises ``TooManyReads``."""
        if not self._limiter.hit(self._all, session):
            raise TooManyReads(self.WINDOW_S)

    def count_heavy(self, session: str) -> None:
        """A request that makes a whole document. Raises ``TooManyReads``."""
        if not self._limiter.hit(self._heavy, session):
            raise TooManyReads(self.WINDOW_S)


class Opened:
    """What was opened lately, in this process: a line of the log a while says as much as one a click."""

    AGAIN_S, MOST = 600.0, 20_000

    def __init__(self) -> None:
        self._seen: dict[tuple[str, UUID, str], float] = {}
        self._lock = threading.Lock()

    def is_new(self, what: tuple[str, UUID, str]) -> bool:
        """Whether it was not opened lately; from now on it was."""
        at = time.monotonic()
        with self._lock:
            if at - self._seen.get(what, -self.AGAIN_S) < self.AGAIN_S:
                return False
            if len(self._seen) >= self.MOST:
                self._seen = {k: t for k, t in self._seen.items() if at - t < self.AGAIN_S}
            self._seen[what] = at
            return True


class Purged(Protocol):
    """Something in which things run out."""

    def purge(self) -> int: ...


READ_AT_ONCE = 3
"""Short reads at a time. More threads than cores only take the interpreter from one another: with twenty at once each
waited several times longer (measured by ``bench.app_load``)."""


class Turns:
    """Who comes first is let in first, so many at a time in each event loop."""

    def __init__(self, at_once: int = READ_AT_ONCE) -> None:
        self._at_once = at_once
        self._loops: WeakKeyDictionary[asyncio.AbstractEventLoop, asyncio.Semaphore] = WeakKeyDictionary()

    def here(self) -> asyncio.Semaphore:
        """The running loop's."""
        loop = asyncio.get_running_loop()
        if loop not in self._loops:
            self._loops[loop] = asyncio.Semaphore(self._at_once)
        return self._loops[loop]


@dataclass
class Services:
    """All that the application wires together. ``proxied``: a proxy stands in front and names the sender;
    ``scrub``: has what was erased overwritten in the storage too. ``link``: the bays, in the process that hears the
    devices; in any other ``relay`` is the socket on which that one listens."""

    store: Store
    codec: RawCodec
    hasher: Hasher
    pages: PageMaker
    hub: LiveHub
    devices: DeviceControl
    jobs: Board
    sessions: Sessions
    throttle: Purged
    bays: BayControl
    feeds: Feeds
    logs: HandedLogs
    link: Bays | None = None
    relay: str = ""
    seen: Seen = field(default_factory=unseen)
    reads: ReadLimit = field(default_factory=ReadLimit)
    secure: bool = False
    proxied: bool = False
    hosts: tuple[str, ...] = ()
    scrub: Callable[[], None] = lambda: None
    folder: Path | None = None
    closing: threading.Event = field(default_factory=threading.Event)
    turns: Turns = field(default_factory=Turns)
    opened: Opened = field(default_factory=Opened)

    def address(self, request: Request) -> str:
        """Where a request comes from: of several senders in one IPv6 network the network, which one of them owns."""
        told = request.client.host if request.client else ""
        if self.proxied:
            told = request.headers.get("x-forwarded-for", told).split(",")[-1].strip()
        try:
            parsed = ipaddress.ip_address(told)
        except ValueError:
            return "unknown"
        return str(ipaddress.ip_network((told, 64), strict=False)) if parsed.version == 6 else told


def services(request: Request) -> Services:
    """The wired services."""
    found: Services = request.app.state.services
    return found


ServicesDep = Annotated[Services, Depends(services)]


@dataclass(frozen=True)
class Who:
    """Who is signed in. ``apart``: they open their own players only."""

    academy_id: UUID
    instructor_id: UUID
    csrf: str
    token_hash: str
    role: Role
    apart: bool = False


async def who(request: Request) -> Who:
    """The signed-in instructor, whom the door has let in."""
    found: Who = request.state.who
    return found


WhoDep = Annotated[Who, Depends(who)]


def unit_of_work(s: ServicesDep, signed_in: WhoDep) -> Iterator[UnitOfWork]:
    """A unit of work of the signed-in academy; committed when the answer is made, before it is sent."""
    with s.store.unit_of_work(signed_in.academy_id, signed_in.instructor_id, apart=signed_in.apart) as opened:
        yield opened


UnitOfWorkDep = Annotated[UnitOfWork, Depends(unit_of_work, scope="function")]


async def heavy(s: ServicesDep, signed_in: WhoDep) -> None:
    """For routes that make a whole document."""
    s.reads.count_heavy(signed_in.token_hash)


HEAVY = [Depends(heavy)]


async def rules_changed(request: Request, s: ServicesDep, signed_in: WhoDep) -> AsyncIterator[None]:
    """For routes that change by what an academy judges: who did it is seen, once it has been done."""
    yield
    route = str(getattr(request.scope.get("route"), "path", ""))
    s.seen.security("rules_changed", route=route, person=str(signed_in.instructor_id))


RULES = [Depends(rules_changed)]
