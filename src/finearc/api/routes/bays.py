"""Bays: their devices as they are now, and the tokens with which devices send."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.views.bays import bay_out, token_out
from finearc.services.capture import bays
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["bays"])


@router.get("/bays")
def all_bays(uow: UnitOfWorkDep, s: ServicesDep) -> m.BaysOut:
    """Every bay with its devices, their battery, signal and when they were last heard."""
    read = bays.bays_of(uow)
    return m.BaysOut(bays=[bay_out(b, s.bays.told(b.bay.id) if b.bay else None) for b in read])


@router.post("/bays/tokens", status_code=201)
def make_token(body: m.BayTokenIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.BayTokenMade:
    """A token for one bay. It is shown this once; what is kept is its hash."""
    token, made = bays.make_token(uow, body.bay, body.name)
    s.seen.security("bay_token", what="made", id=str(made.id), person=str(who.instructor_id))
    return m.BayTokenMade(**token_out(made).model_dump(), bay=body.bay, token=token)


@router.post("/bays/screens", status_code=201)
def make_screen(body: m.BayScreenIn, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.BayScreenMade:
    """A code with which a second screen follows a bay: values and trainer, nothing private. It is shown this once."""
    code, made = bays.make_token(uow, body.bay, tr("second screen"), bays.FOLLOW)
    s.seen.security("bay_screen", what="made", id=str(made.id), person=str(who.instructor_id))
    return m.BayScreenMade(bay=body.bay, code=code)


@router.delete("/bays/tokens/{token_id}")
def revoke_token(token_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.Accepted:
    """Revoke a token; whoever sends with it is let go at once."""
    bays.revoke_token(uow, token_id)
    uow.commit()
    s.bays.revoke(token_id)
    s.seen.security("bay_token", what="revoked", id=str(token_id), person=str(who.instructor_id))
    return m.Accepted()
