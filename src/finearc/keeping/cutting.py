"""Where the pieces of a dump begin: after rows that say so by their own content (content-defined chunking:
Muthitacharoen, Chen, Mazières 2001, A low-bandwidth network file system; from memory). Rows that did not change since
the last backup fall into the same pieces again, wherever others came between, and are kept once.

A dump has one row a line; large ones (samples, videos) make pieces of their own."""

from __future__ import annotations

import zlib
from collections.abc import Iterable, Iterator

SHORTEST, LONGEST = 128 * 1024, 4 * 1024 * 1024
"""Bytes of a piece, but for one line that is longer."""
ONE_IN = 32
"""Rows that end a piece, on average, once it is long enough."""
INSERT, VALUES = b"INSERT INTO `", b" VALUES "
TOGETHER = 1_000_000
"""Bytes of one statement when rows go back into a database."""


def pieces(lines: Iterable[bytes]) -> Iterator[bytes]:
    """Lines with their ends, put together to pieces."""
    held, size = list[bytes](), 0
    for line in lines:
        if len(line) > SHORTEST:
            if held:
                yield b"".join(held)
            yield line
            held, size = [], 0
            continue
        held.append(line)
        size += len(line)
        if size >= LONGEST or (size >= SHORTEST and zlib.crc32(line) % ONE_IN == 0):
            yield b"".join(held)
            held, size = [], 0
    if held:
        yield b"".join(held)


def table_of(line: bytes) -> str:
    """The table that a line is a row of, else empty."""
    if not line.startswith(INSERT):
        return ""
    return line[len(INSERT) : line.index(b"`", len(INSERT))].decode()


def statements(piece: bytes) -> Iterator[bytes]:
    """The statements of a piece with neighbouring rows of one table put together: much quicker to load."""
    begin, rows, size = b"", list[bytes](), 0
    for line in piece.splitlines(keepends=True):
        where = line.find(VALUES) if line.startswith(INSERT) else -1
        head = line[: where + len(VALUES)] if where > 0 else b""
        if rows and (head != begin or size > TOGETHER):
            yield begin + b",".join(rows) + b";\n"
            rows, size = [], 0
        if head and line.endswith(b");\n"):
            begin = head
            rows.append(line[len(head) : -2])
            size += len(line)
        else:
            begin = b""
            yield line
    if rows:
        yield begin + b",".join(rows) + b";\n"
