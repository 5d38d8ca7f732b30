"""One swing as marker cameras see it: its checkpoints, segments and traces."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event, event
from finearc.core.events.turning import Turning
from finearc.core.kinematics.body import BodyPose, body_pose
from finearc.core.kinematics.rates import axis_velocity
from finearc.core.kinematics.segments import club_frame, units
from finearc.core.markers.labels import Marker as M
from finearc.core.markers.motion import MarkerMotion
from finearc.core.metrics import registry as m
from finearc.core.metrics.body import NEEDED, Upright, marker_traces, path_and_attack
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.sequence import Courses
from finearc.core.metrics.trace import Trace
from finearc.core.signals.filters import low_pass
from finearc.core.sources.kind import View
from finearc.core.typing import Array, Mask
from finearc.wording import mark, tr

SEARCH_HZ = 12.0
CLUB_TURN_HZ = 30.0
"""Cut-offs for looking for swings, and for the club's turning around its reversal (house values)."""
IMPACT_SD_S = 0.0005
"""Interpolation of the head's passage between frames at 200 Hz or more (measured on the golfer model)."""
SHAFT_SD_RAD = np.deg2rad(0.4)
ARM_SD_RAD = np.deg2rad(1.0)
"""How well markers show that shaft and arm are level (house values)."""
LEVEL_EVENTS = {
    "arm": (Checkpoint.ARM_LEVEL_BACK, Checkpoint.ARM_LEVEL_DOWN),
    "shaft": (Checkpoint.SHAFT_LEVEL_BACK, Checkpoint.SHAFT_LEVEL_DOWN, Checkpoint.SHAFT_LEVEL_THROUGH),
}
PATH_SD_RAD = np.deg2rad(1.1)
"""Direction of the head carried on to impact, 0.3 mm of noise at 240 Hz (measured on the golfer model)."""


SEARCHED = (
    ("club", M.CLUB_GRIP, M.CLUB_SHAFT, 1.0),
    ("club", M.CLUB_GRIP, M.CLUB_HEEL, 1.0),
    ("forearm", M.LEAD_ELBOW_LATERAL, M.LEAD_WRIST_THUMB, 0.8),
    (mark("upper body"), M.TRAIL_ACROMION, M.LEAD_ACROMION, 0.5),
    (mark("upper body"), M.C7, M.NOTCH, 0.5),
    ("pelvis", M.TRAIL_ASIS, M.LEAD_ASIS, 0.4),
)
"""Lines whose turning shows a swing, best first: name, from, to, least speed against a hand's."""


def _pairs(motion: MarkerMotion) -> list[tuple[str, M, M, float]]:
    return [line for line in SEARCHED if motion.has(line[1], line[2])]


def _bridged(values: Array) -> Array:
    """Gaps drawn straight, for searching only."""
    out = values.copy()
    hidden = np.isnan(out[:, 0])
    if hidden.any() and not hidden.all():
        rows = np.arange(len(out))
        for k in range(3):
            out[hidden, k] = np.interp(rows[hidden], rows[~hidden], out[~hidden, k])
    return out


def turning_of(motion: MarkerMotion) -> Turning | None:
    """What swings are looked for in, or None when no line of two known markers is there."""
    pairs = _pairs(motion)
    if not pairs:
        return None
    name, a, b, least = pairs[0]
    line = low_pass(_bridged(motion.raw(b) - motion.raw(a)), SEARCH_HZ, 1.0 / motion.step_s)
    omega = axis_velocity(units(line), motion.step_s)
    speed = np.sqrt(np.einsum("ij,ij->i", omega, omega))
    return Turning(name, motion.time_s, speed, lambda w: omega[w], least)


@dataclass
class OpticalView(View):
    """One swing as markers saw it."""

    motion: MarkerMotion
    window: slice
    time_s: Array
    valid: Mask
    found: cp.Found
    pose: BodyPose
    address: slice
    upright: Upright | None
    warnings: list[str] = field(default_factory=list)

    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        strike = events.get(Checkpoint.IMPACT)
        impact = None if strike is None else int(np.searchsorted(self.time_s, strike.time_s, side="right")) - 1
        step = self.motion.step_s
        return [(Source.MARKERS, t) for t in marker_traces(self.pose, address, impact, self.upright, step)]

    def values(self, events: Mapping[Checkpoint, Event], courses: Courses, present: Sequence[Source]) -> list[Measured]:
        impact = events.get(Checkpoint.IMPACT)
        return [] if impact is None else self.at_impact(impact)

    def at_impact(self, impact: Event) -> list[Measured]:
        """Club path and attack angle."""
        if not self.motion.has(M.CLUB_HEEL, M.CLUB_TOE):
            return []
        head = (self.motion.raw(M.CLUB_HEEL, self.window) + self.motion.raw(M.CLUB_TOE, self.window)) / 2.0
        found = path_and_attack(self.time_s, head, impact.time_s)
        if found is None:
            return []
        turn = np.deg2rad(3.0) / self.motion.step_s * impact.uncertainty_s  # the path turns about 3° a frame at 240 Hz
        sd = float(np.hypot(PATH_SD_RAD, turn * self.motion.step_s * 240.0))
        moment = Moment(Checkpoint.IMPACT)
        return [
            Measured(metric, moment, value, sd, source=Source.MARKERS)
            for metric, value in ((m.CLUB_PATH, found[0]), (m.ATTACK_ANGLE, found[1]))
        ]

    def lacking(self) -> dict[Metric, str]:
        reasons = {metric: self.motion.lacking(needed) for metric, needed in NEEDED.items()}
        return {metric: tr("needs markers: {why}", why=why) for metric, why in reasons.items() if why}


