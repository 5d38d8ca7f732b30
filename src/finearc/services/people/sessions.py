"""Signing in and staying signed in: tries counted, sessions with an idle and an absolute life, passwords changed."""

from __future__ import annotations

import secrets
import threading
from collections.abc import Callable, Mapping, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any, Protocol
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.services.errors import NotFound
from finearc.services.people.accounts import account_key
from finearc.services.people.passwords import as_typed, refuse_weak
from finearc.services.people.records import SecondFactor
from finearc.services.people.roles import Role
from finearc.services.people.second_factor import is_on, spend
from finearc.services.people.tokens import hash_token
from finearc.services.ports import Hasher
from finearc.services.records import Academy, Bay, Instructor, Invitation, SignIn, now
from finearc.wording import tr

ABSOLUTE, IDLE = timedelta(days=14), timedelta(hours=24)
"""Lives of a session (house values): nobody signs in during a day of lessons."""
AT_ONCE = 2
"""Passwords that are tried at once: each takes 64 MB and a core for 0.2 s."""
TOUCHED_EVERY = timedelta(minutes=5)
NOBODY = "$argon2id$v=19$m=65536,t=3,p=4$AAAAAAAAAAAAAAAAAAAAAA$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"
"""Against which the password of an unknown account is tried, so that it takes as long as a known one."""


@dataclass
class WrongPassword(FineArcError):
    code = "wrong_password"

    def __str__(self) -> str:
        return tr("E-mail or password is not right. Try again.")


@dataclass
class TooManyTries(FineArcError):
    wait_s: int
    code = "too_many_tries"

    def __str__(self) -> str:
        return tr("Too many tries. Wait {wait_s} seconds, then try again.", wait_s=self.wait_s)


class Throttle(Protocol):
    """Counts tries, together for all who ask at once."""

    def attempt(self, account: str, address: str) -> None:
        """Count one. Raises ``TooManyTries``."""
        ...

    def passed(self, account: str, address: str) -> None:
        """The person is who they say: their tries are forgotten."""
        ...


@dataclass(frozen=True)
class Entered:
    """Who comes with a session. ``owned``: the records that are named are theirs to ask for; ``bare``: their academy
    asks for a second factor, and they have none; ``apart``: they open their own players only."""

    session: SignIn
    owned: bool
    role: Role
    bare: bool = False
    apart: bool = False


class FrontDoor(Protocol):
    """The few queries that come before an academy is known."""

    def enter(self, token_hash: str, named: Mapping[type[Any], UUID]) -> Entered | None:
        """Who comes with a session, None where somebody has left or there is none."""
        ...

    def second_factor(self, instructor_id: UUID) -> SecondFactor | None:
        """Somebody's, held until it is changed."""
        ...

    def instructor_by_email(self, email: str) -> Instructor | None: ...

    def bay_of_token(self, token_hash: str, purpose: str = "send") -> tuple[Bay, UUID] | None: ...

    def academy_of(self, instructor: Instructor) -> Academy: ...

    def sessions_of(self, instructor_id: UUID) -> Sequence[SignIn]: ...

    def end_sessions(self, ids: Sequence[UUID]) -> None: ...

    def touch(self, session_id: UUID) -> None: ...

    def get_instructor(self, instructor_id: UUID) -> Instructor: ...

    def invitation(self, token_hash: str) -> Invitation | None: ...

    def academy(self, academy_id: UUID) -> Academy: ...

    def add(self, record: object) -> None: ...


@dataclass(frozen=True)
class SignedIn:
    """``token`` goes to the browser only."""

    token: str
    session: SignIn
    instructor: Instructor
    academy: Academy


