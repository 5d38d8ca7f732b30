"""Judging what was measured in a swing: verdicts, what the rules say, where the bands run."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from finearc.catalogue.rule_set import RuleSet
from finearc.core.events.model import Checkpoint
from finearc.core.judging.bands import Knots, band_between, band_knots
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.findings import Finding, NotAssessed, over_outcomes
from finearc.core.judging.patterns import classify
from finearc.core.judging.ranges import NO_RANGE, InForce, Judged, Key, Verdict, judge_values
from finearc.core.metrics.definition import PER_SI, Measured
from finearc.core.metrics.registry import BY_ID
from finearc.core.sources.address_check import MOVED
from finearc.core.typing import Array
from finearc.services.judging.terms import Terms
from finearc.services.record.document import Spans, SwingJudgement, SwingRecord
from finearc.wording import tr


def reason_for(sensor_moved: bool, doubt: str) -> str:
    """Why nothing of a swing is judged: its sensor moved, or its recording is in doubt; else empty."""
    return tr(MOVED) if sensor_moved else doubt


def judge_record(record: SwingRecord, terms: Terms, club: str, shot: str, *, moved: bool = False) -> SwingJudgement:
    """Judge everything in a record. The stretches outside the bands are left to ``outside_of``. ``moved``: somebody
    said that a sensor moved, which the record itself does not tell."""
    wanted = terms.wanted
    values = {k: m for k, m in record.values.items() if k in wanted}
    reason = reason_for(moved or record.sensor_moved, record.doubt)
    times = {k: e.time_s for k, e in record.checkpoints.items()}
    return judge_measured(values, record.missing, times, record.traced, terms, terms.page(club, shot), reason)


def judge_measured(
    values: Mapping[Key, Measured],
    missing: Mapping[str, str],
    times: Mapping[Checkpoint, float],
    traced: Sequence[str],
    terms: Terms,
    page: InForce,
    reason: str,
) -> SwingJudgement:
    """The same from the values that the rule set needs."""
    judged = judge_values(values, page, reason)
    outcomes, matched = terms.rule_set.decide(Evidence.by(judged, missing))
    pattern = None if reason else classify(values)
    bands = {} if reason else bands_of(values, times, traced, page)
    return SwingJudgement(
        terms.rule_set.ranges.version,
        terms.revision,
        dict(terms.schools),
        judged,
        reason,
        outcomes,
        matched,
        pattern.pattern.value if pattern else None,
        bool(pattern and pattern.dip),
        bands,
        dict.fromkeys(bands),
        {k.value: t for k, t in times.items()},
    )


def bands_of(
    values: Mapping[Key, Measured], times: Mapping[Checkpoint, float], traced: Sequence[str], page: InForce
) -> dict[str, Knots]:
    """Where the band of each traced metric is tied."""
    out = {}
    for key in traced:
        if key in page.ties:
            knots = band_knots(BY_ID[key], page, values, times)
            if knots:
                out[key] = knots
    return out


def outside_of(bands: Mapping[str, Knots], columns: Mapping[str, Array]) -> dict[str, Spans]:
    """Stretches (s) in which each trace leaves its band; ``columns``: the block of traces."""
    return {metric: _outside(columns, metric, knots) for metric, knots in bands.items() if metric in columns}


def _outside(columns: Mapping[str, Array], metric: str, knots: Knots) -> Spans:
    time_s, per = columns["time_s"], PER_SI[BY_ID[metric].unit]
    low, high = (per * edge for edge in band_between(knots, time_s))
    with np.errstate(invalid="ignore"):
        out = (columns[metric] > high) | (columns[metric] < low)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], out, [False]]).astype(np.int8))).reshape(-1, 2)
    return tuple((float(time_s[a]), float(time_s[b - 1])) for a, b in edges if b - a > 1)


def findings_of(judgement: SwingJudgement, rule_set: RuleSet) -> tuple[list[Finding], list[NotAssessed]]:
    """What the rules said of one swing, as findings."""
    return over_outcomes(rule_set.rules, [judgement.outcomes])


def judged_value(record: SwingRecord, judgement: SwingJudgement, key: Key) -> Judged:
    """A value with its verdict; one that no range speaks of is judged by nothing, with the reason."""
    known = judgement.judged.get(key)
    m = record.values[key]
    if known is None:
        why = judgement.reason or m.not_judged_reason or tr(NO_RANGE)
        return Judged(m, None, None, None, Verdict.NOT_JUDGED, why)
    return known._replace(measured=m)
