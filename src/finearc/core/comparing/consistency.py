"""How alike a player's swings of one lesson are: in one value, and in the whole sequence of a measure."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import stats

from finearc.core.typing import Array

LEAST = 3
"""Fewer swings have no scatter that is told."""


@dataclass(frozen=True)
class Scatter:
    """Standard deviation of a value within a lesson, any one unit, with its 95 % interval."""

    sd: float
    low: float
    high: float


def scatter(values: Sequence[float]) -> Scatter | None:
    """The interval is the chi-squared one of normal values; None of fewer than three."""
    n = len(values)
    if n < LEAST:
        return None
    sd = float(np.std(values, ddof=1))
    law = stats.chi2(n - 1)
    return Scatter(sd, sd * math.sqrt((n - 1) / law.ppf(0.975)), sd * math.sqrt((n - 1) / law.ppf(0.025)))


def multiple_correlation(courses: Array) -> float | None:
    """How alike courses (swings, nodes) are, 1 where each is the same: the adjusted coefficient of multiple
    correlation (Kadaba et al. 1989, J Orthop Res 7:849; from memory). Nodes where any is NaN are left out. None of
    fewer than three courses, and where they vary more from swing to swing than along the swing."""
    known = courses[:, np.isfinite(courses).all(axis=0)]
    swings, nodes = known.shape
    if swings < LEAST or nodes < 2:
        return None
    within = float(np.sum((known - known.mean(axis=0)) ** 2)) / (nodes * (swings - 1))
    overall = float(np.sum((known - known.mean()) ** 2)) / (nodes * swings - 1)
    return math.sqrt(1.0 - within / overall) if overall > within else None
