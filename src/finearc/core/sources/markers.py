"""Marker cameras as a kind of source."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from finearc.core.events.swings import Shot
from finearc.core.events.turning import Turning
from finearc.core.kinematics.body import body_pose
from finearc.core.kinematics.segments import turn_side_forward
from finearc.core.markers.labels import PELVIS, THORAX
from finearc.core.markers.motion import MarkerMotion, read_markers
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.metrics.body import Upright
from finearc.core.metrics.definition import Source
from finearc.core.putting.setup import PutterSetup
from finearc.core.sources.kind import Columns, Kind, Motion, Motions, Packed, Setting, States, Window
from finearc.core.sources.optical_view import OpticalView, turning_of, view_swing
from finearc.core.sources.pieces import joined, pieces_of
from finearc.core.sources.putt_optical import view_putt
from finearc.wording import mark


@dataclass(frozen=True)
class OpticalMotion(Motion):
    """The markers, mended and smoothed on demand. ``upright``: their bends in the latest *square upright* they saw."""

    markers: MarkerMotion
    axes: BayAxes
    upright: Upright | None
    shot: Shot = Shot.FULL
    putter: PutterSetup = field(default_factory=PutterSetup)

    @property
    def present(self) -> tuple[Source, ...]:
        return (Source.MARKERS,)

    @property
    def span(self) -> Window:
        return float(self.markers.time_s[0]), float(self.markers.time_s[-1])

    def turning(self) -> Turning | None:
        return turning_of(self.markers)

    @property
    def notes(self) -> tuple[str, ...]:
        return tuple(self.markers.flags.sentences())

    def left(self, start_s: float) -> Upright | None:
        return self.upright

    def view(self, span: Window, states: States, split_m: float | None) -> OpticalView | None:
        if self.shot is Shot.PUTT:
            return view_putt(self.markers, span, self.upright, self.putter)
        return view_swing(self.markers, span, self.upright)


class Markers(Kind):
    """Streams: a ``MarkerStream``. Its columns are ``time_s``, then x, y, z of each label, ``p0`` …"""

    key = "markers"
    called = mark("marker capture")
    order = 20

    def pack(self, stream: MarkerStream) -> Packed:
        flat: Any = stream.points_m.reshape(len(stream.time_s), -1)
        columns = {"time_s": stream.time_s} | {f"p{k}": flat[:, k] for k in range(flat.shape[1])}
        described = {
            "labels": list(stream.labels),
            "axes": {"ball": stream.axes.ball, "target": stream.axes.target, "up": stream.axes.up},
            "names": dict(stream.names),
            "source": stream.source,
        }
        return Packed({self.key: pieces_of(columns, flat.shape[1])}, described)

    def unpack(self, groups: Mapping[str, Sequence[Columns]], described: Mapping[str, Any]) -> MarkerStream:
        parts, labels = groups[self.key], tuple(described["labels"])
        flat = np.concatenate([np.column_stack([p[f"p{k}"] for k in range(3 * len(labels))]) for p in parts])
        return MarkerStream(
            joined(parts, "time_s"),
            labels,
            flat.reshape(len(flat), len(labels), 3),
            described["source"],
            BayAxes(**described["axes"]),
            dict(described["names"]),
        )

    def span(self, stream: MarkerStream) -> Window:
        return float(stream.time_s[0]), float(stream.time_s[-1])

    def cut(self, stream: MarkerStream, start_s: float, end_s: float = np.inf) -> MarkerStream:
        a, b = np.searchsorted(stream.time_s, [start_s, end_s])
        return replace(stream, time_s=stream.time_s[a:b], points_m=stream.points_m[a:b])

    def prepare(self, stream: MarkerStream, setting: Setting, before: Motions) -> OpticalMotion:
        motion = read_markers(stream, setting.hand)
        upright, left = _upright(motion, setting.uprights), setting.left.get(self)
        stood = left if upright is None and isinstance(left, Upright) else upright
        return OpticalMotion(motion, stream.axes, stood, setting.shot, setting.putter)


MARKERS = Markers()


def _upright(markers: MarkerMotion, uprights: Sequence[Window]) -> Upright | None:
    """Forward bends of the marker frames in the latest *square upright* that the cameras saw."""
    if not markers.has(*PELVIS, *THORAX):
        return None
    for start, end in sorted(uprights, key=lambda w: -w[1]):
        a, b = np.searchsorted(markers.time_s, [start, end])
        if b - a < 5:
            continue
        points = {k: markers.raw(k, slice(int(a), int(b))) for k in (*PELVIS, *THORAX)}
        frames = body_pose(points).frames
        bends = [float(np.nanmedian(turn_side_forward(frames[k].r)[2])) for k in ("pelvis", "thorax")]
        if np.isfinite(bends).all():
            return Upright(*bends)
    return None
