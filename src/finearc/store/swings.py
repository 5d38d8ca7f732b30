"""What is measured in swings and how they are judged: documents, rows by which they are found, large blocks."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping, Sequence
from typing import Any
from uuid import UUID

from sqlalchemy import Table, delete, insert, select, tuple_, update
from sqlalchemy.dialects.mysql import insert as upsert
from sqlalchemy.orm import Session

from finearc.services.ports import CourseRow, JudgedRows, MeasuredRows, ValueRow
from finearc.services.records import COUNTING, Swing
from finearc.store import tables as t

MEASURED = (t.swing_record, t.swing_value, t.swing_block)
AT_ONCE = 500
"""Swings in one statement: their documents stay well below the largest packet."""


def _some(ids: Collection[UUID]) -> Iterable[list[UUID]]:
    every = list(ids)
    return (every[k : k + AT_ONCE] for k in range(0, len(every), AT_ONCE))


class SqlSwings:
    """Implements ``SwingRows`` within one unit of work."""

    def __init__(self, session: Session, academy_id: UUID) -> None:
        self._session, self._academy_id = session, academy_id

    def _read(self, table: Table, ids: Collection[UUID], *columns: str, **equals: Any) -> list[Any]:
        found: list[Any] = []
        for some in _some(ids):
            query = select(table.c.swing_id, *(table.c[c] for c in columns)).where(
                table.c.swing_id.in_(some), table.c.academy_id == self._academy_id
            )
            for name, value in equals.items():
                query = query.where(table.c[name] == value)
            found += self._session.execute(query).all()
        return found

    def records(self, ids: Collection[UUID]) -> dict[UUID, bytes]:
        return {row.swing_id: row.document for row in self._read(t.swing_record, ids, "document")}

    def course(self, player_id: UUID, club: str, metric: str, moment: str) -> list[CourseRow]:
        v, s, j = t.swing_value.c, t.swing.c, t.swing_verdict.c
        judged = (j.swing_id == v.swing_id) & (j.metric == v.metric) & (j.moment == v.moment)
        query = (
            select(
                s.lesson_id,
                v.value,
                j.low,
                j.high,
                v.uncertainty,
                v.calibration_part,
                s.kind,
                s.block_id,
                v.captured_at,
                s.shot,
                s.distance_m,
            )
            .select_from(t.swing_value.join(t.swing, s.id == v.swing_id).outerjoin(t.swing_verdict, judged))
            .where(v.player_id == player_id, v.metric == metric, v.moment == moment, v.club == club)
            .where(v.academy_id == self._academy_id, s.kind.in_(COUNTING), s.sensor_moved.is_(False))
            .where(s.aside.is_(False))
            .order_by(v.captured_at)
        )
        return [CourseRow._make(row) for row in self._session.execute(query)]

    def judgements(self, ids: Collection[UUID]) -> dict[UUID, bytes]:
        return {row.swing_id: row.document for row in self._read(t.swing_judgement, ids, "document")}

    def blocks(self, ids: Collection[UUID], kind: str) -> dict[UUID, bytes]:
        return {row.swing_id: row.content for row in self._read(t.swing_block, ids, "content", kind=kind)}

    def values(self, ids: Collection[UUID], keys: Collection[tuple[str, str]]) -> list[ValueRow]:
        v, out = t.swing_value.c, []
        for some in _some(ids):
            query = select(v.swing_id, v.metric, v.moment, v.value, v.uncertainty, v.calibration_part).where(
                v.swing_id.in_(some),
                v.academy_id == self._academy_id,
                tuple_(v.metric, v.moment).in_(list(keys)),
            )
            out += [ValueRow(*row) for row in self._session.execute(query)]
        return out

    def measure(self, swing: Swing, rows: MeasuredRows, *, again: bool) -> None:
        self._session.flush()
        if again:
            for table in MEASURED:
                self._session.execute(delete(table).where(table.c.swing_id == swing.id))
        common = {"swing_id": swing.id, "academy_id": self._academy_id}
        self._session.execute(insert(t.swing_record), [{**common, "document": rows.record}])
        blocks = [{**common, "kind": k, "content": b} for k, b in rows.blocks.items()]
        if blocks:
            self._session.execute(insert(t.swing_block), blocks)
        owner = {**common, "player_id": swing.player_id, "club": swing.club, "captured_at": swing.captured_at}
        values = [
            {
                **owner,
                "metric": m.metric.id,
                "moment": m.moment.key,
                "value": m.value,
                "uncertainty": m.uncertainty,
                "calibration_part": m.calibration_part,
                "source": m.source.value,
            }
            for m in rows.values
        ]
        if values:
            self._session.execute(insert(t.swing_value), values)

    def judge(self, judged: Sequence[JudgedRows]) -> None:
        """Documents and changed verdicts go in one statement each, findings in two, however many swings there are."""
        self._session.flush()
        for k in range(0, len(judged), AT_ONCE):
            self._judge(judged[k : k + AT_ONCE])

    def _judge(self, judged: Sequence[JudgedRows]) -> None:
        documents = [{"swing_id": j.swing.id, "academy_id": self._academy_id, "document": j.document} for j in judged]
        put = upsert(t.swing_judgement)
        self._session.execute(put.on_duplicate_key_update(document=put.inserted.document), documents)
        self._verdicts([(j.swing, row) for j in judged for row in j.verdicts])
        gone = [(j.swing.id, *key) for j in judged for key in j.unjudged]
        if gone:
            v = t.swing_verdict
            self._session.execute(delete(v).where(tuple_(v.c.swing_id, v.c.metric, v.c.moment).in_(gone)))
        self._findings([j for j in judged if j.findings is not None])

    def _verdicts(self, rows: Sequence[tuple[Swing, Mapping[str, Any]]]) -> None:
        if not rows:
            return
        put = upsert(t.swing_verdict)
        changed = {c: put.inserted[c] for c in ("verdict", "range_id", "low", "high")}
        values = [{"swing_id": swing.id, "academy_id": self._academy_id, **row} for swing, row in rows]
        self._session.execute(put.on_duplicate_key_update(changed), values)

    def _findings(self, judged: Sequence[JudgedRows]) -> None:
        if not judged:
            return
        f = t.swing_finding
        self._session.execute(delete(f).where(f.c.swing_id.in_([j.swing.id for j in judged])))
        rows = [
            {
                "swing_id": j.swing.id,
                "academy_id": self._academy_id,
                "player_id": j.swing.player_id,
                "club": j.swing.club,
                "captured_at": j.swing.captured_at,
                **row,
            }
            for j in judged
            for row in j.findings or ()
        ]
        if rows:
            self._session.execute(insert(f), rows)

    def club_changed(self, swing: Swing) -> None:
        for table in (t.swing_value, t.swing_finding):
            self._session.execute(update(table).where(table.c.swing_id == swing.id).values(club=swing.club))

    def summaries(self, lesson_ids: Collection[UUID]) -> dict[tuple[UUID, str], str]:
        s = t.lesson_summary
        query = select(s.c.lesson_id, s.c.club, s.c.document).where(
            s.c.lesson_id.in_(list(lesson_ids)), s.c.academy_id == self._academy_id
        )
        return {(row.lesson_id, row.club): row.document for row in self._session.execute(query)}

    def summarise(self, documents: Mapping[tuple[UUID, str], str]) -> None:
        if not documents:
            return
        self._session.flush()
        put = upsert(t.lesson_summary)
        rows = [
            {"lesson_id": lesson, "club": club, "academy_id": self._academy_id, "document": document}
            for (lesson, club), document in documents.items()
        ]
        self._session.execute(put.on_duplicate_key_update(document=put.inserted.document), rows)
