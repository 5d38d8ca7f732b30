"""Tables out: CSV with dangerous cells escaped, Parquet, and OpenSim motion (MOT)."""

from __future__ import annotations

import csv as text_csv
import io
from collections.abc import Mapping, Sequence
from pathlib import Path

import numpy as np
import pyarrow as pa
from pyarrow import parquet

from finearc.core.markers.stream import MarkerStream
from finearc.core.metrics.definition import Unit
from finearc.core.metrics.registry import BY_ID
from finearc.core.sources.markers import MARKERS
from finearc.core.typing import Array
from finearc.formats.c3d_file import write_c3d
from finearc.formats.errors import BundleError
from finearc.formats.trc import trc_text
from finearc.services.judging.analysis import Analysis, CaptureData, analyse
from finearc.services.record.result import trace_columns
from finearc.wording import mark, tr

NEEDS_MARKERS = mark("needs markers, which this bundle does not carry")


def safe_cell(value: object) -> object:
    """Text that a spreadsheet would take for a formula gets a leading apostrophe; numbers stay."""
    if isinstance(value, str) and value[:1] in ("=", "+", "-", "@", "\t", "\r"):
        return "'" + value
    return value


def csv_table(header: Sequence[str], rows: Sequence[Sequence[object]]) -> str:
    """A CSV with escaped cells."""
    out = io.StringIO()
    writer = text_csv.writer(out, lineterminator="\n")
    writer.writerow([safe_cell(h) for h in header])
    writer.writerows([[safe_cell(c) for c in row] for row in rows])
    return out.getvalue()


def traces_table(analysis: Analysis) -> pa.Table:
    """All swings' traces one after another, column ``swing`` counting from 1."""
    parts: list[dict[str, Array]] = []
    for number, swing in enumerate(analysis.swings, 1):
        columns = trace_columns(swing)
        parts.append({"swing": np.full(len(columns["time_s"]), number), **columns})
    names = list(dict.fromkeys(name for part in parts for name in part))
    joined = {name: np.concatenate([p.get(name, np.full(len(p["time_s"]), np.nan)) for p in parts]) for name in names}
    return pa.table({n: (v.astype(np.int32) if n == "swing" else v) for n, v in joined.items()})


def write_csv(table: pa.Table, path: Path) -> None:
    """Plain numeric CSV, empty where a value is absent."""
    columns = [table.column(n).to_numpy() for n in table.column_names]
    rows = [["" if isinstance(c, float) and np.isnan(c) else c for c in row] for row in zip(*columns, strict=True)]
    path.write_text(csv_table(table.column_names, rows), encoding="utf-8")


def mot_text(name: str, columns: Mapping[str, Array]) -> str:
    """Angles as an OpenSim motion file (degrees)."""
    names = ["time", *(n for n in columns if n != "time_s")]
    data = np.column_stack([columns["time_s"], *(columns[n] for n in names[1:])])
    head = [name, "version=1", f"nRows={len(data)}", f"nColumns={len(names)}", "inDegrees=yes", "endheader"]
    body = ["\t".join(f"{v:.8g}" for v in row) for row in data]
    return "\n".join([*head, "\t".join(names), *body]) + "\n"


def convert(data: CaptureData, out: Path) -> None:
    """Write markers (C3D, TRC) as they were recorded, or joint angles (CSV, Parquet, MOT) as they were measured, by the
    ending of ``out``. Raises a ``FineArcError`` for what cannot be written."""
    ending = out.suffix.lower()
    out.parent.mkdir(parents=True, exist_ok=True)
    if ending in (".c3d", ".trc"):
        _convert_markers(data.streams.get(MARKERS), out, ending)
    elif ending == ".parquet":
        parquet.write_table(traces_table(analyse(data)), out)
    elif ending == ".csv":
        write_csv(traces_table(analyse(data)), out)
    elif ending == ".mot":
        table = traces_table(analyse(data))
        angles = {"time_s", *(k for k, m in BY_ID.items() if m.unit is Unit.DEG)}
        keep = {n: table.column(n).to_numpy() for n in table.column_names if n in angles}
        out.write_text(mot_text(out.stem, keep), encoding="utf-8")
    else:
        raise BundleError(
            out.name,
            tr('ending "{ending}" is not known', ending=ending),
            advice=tr("Use .csv, .parquet, .mot, .c3d or .trc"),
        )


def _convert_markers(markers: MarkerStream | None, out: Path, ending: str) -> None:
    if markers is None:
        raise BundleError(out.name, f"{ending[1:].upper()} {NEEDS_MARKERS}", advice=tr("Use .csv, .parquet or .mot"))
    if ending == ".c3d":
        write_c3d(out, markers.labels, markers.points_m, markers.rate_hz)
    else:
        text = trc_text(out.name, markers.labels, markers.time_s, markers.points_m, markers.rate_hz)
        out.write_text(text, encoding="utf-8")
