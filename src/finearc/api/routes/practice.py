"""Practice between lessons: making a lesson's plan, moving it, stopping it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Depends, Path, Request, Response
from fastapi.responses import HTMLResponse

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.revisions import SeenRevision
from finearc.api.views.practice import player_page_out, practice_out
from finearc.reports.practice import practice_calendar, practice_page
from finearc.reports.voice import Voice
from finearc.services.errors import NotFound
from finearc.services.lesson.sharing import PRACTICE
from finearc.services.people.clock import said_to
from finearc.services.people.tokens import hash_token
from finearc.services.ports import UnitOfWork
from finearc.services.practice import answers, plans
from finearc.services.practice.document import Answer
from finearc.services.records import Instructor, Lesson
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["practice"])
by_link = APIRouter(route_class=DoorRoute, tags=["practice"])
CSP = "Content-Security-Policy"
Token = Annotated[str, Path(max_length=100)]


@router.get("/lessons/{lesson_id}/practice")
def practice(lesson_id: UUID, uow: UnitOfWorkDep) -> m.PracticeFound:
    """What the player practises until the next lesson."""
    found = plans.practice_of(uow, lesson_id)
    needed = plans.equipment_of(uow, lesson_id)
    return m.PracticeFound(plan=None if found is None else practice_out(found), equipment=needed)


@router.put("/lessons/{lesson_id}/practice")
def make(lesson_id: UUID, body: m.PracticeIn, seen: SeenRevision, uow: UnitOfWorkDep, who: WhoDep) -> m.PracticeOut:
    """Make the plan from the lesson's priorities, anew where there was one."""
    by = uow.get(Instructor, who.instructor_id).name
    return practice_out(
        plans.plan_practice(
            uow, lesson_id, body.minutes, by, seen=seen, last=body.last, place=body.place, equipment=body.equipment
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


@router.get("/lessons/{lesson_id}/practice/page", response_class=HTMLResponse)
def practice_printed(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> HTMLResponse:
    """The plan on paper."""
    lesson, read = _planned(uow, lesson_id)
    with said_to(uow, lesson_id):
        return HTMLResponse(s.pages.html(practice_page(uow, lesson, read)), headers={CSP: s.pages.policy})


@router.get("/lessons/{lesson_id}/practice/calendar.ics", response_class=Response)
def practice_days(lesson_id: UUID, uow: UnitOfWorkDep) -> Response:
    """The plan's days for any calendar (RFC 5545)."""
    with said_to(uow, lesson_id):
        return _calendar(_planned(uow, lesson_id)[1])


def _planned(uow: UnitOfWork, lesson_id: UUID) -> tuple[Lesson, plans.PlanRead]:
    found = plans.practice_of(uow, lesson_id)
    if found is None:
        raise NotFound(tr("practice plan"))
    return uow.get(Lesson, lesson_id), found


def _calendar(read: plans.PlanRead) -> Response:
    headers = {"Content-Disposition": 'attachment; filename="practice.ics"'}
    return Response(practice_calendar(read), media_type="text/calendar; charset=utf-8", headers=headers)


def opened(token: Token, request: Request, s: ServicesDep) -> Iterator[tuple[UnitOfWork, UUID]]:
    """What a private link opens: a unit of work of its academy, and the lesson; committed when the answer is made.
    Raises ``NotFound`` for one that opens nothing."""
    s.reads.count_heavy(f"practice {s.address(request)}")
    with s.store.front_door() as door:
        found = door.shared_lesson(hash_token(token), PRACTICE)
    if found is None:
        raise NotFound(tr("what this link opened"))
    with s.store.unit_of_work(found[0]) as uow:
        yield uow, found[1]


OpenedDep = Annotated[tuple[UnitOfWork, UUID], Depends(opened, scope="function")]


@by_link.get("/p/{token}")
def player_practice(at: OpenedDep) -> m.PlayerPracticeOut:
    """The player's own page: what is practised until the next lesson."""
    with said_to(*at):
        return _player_page(answers.page_of(*at))


@by_link.post("/p/{token}")
def player_says(body: m.AnswersIn, at: OpenedDep) -> m.PlayerPracticeOut:
    """What the player ticked, felt and moved since; each answer counts once, however often it is sent."""
    with said_to(*at):
        return _player_page(answers.take(*at, [_said(a) for a in body.answers]))


@by_link.get("/p/{token}/calendar.ics", response_class=Response)
def player_days(at: OpenedDep) -> Response:
    """The plan's days for the player's calendar (RFC 5545)."""
    with said_to(*at):
        return _calendar(_planned(*at)[1])


def _said(a: m.AnswerIn) -> answers.Said:
    told = Answer(a.block, a.day, a.minutes, a.feel, a.to, a.where)
    return answers.Said(a.key, a.kind, a.plan, a.at, told)


def _player_page(found: answers.PageRead) -> m.PlayerPracticeOut:
    return player_page_out(found, Voice.of(found.player).say)
