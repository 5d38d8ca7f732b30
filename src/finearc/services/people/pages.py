"""What the screens of players and the diary ask for: a bounded number of queries, however many lessons there are."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID
from zoneinfo import ZoneInfo

import numpy as np

from finearc.catalogue.rule_set import RuleSet
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.registry import BY_ID
from finearc.services.judging.academy_rules import academy_rules_of, rule_set_of, schools_of
from finearc.services.lesson.lessons import FIRST_BAYS
from finearc.services.lesson.pages import PriorityRead, priority_read
from finearc.services.lesson.wording import leading
from finearc.services.people.clock import clock_of
from finearc.services.ports import DiaryRow, PlayerTold, UnitOfWork
from finearc.services.records import Bay, Instructor, Lesson, MovementLimit, Player, Priority, Swing


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
    course: CourseRead | None = None


@dataclass(frozen=True)
class ListedRead:
    """A player in the list of all."""

    player: Player
    told: PlayerTold


@dataclass(frozen=True)
class CoursePoint:
    """The counting swings of one lesson: their median and the middle half, in the metric's unit."""

    lesson: Lesson
    swings: int
    median: float
    low: float
    high: float


@dataclass(frozen=True)
class CourseRead:
    """The measure of the last priority over the player's lessons, in the metric's unit; ``low`` and ``high``: the
    limits by which the latest swing was judged."""

    label: str
    metric: Metric
    moment: str
    club: str
    points: Sequence[CoursePoint]
    low: float | None
    high: float | None


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
    """In nine queries."""
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
        _course(uow, player, lessons, kept, sets),
    )


def _course(
    uow: UnitOfWork,
    player: Player,
    lessons: Sequence[Lesson],
    kept: Mapping[UUID, Sequence[PriorityRead]],
    sets: Mapping[UUID, RuleSet],
) -> CourseRead | None:
    """Of the first measured priority of the latest lesson that has one; None before there are two lessons to join."""
    for lesson in lessons:
        rules = [r for p in kept.get(lesson.id, ()) if (r := sets[lesson.id].rule(p.priority.finding)) is not None]
        if rules:
            break
    else:
        return None
    name, moment = leading(rules[0].when, sets[lesson.id].ranges)
    metric = BY_ID[name]
    rows = uow.swings.course(player.id, lesson.club, name, moment)
    by_lesson: dict[UUID, list[float]] = {}
    for row in rows:
        by_lesson.setdefault(row.lesson_id, []).append(metric.at_edge(row.value))
    points = [_point(x, by_lesson[x.id]) for x in reversed(lessons) if x.id in by_lesson]
    if len(points) < 2:
        return None
    low, high = (None if edge is None else metric.at_edge(edge) for edge in (rows[-1].low, rows[-1].high))
    return CourseRead(rules[0].plain_label, metric, moment, lesson.club, points, low, high)


def _point(lesson: Lesson, values: Sequence[float]) -> CoursePoint:
    low, middle, high = (float(v) for v in np.percentile(values, (25, 50, 75)))
    return CoursePoint(lesson, len(values), middle, low, high)


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


def instructors(uow: UnitOfWork) -> list[Instructor]:
    """By name."""
    return uow.find(Instructor, order="name")
