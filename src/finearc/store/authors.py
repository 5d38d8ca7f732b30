"""Who changed what: written beside every change, in its own transaction."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import event, inspect
from sqlalchemy.orm import Session, UOWTransaction

from finearc.services import records as r

AUTHORED: dict[type[Any], str] = {
    r.Academy: "academy",
    r.AcademyRules: "academy rules",
    r.BenchmarkVersion: "ranges",
    r.Block: "block",
    r.Lesson: "lesson",
    r.MarkerPreset: "marker preset",
    r.MovementLimit: "limit",
    r.Player: "player",
    r.Priority: "priority",
    r.Reference: "reference",
}
"""Records whose changes have their author here; a swing's and a recording's have theirs in what can be undone."""


def sign_changes(session: Session, academy_id: UUID, by: UUID) -> None:
    """From now on each flush of the session notes who made, changed or removed what."""

    def note(session: Session, _: UOWTransaction, __: Any) -> None:
        told = [("made", x, "") for x in session.new]
        told += [("changed", x, changed) for x in session.dirty if type(x) in AUTHORED and (changed := _changed(x))]
        told += [("removed", x, "") for x in session.deleted]
        for how, record, fields in told:
            if type(record) in AUTHORED:
                session.add(r.Author(academy_id, by, AUTHORED[type(record)], record.id, how, fields[:400]))

    event.listen(session, "before_flush", note)


def _changed(record: object) -> str:
    return ", ".join(sorted(a.key for a in inspect(record, raiseerr=True).attrs if a.history.has_changes()))
