"""What a lesson's putts say together: motion that jumps at one distance. It changes with every putt that comes, goes or
is marked otherwise, so it is worked out with the summary and kept nowhere else."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from finearc.catalogue.rule_set import RuleSet, values_of
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.ranges import NO_RANGE, Judged, Key, Verdict
from finearc.core.metrics.definition import WHOLE_SWING, Measured
from finearc.core.metrics.families.putting import DEVIATION_RANGE, EXTENSION_RANGE, GROWTH_RATIO, PUTT_DISTANCE, STROKE
from finearc.core.putting.notes import growth_values
from finearc.services.record.document import SwingJudgement
from finearc.wording import tr

GROWS: frozenset[Key] = frozenset(
    {(EXTENSION_RANGE.id, STROKE), (DEVIATION_RANGE.id, STROKE), (PUTT_DISTANCE.id, WHOLE_SWING.key)}
)
"""The values that it rests on."""


def with_growth(rule_set: RuleSet, judged: Sequence[SwingJudgement]) -> list[SwingJudgement]:
    """The judgements of a lesson's counting putts, each with what the rules about growth say of its distance."""
    more = growth_values([_values(j) for j in judged])
    return [
        j if not extra or j.reason else _judged(rule_set, j, extra[0]) for j, extra in zip(judged, more, strict=True)
    ]


def _values(judged: SwingJudgement) -> Mapping[Key, Measured]:
    return {k: j.measured for k, j in judged.judged.items() if k in GROWS}


def _judged(rule_set: RuleSet, judged: SwingJudgement, ratio: Measured) -> SwingJudgement:
    key = (GROWTH_RATIO.id, STROKE)
    value = Judged(ratio, None, None, None, Verdict.NOT_JUDGED, tr(NO_RANGE))
    about = [r for r in rule_set.rules if key in values_of(r.when)]
    said = {r.id: r.when.decide(Evidence.by({**judged.judged, key: value}, {}), rule_set.ranges.places) for r in about}
    kept = {k: o for k, o in judged.outcomes.items() if k not in said}
    return replace(judged, outcomes=kept | {k: o for k, o in said.items() if o.fires is not False})
