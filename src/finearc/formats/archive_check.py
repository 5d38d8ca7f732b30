"""What an export has kept, read once as it will be read ever after, before anything of it is kept here."""

from __future__ import annotations

import json
import struct
import zlib
from collections.abc import Mapping
from typing import Any

import numpy as np

from finearc.catalogue import library
from finearc.core.errors import FineArcError
from finearc.core.sources.kind import Columns, Kind
from finearc.formats.bounds import MOST_NUMBERS, refuse_many
from finearc.formats.errors import BundleError
from finearc.formats.round_bundle import log_of
from finearc.services.capture.raw import UNREAD
from finearc.services.course.document import refuse_unreadable
from finearc.services.people.bringing import BroughtLesson
from finearc.services.ports import RawCodec
from finearc.services.record.blocks import GROUND, KINDS, unpack_traces
from finearc.services.record.codec import table_of, unpack_record
from finearc.services.record.ground import MAGIC as GROUND_MAGIC
from finearc.services.record.judgements import told, unpack_judgement
from finearc.services.record.table import check_layout
from finearc.wording import mark, tr

AGAIN = mark("Export it again, and bring the file as it was made")
MOST_GROUND = 64_000_000
"""Bytes of the pictures of one swing, opened (house value)."""
UNREAD_SWING = mark("what was measured in a swing cannot be read")
UNREADABLE = (
    ValueError,
    KeyError,
    IndexError,
    TypeError,
    AttributeError,
    OverflowError,
    RecursionError,
    struct.error,
    zlib.error,
)


def check_lesson(name: str, lesson: BroughtLesson, codec: RawCodec) -> None:
    """What is kept of its swings and its raw columns can be read. Raises ``BundleError``."""
    for parts in lesson.kept.values():
        for part, content in parts.items():
            check_part(name, part, content)
    for recording in lesson.record["recordings"]:
        try:
            _check_recording(name, lesson, recording, codec)
        except BundleError:
            raise
        except (*UNREADABLE, FineArcError, OSError) as error:
            problem = tr("the raw samples of a recording cannot be read ({brief})", brief=_brief(error))
            raise BundleError(name, problem, advice=tr(AGAIN)) from None


def check_rounds(name: str, record: Mapping[str, Any], logs: Mapping[str, bytes], codec: RawCodec) -> None:
    """Rounds and their clips' logs (columns by id) can be read. Raises ``BundleError``."""
    try:
        for kept in record.get("rounds", []):
            refuse_unreadable(kept["document"])
        numbers = 0
        for log in record.get("round_logs", []):
            columns = codec.unpack(logs[log["id"]])
            numbers += sum(c.size for c in columns.values())
            refuse_many(name, tr("numbers in the rounds"), numbers, MOST_NUMBERS)
            log_of(log["club"], columns)
    except BundleError:
        raise
    except (*UNREADABLE, FineArcError, OSError) as error:
        raise BundleError(name, tr("a round cannot be read ({brief})", brief=_brief(error)), advice=tr(AGAIN)) from None


def check_part(name: str, part: str, content: bytes) -> None:
    """A part of what is kept of a swing (record, judgement, a block). Raises ``BundleError``."""
    try:
        if part == "record":
            check_layout(table_of(content))
            measured = list(unpack_record(content).values.values())
            readable = bool(np.isfinite([m.value for m in measured]).all())
        elif part == "judgement":
            check_layout(told(content).table)
            unpack_judgement(content, library.ranges())
            readable = True
        else:
            kind = part.removeprefix("block ")
            readable = kind in KINDS and bool(unpack_traces(_way(content) if kind == GROUND else content))
    except (*UNREADABLE, FineArcError) as error:
        raise BundleError(
            name, tr("what was measured in a swing cannot be read ({brief})", brief=_brief(error)), advice=tr(AGAIN)
        ) from None
    if not readable:
        raise BundleError(name, tr("what was measured in a swing cannot be read"), part, tr(AGAIN))


def _way(block: bytes) -> bytes:
    """The way of the pressure in a block of the ground. Raises ``ValueError``, ``zlib.error``."""
    opened = zlib.decompressobj().decompress(block, MOST_GROUND + 1)
    size = int.from_bytes(opened[4:8], "little")
    if opened[:4] != GROUND_MAGIC or len(opened) > MOST_GROUND:
        raise ValueError("no pictures of the ground")
    header = json.loads(opened[8 : 8 + size])
    return opened[8 + size : 8 + size + header["way"]]


def _check_recording(name: str, lesson: BroughtLesson, recording: Mapping[str, Any], codec: RawCodec) -> None:
    by_kind: dict[Kind, dict[str, list[Columns]]] = {}
    numbers = 0
    for chunk in sorted(lesson.record["chunks"], key=lambda c: int(c["sequence"])):
        kind = codec.kind_of(chunk["segment"])
        if chunk["recording_id"] != recording["id"] or kind is None or chunk["key"].startswith(UNREAD):
            continue
        columns = codec.unpack(lesson.chunks[chunk["id"]])
        numbers += sum(c.size for c in columns.values())
        refuse_many(name, tr("numbers in one recording"), numbers, MOST_NUMBERS)
        by_kind.setdefault(kind, {}).setdefault(chunk["segment"], []).append(columns)
    for kind, groups in by_kind.items():
        kind.unpack(groups, recording["described"].get(kind.key, {}))


def _brief(error: Exception) -> str:
    return (str(error) or type(error).__name__)[:80]
