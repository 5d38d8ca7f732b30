"""The checkpoints of one swing from a wrist pair, with or without a club clip.

Crossings are interpolated between samples. What cannot be found is absent with its reason.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.events.model import ORDER, Checkpoint, Event, event
from finearc.core.signals.grid import moving_mean
from finearc.core.typing import Array
from finearc.wording import tr

NORMAL_SPAN_S = 0.150
ADDRESS_SPAN_S = 0.2
STRIKE_BEFORE_S, STRIKE_AFTER_S = 0.12, 0.15
"""A strike lies within these of the hand's fastest moment (house values)."""
MISSING = 2.5
"""So many sampling steps without a sample are samples that are missing (house value)."""
NO_STRIKE = "hand-fastest"
SHAFT_ESTIMATE_SD_RAD = np.deg2rad(8.0)
"""How far the shaft may be from where a wrist pair assumes it (lie, lean, grip), house value."""
CLIP_SD_RAD = np.deg2rad(1.0)
ARM_SD_RAD = np.deg2rad(2.5)
"""How well the forearm's own long axis is known from the poses."""


@dataclass(frozen=True)
class SwingSignals:
    """What the checkpoints are found in, all (n,) on one time axis; ``None`` without the source.

    ``*_speed`` rad/s; ``*_rates_up`` (n, 3) rad/s in a vertical frame; ``*_felt``: time stamps (k,), s, and
    forces (k, 3), m/s², as logged. Without a hand sensor the club takes its place.
    """

    time_s: Array
    hand_speed: Array
    hand_rates_up: Array
    hand_felt: tuple[Array, Array]
    club_speed: Array | None = None
    club_rates_up: Array | None = None
    club_felt: tuple[Array, Array] | None = None
    main_name: str = "hand"
    has_strike: bool = True
    """Whether a strike can be felt: not on the body."""


@dataclass
class Found:
    """Events found so far and why others are absent."""

    events: dict[Checkpoint, Event] = field(default_factory=dict)
    absent: dict[Checkpoint, str] = field(default_factory=dict)


def crossing(
    time_s: Array, values: Array, a: int, b: int, *, rising: bool, last: bool = False
) -> tuple[float, float] | None:
    """First (or ``last``) zero crossing of ``values`` (n,) between samples ``a`` and ``b``, linear between samples: its
    time, s, and the slope there, unit of the values per s; None where there is none. ``time_s`` (n,), s."""
    v = values[a:b]
    hits = np.flatnonzero((v[:-1] < 0) & (v[1:] >= 0) if rising else (v[:-1] > 0) & (v[1:] <= 0))
    if not len(hits):
        return None
    k = a + int(hits[-1 if last else 0])
    step = time_s[k + 1] - time_s[k]
    slope = (values[k + 1] - values[k]) / step
    return float(time_s[k] - values[k] / slope), float(slope)


def find_impact(s: SwingSignals) -> Event:
    """Impact from the shock in the club's and the hand's forces; without a strike, roughly the hand's fastest moment
    (standard uncertainty 30 ms). Never None.

    Two sensors sample at different instants, so their mean is better than either, where they agree. A shock's floor,
    17 m/s² at the club and 8.5 m/s² at the hand between samples, is a house value from simulated strikes."""
    peak = int(np.argmax(s.hand_speed))
    found = []
    for name, felt, floor in (("club", s.club_felt, 17.0), (s.main_name, s.hand_felt, 8.5)):
        struck = None if felt is None else shock(felt[0], felt[1], float(s.time_s[peak]), floor)
        if struck is not None:
            found.append((name, *struck))
    if len(found) == 2 and abs(found[0][1] - found[1][1]) < 6.0 * found[0][2]:
        (_, a, u), (_, b, v) = found
        return event((a + b) / 2.0, float(np.hypot(u, v)) / 2.0, "club-and-hand-shock")
    if found:
        return event(found[0][1], found[0][2], f"{found[0][0]}-shock")
    return event(float(s.time_s[peak]), 0.03, NO_STRIKE)


def _bends(time_s: Array, felt: Array, near_s: float) -> tuple[int, Array, float]:
    """How sharply the forces bend around ``near_s`` (s): second differences' sizes (k,), m/s², the number of the first
    sample among them, and the sampling step, s. Empty where too little is there; NaN across missing samples."""
    a, b = np.searchsorted(time_s, [near_s - STRIKE_BEFORE_S, near_s + STRIKE_AFTER_S])
    a = max(2, int(a))
    if b - a < 8:
        return a, np.empty(0), 0.0
    pauses = np.diff(time_s[a - 2 : b])
    step = float(np.median(pauses))
    bend = felt[a:b] - 2 * felt[a - 1 : b - 1] + felt[a - 2 : b - 2]
    size = np.sqrt(np.einsum("ij,ij->i", bend, bend))
    missing = pauses > MISSING * step
    size[missing[1:] | missing[:-1]] = np.nan
    return a, size, step


