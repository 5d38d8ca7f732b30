"""The putts of a reading, one by one and together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from finearc.core.putting.drawn import drawn_times
from finearc.core.putting.notes import PuttKind, Values, growth_values, kind_of
from finearc.core.sources.putt_optical import OpticalPuttView
from finearc.core.sources.putt_view import InertialPuttView
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array

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


def with_growth(readings: Sequence[SwingReading]) -> list[SwingReading]:
    """The same readings, each counting putt with what its distance shows against the others: a value of the session,
    which changes with every putt, and therefore kept nowhere."""
    putts = counting(readings)
    more = dict(zip(map(id, putts), growth_values([values_of(r) for r in putts]), strict=True))
    return [replace(r, measured=[*r.measured, *more[id(r)]]) if more.get(id(r)) else r for r in readings]


def drawn_of(reading: SwingReading) -> dict[str, Array] | None:
    """What a putt's pictures are drawn from, SI, (n,) each beside ``time_s``, as ``core.putting.drawn``; None of
    another swing, and where nothing of it was seen."""
    at_s = drawn_times(reading.events) if reading.of_putt else None
    if at_s is None:
        return None
    wrists, putter = reading.view(InertialPuttView), reading.view(OpticalPuttView)
    courses = {} if wrists is None else wrists.drawn(reading.events, at_s)
    courses |= {} if putter is None else putter.drawn(at_s)
    return {"time_s": at_s, **courses} if courses else None
