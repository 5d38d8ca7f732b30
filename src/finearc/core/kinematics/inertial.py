"""One swing as inertial sensors see it: wrist pair, club clip, body pack."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from finearc.core.calibration.body_pack import BodyCalibration
from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.poses import speed_rad_s
from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event, event
from finearc.core.events.swings import rates_in_up
from finearc.core.events.turning import Turning
from finearc.core.frames.rotations import about_z, matrices_from_quaternions, rotation_vector
from finearc.core.kinematics.rates import axis_speed
from finearc.core.kinematics.segments import turn_side_forward
from finearc.core.kinematics.session import HeadingHold, WristFrames, wrist_frames
from finearc.core.kinematics.wrist import hand_roll, wrist_angles
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.metrics.trace import Trace
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import Segment
from finearc.core.typing import Array, Mask

CLIP_SD_RAD = np.deg2rad(1.2)
SENSOR_SD_RAD = np.deg2rad(0.5)
"""What sensors and filter add once the poses are exact (measured on the golfer model, docs/validation.md)."""
BODY_SD_RAD = np.deg2rad(0.7)
"""What one body sensor is off by within a swing (measured on the golfer model)."""
BODY_TOP_SD_S = 0.045
"""How far the upper body's reversal may lie from the club's (house value)."""
SLIPPED_RAD = np.deg2rad(11.0)
"""A wrist that differs from the first address by more than this: the sensor may have moved (house value)."""
TWIST_LIMIT_RAD = np.deg2rad(14.0)
SATURATED_SD_RAD = np.deg2rad(3.0)
SATURATED = "A gyroscope went past its range in this swing: its values are less certain."
GAP = "the recording has a gap longer than 50 ms there"
MOVED = "The sensor may have moved: calibrate again. Until then this swing's angles are not judged."
GRAVITY_OFF = "A sensor reads gravity differently than at calibration: check its fit, then calibrate again."


NO_STRIKE_FELT = "body sensors do not feel the strike: add a hand or club sensor, or markers"
STALE = "absolute turn needs a fresh square upright: stand square again"
NO_BOW = "needs the bow pose: without it forward and side bend cannot be told apart"


@dataclass(frozen=True)
class Sources:
    """The inertial sensors of a capture; the wrist pair comes complete or not at all. ``trunk``: pelvis, thorax
    and head, as far as worn, with their calibration."""

    forearm: SensorMotion | None
    hand: SensorMotion | None
    club: SensorMotion | None
    calibration: WristCalibration | None
    lie_rad: float
    trunk: Mapping[Segment, SensorMotion] = field(default_factory=dict)
    body: BodyCalibration | None = None

    @property
    def main(self) -> SensorMotion:
        """The sensor that events are looked for in first: hand, else club, else upper back or pelvis."""
        trunk = (self.trunk.get(Segment.THORAX), self.trunk.get(Segment.PELVIS))
        return next(s for s in (self.hand, self.club, *trunk) if s is not None)

    @property
    def main_name(self) -> str:
        if self.hand is not None:
            return "hand"
        if self.club is not None:
            return "club"
        return "upper body" if Segment.THORAX in self.trunk else "pelvis"

    @property
    def feels_strike(self) -> bool:
        return self.hand is not None or self.club is not None

    def turning(self) -> Turning:
        """What swings are looked for in."""
        main = self.main
        least = 1.0 if self.feels_strike else 0.5
        return Turning(self.main_name, main.time_s, speed_rad_s(main), lambda w: rates_in_up(main, w), least)


def shaft_elevation(club: SensorMotion, window: slice) -> Array:
    """``asin(s_z)`` (n,), rad: the clip's +x points to the head."""
    r = matrices_from_quaternions(club.q_up_from_sensor[window])
    return np.asarray(np.arcsin(np.clip(r[:, 2, 0], -1.0, 1.0)))


HANGING = 0.4
"""Level part of the forearm's direction under which it counts as hanging: about 24° from the vertical (house value)."""


