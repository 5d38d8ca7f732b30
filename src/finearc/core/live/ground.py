"""What stands on each foot as a mat's frames come: the batch's feet and loads, on the last moments.

The feet are found once a player stands still on both of them, by what the mat showed then and at its beginning. A value
is given once the frames of the next hundredths of a second are there, which the smoothing needs."""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.live.angles import LiveTrace
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.pressure.clean import NEGATIVE_KPA, STANDING_N, MatMotion, dead_cells, unloaded_kpa
from finearc.core.pressure.feet import Feet, find_feet
from finearc.core.pressure.loads import Loads, load_weights, loads_of_sums
from finearc.core.pressure.still import STILL_M_S
from finearc.core.pressure.stream import LONG_GAP_S, MatFlags, MatStream
from finearc.core.sources.ground_view import HEEL_TOE_SD, SHARE_SD, STANCE_SD
from finearc.core.typing import Array, Floats

FIRST_S = 0.5
"""Of its beginning so much is kept: a mat that lies empty then shows its zero."""
RECENT_S, STILL_S = 0.5, 0.4
"""So much of the present is looked at for feet, and so long a stillness must last (house values)."""
LOOK_EVERY_S, ENOUGH = 0.2, 16
"""So often, and on so many frames: they show much the same, and a look must not keep what comes after it waiting."""
AROUND_S, AHEAD_S = 0.4, 0.04
"""Smoothing looks back so far, and ahead."""
BOTH_SHARE = (0.2, 0.8)
"""Who stands otherwise stands on one foot, as at the finish (house value)."""
TO_NEWTON = 1000.0


@dataclass(frozen=True)
class Standing:
    """How the player stands: both feet, the weights (cells, 6) of their loads and what those give of an empty mat
    (6,)."""

    feet: Feet
    weights: Floats
    zero: Array


@dataclass
class GroundState:
    """``first``, ``recent``: frames of the beginning and of the last moments, times (n,) and cells (n, cells);
    ``low_kpa``, ``high_kpa`` (cells,): the least and the most that each cell has shown; ``sums`` (k, 6) of the last
    moments at ``sums_s``; ``shown_s``: how far values were given; ``still_s``: since when somebody stands still."""

    first_s: Array = field(default_factory=lambda: np.empty(0))
    first_kpa: Floats | None = None
    recent: list[MatStream] = field(default_factory=list)
    low_kpa: Array = field(default_factory=lambda: np.empty(0))
    high_kpa: Array = field(default_factory=lambda: np.empty(0))
    standing: Standing | None = None
    sums_s: Array = field(default_factory=lambda: np.empty(0))
    sums: Array = field(default_factory=lambda: np.empty((0, 6)))
    shown_s: float = -np.inf
    looked_s: float = -np.inf
    still_s: float | None = None


def new_loads(state: GroundState, stream: MatStream) -> list[LiveTrace]:
    """Shares, places and heel to toe that can be given now. Frames in order, on the clock of the other devices."""
    cuts = (np.flatnonzero(np.diff(stream.time_s) > LONG_GAP_S) + 1).tolist()
    edges = itertools.pairwise([0, *cuts, len(stream.time_s)])
    pieces = [
        replace(stream, time_s=stream.time_s[a:b], pressure_kpa=stream.pressure_kpa[a:b]) for a, b in edges if a < b
    ]
    return [trace for piece in pieces for trace in _new_of_piece(state, piece)]


def _new_of_piece(state: GroundState, stream: MatStream) -> list[LiveTrace]:
    """The same of frames without a gap between them."""
    _remember(state, stream)
    if stream.time_s[-1] - state.looked_s >= LOOK_EVERY_S:
        state.looked_s = float(stream.time_s[-1])
        _look(state)
    if state.standing is None:
        return []
    _take_in(state, state.standing, stream)
    return list(_given(state, state.standing))


def _remember(state: GroundState, stream: MatStream) -> None:
    if not len(state.first_s) or stream.time_s[0] < state.first_s[0] + FIRST_S:
        kept = [] if state.first_kpa is None else [state.first_kpa]
        state.first_kpa = np.concatenate([*kept, stream.pressure_kpa])
        state.first_s = np.concatenate([state.first_s, stream.time_s])
    if state.recent and stream.time_s[0] - state.recent[-1].time_s[-1] > LONG_GAP_S:
        state.recent, state.sums, state.sums_s, state.still_s = [], state.sums[:0], state.sums_s[:0], None
    low, high = stream.pressure_kpa.min(axis=0), stream.pressure_kpa.max(axis=0)
    known = len(state.low_kpa) > 0
    state.low_kpa = np.minimum(state.low_kpa, low) if known else low.astype(float)
    state.high_kpa = np.maximum(state.high_kpa, high) if known else high.astype(float)
    state.recent.append(stream)
    while state.recent[0].time_s[-1] < stream.time_s[-1] - RECENT_S:
        state.recent.pop(0)


