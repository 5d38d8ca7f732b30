"""From true motion to what cheap sensors would have logged."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.spatial.transform import Rotation

from finearc.core.signals.streams import GRAVITY_M_S2, ImuStream, Segment
from finearc.core.typing import Array
from finearc.golfer.arm import STEP_S, minimum_jerk
from finearc.golfer.session import TrueSession, angular_velocity
from finearc.golfer.whole import head_of

FROM_ELBOW_M = {Segment.LEAD_FOREARM: 0.19}
SLIP_S = 0.15
"""How long a sensor takes to slip."""
ABOVE_ELBOW_M = 0.10
HAND_LEVER_M = {Segment.LEAD_HAND: 0.05, Segment.CLUB: 0.02}
SHOCK_M_S2 = {
    Segment.LEAD_FOREARM: 25.0,
    Segment.LEAD_UPPER_ARM: 8.0,
    Segment.LEAD_HAND: 70.0,
    Segment.CLUB: 260.0,
    Segment.THORAX: 1.5,
    Segment.PELVIS: 1.0,
    Segment.HEAD: 1.0,
}
HEEL_TAP_M_S2 = {Segment.PELVIS: 14.0, Segment.THORAX: 7.0}
"""What a firm tap of the lead heel does to a sensor (house values); 3 elsewhere."""


@dataclass(frozen=True)
class Slip:
    """A sensor that moves on its segment at ``at_s`` by ``angle_deg``: about the segment's ``axis`` (3,), else about
    one by chance."""

    segment: Segment
    at_s: float
    angle_deg: float = 22.0
    axis: tuple[float, float, float] | None = None


@dataclass(frozen=True)
class SensorQuirks:
    """Noise and faults. Defaults: consumer grade."""

    rate_hz: float = 200.0
    gyro_noise_deg_s: float = 0.1
    gyro_bias_deg_s: float = 0.6
    acc_noise_m_s2: float = 0.03
    acc_bias_m_s2: float = 0.03
    gyro_range_deg_s: float = 2000.0
    acc_range_g: float = 16.0
    jitter_s: float = 0.0002
    gaps: tuple[tuple[float, float], ...] = ()
    slip: Slip | None = None
    swapped: bool = False
    other_arm: bool = False
    clip_reversed: bool = False
    mount_spread_deg: float = 40.0
    tap_s: float | None = None
    extra: dict[str, float] = field(default_factory=dict)


def _segment_motion(truth: TrueSession, segment: Segment) -> tuple[Array, Array]:
    """Orientation (n, 3, 3) and position (n, 3), m, of a sensor's place on its segment."""
    if segment is Segment.PELVIS:
        r = truth.trunk.r_pelvis
        return r, truth.trunk.pelvis_m + r @ np.array([-0.10, 0.0, 0.05])
    if segment is Segment.THORAX:
        r = truth.trunk.r_thorax
        return r, truth.trunk.upper_m + r @ np.array([-0.09, 0.0, -0.04])
    if segment is Segment.HEAD:
        r, place = head_of(truth)
        return r, place + r @ np.array([-0.09, 0.0, 0.06])
    along = truth.r_bay_from_forearm[:, :, 0]
    wrist = truth.elbow_m + truth.anatomy.forearm * along
    if segment is Segment.LEAD_UPPER_ARM:
        r = truth.r_bay_from_upper_arm
        return r, truth.elbow_m - ABOVE_ELBOW_M * r[:, :, 0]
    if segment is Segment.LEAD_FOREARM:
        return truth.r_bay_from_forearm, truth.elbow_m + FROM_ELBOW_M[segment] * along
    hand_d = truth.r_bay_from_hand[:, :, 0]
    r = truth.r_bay_from_hand if segment is Segment.LEAD_HAND else truth.r_bay_from_club
    return r, wrist + HAND_LEVER_M[segment] * hand_d


@dataclass(frozen=True)
class Sensed:
    """What a session lets its sensors feel. ``motion`` gives orientation (n, 3, 3), bay from segment, and place (n, 3),
    m, of a sensor on a segment; ``strikes``: when (s) the ball is passed, and whether there is one; ``shock_m_s2``: how
    hard a strike is felt on each segment."""

    time_s: Array
    motion: Callable[[Segment], tuple[Array, Array]]
    strikes: Sequence[tuple[float, bool]]
    shock_m_s2: Mapping[Segment, float]


def sensed_in(truth: TrueSession) -> Sensed:
    """A session of swings."""
    impacts = [s.times_s["impact"] for s in truth.swings]
    strikes = list(zip(impacts, truth.ball, strict=True))
    return Sensed(truth.time_s, lambda segment: _segment_motion(truth, segment), strikes, SHOCK_M_S2)


def _shock(truth: Sensed, segment: Segment, rng: np.random.Generator) -> Array:
    """Decaying ring in the accelerometer from each strike, (n, 3) m/s², segment axes, mostly across its length."""
    out = np.zeros((len(truth.time_s), 3))
    for struck_s, ball in truth.strikes:
        direction = rng.normal(size=3) * np.array([0.4, 1.0, 1.0])
        direction /= np.linalg.norm(direction)
        if not ball:
            continue
        k = round(struck_s / STEP_S)
        t = STEP_S * np.arange(40)
        ring = truth.shock_m_s2[segment] * np.exp(-t / 0.007) * np.cos(2 * np.pi * 95.0 * t)
        stop = min(len(out), k + len(t))
        out[k:stop] += ring[: stop - k, None] * direction
    return out


