"""Training with live feedback: what can be trained, the block that holds it, what was felt."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from finearc.api import models as m
from finearc.api.context import Services, ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.views.training import band_at_out, offer_out, retention_out, training_out
from finearc.services.errors import Refused
from finearc.services.lesson import lessons, training
from finearc.services.lesson.pages import LessonRead, lesson_page
from finearc.services.lesson.retention import retained
from finearc.services.ports import UnitOfWork
from finearc.services.practice import trained
from finearc.services.records import Block, Lesson
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["training"])


def _told(uow: UnitOfWork, lesson_id: UUID) -> m.TrainingPage:
    uow.flush()
    read = lesson_page(uow, lesson_id)
    lesson = read.head.lesson
    blocks = [b for b in read.blocks if b.block.training is not None]
    told = {
        b.block.id: training_out(b.block, b.change.sentence if b.change is not None and b.change.after else "")
        for b in blocks
    }
    running = None if lesson.block_id is None else told.pop(lesson.block_id, None)
    return m.TrainingPage(
        club=lesson.club,
        offers=_offers(uow, read),
        retention=retention_out(retained(uow, read)),
        running=running,
        done=list(told.values()),
    )


def _offers(uow: UnitOfWork, read: LessonRead) -> list[m.OfferOut]:
    due = trained.due_of(uow, read.head.lesson, read.head.last_closed)
    practised = [] if due is None else trained.practice_offers(read, due)
    drills = {o.drill for o in practised}
    return [
        offer_out(o, due.words if due is not None and o.drill in drills and o.source == "drill" else "")
        for o in trained.with_practice(training.offers(read), practised)
    ]


def _begun(uow: UnitOfWork, s: Services, lesson_id: UUID) -> m.TrainingPage:
    """The change is kept, then what is going on in the bay follows it."""
    told, academy_id = _told(uow, lesson_id), uow.academy_id
    uow.commit()
    s.devices.train(academy_id, lesson_id)
    return told


@router.get("/lessons/{lesson_id}/training")
def training_page(lesson_id: UUID, uow: UnitOfWorkDep) -> m.TrainingPage:
    """What can be trained with the club in hand, what is being trained, and what came of what was."""
    return _told(uow, lesson_id)


@router.get("/lessons/{lesson_id}/bands")
def bands(lesson_id: UUID, uow: UnitOfWorkDep) -> list[m.BandAtOut]:
    """The ranges in force with the club in hand, for what is shown as it happens."""
    return [band_at_out(b) for b in training.bands_in_force(lesson_page(uow, lesson_id))]


@router.post("/lessons/{lesson_id}/training", status_code=201)
def start(lesson_id: UUID, body: m.TrainingIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.TrainingPage:
    """Begin a drill or a test with live feedback; swings made meanwhile are tagged with it."""
    lesson = uow.hold(Lesson, lesson_id)
    kept = training.TrainingKept(**body.model_dump(exclude={"kind", "finding", "drill", "practice"}))
    kind = body.kind
    due = trained.due_of(uow, lesson, uow.reads.lesson(lesson_id).last_closed) if body.practice else None
    if due is not None:
        kept = trained.begun_from(kept, due)
        kind = "test" if due.block.without_feedback else kind
    training.start_training(uow, lesson, kept, kind=kind, finding=body.finding, drill=body.drill)
    return _begun(uow, s, lesson_id)


@router.patch("/lessons/{lesson_id}/training")
def change(lesson_id: UUID, body: m.TrainingPatch, uow: UnitOfWorkDep, s: ServicesDep) -> m.TrainingPage:
    """Lock the band's width, let feedback fade or not, or go on to a test of the same band without any."""
    lesson = uow.hold(Lesson, lesson_id)
    block, kept = _running(uow, lesson)
    if body.test:
        fresh = kept.model_copy(update={"repetitions": [], "width": 1.0, "stage": 0, "since": 0, "hits": 0})
        training.start_training(uow, lesson, fresh, kind="test", finding=block.finding, drill=block.drill)
    else:
        changed = kept.model_copy(update=body.model_dump(exclude={"test"}, exclude_none=True))
        block.training = changed.model_dump(mode="json")
    return _begun(uow, s, lesson_id)


@router.delete("/lessons/{lesson_id}/training")
def end(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.TrainingPage:
    """End the training; what was made of it stays."""
    lesson = uow.hold(Lesson, lesson_id)
    running = [] if lesson.block_id is None else uow.find(Block, id=lesson.block_id)
    lessons.end_block(uow, lesson)
    for block in running:
        trained.came_back(uow, block)
    return _begun(uow, s, lesson_id)


@router.post("/lessons/{lesson_id}/training/felt")
def felt(lesson_id: UUID, body: m.FeltIn, uow: UnitOfWorkDep) -> m.TrainingPage:
    """What the player felt in a repetition, said before it was shown."""
    block, _ = _running(uow, uow.get(Lesson, lesson_id))
    training.keep_felt(uow, block, body.number, body.guess)
    return _told(uow, lesson_id)


def _running(uow: UnitOfWork, lesson: Lesson) -> tuple[Block, training.TrainingKept]:
    block = None if lesson.block_id is None else uow.hold(Block, lesson.block_id)
    kept = None if block is None else training.training_of(block)
    if block is None or kept is None:
        raise Refused(tr("nothing is being trained"), tr("Choose a band first"))
    return block, kept
