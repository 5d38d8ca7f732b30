"""One's own second factor: set up, turned off, codes for a lost phone."""

from __future__ import annotations

from fastapi import APIRouter, Request

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.core.errors import FineArcError
from finearc.services.errors import Refused
from finearc.services.people import second_factor
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["sign-in"], prefix="/me/second-factor")


def _told(uow: UnitOfWork, who: WhoDep) -> m.SecondFactorOut:
    factor, person = second_factor.of(uow, who.instructor_id), uow.get(Instructor, who.instructor_id)
    on = factor if second_factor.is_on(factor) else None
    return m.SecondFactorOut(
        since=on.confirmed_at if on else None,
        paper_left=len(on.paper) if on else 0,
        asked=second_factor.is_asked_for(person, uow.academy()),
    )


@router.get("")
def second_factor_told(uow: UnitOfWorkDep, who: WhoDep) -> m.SecondFactorOut:
    """Whether one is in force."""
    return _told(uow, who)


@router.post("/offer", max_body_size=8_000)
def offer_second_factor(
    body: m.PasswordAgainIn, request: Request, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep
) -> m.SecondFactorOffer:
    """A secret for the phone, in force once a code of it is typed. The password is asked again: a screen that was left
    open sets nothing up."""
    _is_still(body, request, s, who)
    made = second_factor.offer(uow, uow.get(Instructor, who.instructor_id))
    return m.SecondFactorOffer(secret=made.secret, uri=made.uri, rows=list(made.rows))


@router.post("/confirm")
def confirm_second_factor(
    body: m.CodeIn, request: Request, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep
) -> m.PaperCodes:
    """In force from now on; every other session ends. The codes for a lost phone."""
    person = uow.get(Instructor, who.instructor_id)
    s.sessions.throttle.attempt(person.email_key, s.address(request))
    codes = second_factor.confirm(uow, person, body.code)
    s.sessions.throttle.passed(person.email_key, s.address(request))
    told = m.PaperCodes(codes=codes, factor=_told(uow, who))
    uow.commit()
    s.sessions.end_others(who.instructor_id, who.token_hash)
    s.seen.security("second_factor_on", person=str(who.instructor_id))
    return told


@router.post("/paper", max_body_size=8_000)
def new_paper_codes(
    body: m.PasswordAgainIn, request: Request, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep
) -> m.PaperCodes:
    """Other codes for a lost phone; those before work no more."""
    _is_still(body, request, s, who)
    factor = second_factor.of(uow, who.instructor_id)
    if factor is None or not second_factor.is_on(factor):
        raise Refused(tr("you have no second factor"), tr("Set it up first"))
    codes = second_factor.paper(factor)
    s.seen.security("paper_codes", person=str(who.instructor_id))
    return m.PaperCodes(codes=codes, factor=_told(uow, who))


@router.post("/off", max_body_size=8_000)
def turn_second_factor_off(
    body: m.PasswordAgainIn, request: Request, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep
) -> m.SecondFactorOut:
    """It is asked for no more. Where the academy asks its owners for one, nothing opens until it is there again."""
    _is_still(body, request, s, who)
    second_factor.turn_off(uow, uow.get(Instructor, who.instructor_id))
    uow.flush()
    s.seen.security("second_factor_off", person=str(who.instructor_id))
    return _told(uow, who)


def _is_still(body: m.PasswordAgainIn, request: Request, s: ServicesDep, who: WhoDep) -> None:
    try:
        s.sessions.confirm(who.instructor_id, body.password, s.address(request))
    except FineArcError as error:
        s.seen.security("password_refused", person=str(who.instructor_id), why=error.code)
        raise
