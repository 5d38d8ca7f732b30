"""From raw cells to trustworthy ones: zero, dead and saturated cells, and the weights that mend them.

The frames themselves stay as they were recorded. Sums over cells are what is needed, so that zero and dead cells are
dealt with in the weights of a sum: two thousand numbers instead of some millions.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from scipy.ndimage import binary_dilation

from finearc.core.pressure.stream import LONG_GAP_S, MatFlags, MatStream, UnusableMat, check_stream
from finearc.core.typing import Array, Floats, Mask, Rows
from finearc.wording import mark, tr

LOADED_KPA = 2.0
"""A cell under a foot carries at least this at some moment (house value; shoes at the edge of a sole)."""
STANDING_N = 150.0
"""Less than this is nobody (house value: a light child on one foot is more)."""
UNLOADED_SHARE = 0.05
NEGATIVE_KPA = -3.0
"""Frames this near the emptiest are empty; cells that ever read below this say nothing (house values)."""
SATURATED_LIMIT = 0.25
"""More saturated cells than this and the mat says nothing (house value)."""
NEVER_EMPTY = mark("The mat was never seen empty: its zero is taken from the cells around the feet.")
ZERO_FRAMES = 100
LOOKED_AT = 240
"""Frames looked at where all of them would say the same."""


@dataclass(frozen=True)
class MatMotion:
    """A mat's recording ready to be read. ``zero_kpa`` (cells,): what each cell shows unloaded; ``dead`` (cells,):
    cells that say nothing; ``ever_kpa`` (cells,): the most each live cell showed, zero taken off."""

    stream: MatStream
    zero_kpa: Array
    dead: Mask
    ever_kpa: Array
    flags: MatFlags
    offset_sd_s: float = 0.0
    offset_note: str = ""

    @property
    def time_s(self) -> Array:
        """Instants (n,), s, of the mat's frames."""
        return self.stream.time_s

    @property
    def pressure_kpa(self) -> Floats:
        """Pressure (n, cells), kPa, as it was recorded."""
        return self.stream.pressure_kpa

    @cached_property
    def valid(self) -> Mask:
        """Frames (n,) that no gap touches."""
        ok = np.ones(len(self.time_s), dtype=bool)
        cut = np.flatnonzero(np.diff(self.time_s) > LONG_GAP_S)
        ok[cut] = ok[cut + 1] = False
        return ok

    def mean_kpa(self, window: slice) -> Array:
        """Mean of a window, kPa (cells,), zero taken off and dead cells filled."""
        p = self.pressure_kpa[window]
        return self.mended(p.mean(axis=0, dtype=np.float64) - self.zero_kpa)

    def most_kpa(self, window: slice) -> Array:
        """The most each cell showed in a window, kPa (cells,), zero taken off and dead cells filled."""
        return self.mended(self.pressure_kpa[window].max(axis=0).astype(np.float64) - self.zero_kpa)

    def mended(self, cells: Array) -> Array:
        """A picture (cells,), kPa, whose dead cells are filled from their neighbours."""
        out = np.where(self.dead, 0.0, cells)
        if self._fill is not None:
            index, live, weights = self._fill
            out[index] = weights @ out[live]
        return np.asarray(out)

    def pictures(self, rows: Rows, cells: Rows, shown: Mask) -> Floats:
        """Pictures (n, cells) of chosen frames and cells, zero taken off, dead cells filled, nothing where not
        ``shown`` (cells,) and nothing below zero."""
        zero = self.zero_kpa.astype(np.float32)
        frames = self.pressure_kpa[rows].astype(np.float32) - zero
        frames[:, self.dead] = 0.0
        if self._fill is not None:
            index, live, weights = self._fill
            frames[:, index] = frames[:, live] @ weights.T.astype(np.float32)
        frames[:, ~shown] = 0.0
        return np.asarray(np.maximum(frames[:, cells], 0.0))

    def weights(self, wanted: Array) -> Array:
        """Weights (cells, k) for sums over live cells that stand for ``wanted`` (cells, k) over all: what a dead cell
        would have had goes to the neighbours it is filled from."""
        out = np.where(self.dead[:, None], 0.0, wanted)
        if self._fill is not None:
            index, live, weights = self._fill
            out[live] += weights.T @ wanted[index]
        return np.asarray(out)

    def sums(self, wanted: Array, window: slice) -> Array:
        """Sums (n, k) of pressure (kPa, zero taken off) times ``wanted`` (cells, k) over a window."""
        weights = self.weights(wanted)
        p = self.pressure_kpa[window]
        return np.asarray(p @ weights.astype(p.dtype), dtype=np.float64) - self.zero_kpa @ weights

    @cached_property
    def _fill(self) -> tuple[Rows, Rows, Array] | None:
        """Dead cells (d,), live cells around them (l,), and weights (d, l) that fill one from the other."""
        index = np.flatnonzero(self.dead)
        grid = self.stream.grid
        return None if not len(index) else _bent_least(self.dead.tobytes(), grid.rows, grid.columns)


