"""From sensor logs and marker captures to readings: the one path every capture takes."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration, calibrate_body
from finearc.core.calibration.functional import FunctionalWindows, calibrate_functional
from finearc.core.calibration.model import PoseWindow, WristCalibration
from finearc.core.calibration.placement import ARM_UP, address_warnings
from finearc.core.calibration.poses import find_poses, still_mask, still_windows
from finearc.core.calibration.two_pose import calibrate
from finearc.core.errors import CalibrationRefused, FineArcError, MissingStream, NoSwingFound
from finearc.core.events.model import Checkpoint, event
from finearc.core.events.swings import Shot, find_swings
from finearc.core.events.turning import Turning
from finearc.core.frames.handedness import Hand
from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.kinematics.body import body_pose
from finearc.core.kinematics.grounding import ground_notes, ground_of, on_one_clock
from finearc.core.kinematics.inertial import SessionState, Sources
from finearc.core.kinematics.optical import turning_of
from finearc.core.kinematics.reading import Everything, SwingReading, read_swing
from finearc.core.kinematics.segments import turn_side_forward
from finearc.core.kinematics.session import wrist_frames
from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.markers.labels import PELVIS, THORAX
from finearc.core.markers.motion import MarkerMotion, read_markers
from finearc.core.markers.repair import MarkerFlags
from finearc.core.markers.stream import MarkerStream
from finearc.core.metrics import registry as m
from finearc.core.metrics.address import AT_ADDRESS
from finearc.core.metrics.body import Upright
from finearc.core.metrics.definition import Measured, Source
from finearc.core.orientation.fusion import SensorMotion, estimate_motion
from finearc.core.pressure.plates import PlateStream
from finearc.core.pressure.stream import MatStream
from finearc.core.pressure.swings import NoSwingOnGround, find_swings as find_ground_swings, last_rest
from finearc.core.pressure.sync import Offset
from finearc.core.signals.grid import clean
from finearc.core.signals.streams import ImuStream, Segment, StreamFlags
from finearc.core.typing import Array

PoseWindows = Sequence[PoseWindow] | FunctionalWindows | None
Window = tuple[float, float]
Told = Callable[[int, int], None]
DEFAULT_LIE_RAD = np.deg2rad(62.0)
LOOKS_AWAY = "The player seems to look {:.0f}° away from the ball: check the directions of ball and target in bay_axes."
LOOKS_AWAY_RAD = np.deg2rad(50.0)
"""No player stands this far from square (house value)."""
MIN_STILL_S = 0.4
"""Shortest stillness that counts as standing at address (house value)."""


@dataclass(frozen=True)
class Capture:
    """What is to be analysed. ``calibration``: the wrist poses' windows, or None to look for two poses; ``uprights``
    and ``bow``: windows (s) of the body's poses. ``swings``: windows (s), or None to find them. ``corrections``: per
    swing number, instants (s) the instructor has set; ``splits_m``: likewise, where the feet part.
    ``swings_expected``: False for a still capture or a calibration alone."""

    streams: Sequence[ImuStream]
    hand: Hand = Hand.RIGHT
    shot: Shot = Shot.FULL
    lie_rad: float = DEFAULT_LIE_RAD
    calibration: PoseWindows = None
    swings: Sequence[Window] | None = None
    corrections: Mapping[int, Mapping[Checkpoint, float]] = field(default_factory=dict)
    swings_expected: bool = True
    markers: MarkerStream | None = None
    uprights: Sequence[Window] = ()
    bow: Window | None = None
    mat: MatStream | None = None
    plates: PlateStream | None = None
    splits_m: Mapping[int, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Setup:
    """A still address: values at address and where they were read, s."""

    at_s: float
    measured: tuple[Measured, ...]


@dataclass(frozen=True)
class CaptureReading:
    """All that was measured. ``calibration`` is None when there is no wrist pair, ``body`` without a body pack or its
    poses."""

    calibration: WristCalibration | None
    swings: tuple[SwingReading, ...]
    setup: Setup | None
    flags: Mapping[Segment, StreamFlags]
    warnings: tuple[str, ...]
    present: tuple[Source, ...]
    ends_s: float
    body: BodyCalibration | None = None
    marker_flags: MarkerFlags | None = None
    sources: Everything | None = None
    ground_notes: tuple[str, ...] = ()
    offset: Offset | None = None

    @property
    def notes(self) -> tuple[str, ...]:
        """What a person should know about the sources, without doubting them."""
        out = [self.body.sentence] if self.body is not None else []
        out += self.marker_flags.sentences() if self.marker_flags is not None else []
        return (*out, *self.ground_notes)


WRIST_PAIR = (Segment.LEAD_FOREARM, Segment.LEAD_HAND)
TRUNK = (Segment.PELVIS, Segment.THORAX)


@dataclass(frozen=True)
class Prepared:
    """A capture with everything done that does not depend on the instructor's instants: sources mended, oriented,
    calibrated and on one clock, swings found. ``states``: what each swing starts from."""

    sources: Everything
    offset: Offset | None
    flags: Mapping[Segment, StreamFlags]
    spans: tuple[Window, ...]
    states: tuple[SessionState, ...]

    @property
    def calibration(self) -> WristCalibration | None:
        return self.sources.inertial.calibration if self.sources.inertial is not None else None


def prepare(capture: Capture) -> Prepared:
    """The part of reading a capture that is the same wherever its checkpoints lie. Raises a ``FineArcError``."""
    markers = read_markers(capture.markers, capture.hand) if capture.markers is not None else None
    inertial, flags = _inertial(capture, needed=markers is None and capture.mat is None)
    alone = inertial is None and markers is None
    axes = capture.markers.axes if capture.markers is not None else None
    ground, no_ground = ground_of(capture.mat, capture.plates, axes, capture.hand, alone=alone)
    sources = Everything(inertial, markers, _upright(markers, capture), ground, no_ground)
    sources, offset = on_one_clock(sources, lambda s: _impacts(capture, s))
    return Prepared(sources, offset, flags, _spans(capture, sources), ())


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
    sources = prepared.sources
    state, states, swings = SessionState(), [], []
    for k, span in enumerate(prepared.spans):
        if told is not None:
            told(k, len(prepared.spans))
        states.append(deepcopy(state))
        swings.append(read_swing(sources, span, state, corrections.get(k, {}), splits_m.get(k)))
    setup = None if swings else _setup(sources)
    placement = _placement(sources, swings, setup)
    calibration, inertial = prepared.calibration, sources.inertial
    at_pose = calibration.warnings if calibration and ARM_UP not in placement else ()
    reading = CaptureReading(
        calibration,
        tuple(swings),
        setup,
        prepared.flags,
        (*at_pose, *placement, *_facing(swings)),
        sources.present,
        _ends_s(sources),
        inertial.body if inertial is not None else None,
        sources.markers.flags if sources.markers is not None else None,
        sources,
        ground_notes(sources, prepared.offset),
        prepared.offset,
    )
    return reading, replace(prepared, states=tuple(states))


def read_one(
    prepared: Prepared, number: int, corrections: Mapping[Checkpoint, float], split_m: float | None
) -> SwingReading:
    """One swing of a capture that was read before, from what it started from then: equal to reading all of it."""
    state = deepcopy(prepared.states[number])
    return read_swing(prepared.sources, prepared.spans[number], state, corrections, split_m)


def _chosen(capture: Capture) -> list[ImuStream]:
    names = {s.segment for s in capture.streams}
    used: set[Segment] = {Segment.CLUB, *TRUNK}
    if names & set(TRUNK):
        used.add(Segment.HEAD)
    if names >= set(WRIST_PAIR):
        used |= set(WRIST_PAIR)
    return [s for s in capture.streams if s.segment in used]


def _inertial(capture: Capture, *, needed: bool) -> tuple[Sources | None, dict[Segment, StreamFlags]]:
    """The sensors' motions and calibrations, or None when no usable sensor is there. Raises a ``FineArcError``."""
    chosen = _chosen(capture)
    if not chosen:
        if needed:
            raise MissingStream(
                "imu streams of lead_forearm and lead_hand, of club, or of pelvis and thorax, or markers,",
                ", ".join(sorted(s.segment.value for s in capture.streams)),
            )
        return None, {}
    if capture.hand is Hand.LEFT:
        chosen = [s.mirrored() for s in chosen]
    cleaned = clean(chosen)
    motions = {c.segment: estimate_motion(c) for c in cleaned}
    forearm, hand, club = (motions.get(s) for s in (*WRIST_PAIR, Segment.CLUB))
    trunk = {s: motions[s] for s in (*TRUNK, Segment.HEAD) if s in motions}
    body = calibrate_body(trunk, capture.uprights, capture.bow) if trunk and capture.uprights else None
    main = hand if hand is not None else club
    calibration = _calibrate(capture, forearm, hand) if main is not None else None
    sources = Sources(forearm, hand, club, calibration, capture.lie_rad, trunk, body)
    return sources, {c.segment: c.flags for c in cleaned}


