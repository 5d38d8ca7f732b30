"""The answer to a change of a swing: what changed."""

from __future__ import annotations

from finearc.api import models as m
from finearc.api.views import lesson as views
from finearc.services.lesson.changes import Marked
from finearc.services.lesson.pages import ChangedRead, changed_swing, marked_swing
from finearc.services.ports import UnitOfWork
from finearc.services.records import Swing


def swing_changed(uow: UnitOfWork, swing: Swing) -> m.SwingChanged:
    """Its values or verdicts changed: it is sent whole."""
    uow.flush()
    return _out(changed_swing(uow, swing))


def swing_marked(marked: Marked) -> m.SwingChanged:
    """What was noted of it changed."""
    return _out(marked_swing(marked))


def _out(read: ChangedRead) -> m.SwingChanged:
    return m.SwingChanged(
        brief=views.swing_brief(read.read),
        headline=read.headline,
        findings=list(read.findings),
        swing=None if read.page is None else views.swing_out(read.page),
        others=[views.swing_brief(r) for r in read.others],
        summaries=list(read.summaries),
        can_undo=read.undo,
        can_redo=read.redo,
        stale=read.stale,
    )
