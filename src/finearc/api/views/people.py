"""Players and the diary as responses."""

from __future__ import annotations

from finearc.api import models as m
from finearc.catalogue.rule_set import RuleSet
from finearc.services.judging.academy_rules import rule_set_of, schools_of
from finearc.services.lesson.lessons import last_priorities
from finearc.services.ports import UnitOfWork
from finearc.services.records import (
    Instructor,
    Lesson,
    MovementLimit,
    Player,
    Priority,
    Swing,
    now,
)


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


def priority_out(p: Priority, rule_set: RuleSet) -> m.PriorityOut:
    drill = rule_set.drills.get(p.drill)
    return m.PriorityOut(
        rank=p.rank,
        finding=p.finding,
        label=p.label,
        drill=p.drill,
        drill_label=drill.label if drill else "",
        why=p.why,
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


def limits_of(uow: UnitOfWork, player: Player) -> list[m.LimitOut]:
    return [limit_out(x) for x in uow.find(MovementLimit, player_id=player.id)]


def lesson_brief(uow: UnitOfWork, lesson: Lesson) -> m.LessonBrief:
    rule_set = rule_set_of(uow, lesson)
    return m.LessonBrief(
        id=lesson.id,
        starts_at=lesson.starts_at,
        ends_at=lesson.ends_at,
        status=lesson.status,
        club=lesson.club,
        swings=len(uow.find(Swing, lesson_id=lesson.id)),
        note=lesson.note,
        next_date=lesson.next_date,
        priorities=[priority_out(p, rule_set) for p in uow.find(Priority, lesson_id=lesson.id, order="rank")],
    )


def player_out(uow: UnitOfWork, p: Player, *, with_lessons: bool = True) -> m.PlayerOut:
    lessons = uow.find(Lesson, player_id=p.id, order="-starts_at") if with_lessons else []
    return m.PlayerOut(
        **player_brief(p).model_dump(),
        height_m=p.height_m,
        goals=p.goals,
        usual_miss=p.usual_miss,
        schools=schools_of(uow, p.schools),
        own_schools=p.schools,
        consent_by=p.consent_by,
        consent_at=p.consent_at,
        limits=limits_of(uow, p),
        lessons=[lesson_brief(uow, x) for x in lessons],
    )


def diary_entry(uow: UnitOfWork, lesson: Lesson) -> m.DiaryEntry:
    player = uow.get(Player, lesson.player_id)
    instructor = uow.get(Instructor, lesson.instructor_id)
    return m.DiaryEntry(
        id=lesson.id,
        starts_at=lesson.starts_at,
        ends_at=lesson.ends_at,
        bay=lesson.bay,
        status=lesson.status,
        instructor=instructor.name,
        instructor_id=instructor.id,
        player=player_brief(player),
        limits=[x for x in limits_of(uow, player) if x.holds],
        last_priorities=[priority_out(p, rule_set_of(uow)) for p in last_priorities(uow, player.id, lesson.starts_at)],
    )
