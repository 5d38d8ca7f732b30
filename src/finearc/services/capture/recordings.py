"""Recordings: one fitting of the devices, its raw streams, its calibration and its swings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from uuid import UUID

from finearc.core.events.model import Checkpoint
from finearc.core.events.swings import Shot
from finearc.core.putting.notes import PuttNote
from finearc.core.sources.capture import CaptureReading, Prepared, Told, read_one
from finearc.core.sources.ground import ground_in
from finearc.services.capture.addresses import SENSOR, follow_answers, keep_address
from finearc.services.capture.calibrating import keep_calibration, keep_setup
from finearc.services.capture.prepared import KEPT
from finearc.services.capture.putts import keep_note, keep_session, mark_by_kind
from finearc.services.capture.raw import LIFTED, append, data_of
from finearc.services.errors import Refused
from finearc.services.judging import analysis as an
from finearc.services.judging.academy_rules import fix_version
from finearc.services.judging.judge import judge_record, outside_of
from finearc.services.judging.rejudge import judge_again, keep_judgement
from finearc.services.judging.terms import Terms, held_of, terms_of
from finearc.services.lesson.summary import refresh, refresh_many
from finearc.services.people.consent import refuse_withdrawn
from finearc.services.ports import MeasuredRows, RawCodec, UnitOfWork
from finearc.services.record import blocks
from finearc.services.record.codec import pack_record, unpack_record
from finearc.services.record.making import Made, Surroundings, record_of
from finearc.services.records import Lesson, Player, Recording, Swing, now
from finearc.wording import tr

Read = tuple[CaptureReading, Prepared]
"""A capture as it was measured, and what is needed to measure one of its swings again."""


def open_recording(
    uow: UnitOfWork,
    lesson: Lesson,
    player: Player,
    source: str,
    *,
    shot: Shot = Shot.FULL,
    glove: bool = False,
    scenario: str = "",
    seed: int = 0,
) -> Recording:
    """A new fit; from here on swings are not compared silently with those before."""
    refuse_withdrawn(uow, player)
    if lesson.status in ("cancelled", "no_show"):
        raise Refused(tr("this lesson does not take place"), tr("Plan it again in the diary first"))
    uow.hold(Lesson, lesson.id)  # recordings are numbered one after the other
    number = 1 + (uow.greatest(Recording, "number", lesson_id=lesson.id) or 0)  # of those set aside, too
    recording = Recording(
        uow.academy_id,
        lesson.id,
        number,
        source,
        player.handedness,
        glove,
        scenario=scenario,
        seed=seed,
        shot=shot.value,
    )
    uow.add(recording)
    if lesson.status == "planned":
        lesson.status = "running"
    uow.flush()
    return recording


def import_capture(
    uow: UnitOfWork,
    codec: RawCodec,
    lesson: Lesson,
    data: an.CaptureData,
    *,
    source: str = "bundle",
    kinds: Sequence[str] | None = None,
    glove: bool = False,
    key: str = "",
    made_at: Sequence[datetime] | None = None,
) -> Recording:
    """Read a capture and keep it, as ``keep_capture`` says. Raises a ``FineArcError`` before anything is kept."""
    read = read_capture(data, uow.get(Player, lesson.player_id))
    return keep_capture(
        uow, codec, lesson, data, read, source=source, kinds=kinds, glove=glove, key=key, made_at=made_at
    )


def read_capture(data: an.CaptureData, player: Player, told: Told | None = None) -> Read:
    """Measure a capture of a player; nothing is kept. ``told`` hears how many swings of how many are read.

    Raises a ``FineArcError`` when it cannot be analysed or is of a player of the other hand."""
    if data.handedness.value != player.handedness:
        raise Refused(
            tr(
                "the capture is of a {value}-handed player, {value2} plays {handedness}-handed",
                value=data.handedness.value,
                value2=player.name or tr("this player"),
                handedness=player.handedness,
            ),
            tr("Correct the hand in capture.json or in the player's page"),
        )
    data = replace(data, population=player.population)
    reading, prepared = an.read_and_prepare(data, swings_expected=False, told=told)
    if not reading.swings and reading.setup is None and reading.calibration is None:
        an.read(data)  # says why no swing was found
    return reading, prepared


def keep_capture(
    uow: UnitOfWork,
    codec: RawCodec,
    lesson: Lesson,
    data: an.CaptureData,
    read: Read,
    *,
    source: str = "bundle",
    kinds: Sequence[str] | None = None,
    glove: bool = False,
    key: str = "",
    made_at: Sequence[datetime] | None = None,
) -> Recording:
    """Keep a capture that was read with its swings: the path of a dropped bundle and of the demo. ``made_at``: when
    each swing was made, where it was not now."""
    player = uow.get(Player, lesson.player_id)
    reading, prepared = read
    recording = open_recording(uow, lesson, player, source, shot=data.shot, glove=glove)
    recording.poses = [[p.kind, p.start_s, p.end_s] for p in data.poses]
    recording.poses += [[LIFTED, *data.lifted]] if data.lifted else []
    if data.functional is not None:
        f = data.functional
        recording.functional = {k: list(getattr(f, k)) for k in ("straight", "raised", "flexion", "deviation")}
    recording.uprights = [list(w) for w in data.uprights]
    recording.bow = list(data.bow) if data.bow else None
    append(uow, codec, recording, data.streams, key or f"import-{recording.id}")
    keep_calibration(recording, reading)
    keep_session(recording, data.putting)
    lesson.club = data.club
    keep_setup(uow, recording, reading)
    block_id = lesson.block_id if not kinds else None
    swings = keep_swings(
        uow, lesson, player, recording, reading, data.club, kinds, data.shot.value, made_at, block_id=block_id
    )
    KEPT.put(recording, swings, prepared)
    return recording


def devices_ended(uow: UnitOfWork, lesson: Lesson) -> None:
    """No device of the lesson sends any more, nor after a crash."""
    for recording in uow.find(Recording, lesson_id=lesson.id):
        recording.live = None


def want_swings(uow: UnitOfWork, lesson: Lesson, count: int) -> None:
    """Write down that so many more swings of the lesson's stand-in are wanted, so that it goes on after a crash."""
    for recording in uow.find(Recording, lesson_id=lesson.id):
        if recording.live is not None:
            held = uow.hold(Recording, recording.id)  # what is captured meanwhile is noted in the same place
            held.live = {**(held.live or {}), "wanted": (held.live or {}).get("wanted", 0) + count}


