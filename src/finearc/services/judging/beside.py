"""Ranges beside what was measured: the middle of every skilled player and of every player of the academy."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

from finearc.catalogue import library
from finearc.core.comparing.cohort import Sample
from finearc.core.judging.ranges import Range
from finearc.services.judging import academy_rules, cohorts
from finearc.services.judging.terms import Terms
from finearc.services.ports import UnitOfWork

SKILLED = "skilled"
"""The tag that marks a skilled swing."""
LEAST_SKILLED = 3
"""Of fewer tagged players one would look at persons instead of at what is common (house value)."""


@dataclass(frozen=True)
class Beside:
    """A range with one value (SI) of each skilled and of each own player: the middle of their swings."""

    range: Range
    skilled: tuple[float, ...]
    own: tuple[float, ...]


@dataclass(frozen=True)
class Ranges:
    """Ranges that speak of a club. ``synthetic``: the skilled values are the golfer model's, for want of enough
    tagged players, and with an iron only. ``own``: how many players of the academy swung this club."""

    rows: tuple[Beside, ...]
    synthetic: bool
    own: int


def ranges_beside(uow: UnitOfWork, label: str, club: str) -> Ranges:
    """The ranges of a version (of the one in use when empty) that speak of ``club``."""
    found = cohorts.counting_of(uow, club)
    swings = cohorts.values_of(uow, found)
    skilled = cohorts.values_of(uow, cohorts.tagged(found, SKILLED))
    if len({v.player for v in skilled}) < LEAST_SKILLED:
        skilled = []
    rule_set = academy_rules.rule_set_of(uow, label=label)
    terms = Terms(rule_set, academy_rules.schools_of(uow, {}), "adult")
    shown = skilled or (list(cohorts.synthetic()) if "iron" in library.clubs()[club].classes else [])
    rows = tuple(
        Beside(r, _middles(cohorts.samples_of(r, shown)), _middles(cohorts.samples_of(r, swings)))
        for r in cohorts.speaking(rule_set.ranges, terms, club)
    )
    return Ranges(rows, bool(shown) and not skilled, len({v.player for v in swings}))


def _middles(samples: Sequence[Sample]) -> tuple[float, ...]:
    by_player = defaultdict(list)
    for s in samples:
        by_player[s.player].append(s.value)
    return tuple(median(v) for v in by_player.values())
