"""Changes to swings, each of which can be undone; what depends on them is worked out again."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from finearc.catalogue.library import clubs
from finearc.core.events.model import ORDER, Checkpoint
from finearc.services.errors import Refused
from finearc.services.ports import ColumnCodec, Unit
from finearc.services.records import ChangeEntry, Lesson, Player, Swing, Take
from finearc.services.takes import rejudge, reread

KINDS = {
    "warm_up": "warm-up",
    "normal": "normal",
    "drill": "drill",
    "no_ball": "no ball",
    "test": "test",
    "discard": "discard",
}
COUNTING = ("normal", "test")
SIDES = ("lead", "straight", "trail")
STRIKES = ("centre", "toe", "heel", "thin", "fat")
UNDO_DEPTH = 100


def change_swing(unit: Unit, codec: ColumnCodec, swing: Swing, fields: Mapping[str, Any], label: str) -> None:
    """Set fields of a swing, remember the old ones, work out what depends on them."""
    before = {name: getattr(swing, name) for name in fields}
    if before == dict(fields):
        return
    sequence = 1 + max((c.sequence for c in unit.find(ChangeEntry, lesson_id=swing.lesson_id)), default=0)
    for stale in unit.find(ChangeEntry, lesson_id=swing.lesson_id, undone=True):
        unit.remove(stale)
    unit.add(ChangeEntry(unit.academy_id, swing.lesson_id, sequence, label, "swing", swing.id, before, dict(fields)))
    _apply(unit, codec, swing, fields)


def _apply(unit: Unit, codec: ColumnCodec, swing: Swing, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(swing, name, value)
    unit.flush()
    if "events_corrected" in fields:
        reread(unit, codec, unit.get(Take, swing.take_id))
    elif "club" in fields:
        lesson = unit.get(Lesson, swing.lesson_id)
        rejudge(unit, swing, unit.get(Player, lesson.player_id))
    unit.flush()


def undo(unit: Unit, codec: ColumnCodec, lesson: Lesson) -> ChangeEntry:
    """Take the last change back. Raises ``Refused`` when there is none."""
    entries = [c for c in unit.find(ChangeEntry, lesson_id=lesson.id, order="sequence") if not c.undone]
    if not entries:
        raise Refused("there is nothing to undo in this lesson")
    entry = entries[-1]
    _apply(unit, codec, unit.get(Swing, entry.entity_id), entry.before)
    entry.undone = True
    unit.flush()
    return entry


def redo(unit: Unit, codec: ColumnCodec, lesson: Lesson) -> ChangeEntry:
    """Do the last undone change again. Raises ``Refused`` when there is none."""
    entries = [c for c in unit.find(ChangeEntry, lesson_id=lesson.id, order="sequence") if c.undone]
    if not entries:
        raise Refused("there is nothing to do again in this lesson")
    entry = entries[0]
    _apply(unit, codec, unit.get(Swing, entry.entity_id), entry.after)
    entry.undone = False
    unit.flush()
    return entry


def set_kind(unit: Unit, codec: ColumnCodec, swing: Swing, kind: str, reason: str = "") -> None:
    """Mark the kind; a discard needs a reason."""
    if kind not in KINDS:
        raise Refused(f'there is no kind "{kind}"', f"Known: {', '.join(KINDS)}")
    if kind == "discard" and not reason.strip():
        raise Refused("a discarded swing needs a reason", "Say why, for example: topped, sensor loose")
    change_swing(
        unit,
        codec,
        swing,
        {"kind": kind, "discard_reason": reason if kind == "discard" else ""},
        f"swing {swing.number}: {KINDS[kind]}",
    )


def set_ball(unit: Unit, codec: ColumnCodec, swing: Swing, start: str, curve: str) -> None:
    """Where the ball started and curved, by lead and trail side; both empty clears it."""
    if (start, curve) != ("", "") and (start not in SIDES or curve not in SIDES):
        raise Refused("start and curve are each lead, straight or trail")
    change_swing(unit, codec, swing, {"ball_start": start, "ball_curve": curve}, f"swing {swing.number}: ball flight")


def set_strike(unit: Unit, codec: ColumnCodec, swing: Swing, strike: str) -> None:
    """How the ball was struck; empty clears it."""
    if strike and strike not in STRIKES:
        raise Refused(f'there is no strike "{strike}"', f"Known: {', '.join(STRIKES)}")
    change_swing(unit, codec, swing, {"strike": strike}, f"swing {swing.number}: strike")


def set_club(unit: Unit, codec: ColumnCodec, swing: Swing, club: str) -> None:
    """The club of one swing; its verdicts follow."""
    if club not in clubs():
        raise Refused(f'there is no club "{club}"')
    change_swing(unit, codec, swing, {"club": club}, f"swing {swing.number}: {clubs()[club].label}")


def set_event(unit: Unit, codec: ColumnCodec, swing: Swing, name: Checkpoint, time_s: float | None) -> None:
    """The instructor's own instant of a checkpoint (s), or None to go back to the detected one."""
    corrected = dict(swing.events_corrected)
    if time_s is None:
        corrected.pop(name.value, None)
    else:
        _check_place(swing, name, time_s)
        corrected[name.value] = round(float(time_s), 4)
    change_swing(unit, codec, swing, {"events_corrected": corrected}, f"swing {swing.number}: {name.value} moved")


def _check_place(swing: Swing, name: Checkpoint, time_s: float) -> None:
    if not swing.start_s <= time_s <= swing.end_s:
        raise Refused(f"{name.value} must lie within the swing ({swing.start_s:.2f} to {swing.end_s:.2f} s)")
    at = ORDER.index(name)
    for other, event in swing.result.get("events", {}).items():
        place = ORDER.index(Checkpoint(other))
        wrong = (place < at and event["time_s"] >= time_s) or (place > at and event["time_s"] <= time_s)
        if other != name.value and wrong:
            side = "after" if place < at else "before"
            raise Refused(
                f"{name.value.replace('_', ' ')} must come {side} {other.replace('_', ' ')}",
                "Move it between its neighbours",
            )
