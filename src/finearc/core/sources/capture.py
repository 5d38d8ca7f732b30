"""From a recording's streams to readings: the one path every capture takes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration
from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.placement import ARM_UP, address_warnings
from finearc.core.calibration.poses import still_mask, still_windows
from finearc.core.errors import CalibrationRefused, FineArcError, MissingStream, NoSwingFound
from finearc.core.events.model import Checkpoint, event
from finearc.core.events.swings import find_swings
from finearc.core.events.turning import Turning
from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.kinematics.session import wrist_frames
from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Source
from finearc.core.pressure.sync import Offset
from finearc.core.putting.notes import PuttingNotes
from finearc.core.signals.streams import Segment, StreamFlags
from finearc.core.sources.ground import ground_in, on_one_clock
from finearc.core.sources.inertial import INERTIAL, InertialMotion
from finearc.core.sources.kind import Kind, Motions, Setting, States, Window, prepare_all
from finearc.core.sources.reading import SwingReading, read_swing
from finearc.core.typing import Array
from finearc.wording import mark, tr

Told = Callable[[int, int], None]
LOOKS_AWAY = mark(
    "The player seems to look {:.0f}° away from the ball: check the directions of ball and target in bay_axes."
)
LOOKS_AWAY_RAD = np.deg2rad(50.0)
"""No player stands this far from square (house value)."""
MIN_STILL_S = 0.4
"""Shortest stillness that counts as standing at address (house value)."""
NEEDED = "imu streams of lead_forearm and lead_hand, of club, or of pelvis and thorax, or markers,"


@dataclass(frozen=True)
class Capture(Setting):
    """What is to be analysed: streams by kind, with their setting. ``corrections``: per swing number, instants (s) the
    instructor has set; ``splits_m``: likewise, where the feet part. ``swings_expected``: False for a still capture or a
    calibration alone. ``notes``: what is noted of putts."""

    streams: Mapping[Kind, Any] = field(default_factory=dict)
    corrections: Mapping[int, Mapping[Checkpoint, float]] = field(default_factory=dict)
    splits_m: Mapping[int, float] = field(default_factory=dict)
    swings_expected: bool = True
    notes: PuttingNotes = field(default_factory=PuttingNotes)


@dataclass(frozen=True)
class Setup:
    """A still address: values at address and where they were read, s."""

    at_s: float
    measured: tuple[Measured, ...]


@dataclass(frozen=True)
class CaptureReading:
    """All that was measured. ``warnings``: why the whole may not be judged."""

    motions: Motions
    swings: tuple[SwingReading, ...]
    setup: Setup | None
    warnings: tuple[str, ...]
    putting: PuttingNotes = field(default_factory=PuttingNotes)

    @property
    def present(self) -> tuple[Source, ...]:
        return self.motions.present

    @property
    def ends_s(self) -> float:
        return self.motions.span[1]

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sources, without doubting them."""
        return self.motions.notes

    @property
    def calibration(self) -> WristCalibration | None:
        """The wrist pair's, or None when there is none."""
        return calibration_in(self.motions)

    @property
    def body(self) -> BodyCalibration | None:
        """The body pack's, or None without it or its poses."""
        inertial = inertial_in(self.motions)
        return inertial.sensors.body if inertial is not None else None

    @property
    def flags(self) -> Mapping[Segment, StreamFlags]:
        """What was mended in each sensor's stream."""
        inertial = inertial_in(self.motions)
        return inertial.flags if inertial is not None else {}

    @property
    def offset(self) -> Offset | None:
        """How the mat's clock was set."""
        ground = ground_in(self.motions)
        return ground.offset if ground is not None else None


@dataclass(frozen=True)
class Prepared:
    """A capture with everything done that does not depend on the instructor's instants: sources mended, oriented,
    calibrated and on one clock, swings found. ``states``: what each swing starts from, and what the last one left."""

    motions: Motions
    spans: tuple[Window, ...]
    states: tuple[States, ...] = ()
    notes: PuttingNotes = field(default_factory=PuttingNotes)


def inertial_in(motions: Motions) -> InertialMotion | None:
    """The inertial sensors."""
    found = motions.get(INERTIAL)
    return found if isinstance(found, InertialMotion) else None


def calibration_in(motions: Motions) -> WristCalibration | None:
    """The wrist pair's calibration."""
    inertial = inertial_in(motions)
    return inertial.sensors.calibration if inertial is not None else None


