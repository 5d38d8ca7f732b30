"""Who changed what, in words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from finearc.services.ports import UnitOfWork
from finearc.services.records import Author, ChangeEntry, Instructor, MovementLimit
from finearc.wording import tr

MOST = 200


@dataclass(frozen=True)
class Told:
    """One change."""

    who: str
    what: str
    at: datetime


def of_player(uow: UnitOfWork, player_id: UUID) -> list[Told]:
    """Of the player and the limits, the latest first."""
    ids = [player_id, *(x.id for x in uow.find(MovementLimit, player_id=player_id))]
    return _sorted(_authors(uow, ids))


def of_lesson(uow: UnitOfWork, lesson_id: UUID) -> list[Told]:
    """Of the lesson and its swings, the latest first."""
    people = _people(uow)
    changes = [
        Told(_name(people, c.made_by), c.label + (tr(", taken back") if c.undone else ""), c.at)
        for c in uow.find(ChangeEntry, lesson_id=lesson_id, order="sequence")
    ]
    return _sorted([*_authors(uow, [lesson_id]), *changes])


def _authors(uow: UnitOfWork, ids: Sequence[UUID]) -> list[Told]:
    people = _people(uow)
    return [Told(_name(people, a.instructor_id), _words(a), a.at) for a in uow.find(Author, of_id=list(ids))]


def _people(uow: UnitOfWork) -> dict[UUID, str]:
    return {p.id: p.name for p in uow.find(Instructor)}


def _name(people: dict[UUID, str], key: UUID | None) -> str:
    return "" if key is None else people.get(key, tr("Somebody who has left"))


def _words(author: Author) -> str:
    fields = author.fields.replace("_", " ")
    return f"{author.what} {author.how}" + (f": {fields}" if fields else "")


def _sorted(told: Sequence[Told]) -> list[Told]:
    return sorted(told, key=lambda t: t.at, reverse=True)[:MOST]
