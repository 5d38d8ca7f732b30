"""A second factor: six digits that a phone counts from the clock (TOTP, RFC 6238: SHA-1, steps of 30 s), and codes on
paper for the day the phone is lost.

Both sides count with the same secret, so it is kept as it is. A code counts once (RFC 6238, 5.2), from a phone whose
clock is at most one step off."""

from __future__ import annotations

import hmac
import secrets
import time
from base64 import b32encode
from dataclasses import dataclass
from uuid import UUID

import pyotp
import segno

from finearc.core.errors import FineArcError
from finearc.services.errors import Refused
from finearc.services.people.records import SecondFactor
from finearc.services.people.roles import Role
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.records import Academy, Instructor, now
from finearc.wording import tr

ISSUER = "Fine Arc"
STEP_S, AROUND = 30, 1
"""Length of a step, and how many steps a phone's clock may be off either way."""
PAPER_CODES, PAPER_BYTES = 10, 10
"""Codes on paper: 80 random bits each, more than can be guessed within the throttle (house value)."""


@dataclass
class CodeNeeded(FineArcError):
    """The password is right; the second factor is asked for."""

    code = "code_needed"

    def __str__(self) -> str:
        return tr("Now the six digits that your phone shows for Fine Arc.")


@dataclass
class WrongCode(FineArcError):
    code = "wrong_code"

    def __str__(self) -> str:
        return tr("This code is not right, or was used. Wait for the next one, or take one from your paper.")


@dataclass
class NotSetUp(FineArcError):
    """The academy asks its owners for a second factor, and this one has none yet."""

    code = "second_factor_missing"

    def __str__(self) -> str:
        return tr("Your academy asks its owners for a second factor. Set yours up first.")


def of(uow: UnitOfWork, instructor_id: UUID) -> SecondFactor | None:
    """Somebody's second factor, also one that is not confirmed yet."""
    found = uow.find(SecondFactor, instructor_id=instructor_id)
    return found[0] if found else None


def is_on(factor: SecondFactor | None) -> bool:
    """Whether it is asked for when its owner signs in."""
    return factor is not None and factor.confirmed_at is not None


def is_asked_for(person: Instructor, academy: Academy) -> bool:
    """Whether the academy asks somebody for one."""
    return academy.owners_second_factor and person.role == Role.OWNER


def is_missing(uow: UnitOfWork, person: Instructor, academy: Academy) -> bool:
    """Whether somebody needs one before anything else opens."""
    return is_asked_for(person, academy) and not is_on(of(uow, person.id))


@dataclass(frozen=True)
class Offered:
    """What a phone reads: ``secret`` to type, ``uri`` (otpauth) drawn as ``rows`` of a QR code, dark cells as 1."""

    secret: str
    uri: str
    rows: tuple[str, ...]


def offer(uow: UnitOfWork, person: Instructor) -> Offered:
    """A new secret, in force once a code of it has been typed. Raises ``Refused`` where one is in force."""
    uow.hold(Instructor, person.id)  # two windows that begin at once: the second shows its own, and that one counts
    factor = of(uow, person.id)
    if is_on(factor):
        raise Refused(tr("your second factor is set up"), tr("Turn it off first to set up another phone"))
    if factor is None:
        factor = SecondFactor(uow.academy_id, person.id, "")
        uow.add(factor)
    factor.secret = pyotp.random_base32()
    uow.flush()
    uri = pyotp.TOTP(factor.secret, interval=STEP_S).provisioning_uri(name=person.email, issuer_name=ISSUER)
    rows = segno.make(uri, error="m", micro=False).matrix
    return Offered(factor.secret, uri, tuple("".join("1" if cell else "0" for cell in row) for row in rows))


def confirm(uow: UnitOfWork, person: Instructor, code: str) -> list[str]:
    """In force from now on, if the phone counts as it should; the codes for the paper, shown this once. Raises
    ``WrongCode``, ``Refused``."""
    uow.hold(Instructor, person.id)
    factor = of(uow, person.id)
    if factor is None or is_on(factor):
        raise Refused(tr("nothing waits for a code"), tr("Begin with setting up your phone"))
    step = _step_of(factor, code)
    if step is None:
        raise WrongCode
    factor.confirmed_at, factor.last_step = now(), step
    return paper(factor)


def paper(factor: SecondFactor) -> list[str]:
    """New codes for a lost phone; those before work no more."""
    made = [b32encode(secrets.token_bytes(PAPER_BYTES)).decode().lower() for _ in range(PAPER_CODES)]
    factor.paper = [hash_token(code) for code in made]
    return ["-".join(code[k : k + 4] for k in range(0, len(code), 4)) for code in made]


def turn_off(uow: UnitOfWork, person: Instructor) -> None:
    """It is asked for no more."""
    factor = of(uow, person.id)
    if factor is not None:
        uow.remove(factor)


def require_of_owners(uow: UnitOfWork, asks: Instructor, required: bool) -> None:
    """Whether owners need one. Whoever says so has one: nobody shuts themselves out. Raises ``Refused``."""
    academy = uow.hold_academy()
    if required and not is_on(of(uow, asks.id)):
        raise Refused(tr("you have no second factor yourself"), tr("Set yours up first"))
    academy.owners_second_factor = required


def spend(factor: SecondFactor, code: str) -> None:
    """A code of the phone or of the paper, which then counts no more. ``factor`` is held by who asks. Raises
    ``CodeNeeded``, ``WrongCode``."""
    if not code.strip():
        raise CodeNeeded
    step = _step_of(factor, code)
    if step is not None:
        factor.last_step = step
        return
    hashed = hash_token("".join(c for c in code.lower() if c.isalnum()))
    if hashed not in factor.paper:
        raise WrongCode
    factor.paper = [kept for kept in factor.paper if kept != hashed]


def _step_of(factor: SecondFactor, code: str) -> int | None:
    """The step of the clock whose code it is, none at or before the last that counted."""
    typed = "".join(code.split())
    if not typed.isascii():
        return None
    counter, today = pyotp.TOTP(factor.secret, interval=STEP_S), int(time.time()) // STEP_S
    near = range(today - AROUND, today + AROUND + 1)
    return next((s for s in near if s > factor.last_step and hmac.compare_digest(counter.generate_otp(s), typed)), None)
