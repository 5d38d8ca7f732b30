"""Pressure mats as CSV or Parquet: ``time_s``, then one column a cell, row by row (``r0c0,r0c1,…``)."""

from __future__ import annotations

import io
from difflib import get_close_matches

import numpy as np
import pyarrow as pa
from pyarrow import csv, parquet

from finearc.core.pressure.stream import MatGrid, MatStream
from finearc.core.typing import Floats
from finearc.formats.bounds import (
    MOST_CELLS,
    MOST_NUMBERS,
    MOST_ROWS,
    columns_in_first_line,
    refuse_beyond_measure,
    refuse_many,
)
from finearc.formats.entries import PressureEntry
from finearc.formats.errors import BundleError
from finearc.formats.text import unreadable
from finearc.wording import tr

KPA = {"kPa": 1.0, "Pa": 0.001, "mmHg": 0.133322387415, "N/cm²": 10.0, "N/cm2": 10.0}
TIME = "time_s"
LARGEST_NAMES = 20_000_000
"""Bytes of a Parquet file's own description."""
BLOCK_BYTES = 16 * 1024 * 1024
"""How much of a CSV is read at once: rows of some thousand cells are long."""


def cell_names(rows: int, columns: int) -> list[str]:
    """Names of all cells, row by row."""
    return [f"r{r}c{c}" for r in range(rows) for c in range(columns)]


def read_mat_table(entry: PressureEntry, content: bytes) -> MatStream:
    """Parse one recording into kPa. Raises ``BundleError`` naming file, row and column."""
    if not content.strip():
        raise BundleError(entry.file, tr("the file is empty"), advice=tr("Export the recording again"))
    refuse_many(entry.file, "cells", entry.rows * entry.columns, MOST_CELLS, tr("rows and columns in capture.json"))
    names = [TIME, *cell_names(entry.rows, entry.columns)]
    parse = _parquet if entry.file.lower().endswith(".parquet") else _csv
    table = parse(entry.file, content, names)
    if table.num_rows == 0:
        raise BundleError(entry.file, tr("0 rows of data"), "row 2", tr("Capture again"))
    refuse_many(entry.file, "rows", table.num_rows, MOST_ROWS)
    refuse_many(entry.file, "numbers", table.num_rows * len(names), MOST_NUMBERS)
    time_s = entry.rate_scale * _column(entry.file, table, TIME) + entry.offset_s
    cells = np.empty((len(names) - 1, table.num_rows), dtype=np.float32)
    for k, name in enumerate(names[1:]):
        _into(cells[k], entry.file, table, name)
    if KPA[entry.unit] != 1.0:
        cells *= np.float32(KPA[entry.unit])
    refuse_beyond_measure(entry.file, cells.T, "cells")
    return MatStream(time_s, cells.T, grid_of(entry), entry.file, entry.own_clock, None, entry.saturation_kpa)


def grid_of(entry: PressureEntry) -> MatGrid:
    """Where the cells lie, in m."""
    row_m, column_m = (v / 1000.0 for v in entry.cell_mm)
    x_m, y_m = (v / 1000.0 for v in entry.origin_mm)
    return MatGrid(entry.rows, entry.columns, (row_m, column_m), (x_m, y_m), entry.row_axis, entry.column_axis)


def _check_names(file: str, found: list[str], names: list[str]) -> None:
    if TIME not in found:
        near = get_close_matches(TIME, found, 1)
        hint = tr(' ("{near}" looks like it)', near=near[0]) if near else ""
        raise BundleError(
            file,
            tr("column {time} is missing{hint}", time=TIME, hint=hint),
            tr("row 1, header"),
            tr("The first column is time_s"),
        )
    if len(found) != len(names):
        raise BundleError(
            file,
            tr("{value} cells a frame, the capture says {value2}", value=len(found) - 1, value2=len(names) - 1),
            tr("row 1, header"),
            tr("Correct rows and columns in capture.json, or export the mat again"),
        )
    there = set(found)
    missing = next((n for n in names if n not in there), None)
    if missing is not None:
        raise BundleError(
            file,
            tr("cell {missing} is missing", missing=missing),
            tr("row 1, header"),
            tr("Cells are named {names}, {names2} … row by row", names=names[1], names2=names[2]),
        )