def prepare(capture: Capture) -> Prepared:
    """The part of reading a capture that is the same wherever its checkpoints lie. Raises a ``FineArcError``."""
    motions = prepare_all(capture.streams, capture)
    if not motions:
        given = capture.streams.get(INERTIAL, ())
        raise MissingStream(NEEDED, ", ".join(sorted(s.segment.value for s in given)))
    motions = on_one_clock(motions, lambda others: _impacts(capture, others))
    return Prepared(motions, _spans(capture, motions), notes=capture.notes)


def read_capture(capture: Capture) -> CaptureReading:
    """Analyse a capture. Raises a ``FineArcError`` when nothing can be measured."""
    return read_prepared(prepare(capture), capture.corrections, capture.splits_m)[0]


def read_prepared(
    prepared: Prepared,
    corrections: Mapping[int, Mapping[Checkpoint, float]],
    splits_m: Mapping[int, float],
    told: Told | None = None,
) -> tuple[CaptureReading, Prepared]:
    """All swings of a prepared capture; and the capture with what each swing started from, so that one of them can be
    read again alone (``read_one``). ``told`` hears before each swing which it is of how many, and may stop the reading
    by an error of its own."""
    motions = prepared.motions
    state: States = {}
    states: list[States] = []
    swings: list[SwingReading] = []
    for k, span in enumerate(prepared.spans):
        if told is not None:
            told(k, len(prepared.spans))
        states.append(deepcopy(state))
        swings.append(read_swing(motions, span, state, corrections.get(k, {}), splits_m.get(k)))
        swings[-1].measured += prepared.notes.values(k)
    setup = None if swings else _setup(motions)
    reading = CaptureReading(motions, tuple(swings), setup, doubts(motions, swings, setup), prepared.notes)
    return reading, replace(prepared, states=(*states, state))


def with_notes(reading: CaptureReading, notes: PuttingNotes) -> CaptureReading:
    """A reading that was made without them, with what is noted of its putts."""
    swings = [replace(s, measured=[*s.measured, *notes.values(k)]) for k, s in enumerate(reading.swings)]
    return replace(reading, swings=tuple(swings), putting=notes)


def doubts(motions: Motions, swings: Sequence[SwingReading], setup: Setup | None) -> tuple[str, ...]:
    """Why the whole recording may not be judged: sensors on the wrong place, axes named wrongly."""
    placement = _placement(motions, swings, setup)
    calibration = calibration_in(motions)
    at_pose = calibration.warnings if calibration and ARM_UP not in placement else ()
    return (*at_pose, *placement, *_facing(swings))


def read_one(
    prepared: Prepared, number: int, corrections: Mapping[Checkpoint, float], split_m: float | None
) -> SwingReading:
    """One swing of a capture that was read before, from what it started from then: equal to reading all of it."""
    state = deepcopy(prepared.states[number])
    reading = read_swing(prepared.motions, prepared.spans[number], state, corrections, split_m)
    reading.measured += prepared.notes.values(number)
    return reading


def _searched(motions: Motions) -> list[Turning]:
    """What to look for swings in, best first: sensors that feel the strike, markers, the body pack."""
    found = [turning for motion in motions if (turning := motion.turning()) is not None]
    return sorted(found, key=lambda t: -t.least)


def _impacts(capture: Capture, motions: Motions) -> list[float]:
    """Impacts as the given sources saw them, s."""
    spans = _spans(replace(capture, swings_expected=False), motions)
    state: States = {}
    read = [
        read_swing(motions, span, state, capture.corrections.get(k, {}), capture.splits_m.get(k))
        for k, span in enumerate(spans)
    ]
    return [s.events[Checkpoint.IMPACT].time_s for s in read if Checkpoint.IMPACT in s.events]


def _spans(capture: Capture, motions: Motions) -> tuple[Window, ...]:
    spans = capture.swings
    if spans is None:
        spans = _found_spans(capture, motions)
    first, last = motions.span
    for start, end in spans:
        if start >= end or end <= first or start >= last:
            raise CalibrationRefused(
                tr(
                    "the window {start:.2f} to {end:.2f} s lies outside the recording ({first:.2f} to {last:.2f} s)",
                    start=start,
                    end=end,
                    first=first,
                    last=last,
                ),
                tr('Correct "swings" in capture.json, or leave it out'),
                "swing",
            )
    return tuple((float(a), float(b)) for a, b in spans)


def _found_spans(capture: Capture, motions: Motions) -> Sequence[Window]:
    calibration = calibration_in(motions)
    poses_end = max(
        [calibration.ends_s if calibration else -np.inf, *(w[1] for w in capture.uprights)], default=-np.inf
    )
    for window in (capture.bow, capture.lifted):
        if window is not None:
            poses_end = max(poses_end, window[1])
    return find_spans(capture, motions, poses_end)


