"""One swing as the ground saw it: feet, loads, its own checkpoints, traces and figures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.events.checkpoints import Found
from finearc.core.events.model import Checkpoint, Event, event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Metric, Moment, Source
from finearc.core.metrics.sequence import Courses
from finearc.core.metrics.trace import Trace
from finearc.core.pressure import timing
from finearc.core.pressure.clean import MatMotion
from finearc.core.pressure.feet import ONE_FOOT, Feet, check_feet, find_feet
from finearc.core.pressure.loads import N_PER_KPA_M2, Loads, mat_loads
from finearc.core.pressure.plates import PlateMotion
from finearc.core.pressure.posturography import ellipse_area, mean_speed, path_length, peak_speed
from finearc.core.pressure.still import ADDRESS_S, GroundMotion, stillness
from finearc.core.signals.filters import low_pass
from finearc.core.sources.kind import View
from finearc.core.typing import Array, Mask
from finearc.wording import mark, tr

BALANCE_HZ = 5.0
"""Cut-off for standing still, as in Prieto et al. 1996 (from memory)."""
PUSH = 0.08
"""A push that shows: the vertical force exceeds the weight by this share of it (house value)."""
PUSH_SD_S = 0.06
"""How far the vertical peak may lie from impact: some hundredths of a second before it (common practice)."""
NO_PUSH = mark("no push on the ground stands out, so impact cannot be told from the mat")
NO_CLUB = mark("a mat alone does not see the club: add a hand or club sensor, or markers")
OFF = mark("The {} foot stands partly off the mat: heel to toe and shares are not judged.")
CROSSES = mark(
    "A foot stands across the line between the feet: shares are uncertain. Correct the feet, or stand again."
)
CORRIDOR_M, CROSSING_SHARE = 0.02, 0.06
"""More than this share of the weight within so far of the line and a foot is on it (house values)."""
SHARE_SD, HEEL_TOE_SD, STANCE_SD = 0.0025, 0.02, 0.012
"""Standard uncertainties: share of a foot; heel to toe and stance position by how well the soles' ends are known
(measured on the golfer model, rounded up)."""
PLATE_STANCE_SD = 0.03
"""Of stance position where the feet's middles are taken from where they press at address (house value)."""
SOURCE = {MatMotion: Source.MAT, PlateMotion: Source.PLATES}


