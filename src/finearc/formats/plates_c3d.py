"""Force plates of a C3D file: analog channels as forces and moments, after the C3D user guide (type 2)."""

from __future__ import annotations

import io
import warnings

import c3d
import numpy as np

from finearc.core.pressure.plates import ForcePlate, PlateStream
from finearc.core.typing import Array
from finearc.formats.c3d_file import BLOCK, INTEL, UNITS_M

TYPE_2 = 2
N, NM = {"n": 1.0, "newton": 1.0, "": 1.0}, {"nmm": 0.001, "nm": 1.0, "n.mm": 0.001, "n.m": 1.0, "": 0.001}


def read_plates(file: str, content: bytes, offset_s: float = 0.0, rate_scale: float = 1.0) -> PlateStream | None:
    """The force plates of type 2 in a C3D file, or None when it has none that can be read. The file has been read for
    its points before, so that it is whole."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        reader = c3d.Reader(io.BytesIO(content))
        used = reader.get("FORCE_PLATFORM:USED")
        if used is None or int(used.int16_value) < 1 or content[BLOCK * (content[0] - 1) + 3] != INTEL:
            return None
        types = np.atleast_1d(reader.get("FORCE_PLATFORM:TYPE").int16_array)
        corners = reader.get("FORCE_PLATFORM:CORNERS").float_array.reshape(-1, 4, 3)
        origins = reader.get("FORCE_PLATFORM:ORIGIN").float_array.reshape(-1, 3)
        channels = reader.get("FORCE_PLATFORM:CHANNEL").int16_array.reshape(len(types), -1)
        analog = _analog(reader, content)
        units = _units(reader)
        metre = UNITS_M.get(str(reader.get("POINT:UNITS").string_value).strip().lower(), 0.001)
        rate = float(reader.analog_rate)
    plates = []
    for kind, corner, origin, channel in zip(types, corners, origins, channels, strict=True):
        columns = np.asarray(channel[:6], dtype=int) - 1
        if kind != TYPE_2 or columns.min() < 0 or columns.max() >= analog.shape[1]:
            continue
        newton = np.array([N.get(units[c], 1.0) for c in columns[:3]])
        metres = np.array([NM.get(units[c], 0.001) for c in columns[3:]])
        plates.append(
            ForcePlate(
                analog[:, columns[:3]] * newton,
                analog[:, columns[3:]] * metres,
                metre * corner.astype(np.float64),
                metre * origin.astype(np.float64),
            )
        )
    time_s = rate_scale * np.arange(len(analog), dtype=np.float64) / rate + offset_s
    return PlateStream(time_s, tuple(plates), file) if plates else None


def _units(reader: c3d.Reader) -> list[str]:
    known = reader.get("ANALOG:UNITS")
    if known is None:
        return [""] * int(reader.analog_used)
    units = [str(u).strip().lower() for u in np.atleast_1d(known.string_array)]
    return units + [""] * (int(reader.analog_used) - len(units))


def _analog(reader: c3d.Reader, content: bytes) -> Array:
    """Analog samples (n, channels), scaled."""
    header = reader.header
    points, channels = 4 * int(reader.point_used), int(reader.analog_used)
    per_frame = int(header.analog_per_frame)
    kind = np.dtype("<f4") if header.scale_factor < 0 else np.dtype("<i2")
    width = points + per_frame * channels
    start = (int(header.data_block) - 1) * BLOCK
    have = min(int(reader.frame_count), (len(content) - start) // (width * kind.itemsize))
    table = np.frombuffer(content, kind, have * width, start).reshape(have, width)[:, points:]
    raw = np.asarray(table, dtype=np.float64).reshape(have * per_frame, channels)
    general = reader.get("ANALOG:GEN_SCALE")
    scale = _per_channel(reader, "ANALOG:SCALE", channels, 1.0) * (1.0 if general is None else general.float_value)
    return np.asarray((raw - _per_channel(reader, "ANALOG:OFFSET", channels, 0.0)) * scale)


def _per_channel(reader: c3d.Reader, name: str, channels: int, usual: float) -> Array:
    known = reader.get(name)
    out = np.full(channels, usual)
    if known is None:
        return out
    values = known.int16_array if name.endswith("OFFSET") else known.float_array
    values = np.atleast_1d(values)[:channels]
    out[: len(values)] = values
    return out
