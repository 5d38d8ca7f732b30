"""A bay's journal: what its devices send, on disk before it is acknowledged.

Records follow one another in segment files; each has its length, a checksum over all of it, and its kind. A file that
was cut in mid-write ends at its last whole record. One thread writes and syncs whatever has gathered meanwhile, so that
many devices share one sync."""

from __future__ import annotations

import os
import struct
import threading
import zlib
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass
from enum import IntEnum
from pathlib import Path
from typing import BinaryIO, Protocol

import structlog

log = structlog.get_logger()
HEAD = struct.Struct("<IIB")
LARGEST_RECORD = 4_000_000
SEGMENT_BYTES = 8_000_000
"""A file of the journal is closed when it has grown to this."""
MOST_WAITING_BYTES = 32_000_000
"""So much may wait for the disk; devices are read no faster than it takes them."""
SUFFIX = ".journal"
FLUSH_S = 5.0


class RecordKind(IntEnum):
    """What a record holds: a device's session (JSON), a frame as it came, a control message (JSON), a mark of what has
    been kept elsewhere (JSON)."""

    SESSION = 1
    FRAME = 2
    CONTROL = 3
    MARK = 4


@dataclass(frozen=True)
class Record:
    """``segment``: the number of the file it stands in."""

    kind: RecordKind
    payload: bytes
    segment: int


class Writes(Protocol):
    """Where a bay puts what it is sent."""

    segment: int
    every_s: float

    @property
    def is_full(self) -> bool: ...

    def append(self, kind: RecordKind, payload: bytes) -> int: ...

    def let_go(self, before: int) -> None: ...

    def flush(self) -> None: ...

    def close(self) -> None: ...


class NoJournal:
    """Nothing is kept, and nothing is acknowledged: for playing a recording through."""

    segment = 1
    every_s = 0.0
    is_full = False

    def append(self, kind: RecordKind, payload: bytes) -> int:
        return 0

    def let_go(self, before: int) -> None:
        """There is nothing."""

    def flush(self) -> None:
        """There is nothing."""

    def close(self) -> None:
        """There is nothing."""


Safe = Callable[[int], None]
"""Hears, from the writing thread, up to which position everything is on disk."""


class Journal:
    """Append-only, in ``folder``; ``on_safe`` hears what is on disk, ``on_trouble`` that the disk does not take it.
    ``sync`` False is for tests that do not kill. ``every_s``: so long more is gathered before each sync."""

    def __init__(
        self, folder: Path, on_safe: Safe, on_trouble: Callable[[OSError], None], *, sync: bool = True
    ) -> None:
        self._folder, self._on_safe, self._on_trouble, self._sync = folder, on_safe, on_trouble, sync
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self._waiting: deque[bytes] = deque()
        self._bytes = 0
        self._appended = 0
        lock = threading.RLock()
        self._more, self._written, self._hurry = (threading.Condition(lock) for _ in range(3))
        self._done = 0
        self._closing = False
        self.every_s = 0.0
        self.segment = 1 + max((_number(p) for p in _segments(folder)), default=0)
        self._thread = threading.Thread(target=self._write, name="journal", daemon=True)
        self._thread.start()

    def append(self, kind: RecordKind, payload: bytes) -> int:
        """Take in a record; its position, told to ``on_safe`` once it is on disk."""
        record = HEAD.pack(len(payload), zlib.crc32(payload, kind), kind) + payload
        with self._more:
            self._waiting.append(record)
            self._bytes += len(record)
            self._appended += 1
            self._more.notify()
            return self._appended

    @property
    def is_full(self) -> bool:
        """Whether so much waits for the disk that devices should wait."""
        return self._bytes > MOST_WAITING_BYTES

    def flush(self) -> None:
        """Wait until all that was taken in is on disk, a little while at most."""
        with self._more:
            wanted = self._appended
            self._hurry.notify_all()
            self._written.wait_for(lambda: self._done >= wanted or self._closing, FLUSH_S)

    def close(self) -> None:
        """Write and sync what waits."""
        with self._more:
            self._closing = True
            self._more.notify()
            self._hurry.notify_all()
        self._thread.join(10)

    def let_go(self, before: int) -> None:
        """Delete the segments before a number: all that is in them is kept elsewhere, or wanted no longer."""
        for path in _segments(self._folder):
            if _number(path) < min(before, self.segment):
                path.unlink(missing_ok=True)

    def _write(self) -> None:
        file, written, position = self._open(), 0, 0
        try:
            while (gathered := self._gathered()) is not None:
                position += len(gathered)
                written += self._put(file, gathered)
                with self._written:
                    self._done = position
                    self._written.notify_all()
                self._on_safe(position)
                if written >= SEGMENT_BYTES:
                    file.close()
                    self.segment += 1
                    file, written = self._open(), 0
        finally:
            file.close()

    def _gathered(self) -> list[bytes] | None:
        """All that waits, as soon as something does; None at the end."""
        with self._more:
            while not self._waiting and not self._closing:
                self._more.wait()
            if self.every_s and not self._closing:  # nobody records: one sync for more
                self._hurry.wait(self.every_s)
            if not self._waiting:
                return None
            gathered = list(self._waiting)
            self._waiting.clear()
            self._bytes = 0
            return gathered

    def _put(self, file: BinaryIO, records: list[bytes]) -> int:
        """Write and sync, as often as it takes: nothing is acknowledged before."""
        block = b"".join(records)
        at = file.tell()
        while True:
            try:
                file.seek(at)
                file.write(block)
                file.flush()
                if self._sync:
                    os.fdatasync(file.fileno())
                return len(block)
            except OSError as error:  # the disk is full: devices keep what is not acknowledged
                self._on_trouble(error)
                with self._more:
                    if self._closing:
                        raise
                    self._more.wait(0.5)

    def _open(self) -> BinaryIO:
        path = self._folder / f"{self.segment:08d}{SUFFIX}"
        file = path.open("xb", buffering=0)
        if self._sync:
            folder = os.open(self._folder, os.O_RDONLY)
            with suppress(OSError):
                os.fsync(folder)
            os.close(folder)
        return file


def read_journal(folder: Path) -> Iterator[Record]:
    """Every whole record, in the order of writing. What follows a damaged one in its file is left out: it was never
    acknowledged."""
    for path in _segments(folder):
        number = _number(path)
        with path.open("rb") as file:
            for kind, payload in _records(file):
                yield Record(kind, payload, number)


def _records(file: BinaryIO) -> Iterator[tuple[RecordKind, bytes]]:
    while len(head := file.read(HEAD.size)) == HEAD.size:
        length, checksum, kind = HEAD.unpack(head)
        payload = file.read(length) if length <= LARGEST_RECORD else b""
        if len(payload) != length or zlib.crc32(payload, kind) != checksum:
            log.warning("the journal ends in a torn record", file=file.name)
            return
        yield RecordKind(kind), payload


def _segments(folder: Path) -> list[Path]:
    return sorted(folder.glob(f"*{SUFFIX}")) if folder.exists() else []


def _number(path: Path) -> int:
    return int(path.stem)
