"""C3D: reading points as recorded, and writing them back.

Reading takes header and parameters from the ``c3d`` package and the points in one pass over the bytes; files of other
processors go frame by frame through the package. Writing is left to ``ezc3d``, an independent implementation.
"""

from __future__ import annotations

import io
import tempfile
import warnings
from collections.abc import Sequence
from pathlib import Path

import c3d
import numpy as np

from finearc.core.typing import Array
from finearc.formats.bounds import MOST_LABELS, refuse_many
from finearc.formats.errors import BundleError
from finearc.formats.points import PointTable
from finearc.wording import tr

UNITS_M = {"mm": 0.001, "cm": 0.01, "m": 1.0, "": 0.001, "millimeters": 0.001, "meters": 1.0, "metres": 1.0}
BLOCK = 512
INTEL = 84


def read_c3d(file: str, content: bytes) -> PointTable:
    """Points of a C3D file. Raises ``BundleError`` for one that is damaged, cut off or in an unknown unit."""
    if len(content) < 2 * BLOCK or content[1] != 80:
        raise BundleError(file, tr("not a C3D file"), tr("first block"), tr("Export the capture as C3D or TRC"))
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            reader = c3d.Reader(io.BytesIO(content))
            refuse_many(file, "points", int(reader.point_used), MOST_LABELS)
            labels = [str(label).strip() for label in reader.point_labels][: int(reader.point_used)]
            frames = int(reader.frame_count)
            points = _points(reader, content, frames)
            rate, unit = float(reader.point_rate), _unit(reader)
    except BundleError:
        raise
    except Exception:  # the package raises whatever a damaged file makes it run into
        raise BundleError(file, tr("the C3D is damaged or cut off"), advice=tr("Export it again")) from None
    if frames == 0 or reader.point_used == 0:
        raise BundleError(
            file,
            tr("{frames} frames of {point_used} points", frames=frames, point_used=reader.point_used),
            advice=tr("Capture again"),
        )
    if len(points) < frames:
        raise BundleError(
            file,
            tr("cut off: {points} of {frames} frames are there", points=len(points), frames=frames),
            tr("frame {value}", value=len(points) + 1),
            tr("Export it again"),
        )
    if unit.lower() not in UNITS_M:
        raise BundleError(file, tr('points in "{unit}"', unit=unit), "POINT:UNITS", tr("Export in mm or m"))
    if not 0 < rate < 1e6:
        raise BundleError(file, tr("a frame rate of {rate:g}", rate=rate), "POINT:RATE", tr("Export it again"))
    labels += [tr("point {value}", value=k + 1) for k in range(len(labels), points.shape[1])]
    xyz = points[:, :, :3].astype(np.float64)
    xyz[(points[:, :, 3] < 0) | (xyz == 0.0).all(axis=2)] = np.nan
    return PointTable(np.arange(frames) / rate, tuple(labels), xyz * UNITS_M[unit.lower()], rate)


def _unit(reader: c3d.Reader) -> str:
    value = reader.get("POINT:UNITS")
    return str(value.string_value).strip() if value is not None else ""


def _points(reader: c3d.Reader, content: bytes, frames: int) -> Array:
    """Points (n, k, 4): x, y, z, residual (below 0 where the point was not seen)."""
    header = reader.header
    k, analog = int(reader.point_used), int(reader.analog_per_frame) * int(reader.analog_used)
    if content[BLOCK * (content[0] - 1) + 3] != INTEL:
        rows = [points[:, :4] for _, points, _ in reader.read_frames(copy=True)]
        return np.asarray(rows, dtype=np.float64)
    real = header.scale_factor < 0
    kind = np.dtype("<f4") if real else np.dtype("<i2")
    start = (int(header.data_block) - 1) * BLOCK
    width = 4 * k + analog
    have = min(frames, (len(content) - start) // (width * kind.itemsize))
    table = np.frombuffer(content, kind, have * width, start).reshape(have, width)[:, : 4 * k]
    points = np.asarray(table, dtype=np.float64).reshape(have, k, 4)
    if not real:
        points[:, :, :3] *= abs(header.scale_factor)
    return points


def write_c3d(path: Path, labels: Sequence[str], points_m: Array, rate_hz: float) -> None:
    """Points (n, k, 3), m, as millimetres; hidden ones with a residual below 0."""
    import ezc3d

    n, k, _ = points_m.shape
    hidden = np.asarray(~np.isfinite(points_m).all(axis=2))
    data = np.ones((4, k, n))
    data[:3] = 1000.0 * np.where(hidden[..., None], np.nan, points_m).transpose(2, 1, 0)
    out = ezc3d.c3d()
    out["parameters"]["POINT"]["RATE"]["value"] = [float(rate_hz)]
    out["parameters"]["POINT"]["UNITS"]["value"] = ["mm"]
    out["parameters"]["POINT"]["LABELS"]["value"] = list(labels)
    out["data"]["points"] = data
    residuals = np.where(hidden, -1.0, 0.0).T[None]
    out["data"]["meta_points"]["residuals"] = residuals
    out.write(str(path))


def c3d_bytes(labels: Sequence[str], points_m: Array, rate_hz: float) -> bytes:
    """The same in memory."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "points.c3d"
        write_c3d(path, labels, points_m, rate_hz)
        return path.read_bytes()
