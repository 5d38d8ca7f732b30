"""A lesson's putts: the plan of distances, what is noted, the reading and what its pictures are drawn from."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter
from fastapi.responses import Response

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.views.putting import courses_block, notes_out, plan_out, putting_out
from finearc.services.lesson.changes import change_recording
from finearc.services.lesson.several import note_row
from finearc.services.putting.plan import plan_of, set_plan
from finearc.services.putting.reading import courses_of, putting_page
from finearc.services.records import Lesson, Recording
from finearc.wording import mark, tr

router = APIRouter(route_class=DoorRoute, tags=["putting"])


@router.get("/lessons/{lesson_id}/putting")
def putting(lesson_id: UUID, uow: UnitOfWorkDep) -> m.PuttingOut:
    """All putts of a lesson: by distance, step by step, and side by side."""
    return putting_out(putting_page(uow, lesson_id))


@router.get("/lessons/{lesson_id}/putting/courses", response_class=Response)
def courses(lesson_id: UUID, uow: UnitOfWorkDep) -> Response:
    """What the pictures of its putts are drawn from, in binary (see docs/formats)."""
    return Response(courses_block(courses_of(uow, lesson_id)), media_type="application/octet-stream")


@router.patch("/lessons/{lesson_id}/putting")
def plan(lesson_id: UUID, body: m.PuttPlanIn, uow: UnitOfWorkDep) -> m.PuttPlanOut:
    """Plan other distances, another number of putts, or choose from where the next are made."""
    found = uow.hold(Lesson, lesson_id)
    set_plan(found, body.distances_m, body.each, body.unit, body.next_m)
    return plan_out(plan_of(found))


@router.patch("/recordings/{recording_id}/putting")
def note(recording_id: UUID, body: m.PuttingNotesIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.PuttingNotesOut:
    """Note green speed, grip, how the face sits in the hands, the putter and its pendulum's pivot; can be undone."""
    found = uow.get(Recording, recording_id)
    uow.hold(Lesson, found.lesson_id)
    fields = body.model_dump(exclude_unset=True)
    if "putter" in fields:
        fields["putter"] = body.putter.kept() if body.putter is not None else None
    change_recording(
        uow,
        s.codec,
        found,
        fields,
        tr("recording {number}: {value}", number=found.number, value=", ".join(NAMES[k] for k in fields)),
    )
    return notes_out(found)


NAMES = {
    "green_speed_ft": mark("green speed"),
    "putter_grip": mark("grip"),
    "face_grip_bias_deg": mark("face against grip"),
    "putter": mark("the putter and its pendulum"),
}


@router.post("/lessons/{lesson_id}/putts")
def putts(lesson_id: UUID, body: m.PuttRow, uow: UnitOfWorkDep, s: ServicesDep) -> m.Accepted:
    """Note distance, slope or break of several putts: one change, undone as one."""
    given = body.model_dump(mode="json", exclude_unset=True, exclude={"swings"})
    note_row(uow, s.codec, lesson_id, body.swings, given)
    return m.Accepted()
