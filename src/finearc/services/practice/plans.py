"""A lesson's practice plan: from its priorities, the player's limits and what the player can."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from uuid import UUID

from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.drills import Drill, Pain
from finearc.core.practice.changed import Broken, broken, missed, moved, stopped
from finearc.core.practice.plan import WITHOUT, Aim, Asked, Plan, make_plan, offered
from finearc.services.errors import NotFound, Refused
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.terms import limits_of
from finearc.services.lesson.documents import SummaryOut
from finearc.services.people.clock import clock_of, today
from finearc.services.ports import UnitOfWork
from finearc.services.practice.document import AnswerKind, PracticeDocument, Wishes, answer_read, read, written
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.records import Block, Lesson, Player, Priority
from finearc.services.revisions import ANY, refuse_overtaken
from finearc.wording import day_words, tr

USUAL_WEEKS = 2
"""A plan without a next lesson goes on so long (house value)."""


@dataclass(frozen=True)
class PlanRead:
    """A plan as a screen shows it: with the drills in words, what it does not keep, how blocks felt (1 to 5), and of
    which it was said that nothing hurt."""

    id: UUID
    document: PracticeDocument
    drills: dict[str, Drill]
    broken: Sequence[Broken]
    felt: Mapping[int, int]
    pain_free: frozenset[int]
    today: date
    asked: Asked

    @property
    def suited(self) -> dict[str, Drill]:
        """The drills that suit the player as limits and pain are noted now, which may be fewer than when it was
        made."""
        return {d.id: d for aim in offered(self.asked)[0] for d in aim.drills}


def practice_of(uow: UnitOfWork, lesson_id: UUID) -> PlanRead | None:
    """A lesson's plan; None where none was made. Raises ``NotFound`` without the lesson."""
    lesson = uow.get(Lesson, lesson_id)
    found = uow.find(PracticePlan, lesson_id=lesson_id)
    return shown(uow, lesson, found[0]) if found else None


def plan_practice(
    uow: UnitOfWork,
    lesson_id: UUID,
    minutes: dict[int, int],
    by: str,
    *,
    seen: str | None = ANY,
    last: date | None = None,
    **wishes: object,
) -> PlanRead:
    """Make the plan anew, from tomorrow until ``last``, else the day before the next lesson. ``seen``: the revision of
    the plan whose place it takes. Raises ``NotFound``, ``NothingToPlan``, ``ChangedMeanwhile``."""
    lesson = uow.hold(Lesson, lesson_id)
    olds = uow.find(PracticePlan, lesson_id=lesson_id)
    for old in olds:
        refuse_overtaken(uow, seen, tr("the practice plan"), lesson_id, json.loads(old.document))
    first = today(clock_of(uow)) + timedelta(days=1)
    until = last or _day_before_next(lesson, first)
    wanted = replace(Wishes(first, until, minutes), **wishes)  # type: ignore[arg-type]
    document = PracticeDocument(wanted, make_plan(asked_of(uow, lesson, wanted)))
    for old in olds:
        uow.remove(old)
    made = PracticePlan(uow.academy_id, lesson.id, lesson.player_id, written(document), by)
    uow.add(made)
    uow.flush()
    return shown(uow, lesson, made)


def _day_before_next(lesson: Lesson, first: date) -> date:
    if lesson.next_date is not None and lesson.next_date > first:
        return lesson.next_date - timedelta(days=1)
    return first + timedelta(weeks=USUAL_WEEKS)


def move_block(uow: UnitOfWork, lesson_id: UUID, number: int, to: date) -> PlanRead:
    """One block on another day; what that breaks is said. Raises ``NotFound``, ``NothingToPlan``, ``Refused``."""

    def change(plan: Plan, asked: Asked) -> Plan:
        if not asked.first <= to <= asked.last:
            raise Refused(
                tr("{day} lies outside the plan", day=day_words(to)),
                tr("Choose a day from {first} to {last}", first=asked.first, last=asked.last),
            )
        return moved(plan, number, to)

    return _changed(uow, lesson_id, change)


def miss_day(uow: UnitOfWork, lesson_id: UUID, day: date) -> PlanRead:
    """What was missed moves on. Raises ``NotFound``."""
    return _changed(uow, lesson_id, lambda plan, asked: missed(plan, asked, day))


def stop_practice(uow: UnitOfWork, lesson_id: UUID, where: str) -> PlanRead:
    """Pain: nothing more from today on. Raises ``NotFound``."""
    day = today(clock_of(uow))
    return _changed(uow, lesson_id, lambda plan, _: stopped(plan, day, where))


