"""A recording's raw streams: kept as chunks of columns, given back as a capture."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.pressure.plates import ForcePlate, PlateStream
from finearc.core.pressure.stream import MatGrid, MatStream
from finearc.core.signals.streams import ImuStream, Segment
from finearc.services.judging import analysis as an
from finearc.services.ports import ColumnCodec, Columns, UnitOfWork
from finearc.services.records import Chunk, Lesson, Player, Recording, Swing

AXES = ("acc_x", "acc_y", "acc_z", "gyr_x", "gyr_y", "gyr_z")
PIECE_VALUES = 500_000
"""Most numbers in one chunk: 4 MB before compression."""
MARKERS = "markers"
"""The chunk of a recording that holds points: ``time_s``, then x, y, z of each label in the order of
``Recording.marker_set``."""
MAT = "pressure"
"""The chunk that holds a mat's frames: ``time_s`` and ``cells`` (n, cells), kPa."""
PLATES = "plates"
"""The chunk that holds force plates: ``time_s``, then force and moment of each plate, ``f0x`` … ``m1z``."""
POSES = "poses"
"""Key of a live recording's first batch."""
Parts = Sequence[Mapping[str, Any]]


@dataclass(frozen=True)
class Batch:
    """Raw streams of a recording: all of them, or a stretch."""

    streams: Sequence[ImuStream] = ()
    markers: MarkerStream | None = None
    mat: MatStream | None = None
    plates: PlateStream | None = None


def batch_of(data: an.CaptureData) -> Batch:
    """All raw streams of a capture."""
    return Batch(data.streams, data.markers, data.mat, data.plates)


def append(uow: UnitOfWork, codec: ColumnCodec, recording: Recording, batch: Batch, key: str) -> bool:
    """Keep raw streams. A repeated ``key`` changes nothing; returns whether anything was added."""
    if uow.find(Chunk, recording_id=recording.id, key=key):
        return False
    sequence = 1 + max((c.sequence for c in uow.find(Chunk, recording_id=recording.id)), default=0)
    kept = set(recording.segments)
    for segment, pieces in _pieces_of(batch):
        for k, piece in enumerate(pieces):
            name = f"{key}+{k}" if k else key
            uow.add(Chunk(uow.academy_id, recording.id, segment, sequence + k, name, codec.pack(piece)))
        kept.add(segment)
    _describe(recording, batch)
    recording.segments = sorted(kept)
    uow.flush()
    return True


def _pieces_of(batch: Batch) -> Iterator[tuple[str, list[Columns]]]:
    """Segment and its columns in stretches small enough for one row of any database."""
    for stream in batch.streams:
        values = [*stream.acc_m_s2.T, *stream.gyr_rad_s.T]
        yield stream.segment.value, [{"time_s": stream.time_s} | dict(zip(AXES, values, strict=True))]
    if batch.markers is not None:
        flat: Any = batch.markers.points_m.reshape(len(batch.markers.time_s), -1)
        columns = {"time_s": batch.markers.time_s} | {f"p{k}": flat[:, k] for k in range(flat.shape[1])}
        yield MARKERS, _split(columns, flat.shape[1])
    if batch.mat is not None:
        mat = batch.mat
        yield MAT, _split({"time_s": mat.time_s, "cells": mat.pressure_kpa}, mat.grid.cells)
    if batch.plates is not None:
        columns = {"time_s": batch.plates.time_s}
        for k, plate in enumerate(batch.plates.plates):
            for name, three in (("f", plate.force_n), ("m", plate.moment_nm)):
                columns |= {f"{name}{k}{axis}": three[:, a] for a, axis in enumerate("xyz")}
        yield PLATES, _split(columns, len(columns))