@dataclass
class GroundView(View):
    """One swing on the ground. ``weight_n``: standing weight; ``moments``: instants of the pressure's own course, once
    its values were asked for."""

    source: Source
    window: slice
    time_s: Array
    valid: Mask
    found: Found
    loads: Loads
    feet: Feet | None
    address: slice
    weight_n: float
    offset_sd_s: float
    share_sd: float
    warnings: list[str] = field(default_factory=list)
    moments: timing.GroundMoments | None = None
    followed: bool = False

    def dated(self, events: Mapping[Checkpoint, Event]) -> Mapping[Checkpoint, Event]:
        """What is read from the mat at another source's instant is as uncertain as its clock."""
        if not self.offset_sd_s:
            return events
        return {
            k: replace(e, uncertainty_s=float(np.hypot(e.uncertainty_s, self.offset_sd_s))) for k, e in events.items()
        }

    @property
    def not_judged_reason(self) -> str:
        """Why shares and heel to toe may not be judged, or empty."""
        both = self.feet.both if self.feet is not None else None
        if both is None:
            return ""
        off = [name for name, foot in zip(("lead", "trail"), both, strict=True) if foot.partly_off]
        return OFF.format(tr(" and the ").join(off)) if off else ""

    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        out = [*self._forces(), *self._places(address)]
        return [(self.source, t) for t in out]

    def _forces(self) -> list[Trace]:
        total = self.loads.total_n / self.weight_n
        out = [Trace(m.VERTICAL_FORCE, total, 0.01, common_sd=0.01)]
        if self.feet is None or self.feet.both is not None:
            share = self.loads.lead_share
            out += [
                Trace(m.LEAD_SHARE, share, self.share_sd, not_judged_reason=self.not_judged_reason),
                Trace(m.LEAD_FORCE, share * total, 0.01, not_judged_reason=self.not_judged_reason),
                Trace(m.TRAIL_FORCE, (1.0 - share) * total, 0.01, not_judged_reason=self.not_judged_reason),
            ]
        return out

    def _places(self, address: slice) -> list[Trace]:
        out = []
        if address.stop:
            start = np.median(self.loads.both_m[address, 1])
            out.append(Trace(m.PRESSURE_SWAY, self.loads.both_m[:, 1] - start, 0.001))
        both = self.feet.both if self.feet is not None else None
        centres, sd = ([f.centre_m for f in both], STANCE_SD) if both is not None else ([], 0.0)
        if self.feet is None and address.stop:  # plates do not see the soles: where each foot presses at address
            centres, sd = [np.median(self.loads.feet_m[address, k], axis=0) for k in (0, 1)], PLATE_STANCE_SD
        if centres:
            line = centres[0] - centres[1]
            position = (self.loads.both_m - centres[1]) @ line / (line @ line)
            out.append(
                Trace(m.STANCE_POSITION, position, 0.003, common_sd=sd, not_judged_reason=self.not_judged_reason)
            )
        if self.feet is None:
            return out
        for k, (foot, metric) in enumerate(((self.feet.lead, m.LEAD_HEEL_TOE), (self.feet.trail, m.TRAIL_HEEL_TOE))):
            if foot is not None:
                along = foot.along(self.loads.feet_m[:, k])
                out.append(Trace(metric, along, 0.004, common_sd=HEEL_TOE_SD, not_judged_reason=self.not_judged_reason))
        if self.feet.trail is not None:
            across = 0.5 - self.feet.trail.aside(self.loads.feet_m[:, 1]) / self.feet.trail.width_m
            out.append(Trace(m.TRAIL_FOOT_EDGE, across, 0.01, common_sd=0.05, not_judged_reason=self.not_judged_reason))
        return out

    def _standing(self) -> list[Measured]:
        """Stance and flare, read at address."""
        both = self.feet.both if self.feet is not None else None
        width = self.feet.stance_width_m if self.feet is not None else None
        if both is None or width is None:
            return []
        lead, trail = both
        flare_sd = float(np.deg2rad(2.5))
        return [
            Measured(
                metric, Moment(Checkpoint.ADDRESS), value, sd, sd, self.source, not_judged_reason=self.not_judged_reason
            )
            for metric, value, sd in (
                (m.STANCE_WIDTH, width, 0.01),
                (m.LEAD_FOOT_FLARE, lead.heading(), flare_sd),
                (m.TRAIL_FOOT_FLARE, -trail.heading(), flare_sd),
            )
        ]

    def values(self, events: Mapping[Checkpoint, Event], courses: Courses, present: Sequence[Source]) -> list[Measured]:
        address, impact = (events.get(k) for k in (Checkpoint.ADDRESS, Checkpoint.IMPACT))
        out = self.figures(address.time_s if address else None, impact.time_s if impact else None)
        share = courses.get(m.LEAD_SHARE)
        if share is None or address is None or impact is None:
            return out
        self.followed = True
        self.moments = timing.ground_moments(share, address.time_s, impact, self.offset_sd_s)
        others = set(present) - {self.source}
        seen = self.dated(events) if others else {Checkpoint.IMPACT: self.dated(events)[Checkpoint.IMPACT]}
        out += [
            v._replace(not_judged_reason=self.not_judged_reason)
            for v in timing.ground_timing(courses, seen, self.moments)
        ]
        return out + timing.push_off(courses, impact)

    def values_across(self, events: Mapping[Checkpoint, Event], courses: Courses) -> list[Measured]:
        return timing.lags(courses, events, self.offset_sd_s)

    def figures(self, address_s: float | None, impact_s: float | None) -> list[Measured]:
        """Path, peak speed and spread of the pressure; how still the player stood."""
        if address_s is None:
            return []
        out = self._standing()
        step = self.loads.step_s
        stop = int(np.searchsorted(self.time_s, address_s + ADDRESS_S / 2))
        rows = slice(max(0, stop - round(1.0 / step)), stop)
        if rows.stop - rows.start >= round(0.3 / step) and self.valid[rows].all():
            still = low_pass(self.loads.both_m[rows], BALANCE_HZ, 1.0 / step)
            at = Moment(Checkpoint.ADDRESS)
            out += [
                Measured(m.BALANCE_SPEED, at, mean_speed(still, step), 0.003, source=self.source),
                Measured(m.PRESSURE_ELLIPSE, at, ellipse_area(still), 0.3e-4, source=self.source),
            ]
        if impact_s is None:
            return out
        rows = slice(stop, int(np.searchsorted(self.time_s, impact_s)) + 1)
        if rows.stop - rows.start < 10 or not self.valid[rows].all():
            return out
        way, whole = self.loads.both_m[rows], Moment("swing")
        return [
            *out,
            Measured(m.PRESSURE_PATH, whole, path_length(way), 0.01, source=self.source),
            Measured(m.PRESSURE_PEAK_SPEED, whole, peak_speed(way, step), 0.05, source=self.source),
            Measured(m.PRESSURE_ELLIPSE, whole, ellipse_area(way), 5e-4, source=self.source),
        ]

    def lacking(self) -> dict[Metric, str]:
        """Reasons why metrics have no value that say more than *needs this source*."""
        reasons = timing.unseen(self.moments) if self.followed else {}
        if self.feet is None or self.feet.both is not None:
            return reasons
        shares = (m.LEAD_SHARE, m.STANCE_POSITION, m.LEAD_FORCE, m.TRAIL_FORCE, m.PEAK_TRAIL_SHARE, m.PEAK_LEAD_SHARE)
        foot = (m.TRAIL_HEEL_TOE, m.TRAIL_FOOT_EDGE) if self.feet.trail is None else (m.LEAD_HEEL_TOE,)
        return dict.fromkeys((*shares, *foot), tr(ONE_FOOT)) | reasons


