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

MOST = 2
Strength = Literal["slight", "clear", "strong"]
STRENGTHS: tuple[tuple[float, Strength], ...] = ((0.3, "slight"), (0.9, "clear"), (float("inf"), "strong"))
"""Severity times confidence in three steps (house values): finer differences than these decide nothing."""
PHASE_WORDS = {
    "setup": "the setup",
    "takeaway": "the takeaway",
    "top": "the top",
    "transition": "the change of direction",
    "downswing": "the way down",
    "impact": "the strike",
}
LEVEL_WORDS = {"body": "the body", "hands": "the hands", "shaft": "the shaft", "face": "the face"}


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
    swings = f"{finding.shown} of {finding.assessed} swing{'s' if finding.assessed != 1 else ''}"
    verb = "shows" if finding.shown == 1 else "show"
    may = f", and it may bring {_listed([_named(f, plain=plain) for f in below])} with it" if below else ""
    return f"{swings} {verb} it{may}."


def _because(rule: Rule, candidate: _Candidate, after: _Candidate | None, *, plain: bool) -> str:
    if after is None:
        return "It is the only difference that stands out."
    mine, other = candidate.finding, after.finding
    name = _named(other, plain=plain)
    reasons = {
        Rule.FIRM: f"It rests on several swings; {name} is only a hint so far.",
        Rule.PHASE: f"It comes before {name}, because {PHASE_WORDS[mine.rule.phase]} comes before "
        f"{PHASE_WORDS[other.rule.phase]}.",
        Rule.LEVEL: f"It comes before {name}, because {LEVEL_WORDS[mine.rule.level]} "
        f"{'come' if mine.rule.level == 'hands' else 'comes'} before {LEVEL_WORDS[other.rule.level]}.",
        Rule.STRENGTH: f"It is {strength(mine)}, {name} only {strength(other)}.",
        Rule.FLIGHT: f"It fits with the ball flight ({_listed(candidate.fits)}), {name} less.",
        Rule.LIMITS: f"A drill for it suits the player's limits, none does for {name}.",
        Rule.FINER: f"It is a little more marked than {name}.",
    }
    return reasons[rule]


def _contradiction(tends: str, seen: str, flight: Flight) -> str:
    ball = "the player speaks of" if flight.told else "the balls show"
    return (
        f"This usually goes with a {tends}, but {ball} a {seen}. Something that was not measured may undo it: look at "
        "the face and the strike before changing it."
    )


def _listed(words: Sequence[str]) -> str:
    return " and ".join(words) if len(words) < 3 else f"{', '.join(words[:-1])} and {words[-1]}"
