"""What would change if a lesson were judged otherwise, shown before it is kept; and keeping it, to be undone."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from finearc.catalogue import library
from finearc.core.judging.drills import Pain
from finearc.core.judging.priorities import Circumstances
from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.judging.schools import Closest, closest
from finearc.core.judging.words import limits_in_words
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.judging.rejudge import judge_stored
from finearc.services.judging.terms import terms_of
from finearc.services.lesson.summary import LessonSummary, counting_swings, flight_of, summarise
from finearc.services.ports import UnitOfWork
from finearc.services.record.codec import unpack_values
from finearc.services.record.document import SwingJudgement
from finearc.services.records import Lesson, Player, Swing
from finearc.wording import mark, tr

VERDICT_WORDS = {
    Verdict.IN_RANGE: mark("in the band"),
    Verdict.EDGE_LOW: mark("at the edge below"),
    Verdict.EDGE_HIGH: mark("at the edge above"),
    Verdict.LOW: mark("below the band"),
    Verdict.HIGH: mark("above the band"),
    Verdict.NOT_JUDGED: mark("not judged"),
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
    records = uow.swings.records([s.id for s in counting])
    counting = [s for s in counting if s.id in records]
    held = Circumstances(flight_of(counting, player), now.limits, Pain.noted(lesson.pain, lesson.pain_note))
    judged = [[judge_stored(records[s.id], s, terms) for s in counting] for terms in (now, then)]
    return WhatIf(
        club,
        summarise(now.rule_set, club, counting, judged[0], held),
        summarise(then.rule_set, club, counting, judged[1], held),
        tuple(_differences(*judged)),
        (now.rule_set.ranges.version, then.rule_set.ranges.version),
    )


def _differences(before: Sequence[SwingJudgement], after: Sequence[SwingJudgement]) -> list[VerdictChange]:
    keys = list(dict.fromkeys(k for j in (*before, *after) for k in j.judged))
    out = []
    for key in keys:
        pairs = [
            (a.judged[key], b.judged[key])
            for a, b in zip(before, after, strict=True)
            if key in a.judged and key in b.judged
        ]
        changed = [(a, b) for a, b in pairs if a.verdict is not b.verdict]
        if not changed:
            continue
        (first, then), _ = Counter((a.verdict, b.verdict) for a, b in changed).most_common(1)[0]
        a, b = next((a, b) for a, b in changed if (a.verdict, b.verdict) == (first, then))
        out.append(
            VerdictChange(
                *key, len(changed), len(pairs), first, then, tr("{band}; then {band2}", band=_band(a), band2=_band(b))
            )
        )
    return out


def _band(judged: Judged) -> str:
    if judged.range is None:
        return judged.reason or tr("no band")
    words = limits_in_words(judged.measured.metric, judged.low, judged.high, change=judged.measured.moment.is_change)
    return tr("band {words} ({id})", words=words, id=judged.range.id)


def closest_schools(uow: UnitOfWork, lesson: Lesson, swings: Sequence[Swing], club: str) -> list[Closest]:
    """Which school of each matter the player's swings are closest to."""
    terms = terms_of(uow, lesson, uow.get(Player, lesson.player_id))
    records = uow.swings.records([s.id for s in counting_swings(swings, club)])
    values = [unpack_values(block, terms.rule_set.needed)[0] for block in records.values()]
    return [
        closest(axis, terms.rule_set.ranges.ranges, values, terms.page(club).situation.club_classes)
        for axis in library.schools()
    ]
