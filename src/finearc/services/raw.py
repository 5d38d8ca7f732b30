"""A take's raw streams: kept as chunks of columns, given back as a capture."""

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
from finearc.services import analysis as an
from finearc.services.ports import ColumnCodec, Columns, Unit
from finearc.services.records import Chunk, Lesson, Player, Swing, Take

AXES = ("acc_x", "acc_y", "acc_z", "gyr_x", "gyr_y", "gyr_z")
PIECE_VALUES = 500_000
"""Most numbers in one chunk: 4 MB before compression."""
MARKERS = "markers"
"""The chunk of a take that holds points: ``time_s``, then x, y, z of each label in the order of ``Take.marker_set``."""
MAT = "pressure"
"""The chunk that holds a mat's frames: ``time_s`` and ``cells`` (n, cells), kPa."""
PLATES = "plates"
"""The chunk that holds force plates: ``time_s``, then force and moment of each plate, ``f0x`` … ``m1z``."""
POSES = "poses"
"""Key of a live take's first delivery."""
Parts = Sequence[Mapping[str, Any]]


@dataclass(frozen=True)
class Delivery:
    """Raw streams of a take: all of them, or a stretch."""

    streams: Sequence[ImuStream] = ()
    markers: MarkerStream | None = None
    mat: MatStream | None = None
    plates: PlateStream | None = None


def delivery_of(data: an.CaptureData) -> Delivery:
    """All raw streams of a capture."""
    return Delivery(data.streams, data.markers, data.mat, data.plates)


def append(unit: Unit, codec: ColumnCodec, take: Take, delivery: Delivery, key: str) -> bool:
    """Keep raw streams. A repeated ``key`` changes nothing; returns whether anything was added."""
    if unit.find(Chunk, take_id=take.id, key=key):
        return False
    sequence = 1 + max((c.sequence for c in unit.find(Chunk, take_id=take.id)), default=0)
    kept = set(take.segments)
    for segment, pieces in _pieces_of(delivery):
        for k, piece in enumerate(pieces):
            name = f"{key}+{k}" if k else key
            unit.add(Chunk(unit.academy_id, take.id, segment, sequence + k, name, codec.pack(piece)))
        kept.add(segment)
    _describe(take, delivery)
    take.segments = sorted(kept)
    unit.flush()
    return True


def _pieces_of(delivery: Delivery) -> Iterator[tuple[str, list[Columns]]]:
    """Segment and its columns in stretches small enough for one row of any database."""
    for stream in delivery.streams:
        values = [*stream.acc_m_s2.T, *stream.gyr_rad_s.T]
        yield stream.segment.value, [{"time_s": stream.time_s} | dict(zip(AXES, values, strict=True))]
    if delivery.markers is not None:
        flat: Any = delivery.markers.points_m.reshape(len(delivery.markers.time_s), -1)
        columns = {"time_s": delivery.markers.time_s} | {f"p{k}": flat[:, k] for k in range(flat.shape[1])}
        yield MARKERS, _split(columns, flat.shape[1])
    if delivery.mat is not None:
        mat = delivery.mat
        yield MAT, _split({"time_s": mat.time_s, "cells": mat.pressure_kpa}, mat.grid.cells)
    if delivery.plates is not None:
        columns = {"time_s": delivery.plates.time_s}
        for k, plate in enumerate(delivery.plates.plates):
            for name, three in (("f", plate.force_n), ("m", plate.moment_nm)):
                columns |= {f"{name}{k}{axis}": three[:, a] for a, axis in enumerate("xyz")}
        yield PLATES, _split(columns, len(columns))


