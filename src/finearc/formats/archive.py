"""A session or a whole player as a zip of bundles plus JSON."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Sequence
from datetime import date, datetime
from typing import Any
from uuid import UUID

from finearc import __version__
from finearc.formats.bundle import bundle_files, zip_bytes
from finearc.services.capture.raw import UNREAD, data_of
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.judge import findings_of, judged_value
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.record.codec import unpack_record
from finearc.services.record.judgements import unpack_judgement
from finearc.services.record.result import record_result
from finearc.services.records import (
    Author,
    Block,
    ChangeEntry,
    Chunk,
    Consent,
    Instructor,
    Lesson,
    MadeOf,
    MovementLimit,
    Player,
    Priority,
    Recording,
    Reference,
    Swing,
    now,
)


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
    """A lesson's recordings as bundles and all that was noted about them: marks, guesses, checkpoints moved, what was
    changed and by whom."""
    recordings = uow.find(Recording, lesson_id=lesson.id, order="number")
    swings = uow.find(Swing, lesson_id=lesson.id, order="number")
    results = swing_results(uow, lesson, swings)
    record = {
        "lesson": _record(lesson),
        "recordings": [_record(t) for t in recordings],
        "swings": [{**_record(s), "result": results.get(s.id)} for s in swings],
        "blocks": [_record(b) for b in uow.find(Block, lesson_id=lesson.id, order="started_at")],
        "priorities": [_record(p) for p in uow.find(Priority, lesson_id=lesson.id, order="rank")],
        "summaries": {club: json.loads(d) for (_, club), d in uow.swings.summaries([lesson.id]).items()},
        "changes": [_record(c) for c in uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence")],
        "authors": _authors(uow, [lesson.id]),
    }
    files = {f"{folder}lesson.json": _json(record)}
    for recording in recordings:
        own = [s for s in swings if s.recording_id == recording.id]
        if recording.segments:
            for name, content in bundle_files(data_of(uow, codec, recording, own)).items():
                files[f"{folder}recording-{recording.number}/{name}"] = content
        files |= _unread(uow, recording, f"{folder}recording-{recording.number}/")
    return files


def _unread(uow: UnitOfWork, recording: Recording, folder: str) -> dict[str, bytes]:
    """Raw columns that could not be read, as they were kept."""
    kept = [c for c in uow.find(Chunk, recording_id=recording.id) if c.key.startswith(UNREAD)]
    return {f"{folder}unread/{c.key}-{c.segment}.parquet": c.columns for c in kept}


def _authors(uow: UnitOfWork, ids: Sequence[UUID]) -> list[dict[str, Any]]:
    people = {p.id: p.name for p in uow.find(Instructor)}
    return [
        {**_record(a), "by": people.get(a.instructor_id, "")} for a in uow.find(Author, of_id=list(ids), order="at")
    ]


def _json(record: object) -> bytes:
    return json.dumps(record, indent=1).encode()


def _complete(files: dict[str, bytes], what: str) -> bytes:
    """The zip, with a list of all files and their checksums, so that a copy can be checked without Fine Arc
    (``sha256sum -c SHA256SUMS``)."""
    sums = {name: hashlib.sha256(content).hexdigest() for name, content in sorted(files.items())}
    manifest = {
        "format": "finearc-archive",
        "version": 2,
        "what": what,
        "made_by": f"Fine Arc {__version__}",
        "made_at": now().isoformat(),
        "files": [{"name": n, "bytes": len(files[n]), "sha256": s} for n, s in sums.items()],
    }
    listed = "".join(f"{s}  {n}\n" for n, s in sums.items()).encode()
    return zip_bytes({**files, "manifest.json": _json(manifest), "SHA256SUMS": listed})


def lesson_archive(uow: UnitOfWork, codec: RawCodec, lesson: Lesson) -> bytes:
    """One lesson as a zip."""
    return _complete(lesson_files(uow, codec, lesson), "lesson")


def folder_names(lessons: Sequence[Lesson]) -> dict[UUID, str]:
    """A folder for each lesson by its time; lessons of one minute are numbered."""
    out: dict[UUID, str] = {}
    for lesson in lessons:
        name = base = f"lesson-{lesson.starts_at:%Y-%m-%d-%H%M}"
        number = 1
        while name in out.values():
            number += 1
            name = f"{base}-{number}"
        out[lesson.id] = name
    return out


def player_archive(uow: UnitOfWork, codec: RawCodec, player: Player) -> bytes:
    """A whole player as a zip: what is noted of them, consents, references made of their swings, and every lesson."""
    made = {x.of_id: x.what for x in uow.find(MadeOf, player_id=player.id)}
    references = uow.find(Reference, id=list(made))
    limits = uow.find(MovementLimit, player_id=player.id)
    record = {
        "player": _record(player),
        "limits": [_record(x) for x in limits],
        "consents": [_record(c) for c in uow.find(Consent, player_id=player.id, order="at")],
        "references": [{**_record(r), "traces": f"references/{r.id}.fat1"} for r in references],
        "made_of_their_swings": [{"what": what, "id": str(key)} for key, what in made.items()],
        "authors": _authors(uow, [player.id, *(x.id for x in limits)]),
    }
    files = {"player.json": _json(record)}
    files |= {f"references/{r.id}.fat1": r.traces for r in references}
    lessons = uow.find(Lesson, player_id=player.id, order="starts_at")
    for lesson, folder in zip(lessons, folder_names(lessons).values(), strict=True):
        files |= lesson_files(uow, codec, lesson, f"{folder}/")
    return _complete(files, "player")