def _csv(file: str, content: bytes, names: list[str]) -> pa.Table:
    refuse_many(file, "columns", columns_in_first_line(content), MOST_CELLS + 1, tr("row 1, header"))
    first = content[: content.find(b"\n") + 1 or None]
    try:
        found = [h.strip().strip('"') for h in first.decode("utf-8-sig").strip().split(",")]
    except UnicodeDecodeError:
        raise BundleError(file, tr("not UTF-8 text"), tr("row 1, header"), tr("Export the recording again")) from None
    _check_names(file, found, names)
    types = dict.fromkeys(names[1:], pa.float32()) | {TIME: pa.float64()}
    try:
        return csv.read_csv(
            pa.BufferReader(content),
            read_options=csv.ReadOptions(block_size=BLOCK_BYTES, column_names=found, skip_rows=1),
            convert_options=csv.ConvertOptions(column_types=types),
        )
    except pa.ArrowInvalid as error:
        raise unreadable(file, content, error) from None


def _parquet(file: str, content: bytes, names: list[str]) -> pa.Table:
    try:
        opened = parquet.ParquetFile(
            pa.BufferReader(content), thrift_string_size_limit=LARGEST_NAMES, thrift_container_size_limit=LARGEST_NAMES
        )
        _check_parquet(file, opened, names)
        return opened.read()
    except (pa.ArrowException, OSError):
        raise BundleError(file, tr("not a readable Parquet file, or cut off"), advice=tr("Export it again")) from None


def _check_parquet(file: str, opened: parquet.ParquetFile, names: list[str]) -> None:
    """What its description says is in bounds, before any of it is unpacked."""
    told = opened.metadata
    refuse_many(file, "columns", told.num_columns, MOST_CELLS + 1)
    refuse_many(file, "rows", told.num_rows, MOST_ROWS)
    refuse_many(file, "numbers", told.num_rows * told.num_columns, MOST_NUMBERS)
    schema = opened.schema_arrow
    _check_names(file, schema.names, names)
    for field in schema:
        if not (pa.types.is_floating(field.type) or pa.types.is_integer(field.type)):
            raise BundleError(
                file, tr("holds {type}, not numbers", type=field.type), tr("column {name}", name=field.name[:40])
            )


def _column(file: str, table: pa.Table, name: str) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    out = np.empty(table.num_rows)
    _into(out, file, table, name)
    return out


def _into(out: Floats, file: str, table: pa.Table, name: str) -> None:
    """Copy one column. Raises ``BundleError`` where a cell is empty or no number."""
    column = table.column(name)
    if column.null_count:
        row = int(np.argmax(column.is_null().to_numpy())) + 2
        raise BundleError(
            file,
            tr("not a number"),
            tr("row {row}, column {name}", row=row, name=name),
            tr("Leave lost frames out instead"),
        )
    at = 0
    for chunk in column.chunks:
        try:
            out[at : at + len(chunk)] = chunk.to_numpy(zero_copy_only=False)
        except (ValueError, TypeError):
            raise BundleError(
                file, tr("holds {type}, not numbers", type=chunk.type), tr("column {name}", name=name)
            ) from None
        at += len(chunk)


def mat_parquet(stream: MatStream) -> bytes:
    """The recording as Parquet in kPa, readable back without loss."""
    cells = np.ascontiguousarray(np.asarray(stream.pressure_kpa, dtype=np.float32).T)
    columns = [stream.time_s, *cells]
    table = pa.table(dict(zip([TIME, *cell_names(stream.grid.rows, stream.grid.columns)], columns, strict=True)))
    out = io.BytesIO()
    parquet.write_table(table, out, compression="zstd", row_group_size=max(1, len(stream.time_s)))
    return out.getvalue()


def mat_csv(stream: MatStream, decimals: int = 2) -> bytes:
    """The recording as CSV in kPa, rounded to ``decimals``."""
    cells = np.round(np.asarray(stream.pressure_kpa, dtype=np.float64), decimals).T
    names = [TIME, *cell_names(stream.grid.rows, stream.grid.columns)]
    table = pa.table(dict(zip(names, [np.round(stream.time_s, 6), *np.ascontiguousarray(cells)], strict=True)))
    out = io.BytesIO()
    out.write(",".join(names).encode() + b"\n")
    csv.write_csv(table, out, csv.WriteOptions(include_header=False, quoting_style="none"))
    return out.getvalue()
