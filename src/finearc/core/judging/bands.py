"""The reference band along a trace, between the moments at which ranges stand."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from scipy.interpolate import PchipInterpolator

from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.ranges import InForce, limits
from finearc.core.metrics.definition import Measured, Metric
from finearc.core.typing import Array


def _hold(knots: dict[float, tuple[float, float]], times: Mapping[Checkpoint, float]) -> None:
    """Ranges stand at checkpoints only. Until the takeaway the address limits hold; coming down, the top's
    upper limit holds until the lead arm is level while the lower one already opens toward impact."""
    at = times
    address, takeaway = at.get(Checkpoint.ADDRESS), at.get(Checkpoint.TAKEAWAY)
    if address in knots and takeaway is not None and takeaway > (address or 0.0):
        knots.setdefault(takeaway, knots[address])
    top, level, impact = (at.get(k) for k in (Checkpoint.TOP, Checkpoint.ARM_LEVEL_DOWN, Checkpoint.IMPACT))
    if top in knots and impact in knots and level is not None:
        low = min(knots[top][0], (knots[top][0] + knots[impact][0]) / 2)
        knots.setdefault(level, (low, knots[top][1]))


Knots = tuple[tuple[float, float, float], ...]
"""Instants (s) at which a range stands, each with its lower and upper limit (SI), in order of time."""


def band_knots(
    metric: Metric, page: InForce, values: Mapping[tuple[str, str], Measured], times: Mapping[Checkpoint, float]
) -> Knots:
    """Where the band of a metric is tied to its ranges (``times``: s, of the checkpoints); empty when fewer than two
    moments have one. A change from address counts from the address value."""
    knots: dict[float, tuple[float, float]] = {}
    for tie in page.ties.get(metric.id, ()):
        at = times.get(tie.at)
        start = values.get(tie.start) if tie.start is not None else None
        bounds = limits(tie.range, values, page.situation.best)
        if at is None or bounds is None or bounds[0] is None or bounds[1] is None:
            continue
        if start is not None:
            knots[at] = (bounds[0] + start.value, bounds[1] + start.value)
        elif tie.start is None:
            knots[at] = (bounds[0], bounds[1])
    if len(knots) < 2:
        return ()
    _hold(knots, times)
    return tuple((t, *knots[t]) for t in sorted(knots))


def band_between(knots: Knots, time_s: Array) -> tuple[Array, Array]:
    """The band (low, high), each (n,), SI, along ``time_s`` (n,), s; NaN before the first and after the last knot."""
    table = np.array(knots)
    along = np.full((len(time_s), 2), np.nan)
    inside = (time_s >= table[0, 0]) & (time_s <= table[-1, 0])
    along[inside] = PchipInterpolator(table[:, 0], table[:, 1:])(time_s[inside])
    return along[:, 0], along[:, 1]


def band_along(
    metric: Metric,
    page: InForce,
    values: Mapping[tuple[str, str], Measured],
    events: Mapping[Checkpoint, Event],
    time_s: Array,
) -> tuple[Array, Array] | None:
    """The band (low, high), each (n,), SI, along ``time_s``; None when fewer than two moments have a range."""
    knots = band_knots(metric, page, values, {k: e.time_s for k, e in events.items()})
    return band_between(knots, time_s) if knots else None
