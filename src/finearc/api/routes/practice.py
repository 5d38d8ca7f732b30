"""Practice between lessons: making a lesson's plan, moving it, stopping it."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from finearc.api import models as m
from finearc.api.context import UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.views.practice import practice_out
from finearc.services.practice import plans
from finearc.services.records import Instructor

router = APIRouter(route_class=DoorRoute, tags=["practice"])


@router.get("/lessons/{lesson_id}/practice")
def practice(lesson_id: UUID, uow: UnitOfWorkDep) -> m.PracticeFound:
    """What the player practises until the next lesson."""
    found = plans.practice_of(uow, lesson_id)
    return m.PracticeFound(plan=None if found is None else practice_out(found))


@router.put("/lessons/{lesson_id}/practice")
def make(lesson_id: UUID, body: m.PracticeIn, uow: UnitOfWorkDep, who: WhoDep) -> m.PracticeOut:
    """Make the plan from the lesson's priorities, anew where there was one."""
    by = uow.get(Instructor, who.instructor_id).name
    return practice_out(
        plans.plan_practice(
            uow, lesson_id, body.minutes, by, last=body.last, place=body.place, equipment=body.equipment
        )
    )


@router.post("/lessons/{lesson_id}/practice/moved")
def move(lesson_id: UUID, body: m.MovedIn, uow: UnitOfWorkDep) -> m.PracticeOut:
    """One block on another day; what rules that breaks stands in ``broken``."""
    return practice_out(plans.move_block(uow, lesson_id, body.number, body.to))


@router.post("/lessons/{lesson_id}/practice/missed")
def miss(lesson_id: UUID, body: m.MissedIn, uow: UnitOfWorkDep) -> m.PracticeOut:
    """A day was missed: its blocks move on, none is doubled."""
    return practice_out(plans.miss_day(uow, lesson_id, body.day))


@router.post("/lessons/{lesson_id}/practice/pain")
def pain(lesson_id: UUID, body: m.PainIn, uow: UnitOfWorkDep) -> m.PracticeOut:
    """Pain stops the plan and says whom to see."""
    return practice_out(plans.stop_practice(uow, lesson_id, body.where))


@router.delete("/lessons/{lesson_id}/practice")
def drop(lesson_id: UUID, uow: UnitOfWorkDep) -> m.Accepted:
    """No plan any more."""
    plans.drop_practice(uow, lesson_id)
    return m.Accepted()