def keep_swings(
    uow: UnitOfWork,
    lesson: Lesson,
    player: Player,
    recording: Recording,
    reading: CaptureReading,
    club: str,
    kinds: Sequence[str] | None,
    shot: str,
    made_at: Sequence[datetime] | None = None,
    *,
    block_id: UUID | None = None,
) -> list[Swing]:
    """Keep swings that were read, numbered on in their lesson, with values, verdicts and findings. ``block_id``: of
    the drill or test that they belong to."""
    refuse_withdrawn(uow, player)
    uow.hold(Lesson, lesson.id)  # swings are numbered one after the other, whoever brings them
    number = uow.greatest(Swing, "number", lesson_id=lesson.id) or 0
    fix_version(uow, lesson)
    terms = terms_of(uow, lesson, player)
    around = Surroundings.of(reading, player.height_m)
    answered = uow.find(Swing, recording_id=recording.id, grip_answer=SENSOR)
    kept = []
    for k, swing in enumerate(reading.swings):
        record = Swing(
            uow.academy_id,
            lesson.id,
            recording.id,
            player.id,
            number + k + 1,
            swing.start_s,
            swing.end_s,
            kinds[k] if kinds else lesson.kind,
            club,
            shot,
            block_id=block_id,
            captured_at=made_at[k] if made_at else now(),
        )
        keep_note(record, reading.putting.putts.get(k, PuttNote()))
        if kinds is None:
            mark_by_kind(record, swing)
        uow.add(record)
        keep_reading(uow, record, record_of(swing, around), terms, answered, again=False)
        kept.append(record)
    uow.flush()
    refresh(uow, lesson, player, {club, lesson.club}, terms)
    return kept


def set_aside(uow: UnitOfWork, recording: Recording, *, aside: bool) -> None:
    """Take a recording with its swings out of its lesson, or bring it back; then it is judged by what holds now."""
    known = uow.find if not recording.aside else uow.find_aside
    swings = known(Swing, recording_id=recording.id)
    recording.aside = aside
    for swing in swings:
        swing.aside = aside
    uow.flush()
    KEPT.forget(recording.id)
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    if not aside:
        rejudge(uow, swings, lesson, player)
    refresh(uow, lesson, player, {s.club for s in swings})


def keep_reading(
    uow: UnitOfWork, swing: Swing, made: Made, terms: Terms, among: Sequence[Swing], *, again: bool
) -> None:
    """Keep what was measured in a swing and how it is judged, together; ``again``: it was kept before. ``among``: the
    swings of its recording about which something was answered, at least."""
    ids = [swing.id]
    record = made.record
    if again:
        kept = uow.swings.records(ids).get(swing.id)
        if kept is not None:
            record = replace(record, detected=unpack_record(kept).detected)
    keep_address(swing, record, among)
    swing.measuring += again
    rows = MeasuredRows(pack_record(record), list(record.values.values()), made.blocks)
    uow.swings.measure(swing, rows, again=again)
    judgement = judge_record(record, terms, swing.club, swing.shot, moved=swing.sensor_moved)
    outside = outside_of(judgement.bands, blocks.unpack_traces(made.blocks[blocks.TRACES]))
    judgement = replace(judgement, outside=outside)
    before = uow.swings.judgements(ids).get(swing.id) if again else None
    uow.swings.judge([keep_judgement(swing, judgement, terms, before)])


