"""Has anything really changed? Two groups of swings compared.

Typical error and smallest detectable change after J. P. Weir, J Strength Cond Res 19:231, 2005, at 95 %, for
the difference of two group means with the t distribution for few swings (Welch).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.stats import t as student_t


@dataclass(frozen=True)
class Change:
    """Medians, spreads (standard deviations) and the verdict; all in the values' own unit.

    ``detectable``: smallest difference of the two groups that would show at 95 %. ``more_swings``: about how
    many more swings in the later group would make the seen difference distinguishable; None when changed or
    when the difference is next to nothing."""

    before_median: float
    after_median: float
    before_spread: float
    after_spread: float
    before_n: int
    after_n: int
    difference: float
    typical_error: float
    detectable: float
    changed: bool
    across_calibrations: bool
    more_swings: int | None


def _detectable(var_a: float, n_a: int, var_b: float, n_b: int, shared: float) -> float:
    error2 = var_a / n_a + var_b / n_b
    freedom = error2**2 / max((var_a / n_a) ** 2 / (n_a - 1) + (var_b / n_b) ** 2 / (n_b - 1), 1e-12)
    quantile = float(student_t.ppf(0.975, max(freedom, 1.0)))
    return float(np.hypot(quantile * np.sqrt(error2), 1.96 * shared))


def compare(
    before: Sequence[float], after: Sequence[float], calibration_sd: float = 0.0, floor_sd: float = 0.0
) -> Change | None:
    """Compare two groups of at least two values each, or None. ``calibration_sd``: standard uncertainty that
    all values of one calibration share, given when the groups come from different calibrations (it enters
    twice). ``floor_sd``: least scatter a value can have (its own measuring error)."""
    a, b = np.asarray(before, dtype=float), np.asarray(after, dtype=float)
    if len(a) < 2 or len(b) < 2:
        return None
    var_a, var_b = (max(float(np.var(v, ddof=1)), floor_sd**2, 1e-12) for v in (a, b))
    pooled = ((len(a) - 1) * var_a + (len(b) - 1) * var_b) / (len(a) + len(b) - 2)
    shared = calibration_sd * np.sqrt(2.0)
    detectable = _detectable(var_a, len(a), var_b, len(b), shared)
    difference = float(np.mean(b) - np.mean(a))
    changed = abs(difference) > detectable
    more = None if changed else _more_swings(difference, var_a, len(a), var_b, len(b), shared)
    return Change(
        float(np.median(a)),
        float(np.median(b)),
        float(np.sqrt(var_a)),
        float(np.sqrt(var_b)),
        len(a),
        len(b),
        difference,
        float(np.sqrt(pooled)),
        detectable,
        changed,
        calibration_sd > 0,
        more,
    )


def _more_swings(difference: float, var_a: float, n_a: int, var_b: float, n_b: int, shared: float) -> int | None:
    for extra in range(1, 41):
        if _detectable(var_a, n_a, var_b, n_b + extra, shared) < abs(difference):
            return extra
    return None
