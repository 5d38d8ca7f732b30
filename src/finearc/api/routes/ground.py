"""The ground: pictures of the mat, references, guess, the line between the feet, the mat's clock."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter, Response

from finearc.api.context import ServicesDep, UnitOfWorkDep
from finearc.api.models import SwingOut, ground as g
from finearc.api.views import lesson as lesson_views
from finearc.api.views.ground import references_out
from finearc.services.lesson import changes
from finearc.services.records import Recording, Swing

router = APIRouter(tags=["ground"])


@router.get("/swings/{swing_id}/ground", response_class=Response)
def pictures(swing_id: UUID, uow: UnitOfWorkDep) -> Response:
    """Pictures of the mat and the way of the pressure as one binary block (see docs/formats); empty without a mat."""
    block = uow.get(Swing, swing_id).ground
    headers = {"Content-Encoding": "deflate"} if block else {}
    return Response(block, media_type="application/octet-stream", headers=headers)


@router.get("/ground/references")
def references(uow: UnitOfWorkDep) -> list[g.GroundReference]:
    """A skilled course for each pressure school; synthetic."""
    return references_out()


@router.put("/swings/{swing_id}/guess")
def guess(swing_id: UUID, body: g.GuessIn, uow: UnitOfWorkDep, s: ServicesDep) -> SwingOut:
    """Where the player felt the pressure at impact, asked before it is shown. It can be undone."""
    uow.lock_academy()
    found = uow.get(Swing, swing_id)
    changes.set_guess(uow, s.codec, found, body.side, body.foot)
    return lesson_views.swing_out(uow, found)


@router.put("/swings/{swing_id}/split")
def split(swing_id: UUID, body: g.SplitIn, uow: UnitOfWorkDep, s: ServicesDep) -> SwingOut:
    """The line between the feet; what depends on it follows, and it can be undone."""
    uow.lock_academy()
    found = uow.get(Swing, swing_id)
    changes.set_split(uow, s.codec, found, body.split_m)
    return lesson_views.swing_out(uow, found)


@router.put("/swings/{swing_id}/mat-clock")
def mat_clock(swing_id: UUID, body: g.MatClockIn, uow: UnitOfWorkDep, s: ServicesDep) -> SwingOut:
    """Shift the clock of the swing's mat; every swing of the fit is read again, and it can be undone."""
    uow.lock_academy()
    found = uow.get(Swing, swing_id)
    changes.set_mat_shift(uow, s.codec, uow.get(Recording, found.recording_id), body.shift_s)
    return lesson_views.swing_out(uow, found)
