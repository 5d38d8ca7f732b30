"""A marker capture in bay axes, mended, ready to be read swing by swing."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.errors import StreamError
from finearc.core.frames.handedness import Hand
from finearc.core.markers import stream as st
from finearc.core.markers.labels import CLUB, Marker, names_of
from finearc.core.markers.repair import MarkerFlags, mend
from finearc.core.markers.smooth import smooth
from finearc.core.typing import Array
from finearc.wording import tr, trn


@dataclass(frozen=True)
class MarkerMotion:
    """``time_s`` (n,) evenly spaced; ``points_m`` (n, k, 3) of ``markers`` (k), bay axes, mended, not filtered, not a
    number where a gap stayed open."""

    time_s: Array
    markers: tuple[Marker, ...]
    points_m: Array
    flags: MarkerFlags
    hand: Hand
    source: str

    @property
    def step_s(self) -> float:
        return float(self.time_s[-1] - self.time_s[0]) / (len(self.time_s) - 1)

    def has(self, *needed: Marker) -> bool:
        return all(m in self.markers for m in needed)

    def raw(self, marker: Marker, window: slice = slice(None)) -> Array:
        """One marker (n, 3), m, not filtered."""
        return self.points_m[window, self.markers.index(marker)]

    def smoothed(self, window: slice, cuts: Sequence[int] = ()) -> dict[Marker, Array]:
        """All markers (n, 3), m, filtered within ``window``; ``cuts``: samples of impact, counted in the window."""
        values = smooth(list(self.markers), self.points_m[window], 1.0 / self.step_s, list(cuts))
        return {m: values[:, k] for k, m in enumerate(self.markers)}

    def lacking(self, needed: Sequence[Marker]) -> str:
        """A sentence about which of the needed markers are not there, or empty."""
        absent = [m for m in needed if m not in self.markers]
        if not absent:
            return ""
        names = names_of(absent, self.hand)
        return trn(
            "{names} is not in {source}", "{names} are not in {source}", len(absent), names=names, source=self.source
        )


def _nothing(source: str) -> StreamError:
    return StreamError(
        source,
        tr("none of the known markers is in the file"),
        "labels",
        tr("Map the file's labels to ours, in the capture's label mapping or on the marker screen"),
    )


def read_markers(stream: st.MarkerStream, hand: Hand) -> MarkerMotion:
    """Map, turn into the bay, check and mend. Raises ``StreamError``."""
    st.check_stream(stream)
    matrix = st.bay_from_lab(stream.axes, hand, stream.source)
    columns = st.resolve(stream, hand)
    if not columns:
        raise _nothing(stream.source)
    markers = list(columns)
    points = stream.points_m[:, list(columns.values())]
    hidden = ~np.isfinite(points).all(axis=2) | (points == 0.0).all(axis=2)
    seen = ~hidden.all(axis=0)
    if not seen.any():
        raise StreamError(
            stream.source, tr("no marker was ever seen: all points are zero or empty"), advice=tr("Capture again")
        )
    markers = [m for m, s in zip(markers, seen, strict=True) if s]
    points = np.where(hidden[..., None], np.nan, points)[:, seen]
    points = np.ascontiguousarray(points @ matrix.T)
    by_marker = {m: points[:, k] for k, m in enumerate(markers)}
    st.check_size({m: p for m, p in by_marker.items() if m not in CLUB}, stream.source)
    st.check_mirrored(by_marker, stream.source)
    flags = mend(markers, points, stream.time_s)
    return MarkerMotion(stream.time_s, tuple(markers), points, flags, hand, stream.source)
