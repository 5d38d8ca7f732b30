"""A recording's raw streams: kept as chunks of columns, given back as a capture."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.sources.ground import MAT
from finearc.core.sources.kind import Columns, Kind
from finearc.services.capture.putts import notes_of
from finearc.services.errors import Refused
from finearc.services.judging import analysis as an
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.records import Chunk, Lesson, Player, Recording, Swing
from finearc.wording import tr

Streams = Mapping[Kind, Any]
"""Raw streams by their kind: all of a recording, or a stretch."""
POSES, ADDRESS = "poses", "address"
LIFTED = "lifted"
"""The upper arm's pose, among the poses that are kept."""
"""Keys of a live recording's first batches."""
UNREAD = "unread-"
"""How the key of a batch begins that could not be read: it is kept, and left out of what is read."""


def key_of_swing(number: int) -> str:
    """Key of the batch that completes a live recording's swing, counted from 0."""
    return f"swing-{number}"


def keys_of(uow: UnitOfWork, recording: Recording) -> frozenset[str]:
    """The batches that were kept."""
    keys = (c.key.split("+")[0] for c in uow.find(Chunk, recording_id=recording.id))
    return frozenset(k.removeprefix(UNREAD) for k in keys)


def append(uow: UnitOfWork, codec: RawCodec, recording: Recording, streams: Streams, key: str) -> bool:
    """Keep raw streams. A repeated ``key`` changes nothing; returns whether anything was added."""
    if uow.find(Chunk, recording_id=recording.id, key=key):
        return False
    sequence = 1 + (uow.greatest(Chunk, "sequence", recording_id=recording.id) or 0)
    kept = set(recording.segments)
    for kind, stream in streams.items():
        packed = kind.pack(stream)
        for group, pieces in packed.groups.items():
            for k, piece in enumerate(pieces):
                name = f"{key}+{k}" if k else key
                uow.add(Chunk(uow.academy_id, recording.id, group, sequence + k, name, codec.pack(piece)))
            kept.add(group)
        if packed.described:
            recording.described = {**recording.described, kind.key: dict(packed.described)}
    recording.segments = sorted(kept)
    uow.flush()
    return True


def streams_of(uow: UnitOfWork, codec: RawCodec, recording: Recording, but: str = "") -> Streams:
    """The recording's raw streams, its chunks joined, without the batch ``but``. What no known kind owns stays where
    it is."""
    by_kind: dict[Kind, dict[str, list[Columns]]] = {}
    for chunk in uow.find(Chunk, recording_id=recording.id, order="sequence"):
        kind = codec.kind_of(chunk.segment)
        if kind is None or chunk.key.split("+")[0] == but or chunk.key.startswith(UNREAD):
            continue
        by_kind.setdefault(kind, {}).setdefault(chunk.segment, []).append(codec.unpack(chunk.columns))
    return {kind: kind.unpack(groups, _described(recording, kind)) for kind, groups in by_kind.items()}


def _described(recording: Recording, kind: Kind) -> Mapping[str, Any]:
    known = recording.described.get(kind.key, {})
    return {**known, "shift_s": recording.mat_shift_s} if kind == MAT else known


def has_own_clock(recording: Recording) -> bool:
    """Whether the recording's mat has a clock of its own."""
    return bool(recording.described.get(MAT.key, {}).get("own_clock"))


def data_of(
    uow: UnitOfWork,
    codec: RawCodec,
    recording: Recording,
    swings: Sequence[Swing] | None,
    but: str = "",
) -> an.CaptureData:
    """The recording as a capture; ``swings`` None looks for them; ``but`` as in ``streams_of``. Raises ``Refused``
    where the samples were let go."""
    if recording.raw_gone_at is not None:
        why = tr("the samples of this recording were let go, as the academy has chosen")
        raise Refused(why, tr("What was measured stays as it is"))
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    functional = (
        FunctionalWindows(**{k: tuple(v) for k, v in recording.functional.items()}) if recording.functional else None
    )
    return an.CaptureData(
        streams_of(uow, codec, recording, but),
        recording.created_at,
        Hand(recording.handedness),
        player.height_m,
        player.population,
        swings[0].club if swings else lesson.club,
        Shot(swings[0].shot if swings else recording.shot),
        tuple(PoseWindow(k, a, b) for k, a, b in recording.poses if k != LIFTED),
        functional,
        None if swings is None else tuple((s.start_s, s.end_s) for s in swings),
        uprights=tuple((a, b) for a, b in recording.uprights),
        bow=(recording.bow[0], recording.bow[1]) if recording.bow else None,
        lifted=next(((a, b) for k, a, b in recording.poses if k == LIFTED), None),
        putting=notes_of(recording, swings),
    )