def reread(uow: UnitOfWork, codec: RawCodec, recording: Recording) -> None:
    """Measure all swings of a recording again from its raw streams, with the instructor's instants."""
    swings = uow.find(Swing, recording_id=recording.id, order="number")
    if not swings:
        return
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    corrections = {k: instants_of(s) for k, s in enumerate(swings)}
    splits = {k: s.split_m for k, s in enumerate(swings) if s.split_m is not None}
    data = data_of(uow, codec, recording, swings)
    reading, prepared = an.read_and_prepare(data, corrections, splits_m=splits)
    KEPT.put(recording, swings, prepared)
    keep_calibration(recording, reading)
    terms = terms_of(uow, lesson, player)
    around = Surroundings.of(reading, player.height_m)
    for swing, read in zip(swings, reading.swings, strict=True):
        keep_reading(uow, swing, record_of(read, around), terms, swings, again=True)
    uow.flush()
    refresh(uow, lesson, player, {s.club for s in swings}, terms)


def instants_of(swing: Swing) -> dict[Checkpoint, float]:
    """Where the instructor has set checkpoints, s."""
    return {Checkpoint(name): t for name, t in swing.checkpoints_corrected.items()}


def _address_moved(uow: UnitOfWork, swing: Swing) -> bool:
    """Whether the instructor sets the address now, or did before."""
    before = unpack_record(uow.swings.records([swing.id])[swing.id]).checkpoints.get(Checkpoint.ADDRESS)
    return "address" in swing.checkpoints_corrected or (before is not None and before.method == "instructor")


def _clock_was_set(prepared: Prepared) -> bool:
    """Whether the swings themselves told the mat's clock."""
    ground = ground_in(prepared.motions)
    return ground is not None and ground.offset is not None


def reread_one(uow: UnitOfWork, codec: RawCodec, swing: Swing) -> None:
    """Measure one swing again, where nothing changed for the others: the whole recording only where the swing's own
    instants bear on all (the first address on where the sensors sit, an impact on a mat with a clock of its own)."""
    recording = uow.get(Recording, swing.recording_id)
    swings = uow.find(Swing, recording_id=recording.id, order="number")
    number = next(k for k, s in enumerate(swings) if s.id == swing.id)
    known = KEPT.get(recording, swings)
    if known is None or _clock_was_set(known) or (number == 0 and _address_moved(uow, swing)):
        reread(uow, codec, recording)
        return
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    read = read_one(known, number, instants_of(swing), swing.split_m)
    doubt = recording.warnings[0] if recording.warnings else ""
    around = Surroundings.in_(known.motions, doubt, player.height_m)
    terms = terms_of(uow, lesson, player)
    keep_reading(uow, swing, record_of(read, around), terms, swings, again=True)
    uow.flush()
    refresh(uow, lesson, player, {swing.club}, terms)


def rejudge(uow: UnitOfWork, swings: Sequence[Swing], lesson: Lesson, player: Player) -> None:
    """New verdicts for stored values of a lesson's swings, when their club changed."""
    terms = terms_of(uow, lesson, player)
    judge_again(uow, swings, lambda _: terms)
    for swing in swings:
        uow.swings.club_changed(swing)


def rejudge_recording(uow: UnitOfWork, recording: Recording) -> None:
    """The swings of a recording that may be judged now and were not before, or the other way round."""
    changed = follow_answers(uow, recording)
    if not changed:
        return
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    terms = terms_of(uow, lesson, player)
    judge_again(uow, changed, lambda _: terms)
    refresh(uow, lesson, player, {s.club for s in changed}, terms)


def rejudge_lesson(uow: UnitOfWork, lesson: Lesson) -> None:
    """All swings of a lesson under what holds for it now."""
    player = uow.get(Player, lesson.player_id)
    rejudge_lessons(uow, player, [lesson])


def rejudge_player(uow: UnitOfWork, player: Player) -> None:
    """The player's lessons that are not closed; a closed one keeps what it was judged by."""
    rejudge_lessons(uow, player, [x for x in uow.find(Lesson, player_id=player.id) if x.status != "closed"])


def rejudge_open(uow: UnitOfWork) -> None:
    """All lessons that have begun and are not closed: the academy's own findings or drills changed."""
    by_player: dict[UUID, list[Lesson]] = {}
    for lesson in uow.find(Lesson, status="running"):
        by_player.setdefault(lesson.player_id, []).append(lesson)
    for player in uow.find(Player, id=list(by_player)):
        rejudge_lessons(uow, player, by_player[player.id])


def rejudge_lessons(uow: UnitOfWork, player: Player, lessons: Sequence[Lesson]) -> None:
    """The swings of some of a player's lessons under what holds now, in a bounded number of queries."""
    if not lessons:
        return
    held = held_of(uow, player)
    terms = {x.id: terms_of(uow, x, player, held=held) for x in lessons}
    swings = uow.find(Swing, lesson_id=[x.id for x in lessons], order="number")
    judged = judge_again(uow, swings, lambda lesson_id: terms[lesson_id])
    refresh_many(uow, player, lessons, swings, judged, terms)
