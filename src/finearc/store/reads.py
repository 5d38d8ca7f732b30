"""What screens ask for, each in one query."""

from __future__ import annotations

import json
from collections.abc import Collection
from datetime import UTC, date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, ScalarSelect, and_, func, or_, select
from sqlalchemy.orm import Session

from finearc.services.errors import NotFound
from finearc.services.ports import (
    DiaryRow,
    FoundRow,
    LessonEdit,
    LessonHead,
    PlayerTold,
    SwingBrief,
    SwingHead,
    Wanted,
)
from finearc.services.records import AcademyRules, Instructor, Lesson, MovementLimit, Player, Recording, Swing
from finearc.store import tables as t
from finearc.store.search import search_query


def _label(lesson_id: UUID, by: UUID | None, *, undone: bool) -> ScalarSelect[Any]:
    """Label of one's own newest change that stands, or of the oldest that was taken back."""
    c = t.change_entry.c
    newest = c.sequence if undone else c.sequence.desc()
    return (
        select(c.label)
        .where(c.lesson_id == lesson_id, c.undone.is_(undone), *_own(by))
        .order_by(newest)
        .limit(1)
        .scalar_subquery()
    )


def _own(by: UUID | None) -> list[ColumnElement[bool]]:
    """What was done before changes had authors is anybody's."""
    made_by = t.change_entry.c.made_by
    return [] if by is None else [or_(made_by == by, made_by.is_(None))]


def _last_closed() -> ScalarSelect[Any]:
    """The player's last closed lesson before the lesson of the query around it."""
    earlier = t.lesson.alias("earlier")
    return (
        select(earlier.c.id)
        .where(
            earlier.c.player_id == t.lesson.c.player_id,
            earlier.c.status == "closed",
            earlier.c.starts_at < t.lesson.c.starts_at,
        )
        .order_by(earlier.c.starts_at.desc())
        .limit(1)
        .correlate(t.lesson)
        .scalar_subquery()
    )


def _limit(academy_id: UUID, player_id: UUID, raw: dict[str, Any]) -> MovementLimit:
    """A limit as JSON has it."""
    made = MovementLimit(academy_id, player_id, raw["area"], raw["side"], raw["movement"])
    made.from_date, made.until_date = (_day(raw[k]) for k in ("from_date", "until_date"))
    made.note, made.comfortable = raw["note"], raw["comfortable"]
    return made


def _day(text: str | None) -> date | None:
    return None if text is None else date.fromisoformat(text)


