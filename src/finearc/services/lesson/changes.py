"""Changes to swings, each of which can be undone; what depends on them is worked out again."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from finearc.catalogue.library import clubs
from finearc.catalogue.rule_set import RuleSet
from finearc.core.events.model import ORDER, Checkpoint
from finearc.core.judging.flight import Flight
from finearc.core.sources.ground import MAT
from finearc.services.capture.addresses import ANSWERS
from finearc.services.capture.recordings import (
    rejudge,
    rejudge_lesson,
    rejudge_player,
    rejudge_recording,
    reread,
    reread_one,
    set_aside,
)
from finearc.services.errors import Refused
from finearc.services.judging.academy_rules import lesson_schools, rule_set_of
from finearc.services.known import refuse_unknown_club
from finearc.services.lesson import documents as m
from finearc.services.lesson.summary import SHOWN, counting_swings, counts, flight_of, refresh, summarise_edit
from finearc.services.ports import LessonEdit, RawCodec, UnitOfWork
from finearc.services.record.codec import unpack_record
from finearc.services.record.document import SwingJudgement
from finearc.services.record.judgements import judgement_in_brief, unpack_judgement
from finearc.services.records import ChangeEntry, Clip, Instructor, Lesson, Player, Recording, Swing
from finearc.wording import mark, tr

GRIP_SAID = {"grip": mark("the grip changed"), "sensor": mark("the sensor moved"), "": mark("not answered")}
GUESS_SIDES = ("lead", "even", "trail")
GUESS_FEET = ("toes", "middle", "heels")
FARTHEST_SHIFT_S = 20.0


IN_SUMMARY = frozenset({"kind", "ball_start", "ball_curve", "strike", "club"})
"""What a summary rests on beside the values."""
OF_THE_BALL = frozenset({"ball_start", "ball_curve", "strike", "tags"})
"""What bears on a summary through the usual ball flight alone."""
MEASURED = frozenset({"checkpoints_corrected", "split_m", "distance_m"})
"""What measuring rests on."""
ONLY_NOTED = frozenset({"green_speed_ft", "putter_grip"})
"""Of a recording what nothing measured rests on."""


def swing_to_change(uow: UnitOfWork, swing_id: UUID) -> Swing:
    """A swing, its lesson held against other writers: changes of one lesson come one after the other."""
    uow.reads.hold_lesson_of(swing_id)
    return uow.get(Swing, swing_id)


def change_swing(uow: UnitOfWork, codec: RawCodec, swing: Swing, fields: Mapping[str, Any], label: str) -> None:
    """Set fields of a swing, remember the old ones, work out what depends on them."""
    before = {name: getattr(swing, name) for name in fields}
    if before == dict(fields):
        return
    remember(uow, swing.lesson_id, ("swing", swing.id), before, fields, label)
    _apply(uow, codec, swing, fields)


@dataclass(frozen=True)
class Marked:
    """What a mark on a swing changed: the swing with its judgement, the summaries made anew, what can be undone."""

    swing: Swing
    judgement: SwingJudgement
    rule_set: RuleSet
    player: Player
    flight: tuple[str, ...]
    summaries: Mapping[str, m.SummaryOut]
    undo: str | None
    redo: str | None


def mark_swing(uow: UnitOfWork, swing_id: UUID, fields_of: Callable[[Swing], tuple[Mapping[str, Any], str]]) -> Marked:
    """Change what an instructor notes of a swing (kind, ball, strike, tags): nothing is measured or judged, only the
    summary is made anew. ``fields_of`` says which fields and how the change is called. Raises ``NotFound`` and what
    ``fields_of`` raises."""
    edit = uow.reads.edit(swing_id)
    swing = next(s for s, _ in edit.swings if s.id == swing_id)
    fields, label = fields_of(swing)
    rule_set = rule_set_of(uow, edit.lesson, rules=edit.rules)
    before = {name: getattr(swing, name) for name in fields}
    flown = _flight(edit, swing)
    changed = before != dict(fields)
    if changed:
        if edit.undone:
            _forget_undone(uow, uow.find(ChangeEntry, lesson_id=edit.lesson.id, undone=True), uow.by)
        entity = ("swing", swing_id)
        for name, value in fields.items():
            setattr(swing, name, value)
        entry = (label, *entity, before, dict(fields))
        uow.add(ChangeEntry(uow.academy_id, edit.lesson.id, edit.sequence + 1, *entry, made_by=uow.by))
    flies = _flight(edit, swing)
    told = changed and bool(set(fields) & IN_SUMMARY) and (flies != flown or not set(fields) <= OF_THE_BALL)
    judged = {
        s.id: unpack_judgement(d, rule_set.ranges) if s is swing else judgement_in_brief(d, rule_set.ranges, SHOWN)
        for s, d in edit.swings
        if d is not None and (s is swing or (told and s.club == swing.club and counts(s)))
    }
    made = summarise_edit(uow, edit, rule_set, swing.club, judged) if told else {}
    redo = None if changed else _redo(uow, edit)
    undo = label if changed else edit.undo
    return Marked(swing, judged[swing_id], rule_set, edit.player, flies.words, made, undo, redo)


def _flight(edit: LessonEdit, swing: Swing) -> Flight:
    """The usual ball flight of the swing's club in the lesson as it is noted now."""
    return flight_of(counting_swings([s for s, _ in edit.swings], swing.club), edit.player)