def find_spans(capture: Capture, motions: Motions, after_s: float) -> Sequence[Window]:
    """Windows (s) of the swings after ``after_s``. Raises a ``FineArcError`` when one is expected and there is none."""
    error: FineArcError | None = None
    for turning in _searched(motions):
        try:
            return find_swings(turning, capture.shot, after_s)
        except NoSwingFound as no_swing:
            error = error or no_swing
    if error is None:
        for motion in motions:
            try:
                found = motion.swings()
            except FineArcError as no_swing:
                error = no_swing
                continue
            if found:
                return found
    if capture.swings_expected:
        raise error if error is not None else NoSwingFound(0.0, 400.0, tr("known part of the body"))
    return []


def _still_after(turning: Turning, after_s: float) -> Window | None:
    """The last stillness of 0.4 s or more after ``after_s``."""
    still = still_mask(turning.speed, turning.step_s) & (turning.time_s > after_s)
    windows = still_windows(still, turning.time_s, MIN_STILL_S)
    return windows[-1] if windows else None


def _setup(motions: Motions) -> Setup | None:
    """The player standing still at address, no swing needed: all that can be read at one moment."""
    poses_end = max(motion.poses_end_s for motion in motions) + 0.5
    searched = _searched(motions)
    span = next((s for t in searched if (s := _still_after(t, poses_end)) is not None), None)
    if span is None and not searched:
        span = next((s for motion in motions if (s := motion.rest(poses_end)) is not None), None)
    if span is None:
        return None
    span = _seen_by_all(span, motions)
    middle = (span[0] + span[1]) / 2.0
    half = min(0.5, (span[1] - span[0]) / 2.0)
    moment = {Checkpoint.ADDRESS: middle}
    reading = read_swing(motions, (middle - half - 0.2, middle + half + 0.2), {}, moment)
    reading.events[Checkpoint.ADDRESS] = event(middle, 0.05, "instructor")
    kept = [v for v in reading.measured if v.moment.key == Checkpoint.ADDRESS and v.metric.at_address]
    return Setup(middle, tuple(kept)) if kept else None


def _seen_by_all(span: Window, motions: Motions) -> Window:
    """A stillness as far as every source has come, where that is long enough: live, one may be behind the others."""
    end = min(motion.span[1] for motion in motions)
    return (span[0], end) if span[0] + MIN_STILL_S <= end < span[1] else span


def _facing(swings: Sequence[SwingReading]) -> list[str]:
    """A player who looks away from the ball at address: the axes are named wrongly."""
    for swing in swings:
        for value in swing.measured:
            if value.metric is m.PELVIS_TURN and value.moment.key == Checkpoint.ADDRESS and not value.not_judged_reason:
                away = abs((value.value + np.pi) % (2 * np.pi) - np.pi)
                return [tr(LOOKS_AWAY).format(np.rad2deg(away))] if away > LOOKS_AWAY_RAD else []
    return []


def _placement(motions: Motions, swings: Sequence[SwingReading], setup: Setup | None) -> list[str]:
    """Wrong arm, palm up, arm lowered or clip reversed, from the first address."""
    found = inertial_in(motions)
    inertial = found.sensors if found is not None else None
    at = setup.at_s if setup else None
    if at is None and swings and Checkpoint.ADDRESS in swings[0].events:
        at = swings[0].events[Checkpoint.ADDRESS].time_s
    if at is None or inertial is None or not inertial.feels_strike:
        return []
    time_s = inertial.main.time_s
    k = int(np.clip(np.searchsorted(time_s, at), 0, len(time_s) - 1))
    shaft = None
    if inertial.club is not None:
        shaft = float(matrices_from_quaternions(inertial.club.q_up_from_sensor[k : k + 1])[0, 2, 0])
    if inertial.forearm is None or inertial.hand is None or inertial.calibration is None:
        return address_warnings(_hanging(), _hanging(), shaft)
    calibration = inertial.calibration
    frames = wrist_frames(inertial.forearm, inertial.hand, calibration, calibration.heading_rad, slice(k, k + 1))
    hand = about_z(frames.heading_rad) @ frames.r_up_from_hand[0]
    _, deviation, _ = wrist_angles(frames.r_forearm_from_hand)
    return address_warnings(frames.r_up_from_forearm[0], hand, shaft, float(deviation[0]))


def _hanging() -> Array:
    """An arm as it hangs at address: nothing to warn about."""
    return np.array([[0.1, 0.0, 1.0], [0.0, 1.0, 0.0], [-1.0, 0.0, 0.1]])
