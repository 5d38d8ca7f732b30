"""How long an academy keeps what, and what that lets go."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.services.people import periods as keeping
from finearc.services.people.periods import Periods
from finearc.services.ports import UnitOfWork

router = APIRouter(route_class=DoorRoute, tags=["people"], prefix="/people/periods")


def _would_go(uow: UnitOfWork, chosen: Periods) -> m.WouldGo:
    found = keeping.due(uow, chosen)
    return m.WouldGo(
        raw=len(found.raw),
        lessons=len(found.lessons),
        players=len(found.players),
        walk_ins=len(found.walk_ins),
        names=list(found.names),
        oldest=found.oldest,
        newest=found.newest,
        count=found.count,
    )


def _told(uow: UnitOfWork) -> m.PeriodsOut:
    chosen, since = keeping.periods_of(uow)
    return m.PeriodsOut(periods=m.Periods(**vars(chosen)), holds_from=since, would_go=_would_go(uow, chosen))


@router.get("")
def keeping_periods(uow: UnitOfWorkDep) -> m.PeriodsOut:
    """What was chosen, and what of it would go today."""
    return _told(uow)


@router.get("/preview")
def periods_preview(
    uow: UnitOfWorkDep,
    raw_months: Annotated[int, Query(ge=0, le=600)] = 0,
    lessons_months: Annotated[int, Query(ge=0, le=600)] = 0,
    walk_ins_days: Annotated[int, Query(ge=0, le=3650)] = 0,
) -> m.WouldGo:
    """What other periods would let go today."""
    return _would_go(uow, Periods(raw_months, lessons_months, walk_ins_days))


@router.put("")
def choose_periods(body: m.PeriodsIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.PeriodsOut:
    """Other periods, which hold a day later. Refused where more or less would go than was shown."""
    chosen = Periods(body.raw_months, body.lessons_months, body.walk_ins_days)
    keeping.choose(uow, chosen, body.seen)
    s.seen.security("periods_chosen", person=str(who.instructor_id), **vars(chosen))
    return _told(uow)
