"""Players and the diary as responses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from uuid import UUID
from zoneinfo import ZoneInfo

from finearc.api import models as m
from finearc.api.views.diary import course_out
from finearc.services.diary.packages import PackageRead
from finearc.services.diary.pages import Before
from finearc.services.lesson.pages import PriorityRead
from finearc.services.people.pages import DiaryRead, LessonRead, ListedRead, PlayerRead
from finearc.services.practice.answers import Practised
from finearc.services.records import Academy, MovementLimit, Player, now
from finearc.services.revisions import player_written, revision_of
from finearc.wording import tr


def limit_out(limit: MovementLimit) -> m.LimitOut:
    return m.LimitOut(
        id=limit.id,
        area=limit.area,
        side=limit.side,
        movement=limit.movement,
        from_date=limit.from_date,
        until_date=limit.until_date,
        note=limit.note,
        comfortable=limit.comfortable,
        holds=limit.holds_on(now().date()),
    )


def priority_out(read: PriorityRead) -> m.PriorityOut:
    p = read.priority
    return m.PriorityOut(
        rank=p.rank,
        finding=p.finding,
        label=tr(p.label),
        drill=p.drill,
        drill_label=read.drill_label,
        why=tr(p.why),
        override_reason=p.override_reason,
    )


def player_brief(p: Player) -> m.PlayerBrief:
    return m.PlayerBrief(
        id=p.id,
        name=p.name,
        handedness="left" if p.handedness == "left" else "right",
        population=p.population,
        walk_in=p.walk_in,
        consent=p.consent_at is not None,
    )


def player_listed(read: ListedRead, zone: ZoneInfo) -> m.PlayerListed:
    """A player in the list of all."""
    told = read.told
    return m.PlayerListed(
        **player_brief(read.player).model_dump(),
        last_lesson=None if told.last is None else told.last.astimezone(zone),
        next_lesson=None if told.next is None else told.next.astimezone(zone),
        priority=tr(told.priority or ""),
        limits=told.limits,
    )


MANNER = ("language", "lengths", "distances", "clock")


def manner_fields(academy: Academy) -> m.MannerFields:
    """How an academy has it said."""
    return m.MannerFields(**{k: getattr(academy, k) for k in MANNER})


def _lesson(read: LessonRead, zone: ZoneInfo) -> m.LessonBrief:
    lesson = read.lesson
    return m.LessonBrief(
        id=lesson.id,
        starts_at=lesson.starts_at.astimezone(zone),
        ends_at=lesson.ends_at.astimezone(zone),
        status=lesson.status,
        club=lesson.club,
        swings=read.swings,
        note=lesson.note,
        next_date=lesson.next_date,
        priorities=[priority_out(p) for p in read.priorities],
    )


def _player(
    p: Player, limits: Sequence[MovementLimit], schools: Mapping[str, str], lessons: list[m.LessonBrief]
) -> m.PlayerOut:
    return m.PlayerOut(
        **player_brief(p).model_dump(),
        height_m=p.height_m,
        goals=p.goals,
        usual_miss=p.usual_miss,
        schools=dict(schools),
        own_schools=p.schools,
        words=p.words,
        **{k: getattr(p, k) for k in MANNER},
        consent_by=p.consent_by,
        consent_at=p.consent_at,
        revision=revision_of(player_written(p)),
        limits=[limit_out(x) for x in limits],
        lessons=lessons,
    )


def player_out(read: PlayerRead) -> m.PlayerOut:
    """One player with limits and lessons."""
    return _player(read.player, read.limits, read.schools, [_lesson(x, read.zone) for x in read.lessons])


def lesson_player_out(player: Player, limits: Sequence[MovementLimit], schools: Mapping[str, str]) -> m.PlayerOut:
    """The player of a lesson, without the other lessons."""
    return _player(player, limits, schools, [])


def practised_out(found: Practised) -> m.PractisedOut:
    """What was practised since the last lesson."""
    return m.PractisedOut(
        done=found.done, blocks=found.blocks, minutes=found.minutes, felt=list(found.felt), stopped=found.stopped
    )


def diary_entry(
    read: DiaryRead, zone: ZoneInfo, before: Before | None, courses: Mapping[UUID, PackageRead]
) -> m.DiaryEntry:
    """A lesson in the diary, its times by the academy's clock."""
    lesson = read.row.lesson
    course = courses.get(lesson.package_id) if lesson.package_id is not None else None
    practised = None if before is None else before.practised
    return m.DiaryEntry(
        id=lesson.id,
        starts_at=lesson.starts_at.astimezone(zone),
        ends_at=lesson.ends_at.astimezone(zone),
        bay=lesson.bay,
        status=lesson.status,
        instructor=read.row.instructor.name,
        instructor_id=read.row.instructor.id,
        player=player_brief(read.row.player),
        limits=[x for x in map(limit_out, read.limits) if x.holds],
        last_priorities=[priority_out(p) for p in read.last_priorities],
        sensor_set=lesson.sensor_set,
        markers=lesson.markers,
        fit=[] if before is None else [tr(s) for s in before.sources],
        practised=None if practised is None else practised_out(practised),
        retest=None if before is None else before.retest,
        course=None if course is None else course_out(course),
    )
