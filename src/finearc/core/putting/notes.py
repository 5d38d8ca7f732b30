"""What an instructor notes about putts, and what follows from it and from the values of a putt."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics.definition import WHOLE_SWING, Measured, Metric, Moment, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.putting.growth import Growth, against_trend, growth
from finearc.core.putting.putter import strike_hint, strike_side
from finearc.core.putting.setup import PutterSetup
from finearc.core.putting.wrists import Begun, in_order

TAP_IN_RAD_S = np.deg2rad(22.0)
"""A struck putt whose hands never turn as fast is a tap-in (house value): three metres on a fast green take twice as
much."""
HINT_RAD = np.deg2rad(1.0)
"""Less deviation through the stroke says nothing of where the ball is struck (house value)."""


class Outcome(StrEnum):
    HOLED = "holed"
    LEFT = "left"
    RIGHT = "right"
    SHORT = "short"
    LONG = "long"


class Slope(StrEnum):
    FLAT = "flat"
    UPHILL = "uphill"
    DOWNHILL = "downhill"


class Break(StrEnum):
    NONE = "none"
    LEFT_TO_RIGHT = "left_to_right"
    RIGHT_TO_LEFT = "right_to_left"


class PuttKind(StrEnum):
    """What a stroke was; *unknown* where no source can tell a putt from a practice stroke."""

    PUTT = "putt"
    PRACTICE = "practice"
    TAP_IN = "tap_in"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class PuttNote:
    """About one putt; lengths in m."""

    distance_m: float | None = None
    outcome: Outcome | None = None
    rolled_past_m: float | None = None
    slope: Slope | None = None
    breaks: Break | None = None


@dataclass(frozen=True)
class PuttingNotes:
    """About a session: ``putts`` by the number of their window (from 0); ``green_speed_ft``; ``grip`` in words;
    ``face_grip_bias_rad``, + the face open against the hands; ``putter``: its measures and its pendulum's pivot."""

    putts: Mapping[int, PuttNote] = field(default_factory=dict)
    green_speed_ft: float | None = None
    grip: str = ""
    face_grip_bias_rad: float | None = None
    putter: PutterSetup = field(default_factory=PutterSetup)

    def values(self, number: int) -> list[Measured]:
        """What is noted of a putt, as values."""
        out = []
        distance = self.putts.get(number, PuttNote()).distance_m
        if distance is not None:
            out.append(Measured(pm.PUTT_DISTANCE, WHOLE_SWING, distance, 0.0, source=Source.NOTED))
        if self.face_grip_bias_rad is not None:
            moment = Moment(Checkpoint.ADDRESS)
            bias = self.face_grip_bias_rad
            out.append(Measured(pm.FACE_GRIP_BIAS, moment, bias, np.deg2rad(1.0), source=Source.NOTED, note="absolute"))
        return out


Values = Mapping[tuple[str, str], Measured]


def value_of(values: Values, metric: Metric, moment: str) -> Measured | None:
    """A putt's value by metric and moment."""
    return values.get((metric.id, moment))


def kind_of(strike_felt: bool | None, peak_rad_s: float | None) -> PuttKind:
    """What a stroke was: ``strike_felt`` as the sources say, ``peak_rad_s``: how fast the hands turned at most."""
    if strike_felt is None:
        return PuttKind.UNKNOWN
    if not strike_felt:
        return PuttKind.PRACTICE
    return PuttKind.TAP_IN if peak_rad_s is not None and peak_rad_s < TAP_IN_RAD_S else PuttKind.PUTT


def order_of(values: Values, takeaway: Event | None, measures: pm.WristMeasures = pm.LEAD) -> list[list[Begun]]:
    """In which order the wrist's angles begin to move; what their onsets share, the takeaway, does not part them."""
    shared = 0.0 if takeaway is None else takeaway.uncertainty_s
    begun = []
    for name, metric in measures.onsets.items():
        value = value_of(values, metric, pm.STROKE)
        if value is not None:
            own = np.sqrt(max(value.uncertainty**2 - shared**2, 1e-6))
            begun.append(Begun(name, value.value, float(own), value.note))
    return in_order(begun)


@dataclass(frozen=True)
class Strike:
    """``side``: *toe*, *heel* or *centre*; ``is_hint``: told by the wrist alone."""

    side: str
    is_hint: bool


def strike_of(values: Values) -> Strike | None:
    """Where on the face the ball is struck, by the putter, else as a hint by the wrist; None where neither was seen."""
    out = value_of(values, pm.SWEET_SPOT_OUT, Checkpoint.IMPACT)
    if out is not None:
        return Strike(strike_side(out.value), False)
    back = value_of(values, pm.DEVIATION_AT, Checkpoint.TRANSITION)
    ball = value_of(values, pm.DEVIATION_AT, Checkpoint.IMPACT)
    if back is None or ball is None:
        return None
    return Strike(strike_hint(ball.value - back.value, HINT_RAD), True)


GROWS = (*pm.LEAD.ranges.values(), *pm.TRAIL.ranges.values())


def growths(putts: Sequence[Values]) -> dict[Metric, Growth]:
    """How each range grows with the distance, over counting putts whose distance is noted, per m in SI."""
    out = {}
    for metric in GROWS:
        pairs = _against_distance(putts, metric)
        line = growth([p[0] for p in pairs], [p[1] for p in pairs]) if pairs else None
        if line is not None:
            out[metric] = line
    return out


def growth_values(putts: Sequence[Values]) -> list[list[Measured]]:
    """How far a distance stands off the trend of the others, as a value of its putts: of the distance, and the angle
    (extension or deviation), that stands off most; nothing where no trend can be told."""
    ratios: dict[float, tuple[float, float]] = {}
    for metric in (pm.EXTENSION_RANGE, pm.DEVIATION_RANGE):
        pairs = _against_distance(putts, metric)
        for distance, found in against_trend([p[0] for p in pairs], [p[1] for p in pairs]).items():
            ratios[distance] = max(ratios.get(distance, found), found)
    most = max(ratios.values(), default=None)
    out: list[list[Measured]] = []
    for values in putts:
        at = value_of(values, pm.PUTT_DISTANCE, WHOLE_SWING.key)
        ratio = ratios.get(at.value) if at is not None else None
        moment = Moment(pm.STROKE)
        out.append(
            [] if ratio is None or ratio != most else [Measured(pm.GROWTH_RATIO, moment, *ratio, note="relative")]
        )
    return out


def _against_distance(putts: Sequence[Values], metric: Metric) -> list[tuple[float, float]]:
    return [
        (d.value, v.value)
        for values in putts
        if (d := value_of(values, pm.PUTT_DISTANCE, WHOLE_SWING.key)) is not None
        and (v := value_of(values, metric, pm.STROKE)) is not None
    ]
