"""A sensor's samples put on the grid that all sensors of a session share, as they come.

The batch does the same with whole recordings (``signals.grid``); gaps are bridged by the same formula
(``signals.gaps``)."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from finearc.core.signals.gaps import GAP_STEPS, bridged
from finearc.core.signals.streams import FILLED_GAP_S
from finearc.core.typing import Array

CONTEXT = 2
"""Samples kept for the gap that may follow."""


@dataclass(frozen=True)
class Grid:
    """Instants ``origin_s + k * step_s``."""

    origin_s: float
    step_s: float

    def index_from(self, time_s: float) -> int:
        """The first instant not before ``time_s``."""
        return int(np.ceil((time_s - self.origin_s) / self.step_s - 1e-6))

    def at(self, first: int, count: int) -> Array:
        """Instants (count,), s, from index ``first`` on."""
        return np.asarray(self.origin_s + self.step_s * np.arange(first, first + count))


@dataclass
class GriddingState:
    """``next``: the index that is filled next, None before the first sample; the last samples as they came."""

    next: int | None = None
    time_s: Array = field(default_factory=lambda: np.empty(0))
    values: Array = field(default_factory=lambda: np.empty((0, 6)))


@dataclass(frozen=True)
class Gridded:
    """Values (k, 6) at the grid's instants from ``first`` on; ``broken``: a long gap lies before them."""

    first: int
    values: Array
    broken: bool = False


def put_on_grid(grid: Grid, state: GriddingState, time_s: Array, values: Array) -> list[Gridded]:
    """Take in samples (n,), s, and (n, 6); what of the grid they complete, in order."""
    if state.next is None:
        state.next = grid.index_from(float(time_s[0]))
    known_s = np.concatenate([state.time_s, time_s])
    known = np.concatenate([state.values, values])
    out: list[Gridded] = []
    start = 0
    for k in np.flatnonzero(np.diff(known_s) > FILLED_GAP_S + 1e-9):
        out += _filled(grid, state, known_s[start : k + 1], known[start : k + 1])
        start = int(k) + 1
        state.next = max(state.next, grid.index_from(float(known_s[start])))
        out.append(Gridded(state.next, np.empty((0, 6)), broken=True))
    ready = len(known_s) - _waits(grid, known_s[start:])
    kept = max(start, ready - CONTEXT)
    state.time_s, state.values = known_s[kept:], known[kept:]
    return out + _filled(grid, state, known_s[start:ready], known[start:ready])


def _waits(grid: Grid, time_s: Array) -> int:
    """How many of the last samples wait for the next: one alone behind a gap says nothing of the slope there."""
    return int(len(time_s) > 1 and time_s[-1] - time_s[-2] > GAP_STEPS * grid.step_s)


def _filled(grid: Grid, state: GriddingState, time_s: Array, values: Array) -> list[Gridded]:
    """The grid's instants that lie between samples without a long gap."""
    assert state.next is not None
    if len(time_s) < 2:
        return []
    count = int(np.floor((float(time_s[-1]) - grid.origin_s) / grid.step_s + 1e-6)) - state.next + 1
    if count <= 0:
        return []
    time_s, values = bridged(time_s, values, grid.step_s)
    at = grid.at(state.next, count)
    out = Gridded(state.next, np.column_stack([np.interp(at, time_s, column) for column in values.T]))
    state.next += count
    return [out]