def _calibrate(capture: Capture, forearm: SensorMotion | None, hand: SensorMotion | None) -> WristCalibration | None:
    if forearm is None or hand is None:
        return None
    if isinstance(capture.calibration, FunctionalWindows):
        return calibrate_functional(capture.calibration, forearm, hand)
    windows = capture.calibration
    if windows is None:
        before = min((s[0] for s in capture.swings), default=None) if capture.swings else None
        if before is None:
            before = _first_swing(Sources(forearm, hand, None, None, capture.lie_rad), capture.shot)
        windows = find_poses(forearm, hand, before)
    return calibrate(windows, forearm, hand)


def _first_swing(sources: Sources, shot: Shot) -> float | None:
    try:
        return find_swings(sources.turning(), shot)[0][0] + 0.2
    except NoSwingFound:
        return None


def _upright(markers: MarkerMotion | None, capture: Capture) -> Upright | None:
    """Forward bends of the marker frames in the latest *square upright* that the cameras saw."""
    if markers is None or not markers.has(*PELVIS, *THORAX):
        return None
    for start, end in sorted(capture.uprights, key=lambda w: -w[1]):
        a, b = np.searchsorted(markers.time_s, [start, end])
        if b - a < 5:
            continue
        points = {k: markers.raw(k, slice(int(a), int(b))) for k in (*PELVIS, *THORAX)}
        frames = body_pose(points).frames
        bends = [float(np.nanmedian(turn_side_forward(frames[k].r)[2])) for k in ("pelvis", "thorax")]
        if np.isfinite(bends).all():
            return Upright(*bends)
    return None


