"""How much a file may hold. Counts are taken before anything is made of them, so that the work for a file is in
proportion to its bytes. All counts are house values: what the fullest honest session needs, several times over."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from finearc.catalogue.reason import LARGEST_NUMBER
from finearc.core.errors import StreamError
from finearc.core.sources.kind import Kind
from finearc.core.typing import Array, Floats
from finearc.formats.errors import BundleError
from finearc.wording import tr

MOST_LABELS = 400
"""Markers of a file: the fullest marker sets have about a hundred."""
MOST_COLUMNS = 64
"""Columns of a sensor's table."""
MOST_CELLS = 16_384
"""Cells of a mat: 128 by 128."""
MOST_ROWS = 4_000_000
MOST_NUMBERS = 250_000_000
"""Numbers of one file in all: an hour of 60 markers at 240 Hz has 160 million."""
MOST_MANIFEST_BYTES = 2_000_000
LONGEST_S = 6 * 3600.0
FARTHEST_S = 1e8
"""A clock may begin at any time of a device's own, but not beyond counting."""


def refuse_many(file: str, what: str, found: int, most: int, place: str = "") -> None:
    """Raises ``BundleError`` when there are more than a file may hold."""
    if found > most:
        raise BundleError(
            file,
            tr("{found} {what}, at most {most} are taken", found=found, what=what, most=most),
            place,
            tr("Export what belongs to the session"),
        )


def columns_in_first_line(content: bytes) -> int:
    """How many cells the header has, whatever it says in them and whichever way its line ends."""
    ends = [at for at in (content.find(b"\n"), content.find(b"\r")) if at >= 0]
    return content.count(b",", 0, min(ends) if ends else len(content)) + 1


def check_clocks(streams: Mapping[Kind, Any]) -> None:
    """Every stream's times can be counted by. Raises ``StreamError``."""
    for kind, stream in streams.items():
        for one in stream if isinstance(stream, tuple) else (stream,):
            check_clock(getattr(one, "source", "") or kind.key, one.time_s)


def check_clock(file: str, time_s: Array) -> None:
    """Times (n,), s, are numbers that never go back, within a session's length. Raises ``StreamError``."""
    if len(time_s) < 2:
        raise StreamError(
            file, tr("{time_s} rows of data, at least 2 are needed", time_s=len(time_s)), advice=tr("Capture again")
        )
    wrong = ~np.isfinite(time_s) | (np.abs(time_s) > FARTHEST_S)
    if wrong.any():
        raise StreamError(
            file,
            tr("no time that can be counted by"),
            tr("row {value}", value=int(np.argmax(wrong)) + 2),
            tr("Export it again"),
        )
    back = np.diff(time_s) < 0
    if back.any():
        row = int(np.argmax(back)) + 3
        raise StreamError(
            file,
            tr("time goes back"),
            tr("row {row}", row=row),
            tr("Sort the rows by time or export the recording again"),
        )
    if time_s[-1] == time_s[0]:
        raise StreamError(
            file, tr("all samples are of one time"), tr("column of times"), tr("Export the recording again")
        )
    lasts = float(time_s[-1] - time_s[0])
    if lasts > LONGEST_S:
        raise StreamError(
            file,
            tr("lasts {value:.3g} hours, at most {value2:.0f} are taken", value=lasts / 3600, value2=LONGEST_S / 3600),
            advice=tr("Give seconds"),
        )


def refuse_beyond_measure(file: str, values: Floats, names: str) -> None:
    """Raises ``BundleError`` for a number (n, …) that is larger than anything any sensor can read."""
    beyond = np.abs(values) > LARGEST_NUMBER  # what is no number at all is not
    if beyond.any():
        row = int(np.argmax(beyond.reshape(len(values), -1).any(axis=1)))
        raise BundleError(
            file,
            tr("reads more than any sensor can"),
            tr("row {value}, {names}", value=row + 2, names=names),
            tr("Export it again"),
        )
