"""A pressure mat's recording as read, and what must be true of it before anything is computed."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from finearc.core.errors import StreamError
from finearc.core.typing import Array, Floats, Mask
from finearc.wording import tr, trn

AXES = {"+x": (1.0, 0.0), "-x": (-1.0, 0.0), "+y": (0.0, 1.0), "-y": (0.0, -1.0)}
RATE_HZ = (45.0, 1100.0)
CELL_M = (0.002, 0.06)
"""What a mat keeps within (house values, wider than any mat known)."""
LONG_GAP_S = 0.050
"""Frames farther apart than this cut the course; nothing is read across."""


class UnusableMat(StreamError):
    """The recording is sound, but says nothing: an empty mat, one foot, cells saturated everywhere."""


@dataclass(frozen=True)
class MatGrid:
    """Where the cells lie. ``cell_m``: distance from row to row and from column to column; ``origin_m``: the centre of
    the first cell in bay axes; ``row_axis``, ``column_axis``: the true direction in which rows and columns grow, +x to
    the ball, +y to the target. For a left-hander these true directions are themselves the mirroring."""

    rows: int
    columns: int
    cell_m: tuple[float, float]
    origin_m: tuple[float, float] = (0.0, 0.0)
    row_axis: str = "+x"
    column_axis: str = "+y"

    @property
    def cells(self) -> int:
        return self.rows * self.columns

    @property
    def cell_area_m2(self) -> float:
        return self.cell_m[0] * self.cell_m[1]

    @cached_property
    def places_m(self) -> Array:
        """Centres of all cells (cells, 2), m, bay axes, row by row."""
        row, column = np.array(AXES[self.row_axis]), np.array(AXES[self.column_axis])
        r = self.cell_m[0] * np.arange(self.rows)[:, None, None] * row
        c = self.cell_m[1] * np.arange(self.columns)[None, :, None] * column
        return np.asarray((np.array(self.origin_m) + r + c).reshape(-1, 2))

    @cached_property
    def on_edge(self) -> Mask:
        """Which cells (cells,) lie along the border of the mat."""
        edge = np.zeros((self.rows, self.columns), dtype=bool)
        edge[[0, -1]] = edge[:, [0, -1]] = True
        return edge.ravel()


@dataclass(frozen=True)
class MatStream:
    """Frames as recorded: ``time_s`` (n,) on the capture's clock, ``pressure_kpa`` (n, cells), row by row.
    ``own_clock``: the mat's clock is not that of the other streams and must be aligned to it; ``shift_s`` is how far
    it was shifted by hand, or None. ``limit_kpa``: where cells saturate, if known."""

    time_s: Array
    pressure_kpa: Floats
    grid: MatGrid
    source: str
    own_clock: bool = False
    shift_s: float | None = None
    limit_kpa: float | None = None

    @property
    def step_s(self) -> float:
        return float(np.median(np.diff(self.time_s)))

    def shifted(self, by_s: float) -> MatStream:
        """The same recording on a clock that is ``by_s`` later."""
        return replace(self, time_s=self.time_s + by_s)


@dataclass(frozen=True)
class MatFlags:
    """What was found and mended; counted in cells, times in s."""

    dead: int = 0
    negative: int = 0
    saturated_share: float = 0.0
    baseline: str = ""
    gaps: tuple[tuple[float, float], ...] = ()
    notes: tuple[str, ...] = field(default_factory=tuple)

    def sentences(self) -> list[str]:
        """What a person should know about the mat."""
        out = list(self.notes)
        if self.dead:
            out.append(
                trn(
                    "{count} dead cell of the mat: filled from the cells around.",
                    "{count} dead cells of the mat: filled from the cells around.",
                    self.dead,
                )
            )
        if self.negative:
            out.append(
                trn(
                    "Negative pressure in {count} cell: not used.",
                    "Negative pressure in {count} cells: not used.",
                    self.negative,
                )
            )
        if self.saturated_share:
            out.append(
                tr(
                    "{value:.1f} % of the loaded cells are saturated: forces are a little too small.",
                    value=100 * self.saturated_share,
                )
            )
        if self.gaps:
            longest = max(b - a for a, b in self.gaps)
            what = tr("gap") if len(self.gaps) == 1 else tr("gaps")
            out.append(
                tr(
                    "{gaps} {what} in the mat's clock, up to {longest:.2f} s: nothing is read across.",
                    gaps=len(self.gaps),
                    what=what,
                    longest=longest,
                )
            )
        if self.baseline:
            out.append(self.baseline)
        return out


def check_grid(grid: MatGrid, source: str) -> None:
    """Raises ``StreamError`` when the cells cannot be placed."""
    for name, axis in (("row_axis", grid.row_axis), ("column_axis", grid.column_axis)):
        if axis not in AXES:
            raise StreamError(
                source,
                tr('"{axis}" is no axis of the floor', axis=axis),
                name,
                tr("Use one of {axes}", axes=", ".join(AXES)),
            )
    if grid.row_axis[1] == grid.column_axis[1]:
        raise StreamError(
            source, tr("rows and columns lie along one axis"), "row_axis, column_axis", tr("Name two axes")
        )
    for name, size in zip(("rows", "columns"), grid.cell_m, strict=True):
        if not CELL_M[0] <= size <= CELL_M[1]:
            raise StreamError(
                source,
                tr("cells {value:g} mm apart along the {name}; 2 to 60 mm are possible", value=1000 * size, name=name),
                "cell_mm",
                tr("Give the distance of two cells in mm"),
            )


def check_stream(stream: MatStream) -> None:
    """Raises ``StreamError`` for frames of the wrong size, no frames, values that are no numbers and a clock that runs
    backward."""
    check_grid(stream.grid, stream.source)
    time_s, p = stream.time_s, stream.pressure_kpa
    if p.ndim != 2 or p.shape[1] != stream.grid.cells:
        raise StreamError(
            stream.source,
            tr(
                "{shape} cells a frame, {rows} rows of {columns} need {cells}",
                shape=p.shape[-1],
                rows=stream.grid.rows,
                columns=stream.grid.columns,
                cells=stream.grid.cells,
            ),
            tr("rows, columns"),
            tr("Correct rows and columns in capture.json, or export the mat again"),
        )
    if len(time_s) < 10:
        raise StreamError(
            stream.source, tr("{time_s} frames, at least 10 are needed", time_s=len(time_s)), advice=tr("Capture again")
        )
    if not np.isfinite(time_s).all() or not np.isfinite(float(p.sum(dtype=np.float64))):
        row = int(np.argmin(np.isfinite(time_s) & np.isfinite(p).all(axis=1)))
        raise StreamError(
            stream.source, tr("not a number"), tr("row {value}", value=row + 2), tr("Leave lost frames out instead")
        )
    steps = np.diff(time_s)
    if (steps < 0).any():
        k = int(np.argmax(steps < 0))
        raise StreamError(
            stream.source,
            tr(
                "the clock runs backward, from {time_s:.3f} to {time_s2:.3f} s", time_s=time_s[k], time_s2=time_s[k + 1]
            ),
            tr("row {value}", value=k + 3),
            tr("Export the recording again, frames in order"),
        )
    rate = 1.0 / max(float(np.median(steps)), 1e-9)
    if not RATE_HZ[0] <= rate <= RATE_HZ[1]:
        raise StreamError(
            stream.source,
            tr("{rate:.0f} frames a second; 50 to 500 are usual", rate=rate),
            "time_s",
            tr("Times are in seconds; set the mat to 50 to 500 Hz"),
        )
