"""Changes to swings, each of which can be undone; what depends on them is worked out again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any
from uuid import UUID

from finearc.catalogue.library import clubs
from finearc.core.events.model import ORDER, Checkpoint
from finearc.services.capture.recordings import rejudge, rejudge_lesson, rejudge_player, reread
from finearc.services.errors import Refused
from finearc.services.judging.terms import terms_of
from finearc.services.ports import ColumnCodec, UnitOfWork
from finearc.services.records import ChangeEntry, Lesson, Player, Recording, Swing

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
GUESS_SIDES = ("lead", "even", "trail")
GUESS_FEET = ("toes", "middle", "heels")
FARTHEST_SHIFT_S = 20.0


def change_swing(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, fields: Mapping[str, Any], label: str) -> None:
    """Set fields of a swing, remember the old ones, work out what depends on them."""
    before = {name: getattr(swing, name) for name in fields}
    if before == dict(fields):
        return
    _remember(uow, swing.lesson_id, ("swing", swing.id), before, fields, label)
    _apply(uow, codec, swing, fields)


def change_recording(
    uow: UnitOfWork, codec: ColumnCodec, recording: Recording, fields: Mapping[str, Any], label: str
) -> None:
    """The same for a recording."""
    before = {name: getattr(recording, name) for name in fields}
    if before == dict(fields):
        return
    _remember(uow, recording.lesson_id, ("recording", recording.id), before, fields, label)
    _apply_to_recording(uow, codec, recording, fields)


def _remember(
    uow: UnitOfWork,
    lesson_id: UUID,
    entity: tuple[str, UUID],
    before: Mapping[str, Any],
    after: Mapping[str, Any],
    label: str,
) -> None:
    sequence = 1 + max((c.sequence for c in uow.find(ChangeEntry, lesson_id=lesson_id)), default=0)
    for stale in uow.find(ChangeEntry, lesson_id=lesson_id, undone=True):
        uow.remove(stale)
    uow.add(ChangeEntry(uow.academy_id, lesson_id, sequence, label, *entity, dict(before), dict(after)))


def _apply_to_recording(uow: UnitOfWork, codec: ColumnCodec, recording: Recording, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(recording, name, value)
    uow.flush()
    reread(uow, codec, recording)
    uow.flush()


def change_terms(uow: UnitOfWork, lesson: Lesson, schools: Mapping[str, str], label: str = "") -> None:
    """Judge by other schools, which become the player's, or by other ranges from now on; can be undone. Lessons that
    are closed, other than this one, keep what they were judged by."""
    player = uow.get(Player, lesson.player_id)
    if schools:
        wanted = {**player.schools, **schools}
        if wanted != player.schools:
            told = ", ".join(f"{axis} {option}".replace("_", " ") for axis, option in schools.items())
            _remember(
                uow, lesson.id, ("player", player.id), {"schools": dict(player.schools)}, {"schools": wanted}, told
            )
            _apply_to_player(uow, lesson, player, {"schools": wanted})
    if label and label != lesson.benchmarks:
        before = {"benchmarks": lesson.benchmarks}
        _remember(uow, lesson.id, ("lesson", lesson.id), before, {"benchmarks": label}, f"judged by {label}")
        _apply_to_lesson(uow, lesson, {"benchmarks": label})


def _apply_to_player(uow: UnitOfWork, lesson: Lesson, player: Player, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(player, name, value)
    uow.flush()
    rejudge_player(uow, player)
    if lesson.status == "closed":
        rejudge_lesson(uow, lesson)


def _apply_to_lesson(uow: UnitOfWork, lesson: Lesson, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(lesson, name, value)
    uow.flush()
    rejudge_lesson(uow, lesson)


def _apply_entry(uow: UnitOfWork, codec: ColumnCodec, entry: ChangeEntry, fields: Mapping[str, Any]) -> None:
    if entry.entity == "recording":
        _apply_to_recording(uow, codec, uow.get(Recording, entry.entity_id), fields)
    elif entry.entity == "player":
        lesson = uow.get(Lesson, entry.lesson_id)
        _apply_to_player(uow, lesson, uow.get(Player, entry.entity_id), fields)
    elif entry.entity == "lesson":
        _apply_to_lesson(uow, uow.get(Lesson, entry.entity_id), fields)
    else:
        _apply(uow, codec, uow.get(Swing, entry.entity_id), fields)


def _apply(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(swing, name, value)
    uow.flush()
    if {"events_corrected", "split_m"} & set(fields):
        reread(uow, codec, uow.get(Recording, swing.recording_id))
    elif "club" in fields:
        lesson = uow.get(Lesson, swing.lesson_id)
        rejudge(uow, swing, terms_of(uow, lesson, uow.get(Player, lesson.player_id)))
    uow.flush()


def undo(uow: UnitOfWork, codec: ColumnCodec, lesson: Lesson) -> ChangeEntry:
    """Take the last change back. Raises ``Refused`` when there is none."""
    entries = [c for c in uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence") if not c.undone]
    if not entries:
        raise Refused("there is nothing to undo in this lesson")
    entry = entries[-1]
    _apply_entry(uow, codec, entry, entry.before)
    entry.undone = True
    uow.flush()
    return entry


def redo(uow: UnitOfWork, codec: ColumnCodec, lesson: Lesson) -> ChangeEntry:
    """Do the last undone change again. Raises ``Refused`` when there is none."""
    entries = [c for c in uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence") if c.undone]
    if not entries:
        raise Refused("there is nothing to do again in this lesson")
    entry = entries[0]
    _apply_entry(uow, codec, entry, entry.after)
    entry.undone = False
    uow.flush()
    return entry


def set_kind(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, kind: str, reason: str = "") -> None:
    """Mark the kind; a discard needs a reason."""
    if kind not in KINDS:
        raise Refused(f'there is no kind "{kind}"', f"Known: {', '.join(KINDS)}")
    if kind == "discard" and not reason.strip():
        raise Refused("a discarded swing needs a reason", "Say why, for example: topped, sensor loose")
    change_swing(
        uow,
        codec,
        swing,
        {"kind": kind, "discard_reason": reason if kind == "discard" else ""},
        f"swing {swing.number}: {KINDS[kind]}",
    )


def set_ball(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, start: str, curve: str) -> None:
    """Where the ball started and curved, by lead and trail side; both empty clears it."""
    if (start, curve) != ("", "") and (start not in SIDES or curve not in SIDES):
        raise Refused("start and curve are each lead, straight or trail")
    change_swing(uow, codec, swing, {"ball_start": start, "ball_curve": curve}, f"swing {swing.number}: ball flight")


def set_strike(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, strike: str) -> None:
    """How the ball was struck; empty clears it."""
    if strike and strike not in STRIKES:
        raise Refused(f'there is no strike "{strike}"', f"Known: {', '.join(STRIKES)}")
    change_swing(uow, codec, swing, {"strike": strike}, f"swing {swing.number}: strike")


def set_club(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, club: str) -> None:
    """The club of one swing; its verdicts follow."""
    if club not in clubs():
        raise Refused(f'there is no club "{club}"')
    change_swing(uow, codec, swing, {"club": club}, f"swing {swing.number}: {clubs()[club].label}")


def set_tags(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, tags: Sequence[str]) -> None:
    """Words by which the swing is found again, such as *skilled*; at most 40 letters each."""
    clean = list(dict.fromkeys(" ".join(t.lower().split()) for t in tags if t.strip()))
    if any(len(t) > 40 for t in clean):
        raise Refused("a tag has at most 40 letters", "Choose a shorter word")
    change_swing(uow, codec, swing, {"tags": clean}, f"swing {swing.number}: {', '.join(clean) or 'no tag'}")


def set_event(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, name: Checkpoint, time_s: float | None) -> None:
    """The instructor's own instant of a checkpoint (s), or None to go back to the detected one."""
    corrected = dict(swing.events_corrected)
    if time_s is None:
        corrected.pop(name.value, None)
    else:
        _check_place(swing, name, time_s)
        corrected[name.value] = round(float(time_s), 4)
    change_swing(uow, codec, swing, {"events_corrected": corrected}, f"swing {swing.number}: {name.value} moved")


