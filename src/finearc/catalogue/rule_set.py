"""All that an academy judges and teaches by: ranges, findings, drills and matched sets, built in and its own."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from difflib import get_close_matches
from functools import cached_property, lru_cache

from finearc.catalogue import library, schemas
from finearc.catalogue.toml_file import DataFileError, entry_line, read_toml
from finearc.core.judging import graph
from finearc.core.judging.conditions import AllOf, AnyOf, Beyond, Condition, Evidence, Not, Outcome, ValueBeyond
from finearc.core.judging.drills import Drill
from finearc.core.judging.findings import (
    Finding,
    FindingRule,
    MatchedSet,
    NotAssessed,
    matched_of,
    outcomes_of,
    over_swings,
)
from finearc.core.judging.ranges import judge
from finearc.core.metrics.definition import PER_SI, WHOLE_SWING, Measured, Moment, Unit
from finearc.core.metrics.registry import PUTT_DISTANCE
from finearc.wording import tr

EXAMPLE_SD = {Unit.SECONDS: 0.01, Unit.RATIO: 0.02}
"""Uncertainty with which an example's values are judged, in the metric's unit; 1 of any other unit."""


@dataclass(frozen=True, eq=False)
class RuleSet:
    """Ranges, findings, drills and matched sets that go together."""

    ranges: library.RangeLibrary
    rules: tuple[FindingRule, ...]
    drills: Mapping[str, Drill]
    matched: tuple[MatchedSet, ...]

    def find(self, evidence: Sequence[Evidence]) -> tuple[list[Finding], list[NotAssessed]]:
        """Findings over swings that count, and what could not be assessed."""
        return over_swings(self.rules, evidence, self.ranges.places)

    def decide(self, evidence: Evidence) -> tuple[dict[str, Outcome], tuple[str, ...]]:
        """What the rules say of one swing, and which matched sets it shows."""
        places = self.ranges.places
        return outcomes_of(self.rules, evidence, places), matched_of(self.matched, evidence, places)

    @cached_property
    def needed(self) -> frozenset[tuple[str, str]]:
        """Metric and moment of every value that a range, a finding or a matched set speaks of."""
        keys = set(self.ranges.places.values())
        keys |= {(r.metric.id, r.relative_to.key) for r in self.ranges.ranges if r.relative_to is not None}
        if any(r.of_distance for r in self.ranges.ranges):
            keys.add((PUTT_DISTANCE.id, WHOLE_SWING.key))
        for condition in (*(r.when for r in self.rules), *(m.when for m in self.matched)):
            keys |= set(values_of(condition))
        return frozenset(keys)

    def rule(self, finding: str) -> FindingRule | None:
        """A finding's rule by id."""
        return next((r for r in self.rules if r.id == finding), None)


@lru_cache(maxsize=1)
def built_in() -> RuleSet:
    """What ships with the application."""
    return RuleSet(library.ranges(), library.findings(), library.drills(), library.matched_sets())


def with_ranges(ranges: library.RangeLibrary) -> RuleSet:
    """The built-in findings with other ranges."""
    return replace(built_in(), ranges=ranges)


def compose(ranges: library.RangeLibrary, academy_rules: schemas.AcademyRulesFile) -> RuleSet:
    """The built-in rule set with an academy's ranges and its own findings and drills; a drill under a built-in id is
    the academy's own wording of it."""
    base = built_in()
    drills = {**base.drills, **{d.id: library.drill_of(d, own=True) for d in academy_rules.drill}}
    rules = (*base.rules, *(library.finding_of(f, own=True) for f in academy_rules.finding))
    return RuleSet(ranges, rules, drills, base.matched)


def read_academy_rules(
    text: str, name: str, ranges: library.RangeLibrary, known: schemas.AcademyRulesFile
) -> schemas.AcademyRulesFile:
    """An academy's findings and drills from TOML, checked against the built-in ones, the ranges in use and what the
    academy has already (``known``). Raises ``DataFileError`` with file and line."""
    return check_academy_rules(read_toml(text, name, schemas.AcademyRulesFile), ranges, known, name, text)


