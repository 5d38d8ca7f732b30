"""Keeping how swings were judged, and judging stored swings again: no measurement changes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from typing import Any
from uuid import UUID

from finearc.services.judging.judge import findings_of, judge_measured, outside_of, reason_for
from finearc.services.judging.terms import Terms
from finearc.services.ports import JudgedRows, UnitOfWork
from finearc.services.record.blocks import TRACES, unpack_traces
from finearc.services.record.codec import unpack_to_judge
from finearc.services.record.document import SwingJudgement
from finearc.services.record.judgements import Told, VerdictRow, changed_verdicts, pack_judgement, told, with_outside
from finearc.services.records import Swing


def keep_judgement(swing: Swing, judgement: SwingJudgement, terms: Terms, before: bytes | None) -> JudgedRows:
    """What is stored of a judgement: its document, and the rows that differ from ``before``."""
    old = told(before) if before is not None else None
    if old is not None:
        judgement = _same_bands(judgement, old)
    document = pack_judgement(judgement)
    new = told(document)
    verdicts, gone = changed_verdicts(new, old)
    findings = None if old is not None and old.head["fired"] == new.head["fired"] else _findings(judgement, terms)
    return JudgedRows(swing, document, [_row(v) for v in verdicts], gone, findings)


def _same_bands(judgement: SwingJudgement, old: Told) -> SwingJudgement:
    """Stretches outside a band that has not moved are still true."""
    bands, outside = old.head["bands"], old.head["outside"]
    kept = {
        k: tuple((a, b) for a, b in outside[k])
        for k, knots in judgement.bands.items()
        if outside.get(k) is not None and [list(n) for n in knots] == bands.get(k)
    }
    return SwingJudgement(**{**vars(judgement), "outside": {**judgement.outside, **kept}})


def _row(v: VerdictRow) -> Mapping[str, Any]:
    return {
        "metric": v.key[0],
        "moment": v.key[1],
        "verdict": v.verdict.value,
        "range_id": v.range_id,
        "low": v.low,
        "high": v.high,
    }


def _findings(judgement: SwingJudgement, terms: Terms) -> list[Mapping[str, Any]]:
    found, _ = findings_of(judgement, terms.rule_set)
    return [
        {
            "finding": f.rule.id,
            "severity": f.severity,
            "confidence": f.confidence,
            "role": f.role,
            "explained_by": f.explained_by,
        }
        for f in found
    ]


def judge_stored(record: bytes, swing: Swing, terms: Terms) -> SwingJudgement:
    """A stored swing judged under these terms; nothing is kept."""
    stored = unpack_to_judge(record, terms.wanted)
    reason = reason_for(swing.sensor_moved, stored.doubt)
    page = terms.page(swing.club, swing.shot)
    return judge_measured(stored.values, stored.missing, stored.times, stored.traced, terms, page, reason)


def judge_again(
    uow: UnitOfWork, swings: Sequence[Swing], terms_of_lesson: Callable[[UUID], Terms]
) -> dict[UUID, SwingJudgement]:
    """Judge stored swings under the terms of their lessons and keep what changed: a bounded number of queries,
    however many swings there are. Stretches outside a band that moved are found when they are next drawn
    (``complete_outside``)."""
    ids = [s.id for s in swings]
    records, before = uow.swings.records(ids), uow.swings.judgements(ids)
    out, kept = {}, []
    for swing in swings:
        if swing.id not in records:
            continue
        terms = terms_of_lesson(swing.lesson_id)
        judgement = judge_stored(records[swing.id], swing, terms)
        kept.append(keep_judgement(swing, judgement, terms, before.get(swing.id)))
        out[swing.id] = judgement
    if kept:
        uow.swings.judge(kept)
    return out


def complete_outside(
    uow: UnitOfWork,
    swings: Mapping[UUID, Swing],
    judged: Mapping[UUID, SwingJudgement],
    documents: Mapping[UUID, bytes],
) -> dict[UUID, SwingJudgement]:
    """Find the stretches outside those bands that have moved since, and keep them; nothing where all are known."""
    open_ids = [k for k, j in judged.items() if any(spans is None for spans in j.outside.values())]
    if not open_ids:
        return dict(judged)
    out, kept = dict(judged), []
    for key, block in uow.swings.blocks(open_ids, TRACES).items():
        j = judged[key]
        wanted = {m: j.bands[m] for m, spans in j.outside.items() if spans is None}
        outside = {m: s for m, s in j.outside.items() if s is not None} | outside_of(wanted, unpack_traces(block))
        out[key] = SwingJudgement(**{**vars(j), "outside": outside})
        kept.append(JudgedRows(swings[key], with_outside(documents[key], outside), (), (), None))
    uow.swings.judge(kept)
    return out
