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
from finearc.core.metrics.definition import Measured, Metric, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.sequence import Courses
from finearc.core.metrics.trace import Trace
from finearc.core.putting.putter import PutterTrack, face_course, heading, shaft_lean, smoothed, velocity_at_ball
from finearc.core.putting.setup import Pivot, PutterSetup
from finearc.core.putting.stroke import head_stroke
from finearc.core.sources.optical_view import OpticalView
from finearc.core.sources.putt_track import PLACES, Exactness, TrackReading, set_pivot
from finearc.core.typing import Array
from finearc.wording import mark, tr

HEAD = (M.CLUB_HEEL, M.CLUB_TOE)
BODY = {
    Pivot.STERNUM: (M.NOTCH, M.XIPHOID),
    Pivot.SHOULDERS: (M.LEAD_ACROMION, M.TRAIL_ACROMION),
}
"""Markers in whose middle a set pivot lies."""
EXACT = Exactness(
    apart_m=(0.0004, 0.0004, 0.0004),
    rms_m=0.0003,
    rise_m=0.0004,
    height_m=0.002,
    attack_rad=np.deg2rad(0.5),
)
"""With 0.3 mm of noise at 240 Hz, measured on the model."""
FACE_SD_RAD, PATH_SD_RAD, LEAN_SD_RAD = (np.deg2rad(v) for v in (0.35, 0.5, 0.1))
KEEPS_M, MOST_BENT = 0.015, 0.2
"""Grip end and sweet spot stay so far apart as they were; where in more frames than this share they do not, a marker is
another one."""
EXCHANGED = mark("The markers of heel and toe seem exchanged: the toe is the far end from the player.")
FACE_BACK = mark("The marker in front of the putter's face lies behind it: where the face looks is left out.")
BENT = mark("The putter's markers do not keep their distances: one of them is another marker. The putter is left out.")
HIDDEN = mark("the putter was hidden at address")


@dataclass
class OpticalPuttView(OpticalView):
    """One putt as markers saw it; ``putter``: what is known of it and of the pivot it is to turn about."""

    of_putt: ClassVar[bool] = True
    putter: PutterSetup = field(default_factory=PutterSetup)
    track: PutterTrack | None = None
    why: dict[Metric, str] = field(default_factory=dict)
    read: TrackReading | None = None

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
        pivot_m = self._pivot_m(track)
        pivot = Pivot.FITTED if pivot_m is None else self.putter.pivot
        self.read = TrackReading(track, Source.MARKERS, EXACT, pivot, pivot_m)
        out, impact = self.read.values(events), events.get(Checkpoint.IMPACT)
        if impact is not None:
            at = Checkpoint.IMPACT
            lean = shaft_lean(track)
            leant = self.read.at(lean, impact.time_s) - float(np.nanmedian(lean[track.address]))
            out.append(self.read.made(pm.PUTTER_LOFT_CHANGE, at, leant, LEAN_SD_RAD))
            speed = velocity_at_ball(track, impact.time_s)
            if speed is not None:
                out.append(self.read.made(pm.PUTTER_PATH, at, float(heading(speed)), PATH_SD_RAD, "absolute"))
        return out

    def _pivot_m(self, track: PutterTrack) -> Array | None:
        """Where the pivot is set (3,), m: as markers show it at address, else over the grip end as high as noted."""
        grip = np.asarray(np.nanmedian(track.grip_m[track.address], axis=0))
        needed = BODY.get(self.putter.pivot, ())
        if needed and self.motion.has(*needed):
            points = np.array([self.motion.raw(k, self.window)[track.address] for k in needed])
            if np.isfinite(points).all(axis=2).any(axis=1).all():
                return np.asarray(np.nanmedian(points, axis=1).mean(axis=0))
        return set_pivot(self.putter, grip)

    def drawn(self, at_s: Array) -> dict[str, Array]:
        """Courses of the putter at instants ``at_s`` (n,), s, as ``core.putting.drawn``; empty where it is hidden."""
        return {} if self.read is None else self.read.drawn(at_s)

    def lacking(self) -> dict[Metric, str]:
        return self.why | ({} if self.read is None else self.read.why)


def view_putt(
    motion: MarkerMotion, span: tuple[float, float], upright: Upright | None, putter: PutterSetup | None = None
) -> OpticalPuttView | None:
    """Find the checkpoints of the putt in ``span`` (s); None when the capture does not cover it."""
    a, b = np.searchsorted(motion.time_s, span)
    window = slice(int(a), int(min(b + 1, len(motion.time_s))))
    if window.stop - window.start < 12:
        return None
    time_s = motion.time_s[window]
    pose = body_pose(motion.smoothed(window))
    valid = np.ones(len(time_s), dtype=bool)
    noted = putter or PutterSetup()
    view = OpticalPuttView(motion, window, time_s, valid, cp.Found(), pose, slice(0, 0), upright, putter=noted)
    _track(view)
    return view


def _track(view: OpticalPuttView) -> None:
    """The putter, as far as its markers are there and keep their places."""
    motion, window, time_s = view.motion, view.window, view.time_s
    needed = (M.CLUB_GRIP, *HEAD)
    lacking = motion.lacking(needed)
    if lacking:
        why = tr("needs markers: {lacking}", lacking=lacking)
        view.why |= dict.fromkeys((*PLACES, pm.PUTTER_LOFT_CHANGE), why)
        view.why |= dict.fromkeys((pm.PUTTER_FACE, pm.PUTTER_PATH), why)
        return
    grip, heel, toe = (motion.raw(k, window) for k in needed)
    head = (heel + toe) / 2.0
    length = np.linalg.norm(head - grip, axis=1)
    bent = np.abs(length - np.nanmedian(length)) > KEEPS_M
    if np.mean(bent) > MOST_BENT:
        view.warnings.append(tr(BENT))
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
        view.why |= dict.fromkeys((*PLACES, pm.PUTTER_LOFT_CHANGE), tr(HIDDEN))
        return
    view.track = PutterTrack(
        time_s, smoothed(grip, time_s), smoothed(head, time_s), _face(view, heel, toe, head), view.address
    )


def _face(view: OpticalPuttView, heel: Array, toe: Array, head: Array) -> Array | None:
    """Normal of the face (n, 3): the point before it less the middle of the head, square to heel and toe."""
    across = toe - heel
    if float(np.nanmedian(across[view.address, 0])) < 0.0:
        view.warnings.append(tr(EXCHANGED))
    if not view.motion.has(M.CLUB_FACE):
        view.why[pm.PUTTER_FACE] = tr("needs markers: {lacking}", lacking=view.motion.lacking((M.CLUB_FACE,)))
        return None
    across = across / np.linalg.norm(across, axis=1, keepdims=True)
    ahead = view.motion.raw(M.CLUB_FACE, view.window) - head
    face = ahead - np.sum(ahead * across, axis=1, keepdims=True) * across
    if float(np.nanmedian(face[view.address, 1])) < 0.0:
        view.warnings.append(tr(FACE_BACK))
        view.why[pm.PUTTER_FACE] = tr("the marker in front of the face lies behind it")
        return None
    return np.asarray(face / np.linalg.norm(face, axis=1, keepdims=True))
