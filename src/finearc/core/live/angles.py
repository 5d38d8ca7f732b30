"""Angles as samples come: wrist, forearm, club, pelvis and upper body, from what is calibrated so far.

A value is given once, when every sensor it needs has reached its instant, and never changed afterwards."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, field
from functools import partial

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration
from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.poses import STILL_RAD_S
from finearc.core.frames.rotations import about_z
from finearc.core.kinematics.pronation import pronation
from finearc.core.kinematics.segments import turn_side_forward
from finearc.core.kinematics.session import HeadingHold
from finearc.core.kinematics.wrist import hand_roll, wrist_angles
from finearc.core.live.anchors import Anchors
from finearc.core.live.sensors import LiveSensors
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Metric, Source
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial_traces import BODY_SD_RAD, CLIP_SD_RAD, SENSOR_SD_RAD
from finearc.core.typing import Array

WRIST_PAIR = (Segment.LEAD_FOREARM, Segment.LEAD_HAND)
ARM_PAIR = (Segment.LEAD_FOREARM, Segment.LEAD_UPPER_ARM)
SETTLED_S = 0.3
"""Stillness that may be an address."""
ADDRESS_BACK_S = 0.1
"""The address is read so long before the present: in the middle of its 0.2 s, as the batch reads it."""
SAME_TWIST_RAD = np.deg2rad(8.0)
"""A stillness whose twist is farther off is no address of this grip (house value, as in ``kinematics.session``)."""
HANGS = -0.5
"""The forearm points down by 30° or more at address: that tells it from a still finish (house value)."""
TRUNK: Sequence[tuple[Segment, Metric, Sequence[Metric]]] = (
    (Segment.PELVIS, m.PELVIS_TURN, (m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND)),
    (Segment.THORAX, m.THORAX_TURN, (m.THORAX_FORWARD_BEND, m.THORAX_SIDE_BEND)),
    (Segment.HEAD, m.HEAD_TURN, ()),
)
NEEDS: Mapping[Metric, Sequence[Segment]] = {
    m.LEAD_WRIST_EXTENSION: WRIST_PAIR,
    m.LEAD_WRIST_DEVIATION: WRIST_PAIR,
    m.WRIST_TWIST: WRIST_PAIR,
    m.HAND_ROLL: WRIST_PAIR,
    m.FOREARM_PRONATION: (*WRIST_PAIR, Segment.LEAD_UPPER_ARM),
    m.SHAFT_ELEVATION: (Segment.CLUB,),
    m.SEPARATION: (Segment.THORAX, Segment.PELVIS),
    **{metric: (segment,) for segment, turn, bends in TRUNK for metric in (turn, *bends)},
}
"""The sensors that each metric is read from as samples come."""
WRIST_SD_RAD = float(np.hypot(SENSOR_SD_RAD, np.deg2rad(2.7)))
"""With what a calibration's errors come to, as where the batch chooses among sources."""


@dataclass(frozen=True)
class LiveTrace:
    """New values (k,), SI, of a metric at instants (k,), s, with their standard uncertainty and what they come from."""

    metric: Metric
    time_s: Array
    values: Array
    sd: float
    source: Source


@dataclass
class AddressState:
    """The stillness that may be an address: since when (s), the wrist's heading there and in which ``pieces`` of the
    two sensors it holds, and how the hand stood."""

    since_s: float | None = None
    hold: HeadingHold | None = None
    pieces: tuple[int, ...] = ()
    hand: Array | None = None
    last_roll_rad: float = 0.0


@dataclass
class AnglesState:
    """Where each group of sensors goes on (index on the grid); ``turn``: the last turn of each part, to go on from."""

    next: dict[str, int] = field(default_factory=dict)
    turn: dict[Metric, float] = field(default_factory=dict)
    address: AddressState = field(default_factory=AddressState)


def new_angles(sensors: LiveSensors, anchors: Anchors, state: AnglesState, of: Metric | None = None) -> list[LiveTrace]:
    """Whatever can be read now and could not before. ``of``: this metric, and what is read together with it, alone."""
    groups = [read for metrics, read in _GROUPS if of is None or of in metrics]
    return [trace for read in groups for trace in read(sensors, anchors, state)]


