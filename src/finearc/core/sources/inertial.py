"""Inertial sensors as a kind of source: wrist pair, club clip, body pack."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration, calibrate_body
from finearc.core.calibration.functional import FunctionalWindows, calibrate_functional
from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.poses import find_poses
from finearc.core.calibration.two_pose import calibrate
from finearc.core.calibration.upper_arm import UpperArmCalibration, calibrate_upper_arm
from finearc.core.errors import CalibrationRefused, NoSwingFound
from finearc.core.events.swings import Shot, find_swings
from finearc.core.events.turning import Turning
from finearc.core.frames.handedness import Hand
from finearc.core.kinematics.session import wrist_piece
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Metric, Source
from finearc.core.metrics.families.putting import TRAIL as TRAIL_MEASURES
from finearc.core.orientation.fusion import SensorMotion, estimate_motion
from finearc.core.orientation.heading import HeadingMark, heading_mark, on_marked_heading
from finearc.core.putting.setup import PutterSetup
from finearc.core.signals.grid import clean
from finearc.core.signals.streams import ImuStream, Segment, StreamFlags
from finearc.core.sources.inertial_sensors import InertialSensors
from finearc.core.sources.inertial_view import InertialView, SessionState, view_swing
from finearc.core.sources.kind import Columns, Kind, Motion, Motions, Packed, Setting, States, View, Window
from finearc.core.sources.pieces import joined
from finearc.core.sources.putt_view import view_putt
from finearc.wording import mark, tr

WRIST_PAIR = (Segment.LEAD_FOREARM, Segment.LEAD_HAND)
TRAIL_PAIR = (Segment.TRAIL_FOREARM, Segment.TRAIL_HAND)
TRUNK = (Segment.PELVIS, Segment.THORAX)
AXES = ("acc_x", "acc_y", "acc_z", "gyr_x", "gyr_y", "gyr_z")
MIXED = mark(
    "The poses were held again between swings: all values rest on the mean of both calibrations. Values against "
    "address hold on either side; absolute ones only where no sensor was moved."
)
NO_BOW = mark("needs the bow pose: without it forward and side bend cannot be told apart")
NOT_LIFTED = mark("needs the lifted pose: elbow up in front, forearm pointing up")
NOT_SQUARE = mark("needs the square upright pose: the body sensors are not calibrated")
BENDS = (m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND, m.THORAX_FORWARD_BEND, m.THORAX_SIDE_BEND)
TURNS = (m.PELVIS_TURN, m.THORAX_TURN, m.PELVIS_FORWARD_BEND, m.THORAX_FORWARD_BEND, m.SEPARATION)


@dataclass(frozen=True)
class InertialLeft:
    """Calibrations of a recording, and how each sensor's heading stood."""

    calibration: WristCalibration | None
    body: BodyCalibration | None
    upper_arm: UpperArmCalibration | None
    marks: Mapping[Segment, HeadingMark]
    trail: WristCalibration | None = None


