"""One putt as inertial sensors see it: wrist pair, trail pair, a sensor on the putter, in any mix."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import ClassVar

import numpy as np

from finearc.core.calibration.poses import speed_rad_s
from finearc.core.events.checkpoints import is_unstruck
from finearc.core.events.model import Checkpoint, Event
from finearc.core.events.swings import rates_in_up
from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.kinematics.session import WristFrames
from finearc.core.kinematics.wrist import hand_roll, wrist_angles
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.sequence import Courses
from finearc.core.metrics.swing import SwingReader
from finearc.core.metrics.trace import Trace
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.putting.drawn import wrist_courses
from finearc.core.putting.putter import PutterTrack, heading
from finearc.core.putting.setup import Pivot, PutterSetup
from finearc.core.putting.strapdown import ShaftSensor, along_its_way, axes_at_address, putter_track
from finearc.core.putting.stroke import SHOCK_FLOOR_M_S2, Felt, Turned, head_reversal, turned_stroke
from finearc.core.putting.wrists import WAYS, WristMotion, onset, rate_at_ball, swept, transition_share, wrist_motion
from finearc.core.sources.inertial_sensors import InertialSensors
from finearc.core.sources.inertial_traces import SENSOR_SD_RAD, error_shapes
from finearc.core.sources.inertial_view import (
    GAP,
    InertialView,
    SessionState,
    check_address,
    covariance_of,
    drop_unseen,
    frames_in,
    valid_in,
    window_of,
)
from finearc.core.sources.putt_track import PLACES, Exactness, TrackReading, set_pivot
from finearc.core.typing import Array
from finearc.wording import mark, tr

STROKE = Moment(pm.STROKE)
PUTT_SD_RAD = np.deg2rad(0.05)
"""What sensors and filter add to an angle relative to address within a putt (measured on the golfer model)."""
RATE_SD_RAD_S = np.deg2rad(1.0)
"""Of a mean rate over 0.04 s, trembling included (measured on the golfer model)."""
TURN_SHARE = 0.03
"""So much of what a hand turns otherwise shows as roll: its long axis is known to about 2° (measured)."""
REVERSAL_SD_S = {"putter": 0.006, "hand": 0.012}
"""How far a reversal may lie from the head's: wrists that act part the two (house values)."""
FACE_SD_RAD, LEAN_SD_RAD = np.deg2rad(0.3), np.deg2rad(0.2)
EXACT = Exactness(
    apart_m=(0.002, 0.002, 0.002), rms_m=0.0015, rise_m=0.0015, height_m=0.02, attack_rad=float(np.deg2rad(0.7))
)
"""Of places by a sensor on the shaft alone (measured on the golfer model)."""
UNMEASURED = mark("needs the putter's length: with it, its sensor says where head and handle are")
NEVER_STILL = mark("needs a finish held still for a moment: without it the sensor's places drift")
REVERSED = mark("The putter's sensor sits upside down: its arrow must point to the head. Its values are left out.")
UPSIDE_DOWN = mark("the putter's sensor sits upside down: its arrow must point to the head")
NO_ADDRESS = mark("the player never came to rest before the stroke")
ABSOLUTE = "absolute"
NEVER = mark("it never began: it stayed within what it varies by at address")