def _stretches(
    sensors: LiveSensors, segments: Sequence[Segment], state: AnglesState, name: str
) -> Iterator[tuple[int, int]]:
    """The stretch that a group has completed since last time, cut where one of its sensors was silent."""
    if any(s not in sensors.by_segment for s in segments):
        return
    tracks, front = sensors.tracks(segments), sensors.front(segments)
    first = max(state.next.get(name, 0), front - tracks[0].size)
    state.next[name] = max(first, front)
    if first >= front:
        return
    index = np.arange(first, front)
    there = np.all([t.filled[index % t.size] == index for t in tracks], axis=0)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(np.int8))).reshape(-1, 2)
    for a, b in edges:
        yield first + int(a), first + int(b)


def _wrist(sensors: LiveSensors, anchors: Anchors, state: AnglesState) -> Iterator[LiveTrace]:
    calibration, address = anchors.wrist, state.address
    for first, after in _stretches(sensors, WRIST_PAIR, state, "wrist"):
        if calibration is None or anchors.hold is None:
            continue
        time_s = sensors.grid.at(first, after - first)
        r_forearm, r_hand = _arm(sensors, calibration, first, after)
        _look_for_address(sensors, anchors, address, after)
        heading = _heading(sensors, anchors, address)
        if heading is None:
            continue
        angles = wrist_angles(np.swapaxes(r_forearm, -1, -2) @ about_z(heading) @ r_hand)
        for metric, values in zip((m.LEAD_WRIST_EXTENSION, m.LEAD_WRIST_DEVIATION, m.WRIST_TWIST), angles, strict=True):
            yield LiveTrace(metric, time_s, values, WRIST_SD_RAD, Source.WRIST)
        if address.hand is not None:
            yield LiveTrace(m.HAND_ROLL, time_s, _roll(address, r_hand), np.deg2rad(3.0), Source.WRIST)


def _arm(sensors: LiveSensors, calibration: WristCalibration, first: int, after: int) -> tuple[Array, Array]:
    """Forearm and hand (k, 3, 3), each in its sensor's vertical frame, over a stretch."""
    return (
        sensors.r_up_from_sensor(WRIST_PAIR[0], first, after) @ calibration.r_forearm_sensor_from_segment,
        sensors.r_up_from_sensor(WRIST_PAIR[1], first, after) @ calibration.r_hand_sensor_from_segment,
    )


def arm_now(sensors: LiveSensors, anchors: Anchors, address: AddressState) -> tuple[Array, Array, Array, float] | None:
    """Forearm and hand (1, 3, 3) as they are now, the hand at the last address (3, 3), each in its sensor's vertical
    frame, and the heading that brings the hand's into the forearm's, rad; None where that is not known."""
    if anchors.wrist is None or anchors.hold is None or address.hand is None:
        return None
    if any(s not in sensors.by_segment for s in WRIST_PAIR):
        return None
    after = sensors.front(WRIST_PAIR)
    heading = _heading(sensors, anchors, address)
    if heading is None or not all(t.has(after - 1, after) for t in sensors.tracks(WRIST_PAIR)):
        return None
    forearm, hand = _arm(sensors, anchors.wrist, after - 1, after)
    return forearm, hand, address.hand, heading


def seat_now(sensors: LiveSensors, anchors: Anchors, segment: Segment) -> Array | None:
    """A part of the trunk (1, 3, 3), bay from segment, as it is now; None where its sensor's heading is not known."""
    if anchors.body is None or segment not in sensors.by_segment or not _holds(sensors, anchors, segment):
        return None
    after = sensors.front([segment])
    if not sensors.by_segment[segment].track.has(after - 1, after):
        return None
    at_s = sensors.grid.origin_s + after * sensors.grid.step_s
    r = sensors.r_up_from_sensor(segment, after - 1, after)
    return anchors.body.seats[segment].r_bay_from_segment(r, at_s)


