"""How the wrist's motion grows with the distance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import stats

LEAST_DISTANCES, LEAST_EACH = 2, 3
LEAST_EXPECTED = float(np.deg2rad(0.5))
"""Less than this is no motion to compare with, rad."""


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


def against_trend(distances_m: Sequence[float], values: Sequence[float]) -> dict[float, tuple[float, float]]:
    """For each distance of three putts or more, how many times its mean is what a straight line through the other
    distances says there, with its standard uncertainty. Needs three distances; left out where the line says next to
    nothing (house value: ``LEAST_EXPECTED``)."""
    at, of = np.asarray(distances_m, dtype=float), np.asarray(values, dtype=float)
    known = sorted(d for d in set(at.tolist()) if (at == d).sum() >= LEAST_EACH)
    out: dict[float, tuple[float, float]] = {}
    for d in known if len(known) >= 3 else ():
        here = at == d
        line = np.polyfit(at[~here], of[~here], 1)
        expected = float(np.polyval(line, d))
        if expected < LEAST_EXPECTED:
            continue
        left = of[~here] - np.polyval(line, at[~here])
        off = d - float(at[~here].mean())
        leverage = 1.0 / len(left) + off**2 / max(float(np.sum((at[~here] - at[~here].mean()) ** 2)), 1e-9)
        scatter = float(np.sqrt(left @ left / max(1, len(left) - 2)))
        mean_sd = float(np.std(of[here], ddof=1)) / np.sqrt(here.sum())
        out[d] = (float(of[here].mean()) / expected, float(np.hypot(mean_sd, scatter * np.sqrt(leverage))) / expected)
    return out