def _window(motion: MarkerMotion, span: tuple[float, float]) -> slice:
    a, b = np.searchsorted(motion.time_s, span)
    return slice(int(a), int(min(b + 1, len(motion.time_s))))


def view_swing(motion: MarkerMotion, span: tuple[float, float], upright: Upright | None) -> OpticalView | None:
    """Find the checkpoints of the swing in ``span`` (s); None when the capture does not cover it."""
    window = _window(motion, span)
    if window.stop - window.start < 12:
        return None
    time_s = motion.time_s[window]
    found = cp.Found()
    turning = _turning_in(motion, window)
    address = slice(0, 0)
    cuts: list[int] = []
    if turning is not None:
        address = _frame_events(motion, window, turning, found)
        impact = found.events.get(Checkpoint.IMPACT)
        if impact is not None:
            cuts = [int(np.searchsorted(time_s, impact.time_s))]
    points = motion.smoothed(window, cuts)
    pose = body_pose(points)
    if all(k in found.events for k in (Checkpoint.TAKEAWAY, Checkpoint.TOP, Checkpoint.IMPACT)):
        _levels(pose, time_s, found)
    valid = np.ones(len(time_s), dtype=bool)
    return OpticalView(motion, window, time_s, valid, found, pose, address, upright)


def _turning_in(motion: MarkerMotion, window: slice) -> Turning | None:
    pairs = _pairs(motion)
    for name, a, b, least in pairs:
        line = motion.raw(b, window) - motion.raw(a, window)
        if np.isfinite(line[:, 0]).mean() < 0.9:
            continue
        cut = 30.0 if name in ("club", "forearm") else SEARCH_HZ
        axis = units(low_pass(_bridged(line), cut, 1.0 / motion.step_s))
        omega = axis_velocity(axis, motion.step_s)
        speed = np.sqrt(np.einsum("ij,ij->i", omega, omega))
        return Turning(name, motion.time_s[window], speed, lambda w, omega=omega: omega[w], least)  # type: ignore[misc]
    return None


def _frame_events(motion: MarkerMotion, window: slice, turning: Turning, found: cp.Found) -> slice:
    """Top, takeaway, address, impact, finish. Returns the address window."""
    time_s, speed = turning.time_s, turning.speed
    omega = turning.rates_up(slice(None))
    fastest = float(time_s[int(np.argmax(speed))])
    name = f"marker-{turning.name.replace(' ', '-')}"
    rough = _rough_impact(turning)
    whole = _club_velocity(motion, window) if turning.name == "club" else None
    turned = omega if whole is None else whole
    top, why = cp.find_top(time_s, turned, rough, name)
    address = slice(0, 0)
    sd = 0.045 if turning.name in ("upper body", "pelvis") else 0.003
    if top is None:
        found.absent[Checkpoint.TOP] = why
    else:
        found.events[Checkpoint.TOP] = event(top.time_s, sd, top.method)
        takeaway, moved_at = cp.find_takeaway(time_s, speed, top.time_s, name)
        if takeaway is None:
            found.absent[Checkpoint.TAKEAWAY] = tr("the recording starts after the swing began")
        else:
            found.events[Checkpoint.TAKEAWAY] = takeaway
            start, address, why = cp.find_address(time_s, speed, moved_at)
            if start is None:
                found.absent[Checkpoint.ADDRESS] = why
            else:
                found.events[Checkpoint.ADDRESS] = start
    impact = _impact(motion, window, address, fastest)
    if impact is None:
        found.absent[Checkpoint.IMPACT] = tr(
            "needs markers on the club head or on both wrists, seen through the strike"
        )
    else:
        found.events[Checkpoint.IMPACT] = impact
        again, _ = cp.find_top(time_s, turned, impact.time_s, name)  # the plane it is reckoned in ends at impact itself
        if again is not None and top is not None:
            found.events[Checkpoint.TOP] = event(again.time_s, sd, again.method)
    found.events[Checkpoint.FINISH] = cp.find_finish(time_s, speed, impact.time_s if impact else fastest)
    for missing in (Checkpoint.TOP, Checkpoint.TAKEAWAY, Checkpoint.ADDRESS):
        if missing not in found.events:
            found.absent.setdefault(missing, tr("the checkpoint before it was not found"))
    return address


