"""At most two priorities, and why."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Literal

from finearc.core.judging.drills import Drill, Pain, withheld_because
from finearc.core.judging.findings import FINDING_MIN_SEVERITY, LEVELS, PHASES, Finding, MatchedSet
from finearc.core.judging.flight import Flight, contradicts, fits
from finearc.core.judging.graph import explained_through
from finearc.core.judging.limits import Limit
from finearc.wording import mark, tr, trn

MOST = 2
Strength = Literal["slight", "clear", "strong"]
STRENGTHS: tuple[tuple[float, Strength], ...] = ((0.3, "slight"), (0.9, "clear"), (float("inf"), "strong"))
"""Severity times confidence in three steps (house values): finer differences than these decide nothing."""
PHASE_WORDS = {
    "setup": mark("the setup"),
    "takeaway": mark("the takeaway"),
    "top": mark("the top"),
    "transition": mark("the change of direction"),
    "downswing": mark("the way down"),
    "impact": mark("the strike"),
}
LEVEL_WORDS = {
    "body": mark("the body"),
    "hands": mark("the hands"),
    "shaft": mark("the shaft"),
    "face": mark("the face"),
}


class Rule(StrEnum):
    """What decided that one finding ranks before another, in the order in which they are asked."""

    FIRM = "firm"
    PHASE = "phase"
    LEVEL = "level"
    STRENGTH = "strength"
    FLIGHT = "flight"
    LIMITS = "limits"
    FINER = "finer"
    ALONE = "alone"


@dataclass(frozen=True)
class Circumstances:
    """What beside the findings decides: usual ball flight, limits, pain today, and matched sets that were found."""

    flight: Flight = field(default_factory=Flight)
    limits: tuple[Limit, ...] = ()
    pain: Pain = field(default_factory=Pain)
    matched: tuple[MatchedSet, ...] = ()


@dataclass(frozen=True)
class Proposal:
    """A proposed priority. ``why`` in two sentences, in standard and in plain words; ``rule`` what decided against
    ``over``, the next in order; ``explains`` what goes back to it; drills that suit and those withheld with why;
    ``contradiction`` where the ball flies the other way; ``matched`` the sets of which it is a part."""

    finding: Finding
    why: str
    plain_why: str
    rule: Rule
    over: str | None
    explains: tuple[Finding, ...]
    drills: tuple[Drill, ...]
    withheld: tuple[tuple[Drill, str], ...]
    contradiction: str = ""
    matched: tuple[MatchedSet, ...] = ()


@dataclass(frozen=True)
class _Candidate:
    finding: Finding
    drills: tuple[Drill, ...]
    withheld: tuple[tuple[Drill, str], ...]
    fits: tuple[str, ...]


def strength(finding: Finding) -> Strength:
    """slight, clear or strong."""
    size = finding.severity * finding.confidence
    return next(word for limit, word in STRENGTHS if size < limit)


def _step(finding: Finding) -> int:
    return [word for _, word in STRENGTHS].index(strength(finding))


KEYS: tuple[tuple[Rule, Callable[[_Candidate], float]], ...] = (
    (Rule.FIRM, lambda c: c.finding.status != "finding"),
    (Rule.PHASE, lambda c: PHASES.index(c.finding.rule.phase)),
    (Rule.LEVEL, lambda c: LEVELS.index(c.finding.rule.level)),
    (Rule.STRENGTH, lambda c: -_step(c.finding)),
    (Rule.FLIGHT, lambda c: -len(c.fits)),
    (Rule.LIMITS, lambda c: not c.drills),
    (Rule.FINER, lambda c: -c.finding.severity * c.finding.confidence),
)
"""What is asked in turn; the first answer that differs decides."""


def propose(
    findings: Sequence[Finding], drills: Mapping[str, Drill], circumstances: Circumstances | None = None
) -> list[Proposal]:
    """At most two of the root findings: what rests on several swings before hints, then phase, body before hands
    before shaft before face, strength, the usual ball flight, and what the player's limits permit."""
    c = circumstances or Circumstances()
    roots = [f for f in findings if f.role == "root" and not f.rule.remark and f.severity >= FINDING_MIN_SEVERITY]
    ordered = sorted((_candidate(f, drills, c) for f in roots), key=lambda x: tuple(float(key(x)) for _, key in KEYS))
    following: list[_Candidate | None] = [*ordered[1:], None]
    return [_proposal(x, after, findings, c) for x, after in zip(ordered, following, strict=False)][:MOST]


