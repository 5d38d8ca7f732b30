"""One swing as inertial sensors see it: its checkpoints, its address, what has slipped since."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.poses import speed_rad_s
from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event, event
from finearc.core.events.swings import rates_in_up
from finearc.core.frames.rotations import about_z
from finearc.core.kinematics.session import HeadingHold, WristFrames, wrist_frames, wrist_piece
from finearc.core.metrics.definition import Source
from finearc.core.metrics.trace import Trace
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.orientation.heading import heading_rate
from finearc.core.signals.streams import Segment
from finearc.core.sources.address_check import Address, Addresses, GripChange, Told
from finearc.core.sources.inertial_sensors import InertialSensors
from finearc.core.sources.inertial_traces import arm_traces, saturated, shaft_elevation, trunk_traces
from finearc.core.sources.kind import View
from finearc.core.typing import Array, Mask
from finearc.wording import mark, tr

BODY_TOP_SD_S = 0.045
"""How far the upper body's reversal may lie from the club's (house value)."""
SATURATED = mark("A gyroscope went past its range in this swing: its values are less certain.")
GAP = mark("the recording has a gap longer than 50 ms there")
HAND_RETURN = "hand-return"
NO_STRIKE_FELT = mark("body sensors do not feel the strike: add a hand or club sensor, or markers")


POSE_HALF_S, AFTER_ADDRESS_S, STILL_WITHIN_S = 0.9, 0.2, 60.0
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


@dataclass
class SessionState:
    """What carries from swing to swing of one calibration."""

    hold: HeadingHold | None = None
    addresses: Addresses = field(default_factory=Addresses)
    last_address_s: float = -np.inf
    trail: SessionState | None = None
    """Of the trail wrist's pair."""


def window_of(main: SensorMotion, span: tuple[float, float]) -> slice:
    """The samples of a sensor within ``span``, s."""
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
class InertialView(View):
    """One swing as the inertial sensors saw it."""

    sources: InertialSensors
    window: slice
    time_s: Array
    valid: Mask
    found: cp.Found
    address: slice
    frames: WristFrames | None
    of_calibration: Array
    warnings: list[str] = field(default_factory=list)
    told: Told = field(default_factory=Told)

    @property
    def covariance(self) -> Array:
        """Of the calibration's errors (k, k), rad²."""
        return self.of_calibration

    @property
    def sensor_moved(self) -> bool:
        return self.told.moved

    @property
    def grip_changed(self) -> GripChange | None:
        return self.told.grip

    @property
    def strike_felt(self) -> bool | None:
        impact = self.found.events.get(Checkpoint.IMPACT)
        if impact is None:
            return None
        if impact.method not in (cp.NO_STRIKE, HAND_RETURN):
            return True
        worn = [s for s in (self.sources.forearm, self.sources.hand, self.sources.club) if s is not None]
        unstruck = [cp.is_unstruck(s.felt_time_s, s.felt_m_s2, impact.time_s) for s in worn]
        return False if unstruck and all(unstruck) else None

    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        arm = arm_traces(self.sources, self.window, self.frames, address)
        return arm + trunk_traces(self.sources, self.window, self.time_s, address)


def view_swing(sources: InertialSensors, span: tuple[float, float], state: SessionState) -> InertialView:
    """Find the checkpoints of the swing in ``span`` (s) and orient what was worn."""
    window = window_of(sources.main, span)
    time_s = sources.main.time_s[window]
    found = cp.Found()
    signals = _signals(sources, window, time_s)
    speed = signals.club_speed if signals.club_speed is not None else signals.hand_speed
    address = _find_frame_events(signals, speed, found)
    frames = frames_in(sources, window, address, state, time_s)
    view = InertialView(
        sources,
        window,
        time_s,
        valid_in(sources, window, address),
        found,
        address,
        frames,
        covariance_of(sources, frames, state),
    )
    if Checkpoint.IMPACT in found.events and Checkpoint.TOP in found.events and Checkpoint.TAKEAWAY in found.events:
        _find_levels(sources, window, found, frames, address, time_s)
    drop_unseen(found, view)
    if frames is not None:
        check_address(view, frames, address, state)
    if saturated(sources, span[0], span[1]):
        view.warnings.append(tr(SATURATED))
    return view


def covariance_of(sources: InertialSensors, frames: WristFrames | None, state: SessionState) -> Array:
    """Of the calibration's errors and the heading's (7, 7), rad²; nothing without a wrist pair."""
    covariance = np.zeros((7, 7))
    if frames is not None and sources.calibration is not None and state.hold is not None:
        covariance = sources.calibration.covariance.copy()
        covariance[6, 6] += min(state.hold.variance, np.deg2rad(10.0) ** 2)
    return covariance


def drop_unseen(found: cp.Found, view: InertialView) -> None:
    """Checkpoints inside or behind a long gap are absent: the motion there was not seen."""
    if view.valid.all():
        return
    for name in list(found.events):
        k = int(np.clip(np.searchsorted(view.time_s, found.events[name].time_s), 0, len(view.valid) - 1))
        if not view.valid[k]:
            del found.events[name]
            found.absent[name] = tr(GAP)
    for name in found.absent:
        found.absent[name] = tr(GAP)


