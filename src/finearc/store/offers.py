"""Swings measured again that wait to be accepted."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from uuid import UUID

from sqlalchemy import delete, insert, select
from sqlalchemy.orm import Session

from finearc.services.ports import Offer
from finearc.store.tables import swing_offer

AT_ONCE = 100


class SqlOffers:
    """Implements ``Offers`` within one unit of work."""

    def __init__(self, session: Session, academy_id: UUID) -> None:
        self._session, self._academy_id = session, academy_id

    def put(self, job_id: UUID, swing_id: UUID, measuring: int, parts: Mapping[str, bytes]) -> None:
        common = {"job_id": job_id, "swing_id": swing_id, "academy_id": self._academy_id, "measuring": measuring}
        self._session.execute(insert(swing_offer), [{**common, "kind": k, "content": c} for k, c in parts.items()])

    def swings(self, job_id: UUID) -> list[UUID]:
        o = swing_offer.c
        query = select(o.swing_id).where(o.job_id == job_id, o.academy_id == self._academy_id).distinct()
        return list(self._session.scalars(query))

    def of(self, job_id: UUID, swing_ids: Collection[UUID]) -> dict[UUID, Offer]:
        o = swing_offer.c
        query = select(o.swing_id, o.measuring, o.kind, o.content).where(
            o.job_id == job_id, o.academy_id == self._academy_id, o.swing_id.in_(list(swing_ids))
        )
        parts: dict[UUID, tuple[int, dict[str, bytes]]] = {}
        for swing_id, measuring, kind, content in self._session.execute(query):
            parts.setdefault(swing_id, (measuring, {}))[1][kind] = content
        return {k: Offer(measuring, found) for k, (measuring, found) in parts.items()}

    def drop(self, job_id: UUID, swing_ids: Collection[UUID]) -> None:
        every, o = list(swing_ids), swing_offer.c
        for k in range(0, len(every), AT_ONCE):
            some = every[k : k + AT_ONCE]
            self._session.execute(
                delete(swing_offer).where(o.job_id == job_id, o.academy_id == self._academy_id, o.swing_id.in_(some))
            )