def _club_velocity(motion: MarkerMotion, window: slice) -> Array | None:
    """Angular velocity (n, 3), rad/s, bay axes, of the club as a rigid body; a line alone does not show how it spins
    about its shaft, and at the top the shaft is not quite in the swing plane. None without the head's markers."""
    needed = (M.CLUB_GRIP, M.CLUB_SHAFT, M.CLUB_HEEL, M.CLUB_TOE, M.CLUB_FACE)
    if not motion.has(*needed):
        return None
    grip, shaft, heel, toe, face = (
        low_pass(_bridged(motion.raw(k, window)), CLUB_TURN_HZ, 1.0 / motion.step_s) for k in needed
    )
    r = club_frame(grip, shaft, heel, toe, face)
    turned = np.gradient(r, motion.step_s, axis=0) @ np.swapaxes(r, 1, 2)
    return np.stack([turned[:, 2, 1], turned[:, 0, 2], turned[:, 1, 0]], axis=1)


def _rough_impact(turning: Turning) -> float:
    """About when the strike was: where what turns was fastest."""
    return float(turning.time_s[int(np.argmax(turning.speed))])


def _impact(motion: MarkerMotion, window: slice, address: slice, near_s: float) -> Event | None:
    """When the head (else the hands) passes its address position at high speed, between frames."""
    if address.stop == 0:
        return None
    if motion.has(M.CLUB_HEEL, M.CLUB_TOE):
        place = (motion.raw(M.CLUB_HEEL, window) + motion.raw(M.CLUB_TOE, window)) / 2.0
        name, sd = "head-passage", IMPACT_SD_S
    elif motion.has(M.LEAD_WRIST_THUMB, M.TRAIL_WRIST_THUMB):
        place = (motion.raw(M.LEAD_WRIST_THUMB, window) + motion.raw(M.TRAIL_WRIST_THUMB, window)) / 2.0
        name, sd = "hands-return", 0.02
    else:
        return None
    return _passage(motion.time_s[window], place, address, near_s, name, sd)


def _passage(time_s: Array, place: Array, address: slice, near_s: float, name: str, sd: float) -> Event | None:
    step = float(time_s[1] - time_s[0])
    home = np.nanmedian(place[address], axis=0)
    a, b = np.searchsorted(time_s, [near_s - 0.12, near_s + 0.12])
    a, b = max(1, int(a)), min(len(time_s) - 1, int(b))
    rows = np.arange(a, b)
    rows = rows[np.isfinite(place[rows, 0])]
    if len(rows) < 6:
        return None
    speed = np.linalg.norm(np.gradient(place[rows], step, axis=0), axis=1)
    k: int | None = int(np.argmax(speed))
    way = np.zeros(3)
    for _ in range(2):  # first square to the way at the fastest frame, then to the way at the passage itself
        way = _way(place[rows], k or 0)
        k = _passed((place[rows] - home) @ way, k or 0)
        if k is None:
            return None
    assert k is not None
    along = (place[rows] - home) @ way
    before = rows[max(0, k - 4) : k + 1]
    if len(before) >= 4:  # the motion up to the strike, carried on: the strike slows the head
        t = time_s[before] - time_s[rows[k]]
        fit = np.polyfit(t, (place[before] - home) @ way, 2)
        roots = np.roots(fit)
        good = [float(r.real) for r in roots if abs(r.imag) < 1e-12 and -0.1 * step <= r.real <= 1.6 * step]
        if good:
            return event(float(time_s[rows[k]]) + min(good, key=abs), float(np.hypot(sd, 0.06 * step)), name)
    share = -along[k] / (along[k + 1] - along[k])
    return event(
        float(time_s[rows[k]] + share * (time_s[rows[k + 1]] - time_s[rows[k]])), float(np.hypot(sd, 0.2 * step)), name
    )


def _way(place: Array, k: int) -> Array:
    """Direction (3,) of the motion around frame ``k``."""
    way = place[min(k + 1, len(place) - 1)] - place[max(k - 1, 0)]
    return np.asarray(way / max(float(np.linalg.norm(way)), 1e-9))


def _passed(along: Array, near: int) -> int | None:
    """The frame before ``along`` (n,) rises through zero, nearest to ``near``."""
    hits = np.flatnonzero((along[:-1] < 0) & (along[1:] >= 0))
    return int(hits[np.argmin(np.abs(hits - near))]) if len(hits) else None


def _levels(pose: BodyPose, time_s: Array, found: cp.Found) -> None:
    for what, axis, sd in (("arm", "lead_forearm", ARM_SD_RAD), ("shaft", "club", SHAFT_SD_RAD)):
        if axis in pose.frames:
            up = pose.frames[axis].r[:, 2, 0]
            elevation = np.arcsin(np.clip(np.nan_to_num(up, nan=0.0), -1.0, 1.0))
            cp.levels(found, time_s, elevation, sd, f"marker-{what}-level", arm=what == "arm")
        else:
            needs = tr("markers on the lead elbow and wrist") if what == "arm" else tr("markers on the club")
            for name in LEVEL_EVENTS[what]:
                found.absent[name] = tr("needs {needs}", needs=needs)
