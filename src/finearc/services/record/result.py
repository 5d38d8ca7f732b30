"""The result of an analysis as JSON (version 1): the contract's shape, from the judged swings."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import Field

from finearc.core.events.model import ORDER, Event
from finearc.core.judging.findings import Finding, NotAssessed
from finearc.core.judging.ranges import Judged
from finearc.core.judging.words import evidence_sentence
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.typing import Array
from finearc.services.judging.analysis import ENGINE, Analysis, JudgedSwing
from finearc.services.record.document import SwingRecord
from finearc.services.record.putting import PuttResult, SessionResult, putt_result, session_result
from finearc.services.record.shape import Shape

DIGITS = 6


class OtherEvent(Shape):
    """The same checkpoint as a less certain source saw it."""

    time_s: float
    uncertainty_s: float
    method: str


class OtherValue(Shape):
    """The same value as a less certain source saw it."""

    source: str
    value: float
    uncertainty: float


class EventResult(Shape):
    time_s: float
    uncertainty_s: float
    method: str
    confidence: float
    others: list[OtherEvent] = Field(default=[])


class Limits(Shape):
    low: float | None
    high: float | None


class MetricResult(Shape):
    metric: str
    event: str
    value: float
    unit: str
    uncertainty: float
    range: Limits | None = None
    range_id: str | None = None
    verdict: Literal["in_range", "edge_low", "edge_high", "low", "high", "not_judged"]
    reason: str | None = None
    source: str = ""
    note: str | None = None
    not_judged_reason: str | None = None
    others: list[OtherValue] = Field(default=[])


class MissingResult(Shape):
    metric: str
    reason: str


class FindingResult(Shape):
    finding: str
    severity: float
    confidence: float
    role: Literal["root", "explained"]
    status: Literal["hint", "finding"]
    evidence: list[str]
    explained_by: str | None = None
    shown_in: int
    of_swings: int


class NotAssessedResult(Shape):
    finding: str
    reason: str


class PatternResult(Shape):
    pattern: str
    dip: bool


class SwingResult(Shape):
    start_s: float
    end_s: float
    events: dict[str, EventResult]
    absent_events: dict[str, str]
    metrics: list[MetricResult]
    missing: list[MissingResult]
    findings: list[FindingResult]
    not_assessed: list[NotAssessedResult]
    pattern: PatternResult | None
    warnings: list[str]
    traces: dict[str, list[float | None]] | None = None
    putt: PuttResult | None = None


class CalibrationResult(Shape):
    quality: float
    notes: list[str]
    method: str


class Result(Shape):
    """What ``finearc analyze --json`` prints."""

    format: Literal["finearc-result"] = "finearc-result"
    version: Literal[1] = 1
    engine: str
    benchmarks: str
    calibration: CalibrationResult | None
    warnings: list[str]
    swings: list[SwingResult]
    session: SessionResult | None = None


def _round(value: float) -> float:
    return round(float(value), DIGITS)


def metric_result(judged: Judged) -> MetricResult:
    """One value in its own unit."""
    m = judged.measured
    scale = PER_SI[m.metric.unit]
    limits = None
    if judged.range is not None:
        limits = Limits(
            low=None if judged.low is None else _round(judged.low * scale),
            high=None if judged.high is None else _round(judged.high * scale),
        )
    return MetricResult(
        metric=m.metric.id,
        event=m.moment.key,
        value=_round(m.value * scale),
        unit=m.metric.unit.value,
        uncertainty=_round(m.uncertainty * scale),
        range=limits,
        range_id=judged.range.id if judged.range else None,
        verdict=judged.verdict.value,
        reason=judged.reason or None,
        source=m.source.value,
        note=m.note or None,
        not_judged_reason=m.not_judged_reason or None,
        others=[
            OtherValue(source=o.source.value, value=_round(o.value * scale), uncertainty=_round(o.uncertainty * scale))
            for o in m.others
        ],
    )


def record_result(
    record: SwingRecord, values: Sequence[Judged], findings: Sequence[Finding], open_questions: Sequence[NotAssessed]
) -> SwingResult:
    """A stored swing in the contract's shape; ``pattern`` is left to the capture's own analysis."""
    return SwingResult(
        start_s=_round(record.start_s),
        end_s=_round(record.end_s),
        events={k.value: _event_result(e) for k, e in record.checkpoints.items()},
        absent_events={k.value: why for k, why in record.absent.items()},
        metrics=[metric_result(j) for j in values],
        missing=[MissingResult(metric=k, reason=why) for k, why in record.missing.items()],
        findings=[finding_result(f) for f in findings],
        not_assessed=[NotAssessedResult(finding=n.rule.id, reason=n.reason) for n in open_questions],
        pattern=None,
        warnings=list(record.warnings),
    )


def _event_result(e: Event) -> EventResult:
    return EventResult(
        time_s=_round(e.time_s),
        uncertainty_s=_round(e.uncertainty_s),
        method=e.method,
        confidence=e.confidence,
        others=[
            OtherEvent(time_s=_round(o.time_s), uncertainty_s=_round(o.uncertainty_s), method=o.method)
            for o in e.others
        ],
    )


def finding_result(finding: Finding) -> FindingResult:
    """One finding over the swings it rests on."""
    return FindingResult(
        finding=finding.rule.id,
        severity=finding.severity,
        confidence=finding.confidence,
        role="root" if finding.role == "root" else "explained",
        status="finding" if finding.status == "finding" else "hint",
        evidence=[evidence_sentence(e) for e in finding.evidence],
        explained_by=finding.explained_by,
        shown_in=finding.shown,
        of_swings=finding.assessed,
    )


def _listed(values: Array) -> list[float | None]:
    return [None if not np.isfinite(v) else round(float(v), 4) for v in values]


def trace_columns(swing: JudgedSwing) -> dict[str, Array]:
    """Time and traces in their own units, and the bands as ``<metric>_band_low``/``_high``."""
    columns = {"time_s": swing.reading.time_s}
    for key, values in swing.reading.traces.items():
        columns[key] = values * PER_SI[BY_ID[key].unit]
    for key, (low, high) in swing.bands.items():
        scale = PER_SI[BY_ID[key].unit]
        columns[f"{key}_band_low"], columns[f"{key}_band_high"] = low * scale, high * scale
    return columns


def swing_result(
    swing: JudgedSwing,
    findings: Sequence[Finding],
    open_questions: Sequence[NotAssessed],
    *,
    traces: bool = False,
    putt: PuttResult | None = None,
) -> SwingResult:
    """One swing; findings are those of the session that this swing takes part in."""
    r = swing.reading
    events = {str(k): r.events[k] for k in ORDER if k in r.events}
    return SwingResult(
        start_s=_round(r.start_s),
        end_s=_round(r.end_s),
        events={k: _event_result(e) for k, e in events.items()},
        absent_events={str(k): why for k, why in r.absent.items()},
        metrics=[metric_result(j) for j in swing.judged],
        missing=[MissingResult(metric=k, reason=why) for k, why in swing.missing.items()],
        findings=[finding_result(f) for f in findings],
        not_assessed=[NotAssessedResult(finding=n.rule.id, reason=n.reason) for n in open_questions],
        pattern=PatternResult(pattern=swing.pattern.pattern.value, dip=swing.pattern.dip) if swing.pattern else None,
        warnings=list(r.warnings),
        traces={k: _listed(v) for k, v in trace_columns(swing).items()} if traces else None,
        putt=putt,
    )


def result_of(analysis: Analysis, *, traces: bool = False) -> Result:
    """The whole result."""
    calibration = analysis.calibration
    return Result(
        engine=ENGINE,
        benchmarks=analysis.options.rule_set.ranges.version,
        calibration=CalibrationResult(
            quality=calibration.quality.score, notes=list(calibration.notes), method=calibration.method
        )
        if calibration
        else None,
        warnings=list(analysis.reading.warnings),
        swings=[
            swing_result(
                s,
                analysis.findings,
                analysis.not_assessed,
                traces=traces,
                putt=putt_result(s.reading, analysis.reading.putting.putts.get(k)) if s.reading.of_putt else None,
            )
            for k, s in enumerate(analysis.swings)
        ],
        session=session_result([s.reading for s in analysis.swings]),
    )