def shock(time_s: Array, felt: Array, near_s: float, floor: float, leaves: float = 6.0) -> tuple[float, float] | None:
    """Onset of the strike near ``near_s`` and its standard uncertainty, s: the middle of the sampling step in
    which the forces leave their smooth course: their second difference, at least ``floor`` somewhere, is larger than
    ``leaves``, m/s² at 200 Hz."""
    a, size, step = _bends(time_s, felt, near_s)
    if not np.isfinite(size).any():
        return None
    coarse = max(1.0, step / 0.005)  # a smooth curve bends more between coarser samples
    largest, usual = float(np.nanmax(size)), float(np.nanmedian(size))
    if largest < max(floor * coarse, 3.0 * usual):
        return None
    near = max(0, int(np.nanargmax(size)) - int(0.02 / step))
    first = a + near + int(np.argmax(size[near:] > max(leaves * coarse, 3.0 * usual, 0.12 * largest)))
    return float((time_s[first] + time_s[first - 1]) / 2), step / float(np.sqrt(12.0))


def is_unstruck(time_s: Array, felt: Array, near_s: float, least: float = np.inf) -> bool | None:
    """Whether a sensor (``time_s`` (n,), s; ``felt`` (n, 3), m/s²) surely felt no strike near ``near_s`` (s): nothing
    bends three times as much as usual (house value: 2.8 in 25 simulated swings without a ball). None where samples are
    missing in which it could have been, or where a strike's ``least`` bend (m/s²) could be lost in what is usual."""
    _, size, _ = _bends(time_s, felt, near_s)
    if not len(size) or np.isnan(size).any():
        return None
    limit = 3.0 * np.median(size)
    return None if limit > least else bool(size.max() < limit)


def find_top(time_s: Array, rates_up: Array, impact_s: float, name: str) -> tuple[Event | None, str]:
    """Last reversal about the swing-plane normal before impact; the normal is the mean direction of the
    angular velocity over the 150 ms before impact. ``time_s`` (n,), s; ``rates_up`` (n, 3), rad/s, in a vertical frame;
    ``name`` of what turned. Gives the event, or None and why: its standard uncertainty is 3 ms and what 6 deg/s of
    noise make at the rate with which the turn reverses (house values)."""
    step = float(time_s[1] - time_s[0])
    stop = int(np.searchsorted(time_s, impact_s))
    span = max(3, int(NORMAL_SPAN_S / step))
    if stop <= span:
        return None, tr("the recording starts too late to see the top")
    normal = rates_up[stop - span : stop].mean(axis=0)
    along = rates_up @ (normal / max(float(np.linalg.norm(normal)), 1e-9))
    hit = crossing(time_s, along, 0, stop - int(0.04 / step), rising=True, last=True)
    if hit is None:
        return None, tr("the club never reversed before impact")
    noise = np.deg2rad(6.0) / max(abs(hit[1]), 1.0)
    return event(hit[0], float(np.hypot(0.003, noise)), f"{name}-reversal"), ""


def find_takeaway(time_s: Array, speed: Array, top_s: float, name: str) -> tuple[Event | None, int]:
    """Onset of the sustained motion that leads to the top, and the index where stillness ended. ``time_s`` (n,), s;
    ``speed`` (n,), rad/s, whose mean over 30 ms stays above 20 deg/s from there on, followed back to where it left its
    quiet (house values). None when it was never slow before ``top_s``, s."""
    step = float(time_s[1] - time_s[0])
    smooth = moving_mean(speed, max(1, round(0.03 / step)))
    stop = int(np.searchsorted(time_s, top_s - 0.1))
    slow = np.flatnonzero(smooth[:stop] < np.deg2rad(20.0))
    if not len(slow):
        return None, 0
    onset = int(slow[-1])
    quiet = max(np.deg2rad(3.0), 3.0 * float(np.percentile(smooth[:stop], 5)))
    k = onset
    while k > 0 and smooth[k] > quiet and onset - k < int(0.6 / step):
        k -= 1
    return event(float(time_s[k]), 0.015, f"{name}-onset"), k


