"""A session or a whole player as a zip of bundles plus JSON."""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any
from uuid import UUID

from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.services.capture.raw import data_of
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.judge import findings_of, judged_value
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.record.codec import unpack_record
from finearc.services.record.judgements import unpack_judgement
from finearc.services.record.result import record_result
from finearc.services.records import Block, Lesson, MovementLimit, Player, Priority, Recording, Swing


def _plain(value: Any) -> Any:
    if isinstance(value, (datetime, date)):
        return value.isoformat()
    if isinstance(value, UUID):
        return str(value)
    if isinstance(value, dict):
        return {k: _plain(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_plain(v) for v in value]
    return value


def _record(
    record: object,
    leave_out: tuple[str, ...] = ("academy_id", "_sa_instance_state"),
) -> dict[str, Any]:
    return {k: _plain(v) for k, v in vars(record).items() if k not in leave_out}


def swing_results(uow: UnitOfWork, lesson: Lesson, swings: Sequence[Swing]) -> dict[UUID, dict[str, Any]]:
    """What was measured in a lesson's swings and how it was judged, in the contract's shape."""
    ids = [s.id for s in swings]
    rule_set = rule_set_of(uow, lesson)
    judgements = uow.swings.judgements(ids)
    out = {}
    for key, block in uow.swings.records(ids).items():
        record, judgement = unpack_record(block), unpack_judgement(judgements[key], rule_set.ranges)
        values = [judged_value(record, judgement, k) for k in record.values]
        made = record_result(record, values, *findings_of(judgement, rule_set)).model_dump(mode="json")
        out[key] = {**made, "engine": record.engine, "benchmarks": judgement.benchmarks, "schools": judgement.schools}
    return out


def lesson_files(uow: UnitOfWork, codec: RawCodec, lesson: Lesson, folder: str = "") -> dict[str, bytes]:
    """A lesson's recordings as bundles and all that was noted about them."""
    recordings = uow.find(Recording, lesson_id=lesson.id, order="number")
    swings = uow.find(Swing, lesson_id=lesson.id, order="number")
    results = swing_results(uow, lesson, swings)
    record = {
        "lesson": _record(lesson),
        "recordings": [_record(t) for t in recordings],
        "swings": [{**_record(s), "result": results.get(s.id)} for s in swings],
        "blocks": [_record(b) for b in uow.find(Block, lesson_id=lesson.id, order="started_at")],
        "priorities": [_record(p) for p in uow.find(Priority, lesson_id=lesson.id, order="rank")],
    }
    files = {f"{folder}lesson.json": json.dumps(record, indent=1).encode()}
    for recording in recordings:
        own = [s for s in swings if s.recording_id == recording.id]
        if recording.segments:
            for name, content in bundle_files(data_of(uow, codec, recording, own)).items():
                files[f"{folder}recording-{recording.number}/{name}"] = content
    return files


def lesson_archive(uow: UnitOfWork, codec: RawCodec, lesson: Lesson) -> bytes:
    """One lesson as a zip."""
    return zip_bytes(lesson_files(uow, codec, lesson))


def player_archive(uow: UnitOfWork, codec: RawCodec, player: Player) -> bytes:
    """A whole player as a zip."""
    record = {
        "player": _record(player),
        "limits": [_record(x) for x in uow.find(MovementLimit, player_id=player.id)],
    }
    files = {"player.json": json.dumps(record, indent=1).encode()}
    for lesson in uow.find(Lesson, player_id=player.id, order="starts_at"):
        files |= lesson_files(uow, codec, lesson, f"lesson-{lesson.starts_at:%Y-%m-%d-%H%M}/")
    return zip_bytes(files)