def _ends_s(sources: Everything) -> float:
    ends = [-np.inf]
    if sources.inertial is not None:
        ends.append(float(sources.inertial.main.time_s[-1]))
    if sources.markers is not None:
        ends.append(float(sources.markers.time_s[-1]))
    if sources.ground is not None:
        ends.append(float(sources.ground.time_s[-1]))
    return max(ends)


def _starts_s(sources: Everything) -> float:
    starts = [np.inf]
    if sources.inertial is not None:
        starts.append(float(sources.inertial.main.time_s[0]))
    if sources.markers is not None:
        starts.append(float(sources.markers.time_s[0]))
    if sources.ground is not None:
        starts.append(float(sources.ground.time_s[0]))
    return min(starts)


def _searched(sources: Everything) -> list[Turning]:
    """What to look for swings in, best first: sensors that feel the strike, markers, the body pack."""
    out = []
    if sources.inertial is not None:
        out.append(sources.inertial.turning())
    if sources.markers is not None:
        turning = turning_of(sources.markers)
        if turning is not None:
            out.append(turning)
    return sorted(out, key=lambda t: -t.least)


def _impacts(capture: Capture, sources: Everything) -> list[float]:
    """Impacts as the given sources saw them, s."""
    read = _read_swings(replace(capture, swings_expected=False), sources)
    return [s.events[Checkpoint.IMPACT].time_s for s in read if Checkpoint.IMPACT in s.events]