def find_address(time_s: Array, speed: Array, moved_at: int) -> tuple[Event | None, slice, str]:
    """The last stillness before sample ``moved_at``: 0.2 s in which ``speed`` (n,), rad/s, averaged over 50 ms, stays
    below 6 deg/s, else below 14 (house values). Gives the event at its middle, the samples from which values at address
    are taken, and, where the event is None, why."""
    step = float(time_s[1] - time_s[0])
    span = max(3, int(ADDRESS_SPAN_S / step))
    smooth = moving_mean(speed, max(1, round(0.05 / step)))
    for limit, method in ((6.0, "stillness"), (14.0, "near-stillness")):
        still = smooth[: moved_at + 1] < np.deg2rad(limit)
        runs = np.convolve(still, np.ones(span), "valid") >= span
        ends = np.flatnonzero(runs)
        if len(ends):
            a = int(ends[-1])
            middle = float(time_s[a + span // 2])
            return event(middle, 0.05 if method == "stillness" else 0.1, method), slice(a, a + span), ""
    return None, slice(0, 0), tr("the player never came to rest before the takeaway")


def levels(found: Found, time_s: Array, elevation: Array, sd_rad: float, method: str, *, arm: bool) -> None:
    """Arm or shaft level crossings between takeaway, top and impact, put into ``found``. ``time_s`` (n,), s;
    ``elevation`` (n,), rad, positive above level, known to ``sd_rad``. Their standard uncertainty, s, is that of the
    elevation over the rate at which level is crossed (at least 0.5 rad/s), with 0.3 of a sample."""
    at = {
        name: int(np.searchsorted(time_s, found.events[name].time_s))
        for name in (Checkpoint.TAKEAWAY, Checkpoint.TOP, Checkpoint.IMPACT)
    }
    back, down = (
        (Checkpoint.ARM_LEVEL_BACK, Checkpoint.ARM_LEVEL_DOWN)
        if arm
        else (Checkpoint.SHAFT_LEVEL_BACK, Checkpoint.SHAFT_LEVEL_DOWN)
    )
    what = tr("lead arm") if arm else tr("shaft")
    hits = {
        back: crossing(time_s, elevation, at[Checkpoint.TAKEAWAY], at[Checkpoint.TOP] + 1, rising=True),
        down: crossing(time_s, elevation, at[Checkpoint.TOP], at[Checkpoint.IMPACT] + 1, rising=False, last=True),
    }
    if not arm:
        hits[Checkpoint.SHAFT_LEVEL_THROUGH] = crossing(
            time_s, elevation, at[Checkpoint.IMPACT], len(time_s), rising=True
        )
    step = float(time_s[1] - time_s[0])
    for name, hit in hits.items():
        if hit is None:
            found.absent[name] = tr("the {what} did not become level there", what=what)
        else:
            found.events[name] = event(hit[0], float(np.hypot(sd_rad / max(abs(hit[1]), 0.5), 0.3 * step)), method)


def find_finish(time_s: Array, speed: Array, impact_s: float) -> Event:
    """Stillness after impact: ``speed`` (n,), rad/s, averaged over 0.1 s, below 30 deg/s (house value), from 0.15 s
    after ``impact_s`` on; else the end of the recording."""
    step = float(time_s[1] - time_s[0])
    start = int(np.searchsorted(time_s, impact_s + 0.15))
    slow = moving_mean(speed, max(1, round(0.1 / step)))[start:] < np.deg2rad(30.0)
    if slow.any():
        return event(float(time_s[start + int(np.argmax(slow))]), 0.05, "stillness")
    return event(float(time_s[-1]), 0.2, "end-of-recording")


def best_of(seen: Sequence[Found]) -> Found:
    """Each checkpoint as the most certain source saw it, the others kept beside it."""
    out = Found()
    for name in ORDER:
        candidates = sorted((f.events[name] for f in seen if name in f.events), key=lambda e: e.uncertainty_s)
        if candidates:
            out.events[name] = replace(candidates[0], others=tuple(candidates[1:]))
        else:
            why = next((f.absent[name] for f in seen if name in f.absent), None)
            if why is not None:
                out.absent[name] = why
    return out


def keep_in_order(found: Found) -> None:
    """Checkpoints out of their order in time are dropped with a reason."""
    last = -np.inf
    for name in ORDER:
        if name not in found.events:
            continue
        if found.events[name].time_s < last:
            found.absent[name] = tr("found out of order with the other checkpoints")
            del found.events[name]
        else:
            last = found.events[name].time_s


def apply_corrections(found: Found, corrections: Mapping[Checkpoint, float], step_s: float) -> None:
    """An instructor's own instants take the place of the detected ones, which are kept elsewhere."""
    for name, time_s in corrections.items():
        found.events[name] = Event(float(time_s), step_s, "instructor", 1.0)
        found.absent.pop(name, None)
