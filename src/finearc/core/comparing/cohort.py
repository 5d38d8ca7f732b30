"""What skilled swings have in common: robust centre, spread and percentiles of a value, mean traces with bands."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.typing import Array
from finearc.wording import tr

LEAST_PLAYERS, LEAST_SWINGS = 8, 30
"""Fewer than these and a range rests on too little (house values, said beside the range)."""
OUTLIER = 3.5
"""Modified z-score beyond which a value is an outlier: Iglewicz & Hoaglin 1993, How to Detect and Handle Outliers,
section 3.3."""
MAD_TO_SD = 1.4826
"""Of a normal distribution, 1 / 0.6745: the same reference."""
PERCENTILES = (5.0, 10.0, 25.0, 50.0, 75.0, 90.0, 95.0)


@dataclass(frozen=True)
class Sample:
    """One value (any one unit) of one swing of one player."""

    player: str
    swing: str
    value: float


@dataclass(frozen=True)
class Cohort:
    """``centre`` weighted median, ``spread`` robust standard deviation, ``percentiles`` by percent; every player
    weighs the same, however many swings. ``outliers`` are listed and left out of all of these."""

    swings: int
    players: int
    centre: float
    spread: float
    percentiles: Mapping[float, float]
    outliers: tuple[Sample, ...]

    @property
    def warning(self) -> str:
        """Why the figures rest on too little; empty when they do not."""
        return small_sample_warning(self.players, self.swings)


def small_sample_warning(players: int, swings: int) -> str:
    """What is said of ranges and means that rest on too little; empty when they do not."""
    few = []
    if players < LEAST_PLAYERS:
        few.append(tr("{players} of {least_players} players", players=players, least_players=LEAST_PLAYERS))
    if swings < LEAST_SWINGS:
        few.append(tr("{swings} of {least_swings} swings", swings=swings, least_swings=LEAST_SWINGS))
    return tr("Rests on little: {few}.", few=tr(" and ").join(few)) if few else ""


def cohort(samples: Sequence[Sample]) -> Cohort | None:
    """Figures of a value over swings, or None without any."""
    finite = [s for s in samples if np.isfinite(s.value)]
    if not finite:
        return None
    kept, outliers = _without_outliers(finite)
    values, weights = _weighted(kept)
    at = weighted_quantiles(values, weights, np.array(PERCENTILES) / 100.0)
    percentiles = {p: float(v) for p, v in zip(PERCENTILES, at, strict=True)}
    spread = _spread(values, weights, percentiles[50.0])
    players = len({s.player for s in kept})
    return Cohort(len(kept), players, percentiles[50.0], spread, percentiles, tuple(outliers))


def _weighted(samples: Sequence[Sample]) -> tuple[Array, Array]:
    """Values and weights, every player's together 1."""
    counts = Counter(s.player for s in samples)
    return np.array([s.value for s in samples]), np.array([1.0 / counts[s.player] for s in samples])


def _spread(values: Array, weights: Array, centre: float) -> float:
    return MAD_TO_SD * float(weighted_quantiles(np.abs(values - centre), weights, np.array([0.5]))[0])


def _without_outliers(samples: Sequence[Sample]) -> tuple[list[Sample], list[Sample]]:
    values, weights = _weighted(samples)
    middle = float(weighted_quantiles(values, weights, np.array([0.5]))[0])
    spread = _spread(values, weights, middle)
    if spread == 0.0:
        return list(samples), []
    far = np.abs(values - middle) > OUTLIER * spread
    return (
        [s for s, out in zip(samples, far, strict=True) if not out],
        [s for s, out in zip(samples, far, strict=True) if out],
    )


def weighted_quantiles(values: Array, weights: Array, shares: Array) -> Array:
    """Quantiles (k,) of ``values`` (n,), linear between the midpoints of the cumulated weights; with equal weights
    the Hazen rule (type 5 of Hyndman & Fan 1996, The American Statistician 50:361)."""
    order = np.argsort(values, kind="stable")
    cumulated = np.cumsum(weights[order])
    middles = (cumulated - 0.5 * weights[order]) / cumulated[-1]
    return np.asarray(np.interp(shares, middles, values[order]))


KNOTS = ("takeaway", "shaft_level_back", "top", "impact")
PER_PHASE = 40
TAIL_S = 0.25


@dataclass(frozen=True)
class Clock:
    """A swing's own clock, 0 at the takeaway and one more at each of ``KNOTS`` that it has; before the takeaway and
    after impact time runs on in seconds over ``TAIL_S``."""

    knots_s: Array
    places: Array

    @staticmethod
    def of(events_s: Mapping[str, float]) -> Clock | None:
        """None unless takeaway, top and impact are known, in order."""
        known = [(float(k), events_s[name]) for k, name in enumerate(KNOTS) if name in events_s]
        places, times = np.array([k for k, _ in known]), np.array([t for _, t in known])
        if not {"takeaway", "top", "impact"} <= set(events_s) or np.any(np.diff(times) <= 0):
            return None
        times = np.concatenate([[times[0] - TAIL_S], times, [times[-1] + TAIL_S]])
        return Clock(times, np.concatenate([[-1.0], places, [places[-1] + 1.0]]))

    def place(self, time_s: Array) -> Array:
        """Times (n,) to places."""
        return np.asarray(np.interp(time_s, self.knots_s, self.places, left=np.nan, right=np.nan))

    def time(self, place: Array) -> Array:
        """Places (n,) to times (s)."""
        return np.asarray(np.interp(place, self.places, self.knots_s))


PLACES = np.linspace(-1.0, len(KNOTS), PER_PHASE * (len(KNOTS) + 1) + 1)


def normalised(time_s: Array, values: Array, events_s: Mapping[str, float]) -> Array | None:
    """A trace (n,) at ``PLACES``, NaN where it was not seen; None without takeaway, top and impact."""
    clock = Clock.of(events_s)
    if clock is None:
        return None
    at = clock.time(PLACES)
    known = np.isfinite(values)
    if known.sum() < 2:
        return None
    out = np.interp(at, time_s[known], values[known], left=np.nan, right=np.nan)
    return np.asarray(out)


@dataclass(frozen=True)
class MeanTrace:
    """Weighted median and the 10th and 90th percentile of traces at ``PLACES``, (k,) each."""

    middle: Array
    low: Array
    high: Array


def mean_trace(traces: Sequence[tuple[str, Array]]) -> MeanTrace:
    """Of traces at ``PLACES`` by player; every player weighs the same."""
    counts = Counter(player for player, _ in traces)
    weights = np.array([1.0 / counts[player] for player, _ in traces])
    stack = np.stack([trace for _, trace in traces])
    columns = np.full((3, stack.shape[1]), np.nan)
    for k in range(stack.shape[1]):
        seen = np.isfinite(stack[:, k])
        if seen.sum() * 2 >= len(traces):
            columns[:, k] = weighted_quantiles(stack[seen, k], weights[seen], np.array([0.5, 0.1, 0.9]))
    return MeanTrace(columns[0], columns[1], columns[2])


def laid_over(middle: Array, time_s: Array, events_s: Mapping[str, float]) -> Array | None:
    """A trace at ``PLACES`` on another swing's time axis (n,), or None when that swing lacks the checkpoints."""
    clock = Clock.of(events_s)
    if clock is None:
        return None
    return np.asarray(np.interp(clock.place(time_s), PLACES, middle))
