"""Tags of swings as rows of their own, by which they are found: kept the same as what stands in the swing."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Connection, delete, event, insert, inspect

from finearc.services.records import Swing
from finearc.store.tables.lessons import swing_tag

LONGEST = 60


def keep_tags() -> None:
    """From now on every swing that is written writes its tags; once, after the records are mapped."""
    event.listen(Swing, "after_insert", _written)
    event.listen(Swing, "after_update", _changed)


def _changed(mapper: Any, connection: Connection, swing: Swing) -> None:
    if inspect(swing).attrs.tags.history.has_changes():
        connection.execute(delete(swing_tag).where(swing_tag.c.swing_id == swing.id))
        _written(mapper, connection, swing)


def _written(mapper: Any, connection: Connection, swing: Swing) -> None:
    common = {"swing_id": swing.id, "academy_id": swing.academy_id, "captured_at": swing.captured_at}
    rows = [{**common, "tag": tag} for tag in dict.fromkeys(t[:LONGEST] for t in swing.tags)]
    if rows:
        connection.execute(insert(swing_tag), rows)