def arm_hangs(sensors: LiveSensors, anchors: Anchors, after: int) -> bool:
    """Whether the forearm points down before the index ``after``, as at an address and at no finish; where none is worn
    that is not known, and it may be."""
    segment, calibration = WRIST_PAIR[0], anchors.wrist
    if calibration is None or segment not in sensors.by_segment:
        return True
    r = sensors.r_up_from_sensor(segment, after - 1, after)
    return not len(r) or bool((r[-1] @ calibration.r_forearm_sensor_from_segment)[2, 0] <= HANGS)


def _look_for_address(sensors: LiveSensors, anchors: Anchors, address: AddressState, after: int) -> None:
    """Whether the player stands still now; then the heading is held by the joint, as it will be if this is an
    address. Where the twist says that it is none, what held before goes on."""
    step, now_s = sensors.grid.step_s, sensors.grid.origin_s + after * sensors.grid.step_s
    span = max(2, round(0.1 / step))
    speed = max(_mean_speed(sensors, s, after - span, after) for s in WRIST_PAIR)
    if speed >= STILL_RAD_S:
        address.since_s = None
        return
    address.since_s = now_s if address.since_s is None else address.since_s
    at = after - round(ADDRESS_BACK_S / step)
    if now_s - address.since_s < SETTLED_S or not all(t.has(at, at + 1) for t in sensors.tracks(WRIST_PAIR)):
        return
    calibration = anchors.wrist
    assert calibration is not None
    forearm, hand = (r[0] for r in _arm(sensors, calibration, at, at + 1))
    held = copy(anchors.hold)  # numbers alone
    assert held is not None
    if forearm[2, 0] > HANGS:
        return
    pieces = sensors.pieces(WRIST_PAIR)
    held.at_address(now_s, int(pieces != anchors.pieces), forearm, hand)
    address.hold = held if abs(held.twist_off_rad) < SAME_TWIST_RAD else None
    address.pieces, address.hand, address.last_roll_rad = pieces, hand, 0.0


def _heading(sensors: LiveSensors, anchors: Anchors, address: AddressState) -> float | None:
    """The wrist's heading, rad; None behind a long gap, until the next address."""
    assert anchors.hold is not None
    known = [(address.hold, address.pieces), (anchors.hold, anchors.pieces)]
    here = sensors.pieces(WRIST_PAIR)
    return next((hold.heading_rad for hold, pieces in known if hold is not None and pieces == here), None)


def _mean_speed(sensors: LiveSensors, segment: Segment, first: int, after: int) -> float:
    speed = sensors.speed_rad_s(segment, first, after)
    return float(speed.mean()) if len(speed) else np.inf


def _roll(address: AddressState, r_hand: Array) -> Array:
    """Hand roll since the address, unwrapped from the last value on."""
    assert address.hand is not None
    roll = unwrapped_from(address.last_roll_rad, hand_roll(np.concatenate([address.hand[None], r_hand]), 0)[1:])
    address.last_roll_rad = float(roll[-1])
    return roll


def _pronation(sensors: LiveSensors, anchors: Anchors, state: AnglesState) -> Iterator[LiveTrace]:
    seat, calibration = anchors.upper_arm, anchors.wrist
    for first, after in _stretches(sensors, ARM_PAIR, state, "pronation"):
        if seat is None or calibration is None or sensors.pieces(ARM_PAIR[1:])[0] != seat.piece:
            continue
        r_forearm = sensors.r_up_from_sensor(ARM_PAIR[0], first, after) @ calibration.r_forearm_sensor_from_segment
        r_upper = sensors.r_up_from_sensor(ARM_PAIR[1], first, after) @ seat.r_sensor_from_segment
        turned = pronation((about_z(seat.heading_rad) @ r_upper)[:, :, 2], r_forearm)
        time_s = sensors.grid.at(first, after - first)
        yield LiveTrace(m.FOREARM_PRONATION, time_s, turned, seat.sd_rad(float(time_s[0])), Source.UPPER_ARM)


