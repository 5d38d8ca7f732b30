"""Conditions on judged values: below, above, outside, a value beyond a limit, a value not seen, all of, any of, not."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import erf, sqrt
from typing import NamedTuple

from finearc.core.judging.ranges import ANOTHER_SCHOOL, CAP, NO_RANGE, OUTSIDE_HIGH, OUTSIDE_LOW, Judged, Verdict
from finearc.core.metrics.definition import Metric, Moment
from finearc.core.metrics.registry import ALL
from finearc.wording import tr

Places = Mapping[str, tuple[str, str]]
"""Which metric and moment (their keys) each range of a library speaks of."""


class Outcome(NamedTuple):
    """``fires`` is None when undecidable (``reason``). ``probability`` that the value truly lies beyond."""

    fires: bool | None
    severity: float = 0.0
    probability: float = 0.0
    evidence: tuple[Judged, ...] = ()
    reason: str = ""


SILENT = Outcome(False)
OF_PUTTS = frozenset(m.id for m in ALL if m.of_putts)
"""Ids of the metrics that only putts have."""
SIDES = {"low": OUTSIDE_LOW, "high": OUTSIDE_HIGH, "either": OUTSIDE_LOW + OUTSIDE_HIGH}
EDGES = (Verdict.EDGE_LOW, Verdict.EDGE_HIGH)


@dataclass(frozen=True)
class Evidence:
    """All judged values of one swing, by range and by metric and moment."""

    by_range: Mapping[str, Judged]
    by_key: Mapping[tuple[str, str], Judged]
    missing: Mapping[str, str]

    @cached_property
    def of_putt(self) -> bool:
        """Whether the values are a putt's: it has, or misses, what only putts have."""
        return any(k in OF_PUTTS for k in self.missing) or any(metric in OF_PUTTS for metric, _ in self.by_key)

    @staticmethod
    def of(judged: Sequence[Judged], missing: Mapping[str, str]) -> Evidence:
        """From the judged values of a swing and why others are missing."""
        return Evidence.by({(j.measured.metric.id, j.measured.moment.key): j for j in judged}, missing)

    @staticmethod
    def by(judged: Mapping[tuple[str, str], Judged], missing: Mapping[str, str]) -> Evidence:
        """The same from values by metric and moment."""
        return Evidence({j.range.id: j for j in judged.values() if j.range is not None}, judged, missing)


def _beyond_probability(distance: float, uncertainty: float) -> float:
    return 0.5 * (1.0 + erf(abs(distance) / max(uncertainty, 1e-9) / sqrt(2.0)))


@dataclass(frozen=True)
class Beyond:
    """The value of whichever of ``ranges`` was in force lies outside on ``side`` (low, high or either). ``strict``
    leaves the edge out."""

    ranges: tuple[str, ...]
    side: str
    strict: bool = False

    @cached_property
    def outside(self) -> tuple[Verdict, ...]:
        """The verdicts by which it fires; a short tuple is searched sooner than an enumeration is hashed."""
        return tuple(v for v in SIDES[self.side] if not (self.strict and v in EDGES))

    def decide(self, evidence: Evidence, places: Places) -> Outcome:
        """Whether it fires on a swing. ``places`` tells the ranges of the library, for reasons."""
        for name in self.ranges:
            judged = evidence.by_range.get(name)
            if judged is None:
                continue
            if judged.verdict not in self.outside:
                return SILENT
            probability = _beyond_probability(judged.distance, judged.measured.uncertainty)
            return Outcome(True, judged.severity, probability, (judged,))
        return self._undecided(evidence, places)

    def _undecided(self, evidence: Evidence, places: Places) -> Outcome:
        """No range of the condition was in force: another school's does not fire, anything else is not assessable."""
        known = [places[r] for r in self.ranges if r in places]
        if not known:
            return Outcome(None, reason=tr("the ranges in use have no {ranges}", ranges=tr(" or ").join(self.ranges)))
        judged = next((evidence.by_key[k] for k in known if k in evidence.by_key), None)
        if judged is None:
            return Outcome(None, reason=evidence.missing.get(known[0][0], tr("not judged in this swing")))
        if judged.verdict is not Verdict.NOT_JUDGED or judged.reason == ANOTHER_SCHOOL:
            return SILENT
        return Outcome(None, reason=judged.reason)


