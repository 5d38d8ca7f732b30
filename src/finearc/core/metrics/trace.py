"""A metric over a swing, as one source saw it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.signal import savgol_filter

from finearc.core.metrics.definition import Metric
from finearc.core.typing import Array


@dataclass(frozen=True)
class Trace:
    """A metric over the source's time axis (n,), SI. ``base_sd``: what differs between samples; ``common_sd``: what
    all values of the swing have in common (marker placement, standing square) and changes are free of.
    ``error_shapes`` (7, n): derivatives with respect to the wrist calibration's seven small errors, or None.
    ``not_judged_reason``: why values (not changes) may not be judged; ``note``: how values are to be read."""

    metric: Metric
    values: Array
    base_sd: float
    error_shapes: Array | None = None
    common_sd: float = 0.0
    not_judged_reason: str = ""
    note: str = ""


def derivative(values: Array, step_s: float, order: int = 1) -> Array:
    """Rates (n, k) per s (or per s² with ``order`` 2) of columns (n, k) after a cubic Savitzky–Golay filter of
    about 45 ms."""
    window = max(5, 2 * round(0.0225 / step_s) + 1)
    if len(values) < window:
        rate = np.gradient(values, step_s, axis=0)
        return rate if order == 1 else np.gradient(rate, step_s, axis=0)
    return np.asarray(savgol_filter(values, window, 3, deriv=order, delta=step_s, axis=0, mode="nearest"))
