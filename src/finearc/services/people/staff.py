"""Who works in an academy: invited by a link that works once, given a role, shut out when they leave.

There is no mail: the owner hands the link over. A second link of the same kind gives somebody another password."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta
from uuid import UUID

from finearc.services.errors import NotFound, Refused
from finearc.services.people.accounts import account_key
from finearc.services.people.passwords import as_typed, refuse_weak
from finearc.services.people.roles import NAMES, Role
from finearc.services.people.sessions import Sessions
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor, Invitation, now
from finearc.wording import tr

LIFE = timedelta(hours=24)
"""Of a link."""
MOST_OPEN = 100


@dataclass(frozen=True)
class Staff:
    """``people`` by name, those who left last; ``invited``: links that are neither used nor over."""

    people: Sequence[Instructor]
    invited: Sequence[Invitation]


def staff(uow: UnitOfWork) -> Staff:
    """Everybody, and who is expected."""
    people = sorted(uow.find(Instructor), key=lambda p: (p.left_at is not None, p.name.casefold()))
    return Staff(people, _open(uow))


def teachers(uow: UnitOfWork) -> list[Instructor]:
    """Who gives lessons, by name."""
    found = uow.find(Instructor, role=[Role.OWNER, Role.INSTRUCTOR], order="name")
    return [p for p in found if p.left_at is None]


def _open(uow: UnitOfWork) -> list[Invitation]:
    found = uow.find(Invitation, expires_at__from=now(), order="-made_at", most=MOST_OPEN)
    return [i for i in found if i.used_at is None]


def invite(uow: UnitOfWork, name: str, email: str, role: Role, by: str) -> str:
    """The token of a link for somebody new. Whether an account is there already is said by the link, to the person
    themselves. Raises ``Refused``."""
    name, email = " ".join(name.split()), " ".join(email.split())
    if not name or "@" not in email:
        raise Refused(tr("a name and an e-mail address are needed"), tr("The address is how they sign in"))
    return _link(uow, Invitation(uow.academy_id, "", now() + LIFE, name, email, role, made_by=by))


def reset_link(uow: UnitOfWork, person: Instructor, by: str) -> str:
    """The token of a link with which somebody takes another password. Raises ``Refused``."""
    if person.left_at is not None:
        raise Refused(tr("{name} has left", name=person.name), tr("Let them come back first"))
    made = Invitation(uow.academy_id, "", now() + LIFE, person.name, person.email, person.role, person.id, made_by=by)
    return _link(uow, made)


def _link(uow: UnitOfWork, made: Invitation) -> str:
    """An earlier link for the same person works no more."""
    if len(_open(uow)) >= MOST_OPEN:
        raise Refused(tr("{n} links are open", n=MOST_OPEN), tr("Take those back that nobody needs"))
    for old in _open(uow):
        if account_key(old.email) == account_key(made.email):
            uow.remove(old)
    token = secrets.token_urlsafe(32)
    made.token_hash = hash_token(token)
    uow.add(made)
    return token


def take_back(uow: UnitOfWork, invitation_id: UUID) -> None:
    """A link works no more. Raises ``NotFound``."""
    uow.remove(uow.get(Invitation, invitation_id))


def give_role(uow: UnitOfWork, person_id: UUID, role: Role) -> Instructor:
    """Another role. Raises ``Refused`` where nobody would be left who owns the academy."""
    uow.hold_academy()  # two owners who demote each other at once: the second finds one owner only
    person = uow.hold(Instructor, person_id)
    if role is not Role.OWNER:
        _refuse_last_owner(uow, person)
    person.role = role
    return person


def let_go(uow: UnitOfWork, person_id: UUID) -> Instructor:
    """Somebody leaves: their lessons and what they wrote stay. Raises ``Refused`` for the last owner."""
    uow.hold_academy()
    person = uow.hold(Instructor, person_id)
    _refuse_last_owner(uow, person)
    person.left_at = person.left_at or now()
    for link in _open(uow):
        if link.instructor_id == person.id:
            uow.remove(link)
    return person


def bring_back(uow: UnitOfWork, person_id: UUID) -> Instructor:
    """Somebody who left may come in again."""
    person = uow.hold(Instructor, person_id)
    person.left_at = None
    return person


def _refuse_last_owner(uow: UnitOfWork, person: Instructor) -> None:
    owners = {p.id for p in uow.find(Instructor, role=Role.OWNER) if p.left_at is None}
    if owners == {person.id}:
        raise Refused(tr("{name} is the last owner", name=person.name), tr("Make somebody else an owner first"))


@dataclass(frozen=True)
class Invited:
    """What a link says to whoever opens it; ``again``: it is for another password."""

    academy: str
    name: str
    email: str
    role: str
    again: bool


def look(sessions: Sessions, token: str) -> Invited:
    """What a link is for. Raises ``NotFound`` for one that is used or over."""
    with sessions.open_door() as door:
        link = door.invitation(hash_token(token))
        if link is None:
            raise NotFound(tr("this link"))
        academy = door.academy(link.academy_id)
        return Invited(academy.name, link.name, link.email, tr(NAMES[Role(link.role)]), link.instructor_id is not None)


def accept(sessions: Sessions, token: str, password: str) -> Instructor:
    """Somebody comes in with a link and a password of their own; the link is used up. Raises ``NotFound``,
    ``Refused``."""
    told = look(sessions, token)
    refuse_weak(password, (told.email, told.name, told.academy))
    hashed = sessions.hasher.hash(as_typed(password))
    with sessions.open_door() as door:
        link = door.invitation(hash_token(token))
        if link is None:
            raise NotFound(tr("this link"))
        link.used_at = now()
        if link.instructor_id is None:
            if door.instructor_by_email(account_key(link.email)) is not None:
                raise Refused(
                    tr("there is an account with this e-mail address"), tr("Sign in, or ask for a link for another one")
                )
            person = Instructor(link.academy_id, link.name, link.email, hashed, role=link.role)
            door.add(person)
            return person
        person = door.get_instructor(link.instructor_id)
        person.password_hash = hashed
    sessions.end_others(person.id, "")
    return person
