"""What the screens of players and the diary ask for: a bounded number of queries, however many lessons there are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.services.judging.academy_rules import academy_rules_of, rule_set_of, schools_of
from finearc.services.lesson.lessons import FIRST_BAYS
from finearc.services.lesson.pages import PriorityRead, priority_read
from finearc.services.people.clock import clock_of
from finearc.services.ports import DiaryRow, PlayerTold, UnitOfWork
from finearc.services.records import Bay, Lesson, MovementLimit, Player, Priority, Swing


@dataclass(frozen=True)
class LessonRead:
    """A lesson in a player's list."""

    lesson: Lesson
    swings: int
    priorities: Sequence[PriorityRead]


@dataclass(frozen=True)
class PlayerRead:
    """One player with limits, schools that hold, and lessons, the latest first; ``zone``: the academy's clock."""

    player: Player
    limits: Sequence[MovementLimit]
    schools: Mapping[str, str]
    lessons: Sequence[LessonRead]
    zone: ZoneInfo


@dataclass(frozen=True)
class ListedRead:
    """A player in the list of all."""

    player: Player
    told: PlayerTold


@dataclass(frozen=True)
class DiaryRead:
    """A lesson in the diary with what the instructor should know before it begins."""

    row: DiaryRow
    limits: Sequence[MovementLimit]
    last_priorities: Sequence[PriorityRead]


def players_page(uow: UnitOfWork, needle: str) -> list[ListedRead]:
    """Named players by name, those that hold ``needle`` in it; in two queries."""
    told = {p.player_id: p for p in uow.reads.players()}
    wanted = needle.strip().lower()
    found = [p for p in uow.find(Player, order="name") if p.name and wanted in p.name.lower()]
    return [ListedRead(p, told[p.id]) for p in found if p.id in told]


def player_page(uow: UnitOfWork, player: Player) -> PlayerRead:
    """In eight queries."""
    lessons = uow.find(Lesson, player_id=player.id, order="-starts_at")
    ids = [x.id for x in lessons]
    counts = uow.count(Swing, "lesson_id", ids)
    rules = academy_rules_of(uow)
    sets = {x.id: rule_set_of(uow, x, rules=rules) for x in lessons}
    kept: dict[UUID, list[PriorityRead]] = {}
    for p in uow.find(Priority, lesson_id=ids, order="rank"):
        kept.setdefault(p.lesson_id, []).append(priority_read(p, sets[p.lesson_id]))
    return PlayerRead(
        player,
        uow.find(MovementLimit, player_id=player.id),
        schools_of(uow, player.schools, rules),
        [LessonRead(x, counts.get(x.id, 0), kept.get(x.id, [])) for x in lessons],
        clock_of(uow),
    )


def diary_page(uow: UnitOfWork, start: datetime, end: datetime) -> list[DiaryRead]:
    """The lessons between two times, by time, in four queries."""
    return _diary(uow, uow.reads.diary(start, end))


def diary_entry(uow: UnitOfWork, lesson: Lesson) -> DiaryRead:
    """One lesson as the diary shows it."""
    rows = uow.reads.diary(lesson.starts_at, lesson.ends_at)
    return next(r for r in _diary(uow, rows) if r.row.lesson.id == lesson.id)


def _diary(uow: UnitOfWork, rows: Sequence[DiaryRow]) -> list[DiaryRead]:
    limits: dict[UUID, list[MovementLimit]] = {}
    for limit in uow.find(MovementLimit, player_id=list({r.player.id for r in rows})):
        limits.setdefault(limit.player_id, []).append(limit)
    rule_set = rule_set_of(uow)
    last: dict[UUID, list[PriorityRead]] = {}
    for p in uow.find(Priority, lesson_id=list({r.last_closed for r in rows if r.last_closed}), order="rank"):
        last.setdefault(p.lesson_id, []).append(priority_read(p, rule_set))
    return [
        DiaryRead(r, limits.get(r.player.id, []), last.get(r.last_closed, []) if r.last_closed else []) for r in rows
    ]


def bays(uow: UnitOfWork) -> list[str]:
    """Names of the academy's bays in their order; a new academy begins with three."""
    return [b.name for b in uow.find(Bay, order="place")] or list(FIRST_BAYS)