@lru_cache(maxsize=16)
def _bent_least(cells: bytes, rows: int, columns: int) -> tuple[Rows, Rows, Array]:
    """Weights that give dead cells the values for which the surface bends least, as a thin plate would: least squares
    of the second differences along rows, along columns and mixed. ``cells``: the mask (rows · columns,) as bytes: a
    mat has the same dead cells from look to look."""
    dead = np.frombuffer(cells, dtype=bool)
    index = np.flatnonzero(dead)
    around = binary_dilation(dead.reshape(rows, columns), np.ones((3, 3), dtype=bool), iterations=2).ravel()
    live = np.flatnonzero(around & ~dead)
    place = np.full(rows * columns, -1)
    place[index] = np.arange(len(index))
    place[live] = len(index) + np.arange(len(live))
    g = place.reshape(rows, columns)
    mixed = (g[:-1, :-1], g[1:, 1:], g[1:, :-1], g[:-1, 1:])
    parts = [
        _differences((g[:-2], g[1:-1], g[2:]), (1.0, -2.0, 1.0), len(index), len(live)),
        _differences((g[:, :-2], g[:, 1:-1], g[:, 2:]), (1.0, -2.0, 1.0), len(index), len(live)),
        _differences(mixed, (2.0, 2.0, -2.0, -2.0), len(index), len(live)),
    ]
    bend = np.concatenate(parts)
    fill, *_ = np.linalg.lstsq(bend[:, : len(index)], -bend[:, len(index) :], rcond=None)
    return index, live, np.asarray(fill, dtype=np.float64)


def _differences(cells: tuple[Rows, ...], factors: tuple[float, ...], dead: int, live: int) -> Array:
    """Equations (m, dead + live): one for each difference that a dead cell takes part in."""
    groups = np.stack([c.ravel() for c in cells], axis=1)
    groups = groups[(groups >= 0).all(axis=1) & (groups < dead).any(axis=1)]
    out = np.zeros((len(groups), dead + live))
    for column, factor in zip(groups.T, factors, strict=True):
        out[np.arange(len(groups)), column] += factor
    return out


def read_mat(stream: MatStream) -> MatMotion:
    """Check and prepare a recording. Raises ``StreamError`` when nothing can be measured from it: wrong frames, an
    empty mat, cells saturated everywhere."""
    check_stream(stream)
    p, grid = stream.pressure_kpa, stream.grid
    every = max(1, len(p) // LOOKED_AT)
    looked = np.ascontiguousarray(p[::every].astype(np.float32).T)
    zero, baseline = unloaded_kpa(p, looked)
    low, high = p.min(axis=0).astype(np.float64), p.max(axis=0).astype(np.float64)
    negative = low < NEGATIVE_KPA
    dead = dead_cells(low, high, grid.rows, grid.columns) | negative
    ever = np.where(dead, 0.0, high - zero)
    standing = float(np.percentile(np.where(dead[:, None], 0.0, looked - zero[:, None]).sum(axis=0), 90))
    if standing * 1000.0 * grid.cell_area_m2 < STANDING_N:
        raise UnusableMat(
            stream.source,
            tr("the mat is empty: at most {value:.0f} N on it", value=standing * 1000.0 * grid.cell_area_m2),
            advice=tr("Stand on the mat with both feet, and check that its unit is kPa"),
        )
    saturated = _saturated(looked, zero, high, stream)
    times = stream.time_s
    cuts = np.flatnonzero(np.diff(times) > LONG_GAP_S)
    gaps = tuple((float(times[k]), float(times[k + 1])) for k in cuts)
    flags = MatFlags(int((dead & ~negative).sum()), int(negative.sum()), saturated, baseline, gaps)
    return MatMotion(stream, zero, dead, ever, flags)


def unloaded_kpa(p: Floats, looked: Floats) -> tuple[Array, str]:
    """What each cell shows unloaded (cells,), and what to say about it. ``p`` (n, cells), ``looked`` (cells, some)."""
    total = np.asarray(p @ np.ones(p.shape[1], dtype=p.dtype), dtype=np.float64)
    usual, least = float(np.percentile(total, 75)), float(total.min())
    unloaded = np.flatnonzero(total < least + UNLOADED_SHARE * (usual - least))
    if len(unloaded) >= 5 and least < 0.5 * usual:
        return np.asarray(np.median(p[unloaded[:ZERO_FRAMES]], axis=0).astype(np.float64)), ""
    usually = np.median(looked, axis=1)
    outside = usually < LOADED_KPA
    offset = float(np.median(usually[outside])) if outside.any() else 0.0
    return np.full(len(looked), offset), tr(NEVER_EMPTY)


def dead_cells(low: Array, high: Array, rows: int, columns: int) -> Mask:
    """Cells that never change while the cells around them do: all cells of a mat with noise, else most of the four
    beside."""
    still = high <= low
    change = (high - low).reshape(rows, columns)
    padded = np.pad(change, 1)
    around = np.stack([padded[:-2, 1:-1], padded[2:, 1:-1], padded[1:-1, :-2], padded[1:-1, 2:]])
    moved = np.partition(around, 1, axis=0)[1].ravel()  # three of its four neighbours at least
    noise = float(np.median(change))
    return np.asarray(still & ((noise > 0) | (moved > LOADED_KPA)))


def _saturated(looked: Floats, zero: Array, high: Array, stream: MatStream) -> float:
    """Share of the loaded cells that stand at the mat's limit. Raises ``StreamError`` when most do."""
    loaded = looked - zero[:, None].astype(np.float32) > LOADED_KPA
    limit = stream.limit_kpa if stream.limit_kpa is not None else float(high.max())
    at_limit = looked >= limit - 1e-3
    cells, times = int(at_limit.any(axis=1).sum()), int(at_limit.sum())
    if cells < 2 or times < 6 or not loaded.any():
        return 0.0
    share = float(at_limit.sum() / loaded.sum())
    if share > SATURATED_LIMIT:
        raise UnusableMat(
            stream.source,
            tr(
                "saturated everywhere: {value:.0f} % of the loaded cells stand at {limit:.0f} kPa",
                value=100 * share,
                limit=limit,
            ),
            advice=tr("Set the mat to a wider range, and capture again"),
        )
    return share
