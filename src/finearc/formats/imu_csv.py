"""Inertial logs as CSV: ``time_s,acc_x,…,gyr_z`` and optionally ``mag_x,mag_y,mag_z``."""

from __future__ import annotations

import io
from difflib import get_close_matches

import numpy as np
import pyarrow as pa
from pyarrow import csv

from finearc.core.signals.streams import ImuStream
from finearc.core.typing import Array
from finearc.formats.bounds import MOST_COLUMNS, MOST_ROWS, columns_in_first_line, refuse_beyond_measure, refuse_many
from finearc.formats.entries import ImuEntry
from finearc.formats.errors import BundleError
from finearc.formats.text import unreadable
from finearc.wording import tr

G_M_S2 = 9.80665
COLUMNS = ("time_s", "acc_x", "acc_y", "acc_z", "gyr_x", "gyr_y", "gyr_z")
MAG = ("mag_x", "mag_y", "mag_z")


def read_imu(entry: ImuEntry, content: bytes) -> ImuStream:
    """Parse one log into SI. Raises ``BundleError`` naming file, row and column."""
    table = _parse(entry.file, content)
    _check_header(entry.file, table.column_names)
    if table.num_rows == 0:
        raise BundleError(entry.file, tr("0 rows of data"), "row 2", tr("Capture again"))
    refuse_many(entry.file, "rows", table.num_rows, MOST_ROWS)
    columns = [_numbers(entry.file, table, name) for name in COLUMNS]
    time_s = entry.rate_scale * columns[0] + entry.offset_s
    acc = np.column_stack(columns[1:4])
    gyr = np.column_stack(columns[4:7])
    if entry.units.acc == "g":
        acc *= G_M_S2
    if entry.units.gyr == "deg/s":
        gyr *= np.pi / 180.0
    return ImuStream(entry.segment, time_s, acc, gyr, entry.file)


def _parse(file: str, content: bytes) -> pa.Table:
    if not content.strip():
        raise BundleError(file, tr("the file is empty"), advice=tr("Export the recording again"))
    refuse_many(file, "columns", columns_in_first_line(content), MOST_COLUMNS, tr("row 1, header"))
    try:
        table = csv.read_csv(
            pa.BufferReader(content),
            read_options=csv.ReadOptions(use_threads=False),  # a refused file leaves no thread behind
            convert_options=csv.ConvertOptions(column_types=dict.fromkeys(COLUMNS + MAG, pa.float64())),
        )
        table.column_names  # noqa: B018 - decodes the header, which may be no text at all
        return table
    except UnicodeDecodeError:
        raise BundleError(file, tr("not UTF-8 text"), tr("row 1, header"), tr("Export the recording again")) from None
    except pa.ArrowInvalid as error:
        raise unreadable(file, content, error) from None


def _check_header(file: str, names: list[str]) -> None:
    missing = [c for c in COLUMNS if c not in names]
    if missing:
        near = get_close_matches(missing[0], names, 1)
        hint = tr(' ("{near}" looks like it)', near=near[0]) if near else ""
        raise BundleError(
            file,
            tr("column {missing} is missing{hint}", missing=missing[0], hint=hint),
            tr("row 1, header"),
            tr("The header must be {columns}", columns=",".join(COLUMNS)),
        )


def _numbers(file: str, table: pa.Table, name: str) -> Array:
    column = table.column(name)
    if column.null_count:
        mask = column.is_null().to_numpy()
        raise BundleError(
            file,
            tr("not a number"),
            tr("row {value}, column {name}", value=int(np.argmax(mask)) + 2, name=name),
            tr("Leave lost samples out instead"),
        )
    values = np.ascontiguousarray(column.to_numpy(), dtype=np.float64)
    refuse_beyond_measure(
        file, values[np.isfinite(values)], tr("column {name}", name=name)
    )  # no number at all is said with its row
    return values


def write_imu(stream: ImuStream) -> bytes:
    """The log as CSV in SI, readable back without loss."""
    table = pa.table(dict(zip(COLUMNS, [stream.time_s, *stream.acc_m_s2.T, *stream.gyr_rad_s.T], strict=True)))
    out = io.BytesIO()
    out.write(",".join(COLUMNS).encode() + b"\n")
    csv.write_csv(table, out, csv.WriteOptions(include_header=False, quoting_style="none"))
    return out.getvalue()
