"""The one way in and out of bytes for what is kept of a swing.

A document is ``FAS2`` or ``FAJ2``, the length of its head (uint32), the head as JSON, and one table of numbers
(``table``). A record has a short head of its own before it (length, JSON): what judging reads, without the rest. The
head is checked against the dataclasses by Pydantic when it is read; a version this application does not know is
refused."""

from __future__ import annotations

import struct
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, NamedTuple, cast

import numpy as np
import orjson
from pydantic import TypeAdapter, ValidationError

from finearc.catalogue.library import RangeLibrary
from finearc.core.errors import FineArcError
from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.bands import Knots
from finearc.core.judging.conditions import Outcome
from finearc.core.judging.ranges import Judged, Key, Verdict
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.registry import BY_ID
from finearc.services.record.document import (
    RECORD_VERSION,
    FigureInfo,
    GroundInfo,
    Spans,
    SwingJudgement,
    SwingRecord,
)
from finearc.services.record.table import LayoutReader, pack_table

RECORD, JUDGEMENT = b"FAS2", b"FAJ2"
VERDICTS = tuple(Verdict)


@dataclass
class UnknownDocument(FineArcError):
    """Bytes that are no document of a known version."""

    problem: str
    code = "unknown_document"

    def __str__(self) -> str:
        return f"A stored swing cannot be read: {self.problem}. Update Fine Arc, or restore a backup."


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


@dataclass(frozen=True)
class _JudgementHead:
    """All of a judgement but its values. ``fired``: rule to severity, probability and rows of its evidence;
    ``undecided``: rule to reason."""

    version: int
    benchmarks: str
    revision: int
    schools: dict[str, str]
    reason: str
    fired: dict[str, tuple[float, float, tuple[int, ...]]]
    undecided: dict[str, str]
    matched: tuple[str, ...]
    pattern: str | None
    dip: bool
    bands: dict[str, Knots]
    outside: dict[str, Spans | None]
    instants: dict[str, float]


_RECORD_HEAD = TypeAdapter(_RecordHead)
_JUDGEMENT_HEAD = TypeAdapter(_JudgementHead)


def _document(magic: bytes, head: bytes, table: bytes) -> bytes:
    return magic + struct.pack("<I", len(head)) + head + table


def _parts(magic: bytes, block: bytes) -> tuple[bytes, bytes]:
    if block[:4] != magic:
        raise UnknownDocument(f"it begins with {block[:4]!r} where {magic!r} was expected")
    (size,) = struct.unpack_from("<I", block, 4)
    return block[8 : 8 + size], block[8 + size :]


def _head(adapter: TypeAdapter[Any], text: bytes) -> Any:
    try:
        head = adapter.validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(p) for p in first["loc"]) or "document"
        raise UnknownDocument(f"{where}: {first['msg']}") from None
    if head.version != RECORD_VERSION:
        raise UnknownDocument(f"its version is {head.version}, this is {RECORD_VERSION}")
    return head


# --- records ----------------------------------------------------------------------------------------------------------


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
    return struct.pack("<I", len(short)) + short + _document(RECORD, _RECORD_HEAD.dump_json(head), table)


def unpack_values(block: bytes, keys: frozenset[Key] | None = None) -> tuple[dict[Key, Measured], Mapping[str, str]]:
    """The values of a record alone, of the given ones only if so asked, and why others are missing: what judging again
    needs, without the rest of the document."""
    return _values(_parts(RECORD, _short(block)[1])[1], keys)


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
    values, missing = _values(_parts(RECORD, rest)[1], keys)
    times = {CHECKPOINTS[k]: t for k, t in brief["times"].items()}
    return ToJudge(values, missing, times, tuple(brief["traced"]), brief["sensor_moved"], brief["doubt"])


CHECKPOINTS = {c.value: c for c in Checkpoint}


def _short(block: bytes) -> tuple[bytes, bytes]:
    """The short head of a record, and the document after it."""
    (size,) = struct.unpack_from("<I", block, 0)
    if size > len(block) - 8:
        raise UnknownDocument(f"it begins with {block[:4]!r}")
    return block[4 : 4 + size], block[4 + size :]


def unpack_record(block: bytes) -> SwingRecord:
    """A record from its bytes. Raises ``UnknownDocument``."""
    text, table = _parts(RECORD, _short(block)[1])
    head = cast(_RecordHead, _head(_RECORD_HEAD, text))
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
        head.version,
    )


# --- judgements -------------------------------------------------------------------------------------------------------


_JudgedRow = tuple[Key, Metric, Moment, Source, str, str]


def _judged_layout(raw: Any) -> tuple[_JudgedRow | None, ...]:
    """Key, metric, moment, source, id of the range and reason of each row; None for a metric that is no more."""
    return tuple(
        ((metric, moment), BY_ID[metric], Moment(moment), Source(source), range_id, reason) if metric in BY_ID else None
        for metric, moment, source, range_id, reason in raw
    )


