"""From sensor logs to readings: the one path every capture takes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows, calibrate_functional
from finearc.core.calibration.model import PoseWindow, WristCalibration
from finearc.core.calibration.placement import ARM_UP, address_warnings
from finearc.core.calibration.poses import find_poses, speed_rad_s, still_mask, still_windows
from finearc.core.calibration.two_pose import calibrate
from finearc.core.errors import CalibrationRefused, MissingStream, NoSwingFound
from finearc.core.events.model import Checkpoint
from finearc.core.events.swings import Shot, find_swings
from finearc.core.frames.handedness import Hand
from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.kinematics.reading import SessionState, Sources, SwingReading, error_shapes, read_swing
from finearc.core.kinematics.session import wrist_frames
from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Moment
from finearc.core.metrics.swing import SENSOR_SD_RAD
from finearc.core.orientation.fusion import SensorMotion, estimate_motion
from finearc.core.signals.grid import clean
from finearc.core.signals.streams import ImuStream, Segment, StreamFlags
from finearc.core.typing import Array

PoseWindows = Sequence[PoseWindow] | FunctionalWindows | None
DEFAULT_LIE_RAD = np.deg2rad(62.0)


@dataclass(frozen=True)
class Capture:
    """What is to be analysed. ``calibration``: the poses' windows, or None to look for two poses.
    ``swings``: windows (s), or None to find them. ``corrections``: per swing number, instants (s) the
    instructor has set. ``swings_expected``: False for a still capture or a calibration alone."""

    streams: Sequence[ImuStream]
    hand: Hand = Hand.RIGHT
    shot: Shot = Shot.FULL
    lie_rad: float = DEFAULT_LIE_RAD
    calibration: PoseWindows = None
    swings: Sequence[tuple[float, float]] | None = None
    corrections: Mapping[int, Mapping[Checkpoint, float]] = field(default_factory=dict)
    swings_expected: bool = True


@dataclass(frozen=True)
class Setup:
    """A still address: values at address and where they were read, s."""

    at_s: float
    measured: tuple[Measured, ...]


@dataclass(frozen=True)
class CaptureReading:
    """All that was measured. ``calibration`` is None when there is no wrist pair."""

    calibration: WristCalibration | None
    swings: tuple[SwingReading, ...]
    setup: Setup | None
    flags: Mapping[Segment, StreamFlags]
    warnings: tuple[str, ...]
    has_wrist: bool
    has_club: bool
    ends_s: float


USED = (Segment.LEAD_FOREARM, Segment.LEAD_HAND, Segment.CLUB)


def read_capture(capture: Capture) -> CaptureReading:
    """Analyse a capture. Raises a ``FineArcError`` when nothing can be measured."""
    chosen = [s for s in capture.streams if s.segment in USED]
    names = {s.segment for s in chosen}
    wrist = {Segment.LEAD_FOREARM, Segment.LEAD_HAND} <= names
    if not wrist and Segment.CLUB not in names:
        raise MissingStream(
            "imu streams of lead_forearm and lead_hand, or of club,",
            ", ".join(sorted(s.segment.value for s in capture.streams)),
        )
    if not wrist:
        chosen = [s for s in chosen if s.segment is Segment.CLUB]
    if capture.hand is Hand.LEFT:
        chosen = [s.mirrored() for s in chosen]
    cleaned = clean(chosen)
    motions = {c.segment: estimate_motion(c) for c in cleaned}
    forearm, hand, club = (motions.get(s) for s in USED)
    calibration = _calibrate(capture, forearm, hand)
    sources = Sources(forearm, hand, club, calibration, capture.lie_rad)
    swings = _read_swings(capture, sources)
    setup = _setup(sources, swings)
    placement = _placement(sources, swings, setup)
    at_pose = calibration.warnings if calibration and ARM_UP not in placement else ()
    warnings = (*at_pose, *placement)
    return CaptureReading(
        calibration,
        tuple(swings),
        setup,
        {c.segment: c.flags for c in cleaned},
        warnings,
        wrist,
        club is not None,
        float(sources.main.time_s[-1]),
    )


def _calibrate(capture: Capture, forearm: SensorMotion | None, hand: SensorMotion | None) -> WristCalibration | None:
    if forearm is None or hand is None:
        return None
    if isinstance(capture.calibration, FunctionalWindows):
        return calibrate_functional(capture.calibration, forearm, hand)
    windows = capture.calibration
    if windows is None:
        before = min((s[0] for s in capture.swings), default=None) if capture.swings else None
        if before is None:
            before = _first_swing(hand, capture.shot)
        windows = find_poses(forearm, hand, before)
    return calibrate(windows, forearm, hand)


def _first_swing(hand: SensorMotion, shot: Shot) -> float | None:
    try:
        return find_swings(hand, shot)[0][0] + 0.2
    except NoSwingFound:
        return None


def _read_swings(capture: Capture, sources: Sources) -> list[SwingReading]:
    spans = capture.swings
    if spans is None:
        after = sources.calibration.ends_s if sources.calibration else -np.inf
        try:
            spans = find_swings(sources.main, capture.shot, after)
        except NoSwingFound:
            if capture.swings_expected:
                raise
            spans = []
    for start, end in spans:
        if start >= end or end <= sources.main.time_s[0] or start >= sources.main.time_s[-1]:
            raise CalibrationRefused(
                f"the window {start:.2f} to {end:.2f} s lies outside the recording "
                f"({sources.main.time_s[0]:.2f} to {sources.main.time_s[-1]:.2f} s)",
                'Correct "swings" in capture.json, or leave it out',
                "swing",
            )
    state = SessionState()
    return [read_swing(sources, span, state, capture.corrections.get(k, {})) for k, span in enumerate(spans)]


def _still_after(main: SensorMotion, after_s: float) -> tuple[float, float] | None:
    """The last stillness of 0.4 s or more after ``after_s``."""
    still = still_mask(speed_rad_s(main), main.step_s) & (main.time_s > after_s)
    windows = still_windows(still, main.time_s, 0.4)
    return windows[-1] if windows else None


def _setup(sources: Sources, swings: Sequence[SwingReading]) -> Setup | None:
    """The player standing still at address, no swing needed."""
    calibration, forearm, hand = sources.calibration, sources.forearm, sources.hand
    if swings or calibration is None or forearm is None or hand is None:
        return None
    span = _still_after(hand, calibration.ends_s + 0.5)
    if span is None:
        return None
    middle = int(np.searchsorted(hand.time_s, (span[0] + span[1]) / 2))
    frames = wrist_frames(forearm, hand, calibration, calibration.heading_rad, slice(middle, middle + 1))
    extension, deviation, _ = wrist_angles(frames.r_forearm_from_hand)
    shapes = error_shapes(frames, extension, deviation)
    values = []
    for metric, value, shape in (
        (m.LEAD_WRIST_EXTENSION, extension, shapes[0]),
        (m.LEAD_WRIST_DEVIATION, deviation, shapes[1]),
    ):
        pose = float(np.sqrt(shape[:, 0] @ calibration.covariance @ shape[:, 0]))
        values.append(
            Measured(metric, Moment(Checkpoint.ADDRESS), float(value[0]), float(np.hypot(pose, SENSOR_SD_RAD)), pose)
        )
    return Setup(float(hand.time_s[middle]), tuple(values))


def _placement(sources: Sources, swings: Sequence[SwingReading], setup: Setup | None) -> list[str]:
    """Wrong arm, palm up, arm lowered or clip reversed, from the first address."""
    at = setup.at_s if setup else None
    if at is None and swings and Checkpoint.ADDRESS in swings[0].events:
        at = swings[0].events[Checkpoint.ADDRESS].time_s
    if at is None:
        return []
    k = int(np.clip(np.searchsorted(sources.main.time_s, at), 0, len(sources.main.time_s) - 1))
    shaft = None
    if sources.club is not None:
        shaft = float(matrices_from_quaternions(sources.club.q_up_from_sensor[k : k + 1])[0, 2, 0])
    if sources.forearm is None or sources.hand is None or sources.calibration is None:
        return address_warnings(_hanging(), _hanging(), shaft)
    frames = wrist_frames(
        sources.forearm, sources.hand, sources.calibration, sources.calibration.heading_rad, slice(k, k + 1)
    )
    hand = about_z(frames.heading_rad) @ frames.r_up_from_hand[0]
    _, deviation, _ = wrist_angles(frames.r_forearm_from_hand)
    return address_warnings(frames.r_up_from_forearm[0], hand, shaft, float(deviation[0]))


def _hanging() -> Array:
    """An arm as it hangs at address: nothing to warn about."""
    return np.array([[0.1, 0.0, 1.0], [0.0, 1.0, 0.0], [-1.0, 0.0, 0.1]])
