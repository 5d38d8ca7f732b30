"""Two captures compared, and groups of values before and after, as JSON (version 1): the contract's shape."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, FiniteFloat

from finearc.core.comparing.change import Change, compare
from finearc.core.comparing.compared import MetricCompared, compare_sides
from finearc.core.comparing.seen import SwingSeen
from finearc.core.comparing.words import sentences
from finearc.core.errors import FineArcError
from finearc.core.events.swings import Shot
from finearc.core.metrics.definition import Measured, Metric
from finearc.core.metrics.registry import BY_ID
from finearc.core.sources.reading import SwingReading
from finearc.services.comparing.around import Around, notes
from finearc.services.judging.analysis import Analysis, CaptureData
from finearc.wording import tr

DIGITS = 6


class Shape(BaseModel):
    model_config = ConfigDict(extra="forbid")


class ValueResult(Shape):
    """Means of both sides, in the measure's unit."""

    event: str
    a: float
    b: float
    difference: float
    uncertainty: float


class ShiftResult(Shape):
    """Positive where the first is later."""

    event: str
    shift_ms: float
    uncertainty_ms: float


class IntensityResult(Shape):
    start: str = Field(serialization_alias="from")
    end: str = Field(serialization_alias="to")
    ratio: float
    uncertainty: float


class SmoothnessResult(Shape):
    start: str = Field(serialization_alias="from")
    end: str = Field(serialization_alias="to")
    a: float
    b: float


class MetricComparison(Shape):
    metric: str
    unit: str
    values: list[ValueResult]
    shifts: list[ShiftResult]
    intensity: list[IntensityResult]
    shape_rms: float | None
    smoothness: list[SmoothnessResult]
    sentences: list[str]


class Comparison(Shape):
    """``notes``: what else differs between the two, and what that means."""

    format: Literal["finearc-comparison"] = "finearc-comparison"
    version: Literal[1] = 1
    notes: list[str]
    metrics: list[MetricComparison]


class ChangeResult(Shape):
    """In the measure's unit. ``more_swings`` in each group: 31 means more, null when settled."""

    difference: float | None
    ci95: tuple[float, float] | None
    smallest_detectable: float | None
    smallest_relevant: float
    verdict: Literal["changed", "unchanged", "not_distinguishable", "too_few"]
    more_swings: int | None


class Changes(Shape):
    format: Literal["finearc-change"] = "finearc-change"
    version: Literal[1] = 1
    cases: list[ChangeResult]


class ChangeCase(Shape):
    """Values before and after, in the measure's unit; ``calibration_sd``: standard deviation of the difference of both
    calibrations, 0 within one."""

    metric: str
    event: str = ""
    before: list[FiniteFloat]
    after: list[FiniteFloat]
    calibration_sd: FiniteFloat = Field(0.0, ge=0.0)


class ChangeCases(Shape):
    cases: list[ChangeCase]


@dataclass
class Incomparable(FineArcError):
    """Two sides that have nothing in common."""

    why: str
    todo: str
    code = "incomparable"

    def __str__(self) -> str:
        return f"{self.why}. {self.todo}."


@dataclass(frozen=True)
class Side:
    """One side of a comparison: what it is called, its capture and the swings that are asked for."""

    name: str
    data: CaptureData
    analysis: Analysis
    swings: Sequence[SwingReading]


def side_of(name: str, data: CaptureData, analysis: Analysis, number: int | None = None) -> Side:
    """All swings of a capture, or the one of this number, counted from 1. Raises ``Incomparable``."""
    readings = [s.reading for s in analysis.swings]
    if not readings:
        raise Incomparable(tr("{name} holds no swing", name=name), tr("Compare captures with swings"))
    if number is None:
        return Side(name, data, analysis, readings)
    if not 1 <= number <= len(readings):
        raise Incomparable(
            tr("{name} has swings 1 to {readings}, not {number}", name=name, readings=len(readings), number=number),
            tr("Choose one of these"),
        )
    return Side(name, data, analysis, readings[number - 1 : number])


def known_metrics(names: Collection[str]) -> list[Metric]:
    """Measures by their ids. Raises ``Incomparable``."""
    unknown = [n for n in names if n not in BY_ID]
    if unknown:
        raise Incomparable(
            tr('There is no measure "{unknown}"', unknown=unknown[0]),
            tr("Use a key as in the result of finearc analyze"),
        )
    return [BY_ID[n] for n in names]


