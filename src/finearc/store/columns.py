"""Raw columns as Parquet with zstd: compact, open, loss-free."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pyarrow as pa
from pyarrow import parquet

from finearc.core.sources.kind import Kind
from finearc.formats import kinds
from finearc.services.ports import Columns


class ParquetColumns:
    """Implements ``RawCodec``. Plain columns are kept as doubles; one with rows of many values (n, k), such as the
    cells of a mat, as lists of single-precision numbers."""

    def kind_of(self, group: str) -> Kind | None:
        return kinds.kind_of(group)

    def pack(self, columns: Columns) -> bytes:
        out = io.BytesIO()
        table = pa.table({name: _column(values) for name, values in columns.items()})
        parquet.write_table(table, out, compression="zstd", use_byte_stream_split=True, use_dictionary=False)
        return out.getvalue()

    def unpack(self, content: bytes) -> Columns:
        table = parquet.read_table(io.BytesIO(content))
        return {name: _values(table.column(name)) for name in table.column_names}


def _column(values: np.ndarray[Any, np.dtype[Any]]) -> Any:
    if values.ndim == 1:
        return np.ascontiguousarray(values, dtype=np.float64)
    flat = pa.array(np.ascontiguousarray(values, dtype=np.float32).ravel())
    return pa.FixedSizeListArray.from_arrays(flat, values.shape[1])


def _values(column: pa.ChunkedArray) -> np.ndarray[Any, np.dtype[Any]]:
    if not pa.types.is_fixed_size_list(column.type):
        return np.asarray(column.to_numpy())
    flat = column.combine_chunks().flatten().to_numpy()
    return np.asarray(flat.reshape(-1, column.type.list_size))
