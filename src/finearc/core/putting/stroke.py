"""The checkpoints of a putt: still, back, through, still."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, Event, event
from finearc.core.putting.putter import PutterTrack
from finearc.core.signals.filters import low_pass
from finearc.core.signals.grid import moving_mean
from finearc.core.typing import Array
from finearc.wording import tr

REVERSAL_HZ = 8.0
"""Low pass of what turns, zero phase, before its reversal is looked for (the definition's)."""
ONSET_RAD_S, ONSET_M_S = np.deg2rad(1.5), 0.012
"""Least rate that is a beginning: of a hand or a putter, of a head (house values)."""
NOISES = 4.0
"""So many times the trembling of the stillness before is motion (house value)."""
LEAST_FORWARD_S = 0.08
SHOCK_FLOOR_M_S2 = {"putter": 3.0, "hand": 0.8}
"""Least bend of the forces between samples that a struck ball makes (house values from simulated putts)."""
AFTER_RAD_S = np.deg2rad(4.0)


@dataclass(frozen=True)
class Felt:
    """Forces as logged: times (k,), s, and values (k, 3), m/s², of what ``name`` says."""

    name: str
    time_s: Array
    felt_m_s2: Array


@dataclass(frozen=True)
class Turned:
    """What turns in the stroke: rates (n, 3), rad/s, in a vertical frame, over ``time_s`` (n,); ``reversal_sd_s``: how
    well its reversal is known; ``forces`` in which the strike is looked for, best first."""

    name: str
    time_s: Array
    rates_up: Array
    forces: Sequence[Felt]
    reversal_sd_s: float


def turned_stroke(what: Turned) -> tuple[cp.Found, slice]:
    """Checkpoints of the putt that fills the window, and the samples of its address. What cannot be found is absent
    with a reason."""
    time_s = what.time_s
    found = cp.Found()
    step = float(time_s[1] - time_s[0])
    rates = low_pass(what.rates_up, REVERSAL_HZ, 1.0 / step)
    speed = np.sqrt(np.einsum("ij,ij->i", rates, rates))
    peak = _through(rates, speed, step)
    struck = strike(what.forces, float(time_s[peak]))
    near = struck.time_s if struck is not None else float(time_s[peak])
    axis = _axis(time_s, rates, near)
    along = rates @ axis
    impact, address = struck, slice(0, 0)
    reversal = _reversal(time_s, along, near)
    if reversal is None:
        _absent(found, tr("the putter never reversed before the ball"))
    else:
        address = _beginning(found, time_s, along, speed, reversal, what.name)
        sd = float(np.hypot(what.reversal_sd_s, np.deg2rad(0.5) / max(abs(reversal[1]), 0.2)))
        found.events[Checkpoint.TRANSITION] = event(reversal[0], sd, f"{what.name}-reversal")
        if impact is None and address.stop:
            impact = _return(time_s, along, address, near)
    if impact is None:
        found.absent[Checkpoint.IMPACT] = tr("no strike was felt, and nothing came back to where it was at address")
    else:
        found.events[Checkpoint.IMPACT] = impact
        found.events[Checkpoint.FINISH] = finish(time_s, along, impact.time_s, AFTER_RAD_S)
    return found, address


def _absent(found: cp.Found, why: str) -> None:
    for name in (Checkpoint.TRANSITION, Checkpoint.TAKEAWAY, Checkpoint.ADDRESS):
        found.absent[name] = why


def _through(rates: Array, speed: Array, step: float) -> int:
    """The fastest moment of the forward stroke: of two turns that are opposite, the later one."""
    k = int(np.argmax(speed))
    way = rates[k] / max(float(speed[k]), 1e-9)
    along = rates @ way
    later = slice(k + int(0.15 / step), k + int(1.2 / step))
    if later.start < len(along) and len(along[later]) and -along[later].min() > 0.8 * along[k]:
        return later.start + int(np.argmin(along[later]))  # the backstroke was the faster one
    return k


def _axis(time_s: Array, rates: Array, before_s: float) -> Array:
    """Mean axis (3,) of the turn over the 150 ms before the ball."""
    a, b = np.searchsorted(time_s, [before_s - cp.NORMAL_SPAN_S, before_s])
    mean = rates[int(a) : max(int(b), int(a) + 2)].mean(axis=0)
    return np.asarray(mean / max(float(np.linalg.norm(mean)), 1e-9))


def _reversal(time_s: Array, along: Array, before_s: float) -> tuple[float, float] | None:
    stop = int(np.searchsorted(time_s, before_s - LEAST_FORWARD_S))
    return cp.crossing(time_s, along, 0, stop, rising=True, last=True)


def _beginning(
    found: cp.Found, time_s: Array, along: Array, speed: Array, reversal: tuple[float, float], name: str
) -> slice:
    """Takeaway, and address, whose samples are returned. ``along``: rate on the stroke's axis, negative going back."""
    onset = beginning(time_s, along, reversal[0], ONSET_RAD_S)
    if onset is None:
        found.absent[Checkpoint.TAKEAWAY] = tr("the recording starts after the stroke began")
        found.absent[Checkpoint.ADDRESS] = tr("the checkpoint before it was not found")
        return slice(0, 0)
    found.events[Checkpoint.TAKEAWAY] = event(onset, 0.012, f"{name}-onset")
    start, address, why = cp.find_address(time_s, speed, int(np.searchsorted(time_s, onset)))
    if start is None:
        found.absent[Checkpoint.ADDRESS] = why
    else:
        found.events[Checkpoint.ADDRESS] = start
    return address


def beginning(time_s: Array, along: Array, reversal_s: float, least: float) -> float | None:
    """When the backstroke begins, s: from where its rate ``along`` (n,), negative going back, has left its quiet for
    good, followed back along its rise to rest. None where it never was at rest before ``reversal_s``."""
    step = float(time_s[1] - time_s[0])
    stop = int(np.searchsorted(time_s, reversal_s))
    first = max(0, stop - int(2.0 / step))
    back = -along[first:stop]
    if len(back) < 10:
        return None
    fastest = int(np.argmax(back))
    early = back[: max(5, fastest - int(0.25 / step))]
    quiet = float(np.sqrt(np.mean(early[: max(5, len(early) // 2)] ** 2)))
    limit = max(least, min(NOISES * quiet, 0.25 * float(back[fastest])))
    slow = np.flatnonzero(back[:fastest] < limit)
    if not len(slow):
        return None
    k = int(slow[-1])
    rise = np.flatnonzero(back[k : fastest + 1] >= min(3.0 * limit, 0.6 * float(back[fastest])))
    top = k + (int(rise[0]) if len(rise) else fastest - k)
    if top <= k + 1:
        return float(time_s[first + k])
    slope = (back[top] - back[k]) / (time_s[first + top] - time_s[first + k])
    return float(time_s[first + k] - max(0.0, back[k]) / slope)


def strike(forces: Sequence[Felt], near_s: float) -> Event | None:
    """The ball's strike as the first of several forces that felt it says; where two agree, their mean."""
    found = []
    for felt in forces:
        floor = SHOCK_FLOOR_M_S2[felt.name]
        shock = cp.shock(felt.time_s, felt.felt_m_s2, near_s, floor, 0.4 * floor)
        if shock is not None:
            found.append((felt.name, *shock))
    if not found:
        return None
    (name, at, sd), *others = found
    agree = next((o for o in others if abs(o[1] - at) < 6.0 * sd), None)
    if agree is not None:
        return event((at + agree[1]) / 2.0, float(np.hypot(sd, agree[2])) / 2.0, f"{name}-and-{agree[0]}-shock")
    return event(at, sd, f"{name}-shock")


def _return(time_s: Array, along: Array, address: slice, near_s: float) -> Event | None:
    """Without a strike: when what turns is back where it was at address."""
    step = float(time_s[1] - time_s[0])
    turned = np.cumsum(along) * step
    turned -= turned[address.stop - 1]
    a, b = np.searchsorted(time_s, [near_s - 0.25, near_s + 0.25])
    hit = cp.crossing(time_s, turned, int(a), int(b), rising=True)
    return None if hit is None else event(hit[0], 0.015, RETURN)


RETURN = "hand-return"


def finish(time_s: Array, along: Array, impact_s: float, still: float) -> Event:
    """The first reversal or stillness after the ball; else the end of the recording."""
    step = float(time_s[1] - time_s[0])
    start = int(np.searchsorted(time_s, impact_s + 0.1))
    slow = moving_mean(along, max(1, round(0.05 / step)))[start:] < still
    if slow.any():
        return event(float(time_s[start + int(np.argmax(slow))]), 0.03, "reversal-or-stillness")
    return event(float(time_s[-1]), 0.2, "end-of-recording")


def head_stroke(time_s: Array, head_m: Array) -> tuple[cp.Found, slice]:
    """Checkpoints from the head's track (n, 3), m, bay: its reversal along the target line, its passage of the address
    place."""
    step = float(time_s[1] - time_s[0])
    found = cp.Found()
    smooth = low_pass(head_m, 12.0, 1.0 / step)
    velocity = np.gradient(smooth, step, axis=0)
    speed = np.linalg.norm(velocity, axis=1)
    forward = velocity[:, 1]
    peak = int(np.argmax(forward))
    hit = cp.crossing(time_s, forward, 0, max(0, peak - int(0.03 / step)), rising=True, last=True)
    if hit is None or forward[peak] < 0.15:
        _absent(found, tr("the putter's head never reversed before the ball"))
        found.absent[Checkpoint.IMPACT] = found.absent[Checkpoint.TRANSITION]
        return found, slice(0, 0)
    found.events[Checkpoint.TRANSITION] = event(hit[0], 0.0015, "head-reversal")
    onset = beginning(time_s, forward, hit[0], ONSET_M_S)
    if onset is None:
        found.absent[Checkpoint.TAKEAWAY] = tr("the recording starts after the stroke began")
        found.absent[Checkpoint.ADDRESS] = tr("the checkpoint before it was not found")
        found.absent[Checkpoint.IMPACT] = tr("the head's place at address was not seen")
        return found, slice(0, 0)
    found.events[Checkpoint.TAKEAWAY] = event(onset, 0.012, "head-onset")
    # a head at 0.1 m/s turns about a pivot over it at some 5 deg/s
    start, address, why = cp.find_address(time_s, speed / 1.2, int(np.searchsorted(time_s, onset)))
    if start is None:
        found.absent[Checkpoint.ADDRESS] = why
        found.absent[Checkpoint.IMPACT] = tr("the head's place at address was not seen")
        return found, slice(0, 0)
    found.events[Checkpoint.ADDRESS] = start
    impact = passage(time_s, head_m, address, hit[0])
    if impact is None:
        found.absent[Checkpoint.IMPACT] = tr("the head did not come back to its place at address")
    else:
        found.events[Checkpoint.IMPACT] = impact
        found.events[Checkpoint.FINISH] = finish(time_s, forward, impact.time_s, 0.05)
    return found, address


def passage(time_s: Array, head_m: Array, address: slice, after_s: float) -> Event | None:
    """When the head passes its address place, between frames: the way up to it carried on by a quadratic, as the strike
    slows the head."""
    step = float(time_s[1] - time_s[0])
    home = np.nanmedian(head_m[address], axis=0)
    a = int(np.searchsorted(time_s, after_s))
    along = (head_m - home)[:, 1]
    hits = np.flatnonzero((along[a:-1] < 0) & (along[a + 1 :] >= 0))
    if not len(hits):
        return None
    k = a + int(hits[0])
    near = slice(max(a, k - max(4, round(0.025 / step))), k + 1)
    way = np.polyfit(time_s[near] - time_s[k], (head_m[near] - home)[:, :2], 1)[0]
    way /= np.linalg.norm(way)
    square = (head_m[near] - home)[:, :2] @ way
    fit = np.polyfit(time_s[near] - time_s[k], square, 2)
    roots = [float(r.real) for r in np.roots(fit) if abs(r.imag) < 1e-12 and -2 * step <= r.real <= 3 * step]
    if roots:
        return event(float(time_s[k]) + min(roots, key=abs), float(np.hypot(0.0004, 0.03 * step)), "head-passage")
    share = -along[k] / (along[k + 1] - along[k])
    return event(float(time_s[k]) + share * step, 0.3 * step, "head-passage")


TRACKED_SD_S = 0.003
"""How well a head that a sensor on the shaft alone has followed is known to reverse (measured on the golfer model)."""


def head_reversal(track: PutterTrack, before_s: float) -> Event | None:
    """The last reversal along the target line, before the ball, of a head that was followed."""
    seen = np.flatnonzero(np.isfinite(track.head_m[:, 1]))
    time_s = track.time_s[seen]
    forward = np.gradient(track.head_m[seen, 1], time_s)
    stop = int(np.searchsorted(time_s, before_s - LEAST_FORWARD_S))
    hit = cp.crossing(time_s, forward, 0, stop, rising=True, last=True)
    return None if hit is None else event(hit[0], TRACKED_SD_S, "putter-head-reversal")
