"""By what a lesson's swings are judged, and judging them again under other terms without the raw streams."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.limits import Limit
from finearc.core.judging.ranges import InForce, Key, in_force, judge_values
from finearc.core.kinematics.inertial import MOVED
from finearc.core.metrics.definition import Measured
from finearc.services.judging.academy_rules import rule_set_of, schools_of
from finearc.services.ports import UnitOfWork
from finearc.services.record.stored import measured_of, unpack_values
from finearc.services.records import Lesson, MovementLimit, Player, Reference, Swing, now

BEST = "best"


@dataclass(frozen=True)
class Terms:
    """Rule set, schools, population, limits and the player's own best values (SI): all that decides a verdict."""

    rule_set: RuleSet
    schools: Mapping[str, str]
    population: str
    limits: tuple[Limit, ...] = ()
    best: Mapping[tuple[str, str], float] = field(default_factory=dict)
    _pages: dict[tuple[str, str], InForce] = field(default_factory=dict, repr=False, compare=False)

    def page(self, club: str, shot: str = "full") -> InForce:
        """The ranges in force for a club and a shot, sorted once."""
        if (club, shot) not in self._pages:
            situation = library.situation(club, shot, self.population, self.schools, self.limits, self.best)
            self._pages[club, shot] = in_force(self.rule_set.ranges.ranges, situation)
        return self._pages[club, shot]

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
    today = now().date()
    held = [r for r in uow.find(MovementLimit, player_id=player.id) if r.holds_on(today)]
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


def terms_of(uow: UnitOfWork, lesson: Lesson, player: Player, label: str = "") -> Terms:
    """By what a lesson's swings are judged: its version of the ranges, the player's schools, limits and own best."""
    rule_set = rule_set_of(uow, lesson, label)
    schools = schools_of(uow, player.schools)
    return Terms(rule_set, schools, player.population, limits_of(uow, player), best_of(uow, player))


def why_not_judged(swing: Swing, warnings: list[str]) -> str:
    """Why nothing of a stored swing may be judged: its sensor moved, or sat in the wrong place; else empty."""
    if swing.sensor_moved:
        return MOVED
    return warnings[0] if warnings else ""


def evidence_again(swing: Swing, terms: Terms, not_judged_reason: str = "") -> Evidence:
    """A stored swing judged under these terms, from its block of values."""
    return judge_block(swing.measured, swing, terms, not_judged_reason)


def judge_block(block: bytes, swing: Swing, terms: Terms, not_judged_reason: str = "") -> Evidence:
    """The same of a given block; without one (a swing kept by an older version), from its result."""
    values, missing = stored_values(block, swing, terms.rule_set.needed)
    return Evidence.by(judge_values(values, terms.page(swing.club, swing.shot), not_judged_reason), missing)


def stored_values(
    block: bytes, swing: Swing, keys: frozenset[Key] | None = None
) -> tuple[dict[Key, Measured], Mapping[str, str]]:
    """The values of a swing by metric and moment, and why others are missing: from its block, else its result."""
    if block:
        return unpack_values(block, keys)
    measured = [measured_of(e) for e in swing.result.get("metrics", [])]
    missing = {e["metric"]: e["reason"] for e in swing.result.get("missing", [])}
    return {(m.metric.id, m.moment.key): m for m in measured}, missing
