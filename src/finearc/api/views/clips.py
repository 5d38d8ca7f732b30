"""Videos of swings as they are answered."""

from __future__ import annotations

from finearc.api import models as m
from finearc.core.events.model import Checkpoint
from finearc.services.capture.clips import clips_of
from finearc.services.ports import UnitOfWork
from finearc.services.record.codec import unpack_record
from finearc.services.records import Swing


def clips_out(uow: UnitOfWork, swing: Swing) -> m.ClipsOut:
    """A swing's videos with the instant that ties them to it."""
    uow.flush()
    found = clips_of(uow, [swing.id])
    record = uow.swings.records([swing.id]).get(swing.id) if found else None
    impact = unpack_record(record).checkpoints.get(Checkpoint.IMPACT) if record is not None else None
    at = None if impact is None else impact.time_s
    return m.ClipsOut(clips=[m.ClipOut.model_validate({**vars(c), "swing_impact_s": at}) for c in found])