@dataclass(frozen=True)
class InertialMotion(Motion):
    """The sensors' motions with their calibrations. ``flags``: what was mended in each stream; ``unlifted``: why the
    upper arm's sensor is worn and not calibrated, or empty; ``trail_unused``: likewise, the trail wrist's pair;
    ``shot``: what is played; ``mixed``: whether poses were held again between swings; ``putter``: what is noted of
    it."""

    sensors: InertialSensors
    flags: Mapping[Segment, StreamFlags]
    unlifted: str = ""
    trail_unused: str = ""
    shot: Shot = Shot.FULL
    mixed: bool = False
    putter: PutterSetup = field(default_factory=PutterSetup)

    @property
    def present(self) -> tuple[Source, ...]:
        worn = (
            (Source.WRIST, self.sensors.hand),
            (Source.CLUB, self.sensors.club),
            (Source.BODY, self.sensors.body),
            (Source.UPPER_ARM, self.sensors.upper_arm_seat),
            (Source.PUTTER, self.sensors.putter),
            (Source.TRAIL_WRIST, self.sensors.trail),
        )
        return tuple(source for source, there in worn if there is not None)

    @property
    def span(self) -> Window:
        time_s = self.sensors.main.time_s
        return float(time_s[0]), float(time_s[-1])

    def turning(self) -> Turning:
        return self.sensors.turning()

    @property
    def poses_end_s(self) -> float:
        s = self.sensors
        if s.calibration is not None:
            return (
                s.calibration.ends_s if s.upper_arm_seat is None else max(s.calibration.ends_s, s.upper_arm_seat.at_s)
            )
        return s.body.ends_s[-1] if s.body is not None else -np.inf

    @property
    def notes(self) -> tuple[str, ...]:
        calibrated = (self.sensors.body, self.sensors.upper_arm_seat)
        told = tuple(c.sentence for c in calibrated if c is not None)
        unused = [
            tr("The {name} is not used: {why}.", name=name, why=why)
            for name, why in ((tr("upper-arm sensor"), self.unlifted), (tr("trail wrist's pair"), self.trail_unused))
            if why
        ]
        return (*told, *unused, *((tr(MIXED),) if self.mixed else ()))

    def view(self, span: Window, states: States, split_m: float | None) -> InertialView | None:
        time_s = self.sensors.main.time_s
        if span[1] <= time_s[0] or span[0] >= time_s[-1]:
            return None
        state = states.setdefault(INERTIAL, SessionState())
        if self.shot is Shot.PUTT and self.sensors.feels_strike:
            return view_putt(self.sensors, span, state, self.putter)
        return view_swing(self.sensors, span, state)

    def left(self, start_s: float) -> InertialLeft:
        s = self.sensors
        worn = [m for m in (s.forearm, s.hand, s.club, s.putter, s.upper_arm, *s.trunk.values()) if m is not None]
        if s.trail is not None:
            worn += [m for m in (s.trail.forearm, s.trail.hand) if m is not None]
        marks = {m.segment: heading_mark(m, start_s) for m in worn}
        trail = s.trail.calibration if s.trail is not None else None
        return InertialLeft(s.calibration, s.body, s.upper_arm_seat, marks, trail)

    def lacking(self, view: View | None) -> dict[Metric, str]:
        body = self.sensors.body
        why: dict[Metric, str] = {m.FOREARM_PRONATION: self.unlifted} if self.unlifted else {}
        if self.trail_unused:
            why |= dict.fromkeys(TRAIL_MEASURES.all, self.trail_unused)
        if view is not None:
            why |= view.lacking()
        if body is None:
            return why | (dict.fromkeys(TURNS, tr(NOT_SQUARE)) if self.sensors.trunk else {})
        return why if body.has_bow else why | dict.fromkeys(BENDS, tr(NO_BOW))


class Inertial(Kind):
    """Streams: a sequence of ``ImuStream``, one a segment; each is stored under its segment's name."""

    key = "imu"
    called = "sensors"
    order = 10

    def owns(self, group: str) -> bool:
        return group in list(Segment)

    def pack(self, stream: Sequence[ImuStream]) -> Packed:
        groups = {}
        for s in stream:
            values = [*s.acc_m_s2.T, *s.gyr_rad_s.T]
            groups[s.segment.value] = [{"time_s": s.time_s} | dict(zip(AXES, values, strict=True))]
        return Packed(groups, {})

    def unpack(self, groups: Mapping[str, Sequence[Columns]], described: Mapping[str, object]) -> tuple[ImuStream, ...]:
        return tuple(_stream(name, parts) for name, parts in groups.items())

    def span(self, stream: Sequence[ImuStream]) -> Window:
        return min(float(s.time_s[0]) for s in stream), max(float(s.time_s[-1]) for s in stream)

    def cut(self, stream: Sequence[ImuStream], start_s: float, end_s: float = np.inf) -> tuple[ImuStream, ...]:
        return tuple(s.between(start_s, end_s) for s in stream)

    def prepare(self, stream: Sequence[ImuStream], setting: Setting, before: Motions) -> InertialMotion | None:
        chosen = _chosen(stream, setting.shot)
        if not chosen:
            return None
        mirrored = TRAIL_PAIR if setting.hand is Hand.RIGHT else [s for s in Segment if s not in TRAIL_PAIR]
        chosen = [s.mirrored() if s.segment in mirrored else s for s in chosen]
        cleaned = clean(chosen)
        motions = {c.segment: estimate_motion(c) for c in cleaned}
        left = setting.left.get(self)
        if isinstance(left, InertialLeft):
            motions = {k: on_marked_heading(m, left.marks[k]) if k in left.marks else m for k, m in motions.items()}
        forearm, hand, club, putter = (motions.get(s) for s in (*WRIST_PAIR, Segment.CLUB, Segment.PUTTER))
        if setting.shot is Shot.PUTT and club is not None:  # a clip on a putter's shaft is a putter's sensor
            club, putter = None, putter or club
        trunk = {s: motions[s] for s in (*TRUNK, Segment.HEAD) if s in motions}
        if isinstance(left, InertialLeft):
            calibration, body = left.calibration, left.body
        else:
            body = calibrate_body(trunk, setting.uprights, setting.bow) if trunk and setting.uprights else None
            main = hand if hand is not None else club
            calibration = _in_its_piece(_calibrate(setting, forearm, hand), forearm, hand) if main is not None else None
        upper = motions.get(Segment.LEAD_UPPER_ARM)
        seat, unlifted = left.upper_arm if isinstance(left, InertialLeft) else None, ""
        if upper is not None and isinstance(left, InertialLeft):
            unlifted = "" if seat is not None else tr(NOT_LIFTED)
        elif upper is not None:
            seat, unlifted = _seat_of(upper, forearm, calibration, setting)
        trail, trail_unused = _trail(motions, setting, left)
        sensors = InertialSensors(
            forearm, hand, club, calibration, setting.lie_rad, trunk, body, upper, seat, putter, trail
        )
        flags = {c.segment: c.flags for c in cleaned}
        mixed = _is_mixed(setting)
        return InertialMotion(sensors, flags, unlifted, trail_unused, setting.shot, mixed, setting.putter)


