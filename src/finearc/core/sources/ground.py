"""The ground as kinds of source: a pressure mat, else force plates; and the clock of a mat that has one of its own."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from finearc.core.markers.stream import bay_from_lab
from finearc.core.metrics.definition import Metric, Source
from finearc.core.metrics.families.ground_course import ALL as GROUND
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.pressure.clean import MatMotion, read_mat
from finearc.core.pressure.plates import ForcePlate, PlateStream, read_plates
from finearc.core.pressure.still import GroundMotion
from finearc.core.pressure.stream import MatGrid, MatStream, UnusableMat
from finearc.core.pressure.swings import find_swings, last_rest
from finearc.core.pressure.sync import NOT_SET, Offset, find_offset, on_clock
from finearc.core.signals.streams import Segment
from finearc.core.sources.ground_view import SOURCE, GroundView, view_swing
from finearc.core.sources.inertial import INERTIAL, InertialMotion
from finearc.core.sources.kind import Columns, Kind, Motion, Motions, Packed, Setting, States, View, Window
from finearc.core.sources.markers import MARKERS, OpticalMotion
from finearc.core.sources.pieces import joined, pieces_of
from finearc.wording import mark, tr

ZERO_S = 20.0
"""Of a mat that goes on recording, so much of its beginning is kept: it lies empty there (house value)."""
NOT_THEN = mark("the ground was not recorded during this swing")


@dataclass(frozen=True)
class Ground(Motion):
    """What a mat or plates recorded. ``offset``: how the mat's clock was set."""

    ground: GroundMotion
    offset: Offset | None = None

    @property
    def present(self) -> tuple[Source, ...]:
        return (SOURCE[type(self.ground)],)

    @property
    def span(self) -> Window:
        return float(self.ground.time_s[0]), float(self.ground.time_s[-1])

    def swings(self) -> list[Window]:
        return find_swings(self.ground)

    def rest(self, after_s: float) -> Window | None:
        return last_rest(self.ground, after_s)

    @property
    def notes(self) -> tuple[str, ...]:
        flags = self.ground.flags.sentences() if isinstance(self.ground, MatMotion) else []
        return (*([self.offset.note] if self.offset is not None else []), *flags)

    def left(self, start_s: float) -> Offset | None:
        return self.offset

    def view(self, span: Window, states: States, split_m: float | None) -> GroundView | None:
        return view_swing(self.ground, span, split_m)

    def lacking(self, view: View | None) -> dict[Metric, str]:
        return dict.fromkeys(GROUND, tr(NOT_THEN)) if view is None else view.lacking()


class Mat(Kind):
    """Streams: a ``MatStream``. Its columns are ``time_s`` and ``cells`` (n, cells), kPa."""

    key = "pressure"
    called = "mat"
    order = 30
    measures = GROUND
    optional = (UnusableMat,)

    def pack(self, stream: MatStream) -> Packed:
        described = {
            "rows": stream.grid.rows,
            "columns": stream.grid.columns,
            "cell_m": list(stream.grid.cell_m),
            "origin_m": list(stream.grid.origin_m),
            "row_axis": stream.grid.row_axis,
            "column_axis": stream.grid.column_axis,
            "source": stream.source,
            "own_clock": stream.own_clock,
            "limit_kpa": stream.limit_kpa,
        }
        columns = {"time_s": stream.time_s, "cells": stream.pressure_kpa}
        return Packed({self.key: pieces_of(columns, stream.grid.cells)}, described)

    def unpack(self, groups: Mapping[str, Sequence[Columns]], described: Mapping[str, Any]) -> MatStream:
        parts = groups[self.key]
        grid = MatGrid(
            described["rows"],
            described["columns"],
            tuple(described["cell_m"]),
            tuple(described["origin_m"]),
            described["row_axis"],
            described["column_axis"],
        )
        return MatStream(
            joined(parts, "time_s"),
            np.asfortranarray(joined(parts, "cells")),
            grid,
            described["source"],
            described["own_clock"],
            described.get("shift_s"),
            described["limit_kpa"],
        )

    def span(self, stream: MatStream) -> Window:
        return float(stream.time_s[0]), float(stream.time_s[-1])

    def cut(self, stream: MatStream, start_s: float, end_s: float = np.inf) -> MatStream:
        a, b = np.searchsorted(stream.time_s, [start_s, end_s])
        return replace(stream, time_s=stream.time_s[a:b], pressure_kpa=stream.pressure_kpa[a:b])

    def recent(self, stream: MatStream, start_s: float) -> MatStream:
        """With the first seconds, in which the empty mat shows its zero."""
        first, start = np.searchsorted(stream.time_s, [stream.time_s[0] + ZERO_S, start_s])
        rows = np.r_[: min(first, start), start : len(stream.time_s)]
        return replace(stream, time_s=stream.time_s[rows], pressure_kpa=stream.pressure_kpa[rows])

    def prepare(self, stream: MatStream, setting: Setting, before: Motions) -> Ground:
        motion, offset = read_mat(stream), setting.left.get(self)
        return Ground(on_clock(motion, offset), offset) if isinstance(offset, Offset) else Ground(motion)


