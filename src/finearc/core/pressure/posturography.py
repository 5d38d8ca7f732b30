"""Course of the centre of pressure in figures, after Prieto, Hoffmann, Myklebust, Steinhauer and Kreutz 1996, *IEEE
Transactions on Biomedical Engineering* 43:956 (formulas from memory)."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.stats import f as fisher

from finearc.core.typing import Array


def path_length(places_m: Array) -> float:
    """Length of the way through places (n, 2), m."""
    return float(np.linalg.norm(np.diff(places_m, axis=0), axis=1).sum())


def mean_speed(places_m: Array, step_s: float) -> float:
    """Mean speed along the way through places (n, 2), m, every ``step_s``, s; in m/s."""
    return path_length(places_m) / max((len(places_m) - 1) * step_s, 1e-9)


def peak_speed(places_m: Array, step_s: float) -> float:
    """Largest speed, m/s, along the way through places (n, 2), m, over two steps of ``step_s``, s, around each; 0 of
    fewer than three places."""
    if len(places_m) < 3:
        return 0.0
    return float((np.linalg.norm(places_m[2:] - places_m[:-2], axis=1) / (2.0 * step_s)).max())


@lru_cache(maxsize=64)
def _f95(n: int) -> float:
    return float(fisher.ppf(0.95, 2, n - 2))


def ellipse_area(places_m: Array) -> float:
    """Area, m², of the ellipse expected to hold 95 % of the places (n, 2), m; 0 of fewer than five:
    2 π F₀.₉₅(2, n-2) √(s_x² s_y² - s_xy²)."""
    n = len(places_m)
    if n < 5:
        return 0.0
    off = places_m - places_m.mean(axis=0)
    xx, yy, xy = ((off[:, a] * off[:, b]).sum() / n for a, b in ((0, 0), (1, 1), (0, 1)))
    return float(2.0 * np.pi * _f95(n) * np.sqrt(max(xx * yy - xy * xy, 0.0)))
