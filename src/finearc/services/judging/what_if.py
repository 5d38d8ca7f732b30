"""What would change if a lesson were judged otherwise, shown before it is kept; and keeping it, to be undone."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from finearc.catalogue import library
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.judging.schools import Closest, closest
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics.definition import Measured
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.terms import Terms, evidence_again, stored_values, terms_of, why_not_judged
from finearc.services.lesson.summary import LessonSummary, circumstances_of, counting_swings, summarise_evidence
from finearc.services.ports import UnitOfWork
from finearc.services.records import Lesson, Player, Recording, Swing

VERDICT_WORDS = {
    Verdict.IN_RANGE: "in the band",
    Verdict.EDGE_LOW: "at the edge below",
    Verdict.EDGE_HIGH: "at the edge above",
    Verdict.LOW: "below the band",
    Verdict.HIGH: "above the band",
    Verdict.NOT_JUDGED: "not judged",
}


@dataclass(frozen=True)
class VerdictChange:
    """A value whose verdict would be another in ``swings`` of ``of`` swings; ``because``: the band before and after."""

    metric: str
    moment: str
    swings: int
    of: int
    before: Verdict
    after: Verdict
    because: str


@dataclass(frozen=True)
class WhatIf:
    """Two readings of the same swings. ``verdicts`` that differ; the findings that come and go are read off both."""

    club: str
    before: LessonSummary
    after: LessonSummary
    verdicts: tuple[VerdictChange, ...]
    labels: tuple[str, str]

    @property
    def nothing(self) -> bool:
        """Whether all stays as it is."""
        ids = [[f.rule.id for f in t.findings] for t in (self.before, self.after)]
        ranked = [[p.finding.rule.id for p in t.proposals] for t in (self.before, self.after)]
        return not self.verdicts and set(ids[0]) == set(ids[1]) and ranked[0] == ranked[1]


def what_if(
    uow: UnitOfWork, lesson: Lesson, swings: Sequence[Swing], club: str, schools: Mapping[str, str], label: str = ""
) -> WhatIf:
    """Judge a lesson's swings of a club as they are and as they would be; nothing is kept."""
    player = uow.get(Player, lesson.player_id)
    now = terms_of(uow, lesson, player)
    then = now.with_schools(schools)
    if label:
        then = then.with_rule_set(rule_set_of(uow, label=label))
    counting = counting_swings(swings, club)
    held = circumstances_of(uow, lesson, player, counting)
    warnings = {t.id: t.warnings for t in uow.find(Recording, lesson_id=lesson.id)}
    evidence = [
        [evidence_again(s, terms, why_not_judged(s, warnings.get(s.recording_id, []))) for s in counting]
        for terms in (now, then)
    ]
    return WhatIf(
        club,
        summarise_evidence(now.rule_set, club, counting, evidence[0], held),
        summarise_evidence(then.rule_set, club, counting, evidence[1], held),
        tuple(_differences(*evidence)),
        (now.rule_set.ranges.version, then.rule_set.ranges.version),
    )


def _differences(before: Sequence[Evidence], after: Sequence[Evidence]) -> list[VerdictChange]:
    keys = list(dict.fromkeys(k for e in (*before, *after) for k in e.by_key))
    out = []
    for key in keys:
        pairs = [(a.by_key[key], b.by_key[key]) for a, b in zip(before, after, strict=True) if key in a.by_key]
        changed = [(a, b) for a, b in pairs if a.verdict is not b.verdict]
        if not changed:
            continue
        (first, then), _ = Counter((a.verdict, b.verdict) for a, b in changed).most_common(1)[0]
        a, b = next((a, b) for a, b in changed if (a.verdict, b.verdict) == (first, then))
        out.append(VerdictChange(*key, len(changed), len(pairs), first, then, f"{_band(a)}; then {_band(b)}"))
    return out


def _band(judged: Judged) -> str:
    if judged.range is None:
        return judged.reason or "no band"
    words = limits_in_words(judged.measured.metric, judged.low, judged.high, change=judged.measured.moment.is_change)
    return f"band {words} ({judged.range.id})"


def closest_schools(uow: UnitOfWork, lesson: Lesson, swings: Sequence[Swing], club: str) -> list[Closest]:
    """Which school of each matter the player's swings are closest to."""
    player = uow.get(Player, lesson.player_id)
    terms = terms_of(uow, lesson, player)
    return [
        closest(
            axis, terms.rule_set.ranges.ranges, _values(swings, club, terms), terms.page(club).situation.club_classes
        )
        for axis in library.schools()
    ]


def _values(swings: Sequence[Swing], club: str, terms: Terms) -> list[dict[tuple[str, str], Measured]]:
    return [stored_values(s.measured, s, terms.rule_set.needed)[0] for s in counting_swings(swings, club)]
