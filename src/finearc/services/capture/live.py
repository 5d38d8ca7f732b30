"""A recording that goes on: what comes in is kept, and the swings that it completes."""

from __future__ import annotations

from dataclasses import replace
from uuid import UUID

import structlog

from finearc.core.errors import FineArcError
from finearc.core.events.swings import Shot
from finearc.core.live.reader import StretchRead, told
from finearc.core.putting.notes import PuttNote
from finearc.core.sources.capture import CaptureReading, prepare, read_prepared, with_notes
from finearc.core.sources.live import Live, begin, go_on
from finearc.services.capture.calibrating import is_calibrated
from finearc.services.capture.prepared import LIVE
from finearc.services.capture.putts import notes_of
from finearc.services.capture.raw import UNREAD, Streams, append, data_of
from finearc.services.capture.recordings import keep_swings
from finearc.services.errors import Refused
from finearc.services.judging import analysis as an
from finearc.services.known import PUTTER
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.putting.plan import next_distance
from finearc.services.records import Lesson, Player, Recording, Swing
from finearc.wording import tr

log = structlog.get_logger()


def extend_recording(
    uow: UnitOfWork, codec: RawCodec, recording: Recording, batch: Streams, key: str
) -> tuple[list[Swing], StretchRead | None]:
    """Append a stretch of a live recording and keep the swings that it completes; what it says to the live values, None
    where it could not be read. Only the new stretch is read, from what the one before it left; after a restart the
    recording is read whole once. Raises ``Refused``."""
    if not is_calibrated(recording):
        raise Refused(tr("the sensors are not calibrated"), tr("Hold both poses first"))
    if not append(uow, codec, recording, batch, key):
        return [], None
    lesson = uow.get(Lesson, recording.lesson_id)
    try:
        live = LIVE.get(recording.id) or _live_so_far(uow, codec, recording, key)
        reading, on = go_on(live, batch)
    except FineArcError as error:  # the raw streams stay: a later engine may read them
        log.warning("a stretch cannot be read", recording=str(recording.id), error=str(error))
        return [], None
    recording.warnings = list(reading.warnings)
    kept: list[Swing] = []
    if reading.swings:
        kept = _keep(uow, lesson, recording, reading)
    LIVE.put(recording.id, on)
    return kept, told(reading, on.states)


def _keep(uow: UnitOfWork, lesson: Lesson, recording: Recording, reading: CaptureReading) -> list[Swing]:
    """Swings with the club in hand; putts from where they are made now, practice strokes and tap-ins told apart."""
    player, shot = uow.get(Player, lesson.player_id), recording.shot
    if shot != Shot.PUTT:
        kinds = [kind_of(lesson.kind, swing.strike_felt) for swing in reading.swings]
        return keep_swings(uow, lesson, player, recording, reading, lesson.club, kinds, shot, block_id=lesson.block_id)
    noted = PuttNote(next_distance(lesson, uow.find(Swing, lesson_id=lesson.id)))
    session = notes_of(recording, None)
    notes = replace(session, putts=dict.fromkeys(range(len(reading.swings)), noted))
    putts = with_notes(reading, notes)
    return keep_swings(uow, lesson, player, recording, putts, PUTTER, None, shot, block_id=lesson.block_id)


def kind_of(next_kind: str, strike_felt: bool | None) -> str:
    """What a swing is that comes in while the next ones are of ``next_kind``: where hits are awaited and no strike was
    felt, a practice swing."""
    return "no_ball" if next_kind in ("normal", "test") and strike_felt is False else next_kind


def forget(recording_id: UUID) -> None:
    """What was read of a recording was not kept: it is read whole when it goes on."""
    LIVE.get(recording_id)


def keep_unread(uow: UnitOfWork, codec: RawCodec, recording: Recording, batch: Streams, key: str) -> None:
    """Keep a batch that could not be read, so that a later engine can."""
    append(uow, codec, recording, batch, f"{UNREAD}{key}")


def _live_so_far(uow: UnitOfWork, codec: RawCodec, recording: Recording, but: str) -> Live:
    """A live recording as it stood before the batch ``but``, read whole."""
    swings = uow.find(Swing, recording_id=recording.id, order="number")
    capture = an.capture_of(data_of(uow, codec, recording, swings, but), swings_expected=False)
    reading, prepared = read_prepared(prepare(capture), {}, {})
    return begin(capture, reading, prepared)