def _tap(n: int, segment: Segment, tap_s: float) -> Array:
    """A heel tap felt (n, 3), m/s², bay axes: upward, then ringing off."""
    out = np.zeros((n, 3))
    k = round(tap_s / STEP_S)
    t = STEP_S * np.arange(60)
    out[k : k + 60, 2] = HEEL_TAP_M_S2.get(segment, 3.0) * np.exp(-t / 0.010) * np.cos(2 * np.pi * 40.0 * t)
    return out


def log_of(truth: Sensed, segment: Segment, quirks: SensorQuirks, rng: np.random.Generator) -> ImuStream:
    """One sensor's log: mounting, specific force, rates, shock, noise, bias, clipping, jitter and gaps."""
    r_bay_from_segment, position = truth.motion(segment)
    omega = np.einsum("nji,nj->ni", r_bay_from_segment, angular_velocity(r_bay_from_segment))
    smooth = gaussian_filter1d(position, 3.0, axis=0, mode="nearest")
    acceleration = np.gradient(np.gradient(smooth, STEP_S, axis=0), STEP_S, axis=0)
    felt = np.einsum("nji,nj->ni", r_bay_from_segment, acceleration + np.array([0.0, 0.0, GRAVITY_M_S2]))
    mount = _mount(segment, quirks, rng)
    felt = felt + _shock(truth, segment, rng)
    if quirks.tap_s is not None:
        felt = felt + np.einsum("nji,nj->ni", r_bay_from_segment, _tap(len(felt), segment, quirks.tap_s))
    gyr, acc = omega @ mount, felt @ mount
    if quirks.slip and quirks.slip.segment is segment:
        axis = rng.normal(size=3)
        if quirks.slip.axis is not None:
            axis = np.array(quirks.slip.axis) @ mount
        turn = np.deg2rad(quirks.slip.angle_deg) * axis / np.linalg.norm(axis)
        share = minimum_jerk(np.clip((truth.time_s - quirks.slip.at_s) / SLIP_S, 0.0, 1.0))
        late = truth.time_s >= quirks.slip.at_s
        slipped = mount @ Rotation.from_rotvec(share[late, None] * turn).as_matrix()
        gyr[late], acc[late] = (np.einsum("ni,nij->nj", v[late], slipped) for v in (omega, felt))
        gyr[late] += (np.gradient(share, STEP_S)[:, None] * turn)[late]  # the sensor itself turns: it feels that
    if quirks.other_arm and segment not in (Segment.CLUB, Segment.PUTTER):
        gyr, acc = gyr * np.array([-1.0, 1.0, -1.0]), acc * np.array([1.0, -1.0, 1.0])
    return _sample(truth.time_s, acc, gyr, segment, quirks, rng)


def _mount(segment: Segment, quirks: SensorQuirks, rng: np.random.Generator) -> Array:
    """Segment from sensor (3, 3). A club clip's +x points to the head and may turn about the shaft."""
    turn = rng.normal(0.0, 1.0, 3) * np.deg2rad(quirks.mount_spread_deg)
    if segment not in (Segment.CLUB, Segment.PUTTER):
        return np.asarray(Rotation.from_rotvec(turn).as_matrix())
    flip = Rotation.from_euler("z", 180.0 if quirks.clip_reversed else 0.0, degrees=True)
    return np.asarray((flip * Rotation.from_euler("x", turn[0])).as_matrix())


def _sample(
    time_s: Array, acc: Array, gyr: Array, segment: Segment, quirks: SensorQuirks, rng: np.random.Generator
) -> ImuStream:
    n = int(np.floor((time_s[-1] - 0.01) * quirks.rate_hz))
    stamps = np.arange(n) / quirks.rate_hz
    if quirks.jitter_s:
        stamps[1:] += np.clip(rng.normal(0.0, quirks.jitter_s, n - 1), -0.4 / quirks.rate_hz, 0.4 / quirks.rate_hz)
        stamps[0] = 0.0
    direction = rng.normal(size=3)
    bias = np.deg2rad(quirks.gyro_bias_deg_s) * direction / np.linalg.norm(direction)
    acc_bias = rng.normal(0.0, quirks.acc_bias_m_s2, 3)

    def at(values: Array, noise: float, offset: Array, limit: float) -> Array:
        clean = np.column_stack([np.interp(stamps, time_s, column) for column in values.T])
        return np.clip(clean + offset + rng.normal(0.0, noise, clean.shape), -limit, limit)

    gyr_log = at(gyr, np.deg2rad(quirks.gyro_noise_deg_s), bias, np.deg2rad(quirks.gyro_range_deg_s))
    acc_log = at(acc, quirks.acc_noise_m_s2, acc_bias, quirks.acc_range_g * 9.80665)
    keep = np.ones(n, dtype=bool)
    for start, end in quirks.gaps:
        keep &= ~((stamps > start) & (stamps < end))
    return ImuStream(segment, stamps[keep], acc_log[keep], gyr_log[keep], f"{segment.value}.csv")


def record(
    truth: TrueSession, segments: tuple[Segment, ...], quirks: SensorQuirks, rng: np.random.Generator
) -> list[ImuStream]:
    """All sensors' logs. With ``swapped`` the forearm and hand sensors carry each other's name."""
    sensed = sensed_in(truth)
    logs = [log_of(sensed, s, quirks, rng) for s in segments]
    if not quirks.swapped:
        return logs
    other = {Segment.LEAD_FOREARM: Segment.LEAD_HAND, Segment.LEAD_HAND: Segment.LEAD_FOREARM}
    renamed = []
    for log in logs:
        name = other.get(log.segment, log.segment)
        renamed.append(ImuStream(name, log.time_s, log.acc_m_s2, log.gyr_rad_s, f"{name.value}.csv"))
    return sorted(renamed, key=lambda s: segments.index(s.segment))