class SqlReads:
    """Implements ``Reads`` within one unit of work."""

    def __init__(
        self, session: Session, academy_id: UUID, by: UUID | None = None, own_players: ColumnElement[bool] | None = None
    ) -> None:
        self._session, self._academy_id, self._by = session, academy_id, by
        self._own_players = [] if own_players is None else [own_players]

    def _own(self, rules: AcademyRules | None) -> AcademyRules:
        return rules if rules is not None else AcademyRules(self._academy_id)

    def lesson(self, lesson_id: UUID) -> LessonHead:
        rows = self._session.execute(
            select(
                Lesson,
                Player,
                t.instructor.c.name,
                AcademyRules,
                MovementLimit,
                _label(lesson_id, self._by, undone=False),
                _label(lesson_id, self._by, undone=True),
                _last_closed(),
            )
            .join(Player, t.player.c.id == t.lesson.c.player_id)
            .join(Instructor, t.instructor.c.id == t.lesson.c.instructor_id)
            .outerjoin(AcademyRules, t.academy_rules.c.academy_id == t.lesson.c.academy_id)
            .outerjoin(MovementLimit, t.movement_limit.c.player_id == t.lesson.c.player_id)
            .where(t.lesson.c.id == lesson_id, t.lesson.c.academy_id == self._academy_id)
        ).all()
        if not rows:
            raise NotFound("lesson")
        lesson, player, instructor, rules, _, undo, redo, last = rows[0]
        limits = tuple(row[4] for row in rows if row[4] is not None)
        return LessonHead(lesson, player, instructor, self._own(rules), limits, undo, redo, last)

    def swing(self, swing_id: UUID) -> SwingHead:
        row = self._session.execute(
            select(
                Swing,
                Lesson,
                Player,
                Recording,
                AcademyRules,
                t.swing_record.c.document,
                t.swing_judgement.c.document,
                t.lesson_summary.c.document,
            )
            .join(Lesson, t.lesson.c.id == t.swing.c.lesson_id)
            .join(Player, t.player.c.id == t.lesson.c.player_id)
            .join(Recording, t.recording.c.id == t.swing.c.recording_id)
            .join(t.swing_record, t.swing_record.c.swing_id == t.swing.c.id)
            .join(t.swing_judgement, t.swing_judgement.c.swing_id == t.swing.c.id)
            .outerjoin(AcademyRules, t.academy_rules.c.academy_id == t.swing.c.academy_id)
            .outerjoin(
                t.lesson_summary,
                and_(t.lesson_summary.c.lesson_id == t.swing.c.lesson_id, t.lesson_summary.c.club == t.swing.c.club),
            )
            .where(t.swing.c.id == swing_id, t.swing.c.academy_id == self._academy_id)
        ).one_or_none()
        if row is None:
            raise NotFound("swing")
        swing, lesson, player, recording, rules, record, judgement, summary = row
        return SwingHead(swing, lesson, player, recording, self._own(rules), record, judgement, summary)

    def hold_lesson_of(self, swing_id: UUID) -> Lesson:
        of = select(t.swing.c.lesson_id).where(t.swing.c.id == swing_id, t.swing.c.academy_id == self._academy_id)
        of = of.where(t.swing.c.aside.is_(False))
        held = select(Lesson).where(t.lesson.c.id == of.scalar_subquery()).with_for_update()
        lesson = self._session.execute(held, execution_options={"populate_existing": True}).scalar_one_or_none()
        if lesson is None:
            raise NotFound("swing")
        return lesson

    def edit(self, swing_id: UUID) -> LessonEdit:
        lesson = self.hold_lesson_of(swing_id)
        lesson_id = lesson.id
        entries = t.change_entry.alias()
        mine = entries.c.lesson_id == lesson_id
        undone = select(func.count()).where(mine, entries.c.undone.is_(True)).scalar_subquery()
        newest = select(func.coalesce(func.max(entries.c.sequence), 0)).where(mine).scalar_subquery()
        limit = t.movement_limit.c
        fields = ("area", "side", "movement", "from_date", "until_date", "note", "comfortable")
        limits = (
            select(func.json_arrayagg(func.json_object(*(x for f in fields for x in (f, limit[f])))))
            .where(limit.player_id == lesson.player_id)
            .scalar_subquery()
        )
        rows = self._session.execute(
            select(
                Swing,
                t.swing_judgement.c.document,
                Player,
                AcademyRules,
                limits,
                _label(lesson_id, self._by, undone=False),
                undone,
                newest,
            )
            .outerjoin(Player, and_(t.player.c.id == t.swing.c.player_id, t.swing.c.id == swing_id))
            .outerjoin(t.swing_judgement, t.swing_judgement.c.swing_id == t.swing.c.id)
            .outerjoin(AcademyRules, t.academy_rules.c.academy_id == t.player.c.academy_id)
            .where(t.swing.c.lesson_id == lesson_id)
            .order_by(t.swing.c.number)
            .execution_options(populate_existing=True)
        ).all()
        told = next(row for row in rows if row[2] is not None)  # beside that swing alone, to be sent once
        _, _, player, rules, held_back, undo, taken_back, sequence = told
        known = tuple(_limit(self._academy_id, player.id, x) for x in json.loads(held_back or "[]"))
        swings = [(row[0], row[1]) for row in rows]
        return LessonEdit(lesson, player, self._own(rules), known, swings, undo, bool(taken_back), int(sequence))

    def swings(self, lesson_id: UUID) -> list[tuple[Swing, bytes | None]]:
        rows = self._session.execute(
            select(Swing, t.swing_judgement.c.document)
            .outerjoin(t.swing_judgement, t.swing_judgement.c.swing_id == t.swing.c.id)
            .where(t.swing.c.lesson_id == lesson_id, t.swing.c.academy_id == self._academy_id)
            .order_by(t.swing.c.number)
        )
        return [(swing, document) for swing, document in rows]

    def briefs(self, lesson_id: UUID, clubs: Collection[str]) -> list[SwingBrief]:
        self._session.flush()  # a query of columns alone does not
        s = t.swing.c
        rows = self._session.execute(
            select(*(s[f] for f in SwingBrief._fields[:-1]), t.swing_judgement.c.document)
            .join(t.swing_judgement, t.swing_judgement.c.swing_id == s.id)
            .where(s.lesson_id == lesson_id, s.academy_id == self._academy_id, s.club.in_(list(clubs)))
            .where(s.aside.is_(False))
            .order_by(s.number)
        )
        return [SwingBrief._make(row) for row in rows]

    def players(self) -> list[PlayerTold]:
        p, held = t.player.c, t.movement_limit.c
        now_is = datetime.now(UTC)

        def lessons(status: str, *columns: Any) -> Any:
            return select(*columns).where(t.lesson.c.player_id == p.id, t.lesson.c.status == status).correlate(t.player)

        last = lessons("closed", func.max(t.lesson.c.starts_at)).scalar_subquery()
        planned = lessons("planned", func.min(t.lesson.c.starts_at)).where(t.lesson.c.starts_at >= now_is)
        first = (
            lessons("closed", t.priority.c.label)
            .join(t.priority, t.priority.c.lesson_id == t.lesson.c.id)
            .where(t.priority.c.rank == 1)
            .order_by(t.lesson.c.starts_at.desc())
            .limit(1)
        )
        limits = select(held.id).where(held.player_id == p.id).correlate(t.player).exists()
        query = select(p.id, last, planned.scalar_subquery(), first.scalar_subquery(), limits)
        rows = self._session.execute(query.where(p.academy_id == self._academy_id, *self._own_players))
        return [PlayerTold(k, last_at, next_at, label, bool(held)) for k, last_at, next_at, label, held in rows]

    def find_swings(self, wanted: Wanted, most: int) -> list[FoundRow]:
        self._session.flush()
        query = search_query(self._academy_id, wanted).limit(most)
        return [FoundRow(*row) for row in self._session.execute(query)]

    def findings_of(self, swing_ids: Collection[UUID]) -> dict[UUID, list[str]]:
        f, out = t.swing_finding.c, dict[UUID, list[str]]()
        if not swing_ids:
            return out
        query = select(f.swing_id, f.finding).where(f.swing_id.in_(list(swing_ids)), f.academy_id == self._academy_id)
        for swing_id, finding in self._session.execute(query.order_by(f.severity.desc())):
            out.setdefault(swing_id, []).append(finding)
        return out

    def players_named(self, words: Collection[str]) -> list[tuple[UUID, str]]:
        p = t.player.c
        holds = [p.name.icontains(w, autoescape=True) for w in words]
        if not holds:
            return []
        query = select(p.id, p.name).where(p.academy_id == self._academy_id, p.name != "", or_(*holds)).order_by(p.name)
        query = query.where(*self._own_players)
        return [(key, name) for key, name in self._session.execute(query)]

    def tags(self) -> list[str]:
        tag = t.swing_tag.c
        query = select(tag.tag).where(tag.academy_id == self._academy_id).distinct().order_by(tag.tag)
        return list(self._session.scalars(query))

    def diary(self, start: datetime, end: datetime) -> list[DiaryRow]:
        rows = self._session.execute(
            select(Lesson, Player, Instructor, _last_closed())
            .join(Player, t.player.c.id == t.lesson.c.player_id)
            .join(Instructor, t.instructor.c.id == t.lesson.c.instructor_id)
            .where(t.lesson.c.academy_id == self._academy_id, t.lesson.c.starts_at >= start, t.lesson.c.starts_at < end)
            .order_by(t.lesson.c.starts_at, t.lesson.c.id)
        )
        return [DiaryRow(*row) for row in rows]