def _redo(uow: UnitOfWork, edit: LessonEdit) -> str | None:
    if not edit.undone:
        return None
    undone = uow.find(ChangeEntry, lesson_id=edit.lesson.id, undone=True, order="sequence")
    return next((c.label for c in undone if _own(uow.by, c)), None)


def change_recording(
    uow: UnitOfWork, codec: RawCodec, recording: Recording, fields: Mapping[str, Any], label: str
) -> None:
    """The same for a recording."""
    before = {name: getattr(recording, name) for name in fields}
    if before == dict(fields):
        return
    remember(uow, recording.lesson_id, ("recording", recording.id), before, fields, label)
    _apply_to_recording(uow, codec, recording, fields)


def remember(
    uow: UnitOfWork,
    lesson_id: UUID,
    entity: tuple[str, UUID],
    before: Mapping[str, Any],
    after: Mapping[str, Any],
    label: str,
    by: UUID | None = None,
) -> None:
    """Note a change so that it can be taken back; what was taken back before cannot be done again."""
    by = by or uow.by
    known = uow.find(ChangeEntry, lesson_id=lesson_id, order="sequence")
    _forget_undone(uow, known, by)
    sequence = 1 + (known[-1].sequence if known else 0)
    told = (label, *entity, dict(before), dict(after))
    uow.add(ChangeEntry(uow.academy_id, lesson_id, sequence, *told, made_by=by))


IMPORTED = "import"
"""What an entry is about whose undoing sets a whole recording aside."""
CLIP = "clip"
"""What an entry is about that is about a swing's video."""
SEVERAL = "swings"
"""What an entry is about that is about several swings of its lesson: fields by swing."""
IS_THERE: Mapping[str, Any] = {"aside": False}
IS_ASIDE: Mapping[str, Any] = {"aside": True}


LONGEST_LABEL = 200


def remember_import(uow: UnitOfWork, recording: Recording, name: str, by: UUID | None) -> None:
    """A file was imported: undoing that takes its swings out of the lesson again, doing it again brings them back."""
    label = tr("import of {name}", name=name)[:LONGEST_LABEL]
    remember(uow, recording.lesson_id, (IMPORTED, recording.id), IS_ASIDE, IS_THERE, label, by)


def forget_undone(uow: UnitOfWork, lesson_id: UUID, by: UUID | None) -> None:
    """What somebody took back in a lesson is not done again: something else is."""
    _forget_undone(uow, uow.find(ChangeEntry, lesson_id=lesson_id, undone=True), by)


