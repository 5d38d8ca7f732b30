"""Ranges and verdicts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property
from typing import NamedTuple

from finearc.core.events.model import Checkpoint
from finearc.core.judging.limits import Limit, Touch, withheld_by
from finearc.core.metrics.definition import WHOLE_SWING, Measured, Metric, Moment
from finearc.core.metrics.families.putting import PUTT_DISTANCE
from finearc.core.metrics.words import amount
from finearc.wording import mark, tr, worded

Key = tuple[str, str]
"""Ids of a metric and of the moment it is read at."""
CHECKPOINTS = {c.value: c for c in Checkpoint}
NO_RANGE = mark("no range is set for it")
ANOTHER_SCHOOL = mark("another school applies")
WORK_INSIDE = mark("we work inside it")
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


@worded("note")
@dataclass(frozen=True)
class Range:
    """Limits (SI) of a metric at a moment. A limit of None is open; one-sided ranges carry ``scale``.

    With ``relative_to`` the limits are also bound by offsets from, or a share of, that moment's value in the same
    swing; with ``own_best`` by offsets from the player's own best value. ``shot`` as a capture names it;
    ``least_m``/``most_m``: for putts from, and up to, this far.
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
    shot: str = "full"
    own_best: bool = False
    least_m: float | None = None
    most_m: float | None = None

    @property
    def specificity(self) -> tuple[bool, bool, bool]:
        """The more of these a range names, the sooner it is taken: own best, club, school."""
        return self.own_best, self.club_class is not None, self.school is not None

    @cached_property
    def leans_on_nothing(self) -> bool:
        """Whether its limits are the same in every swing."""
        return self.relative_to is None and not self.own_best and not self.of_distance

    @property
    def of_distance(self) -> bool:
        """Whether it holds for putts of some distances alone."""
        return self.least_m is not None or self.most_m is not None

    def not_here(self, values: Mapping[Key, Measured]) -> str:
        """Why it does not hold at the distance of this putt, or empty."""
        if not self.of_distance:
            return ""
        known = values.get((PUTT_DISTANCE.id, WHOLE_SWING.key))
        if known is None:
            return tr("its range depends on the distance, which is not noted")
        if self.most_m is not None and known.value > self.most_m:
            return tr("its range is for putts up to {most_m:g} m", most_m=self.most_m)
        if self.least_m is not None and known.value < self.least_m:
            return tr("its range is for putts from {least_m:g} m on", least_m=self.least_m)
        return ""


@dataclass(frozen=True)
class Situation:
    """What decides which ranges apply. ``best``: the player's own best values (SI) by metric and moment; ``limits``
    of the player with the values that ``touches`` says they touch."""

    club_classes: frozenset[str]
    shot: str
    population: str
    schools: Mapping[str, str]
    best: Mapping[tuple[str, str], float] = field(default_factory=dict)
    limits: tuple[Limit, ...] = ()
    touches: tuple[Touch, ...] = ()


class Judged(NamedTuple):
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
    if candidate.shot != situation.shot:
        return tr("there is no range for this kind of shot yet")
    if candidate.population != situation.population:
        return tr("there is no range for {population} players yet", population=situation.population)
    if candidate.club_class is not None and candidate.club_class not in situation.club_classes:
        return tr("there is no range for this club yet")
    if candidate.school is not None:
        axis, option = candidate.school
        if situation.schools.get(axis) != option:
            return tr(ANOTHER_SCHOOL)
    if candidate.own_best and (candidate.metric.id, candidate.moment.key) not in situation.best:
        return tr("no best of the player's own is marked yet")
    return ""


class Tie(NamedTuple):
    """A range that ties a band to a checkpoint; ``start``: the value that its limits, those of a change, count from."""

    range: Range
    at: Checkpoint
    start: Key | None


def _tie(candidate: Range) -> Tie | None:
    """None of one that ties no band: open on a side, over the whole swing, or a change from elsewhere than address."""
    open_ended = candidate.low is None or candidate.high is None
    *starts, at = candidate.moment.parts
    if (open_ended and candidate.leans_on_nothing) or at not in CHECKPOINTS:
        return None
    if any(s != Checkpoint.ADDRESS for s in starts):
        return None
    return Tie(candidate, CHECKPOINTS[at], (candidate.metric.id, starts[0]) if starts else None)


@dataclass(frozen=True)
class InForce:
    """The ranges of a library that apply in a situation, by metric and moment, the most specific first; and why a
    value without one has none."""

    ranges: Mapping[tuple[str, str], tuple[Range, ...]]
    reasons: Mapping[tuple[str, str], str]
    situation: Situation

    @cached_property
    def fixed(self) -> Mapping[tuple[str, str], tuple[Range, float | None, float | None, tuple[float, float]]]:
        """Where one range holds whose limits lean on nothing: the range, its limits and margins (SI)."""
        return {
            key: (r, r.low, r.high, (r.soft_low, r.soft_high))
            for key, (r, *others) in self.ranges.items()
            if not others and r.leans_on_nothing
        }

    @cached_property
    def ties(self) -> Mapping[str, tuple[Tie, ...]]:
        """Where bands are tied, by metric; one needs two places to be tied at."""
        out: dict[str, list[Tie]] = {}
        for (metric, _), (first, *_others) in self.ranges.items():
            tie = _tie(first)
            if tie is not None:
                out.setdefault(metric, []).append(tie)
        return {k: tuple(v) for k, v in out.items() if len(v) > 1}

    @cached_property
    def limited(self) -> bool:
        """Whether a limit of the player's may hold a verdict back."""
        return bool(self.situation.limits)


