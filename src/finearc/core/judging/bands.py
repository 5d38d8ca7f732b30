"""The reference band along a trace, between the moments at which ranges stand."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from scipy.interpolate import PchipInterpolator

from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.ranges import InForce, limits
from finearc.core.metrics.definition import Measured, Metric
from finearc.core.typing import Array


def _hold(knots: dict[float, tuple[float, float]], events: Mapping[Checkpoint, Event]) -> None:
    """Ranges stand at checkpoints only. Until the takeaway the address limits hold; coming down, the top's
    upper limit holds until the lead arm is level while the lower one already opens toward impact."""
    at = {
        k: events[k].time_s
        for k in (Checkpoint.ADDRESS, Checkpoint.TAKEAWAY, Checkpoint.TOP, Checkpoint.ARM_LEVEL_DOWN, Checkpoint.IMPACT)
        if k in events
    }
    address, takeaway = at.get(Checkpoint.ADDRESS), at.get(Checkpoint.TAKEAWAY)
    if address in knots and takeaway is not None and takeaway > (address or 0.0):
        knots.setdefault(takeaway, knots[address])
    top, level, impact = (at.get(k) for k in (Checkpoint.TOP, Checkpoint.ARM_LEVEL_DOWN, Checkpoint.IMPACT))
    if top in knots and impact in knots and level is not None:
        low = min(knots[top][0], (knots[top][0] + knots[impact][0]) / 2)
        knots.setdefault(level, (low, knots[top][1]))


def band_along(
    metric: Metric,
    page: InForce,
    values: Mapping[tuple[str, str], Measured],
    events: Mapping[Checkpoint, Event],
    time_s: Array,
) -> tuple[Array, Array] | None:
    """Low and high limits (n,), SI, along ``time_s``; NaN before the first and after the last moment with a
    range; None when fewer than two moments have one. A change from address counts from the address value."""
    knots: dict[float, tuple[float, float]] = {}
    for (key, _), found in page.ranges.items():
        if key != metric.id:
            continue
        r = found[0]
        bounds = limits(r, values, page.situation.best)
        if bounds is None or bounds[0] is None or bounds[1] is None:
            continue
        parts = r.moment.parts
        base = 0.0
        if len(parts) == 2:
            start = values.get((metric.id, parts[0]))
            if parts[0] != Checkpoint.ADDRESS or start is None:
                continue
            base = start.value
        at = next((e for k, e in events.items() if str(k) == parts[-1]), None)
        if at is not None:
            knots[at.time_s] = (bounds[0] + base, bounds[1] + base)
    if len(knots) < 2:
        return None
    _hold(knots, events)
    at_s = np.array(sorted(knots))
    limits_at = np.array([knots[t] for t in at_s])
    along = np.full((len(time_s), 2), np.nan)
    inside = (time_s >= at_s[0]) & (time_s <= at_s[-1])
    along[inside] = PchipInterpolator(at_s, limits_at)(time_s[inside])
    return along[:, 0], along[:, 1]
