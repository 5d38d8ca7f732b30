"""Large blocks of a swing, read only when they are asked for: traces, figure, pictures of the ground, a putt."""

from __future__ import annotations

import json
import struct
from collections.abc import Mapping

import numpy as np

from finearc.core.putting.drawn import POINTS
from finearc.core.sources.figure import Figure
from finearc.core.typing import Array

MAGIC = b"FAT1"
TRACES, FIGURE, GROUND, PUTT = "traces", "figure", "ground", "putt"
KINDS = (TRACES, FIGURE, GROUND, PUTT)


def pack_traces(columns: Mapping[str, Array]) -> bytes:
    """``FAT1``, length of a JSON header (uint32), the header ``{"n": …, "columns": […]}`` padded to four
    bytes, then each column as little-endian float32."""
    n = len(next(iter(columns.values())))
    header = json.dumps({"n": n, "columns": list(columns)}).encode()
    header += b" " * (-len(header) % 4)
    body = b"".join(np.ascontiguousarray(c, dtype="<f4").tobytes() for c in columns.values())
    return MAGIC + struct.pack("<I", len(header)) + header + body


def unpack_traces(block: bytes) -> dict[str, Array]:
    """The inverse of ``pack_traces``."""
    (size,) = struct.unpack_from("<I", block, 4)
    header = json.loads(block[8 : 8 + size])
    n = header["n"]
    values = np.frombuffer(block, dtype="<f4", offset=8 + size).reshape(-1, n)
    return {name: values[k].astype(float) for k, name in enumerate(header["columns"])}


def figure_columns(figure: Figure) -> dict[str, Array]:
    """Points of a figure as columns ``<point>_x``, ``_y``, ``_z``, m, beside ``time_s``."""
    columns = {"time_s": figure.time_s}
    for name, points in figure.points.items():
        for k, axis in enumerate("xyz"):
            columns[f"{name}_{axis}"] = points[:, k]
    return columns


def putt_columns(courses: Mapping[str, Array]) -> dict[str, Array]:
    """Courses of a putt as ``core.putting.drawn`` has them, angles in deg, rates in deg/s, places in cm."""
    return {name: values * _per_si(name) for name, values in courses.items()}


def _per_si(name: str) -> float:
    if name == "time_s":
        return 1.0
    return 100.0 if name in POINTS else float(np.rad2deg(1.0))