def _read_swings(capture: Capture, sources: Everything) -> list[SwingReading]:
    state = SessionState()
    return [
        read_swing(sources, span, state, capture.corrections.get(k, {}), capture.splits_m.get(k))
        for k, span in enumerate(_spans(capture, sources))
    ]


def _spans(capture: Capture, sources: Everything) -> tuple[Window, ...]:
    spans = capture.swings
    if spans is None:
        spans = _found_spans(capture, sources)
    for start, end in spans:
        if start >= end or end <= _starts_s(sources) or start >= _ends_s(sources):
            raise CalibrationRefused(
                f"the window {start:.2f} to {end:.2f} s lies outside the recording "
                f"({_starts_s(sources):.2f} to {_ends_s(sources):.2f} s)",
                'Correct "swings" in capture.json, or leave it out',
                "swing",
            )
    return tuple((float(a), float(b)) for a, b in spans)


def _found_spans(capture: Capture, sources: Everything) -> list[Window]:
    calibration = sources.inertial.calibration if sources.inertial is not None else None
    poses_end = max(
        [calibration.ends_s if calibration else -np.inf, *(w[1] for w in capture.uprights)], default=-np.inf
    )
    if capture.bow is not None:
        poses_end = max(poses_end, capture.bow[1])
    error: FineArcError | None = None
    for turning in _searched(sources):
        try:
            return find_swings(turning, capture.shot, poses_end)
        except NoSwingFound as no_swing:
            error = error or no_swing
    if sources.ground is not None and error is None:
        try:
            return find_ground_swings(sources.ground)
        except NoSwingOnGround as no_swing:
            error = no_swing
    if capture.swings_expected:
        raise error if error is not None else NoSwingFound(0.0, 400.0, "known part of the body")
    return []


def _still_after(turning: Turning, after_s: float) -> Window | None:
    """The last stillness of 0.4 s or more after ``after_s``."""
    still = still_mask(turning.speed, turning.step_s) & (turning.time_s > after_s)
    windows = still_windows(still, turning.time_s, MIN_STILL_S)
    return windows[-1] if windows else None


def _setup(sources: Everything) -> Setup | None:
    """The player standing still at address, no swing needed: all that can be read at one moment."""
    inertial = sources.inertial
    poses_end = -np.inf
    if inertial is not None and inertial.calibration is not None:
        poses_end = inertial.calibration.ends_s + 0.5
    elif inertial is not None and inertial.body is not None:
        poses_end = inertial.body.ends_s[-1] + 0.5
    searched = _searched(sources)
    span = next((s for t in searched if (s := _still_after(t, poses_end)) is not None), None)
    if span is None and not searched and sources.ground is not None:
        span = last_rest(sources.ground, poses_end)
    if span is None:
        return None
    middle = (span[0] + span[1]) / 2.0
    half = min(0.5, (span[1] - span[0]) / 2.0)
    moment = {Checkpoint.ADDRESS: middle}
    reading = read_swing(sources, (middle - half - 0.2, middle + half + 0.2), SessionState(), moment)
    reading.events[Checkpoint.ADDRESS] = event(middle, 0.05, "instructor")
    kept = [v for v in reading.measured if v.moment.key == Checkpoint.ADDRESS and v.metric in AT_ADDRESS]
    return Setup(middle, tuple(kept)) if kept else None


def _facing(swings: Sequence[SwingReading]) -> list[str]:
    """A player who looks away from the ball at address: the axes are named wrongly."""
    for swing in swings:
        for value in swing.measured:
            if value.metric is m.PELVIS_TURN and value.moment.key == Checkpoint.ADDRESS and not value.not_judged_reason:
                away = abs((value.value + np.pi) % (2 * np.pi) - np.pi)
                return [LOOKS_AWAY.format(np.rad2deg(away))] if away > LOOKS_AWAY_RAD else []
    return []


def _placement(sources: Everything, swings: Sequence[SwingReading], setup: Setup | None) -> list[str]:
    """Wrong arm, palm up, arm lowered or clip reversed, from the first address."""
    inertial = sources.inertial
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