def in_force(ranges: Sequence[Range], situation: Situation) -> InForce:
    """Sort a library for one situation, once for all the swings to be judged in it."""
    chosen: dict[tuple[str, str], list[Range]] = {}
    reasons: dict[tuple[str, str], str] = {}
    for r in ranges:
        key = (r.metric.id, r.moment.key)
        why = applies(r, situation)
        if not why:
            chosen.setdefault(key, []).append(r)
        elif why != ANOTHER_SCHOOL or key not in reasons:
            reasons[key] = why
    first = {k: tuple(sorted(v, key=lambda r: r.specificity, reverse=True)) for k, v in chosen.items()}
    return InForce(first, reasons, situation)


def limits(
    candidate: Range, values: Mapping[tuple[str, str], Measured], best: Mapping[tuple[str, str], float] | None = None
) -> tuple[float | None, float | None] | None:
    """Limits (SI) for this swing, or None when the value they lean on is absent."""
    low, high = candidate.low, candidate.high
    if candidate.leans_on_nothing:
        return low, high
    if candidate.relative_to is None and not candidate.own_best:
        return low, high
    if candidate.own_best:
        base: float | None = (best or {}).get((candidate.metric.id, candidate.moment.key))
    elif candidate.relative_to is not None:
        at = values.get((candidate.metric.id, candidate.relative_to.key))
        base = None if at is None else at.value
    else:
        base = None
    if base is None:
        return None
    floors = [v for v in (low, _offset(base, candidate.low_offset), _share(base, candidate.low_share)) if v is not None]
    ceilings = [v for v in (high, _offset(base, candidate.high_offset)) if v is not None]
    low, high = max(floors, default=None), min(ceilings, default=None)
    if low is not None and high is not None and high < low:
        high = low
    return low, high


def _offset(base: float, offset: float | None) -> float | None:
    return None if offset is None else base + offset


def _share(base: float, share: float | None) -> float | None:
    return None if share is None else base * share


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
    measured: Sequence[Measured], ranges: Sequence[Range] | InForce, situation: Situation, not_judged_reason: str = ""
) -> list[Judged]:
    """A verdict for every value. ``not_judged_reason`` is a reason why nothing of this swing is judged, or empty."""
    page = ranges if isinstance(ranges, InForce) else in_force(ranges, situation)
    return list(judge_values({(m.metric.id, m.moment.key): m for m in measured}, page, not_judged_reason).values())


def judge_values(values: Mapping[Key, Measured], page: InForce, not_judged_reason: str = "") -> dict[Key, Judged]:
    """The same for values by metric and moment, under the ranges in force."""
    fixed = {} if not_judged_reason or page.limited else page.fixed
    out = {}
    for key, m in values.items():
        known = fixed.get(key)
        if known is None or m.not_judged_reason:
            out[key] = _judge_one(key, m, page, values, not_judged_reason)
        else:  # the same, for the many values of which nothing has to be asked
            r, low, high, soft = known
            out[key] = Judged(m, r, low, high, verdict_of(m.value, m.uncertainty, low, high, soft))
    return out


def _judge_one(
    key: tuple[str, str], m: Measured, page: InForce, values: Mapping[tuple[str, str], Measured], not_judged_reason: str
) -> Judged:
    reason = not_judged_reason or m.not_judged_reason
    if reason:
        return Judged(m, None, None, None, Verdict.NOT_JUDGED, reason)
    for candidate in page.ranges.get(key, ()):
        reason = candidate.not_here(values)
        if reason:
            continue
        bounds = limits(candidate, values, page.situation.best)
        if bounds is None:
            reason = tr("its range leans on a value that was not found in this swing")
            continue
        low, high = bounds
        verdict = verdict_of(m.value, m.uncertainty, low, high, (candidate.soft_low, candidate.soft_high))
        if page.limited and verdict is not Verdict.IN_RANGE:
            held = _held_back(m, verdict, bounds, page.situation)
            if held:
                return Judged(m, None, None, None, Verdict.NOT_JUDGED, held)
        return Judged(m, candidate, low, high, verdict)
    return Judged(m, None, None, None, Verdict.NOT_JUDGED, reason or page.reasons.get(key, tr(NO_RANGE)))


def _held_back(m: Measured, verdict: Verdict, bounds: tuple[float | None, float | None], situation: Situation) -> str:
    """Why a value outside its range is not judged: a limit of the player's lies there. Empty otherwise."""
    side = "low" if verdict in OUTSIDE_LOW else "high"
    bound = bounds[0] if side == "low" else bounds[1]
    limit = withheld_by(m.metric, m.moment, side, bound or 0.0, situation.limits, situation.touches)
    if limit is None:
        return ""
    what = f"{limit.area} {limit.movement}".removesuffix(" any")
    if limit.comfortable is None:
        return tr("the {what} is limited; {work_inside}", what=what, work_inside=WORK_INSIDE)
    return tr(
        "the comfortable {what} is {amount}; {work_inside}",
        what=what,
        amount=amount(m.metric, limit.comfortable),
        work_inside=WORK_INSIDE,
    )
