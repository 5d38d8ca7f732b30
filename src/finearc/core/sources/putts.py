"""The putts of a reading, one by one and together."""

from __future__ import annotations

from collections.abc import Sequence

from finearc.core.putting.notes import PuttKind, Values, growth_values, kind_of
from finearc.core.sources.putt_view import InertialPuttView
from finearc.core.sources.reading import SwingReading

COUNTING = (PuttKind.PUTT, PuttKind.UNKNOWN)
"""Practice strokes and tap-ins do not count."""


def values_of(reading: SwingReading) -> Values:
    """A putt's values by metric and moment."""
    return {(v.metric.id, v.moment.key): v for v in reading.measured}


def kind_in(reading: SwingReading) -> PuttKind:
    """What a stroke was."""
    view = reading.view(InertialPuttView)
    return kind_of(reading.strike_felt, view.peak_rad_s if view is not None else None)


def counting(readings: Sequence[SwingReading]) -> list[SwingReading]:
    """The putts that count."""
    return [r for r in readings if r.of_putt and kind_in(r) in COUNTING]


def add_growth(readings: Sequence[SwingReading]) -> None:
    """Give each counting putt what its distance shows against the others."""
    putts = counting(readings)
    for reading, more in zip(putts, growth_values([values_of(r) for r in putts]), strict=True):
        reading.measured += more
