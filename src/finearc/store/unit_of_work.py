"""Units of work bound to one academy."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from contextlib import contextmanager
from typing import Any, TypeVar
from uuid import UUID

from sqlalchemy import ColumnElement, Engine, Select, Table, create_engine, event, func, select
from sqlalchemy.orm import ORMExecuteState, Session, sessionmaker, with_loader_criteria

from finearc.services.course.records import Round
from finearc.services.errors import NotFound
from finearc.services.records import Academy, Lesson, Player, Recording, Swing
from finearc.store.authors import sign_changes
from finearc.store.front_door import SqlFrontDoor
from finearc.store.offers import SqlOffers
from finearc.store.own_players import refuse_foreign, see_own_only
from finearc.store.reads import SqlReads
from finearc.store.swings import SqlSwings
from finearc.store.tables import MAPPED, map_records
from finearc.store.tags import keep_tags

Record = TypeVar("Record")


POOLED = 16
"""Connections that are kept; up to forty, as many as there are threads, while more is asked at once."""


def engine_for(url: str) -> Engine:
    """An engine; connections are checked before use so that a restarted database is survived. Each statement sees what
    is committed when it runs: what is read after waiting for another writer is what that one left."""
    if map_records():
        keep_tags()
    return create_engine(
        url,
        pool_pre_ping=True,
        pool_size=POOLED,
        max_overflow=40 - POOLED,
        connect_args={"ssl_disabled": True},  # it never leaves this machine; making the certificates' context took 5 ms
        pool_recycle=1800,
        isolation_level="READ COMMITTED",
        hide_parameters=True,  # no value of a player's stands in an error's text or a log
    )


ALSO_ASIDE = "also_aside"
"""The execution option of a query that asks for what was set aside."""
SET_ASIDE: tuple[type[Any], ...] = (Recording, Swing, Round)


def _leave_aside(asked: ORMExecuteState) -> None:
    """No query of recordings, swings or rounds, joined ones included, sees what was set aside unless it says so (soft
    delete as SQLAlchemy documents it)."""
    if asked.is_select and not asked.execution_options.get(ALSO_ASIDE):
        seen = (with_loader_criteria(kind, MAPPED[kind].c.aside.is_(False)) for kind in SET_ASIDE)
        asked.statement = asked.statement.options(*seen)


class SqlUnitOfWork:
    """One transaction of one academy: every query carries the academy."""

    def __init__(self, session: Session, academy_id: UUID, by: UUID | None = None, *, apart: bool = False) -> None:
        self._session, self._academy_id, self.by = session, academy_id, by
        self.apart = by if apart else None
        if by is not None:
            sign_changes(session, academy_id, by)
        self.swings = SqlSwings(session, academy_id)
        self.reads = SqlReads(session, academy_id, by, see_own_only(session, by) if apart and by else None)
        self.offers = SqlOffers(session, academy_id)

    @property
    def academy_id(self) -> UUID:
        return self._academy_id

    def academy(self) -> Academy:
        found = self._session.get(Academy, self._academy_id)
        if found is None:
            raise NotFound("academy")
        return found

    def hold_academy(self) -> Academy:
        query = select(Academy).where(MAPPED[Academy].c.id == self._academy_id)
        held = query.with_for_update().execution_options(populate_existing=True)
        return self._session.scalars(held).one()

    def get(self, kind: type[Record], key: UUID) -> Record:
        self._refuse_foreign(kind, key)
        found = self.find(kind, id=key)
        if not found:
            raise NotFound(kind.__name__.lower())
        return found[0]

    def find(self, kind: type[Record], /, *, order: str = "", most: int = 0, **equals: Any) -> list[Record]:
        query = self._asked(kind, equals)
        if most:
            query = query.limit(most)
        if order:
            table = MAPPED[kind]
            column = table.c[order.lstrip("-")]
            query = query.order_by(column.desc() if order.startswith("-") else column, table.c.id)
        return list(self._session.scalars(query))

    def find_aside(self, kind: type[Record], /, **equals: Any) -> list[Record]:
        query = self._asked(kind, equals).where(MAPPED[kind].c.aside.is_(True))
        return list(self._session.scalars(query, execution_options={ALSO_ASIDE: True}))

    def _asked(self, kind: type[Record], equals: Mapping[str, Any]) -> Select[Any]:
        table = MAPPED[kind]
        query = select(kind).where(table.c.academy_id == self._academy_id)
        for name, value in equals.items():
            query = query.where(_condition(table, name, value))
        return query

    def count(self, kind: type[Any], by: str, among: Collection[UUID]) -> dict[UUID, int]:
        table = MAPPED[kind]
        query = (
            select(table.c[by], func.count())
            .where(table.c.academy_id == self._academy_id, table.c[by].in_(list(among)))
            .where(*([table.c.aside.is_(False)] if kind in SET_ASIDE else []))
            .group_by(table.c[by])
        )
        return {key: n for key, n in self._session.execute(query)}

    def greatest(self, kind: type[Any], field: str, **equals: Any) -> Any:
        table = MAPPED[kind]
        query = select(func.max(table.c[field])).where(table.c.academy_id == self._academy_id)
        for name, value in equals.items():
            query = query.where(_condition(table, name, value))
        return self._session.scalar(query)

    def add(self, record: object) -> None:
        if getattr(record, "academy_id", None) != self._academy_id:
            raise NotFound("academy")
        self._session.add(record)
        self._session.flush()  # in the order of the calls: parents before what belongs to them

    def remove(self, record: object) -> None:
        self._session.delete(record)
        self._session.flush()

    def flush(self) -> None:
        self._session.flush()

    def commit(self) -> None:
        self._session.commit()

    def _refuse_foreign(self, kind: type[Any], key: UUID) -> None:
        if self.apart is not None and kind in (Player, Lesson):
            refuse_foreign(self._session, {kind: key}, self.apart)

    def hold(self, kind: type[Record], key: UUID) -> Record:
        self._refuse_foreign(kind, key)
        table = MAPPED[kind]
        query = select(kind).where(table.c.id == key, table.c.academy_id == self._academy_id)
        found = self._session.scalars(query.with_for_update().execution_options(populate_existing=True)).one_or_none()
        if found is None:
            raise NotFound(kind.__name__.lower())
        return found


def _condition(table: Table, name: str, value: Any) -> ColumnElement[bool]:
    field, _, way = name.partition("__")
    column: ColumnElement[Any] = table.c[field]
    if way == "from":
        from_: ColumnElement[bool] = column >= value
        return from_
    if way == "until":
        until: ColumnElement[bool] = column < value
        return until
    among = isinstance(value, list | tuple | set | frozenset)
    return column.in_(list(value)) if among else column == value


class Store:
    """Opens units of work."""

    def __init__(self, engine: Engine) -> None:
        self.engine = engine
        self._sessions = sessionmaker(engine, expire_on_commit=False)
        event.listen(self._sessions, "do_orm_execute", _leave_aside)

    @contextmanager
    def unit_of_work(self, academy_id: UUID, by: UUID | None = None, *, apart: bool = False) -> Iterator[SqlUnitOfWork]:
        """Commits at the end, rolls back on any error. ``by``: the instructor whose changes these are, and who opens
        their own players only where they are kept ``apart``."""
        with self._sessions() as session, session.begin():
            yield SqlUnitOfWork(session, academy_id, by, apart=apart)

    @contextmanager
    def front_door(self) -> Iterator[SqlFrontDoor]:
        """Before anyone is signed in there is no academy yet: sign-in only."""
        with self._sessions() as session, session.begin():
            yield SqlFrontDoor(session)
