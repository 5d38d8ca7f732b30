"""Values, findings and what they rest on, in words."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import partial

from finearc.catalogue import library
from finearc.catalogue.library import RangeLibrary
from finearc.catalogue.wording import provenance_words
from finearc.core.events.model import ORDER, Checkpoint
from finearc.core.judging.conditions import Beyond, Condition, Unseen, ValueBeyond
from finearc.core.judging.findings import Finding, NotAssessed
from finearc.core.judging.ranges import NO_RANGE, Judged, Verdict
from finearc.core.judging.words import evidence_sentence, fill, for_hand, limits_in_words
from finearc.core.metrics.definition import PER_SI, Measured
from finearc.core.metrics.words import at_moment
from finearc.services.lesson import documents as m
from finearc.services.lesson.targets import target_of, target_sentence


def leading(condition: Condition, ranges: RangeLibrary) -> tuple[str, str]:
    """The metric and moment that a finding speaks of first."""
    if isinstance(condition, Beyond):
        places = {**library.ranges().places, **ranges.places}
        return next(places[r] for r in condition.ranges if r in places)
    if isinstance(condition, ValueBeyond | Unseen):
        return condition.metric.id, condition.moment.key
    parts = condition.parts if hasattr(condition, "parts") else (condition.part,)
    return leading(parts[0], ranges)


DIGITS = 6
OF_SWINGS = [c.value for c in ORDER if c is not Checkpoint.TRANSITION]
PLACE = {c: k for k, c in enumerate([*OF_SWINGS, Checkpoint.TRANSITION.value])}
N = len(OF_SWINGS)


def metric_value(judged: Judged) -> m.MetricValue:
    """A value with its verdict, in its own unit and in words; what goes without saying is left out."""
    measured = judged.measured
    metric, moment = measured.metric, measured.moment
    per = PER_SI[metric.unit]
    say = partial(at_moment, metric, moment.key)
    words, plain = say(measured.value), say(measured.value, plain=True)
    untold = judged.verdict is Verdict.NOT_JUDGED and judged.reason == NO_RANGE
    return m.MetricValue(
        metric=metric.id,
        moment=moment.key,
        value=round(per * measured.value, DIGITS),
        uncertainty=float(f"{per * measured.uncertainty:.3g}"),
        verdict=judged.verdict.value,
        reason=None if untold else judged.reason or None,
        words=words,
        plain_words=None if plain == words else plain,
        band=_band(judged),
        source=measured.source.value,
        note=measured.note or None,
        not_judged_reason=measured.not_judged_reason or None,
        others=[_other(o) for o in measured.others] or None,
    )


def judged_value_out(judged: Judged) -> m.JudgedOut:
    """The same without what the table of values holds."""
    v = metric_value(judged)
    band = v.band
    return m.JudgedOut(
        metric=v.metric,
        moment=v.moment,
        verdict=v.verdict,
        words=v.words,
        plain_words=v.plain_words,
        band=None if band is None else m.LimitsOut(range_id=band.range_id, low=band.low, high=band.high, by=band.by),
        reason=v.reason,
        not_judged_reason=v.not_judged_reason,
    )


def value_table(values: Iterable[Measured]) -> dict[str, m.ValuesOut]:
    """Values by metric, as compact as they are many."""
    out: dict[str, m.ValuesOut] = {}
    for v in values:
        table = out.get(v.metric.id)
        if table is None:
            table = out[v.metric.id] = m.ValuesOut.model_construct(
                at=[], sd=[], source=v.source.value, other={}, seen={}
            )
        place = PLACE.get(v.moment.key)
        if place is None:
            table.other[v.moment.key] = list(_number(v))
            continue
        _place(table, place, v)
        for o in v.others:
            seen = table.seen.get(o.source.value)
            if seen is None:
                seen = table.seen[o.source.value] = m.SeenOut.model_construct(at=[], sd=[])
            _place(seen, place, o)
    return out


def _place(table: m.SeenOut, place: int, v: Measured) -> None:
    if not table.at:
        table.at, table.sd = [None] * N, [None] * N
    if place >= len(table.at):  # a putt's transition
        table.at, table.sd = [*table.at, None], [*table.sd, None]
    table.at[place], table.sd[place] = _number(v)


def _number(v: Measured) -> tuple[float, float]:
    per = PER_SI[v.metric.unit]
    return round(per * v.value, v.metric.decimals + 1), float(f"{per * v.uncertainty:.2g}")


def _other(o: Measured) -> m.OtherValueOut:
    say = partial(at_moment, o.metric, o.moment.key)
    per = PER_SI[o.metric.unit]
    return m.OtherValueOut(
        source=o.source.value,
        value=round(per * o.value, DIGITS),
        uncertainty=float(f"{per * o.uncertainty:.3g}"),
        words=say(o.value),
        plain_words=say(o.value, plain=True),
    )


def _band(judged: Judged) -> m.BandOut | None:
    """The limits as they applied, in the metric's own unit and in words."""
    if judged.range is None or (judged.low is None and judged.high is None):
        return None
    metric, per = judged.measured.metric, PER_SI[judged.measured.metric.unit]
    say = partial(limits_in_words, metric, judged.low, judged.high, change=judged.measured.moment.is_change)
    return m.BandOut(
        range_id=judged.range.id,
        low=None if judged.low is None else round(per * judged.low, DIGITS),
        high=None if judged.high is None else round(per * judged.high, DIGITS),
        words=say(plain=False),
        plain_words=say(plain=True),
        by=provenance_words(judged.range.provenance, judged.range.source),
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
