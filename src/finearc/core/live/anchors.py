"""What the batch has found of a recording, carried over to the orientations that are computed as samples come.

Each sensor's filter has a heading of its own, here and there. Both saw the last seconds, so that the turn about the
vertical between their orientations tells what of the batch's headings holds here (``orientation.heading``)."""

from __future__ import annotations

from collections.abc import Mapping
from copy import deepcopy
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration
from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.upper_arm import UpperArmCalibration
from finearc.core.kinematics.session import HeadingHold, wrist_piece
from finearc.core.live.sensors import LiveSensors
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.orientation.heading import yaw_between
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial_sensors import InertialSensors
from finearc.core.typing import Array

OVERLAP_S = 12.0
EVERY_S = 0.1
"""So much of the last seconds, so densely, is compared (house values, as in ``orientation.heading``)."""
PAIR = (Segment.LEAD_FOREARM, Segment.LEAD_HAND)
Yaws = Mapping[Segment, float]


@dataclass(frozen=True)
class Anchors:
    """Calibrations, and the wrist's heading as the last swing left it (None without a wrist pair). ``seen``: by sensor
    the instants (k,), s, and orientations (k, 4), xyzw, that headings are counted in; ``held_in``: the live stretches
    that they hold in; ``gap``: whether a long gap has come since the wrist's heading was held. Small enough to be sent
    from the process that reads swings to the one that hears the devices."""

    wrist: WristCalibration | None = None
    body: BodyCalibration | None = None
    upper_arm: UpperArmCalibration | None = None
    hold: HeadingHold | None = None
    seen: Mapping[Segment, tuple[Array, Array]] = field(default_factory=dict)
    held_in: Mapping[Segment, int] = field(default_factory=dict)
    gap: bool = False

    @property
    def pieces(self) -> tuple[int, ...]:
        """The stretches between long gaps in which the wrist's heading holds."""
        return tuple(self.held_in.get(s, -1) for s in PAIR)

    def or_else(self, known: Anchors) -> Anchors:
        """These, and where they say nothing those that are ``known``, each in the live stretch that it was found in: a
        heading of before a gap says nothing after it."""
        arm, trunk = (*PAIR, Segment.LEAD_UPPER_ARM), set(known.held_in) - {*PAIR, Segment.LEAD_UPPER_ARM}
        out, held_in = self, dict(self.held_in)
        if self.wrist is None or self.hold is None:
            out = replace(out, wrist=known.wrist, hold=known.hold, upper_arm=known.upper_arm)
            held_in |= {k: known.piece_of(k) for k in arm}
        if self.body is None or not self.body.seats:
            out = replace(out, body=known.body)
            held_in |= {k: known.piece_of(k) for k in trunk}
        return replace(out, held_in=held_in)

    def piece_of(self, segment: Segment) -> int:
        """The stretch in which a sensor's heading holds."""
        return self.held_in.get(segment, -1)


def anchors_of(batch: InertialSensors, hold: HeadingHold | None) -> Anchors:
    """What the batch knows; ``hold``: after its last swing, None before the first."""
    motions = (batch.forearm, batch.hand, batch.club, batch.upper_arm, *batch.trunk.values())
    seen = {m.segment: _last_seconds(m) for m in motions if m is not None}
    if hold is None and batch.calibration is not None:
        hold = HeadingHold(batch.calibration.heading_rad, batch.calibration.ends_s, batch.calibration.piece)
    return Anchors(batch.calibration, batch.body, batch.upper_arm_seat, hold, seen, gap=_gap_since(hold, batch))


def _gap_since(hold: HeadingHold | None, batch: InertialSensors) -> bool:
    if hold is None or batch.forearm is None or batch.hand is None:
        return False
    pieces = wrist_piece(batch.forearm, batch.hand)
    return bool(pieces[pieces >= 0].max(initial=-1) != hold.piece)


def _last_seconds(motion: SensorMotion) -> tuple[Array, Array]:
    n, step = len(motion.time_s), motion.step_s
    rows = np.arange(max(0, n - round(OVERLAP_S / step)), n)
    rows = rows[motion.piece[rows] == motion.piece.max(initial=-1)][:: max(1, round(EVERY_S / step))]
    return motion.time_s[rows], motion.q_up_from_sensor[rows]


def carried_over(anchors: Anchors, live: LiveSensors) -> Anchors:
    """The anchors with their headings counted in the live orientations; without what those have nothing in common
    with. The stretch that goes on now counts as piece 0."""
    yaws = {s: yaw for s, seen in anchors.seen.items() if (yaw := _yaw(live, s, *seen)) is not None}
    wrist, upper = _apart(yaws, *PAIR), _apart(yaws, PAIR[0], Segment.LEAD_UPPER_ARM)
    return Anchors(
        _wrist(anchors.wrist, wrist),
        _body(anchors.body, yaws),
        _upper_arm(anchors, upper, live),
        _hold(anchors, wrist),
        held_in={s: -1 if anchors.gap and s in PAIR else live.by_segment[s].track.piece for s in yaws},
    )


def _yaw(live: LiveSensors, segment: Segment, time_s: Array, q_batch: Array) -> float | None:
    """Turn about the vertical from the live to the batch's orientations, rad."""
    if segment not in live.by_segment:
        return None
    track = live.by_segment[segment].track
    index = np.rint((time_s - live.grid.origin_s) / live.grid.step_s).astype(np.int64)
    rows = index % track.size
    there = (index >= 0) & (track.filled[rows] == index) & (track.pieces[rows] == track.piece)
    return yaw_between(track.q_up_from_sensor[rows[there]], q_batch[there]) if there.any() else None


def _apart(yaws: Yaws, base: Segment, other: Segment) -> float | None:
    """How a heading of ``other`` against ``base`` changes from the batch's frames to the live ones."""
    return yaws[other] - yaws[base] if base in yaws and other in yaws else None


def _wrist(wrist: WristCalibration | None, turn: float | None) -> WristCalibration | None:
    return None if wrist is None or turn is None else replace(wrist, heading_rad=wrist.heading_rad + turn)


def _hold(anchors: Anchors, turn: float | None) -> HeadingHold | None:
    if anchors.hold is None or turn is None:
        return None
    carried = deepcopy(anchors.hold)
    carried.heading_rad += turn
    carried.piece = 0
    return carried


def _body(body: BodyCalibration | None, yaws: Yaws) -> BodyCalibration | None:
    if body is None:
        return None
    seats = {
        segment: replace(seat, headings=tuple((end, h - yaws[segment]) for end, h in seat.headings))
        for segment, seat in body.seats.items()
        if segment in yaws
    }
    return replace(body, seats=seats)


def _upper_arm(anchors: Anchors, turn: float | None, live: LiveSensors) -> UpperArmCalibration | None:
    seat = anchors.upper_arm
    if seat is None or turn is None:
        return None
    piece = live.by_segment[Segment.LEAD_UPPER_ARM].track.piece
    return replace(seat, heading_rad=seat.heading_rad + turn, piece=piece)
