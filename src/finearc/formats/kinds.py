"""The kinds of source that Fine Arc knows, each with its files. A new kind is its own module and one line here."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping, Sequence
from typing import Any, ClassVar, NamedTuple

from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.pressure.stream import MatStream
from finearc.core.signals.streams import ImuStream
from finearc.core.sources.ground import MAT, PLATES
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.kind import Kind
from finearc.core.sources.markers import MARKERS
from finearc.formats.c3d_file import c3d_bytes
from finearc.formats.entries import ImuEntry, MarkersEntry, PressureEntry, Stream
from finearc.formats.imu_csv import read_imu, write_imu
from finearc.formats.marker_file import marker_stream
from finearc.formats.mat_table import mat_parquet, read_mat_table
from finearc.formats.plates_c3d import read_plates

Opener = Callable[[str], bytes]


class Written(NamedTuple):
    """A stream as a bundle has it: its entry in the manifest, and its file."""

    entry: Mapping[str, Any]
    content: bytes


class Files(ABC):
    """How a kind's streams stand in a bundle. ``entry``: the shape of its entry in the manifest, told from others by
    ``kind``."""

    entry: ClassVar[type[Stream]]

    @abstractmethod
    def read(self, entries: Sequence[Any], opener: Opener) -> Mapping[Kind, Any]:
        """The streams that entries of this kind name; one file may hold several kinds. Raises ``BundleError``."""

    @abstractmethod
    def write(self, stream: Any) -> list[Written]:
        """The stream's entries and files."""


class ImuFiles(Files):
    """One CSV for each segment."""

    entry = ImuEntry

    def read(self, entries: Sequence[ImuEntry], opener: Opener) -> Mapping[Kind, Any]:
        return {INERTIAL: tuple(read_imu(e, opener(e.file)) for e in entries)}

    def write(self, stream: Sequence[ImuStream]) -> list[Written]:
        return [
            Written({"kind": "imu", "segment": s.segment.value, "file": f"{s.segment.value}.csv"}, write_imu(s))
            for s in stream
        ]


class MarkerFiles(Files):
    """A C3D or TRC file; a C3D may hold force plates too."""

    entry = MarkersEntry

    def read(self, entries: Sequence[MarkersEntry], opener: Opener) -> Mapping[Kind, Any]:
        (entry,) = entries
        content = opener(entry.file)
        axes = BayAxes(entry.bay_axes.ball, entry.bay_axes.target, entry.bay_axes.up)
        clock = {"offset_s": entry.offset_s, "rate_scale": entry.rate_scale}
        found: dict[Kind, Any] = {MARKERS: marker_stream(entry.file, content, axes, entry.labels, **clock)}
        if entry.file.lower().endswith(".c3d"):
            plates = read_plates(entry.file, content, entry.offset_s, entry.rate_scale)
            if plates is not None:
                found[PLATES] = plates
        return found

    def write(self, stream: MarkerStream) -> list[Written]:
        axes = stream.axes
        entry: dict[str, Any] = {
            "kind": "markers",
            "file": "markers.c3d",
            "bay_axes": {"ball": axes.ball, "target": axes.target, "up": axes.up},
            "labels": dict(stream.names),
        }
        if stream.time_s[0] != 0.0:
            entry["offset_s"] = float(stream.time_s[0])
        return [Written(entry, c3d_bytes(stream.labels, stream.points_m, stream.rate_hz))]


class MatFiles(Files):
    """A table of cells, CSV or Parquet."""

    entry = PressureEntry

    def read(self, entries: Sequence[PressureEntry], opener: Opener) -> Mapping[Kind, Any]:
        (entry,) = entries
        return {MAT: read_mat_table(entry, opener(entry.file))}

    def write(self, stream: MatStream) -> list[Written]:
        grid = stream.grid
        entry: dict[str, Any] = {
            "kind": "pressure",
            "file": "mat.parquet",
            "rows": grid.rows,
            "columns": grid.columns,
            "cell_mm": [round(1000.0 * v, 6) for v in grid.cell_m],
            "origin_mm": [round(1000.0 * v, 6) for v in grid.origin_m],
            "row_axis": grid.row_axis,
            "column_axis": grid.column_axis,
            "unit": "kPa",
        }
        if stream.own_clock:
            entry["own_clock"] = True
        if stream.limit_kpa is not None:
            entry["saturation_kpa"] = stream.limit_kpa
        return [Written(entry, mat_parquet(stream))]


class Registered(NamedTuple):
    """A kind and its files; None for one that has no entry of its own in a bundle."""

    kind: Kind
    files: Files | None


KINDS: tuple[Registered, ...] = (
    Registered(INERTIAL, ImuFiles()),
    Registered(MARKERS, MarkerFiles()),
    Registered(MAT, MatFiles()),
    Registered(PLATES, None),
)


def kind_of(group: str) -> Kind | None:
    """The kind that a stored group of columns belongs to."""
    return next((r.kind for r in KINDS if r.kind.owns(group)), None)


def with_files() -> dict[str, Files]:
    """Files by the ``kind`` that their entries name."""
    return {r.kind.key: r.files for r in KINDS if r.files is not None}
