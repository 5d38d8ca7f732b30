"""A measure over lessons: what the first lesson alone scatters, whether it really moved since, a trend, consistency."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy import stats

from finearc.core.comparing.change import Change, compare
from finearc.core.comparing.retention import Retention, retention

TREND_FROM = 4
"""A trend is said from so many lessons on."""
WEEK_D = 7.0
LEVEL = 0.05


@dataclass(frozen=True)
class LessonValues:
    """One lesson's counting swings of one club, any one unit: ``before`` anything was trained, and of its last test.
    ``day``: its day, counted from any; ``calibration_sd``: what its calibration leaves open; ``own_sd``: measuring
    error of a single value beside that."""

    day: float
    before: Sequence[float]
    test: Sequence[float] = ()
    calibration_sd: float = 0.0
    own_sd: float = 0.0


@dataclass(frozen=True)
class Trend:
    """Theil and Sen's line through the lessons' medians, per week, with its 95 % interval."""

    per_week: float
    low: float
    high: float

    @property
    def certain(self) -> bool:
        """Whether it goes one way."""
        return self.low > 0.0 or self.high < 0.0


@dataclass(frozen=True)
class Steadiness:
    """Standard deviation within the first and the last lesson, at least what a value is measured to; ``changed``:
    whether they differ (F test, 5 %)."""

    first: float
    last: float
    changed: bool


@dataclass(frozen=True)
class Progress:
    """``noise``: half the width of the band about the first lesson that scatter alone reaches (smallest detectable
    change), None of fewer than two lessons; ``change``: from the first to the last lesson; ``kept``: what was left of
    each lesson's test in the one after it, None where there is nothing to ask."""

    noise: float | None
    change: Change | None
    trend: Trend | None
    steadiness: Steadiness | None
    kept: tuple[Retention | None, ...]


def progress(lessons: Sequence[LessonValues], smallest_relevant: float) -> Progress:
    """``lessons`` in their order, each with at least one value before training."""
    if len(lessons) < 2:
        return Progress(None, None, None, None, tuple(None for _ in lessons))
    first, last = lessons[0], lessons[-1]
    calibrations = math.hypot(first.calibration_sd, last.calibration_sd)
    floor = max(x.own_sd for x in lessons)
    change = compare(first.before, last.before, smallest_relevant, calibrations, floor)
    return Progress(_noise(change, calibrations), change, _trend(lessons), _steadiness(first, last), _kept(lessons))


def _noise(change: Change, calibration_sd: float) -> float | None:
    """Both what swings scatter and what two calibrations leave open."""
    if change.smallest_detectable is None:
        return None
    return math.hypot(change.smallest_detectable, 1.96 * calibration_sd)


def _trend(lessons: Sequence[LessonValues]) -> Trend | None:
    """Theil 1950 and Sen 1968 (J Am Stat Assoc 63:1379), by SciPy."""
    days = [x.day for x in lessons]
    if len(lessons) < TREND_FROM or len(set(days)) < TREND_FROM:
        return None
    found = stats.theilslopes([float(np.median(x.before)) for x in lessons], days, 0.95)
    return Trend(WEEK_D * float(found.slope), WEEK_D * float(found.low_slope), WEEK_D * float(found.high_slope))


def _steadiness(first: LessonValues, last: LessonValues) -> Steadiness | None:
    if min(len(first.before), len(last.before)) < 3:
        return None
    own = max(first.own_sd, last.own_sd)
    a, b = (max(own, float(np.std(x.before, ddof=1))) for x in (first, last))
    if a == 0.0 or b == 0.0:
        return None
    ratio = (b / a) ** 2
    law = stats.f(len(last.before) - 1, len(first.before) - 1)
    p = 2.0 * min(float(law.cdf(ratio)), float(law.sf(ratio)))
    return Steadiness(a, b, p < LEVEL)


def _kept(lessons: Sequence[LessonValues]) -> tuple[Retention | None, ...]:
    """By lesson: what is left in it of what the lesson before it had shown in its test."""
    out: list[Retention | None] = [None]
    for before, here in pairwise(lessons):
        out.append(_left(before, here))
    return tuple(out)


def _left(before: LessonValues, here: LessonValues) -> Retention | None:
    if len(before.test) < 3:
        return None
    a, b = float(np.median(before.before)), float(np.median(before.test))
    pose = max(before.calibration_sd, here.calibration_sd)
    return retention(a, b, list(here.before), pose) if a != b else None