def comparison(first: Side, second: Side, metrics: Collection[Metric] = (), *, same: bool = False) -> Comparison:
    """``metrics``: these alone, in this order, or all that both have; ``same``: whether both are of one capture, and so
    of one calibration. Raises ``Incomparable``."""
    if (first.data.shot is Shot.PUTT) != (second.data.shot is Shot.PUTT):
        raise Incomparable(tr("One is a putt and the other is not"), tr("Compare putts with putts"))
    seen = [[SwingSeen.of(r) for r in side.swings] for side in (first, second)]
    found = {c.metric: c for c in compare_sides(*seen, one_calibration=same)}
    absent = [m for m in metrics if m not in found]
    if absent:
        raise Incomparable(
            tr("{id} is not measured on both sides", id=absent[0].id), tr("Compare what both captures measure")
        )
    chosen = [found[m] for m in metrics] if metrics else list(found.values())
    return Comparison(
        notes=notes(_around(first, "a"), _around(second, "b"), same=same), metrics=[_told(c) for c in chosen]
    )


def _around(side: Side, calibration: str) -> Around:
    return Around(
        side.data.club,
        side.data.shot.value,
        side.data.handedness.value,
        frozenset(str(p) for s in side.swings for p in s.present),
        frozenset({calibration}),
    )


def _told(c: MetricCompared) -> MetricComparison:
    def at_edge(value: float) -> float:
        return round(c.metric.at_edge(value), DIGITS)

    return MetricComparison(
        metric=c.metric.id,
        unit=c.metric.unit.value,
        values=[
            ValueResult(
                event=v.moment.key,
                a=at_edge(v.first),
                b=at_edge(v.second),
                difference=at_edge(v.difference),
                uncertainty=at_edge(v.uncertainty),
            )
            for v in c.values
        ],
        shifts=[
            ShiftResult(
                event=s.at.value,
                shift_ms=round(1000.0 * s.shift_s, DIGITS),
                uncertainty_ms=round(1000.0 * s.sd_s, DIGITS),
            )
            for s in c.shifts
        ],
        intensity=[
            IntensityResult(
                start=i.start.value, end=i.end.value, ratio=round(i.ratio, DIGITS), uncertainty=round(i.sd, DIGITS)
            )
            for i in c.intensity
        ],
        shape_rms=None if c.shape_rms is None or np.isnan(c.shape_rms) else at_edge(c.shape_rms),
        smoothness=[
            SmoothnessResult(start=s.start.value, end=s.end.value, a=round(s.first, DIGITS), b=round(s.second, DIGITS))
            for s in c.smoothness
        ],
        sentences=sentences(c),
    )


def change_between(before: Side, after: Side, metric: Metric, event: str, *, same: bool = False) -> ChangeResult:
    """Whether a measure changed between two captures. Raises ``Incomparable``."""
    sides = [_values_at(side, metric, event) for side in (before, after)]
    parts = [max((v.calibration_part for v in side), default=0.0) for side in sides]
    calibration_sd = 0.0 if same else float(np.hypot(parts[0], parts[1]))
    first, second = ([metric.at_edge(v.value) for v in side] for side in sides)
    return _result(compare(first, second, metric.smallest_relevant, metric.at_edge(calibration_sd)))


def _values_at(side: Side, metric: Metric, event: str) -> list[Measured]:
    found = [v for s in side.swings for v in s.measured if v.metric is metric and v.moment.key == event]
    if not found:
        read = sorted({v.moment.key for s in side.swings for v in s.measured if v.metric is metric})
        at = tr("It is read at {read}", read=", ".join(read)) if read else tr("It is not measured there")
        raise Incomparable(tr("{name} has no {id} at {event}", name=side.name, id=metric.id, event=event), at)
    return found


def changes(cases: ChangeCases) -> Changes:
    """Every case by itself. Raises ``Incomparable``."""
    out = []
    for case in cases.cases:
        (metric,) = known_metrics([case.metric])
        out.append(_result(compare(case.before, case.after, metric.smallest_relevant, case.calibration_sd)))
    return Changes(cases=out)


def _result(change: Change) -> ChangeResult:
    return ChangeResult(
        difference=None if np.isnan(change.difference) else change.difference,
        ci95=change.ci95,
        smallest_detectable=change.smallest_detectable,
        smallest_relevant=change.smallest_relevant,
        verdict=change.verdict.value,
        more_swings=change.more_swings,
    )