class Plates(Kind):
    """Streams: a ``PlateStream``, in the axes of the markers recorded with it. Its columns are ``time_s``, then force
    and moment of each plate, ``f0x`` … ``m1z``."""

    key = "plates"
    called = mark("pair of force plates")
    order = 40
    measures = GROUND

    def pack(self, stream: PlateStream) -> Packed:
        columns = {"time_s": stream.time_s}
        for k, plate in enumerate(stream.plates):
            for name, three in (("f", plate.force_n), ("m", plate.moment_nm)):
                columns |= {f"{name}{k}{axis}": three[:, a] for a, axis in enumerate("xyz")}
        described = {
            "source": stream.source,
            "plates": [{"corners_m": p.corners_m.tolist(), "origin_m": p.origin_m.tolist()} for p in stream.plates],
        }
        return Packed({self.key: pieces_of(columns, len(columns))}, described)

    def unpack(self, groups: Mapping[str, Sequence[Columns]], described: Mapping[str, Any]) -> PlateStream:
        parts = groups[self.key]

        def three(name: str, k: int) -> Any:
            return np.column_stack([joined(parts, f"{name}{k}{axis}") for axis in "xyz"])

        plates = tuple(
            ForcePlate(three("f", k), three("m", k), np.array(p["corners_m"]), np.array(p["origin_m"]))
            for k, p in enumerate(described["plates"])
        )
        return PlateStream(joined(parts, "time_s"), plates, described["source"])

    def span(self, stream: PlateStream) -> Window:
        return float(stream.time_s[0]), float(stream.time_s[-1])

    def cut(self, stream: PlateStream, start_s: float, end_s: float = np.inf) -> PlateStream:
        a, b = np.searchsorted(stream.time_s, [start_s, end_s])
        plates = tuple(replace(p, force_n=p.force_n[a:b], moment_nm=p.moment_nm[a:b]) for p in stream.plates)
        return replace(stream, time_s=stream.time_s[a:b], plates=plates)

    def prepare(self, stream: PlateStream, setting: Setting, before: Motions) -> Ground | None:
        """None beside a mat, or without the markers whose axes they share."""
        markers = before.get(MARKERS)
        if MAT in before.by_kind or MAT in before.unused or not isinstance(markers, OpticalMotion):
            return None
        motion = read_plates(stream, bay_from_lab(markers.axes, setting.hand, stream.source))
        return None if motion is None else Ground(motion)


MAT, PLATES = Mat(), Plates()


def ground_in(motions: Motions) -> Ground | None:
    """The mat, else the plates."""
    found = motions.get(MAT) or motions.get(PLATES)
    return found if isinstance(found, Ground) else None


def on_one_clock(motions: Motions, impacts_of: Callable[[Motions], Sequence[float]]) -> Motions:
    """The mat brought onto the clock of the other sources, when it has one of its own or was shifted by hand.
    ``impacts_of``: impacts as the given sources see them, s."""
    mat = motions.get(MAT)
    if not isinstance(mat, Ground) or not isinstance(mat.ground, MatMotion) or mat.offset is not None:
        return motions
    by_hand, others = mat.ground.stream.shift_s is not None, motions.without(MAT)
    if not by_hand and (not mat.ground.stream.own_clock or not others):
        return motions
    offset = find_offset(mat.ground, _sensors(motions), [] if by_hand else impacts_of(others))
    if offset is None:
        return motions.without(MAT, tr(NOT_SET))
    return motions.including(MAT, Ground(on_clock(mat.ground, offset), offset))


def _sensors(motions: Motions) -> list[SensorMotion]:
    """Sensors that feel a tap of the heel, nearest the ground first."""
    inertial = motions.get(INERTIAL)
    if not isinstance(inertial, InertialMotion):
        return []
    s = inertial.sensors
    trunk = [s.trunk[k] for k in (Segment.PELVIS, Segment.THORAX) if k in s.trunk]
    return [*trunk, *(w for w in (s.forearm, s.hand) if w is not None)]