INERTIAL = Inertial()


def _stream(name: str, parts: Sequence[Columns]) -> ImuStream:
    acc, gyr = (np.column_stack([joined(parts, c) for c in three]) for three in (AXES[:3], AXES[3:]))
    return ImuStream(Segment(name), joined(parts, "time_s"), acc, gyr, name)


def _is_mixed(setting: Setting) -> bool:
    """Whether a pose of the wrist lies after the first swing."""
    windows = setting.calibration
    if windows is None or isinstance(windows, FunctionalWindows) or not setting.swings:
        return False
    return max((w.start_s for w in windows), default=-np.inf) > min(start for start, _ in setting.swings)


def _chosen(streams: Sequence[ImuStream], shot: Shot) -> list[ImuStream]:
    """The sensors that are read: a wrist pair only when it is complete, a head only with the body's, a putter's sensor
    and the trail wrist's pair with putts."""
    names = {s.segment for s in streams}
    used: set[Segment] = {Segment.CLUB, *TRUNK}
    if names & set(TRUNK):
        used.add(Segment.HEAD)
    if names >= set(WRIST_PAIR):
        used |= {*WRIST_PAIR, Segment.LEAD_UPPER_ARM}
    if shot is Shot.PUTT:
        used.add(Segment.PUTTER)
        if names >= set(TRAIL_PAIR):
            used |= set(TRAIL_PAIR)
    return [s for s in streams if s.segment in used]


def _calibrate(setting: Setting, forearm: SensorMotion | None, hand: SensorMotion | None) -> WristCalibration | None:
    if forearm is None or hand is None:
        return None
    if isinstance(setting.calibration, FunctionalWindows):
        return calibrate_functional(setting.calibration, forearm, hand)
    windows = setting.calibration
    if windows is None:
        before = min((s[0] for s in setting.swings), default=None) if setting.swings else None
        if before is None:
            before = _first_swing(InertialSensors(forearm, hand, None, None, setting.lie_rad), setting.shot)
        windows = find_poses(forearm, hand, before)
    return calibrate(windows, forearm, hand)


def _trail(
    motions: Mapping[Segment, SensorMotion], setting: Setting, left: object
) -> tuple[InertialSensors | None, str]:
    """The trail wrist's pair, calibrated by the same poses, both arms held alike; or None and why."""
    forearm, hand = (motions.get(s) for s in TRAIL_PAIR)
    if forearm is None or hand is None:
        return None, ""
    if isinstance(left, InertialLeft):
        found = left.trail
        why = "" if found is not None else tr("it was not calibrated")
    else:
        try:
            found, why = _in_its_piece(_calibrate(setting, forearm, hand), forearm, hand), ""
        except CalibrationRefused as refused:
            found, why = None, str(refused).rstrip(".")
    if found is None:
        return None, why
    return InertialSensors(forearm, hand, None, found, setting.lie_rad), ""


def _in_its_piece(
    calibration: WristCalibration | None, forearm: SensorMotion | None, hand: SensorMotion | None
) -> WristCalibration | None:
    if calibration is None or forearm is None or hand is None:
        return calibration
    last = min(int(np.searchsorted(forearm.time_s, calibration.ends_s)), len(forearm.time_s)) - 1
    return replace(calibration, piece=int(wrist_piece(forearm, hand)[last]))


def _seat_of(
    upper: SensorMotion, forearm: SensorMotion | None, wrist: WristCalibration | None, setting: Setting
) -> tuple[UpperArmCalibration | None, str]:
    """The upper arm's calibration, or None and why: the wrist is measured all the same."""
    if forearm is None or wrist is None:
        return None, tr("it needs the wrist pair, calibrated")
    if setting.lifted is None or wrist.level is None:
        return None, tr(NOT_LIFTED)
    try:
        return calibrate_upper_arm(upper, forearm, wrist, wrist.level, setting.lifted), ""
    except CalibrationRefused as refused:
        return None, str(refused).rstrip(".")


def _first_swing(sensors: InertialSensors, shot: Shot) -> float | None:
    try:
        return find_swings(sensors.turning(), shot)[0][0] + 0.2
    except NoSwingFound:
        return None
