"""What a metric is. Each is an object, defined once; ids become objects at the boundary."""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar, NamedTuple

import numpy as np

from finearc.wording import worded


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
    M = "m"


PER_SI = {
    Unit.DEG: 180.0 / np.pi,
    Unit.CM: 100.0,
    Unit.PERCENT: 100.0,
    Unit.SECONDS: 1.0,
    Unit.DEG_PER_S: 180.0 / np.pi,
    Unit.RATIO: 1.0,
    Unit.CM_PER_S: 100.0,
    Unit.CM2: 10_000.0,
    Unit.M: 1.0,
}


SMALLEST_RELEVANT = {
    Unit.DEG: 2.0,
    Unit.CM: 1.0,
    Unit.PERCENT: 3.0,
    Unit.SECONDS: 0.01,
    Unit.DEG_PER_S: 20.0,
    Unit.RATIO: 0.1,
    Unit.CM_PER_S: 5.0,
    Unit.CM2: 2.0,
    Unit.M: 0.1,
}
"""The least change that means anything, in the unit itself (house values)."""


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
    PUTTING = "putting"


class Source(str):
    """What saw a value or a checkpoint, as it is said to people. A kind of source may bring its own."""

    __slots__ = ()
    WRIST: ClassVar[Source]
    CLUB: ClassVar[Source]
    BODY: ClassVar[Source]
    UPPER_ARM: ClassVar[Source]
    MARKERS: ClassVar[Source]
    MAT: ClassVar[Source]
    PLATES: ClassVar[Source]
    TRAIL_WRIST: ClassVar[Source]
    PUTTER: ClassVar[Source]
    NOTED: ClassVar[Source]
    SEVERAL: ClassVar[Source]

    @property
    def value(self) -> str:
        """The words alone."""
        return str(self)


Source.WRIST = Source("wrist sensors")
Source.CLUB = Source("club clip")
Source.BODY = Source("body sensors")
Source.UPPER_ARM = Source("upper-arm sensor")
Source.MARKERS = Source("markers")
Source.MAT = Source("pressure mat")
Source.PLATES = Source("force plates")
Source.TRAIL_WRIST = Source("trail wrist sensors")
Source.PUTTER = Source("putter sensor")
Source.NOTED = Source("the instructor's note")
Source.SEVERAL = Source("several sources")


Givers = tuple[frozenset[Source], ...]
"""What can give a metric: any of these, each with all of its sources."""


def any_of(*sources: Source | tuple[Source, ...]) -> Givers:
    """Alternatives; sources that are needed together stand in a tuple."""
    return tuple(frozenset({s} if isinstance(s, Source) else s) for s in sources)


class Drawing(StrEnum):
    """How a measure is drawn as what it is."""

    CUP = "cup"
    HINGE = "hinge"
    ROLL = "roll"
    SHAFT = "shaft"
    TURN = "turn"
    TILT = "tilt"
    DISTANCE = "distance"
    JOINT = "joint"
    FEET = "feet"


@worded("name", "zero", "beside")
@dataclass(frozen=True)
class Chart:
    """A metric's own picture in the Swing view: its short ``name`` there, its ``drawing``, what zero is called (in the
    trade's words and in plain ones), and what more and less are called ``beside`` the trace, where the metric's
    direction words would not do."""

    name: str
    drawing: Drawing
    zero: tuple[str, str] | None = None
    beside: tuple[str, str] | None = None


@worded(
    "label",
    "plain_label",
    "positive",
    "negative",
    "plain_positive",
    "plain_negative",
    "explained",
    "definition",
    "needs",
    "changes",
)
@dataclass(frozen=True, eq=False)
class Metric:
    """One measured quantity; there is one object of each, and it equals nothing but itself.

    ``positive``/``negative``: direction words in the trade's terms; ``plain_*``: for the player.
    ``needs``: the sources that can give it, in words, for when they are absent; ``givers``: which they are. ``shown``:
    its own chart, the metric in whose chart it is looked at, or the group that has a view of its own. ``trained``:
    whether a drill can be about it, with its course as feedback. ``changes_read``: pairs of moments between which its
    change is read; ``at_address``: whether a still address shows it. ``quality``: shown as a figure of measurement
    quality, not of the swing. ``changes``: words for a gain and a loss, where *more* of the direction word would say
    nothing. ``told_to``: the size, in its unit, beyond which words only say that it is beyond.
    ``course_only``: its course serves another metric, its values at checkpoints nobody.
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
    givers: Givers
    shown: Chart | Callable[[], Metric] | Family
    trained: bool
    changes_read: tuple[tuple[str, str], ...] = ()
    at_address: bool = False
    decimals: int = 0
    quality: bool = False
    changes: tuple[str, str] | None = None
    told_to: float | None = None
    course_only: bool = False

    def __reduce__(self) -> tuple[Callable[[str], Metric], tuple[str]]:
        """Sent to another process it is that one's own object of the same id."""
        return _named, (self.id,)

    def at_edge(self, value_si: float) -> float:
        """An SI value in this metric's unit."""
        return value_si * PER_SI[self.unit]

    @property
    def smallest_relevant(self) -> float:
        """The least change that means anything, in its unit."""
        return SMALLEST_RELEVANT[self.unit]

    @property
    def chart(self) -> Chart | None:
        """Its own chart, if it has one."""
        return self.shown if isinstance(self.shown, Chart) else None

    @property
    def shown_as(self) -> str:
        """The id of the metric in whose chart it is looked at, or of the group that has a view of its own."""
        if isinstance(self.shown, Chart):
            return self.id
        return self.shown.value if isinstance(self.shown, Family) else self.shown().id

    @property
    def of_putts(self) -> bool:
        """Whether only a putt has it."""
        return self.family is Family.PUTTING

    def can_be_given(self, present: Collection[Source]) -> bool:
        """Whether the sources that are present can give it at all."""
        return any(needed <= set(present) for needed in self.givers)


def _named(metric_id: str) -> Metric:
    from finearc.core.metrics.registry import BY_ID  # the registry is made of what stands here

    return BY_ID[metric_id]


STRETCHES = ("takeaway..impact",)
"""What is read here is a figure of the stretch, as a range, and not a change from its beginning to its end."""


@dataclass(frozen=True)
class Moment:
    """Where a metric is read: at a checkpoint, as a change between two, over a stretch (``STRETCHES``) or over the
    whole swing (``swing``)."""

    key: str

    @property
    def parts(self) -> tuple[str, ...]:
        return tuple(self.key.split(".."))

    @property
    def is_change(self) -> bool:
        return len(self.parts) == 2 and self.key not in STRETCHES


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