def _split(columns: Columns, width: int) -> list[Columns]:
    rows = max(1, PIECE_VALUES // width)
    return [{k: v[a : a + rows] for k, v in columns.items()} for a in range(0, len(columns["time_s"]), rows)]


def _describe(take: Take, delivery: Delivery) -> None:
    """What the columns mean, kept with the take."""
    if delivery.markers is not None:
        markers = delivery.markers
        take.marker_set = {
            "labels": list(markers.labels),
            "axes": {"ball": markers.axes.ball, "target": markers.axes.target, "up": markers.axes.up},
            "names": dict(markers.names),
            "source": markers.source,
        }
    if delivery.mat is not None:
        mat = delivery.mat
        take.mat_set = {
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
    if delivery.plates is not None:
        take.plate_set = {
            "source": delivery.plates.source,
            "plates": [
                {"corners_m": p.corners_m.tolist(), "origin_m": p.origin_m.tolist()} for p in delivery.plates.plates
            ],
        }


def streams_of(unit: Unit, codec: ColumnCodec, take: Take, mat_keys: Collection[str] | None = None) -> Delivery:
    """The take's raw streams, its chunks joined; of the mat, which is large, only deliveries of ``mat_keys`` if
    given."""
    by_segment: dict[str, list[Mapping[str, Any]]] = {}
    for chunk in unit.find(Chunk, take_id=take.id, order="sequence"):
        if chunk.segment == MAT and mat_keys is not None and chunk.key.split("+")[0] not in mat_keys:
            continue
        by_segment.setdefault(chunk.segment, []).append(codec.unpack(chunk.columns))
    points, frames, plates = (by_segment.pop(k, None) for k in (MARKERS, MAT, PLATES))
    return Delivery(
        [_imu(name, parts) for name, parts in by_segment.items()],
        None if points is None else _markers(points, take),
        None if frames is None else _mat(frames, take),
        None if plates is None else _plates(plates, take),
    )


def _joined(parts: Parts, name: str) -> np.ndarray[Any, np.dtype[Any]]:
    return np.concatenate([p[name] for p in parts])


def _imu(name: str, parts: Parts) -> ImuStream:
    acc, gyr = (np.column_stack([_joined(parts, c) for c in three]) for three in (AXES[:3], AXES[3:]))
    return ImuStream(Segment(name), _joined(parts, "time_s"), acc, gyr, name)


def _markers(parts: Parts, take: Take) -> MarkerStream:
    known = take.marker_set or {}
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


def _mat(parts: Parts, take: Take) -> MatStream:
    known = take.mat_set or {}
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
        take.mat_shift_s,
        known["limit_kpa"],
    )


def _plates(parts: Parts, take: Take) -> PlateStream:
    known = take.plate_set or {}

    def three(name: str, k: int) -> Any:
        return np.column_stack([_joined(parts, f"{name}{k}{axis}") for axis in "xyz"])

    plates = tuple(
        ForcePlate(three("f", k), three("m", k), np.array(p["corners_m"]), np.array(p["origin_m"]))
        for k, p in enumerate(known["plates"])
    )
    return PlateStream(_joined(parts, "time_s"), plates, known["source"])


def data_of(
    unit: Unit,
    codec: ColumnCodec,
    take: Take,
    swings: Sequence[Swing] | None,
    mat_keys: Collection[str] | None = None,
) -> an.CaptureData:
    """The take as a capture; ``swings`` None looks for them; ``mat_keys`` as in ``streams_of``."""
    lesson = unit.get(Lesson, take.lesson_id)
    player = unit.get(Player, lesson.player_id)
    functional = FunctionalWindows(**{k: tuple(v) for k, v in take.functional.items()}) if take.functional else None
    raw = streams_of(unit, codec, take, mat_keys)
    return an.CaptureData(
        tuple(raw.streams),
        take.created_at,
        Hand(take.handedness),
        player.height_m,
        player.population,
        swings[0].club if swings else lesson.club,
        Shot(swings[0].shot) if swings else Shot.FULL,
        tuple(PoseWindow(k, a, b) for k, a, b in take.poses),
        functional,
        None if swings is None else tuple((s.start_s, s.end_s) for s in swings),
        markers=raw.markers,
        uprights=tuple((a, b) for a, b in take.uprights),
        bow=(take.bow[0], take.bow[1]) if take.bow else None,
        mat=raw.mat,
        plates=raw.plates,
    )
