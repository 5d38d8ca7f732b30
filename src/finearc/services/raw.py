"""A take's raw streams: kept as chunks of columns, given back as a capture."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.signals.streams import ImuStream, Segment
from finearc.services import analysis as an
from finearc.services.ports import ColumnCodec, Unit
from finearc.services.records import Chunk, Lesson, Player, Swing, Take

AXES = ("acc_x", "acc_y", "acc_z", "gyr_x", "gyr_y", "gyr_z")
PIECE_VALUES = 500_000
"""Most numbers in one chunk: 4 MB before compression."""
MARKERS = "markers"
"""The chunk of a take that holds points: ``time_s``, then x, y, z of each label in the order of ``Take.marker_set``."""


def append(
    unit: Unit,
    codec: ColumnCodec,
    take: Take,
    streams: Sequence[ImuStream],
    key: str,
    markers: MarkerStream | None = None,
) -> bool:
    """Keep raw streams. A repeated ``key`` changes nothing; returns whether anything was added."""
    if unit.find(Chunk, take_id=take.id, key=key):
        return False
    sequence = 1 + max((c.sequence for c in unit.find(Chunk, take_id=take.id)), default=0)
    for stream in streams:
        columns = {"time_s": stream.time_s}
        columns |= dict(zip(AXES, [*stream.acc_m_s2.T, *stream.gyr_rad_s.T], strict=True))
        unit.add(Chunk(unit.academy_id, take.id, stream.segment.value, sequence, key, codec.pack(columns)))
    take.segments = sorted({*take.segments, *(s.segment.value for s in streams)})
    if markers is not None:
        for k, piece in enumerate(_pieces(markers)):
            name = f"{key}+{k}" if k else key
            unit.add(Chunk(unit.academy_id, take.id, MARKERS, sequence + k, name, codec.pack(piece)))
        take.marker_set = {
            "labels": list(markers.labels),
            "axes": {"ball": markers.axes.ball, "target": markers.axes.target, "up": markers.axes.up},
            "names": dict(markers.names),
            "source": markers.source,
        }
        take.segments = sorted({*take.segments, MARKERS})
    unit.flush()
    return True


def _pieces(markers: MarkerStream) -> list[dict[str, Any]]:
    """Columns in stretches small enough for one row of any database."""
    flat = markers.points_m.reshape(len(markers.time_s), -1)
    rows = max(1, PIECE_VALUES // flat.shape[1])
    return [
        {"time_s": markers.time_s[a : a + rows], **{f"p{k}": flat[a : a + rows, k] for k in range(flat.shape[1])}}
        for a in range(0, len(flat), rows)
    ]


def streams_of(unit: Unit, codec: ColumnCodec, take: Take) -> tuple[list[ImuStream], MarkerStream | None]:
    """The take's raw streams, its chunks joined."""
    by_segment: dict[str, list[Mapping[str, Any]]] = {}
    for chunk in unit.find(Chunk, take_id=take.id, order="sequence"):
        by_segment.setdefault(chunk.segment, []).append(codec.unpack(chunk.columns))
    points = by_segment.pop(MARKERS, None)
    streams = []
    for name, parts in by_segment.items():
        joined = {c: np.concatenate([p[c] for p in parts]) for c in ("time_s", *AXES)}
        streams.append(
            ImuStream(
                Segment(name),
                joined["time_s"],
                np.column_stack([joined[c] for c in AXES[:3]]),
                np.column_stack([joined[c] for c in AXES[3:]]),
                name,
            )
        )
    return streams, None if points is None else _markers(points, take)


def _markers(parts: Sequence[Mapping[str, Any]], take: Take) -> MarkerStream:
    known = take.marker_set or {}
    labels = tuple(known["labels"])
    flat = np.concatenate([np.column_stack([p[f"p{k}"] for k in range(3 * len(labels))]) for p in parts])
    time_s = np.concatenate([p["time_s"] for p in parts])
    return MarkerStream(
        time_s,
        labels,
        flat.reshape(len(flat), len(labels), 3),
        known["source"],
        BayAxes(**known["axes"]),
        dict(known["names"]),
    )


def data_of(unit: Unit, codec: ColumnCodec, take: Take, swings: Sequence[Swing] | None) -> an.CaptureData:
    """The take as a capture; ``swings`` None looks for them."""
    lesson = unit.get(Lesson, take.lesson_id)
    player = unit.get(Player, lesson.player_id)
    functional = FunctionalWindows(**{k: tuple(v) for k, v in take.functional.items()}) if take.functional else None
    streams, markers = streams_of(unit, codec, take)
    return an.CaptureData(
        tuple(streams),
        take.created_at,
        Hand(take.handedness),
        player.height_m,
        player.population,
        swings[0].club if swings else lesson.club,
        Shot(swings[0].shot) if swings else Shot.FULL,
        tuple(PoseWindow(k, a, b) for k, a, b in take.poses),
        functional,
        None if swings is None else tuple((s.start_s, s.end_s) for s in swings),
        markers=markers,
        uprights=tuple((a, b) for a, b in take.uprights),
        bow=(take.bow[0], take.bow[1]) if take.bow else None,
    )
