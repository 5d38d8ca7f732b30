"""Orientation of a sensor as its samples come: the causal form of the filter that the batch runs both ways
(``orientation.fusion``; Laidig and Seel 2023).

In a swing an accelerometer feels far more than gravity. The batch finds fast stretches afterwards and carries gravity
through them by the gyroscope; here the accelerometer is left out from the moment a calm stretch ends until the next
one, at most ``LONGEST_FAST_S``, and as long as the sensor turns fast: nobody knows yet how the movement will go on."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from vqf import VQF

from finearc.core.orientation.fusion import CALM_RAD_S, CALM_S, FAST_MARGIN_S, FAST_RAD_S, LONGEST_FAST_S
from finearc.core.typing import Array

SETTLING_S = 1.0
"""So long after a (re)start the accelerometer is always heard (as ``MIN_PIECE_S`` of the batch)."""


@dataclass(frozen=True)
class FusionParams:
    """``step_s``: of the grid."""

    step_s: float


@dataclass
class FusionState:
    """``filter``: the running filter, its state as data in ``filter.state``; ``rate``: the last rate (3,), rad/s; times
    (s) since the start, since the last calm stretch, since it last turned fast, and of the calm stretch so far."""

    filter: VQF
    rate: Array | None = None
    since_start_s: float = 0.0
    since_calm_s: float = 0.0
    since_fast_s: float = np.inf
    calm_s: float = 0.0


@dataclass(frozen=True)
class Oriented:
    """``q_up_from_sensor`` (k, 4), xyzw, and ``gyr_rad_s`` (k, 3), sensor axes, without the bias known so far."""

    q_up_from_sensor: Array
    gyr_rad_s: Array = field(repr=False)


def begin_fusion(params: FusionParams) -> FusionState:
    """A filter that knows nothing yet: at the start and after a long gap."""
    return FusionState(VQF(params.step_s))


def orient(params: FusionParams, state: FusionState, acc_m_s2: Array, gyr_rad_s: Array) -> Oriented:
    """The next samples (k, 3) on the grid, m/s² and rad/s in sensor axes."""
    before = gyr_rad_s[:1] if state.rate is None else state.rate[None]
    turn = (np.concatenate([before, gyr_rad_s[:-1]]) + gyr_rad_s) / 2.0  # over the step that ends at each sample
    speed = np.sqrt(np.einsum("ij,ij->i", gyr_rad_s, gyr_rad_s))
    state.rate = gyr_rad_s[-1].copy()
    acc = np.ascontiguousarray(acc_m_s2)
    q = np.empty((len(turn), 4))
    for k, (rate, fast) in enumerate(zip(turn, speed, strict=True)):
        state.filter.updateGyr(rate)
        if _hears_gravity(params, state, float(fast)):
            state.filter.updateAcc(acc[k])
        q[k] = state.filter.getQuat6D()
    bias, _ = state.filter.getBiasEstimate()
    return Oriented(q[:, [1, 2, 3, 0]], gyr_rad_s - bias)


def _hears_gravity(params: FusionParams, state: FusionState, speed_rad_s: float) -> bool:
    """Whether the accelerometer says where down is."""
    step = params.step_s
    state.since_start_s += step
    state.since_fast_s = 0.0 if speed_rad_s > FAST_RAD_S else state.since_fast_s + step
    state.calm_s = state.calm_s + step if speed_rad_s < CALM_RAD_S else 0.0
    state.since_calm_s = 0.0 if state.calm_s >= CALM_S else state.since_calm_s + step
    if state.since_start_s < SETTLING_S or state.since_calm_s == 0.0:
        return True
    return state.since_calm_s > LONGEST_FAST_S and state.since_fast_s > FAST_MARGIN_S
