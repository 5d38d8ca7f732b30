"""A session or a whole player as a zip of bundles plus JSON."""

from __future__ import annotations

import hashlib
import json
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from datetime import date, datetime
from typing import IO, Any
from uuid import UUID

from finearc import __version__
from finearc.formats.bundle import bundle_files, zip_entry
from finearc.services.capture.clips import clips_of, content_of
from finearc.services.capture.raw import UNREAD, data_of
from finearc.services.course.records import OwnRange, Round, RoundCorrection, RoundLog
from finearc.services.diary.records import Package, Waiting
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.judge import findings_of, judged_value
from finearc.services.people.records import OwnPlayer
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.practice.records import PracticeAnswer, PracticePlan
from finearc.services.record.blocks import KINDS
from finearc.services.record.codec import unpack_record
from finearc.services.record.judgements import unpack_judgement
from finearc.services.record.result import record_result
from finearc.services.records import (
    Author,
    Block,
    ChangeEntry,
    Chunk,
    Clip,
    Consent,
    Instructor,
    Lesson,
    MadeOf,
    MovementLimit,
    Player,
    Priority,
    Recording,
    Reference,
    ShareLink,
    Swing,
    now,
)
from finearc.wording import tr

VERSION = 4
"""Since version 3 what is kept stands in an export byte for byte, and it can be brought into another academy; since
version 4 rounds and practice stand in it."""
File = tuple[str, Iterable[bytes]]
"""A name within the zip, and what the file holds, piece by piece."""


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


APART = ("academy_id", "_sa_instance_state")


def _record(record: object, leave_out: tuple[str, ...] = APART) -> dict[str, Any]:
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


def lesson_files(uow: UnitOfWork, codec: RawCodec, lesson: Lesson, folder: str = "") -> Iterator[File]:
    """A lesson's recordings as bundles, its videos, and all that was noted about them: marks, guesses, checkpoints
    moved, what was changed and by whom."""
    recordings = uow.find(Recording, lesson_id=lesson.id, order="number")
    swings = uow.find(Swing, lesson_id=lesson.id, order="number")
    results = swing_results(uow, lesson, swings)
    numbers = {s.id: s.number for s in swings}
    clips = {c: _clip_name(c, numbers[c.swing_id]) for c in clips_of(uow, list(numbers))}
    chunks = [c for r in recordings for c in uow.find(Chunk, recording_id=r.id, order="sequence")]
    kept = _kept(uow, swings)
    record = {
        "lesson": _record(lesson),
        "player": _record(uow.get(Player, lesson.player_id)),
        "recordings": [_record(t) for t in recordings],
        "swings": [{**_record(s), "result": results.get(s.id)} for s in swings],
        "chunks": [{**_record(c, (*APART, "columns")), "file": _chunk_name(c)} for c in chunks],
        "kept": {str(key): {part: name for part, name, _ in parts} for key, parts in kept.items()},
        "clips": [{**_record(c), "file": name} for c, name in clips.items()],
        "blocks": [_record(b) for b in uow.find(Block, lesson_id=lesson.id, order="started_at")],
        "priorities": [_record(p) for p in uow.find(Priority, lesson_id=lesson.id, order="rank")],
        "practice": [_record(p) for p in uow.find(PracticePlan, lesson_id=lesson.id)],
        "practice_answers": [_record(a) for a in uow.find(PracticeAnswer, lesson_id=lesson.id, order="at")],
        "summaries": {club: json.loads(d) for (_, club), d in uow.swings.summaries([lesson.id]).items()},
        "changes": [_record(c) for c in uow.find(ChangeEntry, lesson_id=lesson.id, order="sequence")],
        "links": [_record(x, (*APART, "token_hash")) for x in uow.find(ShareLink, lesson_id=lesson.id)],
        "authors": _authors(uow, [lesson.id]),
    }
    yield f"{folder}lesson.json", [_json(record)]
    for recording in recordings:
        own = [s for s in swings if s.recording_id == recording.id]
        place = f"{folder}recording-{recording.number}/"
        if recording.segments and recording.raw_gone_at is None:
            for name, content in bundle_files(data_of(uow, codec, recording, own)).items():
                yield f"{place}{name}", [content]
        yield from _unread(uow, recording, place)
    for chunk in chunks:
        yield f"{folder}{_chunk_name(chunk)}", [chunk.columns]
    for parts in kept.values():
        for _, name, content in parts:
            yield f"{folder}{name}", [content]
    for clip, name in clips.items():
        yield f"{folder}{name}", content_of(uow, clip)


def _chunk_name(chunk: Chunk) -> str:
    return f"kept/raw/{chunk.id}.parquet"


def _kept(uow: UnitOfWork, swings: Sequence[Swing]) -> dict[UUID, list[tuple[str, str, bytes]]]:
    """By swing: what is kept of its measuring and judging, byte for byte: part, file and content."""
    ids = [s.id for s in swings]
    records, judgements = uow.swings.records(ids), uow.swings.judgements(ids)
    blocks = {kind: uow.swings.blocks(ids, kind) for kind in KINDS}
    out = {}
    for s in swings:
        parts = {"record": records.get(s.id), "judgement": judgements.get(s.id)}
        parts |= {tr("block {kind}", kind=kind): of.get(s.id) for kind, of in blocks.items()}
        out[s.id] = [
            (part, f"kept/swings/{s.number}/{part.replace(' ', '-')}.bin", content)
            for part, content in parts.items()
            if content is not None
        ]
    return out