def _signals(sources: InertialSensors, window: slice, time_s: Array) -> cp.SwingSignals:
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
            found.absent[Checkpoint.TAKEAWAY] = tr("the recording starts after the swing began")
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
        found.absent[Checkpoint.IMPACT] = tr(NO_STRIKE_FELT)
        for name in LEVELS:
            found.absent[name] = tr("needs a forearm, hand or club sensor, or markers")
    found.events[Checkpoint.FINISH] = cp.find_finish(s.time_s, s.hand_speed, impact.time_s)
    for name in (Checkpoint.TOP, Checkpoint.TAKEAWAY, Checkpoint.ADDRESS):
        if name not in found.events:
            found.absent.setdefault(name, tr("the checkpoint before it was not found"))
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
    return event(hit[0], 0.015, HAND_RETURN) if hit is not None else rough


def measuring_sensors(sources: InertialSensors) -> list[SensorMotion]:
    """Body sensors that values rest on; the head's only turns the figure's head."""
    return [motion for segment, motion in sources.trunk.items() if segment is not Segment.HEAD]


def _piece(sources: InertialSensors) -> Array:
    parts = [p.piece for p in (sources.forearm, sources.hand, *measuring_sensors(sources)) if p is not None]
    if not parts:
        return np.asarray(sources.main.piece)
    bad = np.any([p < 0 for p in parts], axis=0)
    return np.where(bad, -1, sum(p * 1000**k for k, p in enumerate(parts)))


def valid_in(sources: InertialSensors, window: slice, address: slice) -> Mask:
    """Samples (n,) of the window that belong to its address: no long gap lies between."""
    piece = _piece(sources)[window]
    if address.stop == 0:
        return np.asarray(piece >= 0)
    return np.asarray(piece == piece[address.stop - 1])


def frames_in(
    sources: InertialSensors,
    window: slice,
    address: slice,
    state: SessionState,
    time_s: Array,
    *,
    drifting: bool = False,
) -> WristFrames | None:
    """Forearm and hand over the window, their headings held by the joint at this address. ``drifting``: by what their
    gyroscopes read while they are held still, too."""
    forearm, hand, calibration = sources.forearm, sources.hand, sources.calibration
    if forearm is None or hand is None or calibration is None:
        return None
    piece = int(wrist_piece(forearm, hand)[window.start + max(0, address.stop - 1)])
    if state.hold is None:
        state.hold = HeadingHold(calibration.heading_rad, calibration.ends_s, calibration.piece)
    frames = wrist_frames(forearm, hand, calibration, state.hold.heading_rad, window)
    if address.stop == 0:
        return frames
    middle = (address.start + address.stop) // 2
    at_s = float(time_s[middle])
    if drifting and piece == state.hold.piece:
        state.hold.heading_rad += _drifted(forearm, hand, calibration, state.hold, at_s)
    heading = state.hold.at_address(
        at_s,
        piece,
        frames.r_up_from_forearm[middle],
        frames.r_up_from_hand[middle],
        saturated(sources, state.last_address_s, at_s),
    )
    state.last_address_s = at_s
    return WristFrames(frames.r_up_from_forearm, frames.r_up_from_hand, heading)


def _drifted(
    forearm: SensorMotion, hand: SensorMotion, calibration: WristCalibration, hold: HeadingHold, at_s: float
) -> float:
    """How far the heading of the hand against the forearm has drifted since it was known, rad."""
    since_s = hold.at_s
    if hold.twist_rad is None and calibration.level is not None:  # known from the poses, in their middle
        since_s = (sum(calibration.level) / 2.0 + calibration.ends_s - POSE_HALF_S) / 2.0
    first = min(since_s, calibration.level[0]) if calibration.level is not None else since_s
    rates = [heading_rate(m, max(first, at_s - STILL_WITHIN_S), at_s + AFTER_ADDRESS_S) for m in (forearm, hand)]
    return (rates[0] - rates[1]) * (at_s - since_s)


def _find_levels(
    sources: InertialSensors, window: slice, found: cp.Found, frames: WristFrames | None, address: slice, time_s: Array
) -> None:
    if frames is not None:
        arm = np.arcsin(np.clip(frames.r_up_from_forearm[:, 2, 0], -1.0, 1.0))
        cp.levels(found, time_s, arm, cp.ARM_SD_RAD, "forearm-level", arm=True)
    else:
        for name in (Checkpoint.ARM_LEVEL_BACK, Checkpoint.ARM_LEVEL_DOWN):
            found.absent[name] = tr("needs a calibrated forearm sensor")
    if sources.club is not None:
        cp.levels(found, time_s, shaft_elevation(sources.club, window), cp.CLIP_SD_RAD, "club-level", arm=False)
    elif frames is not None and address.stop:
        assumed = assumed_shaft_elevation(frames, address, sources.lie_rad)
        cp.levels(found, time_s, assumed, cp.SHAFT_ESTIMATE_SD_RAD, "hand-estimate", arm=False)


def check_address(view: InertialView, frames: WristFrames, address: slice, state: SessionState) -> None:
    """Does this address fit the calibration and the addresses before it?"""
    forearm, hand = view.sources.forearm, view.sources.hand
    if address.stop == 0 or forearm is None or hand is None or state.hold is None:
        return
    middle = (address.start + address.stop) // 2
    span = slice(view.window.start + address.start, view.window.start + address.stop)
    gravity = tuple(float(np.linalg.norm(s.acc_m_s2[span].mean(axis=0))) for s in (forearm, hand))
    seen = Address(frames.r_forearm_from_hand[middle], state.hold.twist_off_rad, (gravity[0], gravity[1]))
    view.told = state.addresses.check(seen)
    if view.told.warning:
        view.warnings.append(view.told.warning)
