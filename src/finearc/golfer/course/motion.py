"""What a club does besides being swung: pieces of true motion of its grip end, on the golfer model's fine grid.

All amounts and durations are house values: what one sees on a course, not a finding about golfers."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.typing import Array
from finearc.golfer.arm import STEP_S, minimum_jerk

ARM_M = 0.7
"""From the shoulder to the hands about which a club is waved or carried."""
LENGTH_M = 0.95


@dataclass(frozen=True)
class Moved:
    """``r_bay_from_club`` (n, 3, 3), columns shaft (grip to head) and two across; ``place_m`` (n, 3) of the clip, bay;
    ``knocks``: when (s from the beginning) and how hard, m/s², something hits the club."""

    r_bay_from_club: Array
    place_m: Array
    knocks: tuple[tuple[float, float], ...] = ()


def held(elevation_rad: float, rng: np.random.Generator) -> Array:
    """A club (3, 3) with its shaft at an elevation, by chance in heading and about itself."""
    heading, about = rng.uniform(-np.pi, np.pi, 2)
    level, up = np.cos(elevation_rad), np.sin(elevation_rad)
    shaft = np.array([level * np.cos(heading), level * np.sin(heading), up])
    across = np.array([-np.sin(heading), np.cos(heading), 0.0])
    r = np.column_stack([shaft, across, np.cross(shaft, across)])
    return np.asarray(r @ Rotation.from_euler("x", about).as_matrix())


def _turned(r: Array, axis: Array, angle_rad: Array, lever_m: Array, knocks: tuple[tuple[float, float], ...]) -> Moved:
    """A club turned as a whole about a point ``lever_m`` (3,) away from its clip."""
    turn = Rotation.from_rotvec(angle_rad[:, None] * axis / np.linalg.norm(axis))
    return Moved(turn.as_matrix() @ r, -turn.apply(-lever_m) + lever_m, knocks)


def _time(seconds: float) -> Array:
    return STEP_S * np.arange(round(seconds / STEP_S), dtype=np.float64)


def _across(r: Array, rng: np.random.Generator) -> Array:
    """An axis about which the shaft moves fully: across it."""
    return np.asarray(r @ np.array([0.0, *np.array([np.cos(a := rng.uniform(0, 2 * np.pi)), np.sin(a)])]))


def waggle(rng: np.random.Generator) -> Moved:
    """At the address, to and fro a few times."""
    r = held(np.deg2rad(rng.uniform(-62.0, -50.0)), rng)
    time_s = _time(rng.uniform(2.0, 5.0))
    hz, size = rng.uniform(0.8, 1.6), np.deg2rad(rng.uniform(8.0, 30.0))
    fading = np.minimum(1.0, np.minimum(time_s, time_s[-1] - time_s) / 0.5)
    return _turned(r, _across(r, rng), size * fading * np.sin(2 * np.pi * hz * time_s), np.array([0.0, 0.0, 0.1]), ())


def walk(rng: np.random.Generator) -> Moved:
    """Carried in the hand: it swings with the arm, and each step is felt."""
    r = held(np.deg2rad(rng.uniform(-80.0, 20.0)), rng)
    time_s = _time(rng.uniform(3.0, 9.0))
    hz, size = rng.uniform(0.8, 1.1), np.deg2rad(rng.uniform(8.0, 35.0))
    steps = np.arange(0.3, time_s[-1] - 0.1, 0.5 / hz)
    knocks = tuple((float(t), float(rng.uniform(1.0, 4.0))) for t in steps)
    begun = np.minimum(1.0, time_s / 0.6)
    angle = size * begun * np.sin(2 * np.pi * hz * time_s + rng.uniform(-0.5, 0.5))
    return _turned(r, _across(r, rng), angle - angle[0], np.array([0.0, 0.0, ARM_M]), knocks)


def bag(rng: np.random.Generator) -> Moved:
    """In the bag while that is set down, pulled or driven: hardly turning, knocked often."""
    r = held(np.deg2rad(rng.uniform(40.0, 90.0)), rng)
    time_s = _time(rng.uniform(1.5, 4.0))
    angle = np.deg2rad(rng.uniform(1.0, 6.0)) * np.exp(-time_s / 0.8) * np.sin(2 * np.pi * rng.uniform(1, 3) * time_s)
    knocks = sorted(rng.uniform(0.2, time_s[-1] - 0.2, int(rng.integers(1, 6))))
    hits = tuple((float(t), float(rng.uniform(10.0, 120.0))) for t in knocks)
    return _turned(r, _across(r, rng), angle, np.array([0.0, 0.0, -0.8]), hits)


def drawn(rng: np.random.Generator) -> Moved:
    """Pulled out of the bag or put back: one slow turn, a knock at one end."""
    r = held(np.deg2rad(rng.uniform(50.0, 90.0)), rng)
    lasts, turns = rng.uniform(0.9, 2.2), np.deg2rad(rng.uniform(60.0, 150.0))
    time_s = _time(lasts + 1.2)
    angle = turns * minimum_jerk(np.clip((time_s - 0.5) / lasts, 0.0, 1.0))
    end = 0.3 if rng.random() < 0.5 else lasts + 0.6
    if rng.random() < 0.5:
        angle = angle[::-1]
    return _turned(r, _across(r, rng), angle, np.array([0.0, 0.0, 0.4]), ((end, float(rng.uniform(15.0, 90.0))),))


def dropped(rng: np.random.Generator) -> Moved:
    """Let go: it falls over and hits the ground, bounces, lies."""
    r = held(np.deg2rad(rng.uniform(-85.0, -50.0)), rng)
    falls_s = rng.uniform(0.45, 0.7)
    time_s = _time(falls_s + 2.2)
    u = np.clip((time_s - 0.6) / falls_s, 0.0, 1.0)
    angle = np.deg2rad(rng.uniform(50.0, 85.0)) * u**2
    hit = 0.6 + falls_s
    knocks = ((hit, float(rng.uniform(120.0, 260.0))), (hit + 0.12, float(rng.uniform(40.0, 90.0))))
    return _turned(r, _across(r, rng), angle, np.array([0.0, 0.0, -LENGTH_M]), knocks)


def tapped(rng: np.random.Generator) -> Moved:
    """Knocked against a shoe to clean it: back a little, a hit, and no way on."""
    r = held(np.deg2rad(rng.uniform(-70.0, -30.0)), rng)
    taps = int(rng.integers(2, 5))
    piece = _time(0.5)
    back = np.deg2rad(rng.uniform(12.0, 35.0))
    one = back * np.where(piece < 0.3, np.sin(np.pi * piece / 0.6) ** 2, np.clip(1 - (piece - 0.3) / 0.15, 0, 1) ** 0.8)
    rest = np.zeros(round(0.8 / STEP_S))
    angle = np.concatenate([rest, np.tile(one, taps), rest])
    knocks = tuple((0.8 + 0.5 * k + 0.45, float(rng.uniform(40.0, 160.0))) for k in range(taps))
    smooth = np.convolve(np.pad(angle, 10, mode="edge"), np.ones(21) / 21, "valid")
    return _turned(r, _across(r, rng), smooth, np.array([0.0, 0.0, 0.05]), knocks)


def leant_on(rng: np.random.Generator) -> Moved:
    """Used as a stick: slow, the head on the ground."""
    r = held(np.deg2rad(rng.uniform(-85.0, -65.0)), rng)
    time_s = _time(rng.uniform(2.0, 6.0))
    angle = np.deg2rad(rng.uniform(2.0, 12.0)) * np.sin(2 * np.pi * rng.uniform(0.1, 0.4) * time_s)
    knocks = ((0.2, float(rng.uniform(5.0, 30.0))),)
    return _turned(r, _across(r, rng), angle, np.array([0.0, 0.0, -LENGTH_M]), knocks)


DISTURBANCES: Mapping[str, Callable[[np.random.Generator], Moved]] = {
    "waggle": waggle,
    "walk": walk,
    "bag": bag,
    "drawn": drawn,
    "dropped": dropped,
    "tapped": tapped,
    "leant_on": leant_on,
}
