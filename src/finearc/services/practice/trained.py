"""The practice plan in a bay with sensors: the trainer takes the next block from it, and what was trained is ticked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from uuid import UUID

from finearc.core.practice.changed import ticked
from finearc.core.practice.plan import Block as PracticeBlock
from finearc.core.training.success import EVERY
from finearc.services.lesson.pages import LessonRead, trainer_bands
from finearc.services.lesson.training import Offer, TrainingKept, band_of
from finearc.services.ports import UnitOfWork
from finearc.services.practice.document import Answer, AnswerKind, answer_written, read, written
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.records import Block, Lesson, now
from finearc.wording import tr

ENOUGH = 5
"""Repetitions with which a block counts as practised in the bay (house value)."""


@dataclass(frozen=True)
class Due:
    """The next block of the plan that leads to this lesson, or that was made in it."""

    lesson_id: UUID
    plan_id: UUID
    block: PracticeBlock
    done: int
    blocks: int

    @property
    def words(self) -> str:
        """ "The practice plan's next block (3 of 8), feedback on 50 % of the repetitions"."""
        share = self.block.feedback
        said = (
            tr("without feedback")
            if share == 0.0
            else tr("feedback each time")
            if share == 1.0
            else tr("feedback {share:.0%}", share=share)
        )
        return tr(
            "Next in the practice plan ({value} of {blocks}), {said}",
            value=self.done + 1,
            blocks=self.blocks,
            said=said,
        )


def due_of(uow: UnitOfWork, lesson: Lesson, last_closed: UUID | None) -> Due | None:
    """None without a plan, after pain, and when all of it is done."""
    for lesson_id in (lesson.id, last_closed):
        kept = uow.find(PracticePlan, lesson_id=lesson_id) if lesson_id is not None else []
        plan = read(kept[0].document).plan if kept else None
        if plan is not None and not plan.stopped:
            done = sum(b.done for b in plan.blocks)
            block = next((b for b in plan.blocks if not b.done), None)
            if block is not None:
                return Due(kept[0].lesson_id, kept[0].id, block, done, len(plan.blocks))
    return None


def stage_of(feedback: float) -> int:
    """How far feedback has faded when a block has this share of it: the nearest of the trainer's steps."""
    shares = [1.0 / every if every else 0.0 for every in EVERY]
    return min(range(len(shares)), key=lambda k: abs(shares[k] - feedback))


def practice_offers(lesson: LessonRead, due: Due) -> list[Offer]:
    """The due block's drills that a bay can train, each with its band."""
    drills = [d for _, d in due.block.drills]
    bands = trainer_bands(lesson, drills)
    return [
        Offer(band_of(bands[d]), "drill", d, lesson.rule_set.drills[d].label, drill=d, finding=finding)
        for finding, d in due.block.drills
        if d in bands
    ]


def with_practice(offers: Sequence[Offer], practised: Sequence[Offer]) -> list[Offer]:
    """What is practised first, then the rest."""
    drills = {o.drill for o in practised}
    return [*practised, *(o for o in offers if o.source != "drill" or o.drill not in drills)]


def begun_from(kept: TrainingKept, due: Due) -> TrainingKept:
    """A training that goes on where the plan stands."""
    return kept.model_copy(
        update={"stage": stage_of(due.block.feedback), "practice_plan": due.plan_id, "practice_block": due.block.number}
    )


def came_back(uow: UnitOfWork, block: Block) -> None:
    """What was trained in a bay is ticked in the plan it came from, once, when enough of it was made."""
    kept = None if block.training is None else TrainingKept.model_validate(block.training)
    if kept is None or kept.practice_plan is None or kept.practice_block is None or len(kept.repetitions) < ENOUGH:
        return
    plans = uow.find(PracticePlan, id=kept.practice_plan)
    if not plans:
        return
    document = read(plans[0].document)
    planned = next((b for b in document.plan.blocks if b.number == kept.practice_block), None)
    if planned is None or planned.done:
        return
    plans[0].document = written(replace(document, plan=ticked(document.plan, planned.number, done=True)))
    said = answer_written(Answer(planned.number, planned.day, planned.minutes))
    done = AnswerKind.DONE.value
    lesson, key = plans[0].lesson_id, str(block.id)
    uow.add(PracticeAnswer(uow.academy_id, lesson, plans[0].player_id, plans[0].id, key, done, said, now()))
    uow.flush()
