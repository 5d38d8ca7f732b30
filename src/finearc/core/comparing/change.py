"""Did it really change? Two groups of values of one measure, before and after.

Welch's interval (B. L. Welch, Biometrika 34:28, 1947; degrees of freedom after Welch and Satterthwaite); typical error
and smallest detectable change after J. P. Weir, J Strength Cond Res 19:231, 2005. What two calibrations leave open
comes on top in quadrature, as known exactly."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.stats import nct, norm, t as student_t

from finearc.core.typing import Array

LEAST = 3
"""Fewer values in a group have no verdict."""
MOST_MORE = 30
"""So many further swings at most are named; one more means "more than that"."""
LEVEL, POWER = 0.05, 0.80
NORMAL = 1e9
"""So many degrees of freedom are the normal distribution."""


class ChangeVerdict(StrEnum):
    """What two groups say."""

    CHANGED = "changed"
    UNCHANGED = "unchanged"
    NOT_DISTINGUISHABLE = "not_distinguishable"
    TOO_FEW = "too_few"


@dataclass(frozen=True)
class Group:
    """Number, mean, median and standard deviation of a group's values; NaN where there are none, 0 for one alone."""

    n: int
    mean: float
    median: float
    sd: float

    @classmethod
    def of(cls, values: Sequence[float]) -> Group:
        v = np.asarray(values, dtype=float)
        if not len(v):
            return cls(0, np.nan, np.nan, np.nan)
        return cls(len(v), float(v.mean()), float(np.median(v)), float(v.std(ddof=1)) if len(v) > 1 else 0.0)


@dataclass(frozen=True)
class Change:
    """All in the values' own unit. ``difference`` of the means, after less before; ``ci95`` its interval,
    ``smallest_detectable`` change of means of the smaller group, both None when there are too few;
    ``smallest_relevant``: the least that means anything; ``more_swings``: about how many more in each group would
    settle it, ``MOST_MORE + 1`` for more than that, None when it is settled or nothing can be said. ``p``: how rarely
    chance alone differs as much, None when there are too few."""

    before: Group
    after: Group
    difference: float
    ci95: tuple[float, float] | None
    typical_error: float | None
    smallest_detectable: float | None
    smallest_relevant: float
    verdict: ChangeVerdict
    more_swings: int | None
    calibration_sd: float = 0.0
    p: float | None = None

    @property
    def changed(self) -> bool:
        """Whether something really changed."""
        return self.verdict is ChangeVerdict.CHANGED

    @property
    def across_calibrations(self) -> bool:
        """Whether the groups come from different calibrations."""
        return self.calibration_sd > 0.0


def compare(
    before: Sequence[float],
    after: Sequence[float],
    smallest_relevant: float,
    calibration_sd: float = 0.0,
    floor_sd: float = 0.0,
) -> Change:
    """Compare two groups. ``calibration_sd``: standard deviation of the difference of the two calibrations, 0 within
    one; ``floor_sd``: the least scatter that values can have: their own measuring error."""
    a, b = Group.of(before), Group.of(after)
    difference = b.mean - a.mean
    if min(a.n, b.n) < LEAST:
        return Change(
            a, b, difference, None, None, None, smallest_relevant, ChangeVerdict.TOO_FEW, None, calibration_sd
        )
    spread = _Spread(max(a.sd, floor_sd) ** 2, a.n, max(b.sd, floor_sd) ** 2, b.n, calibration_sd**2)
    half = float(spread.quantile(0) * spread.se(0))
    ci = (difference - half, difference + half)
    verdict = _verdict(difference, ci, smallest_relevant)
    more = None
    if verdict is ChangeVerdict.NOT_DISTINGUISHABLE:
        more = spread.more_for(max(abs(difference), smallest_relevant))
    return Change(
        a,
        b,
        difference,
        ci,
        spread.typical_error,
        1.96 * float(np.sqrt(2.0)) * spread.typical_error / float(np.sqrt(min(a.n, b.n))),
        smallest_relevant,
        verdict,
        more,
        calibration_sd,
        spread.p(difference),
    )


def holm(p: Sequence[float]) -> list[float]:
    """P-values adjusted for having looked at all of them, by Holm's step-down procedure (Holm 1979, Scandinavian
    Journal of Statistics 6:65)."""
    adjusted, least = [1.0] * len(p), 0.0
    for rank, k in enumerate(sorted(range(len(p)), key=lambda k: p[k])):
        least = max(least, min(1.0, (len(p) - rank) * p[k]))
        adjusted[k] = least
    return adjusted


def _verdict(difference: float, ci: tuple[float, float], relevant: float) -> ChangeVerdict:
    if (ci[0] > 0.0 or ci[1] < 0.0) and abs(difference) >= relevant:
        return ChangeVerdict.CHANGED
    if ci[0] >= -relevant and ci[1] <= relevant:
        return ChangeVerdict.UNCHANGED
    return ChangeVerdict.NOT_DISTINGUISHABLE


@dataclass(frozen=True)
class _Spread:
    """Variances and numbers of two groups, and the variance ``shared`` by all values of each. ``more``: so many further
    values in each group, a number or an array of them."""

    var_a: float
    n_a: int
    var_b: float
    n_b: int
    shared: float

    @property
    def typical_error(self) -> float:
        """The standard deviation within the groups, pooled."""
        a, b = self.n_a - 1, self.n_b - 1
        return float(np.sqrt((a * self.var_a + b * self.var_b) / (a + b)))

    def _parts(self, more: int | Array) -> tuple[float | Array, float | Array]:
        return self.var_a / (self.n_a + more), self.var_b / (self.n_b + more)

    def se(self, more: int | Array) -> Array:
        """Standard error of the difference."""
        a, b = self._parts(more)
        return np.asarray(np.sqrt(a + b + self.shared))

    def freedom(self, more: int | Array) -> Array:
        """Degrees of freedom; the shared part is known exactly."""
        a, b = self._parts(more)
        lost = np.asarray(a**2 / (self.n_a + more - 1) + b**2 / (self.n_b + more - 1))
        whole = np.asarray((a + b + self.shared) ** 2)
        known = lost <= whole / NORMAL
        return np.where(known, NORMAL, whole / np.where(known, 1.0, lost))

    def quantile(self, more: int | Array) -> Array:
        """Half the width of the 95 % interval in standard errors."""
        return np.asarray(student_t.ppf(1.0 - LEVEL / 2.0, self.freedom(more)))

    def p(self, difference: float) -> float:
        """Two-sided, of a difference; 1 where nothing differs and nothing scatters."""
        se = float(self.se(0))
        if se == 0.0:
            return 1.0 if difference == 0.0 else 0.0
        return float(2.0 * student_t.sf(abs(difference) / se, float(self.freedom(0))))

    def more_for(self, true: float) -> int:
        """The least number of further values with which a true difference is found with ``POWER``."""
        more = np.arange(1.0, MOST_MORE + 1)
        off = true / np.maximum(self.se(more), 1e-300)
        quantile, freedom = self.quantile(more), self.freedom(more)
        found = np.where(
            freedom < 1e6,
            nct.sf(quantile, np.minimum(freedom, 1e6), off) + nct.cdf(-quantile, np.minimum(freedom, 1e6), off),
            norm.sf(quantile - off) + norm.cdf(-quantile - off),
        )
        enough = np.flatnonzero(np.where(np.isfinite(found), found, off > quantile) >= POWER)
        return int(more[enough[0]]) if len(enough) else MOST_MORE + 1
