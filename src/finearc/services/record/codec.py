"""The one way in and out of bytes for what is measured in a swing: a document ``FAS2``. It has a short head of its own
before it (length, JSON): what judging reads, without the rest."""

from __future__ import annotations

import struct
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, NamedTuple, cast

import numpy as np
import orjson
from pydantic import TypeAdapter

from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.ranges import CHECKPOINTS, Key
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.registry import BY_ID
from finearc.core.sources.address_check import GripChange
from finearc.services.record.document import FigureInfo, GroundInfo, SwingRecord
from finearc.services.record.framing import UnknownDocument, document, parts, read_head
from finearc.services.record.table import LayoutReader, pack_table

RECORD = b"FAS2"


@dataclass(frozen=True)
class _OtherValue:
    source: str
    value: float
    uncertainty: float


@dataclass(frozen=True)
class _RecordHead:
    """All of a record but its values; ``others``: what less certain sources saw, by row of the table."""

    version: int
    engine: str
    start_s: float
    end_s: float
    checkpoints: dict[Checkpoint, Event]
    detected: dict[Checkpoint, Event]
    absent: dict[Checkpoint, str]
    warnings: tuple[str, ...]
    sensor_moved: bool
    traced: tuple[str, ...]
    doubt: str
    figure: FigureInfo | None
    ground: GroundInfo | None
    others: dict[int, tuple[_OtherValue, ...]]
    grip: GripChange | None = None


_RECORD_HEAD = TypeAdapter(_RecordHead)


@dataclass(frozen=True, eq=False)
class _ValueLayout:
    """Key, metric, moment, source, not-judged reason and note of each row; why other metrics are missing."""

    rows: tuple[tuple[Key, Metric, Moment, Source, str, str], ...]
    known: tuple[int, ...]
    missing: Mapping[str, str]


def _value_layout(raw: Any) -> _ValueLayout:
    known = [k for k, row in enumerate(raw["rows"]) if row[0] in BY_ID]
    rows = tuple(
        ((metric, moment), BY_ID[metric], Moment(moment), Source(source), reason, note)
        for metric, moment, source, reason, note in (raw["rows"][k] for k in known)
    )
    return _ValueLayout(rows, tuple(known), raw["missing"])


_VALUES = LayoutReader(_value_layout, 3)


def pack_record(record: SwingRecord) -> bytes:
    """A record as bytes."""
    measured = list(record.values.values())
    others = {
        k: tuple(_OtherValue(o.source, o.value, o.uncertainty) for o in m.others)
        for k, m in enumerate(measured)
        if m.others
    }
    head = _RecordHead(
        record.version,
        record.engine,
        record.start_s,
        record.end_s,
        dict(record.checkpoints),
        dict(record.detected),
        dict(record.absent),
        record.warnings,
        record.sensor_moved,
        record.traced,
        record.doubt,
        record.figure,
        record.ground,
        others,
        record.grip,
    )
    rows = [[m.metric.id, m.moment.key, m.source.value, m.not_judged_reason, m.note] for m in measured]
    numbers = np.array([[m.value, m.uncertainty, m.calibration_part] for m in measured]).reshape(-1, 3).T
    table = pack_table({"rows": rows, "missing": dict(record.missing)}, numbers)
    brief = {
        "times": {k.value: e.time_s for k, e in record.checkpoints.items()},
        "traced": record.traced,
        "sensor_moved": record.sensor_moved,
        "doubt": record.doubt,
    }
    short = orjson.dumps(brief, option=orjson.OPT_SERIALIZE_NUMPY)
    return struct.pack("<I", len(short)) + short + document(RECORD, _RECORD_HEAD.dump_json(head), table)


def unpack_values(block: bytes, keys: frozenset[Key] | None = None) -> tuple[dict[Key, Measured], Mapping[str, str]]:
    """The values of a record alone, of the given ones only if so asked, and why others are missing: what judging again
    needs, without the rest of the document."""
    return _values(table_of(block), keys)


def _values(table: bytes, keys: frozenset[Key] | None = None) -> tuple[dict[Key, Measured], Mapping[str, str]]:
    layout, columns = _VALUES.read(table)
    at, rows = _wanted(layout, keys)
    numbers = columns[:, at].T.tolist()
    values = {
        key: Measured(metric, moment, value, sd, part, source, (), reason, note)
        for (key, metric, moment, source, reason, note), (value, sd, part) in zip(rows, numbers, strict=True)
    }
    return values, layout.missing


@lru_cache(maxsize=1024)
def _wanted(layout: _ValueLayout, keys: frozenset[Key] | None) -> tuple[Any, tuple[Any, ...]]:
    """Where the wanted values stand in the table, and what each of them is."""
    chosen = [k for k, row in enumerate(layout.rows) if keys is None or row[0] in keys]
    at = np.array([layout.known[k] for k in chosen], dtype=np.intp)
    return at, tuple(layout.rows[k] for k in chosen)


class ToJudge(NamedTuple):
    """What judging reads of a record."""

    values: dict[Key, Measured]
    missing: Mapping[str, str]
    times: dict[Checkpoint, float]
    traced: tuple[str, ...]
    sensor_moved: bool
    doubt: str


def unpack_to_judge(block: bytes, keys: frozenset[Key]) -> ToJudge:
    """What judging reads of a record, for many in a row: the short head is taken as it was written."""
    short, rest = _short(block)
    brief = orjson.loads(short)
    values, missing = _values(parts(RECORD, rest)[1], keys)
    times = {CHECKPOINTS[k]: t for k, t in brief["times"].items()}
    return ToJudge(values, missing, times, tuple(brief["traced"]), brief["sensor_moved"], brief["doubt"])


def table_of(block: bytes) -> bytes:
    """The table of a record. Raises ``UnknownDocument``."""
    return parts(RECORD, _short(block)[1])[1]


def _short(block: bytes) -> tuple[bytes, bytes]:
    """The short head of a record, and the document after it."""
    (size,) = struct.unpack_from("<I", block, 0)
    if size > len(block) - 8:
        raise UnknownDocument(f"it begins with {block[:4]!r}")
    return block[4 : 4 + size], block[4 + size :]


def unpack_record(block: bytes) -> SwingRecord:
    """A record from its bytes. Raises ``UnknownDocument``."""
    text, table = parts(RECORD, _short(block)[1])
    head = cast(_RecordHead, read_head(_RECORD_HEAD, text))
    values, missing = _values(table)
    if head.others:
        layout, _ = _VALUES.read(table)
        for k, seen in head.others.items():
            if k not in layout.known:
                continue
            key = layout.rows[layout.known.index(k)][0]
            m = values[key]
            others = tuple(Measured(m.metric, m.moment, o.value, o.uncertainty, source=Source(o.source)) for o in seen)
            values[key] = m._replace(others=others)
    return SwingRecord(
        head.engine,
        head.start_s,
        head.end_s,
        head.checkpoints,
        head.detected,
        head.absent,
        values,
        missing,
        head.warnings,
        head.sensor_moved,
        head.traced,
        head.doubt,
        head.figure,
        head.ground,
        head.grip,
        head.version,
    )