def assumed_shaft_elevation(frames: WristFrames, address: slice, lie_rad: float) -> Array:
    """Shaft elevation (n,), rad, for a club held as at address, its shaft there in the forearm's vertical
    plane at the club's lie. An estimate for finding events only."""
    hand = about_z(frames.heading_rad) @ frames.r_up_from_hand
    ahead = frames.r_up_from_forearm[address, :, 0].mean(axis=0)
    if float(np.hypot(ahead[0], ahead[1])) < HANGING:  # its vertical plane says little: take the thumb's side
        ahead = hand[address, :, 2].mean(axis=0)
    flat = np.array([ahead[0], ahead[1], 0.0]) / np.hypot(ahead[0], ahead[1])
    shaft = flat * np.cos(lie_rad) - np.array([0.0, 0.0, np.sin(lie_rad)])
    middle = hand[address][len(hand[address]) // 2]
    in_hand = middle.T @ shaft
    return np.asarray(np.arcsin(np.clip(hand[:, 2, :] @ in_hand, -1.0, 1.0)))


def error_shapes(frames: WristFrames, extension: Array, deviation: Array) -> tuple[Array, Array]:
    """Derivatives (7, n) of extension and radial deviation with respect to small errors of the forearm's
    axes (3), the hand's axes (3) and the heading (1)."""
    r = frames.r_forearm_from_hand
    d_hand = r[:, :, 0]
    up = frames.r_up_from_forearm[:, 2, :]
    eye = np.eye(3)
    moves = [-np.cross(eye[k], d_hand) for k in range(3)]
    moves += [np.zeros_like(d_hand), -r[:, :, 2], r[:, :, 1]]
    moves.append(np.cross(up, d_hand))
    cos_v = np.maximum(np.cos(deviation), 0.2)
    sin_e, cos_e = np.sin(extension), np.cos(extension)
    extension_shape = np.array([(cos_e * v[:, 1] - sin_e * v[:, 0]) / cos_v for v in moves])
    deviation_shape = np.array([v[:, 2] / cos_v for v in moves])
    return extension_shape, deviation_shape


@dataclass
class SessionState:
    """What carries from swing to swing of one calibration."""

    hold: HeadingHold | None = None
    first_address: Array | None = None
    gravity: tuple[float, float] | None = None
    last_address_s: float = -np.inf


def _window(main: SensorMotion, span: tuple[float, float]) -> slice:
    a, b = np.searchsorted(main.time_s, span)
    return slice(int(a), int(min(b + 1, len(main.time_s))))


LEVELS = (
    Checkpoint.SHAFT_LEVEL_BACK,
    Checkpoint.ARM_LEVEL_BACK,
    Checkpoint.ARM_LEVEL_DOWN,
    Checkpoint.SHAFT_LEVEL_DOWN,
    Checkpoint.SHAFT_LEVEL_THROUGH,
)


@dataclass
class InertialView:
    """One swing as the inertial sensors saw it. ``address``: samples of its stillness, empty when not found."""

    sources: Sources
    window: slice
    time_s: Array
    valid: Mask
    found: cp.Found
    address: slice
    frames: WristFrames | None
    covariance: Array
    warnings: list[str] = field(default_factory=list)
    sensor_moved: bool = False

    def traces(self, address: slice) -> list[tuple[Source, Trace]]:
        """Every metric over time that the sensors allow."""
        return _traces(self.sources, self.window, self.frames, address) + _trunk_traces(self, address)


def view_swing(sources: Sources, span: tuple[float, float], state: SessionState) -> InertialView:
    """Find the checkpoints of the swing in ``span`` (s) and orient what was worn."""
    window = _window(sources.main, span)
    time_s = sources.main.time_s[window]
    found = cp.Found()
    signals = _signals(sources, window, time_s)
    speed = signals.club_speed if signals.club_speed is not None else signals.hand_speed
    address = _find_frame_events(signals, speed, found)
    frames = _frames(sources, window, address, state, time_s)
    view = InertialView(
        sources,
        window,
        time_s,
        _valid(sources, window, address),
        found,
        address,
        frames,
        _covariance(sources, frames, state),
    )
    if Checkpoint.IMPACT in found.events and Checkpoint.TOP in found.events and Checkpoint.TAKEAWAY in found.events:
        _find_levels(sources, window, found, frames, address, time_s)
    _drop_unseen(found, view)
    if frames is not None:
        _check_address(view, frames, address, state)
    if saturated(sources, span[0], span[1]):
        view.warnings.append(SATURATED)
    return view


def _covariance(sources: Sources, frames: WristFrames | None, state: SessionState) -> Array:
    covariance = np.zeros((7, 7))
    if frames is not None and sources.calibration is not None and state.hold is not None:
        covariance = sources.calibration.covariance.copy()
        covariance[6, 6] += min(state.hold.variance, np.deg2rad(10.0) ** 2)
    return covariance


def _drop_unseen(found: cp.Found, view: InertialView) -> None:
    """Checkpoints inside or behind a long gap are absent: the motion there was not seen."""
    if view.valid.all():
        return
    for name in list(found.events):
        k = int(np.clip(np.searchsorted(view.time_s, found.events[name].time_s), 0, len(view.valid) - 1))
        if not view.valid[k]:
            del found.events[name]
            found.absent[name] = GAP
    for name in found.absent:
        found.absent[name] = GAP


def _signals(sources: Sources, window: slice, time_s: Array) -> cp.SwingSignals:
    main, club = sources.main, sources.club
    hand = (speed_rad_s(main)[window], rates_in_up(main, window), (main.felt_time_s, main.felt_m_s2))
    if club is None or club is main:
        return cp.SwingSignals(time_s, *hand, main_name=sources.main_name, has_strike=sources.feels_strike)
    return cp.SwingSignals(
        time_s, *hand, speed_rad_s(club)[window], rates_in_up(club, window), (club.felt_time_s, club.felt_m_s2)
    )


def _find_frame_events(s: cp.SwingSignals, speed: Array, found: cp.Found) -> slice:
    """Impact, top, takeaway, address, finish: none needs the wrist's calibration. Returns the address window."""
    impact = cp.find_impact(s)
    address = slice(0, 0)
    rates, name = (s.club_rates_up, "club") if s.club_rates_up is not None else (s.hand_rates_up, s.main_name)
    top, why = cp.find_top(s.time_s, rates, impact.time_s, name)
    if top is not None and not s.has_strike:
        top = event(top.time_s, BODY_TOP_SD_S, top.method)
    if top is None:
        found.absent[Checkpoint.TOP] = why
    else:
        found.events[Checkpoint.TOP] = top
        takeaway, moved_at = cp.find_takeaway(s.time_s, speed, top.time_s, name)
        if takeaway is None:
            found.absent[Checkpoint.TAKEAWAY] = "the recording starts after the swing began"
        else:
            found.events[Checkpoint.TAKEAWAY] = takeaway
            still = np.maximum(s.hand_speed, speed)
            start, address, why = cp.find_address(s.time_s, still, moved_at)
            if start is None:
                found.absent[Checkpoint.ADDRESS] = why
            else:
                found.events[Checkpoint.ADDRESS] = start
    if impact.method == cp.NO_STRIKE and address.stop and s.has_strike:
        impact = _return_to_address(s, address, impact)
    if s.has_strike:
        found.events[Checkpoint.IMPACT] = impact
    else:
        found.absent[Checkpoint.IMPACT] = NO_STRIKE_FELT
        for name in LEVELS:
            found.absent[name] = "needs a forearm, hand or club sensor, or markers"
    found.events[Checkpoint.FINISH] = cp.find_finish(s.time_s, s.hand_speed, impact.time_s)
    for name in (Checkpoint.TOP, Checkpoint.TAKEAWAY, Checkpoint.ADDRESS):
        if name not in found.events:
            found.absent.setdefault(name, "the checkpoint before it was not found")
    return address


def _return_to_address(s: cp.SwingSignals, address: slice, rough: Event) -> Event:
    """Without a strike: when the hand has turned back to where it was at address, along the swing plane."""
    step = float(s.time_s[1] - s.time_s[0])
    peak = int(np.searchsorted(s.time_s, rough.time_s))
    span = max(3, int(cp.NORMAL_SPAN_S / step))
    normal = s.hand_rates_up[max(0, peak - span) : peak].mean(axis=0)
    along = s.hand_rates_up @ (normal / max(float(np.linalg.norm(normal)), 1e-9))
    turned = np.cumsum(along) * step
    turned -= turned[address.stop - 1]
    near = slice(max(0, peak - int(0.15 / step)), min(len(turned), peak + int(0.15 / step)))
    hit = cp.crossing(s.time_s, turned, near.start, near.stop, rising=True)
    return event(hit[0], 0.015, "hand-return") if hit is not None else rough


def saturated(sources: Sources, start_s: float, end_s: float) -> bool:
    """Whether a wrist sensor's gyroscope was past its range between two times, s."""
    spans = [s for p in (sources.forearm, sources.hand) if p is not None for s in p.clipped]
    return any(a < end_s and b > start_s for a, b in spans)


def _measuring(sources: Sources) -> list[SensorMotion]:
    """Body sensors that values rest on; the head's only turns the figure's head."""
    return [motion for segment, motion in sources.trunk.items() if segment is not Segment.HEAD]


def _piece(sources: Sources) -> Array:
    parts = [p.piece for p in (sources.forearm, sources.hand, *_measuring(sources)) if p is not None]
    if not parts:
        return np.asarray(sources.main.piece)
    bad = np.any([p < 0 for p in parts], axis=0)
    return np.where(bad, -1, sum(p * 1000**k for k, p in enumerate(parts)))


def _valid(sources: Sources, window: slice, address: slice) -> Mask:
    piece = _piece(sources)[window]
    if address.stop == 0:
        return np.asarray(piece >= 0)
    return np.asarray(piece == piece[address.stop - 1])


def _frames(sources: Sources, window: slice, address: slice, state: SessionState, time_s: Array) -> WristFrames | None:
    forearm, hand, calibration = sources.forearm, sources.hand, sources.calibration
    if forearm is None or hand is None or calibration is None:
        return None
    piece = int(_piece(sources)[window.start + max(0, address.stop - 1)])
    if state.hold is None:
        state.hold = HeadingHold(calibration.heading_rad, calibration.ends_s, piece)
    frames = wrist_frames(forearm, hand, calibration, state.hold.heading_rad, window)
    if address.stop == 0:
        return frames
    middle = (address.start + address.stop) // 2
    at_s = float(time_s[middle])
    heading = state.hold.at_address(
        at_s,
        piece,
        frames.r_up_from_forearm[middle],
        frames.r_up_from_hand[middle],
        saturated(sources, state.last_address_s, at_s),
    )
    state.last_address_s = at_s
    return WristFrames(frames.r_up_from_forearm, frames.r_up_from_hand, heading)


def _find_levels(
    sources: Sources, window: slice, found: cp.Found, frames: WristFrames | None, address: slice, time_s: Array
) -> None:
    if frames is not None:
        arm = np.arcsin(np.clip(frames.r_up_from_forearm[:, 2, 0], -1.0, 1.0))
        cp.levels(found, time_s, arm, cp.ARM_SD_RAD, "forearm-level", arm=True)
    else:
        for name in (Checkpoint.ARM_LEVEL_BACK, Checkpoint.ARM_LEVEL_DOWN):
            found.absent[name] = "needs a calibrated forearm sensor"
    if sources.club is not None:
        cp.levels(found, time_s, shaft_elevation(sources.club, window), cp.CLIP_SD_RAD, "club-level", arm=False)
    elif frames is not None and address.stop:
        assumed = assumed_shaft_elevation(frames, address, sources.lie_rad)
        cp.levels(found, time_s, assumed, cp.SHAFT_ESTIMATE_SD_RAD, "hand-estimate", arm=False)


def _check_address(view: InertialView, frames: WristFrames, address: slice, state: SessionState) -> None:
    """Does this address fit the calibration and the first address? Otherwise the sensor may have moved."""
    if address.stop == 0:
        return
    sources, window = view.sources, view.window
    middle = (address.start + address.stop) // 2
    wrist = frames.r_forearm_from_hand[middle]
    _, _, twist = wrist_angles(wrist)
    moved = abs(float(twist)) > TWIST_LIMIT_RAD
    if state.first_address is None:
        state.first_address = wrist
    else:
        moved |= float(np.linalg.norm(rotation_vector(state.first_address.T @ wrist))) > SLIPPED_RAD
    assert state.hold is not None
    if moved or state.hold.left_over_rad > SLIPPED_RAD:
        view.sensor_moved = True
        view.warnings.append(MOVED)
    span = slice(window.start + address.start, window.start + address.stop)
    assert sources.forearm is not None
    assert sources.hand is not None
    gravity = tuple(float(np.linalg.norm(s.acc_m_s2[span].mean(axis=0))) for s in (sources.forearm, sources.hand))
    if state.gravity is None:
        state.gravity = (gravity[0], gravity[1])
    elif max(abs(g - g0) for g, g0 in zip(gravity, state.gravity, strict=True)) > 0.5:
        view.warnings.append(GRAVITY_OFF)


def _traces(sources: Sources, window: slice, frames: WristFrames | None, address: slice) -> list[tuple[Source, Trace]]:
    traces: list[tuple[Source, Trace]] = []
    step = sources.main.step_s
    if frames is not None:
        extension, deviation, twist = wrist_angles(frames.r_forearm_from_hand)
        times = sources.main.time_s[window]
        sensor_sd = SATURATED_SD_RAD if saturated(sources, times[0], times[-1]) else SENSOR_SD_RAD
        extension_shape, deviation_shape = error_shapes(frames, extension, deviation)
        wrist = [
            Trace(m.LEAD_WRIST_EXTENSION, extension, sensor_sd, extension_shape),
            Trace(m.LEAD_WRIST_DEVIATION, deviation, sensor_sd, deviation_shape),
            Trace(m.WRIST_TWIST, twist, np.deg2rad(2.5)),
            Trace(m.LEAD_ARM_RATE, axis_speed(frames.r_up_from_forearm[:, :, 0], step), np.deg2rad(12.0)),
        ]
        if address.stop:
            at = (address.start + address.stop) // 2
            wrist.append(Trace(m.HAND_ROLL, hand_roll(frames.r_up_from_hand, at), np.deg2rad(3.0)))
        traces += [(Source.WRIST, t) for t in wrist]
    if sources.club is not None:
        gyr = sources.club.gyr_rad_s[window]
        club = [
            Trace(m.SHAFT_ELEVATION, shaft_elevation(sources.club, window), CLIP_SD_RAD),
            Trace(m.CLUB_RATE, np.hypot(gyr[:, 1], gyr[:, 2]), np.deg2rad(15.0)),
        ]
        traces += [(Source.CLUB, t) for t in club]
    return traces


def _trunk_traces(view: InertialView, address: slice) -> list[tuple[Source, Trace]]:
    """Turn and bends of pelvis and thorax. Without a fresh *square upright* the turn is only good against address."""
    body, out, turns = view.sources.body, [], {}
    if body is None:
        return []
    at_s = float(view.time_s[(address.start + address.stop) // 2]) if address.stop else float(view.time_s[0])
    square_sd, stale = body.square_sd_rad(at_s), body.is_stale(at_s)
    for segment, turn, forward, side in (
        (Segment.PELVIS, m.PELVIS_TURN, m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND),
        (Segment.THORAX, m.THORAX_TURN, m.THORAX_FORWARD_BEND, m.THORAX_SIDE_BEND),
    ):
        motion, seat = view.sources.trunk.get(segment), body.seats.get(segment)
        if motion is None or seat is None:
            continue
        r = seat.r_bay_from_segment(matrices_from_quaternions(motion.q_up_from_sensor[view.window]), at_s)
        psi, phi, theta = turn_side_forward(r)
        turns[segment] = psi
        not_judged_reason = STALE if stale else ""
        out.append(Trace(turn, psi, BODY_SD_RAD, common_sd=square_sd, not_judged_reason=not_judged_reason))
        if body.has_bow:
            out.append(Trace(forward, theta, BODY_SD_RAD, common_sd=body.bend_sd_rad))
            out.append(Trace(side, phi, BODY_SD_RAD, common_sd=body.bend_sd_rad))
    if len(turns) == 2:
        apart = turns[Segment.THORAX] - turns[Segment.PELVIS]
        out.append(
            Trace(
                m.SEPARATION,
                apart,
                BODY_SD_RAD * 1.4,
                common_sd=square_sd * 1.4,
                not_judged_reason=STALE if stale else "",
            )
        )
    return [(Source.BODY, t) for t in out]
