"""Finding swings, and a still address, in what the ground alone recorded."""

from __future__ import annotations

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.pressure.plates import PlateMotion
from finearc.core.pressure.still import LEAST_STILL_S, STILL_HZ, STILL_M_S, GroundMotion
from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array, Mask
from finearc.wording import tr

RUN_M_S, PUSH_SHARE = 0.45, 0.10
"""A swing on the ground: the pressure runs toward the target this fast while the push rises by this share (house
values)."""
ON_SHARE = 0.4
"""Somebody stands on it while it carries this share of the weight: a player unweights after the strike."""
APART_S, BEFORE_S, AFTER_S = 2.5, 5.0, 1.3


class NoSwingOnGround(FineArcError):
    """The pressure never ran from foot to foot as in a swing."""

    code = "no_swing"

    def __str__(self) -> str:
        return tr(
            "no swing found on the mat: the pressure never ran from the trail to the lead foot with a push. Capture "
            'at least one swing, or name it under "swings" in capture.json.'
        )


def course_of(ground: GroundMotion) -> tuple[Array, Array, Array]:
    """Times (n,), s, force (n,), N, and the centre of pressure along the target line (n,), m, of a whole recording."""
    if isinstance(ground, PlateMotion):
        loads = ground.loads(slice(0, None))
        return loads.time_s, loads.total_n, loads.both_m[:, 1]
    grid = ground.stream.grid
    loaded = (ground.ever_kpa > 1.0).astype(np.float64)
    sums = ground.sums(np.column_stack([loaded, loaded * grid.places_m[:, 1]]), slice(0, None))
    force = sums[:, 0] * grid.cell_area_m2 * 1000.0
    return ground.time_s, force, sums[:, 1] / np.maximum(sums[:, 0], 1e-6)


def _smooth(time_s: Array, force: Array, y: Array) -> tuple[float, Array, Array]:
    step = float(np.median(np.diff(time_s)))
    stands = force > ON_SHARE * np.percentile(force, 90)
    both = low_pass(np.column_stack([force, np.where(stands, y, 0.0)]), STILL_HZ, 1.0 / step)
    return step, both[:, 0], np.gradient(both[:, 1], step)


def find_swings(ground: GroundMotion) -> list[tuple[float, float]]:
    """Windows (start, end), s, from the stillness before a swing to 1.3 s after its push. Raises
    ``NoSwingOnGround``."""
    time_s, force, y = course_of(ground)
    step, push, run = _smooth(time_s, force, y)
    weight = float(np.median(force[force > 0.4 * np.percentile(force, 90)]))
    on = push > ON_SHARE * weight
    left = np.where(on, run, 0.0)
    still = on & (np.abs(run) < STILL_M_S)
    apart, found = round(APART_S / step), []
    while left.max(initial=0.0) >= RUN_M_S:
        k = int(np.argmax(left))
        left[max(0, k - apart) : k + apart] = 0.0
        near = slice(max(0, k - round(0.3 / step)), k + round(0.25 / step))
        start = _rest_before(still, k, step)
        if start is not None and push[near].max() > (1.0 + PUSH_SHARE) * weight and on[near].all():
            found.append((start, min(len(time_s) - 1, near.start + int(np.argmax(push[near])))))
    if not found:
        raise NoSwingOnGround
    ends = [min(float(time_s[b]) + AFTER_S, float(time_s[-1])) for _, b in found]
    return sorted((float(time_s[a]), end) for (a, _), end in zip(found, ends, strict=True))


def _rest_before(still: Mask, k: int, step: float) -> int | None:
    """Where the last rest before sample ``k`` begins, at most a second before it ends; None without one."""
    first = max(0, k - round(BEFORE_S / step))
    edges = np.flatnonzero(np.diff(np.concatenate([[False], still[first:k], [False]]).astype(np.int8))).reshape(-1, 2)
    runs = [(int(a), int(b)) for a, b in edges if (b - a) * step >= LEAST_STILL_S]
    if not runs:
        return None
    a, b = runs[-1]
    return first + max(a, b - round(1.0 / step))


def last_rest(ground: GroundMotion, after_s: float) -> tuple[float, float] | None:
    """The last stretch (start, end), s, after ``after_s`` in which somebody stands still on it."""
    time_s, force, y = course_of(ground)
    step, push, run = _smooth(time_s, force, y)
    weight = float(np.percentile(force, 75))
    still = (push > ON_SHARE * weight) & (np.abs(run) < STILL_M_S) & (time_s > after_s)
    edges = np.flatnonzero(np.diff(np.concatenate([[False], still, [False]]).astype(np.int8))).reshape(-1, 2)
    runs = [(float(time_s[a]), float(time_s[b - 1])) for a, b in edges if (b - a) * step >= LEAST_STILL_S]
    return runs[-1] if runs else None
