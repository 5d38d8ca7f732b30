"""Findings: what conditions on judged values say, per swing and over swings."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from finearc.core.judging.conditions import Condition, Evidence, Outcome, Places
from finearc.core.judging.ranges import Judged
from finearc.wording import tr, worded

FINDING_MIN_SWINGS = 3
FINDING_MIN_SHARE = 0.6
FINDING_MIN_SEVERITY = 0.12
"""What lies just at an edge stays a hint, however many swings show it."""
PHASES = ("setup", "takeaway", "top", "transition", "downswing", "impact")
LEVELS = ("body", "hands", "shaft", "face")


@worded("label", "plain_label", "says", "player_says", "tends", "caution", "note")
@dataclass(frozen=True)
class FindingRule:
    """One fault and all that is said about it. ``setup_answer``: whether it answers a still setup check, where it shows
    at address; ``own``: the academy's, not built in; ``of_putts``: about putts, and about no other swing;
    ``firm_with``: ids of metrics, without any of which among its evidence it stays a hint; ``remark``: worth saying
    and no difference, never a priority."""

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
    setup_answer: bool = True
    own: bool = False
    of_putts: bool = False
    firm_with: tuple[str, ...] = ()
    remark: bool = False


@worded("label", "says", "player_says")
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


Outcomes = Mapping[str, Outcome]
"""What each rule says of one swing, by its id; a rule that is not there is silent."""


def outcomes_of(rules: Sequence[FindingRule], evidence: Evidence, places: Places) -> dict[str, Outcome]:
    """What the rules say of one swing: those that fire, and those that cannot be decided."""
    out = {}
    for rule in (r for r in rules if r.of_putts is evidence.of_putt):
        outcome = rule.when.decide(evidence, places)
        if outcome.fires is not False:
            out[rule.id] = outcome
    return out


def over_swings(
    rules: Sequence[FindingRule], swings: Sequence[Evidence], places: Places
) -> tuple[list[Finding], list[NotAssessed]]:
    """Findings over the given swings, strongest first, with root and explained ones told apart."""
    return over_outcomes(rules, [outcomes_of(rules, s, places) for s in swings])


def over_outcomes(rules: Sequence[FindingRule], swings: Sequence[Outcomes]) -> tuple[list[Finding], list[NotAssessed]]:
    """The same from what the rules said of each swing."""
    findings, open_questions = [], []
    heard = {name for s in swings for name in s} if swings else {rule.id for rule in rules if not rule.of_putts}
    for rule in (r for r in rules if r.id in heard):
        said = [o for s in swings if (o := s.get(rule.id)) is not None]
        fired = [o for o in said if o.fires]
        assessed = len(swings) - (len(said) - len(fired))
        if not assessed:
            reason = next((o.reason for o in said if o.reason), "")
            open_questions.append(NotAssessed(rule, reason or tr("no swing counts yet")))
        elif fired:
            findings.append(_summarise(rule, fired, assessed))
    return _roles(findings), open_questions


def matched_of(sets: Sequence[MatchedSet], evidence: Evidence, places: Places) -> tuple[str, ...]:
    """Ids of the matched sets that one swing shows."""
    return tuple(one.id for one in sets if one.when.decide(evidence, places).fires is True)


def matched_over_swings(sets: Sequence[MatchedSet], swings: Sequence[Sequence[str]]) -> list[tuple[MatchedSet, int]]:
    """The matched sets that most of the given swings show, with how many show them; of each swing, what
    ``matched_of`` gave."""
    out = []
    for one in sets:
        shown = sum(one.id in s for s in swings)
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
    if rule.firm_with:
        firm = firm and any(e.measured.metric.id in rule.firm_with for e in typical.evidence)
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
