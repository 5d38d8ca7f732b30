"""The academy's log: who changed, opened or took out what of whom. It is written beside what it tells of, and nothing
in the application changes or removes a line."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from finearc.services.course.records import Round
from finearc.services.ports import UnitOfWork
from finearc.services.records import Author, Instructor, Lesson, MovementLimit, Player, Swing
from finearc.wording import mark, tr

PAGE = 100
WHAT = (
    *(mark("academy"), mark("academy rules"), mark("ranges"), mark("block"), mark("lesson"), mark("marker preset")),
    *(mark("limit"), mark("player"), mark("priority"), mark("reference"), mark("round"), mark("swing")),
)
HOW = (mark("made"), mark("changed"), mark("removed"), mark("opened"), mark("exported"))


@dataclass(frozen=True)
class Line:
    """``what`` (player, lesson, limit …) and ``how`` (made, changed, removed, opened, exported); ``player``: whose it
    is, empty where it is nobody's or they are erased."""

    id: UUID
    at: datetime
    who: str
    what: str
    how: str
    fields: str
    player: str
    player_id: UUID | None


def lines(
    uow: UnitOfWork, before: datetime | None = None, by: UUID | None = None, player: UUID | None = None
) -> list[Line]:
    """The latest first, at most a page; ``before``: older than a line that was read already."""
    asked: dict[str, object] = {} if before is None else {"at__until": before}
    if by is not None:
        asked["instructor_id"] = by
    if player is not None:
        asked["of_id"] = _ids_of(uow, player)
    found = uow.find(Author, order="-at", most=PAGE, **asked)
    whose = _players(uow, found)
    people = {p.id: p.name for p in uow.find(Instructor)}
    return [_line(a, people, whose) for a in found]


def _line(a: Author, people: dict[UUID, str], whose: dict[UUID, Player]) -> Line:
    player = whose.get(a.of_id)
    return Line(
        a.id,
        a.at,
        people.get(a.instructor_id, tr("Somebody who has left")),
        tr(a.what),
        tr(a.how),
        a.fields.replace("_", " "),
        "" if player is None else player.name or tr("Walk-in"),
        None if player is None else player.id,
    )


def _ids_of(uow: UnitOfWork, player: UUID) -> list[UUID]:
    """A player and all that lines may be of."""
    return [player, *(x.id for x in _parts(uow, player_id=player))]


def _parts(uow: UnitOfWork, **asked: Any) -> list[Lesson | Round | MovementLimit | Swing]:
    found: list[Lesson | Round | MovementLimit | Swing] = [
        *uow.find(Lesson, **asked),
        *uow.find(Round, **asked),
        *uow.find(Swing, **asked),
    ]
    return [*found, *uow.find(MovementLimit, **asked)]


def _players(uow: UnitOfWork, found: Sequence[Author]) -> dict[UUID, Player]:
    """Whose each record is."""
    ids = list({a.of_id for a in found})
    owner = {x.id: x.player_id for x in _parts(uow, id=ids)}
    players = {p.id: p for p in uow.find(Player, id=[*ids, *owner.values()])}
    return {key: players[owner.get(key, key)] for key in ids if owner.get(key, key) in players}
