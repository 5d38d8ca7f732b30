"""Who opens whom: everybody every player, or an instructor their own, as the academy chooses."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.services.errors import Refused
from finearc.services.people.records import OwnPlayer
from finearc.services.people.roles import Role
from finearc.services.people.staff import teachers
from finearc.services.ports import UnitOfWork
from finearc.services.records import Academy, Instructor, Lesson, Player
from finearc.wording import tr


@dataclass
class NotYours(FineArcError):
    """A player is another instructor's, in an academy that keeps players apart."""

    code = "not_yours"

    def __str__(self) -> str:
        return tr("This player is another instructor's. They, or an owner, can share the player with you.")


def is_kept_apart(academy: Academy, role: Role) -> bool:
    """Whether somebody in this role opens their own players only. Whoever fits sensors, fits them on everybody."""
    return academy.own_players and role is Role.INSTRUCTOR


def own_from_now(uow: UnitOfWork, player: Player, instructor_id: UUID, by: str = "") -> None:
    """A player is an instructor's, also before the first lesson."""
    if not uow.find(OwnPlayer, player_id=player.id, instructor_id=instructor_id):
        uow.add(OwnPlayer(uow.academy_id, instructor_id, player.id, by))


@dataclass(frozen=True)
class Opener:
    """``taught``: by a lesson of theirs, which nobody takes away; ``shared``: by a colleague."""

    person: Instructor
    taught: bool
    shared: bool


def openers(uow: UnitOfWork, player: Player) -> list[Opener]:
    """The instructors of an academy, and which of them open a player. Owners open everybody."""
    taught = {x.instructor_id for x in uow.find(Lesson, player_id=player.id)}
    shared = {x.instructor_id for x in uow.find(OwnPlayer, player_id=player.id)}
    return [Opener(p, p.id in taught, p.id in shared) for p in teachers(uow) if p.role == Role.INSTRUCTOR]


def share(uow: UnitOfWork, player: Player, with_: Collection[UUID], by: str) -> None:
    """The instructors with whom a player is shared, all at once. Raises ``Refused`` for somebody who does not teach."""
    known = {o.person.id for o in openers(uow, player)}
    if not set(with_) <= known:
        raise Refused(tr("a player is shared with the instructors here"), tr("Choose among those that are named"))
    for shared in uow.find(OwnPlayer, player_id=player.id):
        if shared.instructor_id not in with_:
            uow.remove(shared)
    for instructor_id in with_:
        own_from_now(uow, player, instructor_id, by)
