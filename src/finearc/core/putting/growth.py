"""How the wrist's motion grows with the distance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import stats

LEAST_DISTANCES, LEAST_EACH = 2, 3
JUMP = 1.5
"""Motion at one distance that is so many times what the others' trend says is a jump (the definition's)."""


@dataclass(frozen=True)
class Growth:
    """A straight line through values against distances: ``slope`` per m with its 95 % interval, ``at_zero``, and of how
    many ``putts``."""

    slope: float
    low: float
    high: float
    at_zero: float
    putts: int


def growth(distances_m: Sequence[float], values: Sequence[float]) -> Growth | None:
    """Least squares with Student's interval; None without two distances of three putts each."""
    counted = [d for d in set(distances_m) if sum(abs(x - d) < 1e-9 for x in distances_m) >= LEAST_EACH]
    if len(counted) < LEAST_DISTANCES:
        return None
    fit = stats.linregress(np.asarray(distances_m, dtype=float), np.asarray(values, dtype=float))
    half = float(stats.t.ppf(0.975, len(values) - 2) * fit.stderr)
    slope = float(fit.slope)
    return Growth(slope, slope - half, slope + half, float(fit.intercept), len(values))


def jump(distances_m: Sequence[float], values: Sequence[float]) -> float | None:
    """The distance, m, at which values jump: their mean there is more than 1.5 times what a line through the other
    distances says, and beyond its scatter. None where none does, or with fewer than three distances."""
    at = np.asarray(distances_m, dtype=float)
    of = np.asarray(values, dtype=float)
    known = sorted(d for d in set(at.tolist()) if (at == d).sum() >= LEAST_EACH)
    if len(known) < 3:
        return None
    worst: tuple[float, float] | None = None
    for d in known[1:]:
        others = at != d
        if len(set(at[others].tolist())) < 2:
            continue
        line = np.polyfit(at[others], of[others], 1)
        expected = max(float(np.polyval(line, d)), 1e-9)
        mean = float(of[~others].mean())
        scatter = float(np.std(of[others] - np.polyval(line, at[others]), ddof=2)) if others.sum() > 2 else 0.0
        if mean > JUMP * expected and mean - expected > 2.0 * scatter:
            ratio = mean / expected
            worst = max(worst, (ratio, d)) if worst is not None else (ratio, d)
    return None if worst is None else worst[1]
