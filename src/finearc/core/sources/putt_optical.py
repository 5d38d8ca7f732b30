"""One putt as marker cameras see the putter."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import ClassVar

import numpy as np

from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event
from finearc.core.kinematics.body import body_pose
from finearc.core.markers.labels import Marker as M
from finearc.core.markers.motion import MarkerMotion
from finearc.core.metrics.body import Upright
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.sequence import Courses
from finearc.core.metrics.trace import Trace
from finearc.core.putting.drawn import putter_courses
from finearc.core.putting.putter import (
    PutterTrack,
    Stroke,
    face_course,
    heading,
    shaft_lean,
    smoothed,
    stroke_of,
    velocity_at_ball,
)
from finearc.core.putting.stroke import head_stroke
from finearc.core.sources.optical_view import OpticalView
from finearc.core.typing import Array

STROKE = Moment(pm.STROKE)
HEAD = (M.CLUB_HEEL, M.CLUB_TOE)
POINT_SD_M, RMS_SD_M = 0.0004, 0.0003
"""Of a distance from the pendulum, of its root mean square (0.3 mm of noise at 240 Hz, measured on the model)."""
HEIGHT_SD_M = 0.002
FACE_SD_RAD, PATH_SD_RAD, ATTACK_SD_RAD, LEAN_SD_RAD = (np.deg2rad(v) for v in (0.35, 0.5, 0.5, 0.1))
KEEPS_M, MOST_BENT = 0.015, 0.2
"""Grip end and sweet spot stay so far apart as they were; where in more frames than this share they do not, a marker is
another one."""
POINTS = {
    pm.SWEET_SPOT_ALONG: ("head", 0),
    pm.SWEET_SPOT_OUT: ("head", 1),
    pm.SWEET_SPOT_UP: ("head", 2),
    pm.GRIP_END_ALONG: ("grip", 0),
    pm.GRIP_END_OUT: ("grip", 1),
    pm.GRIP_END_UP: ("grip", 2),
}
PENDULUM = (*POINTS, pm.SWEET_SPOT_DEVIATION, pm.GRIP_END_DEVIATION, pm.PIVOT_HEIGHT)
EXCHANGED = "The markers of heel and toe seem exchanged: the toe is the far end from the player."
FACE_BACK = "The marker in front of the putter's face lies behind it: where the face looks is left out."
BENT = "The putter's markers do not keep their distances: one of them is another marker. The putter is left out."
HIDDEN = "the putter was hidden at address"
SET = "pivot set"
UNUSUAL = "pivot {:.0f} cm high: sway in step with the stroke cannot be told from another height"


@dataclass
class OpticalPuttView(OpticalView):
    """One putt as markers saw it. ``pivot_m``: set by the instructor, or None."""

    of_putt: ClassVar[bool] = True
    track: PutterTrack | None = None
    why: dict[Metric, str] = field(default_factory=dict)
    pivot_m: Array | None = None
    stroke: Stroke | None = None

    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        impact = events.get(Checkpoint.IMPACT)
        if self.track is None:
            return []
        aim = face_course(self.track, None if impact is None else impact.time_s)
        return [] if aim is None else [(Source.MARKERS, Trace(pm.PUTTER_FACE, aim, FACE_SD_RAD, note="absolute"))]

    def values(self, events: Mapping[Checkpoint, Event], courses: Courses, present: Sequence[Source]) -> list[Measured]:
        track = self.track
        if track is None or not track.address.stop:
            return []
        out: list[Measured] = []
        impact, turn, takeaway = (
            events.get(k) for k in (Checkpoint.IMPACT, Checkpoint.TRANSITION, Checkpoint.TAKEAWAY)
        )
        if turn is not None:
            rise = self._at(track.grip_m[:, 2], turn.time_s) - float(np.nanmedian(track.grip_m[track.address, 2]))
            out.append(_made(pm.HANDLE_LIFT, "address..transition", rise, POINT_SD_M))
        if impact is not None:
            out += self._at_impact(track, impact.time_s)
        if impact is not None and turn is not None and takeaway is not None:
            out += self._against_pendulum(track, takeaway.time_s, turn, impact)
        return out

    def _at(self, values: Array, at_s: float) -> float:
        seen = np.isfinite(values)
        return float(np.interp(at_s, self.time_s[seen], values[seen]))

    def _at_impact(self, track: PutterTrack, impact_s: float) -> list[Measured]:
        out: list[Measured] = []
        at = Checkpoint.IMPACT
        lean = shaft_lean(track)
        leant = self._at(lean, impact_s) - float(np.nanmedian(lean[track.address]))
        out.append(_made(pm.PUTTER_LOFT_CHANGE, at, leant, LEAN_SD_RAD, "relative"))
        speed = velocity_at_ball(track, impact_s)
        if speed is not None:
            up = float(np.arctan2(speed[2], np.hypot(speed[0], speed[1])))
            out.append(_made(pm.PUTTER_PATH, at, float(heading(speed)), PATH_SD_RAD, "absolute"))
            out.append(_made(pm.PUTTER_ATTACK, at, up, ATTACK_SD_RAD, "absolute"))
        return out

    def _against_pendulum(self, track: PutterTrack, takeaway_s: float, turn: Event, impact: Event) -> list[Measured]:
        self.stroke = stroke_of(track, takeaway_s, turn.time_s, impact.time_s, self.pivot_m)
        pendulum = self.stroke.pendulum
        if pendulum is None:
            self.why |= dict.fromkeys(PENDULUM, "too little of the putter was seen around the ball")
            return []
        out = []
        for at, key in ((turn, Checkpoint.TRANSITION), (impact, Checkpoint.IMPACT)):
            apart = {which: self.stroke.apart(which, at.time_s) for which in ("head", "grip")}
            out += [
                _made(metric, key, float(apart[which][k]), POINT_SD_M, "relative")
                for metric, (which, k) in POINTS.items()
            ]
        for metric, which in ((pm.SWEET_SPOT_DEVIATION, "head"), (pm.GRIP_END_DEVIATION, "grip")):
            out.append(_made(metric, pm.STROKE, self.stroke.deviation(which), RMS_SD_M, "relative"))
        note = UNUSUAL.format(100.0 * pendulum.height_m) if pendulum.is_unusual else "absolute"
        out.append(_made(pm.PIVOT_HEIGHT, pm.STROKE, pendulum.height_m, HEIGHT_SD_M, note if pendulum.fitted else SET))
        return out

    def drawn(self, at_s: Array) -> dict[str, Array]:
        """Courses of the putter at instants ``at_s`` (n,), s, as ``core.putting.drawn``; empty where it is hidden."""
        return {} if self.stroke is None else putter_courses(self.stroke, at_s)

    def lacking(self) -> dict[Metric, str]:
        return dict(self.why)


def _made(metric: Metric, at: str, value: float, sd: float, note: str = "relative") -> Measured:
    return Measured(metric, Moment(at), value, sd, source=Source.MARKERS, note=note)


def view_putt(
    motion: MarkerMotion, span: tuple[float, float], upright: Upright | None, pivot_m: Array | None = None
) -> OpticalPuttView | None:
    """Find the checkpoints of the putt in ``span`` (s); None when the capture does not cover it."""
    a, b = np.searchsorted(motion.time_s, span)
    window = slice(int(a), int(min(b + 1, len(motion.time_s))))
    if window.stop - window.start < 12:
        return None
    time_s = motion.time_s[window]
    pose = body_pose(motion.smoothed(window))
    valid = np.ones(len(time_s), dtype=bool)
    view = OpticalPuttView(motion, window, time_s, valid, cp.Found(), pose, slice(0, 0), upright, pivot_m=pivot_m)
    _track(view)
    return view


def _track(view: OpticalPuttView) -> None:
    """The putter, as far as its markers are there and keep their places."""
    motion, window, time_s = view.motion, view.window, view.time_s
    needed = (M.CLUB_GRIP, *HEAD)
    lacking = motion.lacking(needed)
    if lacking:
        why = f"needs markers: {lacking}"
        view.why |= dict.fromkeys((*PENDULUM, pm.HANDLE_LIFT, pm.PUTTER_LOFT_CHANGE), why)
        view.why |= dict.fromkeys((pm.PUTTER_FACE, pm.PUTTER_PATH, pm.PUTTER_ATTACK), why)
        return
    grip, heel, toe = (motion.raw(k, window) for k in needed)
    head = (heel + toe) / 2.0
    length = np.linalg.norm(head - grip, axis=1)
    bent = np.abs(length - np.nanmedian(length)) > KEEPS_M
    if np.mean(bent) > MOST_BENT:
        view.warnings.append(BENT)
        return
    head, grip = (np.where(bent[:, None], np.nan, p) for p in (head, grip))
    seen = np.isfinite(head).all(axis=1)
    if seen.sum() < 12:
        return
    rows = np.arange(len(head))
    bridged = np.column_stack([np.interp(rows, rows[seen], c[seen]) for c in head.T])
    view.found, view.address = head_stroke(time_s, bridged)
    if not view.address.stop:
        return
    if not all(np.isfinite(p[view.address]).all(axis=1).any() for p in (head, grip)):
        view.why |= dict.fromkeys((*PENDULUM, pm.HANDLE_LIFT, pm.PUTTER_LOFT_CHANGE), HIDDEN)
        return
    view.track = PutterTrack(
        time_s, smoothed(grip, time_s), smoothed(head, time_s), _face(view, heel, toe, head), view.address
    )


def _face(view: OpticalPuttView, heel: Array, toe: Array, head: Array) -> Array | None:
    """Normal of the face (n, 3): the point before it less the middle of the head, square to heel and toe."""
    across = toe - heel
    if float(np.nanmedian(across[view.address, 0])) < 0.0:
        view.warnings.append(EXCHANGED)
    if not view.motion.has(M.CLUB_FACE):
        view.why[pm.PUTTER_FACE] = f"needs markers: {view.motion.lacking((M.CLUB_FACE,))}"
        return None
    across = across / np.linalg.norm(across, axis=1, keepdims=True)
    ahead = view.motion.raw(M.CLUB_FACE, view.window) - head
    face = ahead - np.sum(ahead * across, axis=1, keepdims=True) * across
    if float(np.nanmedian(face[view.address, 1])) < 0.0:
        view.warnings.append(FACE_BACK)
        view.why[pm.PUTTER_FACE] = "the marker in front of the face lies behind it"
        return None
    return np.asarray(face / np.linalg.norm(face, axis=1, keepdims=True))