@dataclass(frozen=True)
class Sessions:
    """All that has to do with being signed in. ``ended`` is told the hashes of the tokens that ended, so that what
    streams to them ends too."""

    open_door: Callable[[], AbstractContextManager[FrontDoor]]
    hasher: Hasher
    throttle: Throttle
    ended: Callable[[Sequence[str]], None] = lambda _: None
    absolute: timedelta = ABSOLUTE
    idle: timedelta = IDLE
    turns: threading.BoundedSemaphore = field(default_factory=lambda: threading.BoundedSemaphore(AT_ONCE))

    def enter(self, token_hash: str, named: Mapping[type[Any], UUID]) -> Entered | None:
        """Who comes with a token, None where its life is over."""
        with self.open_door() as door:
            found = door.enter(token_hash, named)
            if found is None or not self.alive(found.session):
                return None
            if now() - found.session.seen_at > TOUCHED_EVERY:
                door.touch(found.session.id)
            return found

    def alive(self, session: SignIn) -> bool:
        """Neither its idle nor its absolute life is over."""
        return session.expires_at > now() and session.seen_at + self.idle > now()

    def check(self, email: str, password: str, address: str, code: str = "") -> Instructor:
        """The person whose e-mail and password these are, and whose second factor. A few at once: no try begins before
        those ahead of it are counted, a wrong code as much as a wrong password. Raises ``WrongPassword``,
        ``CodeNeeded``, ``WrongCode``, ``TooManyTries``."""
        account = account_key(email)
        with self.turns:
            self.throttle.attempt(account, address)
            with self.open_door() as door:
                found = door.instructor_by_email(account)
            self.verify(found, password)
            assert found is not None  # else the password was refused
            with self.open_door() as door:
                factor = door.second_factor(found.id)
                if factor is not None and is_on(factor):
                    spend(factor, code)
            self.throttle.passed(account, address)
            return found

    def confirm(self, instructor_id: UUID, password: str, address: str) -> Instructor:
        """Whoever is signed in is still the person: for what a screen left open must not give away. Raises
        ``WrongPassword``, ``TooManyTries``."""
        with self.open_door() as door:
            person = door.get_instructor(instructor_id)
        self.throttle.attempt(person.email_key, address)
        self.verify(person, password)
        self.throttle.passed(person.email_key, address)
        return person

    def verify(self, instructor: Instructor | None, password: str) -> None:
        """Whether the password is theirs: as slow for nobody. Raises ``WrongPassword``."""
        right = self.hasher.verify(as_typed(password), instructor.password_hash if instructor else NOBODY)
        if not right or instructor is None or instructor.left_at is not None:
            raise WrongPassword

    def begin(self, instructor: Instructor, agent: str, *, end_others: bool = False) -> SignedIn:
        """A new session for somebody whose password was right; it may end the others."""
        token = secrets.token_urlsafe(32)
        session = SignIn(
            instructor.academy_id,
            instructor.id,
            hash_token(token),
            secrets.token_urlsafe(24),
            now() + self.absolute,
            agent=agent[:80],
        )
        with self.open_door() as door:
            others = list(door.sessions_of(instructor.id)) if end_others else []
            door.end_sessions([x.id for x in others])
            door.add(session)
            academy = door.academy_of(instructor)
        self.ended([x.token_hash for x in others])
        return SignedIn(token, session, instructor, academy)

    def of(self, instructor_id: UUID) -> list[SignIn]:
        """A person's living sessions, those used last first."""
        with self.open_door() as door:
            found = [x for x in door.sessions_of(instructor_id) if self.alive(x)]
        return sorted(found, key=lambda x: x.seen_at, reverse=True)

    def end(self, instructor_id: UUID, session_id: UUID) -> None:
        """End one of a person's own sessions. Raises ``NotFound``."""
        with self.open_door() as door:
            mine = [x for x in door.sessions_of(instructor_id) if x.id == session_id]
            if not mine:
                raise NotFound("session")
            door.end_sessions([session_id])
        self.ended([x.token_hash for x in mine])

    def end_others(self, instructor_id: UUID, but: str) -> int:
        """End all of a person's sessions but the one with this token's hash; how many ended."""
        with self.open_door() as door:
            others = [x for x in door.sessions_of(instructor_id) if x.token_hash != but]
            door.end_sessions([x.id for x in others])
        self.ended([x.token_hash for x in others])
        return len(others)

    def change_password(self, instructor_id: UUID, old: str, new: str, address: str, session_hash: str) -> None:
        """Another password; every other session ends. Raises ``WrongPassword``, ``TooManyTries``, ``Refused``."""
        person = self.confirm(instructor_id, old, address)
        with self.open_door() as door:
            academy = door.academy_of(person)
        refuse_weak(new, (person.email, person.name, academy.name))
        hashed = self.hasher.hash(as_typed(new))
        with self.open_door() as door:
            door.get_instructor(instructor_id).password_hash = hashed
        self.end_others(instructor_id, session_hash)
