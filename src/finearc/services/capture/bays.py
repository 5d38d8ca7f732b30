"""The academy's bays and the tokens with which devices send into them."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from uuid import UUID

from finearc.services.errors import Refused
from finearc.services.lesson.lessons import FIRST_BAYS, bay_of
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.records import Bay, BayToken
from finearc.wording import tr

PREFIX = "bay_"
SEND, FOLLOW = "send", "follow"
LETTERS = "ABCDEFGHJKMNPQRSTUVWXYZ23456789"
"""Without those that are taken for one another."""
CODE_LENGTH = 10
"""Of a second screen's code: 49 bits, which nobody guesses."""
MOST_TOKENS = 20
"""Of one bay (house value)."""


@dataclass(frozen=True)
class BayRead:
    """A bay with its tokens, the newest last; ``bay`` is None for one that nothing has been written of yet."""

    name: str
    bay: Bay | None
    tokens: tuple[BayToken, ...] = ()


def bays_of(uow: UnitOfWork) -> list[BayRead]:
    """Every bay in its order; a new academy begins with three."""
    known = uow.find(Bay, order="place")
    if not known:
        return [BayRead(name, None) for name in FIRST_BAYS]
    tokens = uow.find(BayToken, order="made_at")
    return [BayRead(b.name, b, tuple(t for t in tokens if t.bay_id == b.id)) for b in known]


def make_token(uow: UnitOfWork, bay_name: str, name: str, purpose: str = SEND) -> tuple[str, BayToken]:
    """A token for one bay: shown this once, kept as a hash; ``purpose``: to send, or to follow on a second screen, for
    which it is a short code. Raises ``Refused``."""
    bay_name, name = " ".join(bay_name.split()), " ".join(name.split())
    if not bay_name or not name:
        raise Refused(tr("a token has a bay and a name"), tr("Say what will send with it"))
    bay = bay_of(uow, bay_name)
    uow.flush()
    if len(uow.find(BayToken, bay_id=bay.id)) >= MOST_TOKENS:
        raise Refused(
            tr("{name} has {most_tokens} tokens", name=bay.name, most_tokens=MOST_TOKENS),
            tr("Revoke those that are not used"),
        )
    token = PREFIX + secrets.token_urlsafe(24) if purpose == SEND else _code()
    made = BayToken(uow.academy_id, bay.id, name, hash_token(token), purpose=purpose)
    uow.add(made)
    uow.flush()
    return token, made


def revoke_token(uow: UnitOfWork, token_id: UUID) -> BayToken:
    """Nothing comes in with it any more."""
    token = uow.get(BayToken, token_id)
    uow.remove(token)
    return token


def _code() -> str:
    return "".join(secrets.choice(LETTERS) for _ in range(CODE_LENGTH))
