"""The catalogue, values and findings as responses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from typing import Any

from finearc.api import models as m
from finearc.catalogue import library
from finearc.core.judging.findings import Beyond, Condition, Finding, NotAssessed, ValueBeyond
from finearc.core.judging.words import at_moment, evidence_sentence, fill, limits_in_words
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import ALL, BY_ID
from finearc.golfer.scenarios import SCENARIOS
from finearc.services.analysis import ENGINE


def leading(condition: Condition) -> tuple[str, str]:
    """The metric and moment that a finding speaks of first."""
    if isinstance(condition, Beyond):
        known = {r.id: r for r in library.ranges().ranges}
        first = known[condition.ranges[0]]
        return first.metric.id, first.moment.key
    if isinstance(condition, ValueBeyond):
        return condition.metric.id, condition.moment.key
    parts = condition.parts if hasattr(condition, "parts") else (condition.part,)
    return leading(parts[0])


def catalogue() -> m.Catalogue:
    """All that the interface needs to speak: one source."""
    return m.Catalogue(
        metrics=[
            m.MetricInfo(
                id=x.id,
                label=x.label,
                plain_label=x.plain_label,
                unit=x.unit.value,
                family=x.family.value,
                positive=x.positive,
                negative=x.negative,
                plain_positive=x.plain_positive,
                plain_negative=x.plain_negative,
                explained=x.explained,
                decimals=x.decimals,
                needs=x.needs,
            )
            for x in ALL
        ],
        clubs=[m.ClubInfo(id=k, label=c.label) for k, c in library.clubs().items() if k != "putter"],
        schools=[
            m.SchoolInfo(
                axis=axis,
                label=s.label,
                options=[m.SchoolOptionInfo(id=o.id, label=o.label, explained=o.explained) for o in s.options],
            )
            for axis, s in library.schools().items()
            if axis in ("lead_wrist", "pelvis", "pressure")
        ],
        findings=[
            m.FindingInfo(
                id=f.id,
                label=f.label,
                plain_label=f.plain_label,
                phase=f.phase,
                tends=f.tends,
                note=f.note,
                drills=list(f.drills),
                metric=leading(f.when)[0],
                event=leading(f.when)[1],
            )
            for f in library.findings()
        ],
        drills=[
            m.DrillInfo(id=d.id, label=d.label, how=d.how, feel=d.feel, caution=d.caution)
            for d in library.drills().values()
        ],
        scenarios=[m.ScenarioInfo(id=k, about=s.about) for k, s in SCENARIOS.items() if s.styles],
        benchmarks=library.ranges().version,
        engine=ENGINE,
    )


def metric_value(entry: Mapping[str, Any]) -> m.MetricValue:
    metric = BY_ID[entry["metric"]]
    per = PER_SI[metric.unit]
    say = partial(at_moment, metric, entry["event"])
    limits = entry.get("range") or {}
    low, high, value = limits.get("low"), limits.get("high"), entry["value"]
    distance = 0.0
    if high is not None and value > high:
        distance = value - high
    elif low is not None and value < low:
        distance = value - low
    return m.MetricValue(
        metric=metric.id,
        event=entry["event"],
        value=value,
        unit=entry["unit"],
        uncertainty=entry["uncertainty"],
        low=low,
        high=high,
        range_id=entry.get("range_id"),
        verdict=entry["verdict"],
        reason=entry.get("reason"),
        words=say(value / per),
        plain_words=say(value / per, plain=True),
        band_words=_band(metric, entry["event"], low, high, per, plain=False),
        plain_band_words=_band(metric, entry["event"], low, high, per, plain=True),
        distance=distance,
        source=entry.get("source") or "",
        note=entry.get("note"),
        barred=entry.get("barred"),
        others=[
            m.OtherValueOut(**o, words=say(o["value"] / per), plain_words=say(o["value"] / per, plain=True))
            for o in entry.get("others", [])
        ],
    )


def _band(metric: Metric, moment: str, low: float | None, high: float | None, per: float, *, plain: bool) -> str:
    if low is None and high is None:
        return ""
    return limits_in_words(
        metric,
        None if low is None else low / per,
        None if high is None else high / per,
        plain=plain,
        change=".." in moment,
    )


def finding_out(f: Finding, ball: Sequence[str] = ()) -> m.FindingOut:
    metric, event = leading(f.rule.when)
    lead = f.evidence[0]
    return m.FindingOut(
        finding=f.rule.id,
        label=f.rule.label,
        plain_label=f.rule.plain_label,
        phase=f.rule.phase,
        status="finding" if f.status == "finding" else "hint",
        role="root" if f.role == "root" else "explained",
        explained_by=f.explained_by,
        severity=f.severity,
        confidence=f.confidence,
        shown=f.shown,
        assessed=f.assessed,
        says=fill(f.rule.says, lead, plain=False),
        plain_says=fill(f.rule.says, lead, plain=True),
        player_says=f.rule.player_says,
        tends=f.rule.tends,
        note=f.rule.note,
        fits=sorted(set(f.rule.ball) & set(ball)),
        metric=metric,
        event=event,
        evidence=[
            m.EvidenceOut(
                metric=e.measured.metric.id,
                event=e.measured.moment.key,
                sentence=evidence_sentence(e),
                plain_sentence=evidence_sentence(e, plain=True),
            )
            for e in f.evidence
        ],
        drills=list(f.rule.drills),
    )


def not_assessed_out(n: NotAssessed) -> m.NotAssessedOut:
    return m.NotAssessedOut(finding=n.rule.id, label=n.rule.label, reason=n.reason)
