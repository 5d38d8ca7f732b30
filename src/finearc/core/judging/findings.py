"""Findings: conditions on judged values, decided per swing and over swings."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from math import erf, sqrt

from finearc.core.judging.ranges import ANOTHER_SCHOOL, CAP, NO_RANGE, OUTSIDE_HIGH, OUTSIDE_LOW, Judged, Verdict
from finearc.core.metrics.definition import Metric, Moment

FINDING_MIN_SWINGS = 3
FINDING_MIN_SHARE = 0.6
FINDING_MIN_SEVERITY = 0.12
"""What lies just at an edge stays a hint, however many swings show it."""
PHASES = ("setup", "takeaway", "top", "transition", "downswing", "impact")
LEVELS = ("body", "hands", "shaft", "face")


@dataclass(frozen=True)
class Beyond:
    """The value of whichever of ``ranges`` applied lies outside on ``side`` (low, high or either).
    ``strict`` leaves the edge out."""

    ranges: tuple[str, ...]
    side: str
    strict: bool = False


@dataclass(frozen=True)
class ValueBeyond:
    """The value (SI) of a metric at a moment lies above or below ``limit``; ``half_width`` scales severity."""

    metric: Metric
    moment: Moment
    limit: float
    above: bool
    half_width: float


@dataclass(frozen=True)
class AllOf:
    parts: tuple[Condition, ...]


@dataclass(frozen=True)
class AnyOf:
    parts: tuple[Condition, ...]


@dataclass(frozen=True)
class Not:
    part: Condition


Condition = Beyond | ValueBeyond | AllOf | AnyOf | Not


@dataclass(frozen=True)
class FindingRule:
    """One fault and all that is said about it. ``own``: the academy's, not built in."""

    id: str
    label: str
    plain_label: str
    phase: str
    level: str
    weight: float
    when: Condition
    says: str
    player_says: str
    tends: str
    ball: tuple[str, ...]
    may_cause: tuple[str, ...]
    drills: tuple[str, ...]
    caution: str = ""
    note: str = ""
    own: bool = False


@dataclass(frozen=True)
class MatchedSet:
    """Two things that offset each other: change both or neither. ``involves`` names the findings that are part."""

    id: str
    label: str
    when: Condition
    says: str
    player_says: str
    involves: tuple[str, ...]


@dataclass(frozen=True)
class Outcome:
    """``fires`` is None when undecidable (``reason``). ``probability`` that the value truly lies beyond."""

    fires: bool | None
    severity: float = 0.0
    probability: float = 0.0
    evidence: tuple[Judged, ...] = ()
    reason: str = ""


@dataclass(frozen=True)
class Evidence:
    """All judged values of one swing, by range and by metric and moment."""

    by_range: Mapping[str, Judged]
    by_key: Mapping[tuple[str, str], Judged]
    missing: Mapping[str, str]

    @staticmethod
    def of(judged: Sequence[Judged], missing: Mapping[str, str]) -> Evidence:
        return Evidence(
            {j.range.id: j for j in judged if j.range is not None},
            {(j.measured.metric.id, j.measured.moment.key): j for j in judged},
            missing,
        )


def _beyond_probability(distance: float, uncertainty: float) -> float:
    return 0.5 * (1.0 + erf(abs(distance) / max(uncertainty, 1e-9) / sqrt(2.0)))


Places = Mapping[str, tuple[str, str]]
"""Which metric and moment (their keys) each range of a library speaks of."""


def evaluate(condition: Condition, evidence: Evidence, places: Places) -> Outcome:
    """Decide a condition. ``places`` tells the ranges of the library, for reasons."""
    if isinstance(condition, Beyond):
        return _beyond(condition, evidence, places)
    if isinstance(condition, ValueBeyond):
        return _value_beyond(condition, evidence)
    if isinstance(condition, Not):
        inner = evaluate(condition.part, evidence, places)
        if inner.fires is None:
            return inner
        return Outcome(not inner.fires, 0.0, 1.0 - inner.probability)
    parts = [evaluate(p, evidence, places) for p in condition.parts]
    return _all(parts) if isinstance(condition, AllOf) else _any(parts)


def _beyond(condition: Beyond, evidence: Evidence, places: Places) -> Outcome:
    found = [evidence.by_range[r] for r in condition.ranges if r in evidence.by_range]
    if not found:
        return _undecided(condition, evidence, places)
    judged = found[0]
    sides = {"low": OUTSIDE_LOW, "high": OUTSIDE_HIGH, "either": OUTSIDE_LOW + OUTSIDE_HIGH}[condition.side]
    outside = judged.verdict in sides
    if condition.strict and judged.verdict in (Verdict.EDGE_LOW, Verdict.EDGE_HIGH):
        outside = False
    if not outside:
        return Outcome(False)
    probability = _beyond_probability(judged.distance, judged.measured.uncertainty)
    return Outcome(True, judged.severity, probability, (judged,))


def _undecided(condition: Beyond, evidence: Evidence, places: Places) -> Outcome:
    """No range of the condition was in force: another school's does not fire, anything else is not assessable."""
    known = [places[r] for r in condition.ranges if r in places]
    if not known:
        return Outcome(None, reason=f"the ranges in use have no {' or '.join(condition.ranges)}")
    judged = next((evidence.by_key[k] for k in known if k in evidence.by_key), None)
    if judged is None:
        return Outcome(None, reason=evidence.missing.get(known[0][0], "not judged in this swing"))
    if judged.verdict is not Verdict.NOT_JUDGED or judged.reason == ANOTHER_SCHOOL:
        return Outcome(False)
    return Outcome(None, reason=judged.reason)