def _look(state: GroundState) -> None:
    """Find the feet anew once somebody has come to stand still on both."""
    time_s = np.concatenate([s.time_s for s in state.recent])
    grid = state.recent[-1].grid
    frames = time_s >= time_s[-1] - STILL_S
    kpa = np.concatenate([s.pressure_kpa for s in state.recent])
    force = np.maximum(kpa[frames], 0.0).sum(axis=1, dtype=np.float64)
    if force.mean() * grid.cell_area_m2 * TO_NEWTON < STANDING_N:
        state.standing, state.still_s, state.sums, state.sums_s = None, None, state.sums[:0], state.sums_s[:0]
        return
    places = np.maximum(kpa[frames], 0.0) @ grid.places_m.astype(np.float32) / np.maximum(force, 1e-9)[:, None]
    third = max(1, len(places) // 3)
    moved = np.linalg.norm(places[-third:].mean(axis=0) - places[:third].mean(axis=0))
    took = float(time_s[frames][-1] - time_s[frames][0])
    if took < 0.8 * STILL_S or moved > STILL_M_S * took:
        state.still_s = None
        return
    if state.still_s is None:
        state.still_s = float(time_s[-1])
        state.standing = _stands(state, time_s, kpa, frames) or state.standing


def _stands(state: GroundState, time_s: Array, kpa: Floats, frames: Array) -> Standing | None:
    """The feet as the batch finds them, None where they are not both there."""
    assert state.first_kpa is not None
    early = np.flatnonzero(state.first_s < time_s[0] - LONG_GAP_S)[:ENOUGH]
    late = np.flatnonzero(frames)[-ENOUGH:]
    stream = state.recent[-1]
    few = MatStream(
        np.concatenate([state.first_s[early], time_s[late]]),
        np.concatenate([state.first_kpa[early], kpa[late]]),
        stream.grid,
        stream.source,
    )
    still = slice(len(early), len(early) + len(late))
    zero, _ = unloaded_kpa(few.pressure_kpa, np.ascontiguousarray(few.pressure_kpa.T))
    dead = dead_cells(state.low_kpa, state.high_kpa, stream.grid.rows, stream.grid.columns)
    dead |= state.low_kpa < NEGATIVE_KPA
    mat = MatMotion(few, zero, dead, np.where(dead, 0.0, state.high_kpa - zero), MatFlags())
    try:
        feet = find_feet(mat, still, still)
    except FineArcError:
        return None
    if feet.both is None:
        return None
    weights = mat.weights(load_weights(mat, feet))
    loads = _loads(mat, weights, still)
    share = float(np.median(loads.lead_share))
    if not BOTH_SHARE[0] <= share <= BOTH_SHARE[1]:
        return None
    return Standing(feet, weights.astype(np.float32), mat.zero_kpa @ weights)


def _loads(mat: MatMotion, weights: Array, window: slice) -> Loads:
    sums = mat.pressure_kpa[window] @ weights.astype(np.float32) - mat.zero_kpa @ weights
    return loads_of_sums(mat.time_s[window], np.asarray(sums, dtype=np.float64), mat.valid[window])


def _take_in(state: GroundState, standing: Standing, stream: MatStream) -> None:
    sums = np.asarray(stream.pressure_kpa @ standing.weights, dtype=np.float64) - standing.zero
    time_s = np.concatenate([state.sums_s, stream.time_s])
    kept = time_s >= min(time_s[-1] - AROUND_S, max(state.shown_s, time_s[0]) - AROUND_S / 2)
    state.sums_s, state.sums = time_s[kept], np.concatenate([state.sums, sums])[kept]


def _given(state: GroundState, standing: Standing) -> Iterator[LiveTrace]:
    """Values of the frames whose next hundredths of a second are there."""
    time_s = state.sums_s
    ready = (time_s > state.shown_s) & (time_s <= time_s[-1] - AHEAD_S)
    if not ready.any() or len(time_s) < 13:
        return
    loads = loads_of_sums(time_s, state.sums, np.ones(len(time_s), dtype=bool))
    state.shown_s = float(time_s[ready][-1])
    lead, trail = standing.feet.lead, standing.feet.trail
    assert lead is not None
    assert trail is not None
    line = lead.centre_m - trail.centre_m
    for metric, sd, values in (
        (m.LEAD_SHARE, SHARE_SD, loads.lead_share),
        (m.STANCE_POSITION, STANCE_SD, (loads.both_m - trail.centre_m) @ line / (line @ line)),
        (m.LEAD_HEEL_TOE, HEEL_TOE_SD, lead.along(loads.feet_m[:, 0])),
        (m.TRAIL_HEEL_TOE, HEEL_TOE_SD, trail.along(loads.feet_m[:, 1])),
    ):
        yield LiveTrace(metric, time_s[ready], values[ready], sd, Source.MAT)
