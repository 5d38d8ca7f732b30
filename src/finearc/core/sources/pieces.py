"""Columns cut into stretches small enough to be kept, and joined again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

Values = np.ndarray[Any, np.dtype[Any]]
PIECE_VALUES = 500_000
"""Most numbers in one piece: 4 MB before compression."""


def pieces_of(columns: Mapping[str, Values], width: int) -> list[dict[str, Values]]:
    """Columns of ``width`` numbers a row, cut along their rows."""
    rows = max(1, PIECE_VALUES // width)
    return [{k: v[a : a + rows] for k, v in columns.items()} for a in range(0, len(columns["time_s"]), rows)]


def joined(parts: Sequence[Mapping[str, Values]], name: str) -> Values:
    """One column of all pieces."""
    return np.concatenate([p[name] for p in parts])
