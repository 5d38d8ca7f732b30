"""Which part of a repetition a movement is in, told while samples come: from how far the hand (or club, or trunk) has
turned away from the address and back. At any speed: a slow rehearsal has the same parts as a full swing."""

from __future__ import annotations

from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np

from finearc.core.calibration.poses import STILL_RAD_S
from finearc.core.events.swings import Shot
from finearc.core.typing import Array, Mask

START_RAD_S = np.deg2rad(25.0)
"""Faster than this a movement has begun (house value)."""
LEAST_RAD = np.deg2rad(35.0)
"""Who turns back before this has only waggled (house value)."""
REVERSED_RAD = np.deg2rad(3.0)
"""So far back from the farthest point, it was the top (house value)."""
SHAFT_LEVEL_RAD = np.deg2rad(100.0)
"""So far the hand is turned from its address when the shaft is level going back (93 to 111° in the golfer model)."""
NEAR_TOP_RAD, NEAR_IMPACT_RAD = np.deg2rad(8.0), np.deg2rad(25.0)
PASSED_RAD = np.deg2rad(8.0)
"""So much farther from the address than it came, the hand has passed it (house value)."""
SLOW_SHARE, TRANSITION_SHARE = 0.25, 0.6
"""Going back, the top begins where the turn is slower than this share of its fastest; the transition lasts until this
share of the whole turn is left (house values)."""
STILL_S, HOLDING_S, LONGEST_S = 0.3, 3.0, 12.0
"""After the movement, stillness for so long ends it; at the top it may be held so long; no repetition lasts longer."""
AXIS_S = 0.15
"""The axis of a movement is that of its last moments (house value)."""
KEPT_S = 2.0
SCALE = {Shot.PUTT: 0.2}
"""A putt turns so much less far and less fast than a swing (house value: 7° back is a putt, 5 deg/s its beginning)."""


class Part(StrEnum):
    """Where a repetition is."""

    REST = "rest"
    BACK = "back"
    DOWN = "down"
    THROUGH = "through"


class Phase(StrEnum):
    """Where a band of live feedback holds."""

    WAY_BACK = "way_back"
    TO_SHAFT_LEVEL = "to_shaft_level"
    AT_TOP = "at_top"
    TRANSITION = "transition"
    IMPACT = "impact"
    ALWAYS = "always"


PHASES = tuple(Phase)
BITS = {phase: 1 << k for k, phase in enumerate(PHASES)}


@dataclass
class PartsState:
    """``share``: of the hand's speed and turn that the main sensor reaches; ``scale``: by how much smaller everything
    is than in a full swing (``SCALE``). ``axis``: about which it turned lately,
    (3,); ``swept_rad``: how far along it since the movement began, ``top_rad`` at its farthest; ``address``: how it
    stood (3, 3); ``away_rad``: turned from there, ``nearest_rad`` when it was nearest coming down; ``ready``: whether a
    movement that begins now may be a repetition; ``peak_rad_s``: fastest of this one, ``peak_along_rad_s`` about the
    axis, this way. ``time_s`` and ``bits``: of the last moments, which phases each sample is in."""

    share: float = 1.0
    scale: float = 1.0
    part: Part = Part.REST
    axis: list[float] = field(default_factory=lambda: [0.0, 0.0, 0.0])
    address: Array | None = None
    away_rad: float = 0.0
    nearest_rad: float = np.pi
    swept_rad: float = 0.0
    top_rad: float = 0.0
    peak_rad_s: float = 0.0
    peak_along_rad_s: float = 0.0
    began_s: float = 0.0
    still_s: float | None = None
    ready: bool = True
    last_s: float | None = None
    time_s: list[float] = field(default_factory=list)
    bits: list[int] = field(default_factory=list)


@dataclass(frozen=True)
class Ended:
    """A repetition that is over: its instants, s, how far it went, rad, and its fastest, rad/s."""

    began_s: float
    ended_s: float
    top_rad: float
    peak_rad_s: float


def follow(
    state: PartsState, time_s: Array, rates_up: Array, r_up_from_sensor: Array, *, at_address: bool = True
) -> list[Ended]:
    """Take in how the main sensor turns (``time_s`` (k,), s; ``rates_up`` (k, 3), rad/s in a vertical frame) and stands
    (``r_up_from_sensor`` (k, 3, 3)). The repetitions that end within. ``at_address``: whether the player, if still,
    stands at an address: from a finish none begins."""
    ended = []
    if state.part is Part.REST and state.still_s is not None and len(time_s):
        state.ready = at_address
        state.address = r_up_from_sensor[0] if at_address else state.address
    away = _away(state.address, r_up_from_sensor)
    for t, rate, away_rad in zip(time_s.tolist(), rates_up.tolist(), away.tolist(), strict=True):
        state.away_rad = away_rad
        over = _step(state, t, rate)
        if over is not None:
            ended.append(over)
    _forget(state)
    return ended


def _away(address: Array | None, r_up_from_sensor: Array) -> Array:
    """By how much (k,), rad, each stands turned from the address; without one, by nothing."""
    if address is None:
        return np.zeros(len(r_up_from_sensor))
    traces = np.einsum("ij,kij->k", address, r_up_from_sensor)
    return np.asarray(np.arccos(np.clip((traces - 1.0) / 2.0, -1.0, 1.0)))