@dataclass
class InertialPuttView(InertialView):
    """One putt as the inertial sensors saw it. ``putter``: what is noted of it; ``trail_frames``: the trail wrist's, as
    a lead wrist's in the mirrored bay; ``reversed``: whether the putter's sensor points to the grip; ``turned``: face
    and lean of the putter (n,), rad, against address; ``track``: where it was by its sensor alone, ``placed``: what
    that says."""

    of_putt: ClassVar[bool] = True
    putter: PutterSetup = field(default_factory=PutterSetup)
    trail_frames: WristFrames | None = None
    of_trail: Array = field(default_factory=lambda: np.zeros((7, 7)))
    reversed: bool = False
    never: dict[Metric, str] = field(default_factory=dict)
    turned: tuple[Array, Array] | None = None
    track: PutterTrack | None = None
    placed: TrackReading | None = None

    @property
    def peak_rad_s(self) -> float | None:
        """How fast the hands, else the putter, turned at most from takeaway to just after the ball."""
        takeaway, impact = (self.found.events.get(k) for k in (Checkpoint.TAKEAWAY, Checkpoint.IMPACT))
        if takeaway is None or impact is None:
            return None
        during = (self.time_s >= takeaway.time_s) & (self.time_s <= impact.time_s + 0.05)
        speed = speed_rad_s(self.sources.main)[self.window]
        return float(speed[during].max()) if during.any() else None

    @property
    def strike_felt(self) -> bool | None:
        impact = self.found.events.get(Checkpoint.IMPACT)
        if impact is None:
            return None
        if "shock" in impact.method:
            return True
        unstruck = [
            is_unstruck(f.time_s, f.felt_m_s2, impact.time_s, SHOCK_FLOOR_M_S2[f.name]) for f in forces_of(self.sources)
        ]
        return False if unstruck and all(unstruck) else None

    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        out: list[tuple[Source, Trace]] = []
        for side, frames in (("lead", self.frames), ("trail", self.trail_frames)):
            if frames is None:
                continue
            extension, deviation, twist = wrist_angles(frames.r_forearm_from_hand)
            shapes = error_shapes(frames, extension, deviation)
            if side == "trail":
                sd = np.sqrt(np.maximum(0.0, np.mean([np.diag(s.T @ self.of_trail @ s) for s in shapes], axis=1)))
                out += [
                    (Source.TRAIL_WRIST, Trace(metric, values, SENSOR_SD_RAD, common_sd=float(sd[k]), note=ABSOLUTE))
                    for k, (metric, values) in enumerate(
                        ((m.TRAIL_WRIST_EXTENSION, extension), (m.TRAIL_WRIST_DEVIATION, deviation))
                    )
                ]
                continue
            out += [
                (Source.WRIST, Trace(m.LEAD_WRIST_EXTENSION, extension, SENSOR_SD_RAD, shapes[0], note=ABSOLUTE)),
                (Source.WRIST, Trace(m.LEAD_WRIST_DEVIATION, deviation, SENSOR_SD_RAD, shapes[1], note=ABSOLUTE)),
                (Source.WRIST, Trace(m.WRIST_TWIST, twist, np.deg2rad(2.5))),
            ]
            if address.stop:
                at = (address.start + address.stop) // 2
                out.append((Source.WRIST, Trace(m.HAND_ROLL, hand_roll(frames.r_up_from_hand, at), np.deg2rad(0.5))))
        putter = self.sources.putter
        seen = putter is not None and self.address.stop and not self.reversed and self._is_whole([putter], events)
        self.turned = self._of_putter(putter) if putter is not None and seen else None
        if self.turned is not None:
            out.append((Source.PUTTER, Trace(m.PUTTER_FACE, self.turned[0], FACE_SD_RAD, note="relative")))
        return out

    def values(self, events: Mapping[Checkpoint, Event], courses: Courses, present: Sequence[Source]) -> list[Measured]:
        out: list[Measured] = []
        if not self.address.stop:
            return out
        for frames, measures, covariance in (
            (self.frames, pm.LEAD, self.covariance),
            (self.trail_frames, pm.TRAIL, self.of_trail),
        ):
            worn = self.sources if measures is pm.LEAD else self.sources.trail
            if frames is None or worn is None or worn.forearm is None or worn.hand is None:
                continue
            if self._is_whole([worn.forearm, worn.hand], events):
                out += self._of_wrist(frames, measures, covariance, events)
            else:
                self.never |= dict.fromkeys(measures.all, tr(GAP))
        impact = events.get(Checkpoint.IMPACT)
        if self.turned is not None and impact is not None:
            lean = self._at(self.turned[1], impact.time_s)
            at_ball = Moment(Checkpoint.IMPACT)
            out.append(
                Measured(pm.PUTTER_LOFT_CHANGE, at_ball, lean, LEAN_SD_RAD, source=Source.PUTTER, note="relative")
            )
        if self.track is not None and Source.MARKERS not in present:
            self.placed = self._placed(self.track)
            out += self.placed.values(events)
        return out

    def _placed(self, track: PutterTrack) -> TrackReading:
        grip = np.asarray(np.nanmedian(track.grip_m[track.address], axis=0))
        pivot_m = set_pivot(self.putter, grip)
        pivot = Pivot.FITTED if pivot_m is None else self.putter.pivot
        return TrackReading(track, Source.PUTTER, EXACT, pivot, pivot_m)

    @property
    def _mid_address(self) -> int:
        return int(self.address.start + self.address.stop) // 2

    def _motion(self, frames: WristFrames) -> WristMotion:
        extension, deviation, _ = wrist_angles(frames.r_forearm_from_hand)
        roll = hand_roll(frames.r_up_from_hand, self._mid_address)
        return wrist_motion(self.time_s, extension, deviation, roll, self.address)

    def drawn(self, events: Mapping[Checkpoint, Event], at_s: Array) -> dict[str, Array]:
        """Courses of the wrists (``trail_`` before the trail's names) at instants ``at_s`` (n,), s, as
        ``core.putting.drawn``; of a wrist with a long gap none."""
        out: dict[str, Array] = {} if self.placed is None else self.placed.drawn(at_s)
        for name, frames, worn in (
            ("", self.frames, self.sources),
            ("trail_", self.trail_frames, self.sources.trail),
        ):
            if frames is None or worn is None or worn.forearm is None or worn.hand is None or not self.address.stop:
                continue
            if self._is_whole([worn.forearm, worn.hand], events):
                courses = wrist_courses(self._motion(frames), at_s)
                out |= {f"{name}{key}": values for key, values in courses.items()}
        return out

    def _is_whole(self, worn: Sequence[SensorMotion], events: Mapping[Checkpoint, Event]) -> bool:
        """Whether these sensors were heard without a long gap from address to the ball, or the last known."""
        last = events.get(Checkpoint.IMPACT) or events.get(Checkpoint.TRANSITION)
        stop = len(self.time_s) if last is None else int(np.searchsorted(self.time_s, last.time_s + 0.05))
        return all(_in_one_piece(s.piece[self.window][self.address.start : stop]) for s in worn)

    def _of_wrist(
        self, frames: WristFrames, measures: pm.WristMeasures, covariance: Array, events: Mapping[Checkpoint, Event]
    ) -> list[Measured]:
        extension, deviation, _ = wrist_angles(frames.r_forearm_from_hand)
        motion, at = self._motion(frames), self._mid_address
        shapes = error_shapes(frames, extension, deviation)
        traces = {
            "extension": Trace(m.LEAD_WRIST_EXTENSION, extension, PUTT_SD_RAD, shapes[0]),
            "deviation": Trace(m.LEAD_WRIST_DEVIATION, deviation, PUTT_SD_RAD, shapes[1]),
        }
        reader = SwingReader(self.time_s, events, self.address, covariance, self.valid)
        reading = _WristReading(motion, measures, traces, reader, frames, float(self.time_s[at]))
        values, never = reading.values(events)
        self.never |= dict.fromkeys(never, tr(NEVER))
        return values

    def _of_putter(self, putter: SensorMotion) -> tuple[Array, Array] | None:
        """Heading of the face and lean of the shaft (n,), rad, against address: where the target is, a sensor does not
        know. None where the shaft stands upright."""
        r = matrices_from_quaternions(putter.q_up_from_sensor[self.window])
        axes = axes_at_address(r[self.address])
        if axes is None:
            return None
        shaft, (level, ahead, _) = r[self.address, :, 0].mean(axis=0), axes
        turned = r @ np.swapaxes(r[(self.address.start + self.address.stop) // 2][None], 1, 2)
        faces, shafts = turned @ ahead, turned @ shaft
        face = np.unwrap(heading(faces @ np.stack([level, ahead]).T))
        lean = np.arctan2(shafts @ ahead, -shafts[:, 2])
        return face - np.median(face[self.address]), lean - np.median(lean[self.address])

    def _at(self, values: Array, at_s: float) -> float:
        return float(np.interp(at_s, self.time_s, values))

    def lacking(self) -> dict[Metric, str]:
        why: dict[Metric, str] = dict(self.never)
        if self.sources.putter is not None and self.track is None and not self.reversed:
            why |= dict.fromkeys(PLACES, tr(UNMEASURED) if self.putter.geometry is None else tr(NEVER_STILL))
        if self.placed is not None:
            why |= self.placed.why
        if self.reversed:
            why |= dict.fromkeys((pm.PUTTER_FACE, pm.PUTTER_LOFT_CHANGE), tr(UPSIDE_DOWN))
        return why


@dataclass(frozen=True)
class _WristReading:
    """One wrist in one putt. ``traces``: extension and deviation with what the calibration leaves open."""

    motion: WristMotion
    measures: pm.WristMeasures
    traces: Mapping[str, Trace]
    reader: SwingReader
    frames: WristFrames
    address_s: float

    def values(self, events: Mapping[Checkpoint, Event]) -> tuple[list[Measured], list[Metric]]:
        """All that can be told, and the onsets of what never began."""
        takeaway, turn, impact = (
            events.get(k) for k in (Checkpoint.TAKEAWAY, Checkpoint.TRANSITION, Checkpoint.IMPACT)
        )
        low = self.motion.smoothed()
        out: list[Measured] = []
        never: list[Metric] = []
        for at in (turn, impact):
            if at is not None:
                key = Checkpoint.TRANSITION if at is turn else Checkpoint.IMPACT
                out += [self._at(name, low[name], at, key) for name in low]
        if impact is not None:
            out += [
                self._made(metric, Moment(Checkpoint.IMPACT), self._rate(low[name], impact.time_s), RATE_SD_RAD_S)
                for name, metric in self.measures.rates.items()
            ]
        if takeaway is None or impact is None:
            return out, never
        for name, metric in self.measures.ranges.items():
            went = swept(self.motion.time_s, low[name], takeaway.time_s, impact.time_s)
            sd = np.hypot(1.4 * PUTT_SD_RAD, self._shared(name, went.most_s, went.least_s))
            out.append(self._made(metric, STROKE, went.size, float(sd)))
        for name, metric in self.measures.onsets.items():
            began = onset(self.motion, name, takeaway.time_s, impact.time_s)
            if began is None:
                never.append(metric)
            else:
                sd = float(np.hypot(began.sd_s, takeaway.uncertainty_s))
                way = tr(WAYS[name][0 if began.way > 0 else 1])
                out.append(self._made(metric, STROKE, began.at_s - takeaway.time_s, sd, note=way))
        if turn is not None:
            share, sd = transition_share(self.motion, takeaway.time_s, turn.time_s, impact.time_s)
            out.append(self._made(self.measures.share, STROKE, share, sd))
        return out, never

    def _at(self, name: str, values: Array, at: Event, key: Checkpoint) -> Measured:
        here = float(np.interp(at.time_s, self.motion.time_s, values))
        rate = abs(float(np.interp(at.time_s, self.motion.time_s, np.gradient(values, self.motion.time_s))))
        shared = self._shared(name, at.time_s, self.address_s)
        sd = float(np.sqrt(PUTT_SD_RAD**2 + shared**2 + (rate * at.uncertainty_s) ** 2))
        return self._made(self.measures.at[name], Moment(key), here, sd)

    def _rate(self, values: Array, impact_s: float) -> float:
        return rate_at_ball(self.motion.time_s, values, impact_s)

    def _shared(self, name: str, at_s: float, minus_s: float) -> float:
        """What the calibration leaves open of a difference between two instants, rad."""
        trace = self.traces.get(name)
        if trace is not None:
            return self.reader.calibration_sd(trace, at_s, minus_s)
        a, b = (int(np.argmin(np.abs(self.motion.time_s - t))) for t in (at_s, minus_s))
        apart = self.frames.r_up_from_hand[a] @ self.frames.r_up_from_hand[b].T
        return TURN_SHARE * float(np.arccos(np.clip((np.trace(apart) - 1.0) / 2.0, -1.0, 1.0)))

    def _made(self, metric: Metric, moment: Moment, value: float, sd: float, note: str = "") -> Measured:
        return Measured(metric, moment, value, sd, source=self.measures.source, note=note or "relative")


def view_putt(
    sources: InertialSensors, span: tuple[float, float], state: SessionState, putter: PutterSetup | None = None
) -> InertialPuttView:
    """Find the checkpoints of the putt in ``span`` (s) and orient what was worn; ``putter``: what is noted of it."""
    window = window_of(sources.main, span)
    time_s = sources.main.time_s[window]
    found, address = turned_stroke(_turned(sources, window, time_s))
    frames = frames_in(sources, window, address, state, time_s, drifting=True)
    view = InertialPuttView(
        sources,
        window,
        time_s,
        valid_in(sources, window, address),
        found,
        address,
        frames,
        covariance_of(sources, frames, state),
        putter=putter or PutterSetup(),
    )
    trail = sources.trail
    if trail is not None:
        state.trail = state.trail or SessionState()
        view.trail_frames = frames_in(trail, window, address, state.trail, time_s, drifting=True)
        view.of_trail = covariance_of(trail, view.trail_frames, state.trail)
    drop_unseen(found, view)
    if frames is not None:
        check_address(view, frames, address, state)
    if sources.putter is not None and address.stop:
        view.reversed = _points_up(sources.putter, window, address)
        if view.reversed:
            view.warnings.append(tr(REVERSED))
        else:
            _place(view, sources.putter)
    return view


def _place(view: InertialPuttView, putter: SensorMotion) -> None:
    """Where the putter was, where its measures are noted and it was heard whole from rest to rest; the reversal of its
    head then says where the backstroke ended."""
    impact, events = view.found.events.get(Checkpoint.IMPACT), view.found.events
    geometry, window = view.putter.geometry, view.window
    if geometry is None or impact is None or not view._is_whole([putter], events):
        return
    sensor = ShaftSensor(
        view.time_s,
        matrices_from_quaternions(putter.q_up_from_sensor[window]),
        putter.acc_m_s2[window],
        putter.gyr_rad_s[window],
    )
    struck = view.strike_felt is not False
    view.track = putter_track(sensor, view.address, impact.time_s, struck, geometry)
    if view.track is None or Checkpoint.TRANSITION not in events:
        return
    view.track = along_its_way(view.track, events[Checkpoint.TRANSITION].time_s)
    events[Checkpoint.TRANSITION] = head_reversal(view.track, impact.time_s) or events[Checkpoint.TRANSITION]


def _points_up(putter: SensorMotion, window: slice, address: slice) -> bool:
    r = matrices_from_quaternions(putter.q_up_from_sensor[window][address])
    return bool(r[:, 2, 0].mean() > 0.0)


def _turned(sources: InertialSensors, window: slice, time_s: Array) -> Turned:
    """What the stroke is looked for in: the putter, which knows no trembling, else the hand."""
    putter = sources.putter
    main, name = (putter, "putter") if putter is not None else (sources.main, "hand")
    return Turned(name, time_s, rates_in_up(main, window), forces_of(sources), REVERSAL_SD_S[name])


def forces_of(sources: InertialSensors) -> list[Felt]:
    """What a strike is looked for in: the putter's sensor, then the hands'."""
    trail = sources.trail.hand if sources.trail is not None else None
    worn = (("putter", sources.putter), ("hand", sources.hand), ("hand", trail))
    return [Felt(name, s.felt_time_s, s.felt_m_s2) for name, s in worn if s is not None]


def _in_one_piece(piece: np.ndarray[tuple[int], np.dtype[np.int64]]) -> bool:
    return len(piece) > 0 and bool(piece[0] >= 0) and bool((piece == piece[0]).all())