def _candidate(finding: Finding, drills: Mapping[str, Drill], c: Circumstances) -> _Candidate:
    suits, withheld = [], []
    for drill in (drills[name] for name in finding.rule.drills if name in drills):
        why = withheld_because(drill, c.limits, c.pain)
        if why:
            withheld.append((drill, why))
        else:
            suits.append(drill)
    return _Candidate(finding, tuple(suits), tuple(withheld), tuple(fits(finding.rule.ball, c.flight)))


def _proposal(
    candidate: _Candidate, after: _Candidate | None, findings: Sequence[Finding], c: Circumstances
) -> Proposal:
    finding = candidate.finding
    below = tuple(explained_through(finding.rule.id, findings))
    rule = _decided(candidate, after)
    against = contradicts(finding.rule.ball, c.flight)
    return Proposal(
        finding,
        f"{_rests_on(finding, below, plain=False)} {_because(rule, candidate, after, plain=False)}",
        f"{_rests_on(finding, below, plain=True)} {_because(rule, candidate, after, plain=True)}",
        rule,
        after.finding.rule.id if after else None,
        below,
        candidate.drills,
        candidate.withheld,
        _contradiction(*against, c.flight) if against else "",
        tuple(m for m in c.matched if finding.rule.id in m.involves),
    )


def _decided(candidate: _Candidate, after: _Candidate | None) -> Rule:
    if after is None:
        return Rule.ALONE
    return next((rule for rule, key in KEYS if key(candidate) != key(after)), Rule.FINER)


def _named(finding: Finding, *, plain: bool) -> str:
    return f"“{(finding.rule.plain_label if plain else finding.rule.label).lower()}”"


def _rests_on(finding: Finding, below: Sequence[Finding], *, plain: bool) -> str:
    swings = trn("{shown} of {count} swing", "{shown} of {count} swings", finding.assessed, shown=finding.shown)
    verb = tr("shows") if finding.shown == 1 else tr("show")
    may = (
        tr(", and it may bring {listed} with it", listed=_listed([_named(f, plain=plain) for f in below]))
        if below
        else ""
    )
    return tr("{swings} {verb} it{may}.", swings=swings, verb=verb, may=may)


def _because(rule: Rule, candidate: _Candidate, after: _Candidate | None, *, plain: bool) -> str:
    if after is None:
        return tr("It is the only difference that stands out.")
    mine, other = candidate.finding, after.finding
    name = _named(other, plain=plain)
    reasons = {
        Rule.FIRM: tr("It rests on several swings; {name} is only a hint so far.", name=name),
        Rule.PHASE: tr(
            "It comes before {name}, because {phase_words} comes before {phase_words2}.",
            name=name,
            phase_words=PHASE_WORDS[mine.rule.phase],
            phase_words2=PHASE_WORDS[other.rule.phase],
        ),
        Rule.LEVEL: tr(
            "It comes before {name}, because {level_words} {value} before {level_words2}.",
            name=name,
            level_words=LEVEL_WORDS[mine.rule.level],
            value=tr("come") if mine.rule.level == "hands" else tr("comes"),
            level_words2=LEVEL_WORDS[other.rule.level],
        ),
        Rule.STRENGTH: tr(
            "It is {strength}, {name} only {strength2}.", strength=strength(mine), name=name, strength2=strength(other)
        ),
        Rule.FLIGHT: tr(
            "It fits with the ball flight ({listed}), {name} less.", listed=_listed(candidate.fits), name=name
        ),
        Rule.LIMITS: tr("A drill for it suits the player's limits, none does for {name}.", name=name),
        Rule.FINER: tr("It is a little more marked than {name}.", name=name),
    }
    return reasons[rule]


def _contradiction(tends: str, seen: str, flight: Flight) -> str:
    ball = tr("the player speaks of") if flight.told else tr("the balls show")
    return tr(
        "This usually goes with a {tends}, but {ball} a {seen}. Something that was not measured may undo it: look at "
        "the face and the strike before changing it.",
        tends=tends,
        ball=ball,
        seen=seen,
    )


def _listed(words: Sequence[str]) -> str:
    return (
        tr(" and ").join(words)
        if len(words) < 3
        else tr("{value} and {words}", value=", ".join(words[:-1]), words=words[-1])
    )