def phase_at(state: PartsState, time_s: Array, phase: Phase) -> Mask:
    """Whether each instant (k,), s, of the last moments lies in a phase."""
    if not state.time_s:
        return np.zeros(len(time_s), dtype=bool)
    rows = np.clip(np.searchsorted(state.time_s, time_s - 1e-6), 0, len(state.time_s) - 1)
    return np.asarray(np.array(state.bits)[rows] & BITS[phase] > 0)


def _step(state: PartsState, now_s: float, rate: list[float]) -> Ended | None:
    step_s = 0.0 if state.last_s is None else now_s - state.last_s
    state.last_s = now_s
    x, y, z = rate
    speed = (x * x + y * y + z * z) ** 0.5
    state.still_s = (now_s if state.still_s is None else state.still_s) if speed < STILL_RAD_S else None
    along = _turn(state, now_s, rate, speed, step_s)
    ended = None
    if state.part is not Part.REST:
        ended = _end(state, now_s)
    state.time_s.append(now_s)
    state.bits.append(_bits(state, along))
    return ended


def _turn(state: PartsState, now_s: float, rate: list[float], speed: float, step_s: float) -> float:
    """Go on with the movement; how fast it turns along its own axis, rad/s."""
    if state.part is Part.REST:
        if speed < START_RAD_S * state.scale * state.share or not state.ready:
            return 0.0
        state.part, state.axis, state.began_s = Part.BACK, [0.0, 0.0, 0.0], now_s
        state.swept_rad = state.top_rad = state.peak_rad_s = state.peak_along_rad_s = 0.0
        state.nearest_rad = np.pi
    along = _along(state.axis, rate, speed)
    if along > SLOW_SHARE * state.peak_along_rad_s:  # near a reversal the axis is that of before
        fades = 1.0 - step_s / AXIS_S
        state.axis = [fades * a + w * step_s for a, w in zip(state.axis, rate, strict=True)]
    state.peak_along_rad_s = max(state.peak_along_rad_s, along)
    state.peak_rad_s = max(state.peak_rad_s, speed)
    if state.part is Part.BACK:
        _go_back(state, along * step_s)
    else:
        state.swept_rad -= along * step_s
        state.nearest_rad = min(state.nearest_rad, state.away_rad)
        near, past = 2 * NEAR_IMPACT_RAD * state.scale, PASSED_RAD * state.scale
        passed = state.nearest_rad < near and state.away_rad > state.nearest_rad + past
        state.part = Part.THROUGH if passed else state.part
    return along


def _go_back(state: PartsState, turned_rad: float) -> None:
    """On to the top, and back from there about an axis of its own."""
    state.swept_rad += turned_rad
    state.top_rad = max(state.top_rad, state.swept_rad)
    reversed_rad = REVERSED_RAD * state.scale
    if state.top_rad >= _least(state) and state.swept_rad < state.top_rad - reversed_rad:
        state.part, state.axis, state.peak_along_rad_s = Part.DOWN, [-a for a in state.axis], 0.0


def _least(state: PartsState) -> float:
    return float(LEAST_RAD) * state.scale * state.share


def _along(axis: list[float], rate: list[float], speed: float) -> float:
    length = sum(a * a for a in axis) ** 0.5
    return sum(a * w for a, w in zip(axis, rate, strict=True)) / length if length > 0.0 else speed


def _end(state: PartsState, now_s: float) -> Ended | None:
    """The repetition, where it is over now; a waggle is none."""
    still_s = 0.0 if state.still_s is None else now_s - state.still_s
    least = _least(state)
    turned_back = state.part is Part.BACK and state.swept_rad < state.top_rad - least / 2
    rests = still_s >= (HOLDING_S if state.part is Part.BACK and state.top_rad >= least else STILL_S)
    if not rests and not turned_back and now_s - state.began_s < LONGEST_S:
        return None
    state.part = Part.REST
    if state.top_rad < least:
        return None
    return Ended(state.began_s, now_s, state.top_rad, state.peak_rad_s)


def _bits(state: PartsState, along: float) -> int:
    part, swept = state.part, state.swept_rad
    back, down = part is Part.BACK, part is Part.DOWN
    slowing = back and swept > _least(state) and along < SLOW_SHARE * state.peak_along_rad_s
    inside = {
        Phase.WAY_BACK: back,
        Phase.TO_SHAFT_LEVEL: back and state.away_rad < SHAFT_LEVEL_RAD * state.share,
        Phase.AT_TOP: slowing or (down and swept > state.top_rad - NEAR_TOP_RAD * state.scale),
        Phase.TRANSITION: down and swept > TRANSITION_SHARE * state.top_rad,
        Phase.IMPACT: part in (Part.DOWN, Part.THROUGH) and state.away_rad < NEAR_IMPACT_RAD * state.scale,
        Phase.ALWAYS: True,
    }
    return sum(BITS[phase] for phase, there in inside.items() if there)


def _forget(state: PartsState) -> None:
    if not state.time_s:
        return
    old = int(np.searchsorted(state.time_s, state.time_s[-1] - KEPT_S))
    if old > len(state.time_s) // 2:
        del state.time_s[:old], state.bits[:old]
