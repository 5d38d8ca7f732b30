"""Which school a player's swings are closest to, with the evidence."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from finearc.core.judging.ranges import Range, limits
from finearc.core.metrics.definition import Measured

NEAR = 0.25
"""Two schools closer to each other than this (half-widths of a range) are not told apart (house value)."""


@dataclass(frozen=True)
class Fit:
    """One value against one school's range. ``distance`` from the range's middle in half-widths: 0 in the middle, 1 at
    a limit."""

    range: Range
    value: float
    uncertainty: float
    low: float
    high: float
    distance: float
    swings: int


@dataclass(frozen=True)
class Closest:
    """``options`` of one axis by distance (mean over its ranges), nearest first; ``option`` the closest, or None when
    two are as near as each other. Empty ``options``: nothing that tells the schools apart was measured."""

    axis: str
    option: str | None
    options: tuple[tuple[str, float], ...]
    evidence: Mapping[str, tuple[Fit, ...]]
    swings: int


def closest(
    axis: str, ranges: Sequence[Range], swings: Sequence[Mapping[tuple[str, str], Measured]], classes: frozenset[str]
) -> Closest:
    """Compare the median of each value with the two-sided ranges of each option. Only moments that every compared
    option has a range for count, so that no school wins by asking less."""
    own = [r for r in ranges if r.school is not None and r.school[0] == axis and _speaks(r, classes)]
    fits: dict[str, dict[tuple[str, str], Fit]] = {}
    for r in own:
        fit = _fit(r, swings)
        if fit is not None and r.school is not None:
            fits.setdefault(r.school[1], {})[r.metric.id, r.moment.key] = fit
    if len(fits) < 2:
        return Closest(axis, None, (), {}, 0)
    shared = set.intersection(*(set(f) for f in fits.values()))
    if not shared:
        return Closest(axis, None, (), {}, 0)
    evidence = {option: tuple(f[k] for k in sorted(shared)) for option, f in fits.items()}
    distances = {option: sum(f.distance for f in of) / len(of) for option, of in evidence.items()}
    ordered = tuple(sorted(distances.items(), key=lambda x: x[1]))
    clear = ordered[1][1] - ordered[0][1] > NEAR
    return Closest(
        axis, ordered[0][0] if clear else None, ordered, evidence, max(f.swings for f in evidence[ordered[0][0]])
    )


def _speaks(r: Range, classes: frozenset[str]) -> bool:
    return r.club_class is None or r.club_class in classes


def _fit(r: Range, swings: Sequence[Mapping[tuple[str, str], Measured]]) -> Fit | None:
    key = (r.metric.id, r.moment.key)
    told = [(m, bounds) for s in swings if (m := s.get(key)) is not None and (bounds := limits(r, s)) is not None]
    told = [(m, b) for m, b in told if not m.not_judged_reason]
    pairs = [(m, b[0], b[1]) for m, b in told if b[0] is not None and b[1] is not None and b[1] > b[0]]
    if not pairs:
        return None
    value = median(m.value for m, _, _ in pairs)
    low, high = median(a for _, a, _ in pairs), median(b for _, _, b in pairs)
    half = (high - low) / 2
    uncertainty = median(m.uncertainty for m, _, _ in pairs)
    return Fit(r, value, uncertainty, low, high, abs(value - (low + high) / 2) / half, len(pairs))
