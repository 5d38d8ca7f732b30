"""Binary frames of samples: a header of 24 bytes, then samples, all little-endian.

``u8`` version · ``u8`` stream · ``u16`` count · ``u32`` sequence of the first sample · ``u64`` its device time (µs) ·
``u32`` step (µs; 0: each sample begins with its own ``u32`` offset) · ``u32`` reserved, 0."""

from __future__ import annotations

import struct
from dataclasses import dataclass
from typing import Any

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.live.sequence import Samples
from finearc.wording import tr

HEADER = struct.Struct("<BBHIQII")
VERSION = 1
MAX_FRAME_BYTES = 1_000_000
"""Largest frame: a mat of 64 by 64 cells for a second at 100 Hz."""
Values = np.ndarray[Any, np.dtype[Any]]


@dataclass
class BadFrame(FineArcError):
    """A frame is not what it should be: what, and what to do."""

    problem: str
    advice: str
    code = "frame"

    def __str__(self) -> str:
        return tr("frame: {problem}. {advice}.", problem=self.problem, advice=self.advice)


@dataclass(frozen=True)
class Layout:
    """One sample on the wire: ``width`` numbers of a type, ``<f4`` or ``<u2``."""

    width: int
    dtype: str

    def sample(self, *, own_offset: bool) -> np.dtype[Any]:
        """The type of a sample, with its own offset in time where it has one."""
        values: Any = ("values", self.dtype, (self.width,))
        return np.dtype([("offset", "<u4"), values] if own_offset else [values])


@dataclass(frozen=True)
class Header:
    """The first 24 bytes."""

    stream: int
    count: int
    sequence: int
    first_us: int
    step_us: int


def read_header(data: bytes) -> Header:
    """Raises ``BadFrame``."""
    if len(data) < HEADER.size:
        raise BadFrame(
            tr("{data} bytes, a header alone has {size}", data=len(data), size=HEADER.size), tr("Send whole frames")
        )
    version, stream, count, sequence, first_us, step_us, reserved = HEADER.unpack_from(data)
    if version != VERSION:
        raise BadFrame(
            tr("version {version}, this is version {version2}", version=version, version2=VERSION),
            tr("Send the version that hello named"),
        )
    if reserved:
        raise BadFrame(tr("the reserved field is not 0"), tr("Leave it 0"))
    if count == 0:
        raise BadFrame(tr("it holds no samples"), tr("Send at least one"))
    return Header(stream, count, sequence, first_us, step_us)


def read_samples(header: Header, data: bytes, layout: Layout) -> tuple[Values, Values]:
    """Device times (n,), µs, and values (n, width) as they were sent. Raises ``BadFrame``."""
    kind = layout.sample(own_offset=header.step_us == 0)
    wanted = HEADER.size + header.count * kind.itemsize
    if len(data) != wanted:
        raise BadFrame(
            tr(
                "{n} samples of {itemsize} bytes make {wanted} bytes, this has {data}",
                n=header.count,
                itemsize=kind.itemsize,
                wanted=wanted,
                data=len(data),
            ),
            tr("Count samples and fields as hello declared them"),
        )
    body = np.frombuffer(data, kind, header.count, HEADER.size)
    if header.step_us:
        return header.first_us + header.step_us * np.arange(header.count, dtype=np.int64), body["values"]
    offset = body["offset"].astype(np.int64)
    if (np.diff(offset) < 0).any():
        raise BadFrame(tr("its samples go back in time"), tr("Send samples in the order they were taken"))
    return header.first_us + offset, body["values"]


def write_frame(stream: int, samples: Samples, layout: Layout, step_us: int = 0) -> bytes:
    """The bytes of a frame; ``samples`` have times in µs. Without a step each sample carries its own offset."""
    time_us = np.asarray(samples.time_s).astype(np.int64)
    first = int(time_us[0])
    body = np.zeros(samples.count, layout.sample(own_offset=step_us == 0))
    body["values"] = np.asarray(samples.values).reshape(samples.count, layout.width)
    if step_us == 0:
        body["offset"] = time_us - first
    return HEADER.pack(VERSION, stream, samples.count, samples.first, first, step_us, 0) + body.tobytes()
