"""Rows of numbers with a layout that most swings of a recording share: the layout is read once for all of them.

Bytes: length of the layout (uint32), 16 bytes by which it is known again, the layout as JSON padded to eight bytes,
then the columns as little-endian float64, one after the other."""

from __future__ import annotations

import hashlib
import struct
from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np
import orjson
from numpy.typing import NDArray

from finearc.core.typing import Array

MOST_LAYOUTS = 512
Layout = TypeVar("Layout")
HEAD = 20


def pack_table(layout: Any, columns: Array) -> bytes:
    """A layout (anything JSON can hold) and its columns (k, n)."""
    text = orjson.dumps(layout, option=orjson.OPT_NON_STR_KEYS)
    text += b" " * (-len(text) % 8)
    return struct.pack("<I", len(text)) + _known_by(text) + text + np.ascontiguousarray(columns, dtype="<f8").tobytes()


def _known_by(text: bytes) -> bytes:
    return hashlib.blake2b(text, digest_size=16).digest()


def check_layout(block: bytes) -> None:
    """Raises ``ValueError`` for a table whose layout is not what it is known by: read where the true one is known it
    would pass, and elsewhere not."""
    (size,) = struct.unpack_from("<I", block, 0)
    _layout(block[4:HEAD], block[HEAD : HEAD + size])


def _layout(known_by: bytes, text: bytes) -> Any:
    if _known_by(text) != known_by:  # else one swing's layout would be taken for others', of anybody's
        raise ValueError("a table's layout is other than it says")
    return orjson.loads(text)


class LayoutReader:
    """Reads tables whose layout ``make`` turns into an object, once for each layout that comes."""

    def __init__(self, make: Callable[[Any], Layout], columns: int) -> None:
        self._make, self._columns = make, columns
        self._known: dict[bytes, Any] = {}

    def read(self, block: bytes) -> tuple[Any, NDArray[np.float64]]:
        """The layout's object and the columns (k, n). Raises ``ValueError`` for a layout that is not what it is known
        by."""
        (size,) = struct.unpack_from("<I", block, 0)
        known_by = block[4:HEAD]
        layout = self._known.get(known_by)
        if layout is None:
            if len(self._known) >= MOST_LAYOUTS:
                self._known.clear()
            layout = self._make(_layout(known_by, block[HEAD : HEAD + size]))
            self._known[known_by] = layout
        return layout, np.frombuffer(block, dtype="<f8", offset=HEAD + size).reshape(self._columns, -1)