def check_academy_rules(
    file: schemas.AcademyRulesFile,
    ranges: library.RangeLibrary,
    known: schemas.AcademyRulesFile,
    name: str = "",
    text: str = "",
) -> schemas.AcademyRulesFile:
    """What is there (``known``) with what comes, once that has been checked. ``name`` and ``text``: of the file it
    comes from, if any. Raises ``DataFileError``."""
    merged = merge(known, file)

    def refuse(entry: str, problem: str) -> DataFileError:
        return DataFileError(name, problem, entry_line(text, "finding", entry))

    try:
        rule_set = compose(ranges, merged)
    except DataFileError as error:
        raise DataFileError(name, error.problem, error.line) from None
    ids = {r.id for r in built_in().rules}
    for entry in file.finding:
        if entry.id in ids:
            raise refuse(entry.id, tr('finding "{id}" is built in; give yours another id', id=entry.id))
        problem = _unknown_names(library.finding_of(entry, name), rule_set)
        if problem:
            raise refuse(entry.id, problem)
        rule = rule_set.rule(entry.id)
        for k, example in enumerate(entry.example, 1):
            if rule is not None and example_outcome(rule.when, example, ranges).fires is not example.fires:
                does = tr("does not fire") if example.fires else tr("fires")
                raise refuse(
                    entry.id,
                    tr("finding {id}: its example {k} {does}, against what it says", id=entry.id, k=k, does=does),
                )
    try:
        graph.check(rule_set.rules)
    except graph.BadGraph as error:
        raise refuse(error.finding, str(error)) from None
    return merged


def merge(known: schemas.AcademyRulesFile, more: schemas.AcademyRulesFile) -> schemas.AcademyRulesFile:
    """What is there with what comes; the same id is replaced."""
    findings = {f.id: f for f in [*known.finding, *more.finding]}
    drills = {d.id: d for d in [*known.drill, *more.drill]}
    return schemas.AcademyRulesFile(finding=list(findings.values()), drill=list(drills.values()))


def _unknown_names(rule: FindingRule, rule_set: RuleSet) -> str:
    for what, names, known in (
        ("range", ranges_of(rule.when), rule_set.ranges.places),
        ("drill", rule.drills, rule_set.drills),
        ("finding", rule.may_cause, {r.id for r in rule_set.rules}),
    ):
        for name in names:
            if name not in known:
                near = get_close_matches(name, list(known), 1)
                hint = tr(', did you mean "{near}"?', near=near[0]) if near else ""
                return tr(
                    'finding {id}: there is no {what} "{name}"{hint}', id=rule.id, what=what, name=name, hint=hint
                )
    return ""


def ranges_of(condition: Condition) -> tuple[str, ...]:
    """Ids of all ranges that a condition speaks of."""
    if isinstance(condition, Beyond):
        return condition.ranges
    if isinstance(condition, Not):
        return ranges_of(condition.part)
    if isinstance(condition, AllOf | AnyOf):
        return tuple(r for part in condition.parts for r in ranges_of(part))
    return ()


def values_of(condition: Condition) -> tuple[tuple[str, str], ...]:
    """Metric and moment of all values that a condition reads without a range."""
    if isinstance(condition, ValueBeyond):
        return ((condition.metric.id, condition.moment.key),)
    if isinstance(condition, Not):
        return values_of(condition.part)
    if isinstance(condition, AllOf | AnyOf):
        return tuple(v for part in condition.parts for v in values_of(part))
    return ()


def example_outcome(
    condition: Condition, example: schemas.ExampleEntry, ranges: library.RangeLibrary, club: str = ""
) -> Outcome:
    """How a condition decides on an example's values, judged for an adult with the example's club, or another."""
    measured = []
    for key, value in example.values.items():
        name, _, moment = key.partition("@")
        metric = library.metric_of(name)
        per = PER_SI[metric.unit]
        measured.append(Measured(metric, Moment(moment), value / per, EXAMPLE_SD.get(metric.unit, 1.0) / per))
    situation = library.situation(club or example.club, example.shot, "adult", example.schools)
    return condition.decide(Evidence.of(judge(measured, ranges.ranges, situation), {}), ranges.places)