def set_guess(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, side: str, foot: str) -> None:
    """Where the player felt the pressure at impact, asked before it is shown; both empty takes it back."""
    if (side, foot) != ("", "") and (side not in GUESS_SIDES or foot not in (*GUESS_FEET, "")):
        raise Refused("the guess is lead, even or trail, and toes, middle or heels")
    guess = {"side": side, "foot": foot, "at": Checkpoint.IMPACT.value} if side else None
    change_swing(uow, codec, swing, {"guess": guess}, f"swing {swing.number}: guess")


def set_split(uow: UnitOfWork, codec: ColumnCodec, swing: Swing, split_m: float | None) -> None:
    """The instructor's line between the feet, m toward the target, or None to find it again."""
    if not swing.result.get("ground"):
        raise Refused("no pressure was recorded in this swing")
    change_swing(uow, codec, swing, {"split_m": split_m}, f"swing {swing.number}: line between the feet")


def set_mat_shift(uow: UnitOfWork, codec: ColumnCodec, recording: Recording, shift_s: float | None) -> None:
    """Shift of the mat's clock by hand, s, or None to estimate it again; all swings of the recording are read again."""
    if recording.mat_set is None:
        raise Refused("this recording has no pressure mat")
    if shift_s is not None and abs(shift_s) > FARTHEST_SHIFT_S:
        raise Refused(f"a shift of {shift_s:.1f} s is more than {FARTHEST_SHIFT_S:.0f} s", "Give seconds")
    change_recording(uow, codec, recording, {"mat_shift_s": shift_s}, f"recording {recording.number}: the mat's clock")


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
