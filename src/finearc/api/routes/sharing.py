"""What leaves the academy with a player: the page by a link, and the instructor's record."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.responses import HTMLResponse

from finearc.api import models as m
from finearc.api.context import HEAVY, Services, ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.reports.page import page_of
from finearc.reports.record import record_of
from finearc.services.jobs.questions import page_as_pdf
from finearc.services.lesson import sharing
from finearc.services.people.clock import said_to
from finearc.services.people.tokens import hash_token
from finearc.services.records import ShareLink, now

router = APIRouter(route_class=DoorRoute, tags=["sharing"])
shared = APIRouter(tags=["sharing"])
PATHS = {sharing.PAGE: "/s", sharing.PRACTICE: "/p"}
SHARED_HEADERS = {"Cache-Control": "no-store", "X-Robots-Tag": "noindex, nofollow"}


@router.get("/lessons/{lesson_id}/page", response_class=HTMLResponse)
def page(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> HTMLResponse:
    """The one page that goes home."""
    with said_to(uow, lesson_id):
        return _html(s, page_of(uow, lesson_id))


@router.get("/lessons/{lesson_id}/page.pdf", response_class=Response, dependencies=HEAVY)
def page_pdf(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> Response:
    """The same page as PDF."""
    with said_to(uow, lesson_id):
        return _pdf(s, uow.academy_id, page_of(uow, lesson_id), "lesson.pdf")


@router.get("/lessons/{lesson_id}/record", response_class=HTMLResponse)
def record(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> HTMLResponse:
    """The fuller record, for the instructor."""
    return _html(s, record_of(uow, lesson_id))


@router.get("/lessons/{lesson_id}/record.pdf", response_class=Response, dependencies=HEAVY)
def record_pdf(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> Response:
    """The same record as PDF."""
    return _pdf(s, uow.academy_id, record_of(uow, lesson_id), "record.pdf")


def _html(s: Services, content: Mapping[str, Any], status: int = 200, **headers: str) -> HTMLResponse:
    told = {"Content-Security-Policy": s.pages.policy, **headers}
    return HTMLResponse(s.pages.html(content), status_code=status, headers=told)


def _pdf(s: Services, academy_id: UUID, content: Mapping[str, Any], name: str) -> Response:
    made = s.jobs.pool.ask(page_as_pdf, academy_id, content).result()
    headers = {"Content-Disposition": f'inline; filename="{name}"'}
    return Response(made, media_type="application/pdf", headers=headers)


@router.get("/lessons/{lesson_id}/links")
def links(lesson_id: UUID, uow: UnitOfWorkDep) -> list[m.LinkOut]:
    """The links that were made of a lesson, the newest first."""
    return [_link(x) for x in sharing.links_of(uow, lesson_id)]


@router.post("/lessons/{lesson_id}/links", status_code=201)
def make_link(lesson_id: UUID, body: m.LinkIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.LinkMade:
    """A link that opens the page without an account. It is shown this once; what is kept is its hash."""
    token, made = sharing.make_link(uow, lesson_id, body.days, body.purpose)
    s.seen.security("share_link", what="made", id=str(made.id), person=str(who.instructor_id))
    return m.LinkMade(**_link(made).model_dump(), path=f"{PATHS[body.purpose]}/{token}")


@router.delete("/links/{link_id}")
def revoke_link(link_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.LinkOut:
    """Take a link back: it opens nothing any more."""
    link = sharing.revoke_link(uow, link_id)
    s.seen.security("share_link", what="revoked", id=str(link_id), person=str(who.instructor_id))
    return _link(link)


def _link(x: ShareLink) -> m.LinkOut:
    return m.LinkOut(
        id=x.id,
        purpose=x.purpose,
        made_at=x.made_at,
        made_by=x.made_by,
        expires_at=x.expires_at,
        open=x.revoked_at is None and x.expires_at > now(),
        opened=x.opened,
        opened_at=x.opened_at,
    )


@shared.get("/s/{token}", response_class=HTMLResponse, include_in_schema=False)
def shared_page(token: str, request: Request, s: ServicesDep) -> HTMLResponse:
    """The page that a link opens, read only. One that opens nothing says so and nothing else."""
    s.reads.count_heavy(f"shared {s.address(request)}")
    with s.store.front_door() as door:
        found = door.shared_lesson(hash_token(token))
    if found is None:
        return _html(s, {"kind": "gone"}, 404, **SHARED_HEADERS)
    academy_id, lesson_id = found
    with s.store.unit_of_work(academy_id) as uow, said_to(uow, lesson_id):
        return _html(s, page_of(uow, lesson_id, shared=True), 200, **SHARED_HEADERS)