def _split(columns: Columns, width: int) -> list[Columns]:
    rows = max(1, PIECE_VALUES // width)
    return [{k: v[a : a + rows] for k, v in columns.items()} for a in range(0, len(columns["time_s"]), rows)]


def _describe(recording: Recording, batch: Batch) -> None:
    """What the columns mean, kept with the recording."""
    if batch.markers is not None:
        markers = batch.markers
        recording.marker_set = {
            "labels": list(markers.labels),
            "axes": {"ball": markers.axes.ball, "target": markers.axes.target, "up": markers.axes.up},
            "names": dict(markers.names),
            "source": markers.source,
        }
    if batch.mat is not None:
        mat = batch.mat
        recording.mat_set = {
            "rows": mat.grid.rows,
            "columns": mat.grid.columns,
            "cell_m": list(mat.grid.cell_m),
            "origin_m": list(mat.grid.origin_m),
            "row_axis": mat.grid.row_axis,
            "column_axis": mat.grid.column_axis,
            "source": mat.source,
            "own_clock": mat.own_clock,
            "limit_kpa": mat.limit_kpa,
        }
    if batch.plates is not None:
        recording.plate_set = {
            "source": batch.plates.source,
            "plates": [
                {"corners_m": p.corners_m.tolist(), "origin_m": p.origin_m.tolist()} for p in batch.plates.plates
            ],
        }


def streams_of(
    uow: UnitOfWork, codec: ColumnCodec, recording: Recording, mat_keys: Collection[str] | None = None
) -> Batch:
    """The take's raw streams, its chunks joined; of the mat, which is large, only batches of ``mat_keys`` if
    given."""
    by_segment: dict[str, list[Mapping[str, Any]]] = {}
    for chunk in uow.find(Chunk, recording_id=recording.id, order="sequence"):
        if chunk.segment == MAT and mat_keys is not None and chunk.key.split("+")[0] not in mat_keys:
            continue
        by_segment.setdefault(chunk.segment, []).append(codec.unpack(chunk.columns))
    points, frames, plates = (by_segment.pop(k, None) for k in (MARKERS, MAT, PLATES))
    return Batch(
        [_imu(name, parts) for name, parts in by_segment.items()],
        None if points is None else _markers(points, recording),
        None if frames is None else _mat(frames, recording),
        None if plates is None else _plates(plates, recording),
    )


def _joined(parts: Parts, name: str) -> np.ndarray[Any, np.dtype[Any]]:
    return np.concatenate([p[name] for p in parts])


def _imu(name: str, parts: Parts) -> ImuStream:
    acc, gyr = (np.column_stack([_joined(parts, c) for c in three]) for three in (AXES[:3], AXES[3:]))
    return ImuStream(Segment(name), _joined(parts, "time_s"), acc, gyr, name)


def _markers(parts: Parts, recording: Recording) -> MarkerStream:
    known = recording.marker_set or {}
    labels = tuple(known["labels"])
    flat = np.concatenate([np.column_stack([p[f"p{k}"] for k in range(3 * len(labels))]) for p in parts])
    return MarkerStream(
        _joined(parts, "time_s"),
        labels,
        flat.reshape(len(flat), len(labels), 3),
        known["source"],
        BayAxes(**known["axes"]),
        dict(known["names"]),
    )


def _mat(parts: Parts, recording: Recording) -> MatStream:
    known = recording.mat_set or {}
    grid = MatGrid(
        known["rows"],
        known["columns"],
        tuple(known["cell_m"]),
        tuple(known["origin_m"]),
        known["row_axis"],
        known["column_axis"],
    )
    return MatStream(
        _joined(parts, "time_s"),
        np.asfortranarray(_joined(parts, "cells")),
        grid,
        known["source"],
        known["own_clock"],
        recording.mat_shift_s,
        known["limit_kpa"],
    )


def _plates(parts: Parts, recording: Recording) -> PlateStream:
    known = recording.plate_set or {}

    def three(name: str, k: int) -> Any:
        return np.column_stack([_joined(parts, f"{name}{k}{axis}") for axis in "xyz"])

    plates = tuple(
        ForcePlate(three("f", k), three("m", k), np.array(p["corners_m"]), np.array(p["origin_m"]))
        for k, p in enumerate(known["plates"])
    )
    return PlateStream(_joined(parts, "time_s"), plates, known["source"])


def data_of(
    uow: UnitOfWork,
    codec: ColumnCodec,
    recording: Recording,
    swings: Sequence[Swing] | None,
    mat_keys: Collection[str] | None = None,
) -> an.CaptureData:
    """The take as a capture; ``swings`` None looks for them; ``mat_keys`` as in ``streams_of``."""
    lesson = uow.get(Lesson, recording.lesson_id)
    player = uow.get(Player, lesson.player_id)
    functional = (
        FunctionalWindows(**{k: tuple(v) for k, v in recording.functional.items()}) if recording.functional else None
    )
    raw = streams_of(uow, codec, recording, mat_keys)
    return an.CaptureData(
        tuple(raw.streams),
        recording.created_at,
        Hand(recording.handedness),
        player.height_m,
        player.population,
        swings[0].club if swings else lesson.club,
        Shot(swings[0].shot) if swings else Shot.FULL,
        tuple(PoseWindow(k, a, b) for k, a, b in recording.poses),
        functional,
        None if swings is None else tuple((s.start_s, s.end_s) for s in swings),
        markers=raw.markers,
        uprights=tuple((a, b) for a, b in recording.uprights),
        bow=(recording.bow[0], recording.bow[1]) if recording.bow else None,
        mat=raw.mat,
        plates=raw.plates,
    )