def drop_practice(uow: UnitOfWork, lesson_id: UUID) -> None:
    """No plan any more. Raises ``NotFound``."""
    uow.hold(Lesson, lesson_id)
    for old in uow.find(PracticePlan, lesson_id=lesson_id):
        uow.remove(old)


def _changed(uow: UnitOfWork, lesson_id: UUID, change: Callable[[Plan, Asked], Plan]) -> PlanRead:
    lesson = uow.hold(Lesson, lesson_id)
    found = uow.find(PracticePlan, lesson_id=lesson_id)
    if not found:
        raise NotFound(tr("practice plan"))
    document = read(found[0].document)
    if document.plan.stopped:
        raise Refused(
            tr("the plan has stopped because of pain"), tr("Make a new one when a health professional says so")
        )
    plan = change(document.plan, asked_of(uow, lesson, document.wishes))
    found[0].document = written(replace(document, plan=plan))
    uow.flush()
    return shown(uow, lesson, found[0])


def asked_of(uow: UnitOfWork, lesson: Lesson, wishes: Wishes) -> Asked:
    """What shapes a plan, as it is now: limits and pain may have been noted since it was made."""
    player = uow.get(Player, lesson.player_id)
    return Asked(
        aims_of(uow, lesson, rule_set_of(uow, lesson)),
        wishes.first,
        wishes.last,
        wishes.minutes,
        wishes.place,
        None if wishes.equipment is None else frozenset(wishes.equipment),
        limits_of(uow, player),
        Pain.noted(lesson.pain, lesson.pain_note),
    )


def aims_of(uow: UnitOfWork, lesson: Lesson, rule_set: RuleSet) -> list[Aim]:
    """The lesson's priorities, those that are proposed where none were kept, each with its chosen drill first and the
    finding's others after it. A test block of theirs means that the first test is behind them."""
    tested = {b.finding for b in uow.find(Block, lesson_id=lesson.id, kind="test") if b.ended_at is not None}
    rules = {r.id: r for r in rule_set.rules}
    out = []
    for rank, (finding, label, drills) in enumerate(_priorities(uow, lesson)):
        others = rules[finding].drills if finding in rules else ()
        ids = [k for k in dict.fromkeys((*drills, *others)) if k in rule_set.drills]
        if ids:
            out.append(Aim(finding or f"own-{rank}", label, [rule_set.drills[k] for k in ids], finding in tested))
    return out


def equipment_of(uow: UnitOfWork, lesson_id: UUID) -> list[str]:
    """What the drills of a lesson's priorities need beside a club. Raises ``NotFound``."""
    lesson = uow.get(Lesson, lesson_id)
    drills = [d for aim in aims_of(uow, lesson, rule_set_of(uow, lesson))[:2] for d in aim.drills]
    return sorted({d.equipment.strip() for d in drills} - WITHOUT)


def _priorities(uow: UnitOfWork, lesson: Lesson) -> list[tuple[str, str, Sequence[str]]]:
    """Finding, label and drills of what is kept, or else of what is proposed with the lesson's club."""
    kept = uow.find(Priority, lesson_id=lesson.id, order="rank")
    if kept or lesson.planned or lesson.status == "closed":
        return [(p.finding, p.label, [p.drill]) for p in kept]
    said = uow.swings.summaries([lesson.id]).get((lesson.id, lesson.club))
    proposals = SummaryOut.model_validate_json(said).proposals if said is not None else []
    return [(p.finding, p.label, p.drills[:1]) for p in proposals]


def felt_of(uow: UnitOfWork, plan: PracticePlan) -> tuple[dict[int, int], frozenset[int]]:
    """How blocks felt, by their number, what was said last; and those of which it was said that nothing hurt."""
    kinds = [AnswerKind.FELT.value, AnswerKind.NO_PAIN.value]
    said = uow.find(PracticeAnswer, plan_id=plan.id, kind=kinds, order="at")
    answers = [(a.kind, answer_read(a.document)) for a in said]
    felt = {a.block: a.feel for _, a in answers if a.block is not None and a.feel is not None}
    return felt, frozenset(a.block for kind, a in answers if kind == AnswerKind.NO_PAIN and a.block is not None)


def shown(uow: UnitOfWork, lesson: Lesson, kept: PracticePlan) -> PlanRead:
    """A plan with what belongs to it."""
    document = read(kept.document)
    asked = asked_of(uow, lesson, document.wishes)
    drills = {d.id: d for aim in asked.aims for d in aim.drills}
    wrong = [] if document.plan.stopped else broken(document.plan, asked)
    return PlanRead(kept.id, document, drills, wrong, *felt_of(uow, kept), today(clock_of(uow)), asked)