def _value_beyond(condition: ValueBeyond, evidence: Evidence) -> Outcome:
    judged = evidence.by_key.get((condition.metric.id, condition.moment.key))
    if judged is None:
        return Outcome(None, reason=evidence.missing.get(condition.metric.id, "its checkpoint was not found"))
    if judged.verdict is Verdict.NOT_JUDGED and judged.reason != NO_RANGE:
        return Outcome(None, reason=judged.reason)
    over = judged.measured.value - condition.limit
    over = over if condition.above else -over
    if over <= 0:
        return Outcome(False)
    probability = _beyond_probability(over, judged.measured.uncertainty)
    return Outcome(True, min(CAP, over / condition.half_width), probability, (judged,))


def _all(parts: Sequence[Outcome]) -> Outcome:
    if any(p.fires is False for p in parts):
        return Outcome(False)
    undecided = next((p for p in parts if p.fires is None), None)
    if undecided is not None:
        return undecided
    evidence = _once(e for p in parts for e in p.evidence)
    return Outcome(True, max(p.severity for p in parts), min(p.probability for p in parts), evidence)


def _once(evidence: Iterable[Judged]) -> tuple[Judged, ...]:
    """Each piece of evidence once, in order."""
    keyed = {(e.measured.metric.id, e.measured.moment.key, e.range.id if e.range else ""): e for e in evidence}
    return tuple(keyed.values())


def _any(parts: Sequence[Outcome]) -> Outcome:
    fired = [p for p in parts if p.fires]
    if fired:
        best = max(fired, key=lambda p: p.severity)
        rest = tuple(e for p in fired if p is not best for e in p.evidence)
        return Outcome(True, best.severity, max(p.probability for p in fired), _once((*best.evidence, *rest)))
    undecided = [p for p in parts if p.fires is None]
    return undecided[0] if len(undecided) == len(parts) else Outcome(False)


@dataclass(frozen=True)
class Finding:
    """A finding over one or several swings. ``shown``/``assessed`` count swings. ``role`` is ``root`` or
    ``explained`` (by ``explained_by``). ``status``: ``finding`` over several swings, ``hint`` on few."""

    rule: FindingRule
    severity: float
    confidence: float
    shown: int
    assessed: int
    status: str
    evidence: tuple[Judged, ...]
    role: str = "root"
    explained_by: str | None = None


@dataclass(frozen=True)
class NotAssessed:
    rule: FindingRule
    reason: str


def over_swings(
    rules: Sequence[FindingRule], swings: Sequence[Evidence], places: Places
) -> tuple[list[Finding], list[NotAssessed]]:
    """Findings over the given swings, strongest first, with root and explained ones told apart."""
    findings, open_questions = [], []
    for rule in rules:
        outcomes = [evaluate(rule.when, s, places) for s in swings]
        decided = [o for o in outcomes if o.fires is not None]
        fired = [o for o in decided if o.fires]
        if not decided:
            reason = outcomes[0].reason if outcomes else "no swing counts yet"
            open_questions.append(NotAssessed(rule, reason))
        elif fired:
            findings.append(_summarise(rule, fired, len(decided)))
    return _roles(findings), open_questions


def matched_over_swings(
    sets: Sequence[MatchedSet], swings: Sequence[Evidence], places: Places
) -> list[tuple[MatchedSet, int]]:
    """The matched sets that most of the given swings show, with how many show them."""
    out = []
    for one in sets:
        shown = sum(evaluate(one.when, s, places).fires is True for s in swings)
        if shown and shown >= FINDING_MIN_SHARE * len(swings):
            out.append((one, shown))
    return out


def _summarise(rule: FindingRule, fired: Sequence[Outcome], assessed: int) -> Finding:
    severities = sorted(o.severity for o in fired)
    typical = next(o for o in fired if o.severity == severities[len(severities) // 2])
    share = len(fired) / assessed
    confidence = sum(o.probability for o in fired) / assessed
    severity = typical.severity * rule.weight
    firm = assessed >= FINDING_MIN_SWINGS and share >= FINDING_MIN_SHARE and severity >= FINDING_MIN_SEVERITY
    status = "finding" if firm else "hint"
    return Finding(
        rule,
        round(severity, 4),
        round(confidence, 4),
        len(fired),
        assessed,
        status,
        typical.evidence,
    )


def _roles(findings: Sequence[Finding]) -> list[Finding]:
    """A finding is explained by one upstream of it that is present and stands at least as firm. The strongest such
    cause is named; what explains that one in turn is its root."""
    out = []
    for f in findings:
        causes = [
            c
            for c in findings
            if f.rule.id in c.rule.may_cause and (c.status == "finding" or f.status == "hint") and _heard(c)
        ]
        if causes:
            cause = max(causes, key=lambda c: c.severity * c.confidence)
            f = replace(f, role="explained", explained_by=cause.rule.id)
        out.append(f)
    return sorted(out, key=lambda f: (f.role != "root", -f.severity * f.confidence))


def _heard(cause: Finding) -> bool:
    """Whether a finding is strong enough to stand as a cause: what lies just at an edge explains nothing."""
    return cause.severity >= FINDING_MIN_SEVERITY
