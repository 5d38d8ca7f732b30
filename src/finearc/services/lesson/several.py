"""Several swings marked at once: one change, undone as one."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any
from uuid import UUID

from finearc.services.errors import Refused
from finearc.services.lesson.changes import SEVERAL, apply_to_several, remember
from finearc.services.lesson.marks import KINDS, PUTT, kind_fields, putt_fields
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.records import Lesson, Swing
from finearc.wording import tr


def mark_several(
    uow: UnitOfWork, codec: RawCodec, lesson_id: UUID, swing_ids: Collection[UUID], kind: str, reason: str = ""
) -> None:
    """Give swings of one lesson a kind. Raises ``NotFound``, ``Refused``."""
    _change(
        uow, codec, lesson_id, swing_ids, lambda swing: kind_fields(swing, kind, reason)[0], tr(KINDS.get(kind, kind))
    )


def note_row(
    uow: UnitOfWork, codec: RawCodec, lesson_id: UUID, swing_ids: Collection[UUID], given: Mapping[str, Any]
) -> None:
    """Note distance, slope or break of a row of putts of one lesson at once. Raises ``NotFound``, ``Refused``."""
    label = ", ".join(tr(PUTT[name]) for name in given)
    _change(uow, codec, lesson_id, swing_ids, lambda swing: putt_fields(swing, given)[0], label)


def _change(
    uow: UnitOfWork,
    codec: RawCodec,
    lesson_id: UUID,
    swing_ids: Collection[UUID],
    fields_of: Callable[[Swing], Mapping[str, Any]],
    label: str,
) -> None:
    lesson = uow.hold(Lesson, lesson_id)
    known = {s.id: s for s in uow.find(Swing, lesson_id=lesson_id)}
    strange = [i for i in swing_ids if i not in known]
    if strange or not swing_ids:
        raise Refused(tr("the swings are not all of this lesson"), tr("Reload the table, then choose again"))
    before: dict[str, Mapping[str, Any]] = {}
    after: dict[str, Mapping[str, Any]] = {}
    for swing in (known[i] for i in dict.fromkeys(swing_ids)):
        fields = fields_of(swing)
        held = {name: getattr(swing, name) for name in fields}
        if held != fields:
            before[str(swing.id)], after[str(swing.id)] = held, fields
    if not after:
        return
    numbers = sorted(known[UUID(k)].number for k in after)
    which = (
        tr("swing {numbers}", numbers=numbers[0]) if len(numbers) == 1 else tr("{numbers} swings", numbers=len(numbers))
    )
    remember(uow, lesson.id, (SEVERAL, lesson.id), before, after, f"{which}: {label}")
    apply_to_several(uow, codec, lesson, after)
