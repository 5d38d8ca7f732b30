"""What a metric is. Each is an object, defined once; ids become objects at the boundary."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

import numpy as np


class Unit(StrEnum):
    """Units at the edge; inside everything is SI (rad, m, s, rad/s) or a ratio."""

    DEG = "deg"
    CM = "cm"
    PERCENT = "%"
    SECONDS = "s"
    DEG_PER_S = "deg/s"
    RATIO = "ratio"
    CM_PER_S = "cm/s"
    CM2 = "cm²"


PER_SI = {
    Unit.DEG: 180.0 / np.pi,
    Unit.CM: 100.0,
    Unit.PERCENT: 100.0,
    Unit.SECONDS: 1.0,
    Unit.DEG_PER_S: 180.0 / np.pi,
    Unit.RATIO: 1.0,
    Unit.CM_PER_S: 100.0,
    Unit.CM2: 10_000.0,
}


class Family(StrEnum):
    """Groups of the Swing view."""

    WRIST = "wrist"
    CLUB = "club"
    TIMING = "timing"
    TURN = "turn"
    POSTURE = "posture"
    TRAVEL = "travel"
    ARMS_LEGS = "arms_legs"
    SEQUENCE = "sequence"
    GROUND = "ground"


@dataclass(frozen=True, eq=False)
class Metric:
    """One measured quantity; there is one object of each, and it equals nothing but itself.

    ``positive``/``negative``: direction words in the trade's terms; ``plain_*``: for the player.
    ``needs``: the sources that can give it, in words, for when they are absent. ``quality``: shown as a
    figure of measurement quality, not of the swing. ``changes``: words for a gain and a loss, where *more* of the
    direction word would say nothing.
    """

    id: str
    label: str
    plain_label: str
    unit: Unit
    family: Family
    positive: str
    negative: str
    plain_positive: str
    plain_negative: str
    explained: str
    definition: str
    needs: str
    decimals: int = 0
    quality: bool = False
    changes: tuple[str, str] | None = None

    def at_edge(self, value_si: float) -> float:
        """An SI value in this metric's unit."""
        return value_si * PER_SI[self.unit]


class Source(StrEnum):
    """What saw a value or a checkpoint."""

    WRIST = "wrist sensors"
    CLUB = "club clip"
    BODY = "body sensors"
    MARKERS = "markers"
    MAT = "pressure mat"
    PLATES = "force plates"
    SEVERAL = "several sources"


@dataclass(frozen=True)
class Moment:
    """Where a metric is read: at a checkpoint, as a change between two, or over the whole swing (``swing``)."""

    key: str

    @property
    def parts(self) -> tuple[str, ...]:
        return tuple(self.key.split(".."))

    @property
    def is_change(self) -> bool:
        return len(self.parts) == 2


class Measured(NamedTuple):
    """A value (SI) of a metric at a moment with its standard uncertainty (SI).

    ``calibration_part`` is the share of the uncertainty that all swings of one calibration have in common.
    ``source`` says what saw it; ``others`` are the same value as less certain sources saw it.
    ``not_judged_reason`` is why it may not be judged, or empty; ``note`` how it is to be read, such as *absolute*.
    """

    metric: Metric
    moment: Moment
    value: float
    uncertainty: float
    calibration_part: float = 0.0
    source: Source = Source.WRIST
    others: tuple[Measured, ...] = ()
    not_judged_reason: str = ""
    note: str = ""


WHOLE_SWING = Moment("swing")
