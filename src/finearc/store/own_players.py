"""Which players an instructor opens where the academy keeps players apart: those of their own lessons, and those that
are shared with them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, ScalarSelect, event, exists, or_, select
from sqlalchemy.orm import ORMExecuteState, Session, with_loader_criteria

from finearc.services.people.ownership import NotYours
from finearc.services.records import Player, Swing
from finearc.store import tables as t


def is_own(player_id: ColumnElement[Any], instructor_id: UUID) -> ColumnElement[bool]:
    """Whether a player is an instructor's, as a condition."""
    lesson, shared = t.lesson.alias("own_lesson"), t.own_player.alias("shared")
    taught = exists().where(lesson.c.player_id == player_id, lesson.c.instructor_id == instructor_id)
    given = exists().where(shared.c.player_id == player_id, shared.c.instructor_id == instructor_id)
    return or_(taught, given)


def _player_of(kind: type[Any], key: UUID) -> ScalarSelect[Any] | None:
    """Whose a record is, None for kinds that are nobody's."""
    table = t.MAPPED[kind]
    if kind is Player:
        return select(table.c.id).where(table.c.id == key).scalar_subquery()
    if "player_id" in table.c:
        return select(table.c.player_id).where(table.c.id == key).scalar_subquery()
    if "lesson_id" in table.c:
        joined = table.join(t.lesson, t.lesson.c.id == table.c.lesson_id)
        return select(t.lesson.c.player_id).select_from(joined).where(table.c.id == key).scalar_subquery()
    return None


def refuse_foreign(session: Session, named: Mapping[type[Any], UUID], instructor_id: UUID) -> None:
    """Raises ``NotYours`` where one of the records is of a player who is not an instructor's. What is nobody's yet is
    everybody's."""
    for kind, key in named.items():
        whose = _player_of(kind, key)
        if whose is None:
            continue
        player = t.player
        query = select(is_own(player.c.id, instructor_id)).where(player.c.id == whose)
        if session.execute(query).scalar_one_or_none() is False:
            raise NotYours


def see_own_only(session: Session, instructor_id: UUID) -> ColumnElement[bool]:
    """From now on the session finds no swing of another instructor's player, wherever it is named; the condition for
    lists of players."""
    of_swing = t.swing.c.player_id.in_(_own_ids(instructor_id))

    def asked(state: ORMExecuteState) -> None:
        if state.is_select:
            state.statement = state.statement.options(with_loader_criteria(Swing, of_swing))

    event.listen(session, "do_orm_execute", asked)
    return t.player.c.id.in_(_own_ids(instructor_id))


def _own_ids(instructor_id: UUID) -> Any:
    """The players of an instructor, as a subquery: the lessons' index on them is short."""
    taught = select(t.lesson.c.player_id).where(t.lesson.c.instructor_id == instructor_id)
    given = select(t.own_player.c.player_id).where(t.own_player.c.instructor_id == instructor_id)
    return taught.union(given)
