"""What is kept of a swing: everything measured in it, and how it was judged. Two typed documents; their bytes are made
and read in ``codec`` and ``judgements`` alone."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from finearc.core.events.model import Checkpoint, Event
from finearc.core.judging.bands import Knots
from finearc.core.judging.conditions import Outcome
from finearc.core.judging.ranges import Judged, Key
from finearc.core.metrics.definition import Measured
from finearc.core.sources.address_check import GripChange

RECORD_VERSION = 2
"""Version 1 was a JSON result and four blocks in the swing's own row (releases up to 0.5)."""
Spans = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class FigureInfo:
    """What the figure of a swing rests on: segments measured, segments drawn faint, whether it stands where the player
    stood, and a note. Its points are a block."""

    measured: tuple[str, ...]
    faint: tuple[str, ...]
    placed: bool
    note: str


@dataclass(frozen=True)
class FootPrint:
    """One shoe on the mat: ``side`` lead or trail, ends of its sole and width, m, x to the ball and y to the target."""

    side: str
    heel: tuple[float, float]
    toe: tuple[float, float]
    width: float
    partly_off: bool


@dataclass(frozen=True)
class Instant:
    """An instant of the pressure's own course, s."""

    time_s: float
    uncertainty_s: float


@dataclass(frozen=True)
class PressureAtImpact:
    """Where the pressure was at impact, in the words a player is asked in; shares in %."""

    side: str
    foot: str | None
    lead_share: float
    heel_toe: float | None


@dataclass(frozen=True)
class ClockShift:
    """How the mat's clock was set, s."""

    shift_s: float
    sd_s: float


@dataclass(frozen=True)
class GroundInfo:
    """What is known about the ground beside its pictures, which are a block. ``sentence``: when the pressure came back
    against the club; empty where that was not seen, with ``no_sentence`` saying why. ``alone``: nothing else was
    recorded."""

    source: str
    feet: tuple[FootPrint, ...]
    split_m: float | None
    split_by_hand: bool
    moments: Mapping[str, Instant]
    sentence: str
    no_sentence: str
    real: PressureAtImpact | None
    offset: ClockShift | None
    alone: bool


@dataclass(frozen=True)
class SwingRecord:
    """Everything measured in one swing; times in s on the recording's clock, values SI.

    ``detected``: the checkpoints before the instructor moved any; ``missing``: why a metric has no value, by its id;
    ``traced``: ids of the metrics that have a trace in the block of traces; ``doubt``: why nothing of the recording may
    be judged, or empty; ``grip``: how the wrist stands otherwise at this address, where that is to be asked."""

    engine: str
    start_s: float
    end_s: float
    checkpoints: Mapping[Checkpoint, Event]
    detected: Mapping[Checkpoint, Event]
    absent: Mapping[Checkpoint, str]
    values: Mapping[Key, Measured]
    missing: Mapping[str, str]
    warnings: tuple[str, ...] = ()
    sensor_moved: bool = False
    traced: tuple[str, ...] = ()
    doubt: str = ""
    figure: FigureInfo | None = None
    ground: GroundInfo | None = None
    grip: GripChange | None = None
    version: int = RECORD_VERSION

    def value(self, metric: str, moment: str) -> Measured | None:
        """A value by the ids of its metric and moment, or None."""
        return self.values.get((metric, moment))


@dataclass(frozen=True)
class SwingJudgement:
    """How a swing was judged, kept until it is judged again: by which version of the ranges (``benchmarks``), which
    ``revision`` of the academy's own findings and drills, and which schools.

    ``judged``: the values that a range, a finding or a matched set speaks of; a value that is not there is judged by
    nothing. ``reason``: why nothing of the swing is judged, or empty. ``outcomes``: what each rule said, a silent one
    left out; ``matched``: ids of the matched sets it shows. ``bands``: where each metric's band is tied; ``outside``:
    stretches (s) in which its trace leaves the band, None for a metric whose band has changed since they were found;
    ``instants`` (s) of the checkpoints, which the strip of a lesson draws."""

    benchmarks: str
    revision: int
    schools: Mapping[str, str]
    judged: Mapping[Key, Judged]
    reason: str = ""
    outcomes: Mapping[str, Outcome] = field(default_factory=dict)
    matched: tuple[str, ...] = ()
    pattern: str | None = None
    dip: bool = False
    bands: Mapping[str, Knots] = field(default_factory=dict)
    outside: Mapping[str, Spans | None] = field(default_factory=dict)
    instants: Mapping[str, float] = field(default_factory=dict)
    version: int = RECORD_VERSION