@dataclass(frozen=True)
class ValueBeyond:
    """The value (SI) of a metric at a moment lies above or below ``limit``; ``half_width`` scales severity."""

    metric: Metric
    moment: Moment
    limit: float
    above: bool
    half_width: float

    def decide(self, evidence: Evidence, places: Places) -> Outcome:
        """Whether it fires on a swing."""
        judged = evidence.by_key.get((self.metric.id, self.moment.key))
        if judged is None:
            return Outcome(None, reason=evidence.missing.get(self.metric.id, tr("its checkpoint was not found")))
        if judged.verdict is Verdict.NOT_JUDGED and judged.reason != NO_RANGE:
            return Outcome(None, reason=judged.reason)
        over = judged.measured.value - self.limit
        over = over if self.above else -over
        if over <= 0:
            return SILENT
        probability = _beyond_probability(over, judged.measured.uncertainty)
        return Outcome(True, min(CAP, over / self.half_width), probability, (judged,))


@dataclass(frozen=True)
class Unseen:
    """The value of a metric at a moment was not measured; always decidable, and no evidence of anything."""

    metric: Metric
    moment: Moment

    def decide(self, evidence: Evidence, places: Places) -> Outcome:
        """Whether it fires on a swing."""
        there = (self.metric.id, self.moment.key) in evidence.by_key
        return SILENT if there else Outcome(True, 0.0, 1.0)


@dataclass(frozen=True)
class AllOf:
    """Every part fires; one that does not settles it, whatever cannot be decided."""

    parts: tuple[Condition, ...]

    def decide(self, evidence: Evidence, places: Places) -> Outcome:
        """Whether it fires on a swing."""
        parts = []
        for part in self.parts:
            outcome = part.decide(evidence, places)
            if outcome.fires is False:
                return SILENT
            parts.append(outcome)
        undecided = next((p for p in parts if p.fires is None), None)
        if undecided is not None:
            return undecided
        told = _once(e for p in parts for e in p.evidence)
        return Outcome(True, max(p.severity for p in parts), min(p.probability for p in parts), told)


@dataclass(frozen=True)
class AnyOf:
    """At least one part fires; undecidable only when every part is."""

    parts: tuple[Condition, ...]

    def decide(self, evidence: Evidence, places: Places) -> Outcome:
        """Whether it fires on a swing."""
        parts = [part.decide(evidence, places) for part in self.parts]
        fired = [p for p in parts if p.fires]
        if fired:
            best = max(fired, key=lambda p: p.severity)
            rest = tuple(e for p in fired if p is not best for e in p.evidence)
            told = _once((*best.evidence, *rest))
            return Outcome(True, best.severity, max(p.probability for p in fired), told)
        undecided = [p for p in parts if p.fires is None]
        return undecided[0] if len(undecided) == len(parts) else SILENT


@dataclass(frozen=True)
class Not:
    """The part does not fire; undecidable when the part is."""

    part: Condition

    def decide(self, evidence: Evidence, places: Places) -> Outcome:
        """Whether it fires on a swing."""
        inner = self.part.decide(evidence, places)
        if inner.fires is None:
            return inner
        return Outcome(not inner.fires, 0.0, 1.0 - inner.probability)


Condition = Beyond | ValueBeyond | Unseen | AllOf | AnyOf | Not


def _once(evidence: Iterable[Judged]) -> tuple[Judged, ...]:
    """Each piece of evidence once, in order."""
    keyed = {(e.measured.metric.id, e.measured.moment.key, e.range.id if e.range else ""): e for e in evidence}
    return tuple(keyed.values())
