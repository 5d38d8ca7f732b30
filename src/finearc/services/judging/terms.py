"""By what a lesson's swings are judged, and judging them again under other terms without the raw streams."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.limits import Limit
from finearc.core.judging.ranges import InForce, Key, in_force
from finearc.services.judging.academy_rules import academy_rules_of, lesson_schools, rule_set_of
from finearc.services.ports import UnitOfWork
from finearc.services.record.shown import ALWAYS
from finearc.services.records import AcademyRules, Lesson, MovementLimit, Player, Reference, now

BEST = "best"


@dataclass(frozen=True)
class Terms:
    """Rule set, schools, population, limits and the player's own best values (SI): all that decides a verdict."""

    rule_set: RuleSet
    schools: Mapping[str, str]
    population: str
    limits: tuple[Limit, ...] = ()
    best: Mapping[tuple[str, str], float] = field(default_factory=dict)
    revision: int = 0
    _pages: dict[tuple[str, str], InForce] = field(default_factory=dict, repr=False, compare=False)

    def page(self, club: str, shot: str = "full") -> InForce:
        """The ranges in force for a club and a shot, sorted once."""
        if (club, shot) not in self._pages:
            situation = library.situation(club, shot, self.population, self.schools, self.limits, self.best)
            self._pages[club, shot] = in_force(self.rule_set.ranges.ranges, situation)
        return self._pages[club, shot]

    @property
    def wanted(self) -> frozenset[Key]:
        """The values that judging reads or a summary shows."""
        return self.rule_set.needed | ALWAYS

    def with_schools(self, schools: Mapping[str, str]) -> Terms:
        """The same under other schools. Raises ``DataFileError`` for one that does not exist."""
        for axis, option in schools.items():
            library.known_school(axis, option, "schools")
        return replace(self, schools={**self.schools, **schools}, _pages={})

    def with_rule_set(self, rule_set: RuleSet) -> Terms:
        """The same under another rule set."""
        return replace(self, rule_set=rule_set, _pages={})


def limits_of(uow: UnitOfWork, player: Player) -> tuple[Limit, ...]:
    """The player's limits that hold today."""
    return limits_on(uow.find(MovementLimit, player_id=player.id))


def limits_on(known: Sequence[MovementLimit]) -> tuple[Limit, ...]:
    """Those that hold today."""
    today = now().date()
    held = [r for r in known if r.holds_on(today)]
    return tuple(
        Limit(r.area, r.movement, r.side, None if r.comfortable is None else float(np.deg2rad(r.comfortable)))
        for r in held
    )


def best_of(uow: UnitOfWork, player: Player) -> dict[tuple[str, str], float]:
    """The player's own best values (SI), as marked last."""
    marked = uow.find(Reference, player_id=player.id, form=BEST, order="-made_at")
    if not marked:
        return {}
    keys = {k: tuple(k.split("@", 1)) for k in marked[0].best}
    return {(a, b): marked[0].best[k] for k, (a, b) in keys.items()}


def terms_of(uow: UnitOfWork, lesson: Lesson, player: Player, label: str = "", held: Held | None = None) -> Terms:
    """By what a lesson's swings are judged: its version of the ranges, the player's schools (a closed lesson's own),
    limits and own best. ``held``: what is the same for all lessons of the player, read once."""
    held = held or held_of(uow, player)
    rule_set = rule_set_of(uow, lesson, label, held.rules)
    revision = held.rules.revision if lesson.rules_revision is None else lesson.rules_revision
    schools = lesson_schools(uow, lesson, player, held.rules)
    return Terms(rule_set, schools, player.population, held.limits, held.best, revision)


@dataclass(frozen=True)
class Held:
    """What holds for a player whatever the lesson: the academy's choices, limits, own best."""

    rules: AcademyRules
    limits: tuple[Limit, ...]
    best: Mapping[tuple[str, str], float]


def held_of(uow: UnitOfWork, player: Player) -> Held:
    """Read in three queries."""
    return Held(academy_rules_of(uow), limits_of(uow, player), best_of(uow, player))
