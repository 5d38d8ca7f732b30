"""A toy source: a second clip on the shaft that sends how steep the shaft is. All there is to a new kind of source."""

from __future__ import annotations

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np

from finearc.core.events.checkpoints import Found
from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.metrics.trace import Trace
from finearc.core.sources.kind import Columns, Kind, Motion, Motions, Packed, Setting, States, View, Window
from finearc.core.sources.pieces import joined, pieces_of
from finearc.core.typing import Array, Mask
from finearc.formats.entries import Stream
from finearc.formats.errors import BundleError
from finearc.formats.kinds import Files, Opener, Registered, Written

CLIP_SD_RAD = np.deg2rad(0.3)
SECOND_CLIP = Source("second clip")
LOOSE = "the second clip sat loose"


@dataclass(frozen=True)
class ClipStream:
    time_s: Array
    elevation_rad: Array
    loose: bool = False


@dataclass(frozen=True)
class ClipMotion(Motion):
    stream: ClipStream

    @property
    def present(self) -> tuple[Source, ...]:
        return (SECOND_CLIP,)

    @property
    def span(self) -> Window:
        return float(self.stream.time_s[0]), float(self.stream.time_s[-1])

    def view(self, span: Window, states: States, split_m: float | None) -> ClipView | None:
        a, b = np.searchsorted(self.stream.time_s, span)
        if b - a < 10:
            return None
        return ClipView(self.stream.time_s[a:b], np.ones(b - a, dtype=bool), self.stream.elevation_rad[a:b])


@dataclass
class ClipView(View):
    time_s: Array
    valid: Mask
    elevation_rad: Array
    found: Found = field(default_factory=Found)
    address: slice = field(default_factory=lambda: slice(0, 0))
    warnings: list[str] = field(default_factory=list)

    def traces(self, address: slice, events: Mapping[Checkpoint, Event]) -> list[tuple[Source, Trace]]:
        return [(SECOND_CLIP, Trace(m.SHAFT_ELEVATION, self.elevation_rad, CLIP_SD_RAD))]


class LooseClip(BundleError):
    pass


class SecondClip(Kind):
    key = "second_clip"
    called = "second clip"
    order = 50
    measures = (m.SHAFT_ELEVATION,)
    optional = (LooseClip,)

    def pack(self, stream: ClipStream) -> Packed:
        columns = {"time_s": stream.time_s, "elevation_rad": stream.elevation_rad}
        return Packed({self.key: pieces_of(columns, 2)}, {"loose": stream.loose})

    def unpack(self, groups: Mapping[str, Sequence[Columns]], described: Mapping[str, Any]) -> ClipStream:
        parts = groups[self.key]
        return ClipStream(joined(parts, "time_s"), joined(parts, "elevation_rad"), described["loose"])

    def span(self, stream: ClipStream) -> Window:
        return float(stream.time_s[0]), float(stream.time_s[-1])

    def cut(self, stream: ClipStream, start_s: float, end_s: float = np.inf) -> ClipStream:
        a, b = np.searchsorted(stream.time_s, [start_s, end_s])
        return ClipStream(stream.time_s[a:b], stream.elevation_rad[a:b], stream.loose)

    def prepare(self, stream: ClipStream, setting: Setting, before: Motions) -> ClipMotion:
        if stream.loose:
            raise LooseClip("clip.csv", LOOSE)
        return ClipMotion(stream)


class ClipEntry(Stream):
    kind: Literal["second_clip"]
    loose: bool = False


class ClipFiles(Files):
    entry = ClipEntry

    def read(self, entries: Sequence[ClipEntry], opener: Opener) -> Mapping[Kind, Any]:
        table = np.loadtxt(io.BytesIO(opener(entries[0].file)), delimiter=",", skiprows=1)
        return {SECOND: ClipStream(table[:, 0], np.deg2rad(table[:, 1]), entries[0].loose)}

    def write(self, stream: ClipStream) -> list[Written]:
        out = io.StringIO()
        rows = np.column_stack([stream.time_s, np.rad2deg(stream.elevation_rad)])
        np.savetxt(out, rows, "%.6f", ",", header="time_s,elevation_deg", comments="")
        entry = {"kind": "second_clip", "file": "clip.csv", "loose": stream.loose}
        return [Written(entry, out.getvalue().encode())]


SECOND = SecondClip()
REGISTERED = Registered(SECOND, ClipFiles())
