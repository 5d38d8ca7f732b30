"""From a reading to what is kept of a swing."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.events.model import ORDER
from finearc.core.metrics.definition import PER_SI
from finearc.core.metrics.registry import BY_ID
from finearc.core.pressure.still import GroundMotion
from finearc.core.pressure.sync import Offset
from finearc.core.sources.capture import CaptureReading
from finearc.core.sources.figure import Figure, figure_of
from finearc.core.sources.ground import ground_in
from finearc.core.sources.ground_view import GroundView
from finearc.core.sources.kind import Motions
from finearc.core.sources.putts import drawn_of
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array
from finearc.services.judging import analysis as an
from finearc.services.record import blocks
from finearc.services.record.document import ClockShift, FigureInfo, SwingRecord
from finearc.services.record.ground import ground_info, pack_ground


@dataclass(frozen=True)
class Made:
    """A record with its blocks by kind; a block that is not there is empty."""

    record: SwingRecord
    blocks: dict[str, bytes]


@dataclass(frozen=True)
class Surroundings:
    """What a swing shares with its recording: the motion of the ground, how the mat's clock was set, why nothing may be
    judged (or empty), and the player's height, which scales the figure."""

    ground: GroundMotion | None
    offset: Offset | None
    doubt: str
    height_m: float | None

    @staticmethod
    def of(capture: CaptureReading, height_m: float | None) -> Surroundings:
        """Those of a whole reading."""
        return Surroundings.in_(capture.motions, an.why_not_judged(capture), height_m)

    @staticmethod
    def in_(motions: Motions, doubt: str, height_m: float | None) -> Surroundings:
        """Those of a recording's motions."""
        found = ground_in(motions)
        ground, offset = (found.ground, found.offset) if found is not None else (None, None)
        return Surroundings(ground, offset, doubt, height_m)


def record_of(reading: SwingReading, around: Surroundings) -> Made:
    """Everything a swing's reading holds."""
    figure = figure_of(reading, around.height_m)
    motion, offset = around.ground, around.offset
    shift = None if offset is None else ClockShift(round(offset.shift_s, 4), round(offset.sd_s, 4))
    events = {k: reading.events[k] for k in ORDER if k in reading.events}
    record = SwingRecord(
        an.ENGINE,
        reading.start_s,
        reading.end_s,
        events,
        events,
        dict(reading.absent),
        {(m.metric.id, m.moment.key): m for m in reading.measured},
        an.missing_of(reading),
        tuple(reading.warnings),
        reading.sensor_moved,
        tuple(k for k in reading.traces if k in BY_ID),
        around.doubt,
        None if figure is None else figure_info(figure),
        ground_info(reading, shift),
        reading.grip_changed,
    )
    made = {blocks.TRACES: blocks.pack_traces(trace_columns(reading))}
    if figure is not None:
        made[blocks.FIGURE] = blocks.pack_traces(blocks.figure_columns(figure))
    view = reading.view(GroundView)
    if view is not None and motion is not None:
        made[blocks.GROUND] = pack_ground(view, motion)
    courses = drawn_of(reading)
    if courses is not None:
        made[blocks.PUTT] = blocks.pack_traces(blocks.putt_columns(courses))
    return Made(record, made)


def trace_columns(reading: SwingReading) -> dict[str, Array]:
    """Time (s) and traces in their own units, each (n,)."""
    columns = {"time_s": reading.time_s}
    for key, values in reading.traces.items():
        columns[key] = np.asarray(values * PER_SI[BY_ID[key].unit])
    return columns


def figure_info(figure: Figure) -> FigureInfo:
    """What is known about a figure beside its points."""
    return FigureInfo(
        tuple(sorted(str(p) for p in figure.measured)), tuple(str(p) for p in figure.faint), figure.placed, figure.note
    )
