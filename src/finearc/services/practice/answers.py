"""What a player says of the practice plan by a private link, also long after it was said: each answer counts once."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.core.practice.changed import moved, stopped, ticked
from finearc.core.practice.plan import NothingToPlan, Plan
from finearc.services.people.clock import clock_of, today
from finearc.services.ports import UnitOfWork
from finearc.services.practice.document import (
    Answer,
    AnswerKind,
    PracticeDocument,
    answer_read,
    answer_written,
    read,
    written,
)
from finearc.services.practice.plans import PlanRead, shown
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.records import Lesson, Player, now
from finearc.wording import tr

MOST_ANSWERS = 5000
"""Of one lesson, so that a link cannot fill the disk (house value)."""


@dataclass(frozen=True)
class Said:
    """One answer as it comes: ``key`` the device's name for it, ``plan_id`` the plan it is about."""

    key: str
    kind: AnswerKind
    plan_id: UUID
    at: datetime
    answer: Answer


@dataclass(frozen=True)
class NotDone:
    """An answer that was kept but changed nothing, and why."""

    key: str
    why: str


@dataclass(frozen=True)
class PageRead:
    """What the player's page shows: whose it is, the plan as it is now, None where there is none any more."""

    player: Player
    plan: PlanRead | None
    not_done: Sequence[NotDone] = ()


@dataclass(frozen=True)
class Practised:
    """What was practised between two lessons: blocks that were ticked of so many, minutes, how they felt in order of
    time, and the words with which pain stopped it."""

    done: int
    blocks: int
    minutes: int
    felt: Sequence[int]
    stopped: str


def page_of(uow: UnitOfWork, lesson_id: UUID, not_done: Sequence[NotDone] = ()) -> PageRead:
    """Raises ``NotFound``."""
    lesson = uow.get(Lesson, lesson_id)
    kept = uow.find(PracticePlan, lesson_id=lesson_id)
    plan = shown(uow, lesson, kept[0]) if kept else None
    return PageRead(uow.get(Player, lesson.player_id), plan, not_done)


def take(uow: UnitOfWork, lesson_id: UUID, said: Sequence[Said]) -> PageRead:
    """Keep what was said and change the plan by it, in the order in which it comes. What came before changes nothing;
    what was said of an earlier plan is kept, and only pain is heeded of it. Raises ``NotFound``."""
    lesson = uow.hold(Lesson, lesson_id)
    known = {a.key for a in uow.find(PracticeAnswer, lesson_id=lesson_id)}
    kept = uow.find(PracticePlan, lesson_id=lesson_id)
    document = read(kept[0].document) if kept else None
    not_done: list[NotDone] = []
    for one in said:
        if one.key in known:
            continue
        if len(known) >= MOST_ANSWERS:
            not_done.append(NotDone(one.key, tr("More was said than one plan needs. Tell your instructor.")))
            continue
        known.add(one.key)
        same = bool(kept) and one.plan_id == kept[0].id
        try:
            document = _changed(uow, document, one, same)
        except FineArcError as error:
            not_done.append(NotDone(one.key, str(error)))
        uow.add(_record(uow, lesson, one))
    if kept and document is not None:
        kept[0].document = written(document)
    uow.flush()
    return page_of(uow, lesson_id, not_done)


def _record(uow: UnitOfWork, lesson: Lesson, one: Said) -> PracticeAnswer:
    document = answer_written(one.answer)
    at = min(one.at, now() + timedelta(days=1))  # a clock that is set wrong
    return PracticeAnswer(
        uow.academy_id, lesson.id, lesson.player_id, one.plan_id, one.key, one.kind.value, document, at
    )


def _changed(uow: UnitOfWork, document: PracticeDocument | None, one: Said, same: bool) -> PracticeDocument | None:
    """The plan with one answer in it."""
    if document is None or (not same and one.kind is not AnswerKind.PAIN):
        raise NothingToPlan(tr("The plan was made anew meanwhile"), tr("Look at the plan as it is now"))
    plan = document.plan
    if one.kind is AnswerKind.PAIN:
        plan = plan if plan.stopped else stopped(plan, today(clock_of(uow)), one.answer.where)
    elif one.kind in (AnswerKind.DONE, AnswerKind.UNDONE):
        plan = ticked(plan, _number(one), one.kind is AnswerKind.DONE)
    elif one.kind is AnswerKind.MOVED:
        plan = _moved(plan, document, _number(one), one.answer.to)
    return replace(document, plan=plan)


def _number(one: Said) -> int:
    if one.answer.block is None:
        raise NothingToPlan(tr("It is not said of which block"), tr("Say it again from the page"))
    return one.answer.block


def _moved(plan: Plan, document: PracticeDocument, number: int, to: date | None) -> Plan:
    if plan.stopped:
        raise NothingToPlan(tr("The plan has stopped because of pain"), tr("See a licensed health professional first"))
    wishes = document.wishes
    if to is None or not wishes.first <= to <= wishes.last:
        raise NothingToPlan(
            tr("That day lies outside the plan"),
            tr("Choose one from {first} to {last}", first=wishes.first, last=wishes.last),
        )
    return moved(plan, number, to)


def practised_of(uow: UnitOfWork, lesson_ids: Sequence[UUID]) -> dict[UUID, Practised]:
    """By lesson, of those that had a plan or an answer: what was practised after it, under whichever plan."""
    answers = uow.find(PracticeAnswer, lesson_id=list(lesson_ids), order="at")
    plans = {p.lesson_id: read(p.document) for p in uow.find(PracticePlan, lesson_id=list(lesson_ids))}
    ticks: dict[UUID, dict[tuple[UUID, int | None], int]] = {}
    felt: dict[UUID, dict[tuple[UUID, int | None], int]] = {}
    for a in answers:
        said = answer_read(a.document)
        place = (a.plan_id, said.block)
        if a.kind == AnswerKind.DONE:
            ticks.setdefault(a.lesson_id, {})[place] = said.minutes
        elif a.kind == AnswerKind.UNDONE:
            ticks.setdefault(a.lesson_id, {}).pop(place, None)
        elif a.kind == AnswerKind.FELT and said.feel is not None:
            felt.setdefault(a.lesson_id, {})[place] = said.feel
    out = {}
    for key in {*plans, *ticks}:
        done, plan = ticks.get(key, {}), plans[key].plan if key in plans else None
        blocks = len(plan.blocks) if plan else len(done)
        feels = list(felt.get(key, {}).values())
        out[key] = Practised(len(done), blocks, sum(done.values()), feels, plan.stopped if plan else "")
    return out