def _club(sensors: LiveSensors, _: Anchors, state: AnglesState) -> Iterator[LiveTrace]:
    for first, after in _stretches(sensors, (Segment.CLUB,), state, "club"):
        r = sensors.r_up_from_sensor(Segment.CLUB, first, after)
        elevation = np.arcsin(np.clip(r[:, 2, 0], -1.0, 1.0))  # the clip's +x points to the head
        yield LiveTrace(m.SHAFT_ELEVATION, sensors.grid.at(first, after - first), elevation, CLIP_SD_RAD, Source.CLUB)


def _trunk(
    segment: Segment,
    turn: Metric,
    bends: Sequence[Metric],
    sensors: LiveSensors,
    anchors: Anchors,
    state: AnglesState,
) -> Iterator[LiveTrace]:
    """Behind a long gap a turn is not known until the next swing has been read."""
    body = anchors.body
    for first, after in _stretches(sensors, (segment,), state, segment.value):
        if body is None or not _holds(sensors, anchors, segment):
            continue
        time_s = sensors.grid.at(first, after - first)
        psi, phi, theta = _turned(sensors, body, segment, first, after)
        sd = float(np.hypot(BODY_SD_RAD, body.square_sd_rad(float(time_s[0]))))
        yield LiveTrace(turn, time_s, _go_on(state, turn, psi), sd, Source.BODY)
        for metric, values in zip(bends, (theta, phi), strict=False) if body.has_bow else ():
            yield LiveTrace(metric, time_s, values, float(np.hypot(BODY_SD_RAD, body.bend_sd_rad)), Source.BODY)


def _separation(sensors: LiveSensors, anchors: Anchors, state: AnglesState) -> Iterator[LiveTrace]:
    body, pair = anchors.body, (Segment.THORAX, Segment.PELVIS)
    for first, after in _stretches(sensors, pair, state, "separation"):
        if body is None or not all(_holds(sensors, anchors, s) for s in pair):
            continue
        thorax, pelvis = (_turned(sensors, body, s, first, after)[0] for s in pair)
        time_s = sensors.grid.at(first, after - first)
        sd = float(np.hypot(BODY_SD_RAD, body.square_sd_rad(float(time_s[0])))) * 1.4
        yield LiveTrace(m.SEPARATION, time_s, unwrapped_from(0.0, thorax - pelvis), sd, Source.BODY)


def _holds(sensors: LiveSensors, anchors: Anchors, segment: Segment) -> bool:
    """Whether a sensor's heading is known where it is now."""
    seats = anchors.body.seats if anchors.body is not None else {}
    return segment in seats and sensors.pieces((segment,))[0] == anchors.piece_of(segment)


def _turned(
    sensors: LiveSensors, body: BodyCalibration, segment: Segment, first: int, after: int
) -> tuple[Array, Array, Array]:
    """Turn, side bend and forward bend (k,), rad, over a stretch."""
    at_s = sensors.grid.origin_s + first * sensors.grid.step_s
    r = body.seats[segment].r_bay_from_segment(sensors.r_up_from_sensor(segment, first, after), at_s)
    return turn_side_forward(r)


def _go_on(state: AnglesState, metric: Metric, turn: Array) -> Array:
    """A turn that goes on from where it stood, whole turns counted."""
    unwrapped = unwrapped_from(state.turn.get(metric), turn)
    state.turn[metric] = float(unwrapped[-1])
    return unwrapped


def unwrapped_from(before: float | None, angle: Array) -> Array:
    """An angle (n,), rad, that goes on from the value before it, whole turns counted."""
    if before is None:
        return angle
    return np.asarray(angle + 2 * np.pi * np.round((before - angle[0]) / (2 * np.pi)))


_GROUPS: Sequence[tuple[Sequence[Metric], Callable[[LiveSensors, Anchors, AnglesState], Iterator[LiveTrace]]]] = (
    ((m.LEAD_WRIST_EXTENSION, m.LEAD_WRIST_DEVIATION, m.WRIST_TWIST, m.HAND_ROLL), _wrist),
    ((m.FOREARM_PRONATION,), _pronation),
    ((m.SHAFT_ELEVATION,), _club),
    *(((turn, *bends), partial(_trunk, segment, turn, bends)) for segment, turn, bends in TRUNK),
    ((m.SEPARATION,), _separation),
)
"""What is read together, from the same sensors."""
