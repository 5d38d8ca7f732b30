"""From a capture to judged swings and findings: the path of the command line, the interface and the demo."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

import numpy as np

from finearc import __version__
from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet, built_in
from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow, WristCalibration
from finearc.core.events.model import Checkpoint
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.judging.bands import band_along
from finearc.core.judging.conditions import Evidence
from finearc.core.judging.findings import Finding, NotAssessed
from finearc.core.judging.patterns import PatternReading, classify
from finearc.core.judging.ranges import InForce, Judged, in_force, judge
from finearc.core.metrics import registry
from finearc.core.metrics.definition import Measured
from finearc.core.metrics.swing import missing_reason
from finearc.core.putting.notes import PuttingNotes
from finearc.core.sources.address_check import MOVED
from finearc.core.sources.capture import Capture, CaptureReading, Prepared, Told, prepare, read_capture, read_prepared
from finearc.core.sources.inertial_view import GAP
from finearc.core.sources.kind import Kind
from finearc.core.sources.putts import COUNTING, kind_in, with_growth
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array
from finearc.wording import tr

ENGINE = __version__
"""What measured: one number for package, engine and changelog."""


@dataclass(frozen=True)
class CaptureData:
    """What a capture bundle says, in the core's units; ``streams`` by their kind."""

    streams: Mapping[Kind, Any]
    captured_at: datetime | None = None
    handedness: Hand = Hand.RIGHT
    height_m: float | None = None
    population: str = "adult"
    club: str = "7-iron"
    shot: Shot = Shot.FULL
    poses: tuple[PoseWindow, ...] = ()
    functional: FunctionalWindows | None = None
    swings: tuple[tuple[float, float], ...] | None = None
    uprights: tuple[tuple[float, float], ...] = ()
    bow: tuple[float, float] | None = None
    lifted: tuple[float, float] | None = None
    putting: PuttingNotes = field(default_factory=PuttingNotes)

    @property
    def calibration(self) -> Sequence[PoseWindow] | FunctionalWindows | None:
        return self.functional or self.poses or None

    def with_stream(self, kind: Kind, stream: Any) -> CaptureData:
        """The same with another stream of a kind; None takes it out."""
        others = {k: s for k, s in self.streams.items() if k != kind}
        return replace(self, streams=others if stream is None else {**others, kind: stream})


@dataclass(frozen=True)
class Options:
    """How to judge: schools chosen (others by default), ranges and findings."""

    schools: Mapping[str, str] = field(default_factory=dict)
    rule_set: RuleSet = field(default_factory=built_in)


@dataclass(frozen=True)
class JudgedSwing:
    """One swing, measured and judged. ``bands``: metric id to (low, high), (n,) each, SI."""

    reading: SwingReading
    judged: tuple[Judged, ...]
    missing: Mapping[str, str]
    pattern: PatternReading | None
    bands: Mapping[str, tuple[Array, Array]]

    @property
    def evidence(self) -> Evidence:
        return Evidence.of(self.judged, self.missing)


@dataclass(frozen=True)
class Analysis:
    """A whole capture. ``findings`` rest on all its swings."""

    reading: CaptureReading
    swings: tuple[JudgedSwing, ...]
    findings: tuple[Finding, ...]
    not_assessed: tuple[NotAssessed, ...]
    options: Options

    @property
    def calibration(self) -> WristCalibration | None:
        return self.reading.calibration


Corrections = Mapping[int, Mapping[Checkpoint, float]]


def capture_of(
    data: CaptureData,
    corrections: Corrections | None = None,
    *,
    swings_expected: bool = True,
    splits_m: Mapping[int, float] | None = None,
) -> Capture:
    """What the core reads."""
    return Capture(
        data.handedness,
        data.shot,
        library.lie_rad(data.club),
        data.calibration,
        data.swings,
        data.uprights,
        data.bow,
        data.lifted,
        streams=data.streams,
        corrections=corrections or {},
        splits_m=splits_m or {},
        swings_expected=swings_expected,
        notes=data.putting,
        putter=data.putting.putter,
    )


def read(data: CaptureData, corrections: Corrections | None = None, *, swings_expected: bool = True) -> CaptureReading:
    """Measure a capture. Raises a ``FineArcError``."""
    return read_capture(capture_of(data, corrections, swings_expected=swings_expected))


def read_and_prepare(
    data: CaptureData,
    corrections: Corrections | None = None,
    *,
    swings_expected: bool = True,
    splits_m: Mapping[int, float] | None = None,
    told: Told | None = None,
) -> tuple[CaptureReading, Prepared]:
    """The same, and what is needed to read one of its swings again. Raises a ``FineArcError``."""
    capture = capture_of(data, corrections, swings_expected=swings_expected, splits_m=splits_m)
    return read_prepared(prepare(capture), capture.corrections, capture.splits_m, told)


def analyse(
    data: CaptureData,
    options: Options | None = None,
    corrections: Mapping[int, Mapping[Checkpoint, float]] | None = None,
) -> Analysis:
    """Measure, judge and find. Raises a ``FineArcError``."""
    return analysis_of(read(data, corrections), data, options or Options())


def analysis_of(reading: CaptureReading, data: CaptureData, options: Options) -> Analysis:
    """Judge what was measured, and find."""
    situation = library.situation(data.club, data.shot.value, data.population, options.schools)
    page = in_force(options.rule_set.ranges.ranges, situation)
    swings = tuple(judge_swing(s, page, why_not_judged(reading)) for s in with_growth(reading.swings))
    counted = [s.evidence for s in swings if not s.reading.of_putt or kind_in(s.reading) in COUNTING]
    findings, open_questions = options.rule_set.find(counted)
    return Analysis(reading, swings, tuple(findings), tuple(open_questions), options)


def why_not_judged(reading: CaptureReading) -> str:
    """Why nothing of a capture may be judged: a sensor in the wrong place, or empty."""
    return reading.warnings[0] if reading.warnings else ""


def judge_swing(swing: SwingReading, page: InForce, not_judged_reason: str = "") -> JudgedSwing:
    """Verdicts, pattern, bands and what is missing, for one swing; ``page``: the ranges in force."""
    reason = tr(MOVED) if swing.sensor_moved else not_judged_reason
    judged = judge(swing.measured, page, page.situation, reason)
    values = {(m.metric.id, m.moment.key): m for m in swing.measured}
    bands = {} if reason else _bands(swing, page, values)
    return JudgedSwing(swing, tuple(judged), missing_of(swing), classify(values) if not reason else None, bands)


def _bands(
    swing: SwingReading, page: InForce, values: Mapping[tuple[str, str], Measured]
) -> dict[str, tuple[Array, Array]]:
    bands = {}
    for key in swing.traces:
        metric = registry.BY_ID[key]
        band = band_along(metric, page, values, swing.events, swing.time_s)
        if band is not None:
            bands[metric.id] = band
    return bands


def missing_of(swing: SwingReading) -> dict[str, str]:
    """Why each metric without a value has none, by its id."""
    present = {m.metric.id for m in swing.measured}
    why = next(iter(swing.absent.values()), "")
    if not np.all(swing.valid):
        why = tr(GAP)
    return {
        m.id: missing_reason(m, swing.present, swing.lacking.get(m, ""), why)
        for m in registry.ALL
        if m.id not in present and m.of_putts is swing.of_putt
    }
