"""The catalogue, values and findings as responses."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from functools import partial
from typing import Any

from finearc.api import models as m
from finearc.catalogue import library
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.rule_set import RuleSet
from finearc.catalogue.wording import provenance_words
from finearc.core.judging.conditions import Beyond, Condition, ValueBeyond
from finearc.core.judging.drills import Drill
from finearc.core.judging.findings import Finding, NotAssessed
from finearc.core.judging.words import at_moment, evidence_sentence, fill, for_hand, limits_in_words
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import ALL, BY_ID
from finearc.golfer.scenarios import SCENARIOS
from finearc.services.judging.analysis import ENGINE
from finearc.services.lesson.summary import target_of, target_sentence


def leading(condition: Condition, ranges: RangeLibrary) -> tuple[str, str]:
    """The metric and moment that a finding speaks of first."""
    if isinstance(condition, Beyond):
        places = {**library.ranges().places, **ranges.places}
        return next(places[r] for r in condition.ranges if r in places)
    if isinstance(condition, ValueBeyond):
        return condition.metric.id, condition.moment.key
    parts = condition.parts if hasattr(condition, "parts") else (condition.part,)
    return leading(parts[0], ranges)


def catalogue(rule_set: RuleSet) -> m.Catalogue:
    """All that the interface needs to speak: one source, with the academy's own findings and drills."""
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
                metric=leading(f.when, rule_set.ranges)[0],
                moment=leading(f.when, rule_set.ranges)[1],
                own=f.own,
            )
            for f in rule_set.rules
        ],
        drills=[drill_info(d) for d in rule_set.drills.values()],
        scenarios=[m.ScenarioInfo(id=k, about=s.about) for k, s in SCENARIOS.items() if s.styles],
        limit_areas=[
            m.LimitArea(area=a.area, movements=[*a.movements, "any"], sided=a.sided) for a in library.limit_areas()
        ],
        benchmarks=rule_set.ranges.version,
        engine=ENGINE,
    )


def drill_info(d: Drill) -> m.DrillInfo:
    return m.DrillInfo(
        id=d.id,
        label=d.label,
        aim=d.aim,
        how=d.how,
        feel=d.feel,
        equipment=d.equipment,
        dose=d.dose,
        caution=d.caution,
        band=_trainer_band(d, plain=False),
        plain_band=_trainer_band(d, plain=True),
        own=d.own,
    )


def _trainer_band(d: Drill, *, plain: bool) -> str:
    """The band of live feedback in words; empty without one."""
    b = d.band
    if b is None:
        return ""
    start, end = (moment.replace("_", " ") for moment in (b.start, b.end))
    where = f"at {start}" if start == end else f"{start} to {end}"
    name = b.metric.plain_label if plain else b.metric.label
    return f"{name} {limits_in_words(b.metric, b.low, b.high, plain=plain)}, {where}"


def metric_value(entry: Mapping[str, Any], ranges: RangeLibrary) -> m.MetricValue:
    metric = BY_ID[entry["metric"]]
    judged_by = ranges.by_id.get(entry.get("range_id") or "")
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
        moment=entry["event"],
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
        band_by="" if judged_by is None else provenance_words(judged_by.provenance, judged_by.source),
        distance=distance,
        source=entry.get("source") or "",
        note=entry.get("note"),
        not_judged_reason=entry.get("not_judged_reason"),
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


def finding_out(
    f: Finding, ranges: RangeLibrary, ball: Sequence[str] = (), *, left_handed: bool = False
) -> m.FindingOut:
    metric, event = leading(f.rule.when, ranges)
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
        player_says=for_hand(f.rule.player_says, left_handed=left_handed),
        tends=f.rule.tends,
        note=f.rule.note,
        fits=sorted(set(f.rule.ball) & set(ball)),
        caution=f.rule.caution,
        own=f.rule.own,
        target=_target(f),
        metric=metric,
        moment=event,
        evidence=[
            m.EvidenceOut(
                metric=e.measured.metric.id,
                moment=e.measured.moment.key,
                sentence=evidence_sentence(e),
                plain_sentence=evidence_sentence(e, plain=True),
            )
            for e in f.evidence
        ],
        drills=list(f.rule.drills),
    )


def _target(f: Finding) -> m.TargetOut | None:
    """What the retest looks at: the leading value, its band, and how often."""
    lead = target_of(f)
    if lead is None:
        return None
    return m.TargetOut(
        metric=lead.measured.metric.id,
        moment=lead.measured.moment.key,
        sentence=target_sentence(f, plain=False),
        plain_sentence=target_sentence(f, plain=True),
    )


def not_assessed_out(n: NotAssessed) -> m.NotAssessedOut:
    return m.NotAssessedOut(finding=n.rule.id, label=n.rule.label, reason=n.reason)