_JUDGED = LayoutReader(_judged_layout, 6)
_CODES = {verdict: float(k) for k, verdict in enumerate(VERDICTS)}


def pack_judgement(judgement: SwingJudgement) -> bytes:
    """A judgement as bytes."""
    judged = judgement.judged
    row = {key: k for k, key in enumerate(judged)}
    fired, undecided = {}, {}
    for rule, outcome in judgement.outcomes.items():
        if outcome.fires is None:
            undecided[rule] = outcome.reason
        elif outcome.fires:
            evidence = tuple(row[e.measured.metric.id, e.measured.moment.key] for e in outcome.evidence)
            fired[rule] = (outcome.severity, outcome.probability, evidence)
    head = {
        "version": judgement.version,
        "benchmarks": judgement.benchmarks,
        "revision": judgement.revision,
        "schools": dict(judgement.schools),
        "reason": judgement.reason,
        "fired": fired,
        "undecided": undecided,
        "matched": judgement.matched,
        "pattern": judgement.pattern,
        "dip": judgement.dip,
        "bands": dict(judgement.bands),
        "outside": dict(judgement.outside),
        "instants": dict(judgement.instants),
    }
    layout, numbers = [], []
    nan = float("nan")
    for (metric, moment), j in judged.items():
        m = j.measured
        layout.append((metric, moment, m.source.value, j.range.id if j.range is not None else "", j.reason))
        low, high = nan if j.low is None else j.low, nan if j.high is None else j.high
        numbers.append((m.value, m.uncertainty, m.calibration_part, low, high, _CODES[j.verdict]))
    return _document(
        JUDGEMENT,
        orjson.dumps(head, option=orjson.OPT_SERIALIZE_NUMPY),
        pack_table(layout, np.array(numbers, dtype=float).reshape(-1, 6).T),
    )


def unpack_judgement(block: bytes, ranges: RangeLibrary, only: frozenset[Key] | None = None) -> SwingJudgement:
    """A judgement from its bytes; ``ranges``: the version it was judged by. ``only``: of the judged values those of
    these keys, those that findings rest on and those that are not judged for a reason, which is what a summary reads.
    Raises ``UnknownDocument``."""
    text, table = _parts(JUDGEMENT, block)
    head = cast(_JudgementHead, _head(_JUDGEMENT_HEAD, text))
    layout, columns = _JUDGED.read(table)
    by_id = ranges.by_id
    shown = None if only is None else {k for _, _, evidence in head.fired.values() for k in evidence}
    rows: list[Judged | None] = []
    judged: dict[Key, Judged] = {}
    for k, (row, (value, sd, part, low, high, code)) in enumerate(zip(layout, columns.T.tolist(), strict=True)):
        if row is None or (shown is not None and k not in shown and not row[5] and row[0] not in (only or ())):
            rows.append(None)
            continue
        key, metric, moment, source, range_id, reason = row
        judged[key] = Judged(
            Measured(metric, moment, value, sd, part, source),
            by_id.get(range_id),
            None if low != low else low,
            None if high != high else high,
            VERDICTS[int(code)],
            reason,
        )
        rows.append(judged[key])
    outcomes = {
        rule: Outcome(True, severity, probability, tuple(r for k in evidence if (r := rows[k]) is not None))
        for rule, (severity, probability, evidence) in head.fired.items()
    }
    outcomes |= {rule: Outcome(None, reason=reason) for rule, reason in head.undecided.items()}
    return SwingJudgement(
        head.benchmarks,
        head.revision,
        head.schools,
        judged,
        head.reason,
        outcomes,
        head.matched,
        head.pattern,
        head.dip,
        head.bands,
        head.outside,
        head.instants,
        head.version,
    )


class Told(NamedTuple):
    """A judgement as it is compared with another: verdict, range and limits by key, and the head as it was written."""

    verdicts: dict[Key, tuple[str, float, float, float]]
    head: dict[str, Any]


def told(block: bytes) -> Told:
    """What a judgement says, for comparing many in a row."""
    text, table = _parts(JUDGEMENT, block)
    layout, columns = _JUDGED.read(table)
    numbers = columns[3:].T.tolist()
    verdicts = {
        row[0]: (row[4], code, low, high) for row, (low, high, code) in zip(layout, numbers, strict=True) if row
    }
    return Told(verdicts, orjson.loads(text))


def with_outside(block: bytes, outside: Mapping[str, Spans | None]) -> bytes:
    """The same judgement with other stretches outside the bands; no verdict is touched."""
    text, table = _parts(JUDGEMENT, block)
    head = replace(cast(_JudgementHead, _head(_JUDGEMENT_HEAD, text)), outside=dict(outside))
    return _document(JUDGEMENT, _JUDGEMENT_HEAD.dump_json(head), table)
