"""Where a putter is, from a sensor on its shaft alone: what it feels, summed up twice from rest to rest.

Summing up accelerations drifts with the square of time. A putt is short and begins and ends still: what the sensor
feels at address beyond gravity is taken away, and what speed is left when it is still again is spread over the stroke
(zero-velocity update; Skog et al., IEEE Trans Biomed Eng 57:2657, 2010, from memory). The strike shakes the sensor
faster than it is logged; across it the speed changes as the rate of turn does, as both belong to a turn about the same
far point.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from finearc.core.putting.pendulum import direction_of
from finearc.core.putting.putter import PutterTrack
from finearc.core.putting.setup import PutterGeometry
from finearc.core.signals.streams import GRAVITY_M_S2
from finearc.core.typing import Array, Mask

UP = np.array([0.0, 0.0, 1.0])
SHAKES_S = (0.006, 0.030)
"""A strike is felt from so long before its instant until so long after (house values)."""
ASIDE_S = 0.04
"""From so long before and after the shaking its rate of turn is carried on to the strike (house value)."""
STILL_RAD_S, STILL_S, LATEST_S = np.deg2rad(3.0), 0.15, 2.5
"""Still again: turning no faster over so long, so soon after the ball (house values)."""
SOLE_M = 0.02
"""How high the sweet spot stands over the ground at address (house value)."""
LEAST_LEVEL = 0.05


@dataclass(frozen=True)
class ShaftSensor:
    """A sensor on the shaft over ``time_s`` (n,), s, in even steps: orientation up-from-sensor (n, 3, 3), its ``x``
    toward the head, forces (n, 3), m/s², and rates (n, 3), rad/s, both in its own axes."""

    time_s: Array
    r_up_from_sensor: Array
    felt_m_s2: Array
    rates_rad_s: Array

    @property
    def step_s(self) -> float:
        return float(self.time_s[1] - self.time_s[0])


def axes_at_address(r_up_from_sensor: Array) -> Array | None:
    """Rows (3, 3) of the bay's axes in the upright frame of a shaft's sensor, from how it stands at address (n, 3, 3):
    away from the player, toward where a square face looks, up. None where the shaft stands upright: then nothing says
    where the player is."""
    shaft = r_up_from_sensor[:, :, 0].mean(axis=0)
    level = np.array([shaft[0], shaft[1], 0.0])
    if np.linalg.norm(level) < LEAST_LEVEL * np.linalg.norm(shaft):
        return None
    level /= np.linalg.norm(level)
    return np.stack([level, np.cross(UP, level), UP])


def still_again(sensor: ShaftSensor, impact_s: float) -> slice | None:
    """The stillest moment soon after the ball; None where it never is still."""
    speed = np.linalg.norm(sensor.rates_rad_s, axis=1)
    needed = max(2, round(STILL_S / sensor.step_s))
    first, last = (int(np.searchsorted(sensor.time_s, impact_s + s)) for s in (0.1, LATEST_S))
    if last - first <= needed:
        return None
    mean = np.convolve(speed[first:last], np.ones(needed) / needed, "valid")
    stillest = int(np.argmin(mean))
    return slice(first + stillest, first + stillest + needed) if mean[stillest] < STILL_RAD_S else None


def putter_track(
    sensor: ShaftSensor, address: slice, impact_s: float, struck: bool, geometry: PutterGeometry
) -> PutterTrack | None:
    """Grip end and sweet spot (n, 3), m, in a bay whose target line is where a square face looks at address, the sweet
    spot then at (0, 0, 0.02). None where the sensor never is still again, or the shaft stands upright."""
    axes, rest = axes_at_address(sensor.r_up_from_sensor[address]), still_again(sensor, impact_s)
    if axes is None or rest is None:
        return None
    moved = _moved(sensor, address, rest, impact_s, struck) @ axes.T
    middle = (address.start + address.stop) // 2
    r_at = sensor.r_up_from_sensor[middle]
    turned = axes @ (sensor.r_up_from_sensor @ r_at.T) @ axes.T
    shaft = axes @ r_at[:, 0]
    shaft /= np.linalg.norm(shaft)
    to_grip = -geometry.sensor_m * shaft
    to_head = (geometry.length_m - geometry.sensor_m) * shaft + geometry.head_offset_m * _toe(shaft, geometry.lie_rad)
    stood = np.array([0.0, 0.0, SOLE_M]) - to_head
    grip, head = (stood + moved + turned @ arm for arm in (to_grip, to_head))
    seen = np.asarray((np.arange(len(moved)) >= address.start) & (np.arange(len(moved)) < rest.stop))
    return PutterTrack(sensor.time_s, _only(grip, seen), _only(head, seen), None, address)


def along_its_way(track: PutterTrack, transition_s: float) -> PutterTrack:
    """The same turned about the upright through the ball, so that the head passes the ball along the target line: no
    sensor knows where that lies, and a putt's way is closer to it than the shaft's lean, of which two degrees ahead
    turn the view by six."""
    seen = np.isfinite(track.head_m).all(axis=1)
    home = np.nanmedian(track.head_m[track.address], axis=0)
    way = direction_of(track.head_m[seen], home, track.time_s[seen], transition_s)
    if way is None:
        return track
    back = np.array([[way[1], -way[0], 0.0], [way[0], way[1], 0.0], [0.0, 0.0, 1.0]])
    return replace(track, grip_m=track.grip_m @ back.T, head_m=track.head_m @ back.T)


def _only(points: Array, seen: Mask) -> Array:
    return np.where(seen[:, None], points, np.nan)


def _toe(shaft: Array, lie_rad: float) -> Array:
    """Toward the toe (3,): in the upright plane of the shaft, as far from it as the lie says."""
    rising = UP - (UP @ shaft) * shaft
    rising /= np.linalg.norm(rising)
    return np.asarray(np.cos(lie_rad) * shaft + np.sin(lie_rad) * rising)


def _moved(sensor: ShaftSensor, address: slice, rest: slice, impact_s: float, struck: bool) -> Array:
    """How far the sensor is from where it stood at address (n, 3), m, in its upright frame."""
    r, step, start = sensor.r_up_from_sensor, sensor.step_s, address.stop - 1
    gravity = GRAVITY_M_S2 * UP
    beyond = np.mean(np.einsum("nji,j->ni", r[address], gravity) - sensor.felt_m_s2[address], axis=0)
    forces = np.einsum("nij,nj->ni", r, sensor.felt_m_s2 + beyond) - gravity
    if struck:
        shaken = (sensor.time_s > impact_s - SHAKES_S[0]) & (sensor.time_s < impact_s + SHAKES_S[1])
        forces = np.column_stack(
            [np.interp(sensor.time_s, sensor.time_s[~shaken], course[~shaken]) for course in forces.T]
        )
    speed = _summed(forces, step)
    speed -= speed[start]
    if struck:
        hit = int(np.searchsorted(sensor.time_s, impact_s))
        speed[hit:] += (_kept(sensor, impact_s) - 1.0) * speed[hit - 1]
    left = speed[rest].mean(axis=0)
    begin_s, end_s = sensor.time_s[start], sensor.time_s[(rest.start + rest.stop) // 2]
    speed -= np.clip((sensor.time_s - begin_s) / (end_s - begin_s), 0.0, 1.0)[:, None] * left
    way = _summed(speed, step)
    return np.asarray(way - way[start])


def _summed(values: Array, step_s: float) -> Array:
    out = np.zeros_like(values)
    out[1:] = np.cumsum((values[1:] + values[:-1]) / 2.0 * step_s, axis=0)
    return out


def _kept(sensor: ShaftSensor, impact_s: float) -> float:
    """What share of its rate of turn the putter keeps through the strike: the rates before and after the shaking, each
    carried on to it."""
    before = (sensor.time_s < impact_s - SHAKES_S[0]) & (sensor.time_s > impact_s - SHAKES_S[0] - ASIDE_S)
    after = (sensor.time_s > impact_s + SHAKES_S[1]) & (sensor.time_s < impact_s + SHAKES_S[1] + ASIDE_S)
    mean = sensor.rates_rad_s[before].mean(axis=0)
    axis = mean / max(float(np.linalg.norm(mean)), 1e-9)
    along = sensor.rates_rad_s @ axis
    ends = [
        float(np.polyval(np.polyfit(sensor.time_s[side] - impact_s, along[side], 1), 0.0)) for side in (before, after)
    ]
    return float(np.clip(ends[1] / ends[0], 0.5, 1.0)) if ends[0] > 0.0 else 1.0
