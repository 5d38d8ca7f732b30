"""Ranges and verdicts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from finearc.core.metrics.definition import Measured, Metric, Moment

NO_RANGE = "no range is set for it"
CAP = 3.0
"""Largest severity of one value, in half-widths of its range."""


class Verdict(StrEnum):
    IN_RANGE = "in_range"
    EDGE_LOW = "edge_low"
    EDGE_HIGH = "edge_high"
    LOW = "low"
    HIGH = "high"
    NOT_JUDGED = "not_judged"


OUTSIDE_LOW = (Verdict.LOW, Verdict.EDGE_LOW)
OUTSIDE_HIGH = (Verdict.HIGH, Verdict.EDGE_HIGH)


@dataclass(frozen=True)
class Range:
    """Limits (SI) of a metric at a moment. A limit of None is open; one-sided ranges carry ``scale``.

    With ``relative_to`` the limits are also bound by offsets from, or a share of, that moment's value in the same
    swing.
    """

    id: str
    metric: Metric
    moment: Moment
    low: float | None
    high: float | None
    soft_low: float
    soft_high: float
    provenance: str
    note: str
    source: str = ""
    club_class: str | None = None
    school: tuple[str, str] | None = None
    population: str = "adult"
    relative_to: Moment | None = None
    low_offset: float | None = None
    high_offset: float | None = None
    low_share: float | None = None
    scale: float | None = None


@dataclass(frozen=True)
class Situation:
    """What decides which ranges apply."""

    club_classes: frozenset[str]
    full_shot: bool
    population: str
    schools: Mapping[str, str]


@dataclass(frozen=True)
class Judged:
    """A value with its verdict; ``low``/``high`` are the limits (SI) as they applied."""

    measured: Measured
    range: Range | None
    low: float | None
    high: float | None
    verdict: Verdict
    reason: str = ""

    @property
    def distance(self) -> float:
        """How far outside the limits (SI), 0 inside; + above, − below."""
        if self.high is not None and self.measured.value > self.high:
            return self.measured.value - self.high
        if self.low is not None and self.measured.value < self.low:
            return self.measured.value - self.low
        return 0.0

    @property
    def severity(self) -> float:
        """Distance in half-widths of the range, capped; an edge counts a third."""
        if self.range is None:
            return 0.0
        if self.low is not None and self.high is not None and self.high > self.low:
            unit = (self.high - self.low) / 2
        else:
            unit = self.range.scale or 1.0
        size = min(CAP, abs(self.distance) / unit)
        return size / 3 if self.verdict in (Verdict.EDGE_LOW, Verdict.EDGE_HIGH) else size


def applies(candidate: Range, situation: Situation) -> str:
    """Empty when the range applies, else why it does not."""
    if not situation.full_shot:
        return "there is no range for this kind of shot yet"
    if candidate.population != situation.population:
        return f"there is no range for {situation.population} players yet"
    if candidate.club_class is not None and candidate.club_class not in situation.club_classes:
        return "there is no range for this club yet"
    if candidate.school is not None:
        axis, option = candidate.school
        if situation.schools.get(axis) != option:
            return "another school applies"
    return ""


def limits(candidate: Range, values: Mapping[tuple[str, str], Measured]) -> tuple[float | None, float | None] | None:
    """Limits (SI) for this swing, or None when the value they lean on is absent."""
    low, high = candidate.low, candidate.high
    if candidate.relative_to is not None:
        base = values.get((candidate.metric.id, candidate.relative_to.key))
        if base is None:
            return None
        if candidate.low_offset is not None:
            floor = base.value + candidate.low_offset
            low = floor if low is None else max(low, floor)
        if candidate.low_share is not None:
            floor = base.value * candidate.low_share
            low = floor if low is None else max(low, floor)
        if candidate.high_offset is not None:
            ceiling = base.value + candidate.high_offset
            high = ceiling if high is None else min(high, ceiling)
        if low is not None and high is not None and high < low:
            high = low
    return low, high


def verdict_of(
    value: float, uncertainty: float, low: float | None, high: float | None, soft: tuple[float, float]
) -> Verdict:
    """Inside the limits, at the edge (within the larger of soft margin and one standard uncertainty), or beyond."""
    if low is not None and value < low:
        return Verdict.EDGE_LOW if low - value <= max(soft[0], uncertainty) else Verdict.LOW
    if high is not None and value > high:
        return Verdict.EDGE_HIGH if value - high <= max(soft[1], uncertainty) else Verdict.HIGH
    return Verdict.IN_RANGE


def judge(
    measured: Sequence[Measured], ranges: Sequence[Range], situation: Situation, barred: str = ""
) -> list[Judged]:
    """A verdict for every value. ``barred`` is a reason why nothing of this swing is judged, or empty."""
    values = {(m.metric.id, m.moment.key): m for m in measured}
    by_key: dict[tuple[str, str], list[Range]] = {}
    for r in ranges:
        by_key.setdefault((r.metric.id, r.moment.key), []).append(r)
    return [_judge_one(m, by_key.get((m.metric.id, m.moment.key), []), values, situation, barred) for m in measured]


def _judge_one(
    m: Measured,
    candidates: Sequence[Range],
    values: Mapping[tuple[str, str], Measured],
    situation: Situation,
    barred: str,
) -> Judged:
    reason = barred or m.barred
    for candidate in candidates if not reason else ():
        why = applies(candidate, situation)
        if why:
            reason = reason if reason and why == "another school applies" else why
            continue
        bounds = limits(candidate, values)
        if bounds is None:
            reason = "its range leans on a value that was not found in this swing"
            continue
        verdict = verdict_of(m.value, m.uncertainty, *bounds, (candidate.soft_low, candidate.soft_high))
        return Judged(m, candidate, *bounds, verdict)
    return Judged(m, None, None, None, Verdict.NOT_JUDGED, reason or NO_RANGE)
