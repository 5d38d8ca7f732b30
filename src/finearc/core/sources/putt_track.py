"""What the places of a putter say of a putt, whoever saw them: markers, or a sensor on its shaft."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.putting.drawn import putter_courses
from finearc.core.putting.putter import PutterTrack, Stroke, stroke_of, velocity_at_ball
from finearc.core.putting.setup import Pivot, PutterSetup
from finearc.core.typing import Array
from finearc.wording import mark, tr

POINTS = {
    pm.SWEET_SPOT_ALONG: ("head", 0),
    pm.SWEET_SPOT_OUT: ("head", 1),
    pm.SWEET_SPOT_UP: ("head", 2),
    pm.GRIP_END_ALONG: ("grip", 0),
    pm.GRIP_END_OUT: ("grip", 1),
    pm.GRIP_END_UP: ("grip", 2),
}
PENDULUM = (*POINTS, pm.SWEET_SPOT_DEVIATION, pm.GRIP_END_DEVIATION, pm.PIVOT_HEIGHT)
PLACES = (*PENDULUM, pm.HANDLE_LIFT, pm.PUTTER_ATTACK)
"""All that needs the putter's places."""
SEEN_TOO_LITTLE = mark("too little of the putter was seen around the ball")
SET = {
    Pivot.STERNUM: mark("pivot set: the sternum"),
    Pivot.SHOULDERS: mark("pivot set: between the shoulders"),
    Pivot.GRIP: mark("pivot set: the top of the grip"),
}
UNUSUAL = mark("pivot {:.0f} cm high: sway in step with the stroke cannot be told from another height")


def set_pivot(putter: PutterSetup, grip_m: Array) -> Array | None:
    """Where the pivot is set (3,), m, over the grip end as it stood at address; None where it is to be fitted, or its
    height is not known."""
    if putter.pivot is Pivot.GRIP:
        return grip_m
    if putter.pivot is Pivot.FITTED or putter.pivot_height_m is None:
        return None
    return np.array([grip_m[0], grip_m[1], putter.pivot_height_m])


@dataclass(frozen=True)
class Exactness:
    """Standard uncertainties: of a distance from the pendulum along, out and up, of its root mean square, of a rise, of
    the pivot's height (m), and of the head's climb (rad)."""

    apart_m: tuple[float, float, float]
    rms_m: float
    rise_m: float
    height_m: float
    attack_rad: float


@dataclass
class TrackReading:
    """A track as one source saw it. ``pivot_m`` (3,): where the pendulum's pivot is set, else it is fitted."""

    track: PutterTrack
    source: Source
    exact: Exactness
    pivot: Pivot = Pivot.FITTED
    pivot_m: Array | None = None
    why: dict[Metric, str] = field(default_factory=dict)
    stroke: Stroke | None = None

    def values(self, events: Mapping[Checkpoint, Event]) -> list[Measured]:
        """Handle, attack and the pendulum, as far as the checkpoints are known."""
        track, out = self.track, []
        impact, turn, takeaway = (
            events.get(k) for k in (Checkpoint.IMPACT, Checkpoint.TRANSITION, Checkpoint.TAKEAWAY)
        )
        if turn is not None:
            rise = self.at(track.grip_m[:, 2], turn.time_s) - float(np.nanmedian(track.grip_m[track.address, 2]))
            out.append(self.made(pm.HANDLE_LIFT, "address..transition", rise, self.exact.rise_m))
        speed = None if impact is None else velocity_at_ball(track, impact.time_s)
        if speed is not None:
            up = float(np.arctan2(speed[2], np.hypot(speed[0], speed[1])))
            out.append(self.made(pm.PUTTER_ATTACK, Checkpoint.IMPACT, up, self.exact.attack_rad, "absolute"))
        if impact is not None and turn is not None and takeaway is not None:
            out += self._against_pendulum(takeaway.time_s, turn, impact)
        return out

    def at(self, values: Array, at_s: float) -> float:
        """A course (n,) of the track at an instant."""
        seen = np.isfinite(values)
        return float(np.interp(at_s, self.track.time_s[seen], values[seen]))

    def made(self, metric: Metric, at: str, value: float, sd: float, note: str = "relative") -> Measured:
        """A value of this source."""
        return Measured(metric, Moment(at), value, sd, source=self.source, note=note)

    def _against_pendulum(self, takeaway_s: float, turn: Event, impact: Event) -> list[Measured]:
        self.stroke = stroke_of(self.track, takeaway_s, turn.time_s, impact.time_s, self.pivot_m)
        pendulum = self.stroke.pendulum
        if pendulum is None:
            self.why |= dict.fromkeys(PENDULUM, tr(SEEN_TOO_LITTLE))
            return []
        out = []
        for at, key in ((turn, Checkpoint.TRANSITION), (impact, Checkpoint.IMPACT)):
            apart = {which: self.stroke.apart(which, at.time_s) for which in ("head", "grip")}
            out += [
                self.made(metric, key, float(apart[which][k]), self.exact.apart_m[k])
                for metric, (which, k) in POINTS.items()
            ]
        for metric, which in ((pm.SWEET_SPOT_DEVIATION, "head"), (pm.GRIP_END_DEVIATION, "grip")):
            out.append(self.made(metric, pm.STROKE, self.stroke.deviation(which), self.exact.rms_m))
        note = tr(UNUSUAL).format(100.0 * pendulum.height_m) if pendulum.is_unusual else "absolute"
        note = note if pendulum.fitted else tr(SET[self.pivot])
        return [*out, self.made(pm.PIVOT_HEIGHT, pm.STROKE, pendulum.height_m, self.exact.height_m, note)]

    def drawn(self, at_s: Array) -> dict[str, Array]:
        """Courses of the putter at instants ``at_s`` (n,), s, as ``core.putting.drawn``; empty without a pendulum."""
        return {} if self.stroke is None else putter_courses(self.stroke, at_s)