def view_swing(ground: GroundMotion, span: tuple[float, float], split_m: float | None = None) -> GroundView | None:
    """The swing in ``span`` (s), or None when the ground was not recorded then. ``split_m``: the instructor's line
    between the feet."""
    a, b = (int(k) for k in np.searchsorted(ground.time_s, span))
    if b - a < 20:
        return None
    window = slice(a, b)
    if isinstance(ground, PlateMotion):
        return _view(ground, window, ground.loads(window), None)
    standing = _first_stillness(ground, window)
    feet = find_feet(ground, standing, window, split_m)
    check_feet(feet, ground.stream.source)
    return _view(ground, window, mat_loads(ground, feet, window), feet)


def _first_stillness(mat: MatMotion, window: slice) -> slice:
    """Samples in which the player stands at address, from the whole mat's centre of pressure."""
    places = mat.stream.grid.places_m
    loaded = (mat.most_kpa(window) > 1.0).astype(np.float64)
    sums = mat.sums(np.column_stack([loaded, loaded * places[:, 1]]), window)
    y = sums[:, 1] / np.maximum(sums[:, 0], 1e-6)
    still = stillness(mat.time_s[window], y[:, None])
    if still is None:
        return slice(window.start, window.start + max(5, round(0.3 / mat.stream.step_s)))
    return slice(window.start + still.start, window.start + still.stop)


def _view(ground: GroundMotion, window: slice, loads: Loads, feet: Feet | None) -> GroundView:
    found = Found()
    still = stillness(loads.time_s, loads.both_m)
    address = still if still is not None else slice(0, 0)
    if still is not None:
        middle = float(loads.time_s[(still.start + still.stop) // 2])
        found.events[Checkpoint.ADDRESS] = event(middle, 0.07, "ground-stillness")
    else:
        found.absent[Checkpoint.ADDRESS] = tr("the pressure never came to rest before the swing")
    rows = address if still is not None else slice(0, max(3, len(loads.time_s) // 10))
    weight = float(np.median(loads.total_n[rows]))
    _impact(found, loads, weight, address.stop)
    found.absent[Checkpoint.TOP] = tr(NO_CLUB)
    warnings = []
    if feet is not None and feet.both is None:
        warnings.append(tr(ONE_FOOT))
    share_sd = SHARE_SD
    offset_sd = 0.0
    if isinstance(ground, MatMotion):
        offset_sd = ground.offset_sd_s
        share_sd += 0.5 * ground.flags.saturated_share
    view = GroundView(
        SOURCE[type(ground)],
        window,
        loads.time_s,
        loads.valid,
        found,
        loads,
        feet,
        address,
        max(weight, 1.0),
        offset_sd,
        share_sd,
        warnings,
    )
    if view.not_judged_reason:
        view.warnings.append(view.not_judged_reason)
    if isinstance(ground, MatMotion) and feet is not None and feet.both is not None and _crosses(ground, window, view):
        view.warnings.append(tr(CROSSES))
    return view


def _crosses(mat: MatMotion, window: slice, view: GroundView) -> bool:
    """Whether weight lies on the line between the feet before impact: a foot stepped onto it."""
    assert view.feet is not None
    near = np.abs(mat.stream.grid.places_m[:, 1] - view.feet.split_m) < CORRIDOR_M
    impact = view.found.events.get(Checkpoint.IMPACT)
    stop = len(view.time_s) if impact is None else int(np.searchsorted(view.time_s, impact.time_s))
    if not near.any() or stop < 10:
        return False
    force = mat.sums(near[:, None].astype(np.float64), window)[:stop, 0] * mat.stream.grid.cell_area_m2 * N_PER_KPA_M2
    return bool(np.median(force[force >= np.percentile(force, 95)]) > CROSSING_SHARE * view.weight_n)


def _impact(found: Found, loads: Loads, weight_n: float, after: int) -> None:
    """Impact from the largest vertical force once the trail foot has carried most."""
    total = loads.total_n
    if len(total) - after < 10 or weight_n <= 0:
        found.absent[Checkpoint.IMPACT] = tr(NO_PUSH)
        return
    peak = after + int(np.argmax(total[after:]))
    if total[peak] < (1.0 + PUSH) * weight_n or not loads.valid[peak]:
        found.absent[Checkpoint.IMPACT] = tr(NO_PUSH)
        return
    found.events[Checkpoint.IMPACT] = event(float(loads.time_s[peak]), PUSH_SD_S, "vertical-force-peak")
