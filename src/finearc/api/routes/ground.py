"""The ground: pictures of the mat, references, guess, the line between the feet, the mat's clock."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from finearc.api.changed import swing_changed
from finearc.api.context import ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.models import SwingChanged, ground as g
from finearc.api.views.ground import references_out
from finearc.services.lesson import changes
from finearc.services.records import Recording

router = APIRouter(route_class=DoorRoute, tags=["ground"])


@router.get("/ground/references")
def references(uow: UnitOfWorkDep) -> list[g.GroundReference]:
    """A skilled course for each pressure school; synthetic."""
    return references_out()


@router.put("/swings/{swing_id}/guess")
def guess(swing_id: UUID, body: g.GuessIn, uow: UnitOfWorkDep, s: ServicesDep) -> SwingChanged:
    """Where the player felt the pressure at impact, asked before it is shown. It can be undone."""
    found = changes.swing_to_change(uow, swing_id)
    changes.set_guess(uow, s.codec, found, body.side, body.foot)
    return swing_changed(uow, found)


@router.put("/swings/{swing_id}/split")
def split(swing_id: UUID, body: g.SplitIn, uow: UnitOfWorkDep, s: ServicesDep) -> SwingChanged:
    """The line between the feet; what depends on it follows, and it can be undone."""
    found = changes.swing_to_change(uow, swing_id)
    changes.set_split(uow, s.codec, found, body.split_m)
    return swing_changed(uow, found)


@router.put("/swings/{swing_id}/mat-clock")
def mat_clock(swing_id: UUID, body: g.MatClockIn, uow: UnitOfWorkDep, s: ServicesDep) -> SwingChanged:
    """Shift the clock of the swing's mat; every swing of the fit is read again, and it can be undone."""
    found = changes.swing_to_change(uow, swing_id)
    changes.set_mat_shift(uow, s.codec, uow.get(Recording, found.recording_id), body.shift_s)
    return swing_changed(uow, found)