def _clip_name(clip: Clip, number: int) -> str:
    return f"videos/swing-{number}-{clip.view}.{clip.kind.split('/')[1]}"


def _unread(uow: UnitOfWork, recording: Recording, folder: str) -> Iterator[File]:
    """Raw columns that could not be read, as they were kept."""
    for c in uow.find(Chunk, recording_id=recording.id):
        if c.key.startswith(UNREAD):
            yield f"{folder}unread/{c.key}-{c.segment}.parquet", [c.columns]


def _authors(uow: UnitOfWork, ids: Sequence[UUID]) -> list[dict[str, Any]]:
    people = {p.id: p.name for p in uow.find(Instructor)}
    return [
        {**_record(a), "by": people.get(a.instructor_id, "")} for a in uow.find(Author, of_id=list(ids), order="at")
    ]


def _json(record: object) -> bytes:
    return json.dumps(record, indent=1).encode()


def _write(files: Iterable[File], what: str, out: IO[bytes]) -> None:
    """The zip, with a list of all files and their checksums, so that a copy can be checked without Fine Arc
    (``sha256sum -c SHA256SUMS``). Nothing but the piece in hand is in memory."""
    listed: list[dict[str, Any]] = []
    with zipfile.ZipFile(out, "w") as archive:
        for name, pieces in files:
            digest, size = hashlib.sha256(), 0
            with archive.open(zip_entry(name), "w", force_zip64=True) as entry:
                for piece in pieces:
                    entry.write(piece)
                    digest.update(piece)
                    size += len(piece)
            listed.append({"name": name, "bytes": size, "sha256": digest.hexdigest()})
        listed.sort(key=lambda file: str(file["name"]))
        manifest = {
            "format": "finearc-archive",
            "version": VERSION,
            "what": what,
            "made_by": f"Fine Arc {__version__}",
            "made_at": now().isoformat(),
            "files": listed,
        }
        archive.writestr(zip_entry("manifest.json"), _json(manifest))
        archive.writestr(zip_entry("SHA256SUMS"), "".join(f"{f['sha256']}  {f['name']}\n" for f in listed))


def lesson_archive(uow: UnitOfWork, codec: RawCodec, lesson: Lesson, out: IO[bytes]) -> None:
    """One lesson as a zip."""
    _write(lesson_files(uow, codec, lesson), "lesson", out)


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


def _player_files(uow: UnitOfWork, codec: RawCodec, player: Player) -> Iterator[File]:
    made = {x.of_id: x.what for x in uow.find(MadeOf, player_id=player.id)}
    references = uow.find(Reference, id=list(made))
    limits = uow.find(MovementLimit, player_id=player.id)
    rounds = uow.find(Round, player_id=player.id, order="played_at")
    logs = [x for r in rounds for x in uow.find(RoundLog, round_id=r.id, order="club")]
    record = {
        "player": _record(player),
        "limits": [_record(x) for x in limits],
        "consents": [_record(c) for c in uow.find(Consent, player_id=player.id, order="at")],
        "references": [{**_record(r), "traces": f"references/{r.id}.fat1"} for r in references],
        "made_of_their_swings": [{"what": what, "id": str(key)} for key, what in made.items()],
        "rounds": [_record(r) for r in rounds],
        "round_logs": [{**_record(x, (*APART, "columns")), "file": _log_name(x)} for x in logs],
        "own_ranges": [_record(r) for r in uow.find(OwnRange, player_id=player.id, order="club")],
        "round_corrections": [
            _record(c) for r in rounds for c in uow.find(RoundCorrection, round_id=r.id, order="number")
        ],
        "courses": [_record(p) for p in uow.find(Package, player_id=player.id, order="made_at")],
        "waiting": [_record(w) for w in uow.find(Waiting, player_id=player.id, order="made_at")],
        "shared_with": _shared_with(uow, player),
        "authors": _authors(uow, [player.id, *(x.id for x in limits)]),
    }
    yield "player.json", [_json(record)]
    for log in logs:
        yield _log_name(log), [log.columns]
    for reference in references:
        yield f"references/{reference.id}.fat1", [reference.traces]
    lessons = uow.find(Lesson, player_id=player.id, order="starts_at")
    for lesson, folder in zip(lessons, folder_names(lessons).values(), strict=True):
        yield from lesson_files(uow, codec, lesson, f"{folder}/")


def _shared_with(uow: UnitOfWork, player: Player) -> list[dict[str, str]]:
    """The instructors who open the player beside those who teach them; another academy has others."""
    shared = uow.find(OwnPlayer, player_id=player.id, order="at")
    names = {p.id: p.name for p in uow.find(Instructor, id=[x.instructor_id for x in shared])} if shared else {}
    return [{"name": names[x.instructor_id], "by": x.shared_by, "at": x.at.isoformat()} for x in shared]


def _log_name(log: RoundLog) -> str:
    return f"rounds/{log.id}.parquet"


def player_archive(uow: UnitOfWork, codec: RawCodec, player: Player, out: IO[bytes]) -> None:
    """A whole player as a zip: what is noted of them, consents, references made of their swings, and every lesson."""
    _write(_player_files(uow, codec, player), "player", out)
