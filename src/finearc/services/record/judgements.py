"""The one way in and out of bytes for how a swing was judged: a document ``FAJ2``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from typing import Any, NamedTuple, cast

import numpy as np
import orjson
from pydantic import TypeAdapter

from finearc.catalogue.library import RangeLibrary
from finearc.core.judging.bands import Knots
from finearc.core.judging.conditions import Outcome
from finearc.core.judging.ranges import Judged, Key, Verdict
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.registry import BY_ID
from finearc.services.record.document import Spans, SwingJudgement
from finearc.services.record.framing import document, parts, read_head
from finearc.services.record.table import LayoutReader, pack_table

JUDGEMENT = b"FAJ2"
VERDICTS = tuple(Verdict)


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


_JUDGEMENT_HEAD = TypeAdapter(_JudgementHead)


_JudgedRow = tuple[Key, Metric, Moment, Source, str, str]


@dataclass(frozen=True, eq=False)
class _JudgedLayout:
    """Key, metric, moment, source, id of the range and reason of each row; None for a metric that is no more."""

    rows: tuple[_JudgedRow | None, ...]

    @cached_property
    def ranged(self) -> dict[Key, tuple[int, str]]:
        """The rows that a range judges, with its id."""
        return {row[0]: (k, row[4]) for k, row in enumerate(self.rows) if row is not None and row[4]}


def _judged_layout(raw: Any) -> _JudgedLayout:
    return _JudgedLayout(
        tuple(
            ((metric, moment), BY_ID[metric], Moment(moment), Source(source), range_id, reason)
            if metric in BY_ID
            else None
            for metric, moment, source, range_id, reason in raw
        )
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
    return document(
        JUDGEMENT,
        orjson.dumps(head, option=orjson.OPT_SERIALIZE_NUMPY),
        pack_table(layout, np.array(numbers, dtype=float).reshape(-1, 6).T),
    )


def unpack_judgement(block: bytes, ranges: RangeLibrary, only: frozenset[Key] | None = None) -> SwingJudgement:
    """A judgement from its bytes; ``ranges``: the version it was judged by. ``only``: of the judged values those of
    these keys, those that findings rest on and those that are not judged for a reason, which is what a summary reads.
    Raises ``UnknownDocument``."""
    text, table = parts(JUDGEMENT, block)
    head = cast(_JudgementHead, read_head(_JUDGEMENT_HEAD, text))
    layout, columns = _JUDGED.read(table)
    by_id = ranges.by_id
    shown = None if only is None else {k for _, _, evidence in head.fired.values() for k in evidence}
    rows: list[Judged | None] = []
    judged: dict[Key, Judged] = {}
    numbers = columns.T.tolist()
    for k, (row, (value, sd, part, low, high, code)) in enumerate(zip(layout.rows, numbers, strict=True)):
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
    outcomes = {}
    for rule, (severity, probability, evidence) in head.fired.items():
        rests_on = tuple(r for k in evidence if (r := rows[k]) is not None)
        name = _today(rule, rests_on[0].measured.value if rests_on else 0.0)
        outcomes[name] = Outcome(True, severity, probability, rests_on)
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


SPLIT = {"posture_change": ("stands_up", "dips")}
"""Findings that releases up to 0.6 had as one: what each is called today, by the sign of the value it rests on."""


def _today(rule: str, value: float) -> str:
    more, less = SPLIT.get(rule, (rule, rule))
    return more if value >= 0.0 else less


@lru_cache(maxsize=1024)
def judgement_in_brief(block: bytes, ranges: RangeLibrary, only: frozenset[Key]) -> SwingJudgement:
    """``unpack_judgement`` of some keys for what reads many swings again and again: the same bytes are read once."""
    return unpack_judgement(block, ranges, only)


class Told(NamedTuple):
    """A judgement as it is compared with another: the head as it was written, and its table."""

    head: dict[str, Any]
    table: bytes


def told(block: bytes) -> Told:
    """What a judgement says, for comparing many in a row."""
    text, table = parts(JUDGEMENT, block)
    return Told(orjson.loads(text), table)


class VerdictRow(NamedTuple):
    """A value that a range judges, with the limits (SI) as they applied."""

    key: Key
    range_id: str
    verdict: Verdict
    low: float | None
    high: float | None


def changed_verdicts(new: Told, old: Told | None) -> tuple[list[VerdictRow], tuple[Key, ...]]:
    """What is judged otherwise than it was, and what is judged by nothing any more."""
    layout, columns = _JUDGED.read(new.table)
    said = columns[3:]
    if old is None:
        return [_verdict_row(layout.rows[k], *said[:, k].tolist()) for k, _ in layout.ranged.values()], ()
    was, before = _JUDGED.read(old.table)
    fresh, here, there, gone = _paired(layout, was)
    a, b = said[:, here], before[3:, there]
    same = np.all((a == b) | (np.isnan(a) & np.isnan(b)), axis=0)
    at = sorted((*fresh, *here[~same].tolist()))
    return [_verdict_row(layout.rows[k], *said[:, k].tolist()) for k in at], gone


@lru_cache(maxsize=1024)
def _paired(new: _JudgedLayout, old: _JudgedLayout) -> tuple[tuple[int, ...], Any, Any, tuple[Key, ...]]:
    """Rows judged by another range than before, rows by the same one here and there, and keys without one now."""
    both = [(k, *old.ranged[key]) for key, (k, _) in new.ranged.items() if key in old.ranged]
    same = [(k, was) for k, was, range_id in both if new.rows[k][4] == range_id]  # type: ignore[index]
    here, there = (np.array([pair[i] for pair in same], dtype=np.intp) for i in (0, 1))
    kept = set(here.tolist())
    fresh = tuple(k for k, _ in new.ranged.values() if k not in kept)
    return fresh, here, there, tuple(key for key in old.ranged if key not in new.ranged)


def _verdict_row(row: _JudgedRow, low: float, high: float, code: float) -> VerdictRow:
    limits = (None if edge != edge else edge for edge in (low, high))
    return VerdictRow(row[0], row[4], VERDICTS[int(code)], *limits)


def with_outside(block: bytes, outside: Mapping[str, Spans | None]) -> bytes:
    """The same judgement with other stretches outside the bands; no verdict is touched."""
    text, table = parts(JUDGEMENT, block)
    head = replace(cast(_JudgementHead, read_head(_JUDGEMENT_HEAD, text)), outside=dict(outside))
    return document(JUDGEMENT, _JUDGEMENT_HEAD.dump_json(head), table)


def sides(judged: Told) -> dict[Key, tuple[str, float]]:
    """The range that each value was judged by and on which side of it, of those that a range judges."""
    layout, columns = _JUDGED.read(judged.table)
    codes = columns[5].tolist()
    return {key: (range_id, codes[k]) for key, (k, range_id) in layout.ranged.items()}