def _forget_undone(uow: UnitOfWork, entries: Sequence[ChangeEntry], by: UUID | None) -> None:
    """One's own changes that were taken back cannot be done again once something else was done; an import or a
    video among them is gone for good."""
    for stale in entries:
        if stale.undone and _own(by, stale):
            if stale.entity == IMPORTED:
                for recording in uow.find_aside(Recording, id=stale.entity_id):
                    uow.remove(recording)  # with its swings and raw streams
            if stale.entity == CLIP and stale.after == {"removed": False}:
                for clip in uow.find(Clip, id=stale.entity_id):
                    uow.remove(clip)  # with its pieces
            uow.remove(stale)


def _apply_to_import(uow: UnitOfWork, recording_id: UUID, fields: Mapping[str, Any]) -> None:
    found = [*uow.find(Recording, id=recording_id), *uow.find_aside(Recording, id=recording_id)]
    for recording in found:
        set_aside(uow, recording, aside=fields["aside"])


def _apply_to_clip(clip: Clip, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(clip, name, value)


def _apply_to_recording(uow: UnitOfWork, codec: RawCodec, recording: Recording, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(recording, name, value)
    uow.flush()
    if not set(fields) <= ONLY_NOTED:
        reread(uow, codec, recording)
        uow.flush()


def change_terms(uow: UnitOfWork, lesson: Lesson, schools: Mapping[str, str], label: str = "") -> None:
    """Judge by other schools, which become the player's, or by other ranges from now on; can be undone. Lessons that
    are closed, other than this one, keep what they were judged by."""
    player = uow.get(Player, lesson.player_id)
    held = lesson_schools(uow, lesson, player)
    if schools and any(held.get(axis) != option for axis, option in schools.items()):
        told = ", ".join(f"{axis} {option}".replace("_", " ") for axis, option in schools.items())
        if lesson.status == "closed":
            fields = {"schools": {**held, **schools}}
            remember(uow, lesson.id, ("lesson", lesson.id), {"schools": lesson.schools}, fields, told)
            _apply_to_lesson(uow, lesson, fields)
        else:
            fields = {"schools": {**player.schools, **schools}}
            remember(uow, lesson.id, ("player", player.id), {"schools": dict(player.schools)}, fields, told)
            _apply_to_player(uow, player, fields)
    if label and label != lesson.benchmarks:
        before = {"benchmarks": lesson.benchmarks}
        remember(
            uow, lesson.id, ("lesson", lesson.id), before, {"benchmarks": label}, tr("judged by {label}", label=label)
        )
        _apply_to_lesson(uow, lesson, {"benchmarks": label})


def _apply_to_player(uow: UnitOfWork, player: Player, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(player, name, value)
    uow.flush()
    rejudge_player(uow, player)


def _apply_to_lesson(uow: UnitOfWork, lesson: Lesson, fields: Mapping[str, Any]) -> None:
    for name, value in fields.items():
        setattr(lesson, name, value)
    uow.flush()
    rejudge_lesson(uow, lesson)


def apply_to_several(uow: UnitOfWork, codec: RawCodec, lesson: Lesson, fields: Mapping[str, Mapping[str, Any]]) -> None:
    """Set what is noted of several swings, by their ids; those it bears on are measured again, their clubs' summaries
    made anew once."""
    clubs, measured = set(), set()
    for swing in uow.find(Swing, id=[UUID(key) for key in fields]):
        for name, value in fields[str(swing.id)].items():
            setattr(swing, name, value)
        clubs.add(swing.club)
        if MEASURED & set(fields[str(swing.id)]):
            measured.add(swing.recording_id)
    uow.flush()
    for recording_id in measured:
        reread(uow, codec, uow.get(Recording, recording_id))
    refresh(uow, lesson, uow.get(Player, lesson.player_id), clubs)
    uow.flush()


def _apply_entry(uow: UnitOfWork, codec: RawCodec, entry: ChangeEntry, fields: Mapping[str, Any]) -> None:
    if entry.entity == "recording":
        _apply_to_recording(uow, codec, uow.get(Recording, entry.entity_id), fields)
    elif entry.entity == IMPORTED:
        _apply_to_import(uow, entry.entity_id, fields)
    elif entry.entity == CLIP:
        _apply_to_clip(uow.get(Clip, entry.entity_id), fields)
    elif entry.entity == "player":
        _apply_to_player(uow, uow.get(Player, entry.entity_id), fields)
    elif entry.entity == "lesson":
        _apply_to_lesson(uow, uow.get(Lesson, entry.entity_id), fields)
    elif entry.entity == SEVERAL:
        apply_to_several(uow, codec, uow.get(Lesson, entry.entity_id), fields)
    else:
        _apply(uow, codec, uow.get(Swing, entry.entity_id), fields)


def _apply(uow: UnitOfWork, codec: RawCodec, swing: Swing, fields: Mapping[str, Any]) -> None:
    club = swing.club
    for name, value in fields.items():
        setattr(swing, name, value)
    uow.flush()
    changed = set(fields)
    if changed & MEASURED:
        reread_one(uow, codec, swing)
    elif "grip_answer" in changed:
        rejudge_recording(uow, uow.get(Recording, swing.recording_id))
    elif changed & IN_SUMMARY:
        lesson = uow.get(Lesson, swing.lesson_id)
        player = uow.get(Player, lesson.player_id)
        if "club" in changed:
            rejudge(uow, [swing], lesson, player)
        refresh(uow, lesson, player, {club, swing.club})
    uow.flush()


def undo(uow: UnitOfWork, codec: RawCodec, lesson: Lesson) -> ChangeEntry:
    """Take one's own last change back. Raises ``Refused`` when there is none, or when somebody has changed the same
    since."""
    every = uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence")
    entries = [c for c in every if not c.undone and _own(uow.by, c)]
    if not entries:
        raise Refused(tr("there is nothing of yours to undo in this lesson"))
    entry = entries[-1]
    _refuse_built_upon(uow, entry, every)
    _apply_entry(uow, codec, entry, entry.before)
    entry.undone = True
    uow.flush()
    return entry


def redo(uow: UnitOfWork, codec: RawCodec, lesson: Lesson) -> ChangeEntry:
    """Do the last undone change again. Raises ``Refused`` when there is none."""
    every = uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence")
    entries = [c for c in every if c.undone and _own(uow.by, c)]
    if not entries:
        raise Refused(tr("there is nothing of yours to do again in this lesson"))
    entry = entries[0]
    _refuse_built_upon(uow, entry, every)
    _apply_entry(uow, codec, entry, entry.after)
    entry.undone = False
    uow.flush()
    return entry


def _own(by: UUID | None, entry: ChangeEntry) -> bool:
    """Whether it is a change of theirs; what was done before changes had authors is anybody's."""
    return entry.made_by is None or by is None or entry.made_by == by


def _refuse_built_upon(uow: UnitOfWork, entry: ChangeEntry, every: Sequence[ChangeEntry]) -> None:
    swings = {s.id for s in uow.find(Swing, recording_id=entry.entity_id)} if entry.entity == IMPORTED else set()
    if entry.entity == SEVERAL:
        swings = {UUID(key) for key in entry.after}
    for later in every:
        about_it = later.entity_id == entry.entity_id and set(later.after) & set(entry.after)
        in_it = later.entity == SEVERAL and str(entry.entity_id) in later.after
        same = about_it or in_it or later.entity_id in swings
        if later.sequence > entry.sequence and not later.undone and not _own(uow.by, later) and same:
            people = uow.find(Instructor, id=later.made_by)
            who = people[0].name if people else tr("Somebody")
            raise Refused(
                tr("{who} has changed the same since ({label})", who=who, label=later.label),
                tr("Change it by hand, or ask them"),
            )


def set_club(uow: UnitOfWork, codec: RawCodec, swing: Swing, club: str) -> None:
    """The club of one swing; its verdicts follow."""
    refuse_unknown_club(club)
    change_swing(
        uow, codec, swing, {"club": club}, tr("swing {number}: {label}", number=swing.number, label=clubs()[club].label)
    )


def set_event(uow: UnitOfWork, codec: RawCodec, swing: Swing, name: Checkpoint, time_s: float | None) -> None:
    """The instructor's own instant of a checkpoint (s), or None to go back to the detected one."""
    corrected = dict(swing.checkpoints_corrected)
    if time_s is None:
        corrected.pop(name.value, None)
    else:
        _check_place(uow, swing, name, time_s)
        corrected[name.value] = round(float(time_s), 4)
    change_swing(
        uow,
        codec,
        swing,
        {"checkpoints_corrected": corrected},
        tr("swing {number}: {value} moved", number=swing.number, value=name.value),
    )


def answer_grip(uow: UnitOfWork, codec: RawCodec, swing: Swing, answer: str) -> None:
    """What changed at this address: the *grip*, and swings stay judged, or the *sensor*, and this and later swings are
    not judged until the next calibration; empty takes the answer back."""
    if answer not in ANSWERS:
        raise Refused(tr('there is no answer "{answer}"', answer=answer), tr("It is grip or sensor"))
    if swing.grip_change is None:
        raise Refused(tr("nothing is asked about swing {number}'s address", number=swing.number))
    change_swing(
        uow,
        codec,
        swing,
        {"grip_answer": answer},
        tr("swing {number}: {grip_said}", number=swing.number, grip_said=GRIP_SAID[answer]),
    )


def set_guess(uow: UnitOfWork, codec: RawCodec, swing: Swing, side: str, foot: str) -> None:
    """Where the player felt the pressure at impact, asked before it is shown; both empty takes it back."""
    if (side, foot) != ("", "") and (side not in GUESS_SIDES or foot not in (*GUESS_FEET, "")):
        raise Refused(tr("the guess is lead, even or trail, and toes, middle or heels"))
    guess = {"side": side, "foot": foot, "at": Checkpoint.IMPACT.value} if side else None
    change_swing(uow, codec, swing, {"guess": guess}, tr("swing {number}: guess", number=swing.number))


def set_split(uow: UnitOfWork, codec: RawCodec, swing: Swing, split_m: float | None) -> None:
    """The instructor's line between the feet, m toward the target, or None to find it again."""
    if unpack_record(uow.swings.records([swing.id])[swing.id]).ground is None:
        raise Refused(tr("no pressure was recorded in this swing"))
    change_swing(
        uow, codec, swing, {"split_m": split_m}, tr("swing {number}: line between the feet", number=swing.number)
    )


def set_mat_shift(uow: UnitOfWork, codec: RawCodec, recording: Recording, shift_s: float | None) -> None:
    """Shift of the mat's clock by hand, s, or None to estimate it again; all swings of the recording are read again."""
    if MAT.key not in recording.described:
        raise Refused(tr("this recording has no pressure mat"))
    if shift_s is not None and abs(shift_s) > FARTHEST_SHIFT_S:
        raise Refused(
            tr(
                "a shift of {shift_s:.1f} s is more than {farthest_shift_s:.0f} s",
                shift_s=shift_s,
                farthest_shift_s=FARTHEST_SHIFT_S,
            ),
            tr("Give seconds"),
        )
    change_recording(
        uow,
        codec,
        recording,
        {"mat_shift_s": shift_s},
        tr("recording {number}: the mat's clock", number=recording.number),
    )


def _check_place(uow: UnitOfWork, swing: Swing, name: Checkpoint, time_s: float) -> None:
    if not swing.start_s <= time_s <= swing.end_s:
        raise Refused(
            tr(
                "{value} must lie within the swing ({start_s:.2f} to {end_s:.2f} s)",
                value=name.value,
                start_s=swing.start_s,
                end_s=swing.end_s,
            )
        )
    at = ORDER.index(name)
    for other, event in unpack_record(uow.swings.records([swing.id])[swing.id]).checkpoints.items():
        place = ORDER.index(other)
        wrong = (place < at and event.time_s >= time_s) or (place > at and event.time_s <= time_s)
        if other is not name and wrong:
            side = tr("after") if place < at else tr("before")
            raise Refused(
                tr(
                    "{value} must come {side} {value2}",
                    value=name.value.replace("_", " "),
                    side=side,
                    value2=other.replace("_", " "),
                ),
                tr("Move it between its neighbours"),
            )
