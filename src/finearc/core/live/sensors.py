"""The worn sensors of a session, each oriented on one grid as its samples come.

The recent past is kept for what looks back: poses, addresses, the batch's headings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.live.fusion import FusionParams, FusionState, begin_fusion, orient
from finearc.core.live.gridding import Grid, GriddingState, put_on_grid
from finearc.core.signals.streams import Segment
from finearc.core.typing import Array

KEPT_S = 90.0
"""How much of the past is kept: the poses and what follows them (house value)."""


@dataclass
class Track:
    """A ring of the last samples on the grid. Rows are ``index % size``; ``filled``: which index stands in a row, -1
    where none; ``piece`` numbers the stretches between long gaps."""

    size: int
    next: int = 0
    piece: int = 0
    filled: Array = field(init=False)
    q_up_from_sensor: Array = field(init=False)
    gyr_rad_s: Array = field(init=False)
    acc_m_s2: Array = field(init=False)
    pieces: Array = field(init=False)

    def __post_init__(self) -> None:
        self.filled = np.full(self.size, -1.0)
        self.q_up_from_sensor = np.zeros((self.size, 4))
        self.gyr_rad_s, self.acc_m_s2 = np.zeros((self.size, 3)), np.zeros((self.size, 3))
        self.pieces = np.full(self.size, -1.0)

    def put(self, first: int, q: Array, gyr_rad_s: Array, acc_m_s2: Array) -> None:
        """Samples from index ``first`` on."""
        rows = np.arange(first, first + len(q)) % self.size
        self.filled[rows] = np.arange(first, first + len(q))
        self.q_up_from_sensor[rows], self.gyr_rad_s[rows], self.acc_m_s2[rows] = q, gyr_rad_s, acc_m_s2
        self.pieces[rows] = self.piece
        self.next = first + len(q)

    def rows(self, first: int, after: int) -> np.ndarray[tuple[int], np.dtype[np.int64]]:
        """Rows of the indices from ``first`` on and before ``after`` that are there, in order."""
        index = np.arange(max(first, after - self.size), after)
        rows = index % self.size
        return np.asarray(rows[self.filled[rows] == index])

    def has(self, first: int, after: int) -> bool:
        """Whether every index of a stretch is there."""
        return len(self.rows(first, after)) == after - first


@dataclass
class LiveSensor:
    """One sensor: what it needs to go on, and its track."""

    segment: Segment
    fusion: FusionState
    track: Track
    gridding: GriddingState = field(default_factory=GriddingState)


@dataclass
class LiveSensors:
    """All sensors of a session. ``segments``: those that are listened to."""

    grid: Grid
    by_segment: dict[Segment, LiveSensor]

    @classmethod
    def of(cls, grid: Grid, segments: Sequence[Segment]) -> LiveSensors:
        size = round(KEPT_S / grid.step_s)
        params = FusionParams(grid.step_s)
        return cls(grid, {s: LiveSensor(s, begin_fusion(params), Track(size)) for s in segments})

    def take_in(self, segment: Segment, time_s: Array, acc_m_s2: Array, gyr_rad_s: Array) -> None:
        """The next samples (n,), s, (n, 3), m/s² and rad/s of a sensor, in order."""
        sensor = self.by_segment[segment]
        params = FusionParams(self.grid.step_s)
        for part in put_on_grid(self.grid, sensor.gridding, time_s, np.column_stack([acc_m_s2, gyr_rad_s])):
            if part.broken:
                sensor.fusion = begin_fusion(params)
                sensor.track.piece += 1
                continue
            acc, gyr = part.values[:, :3], part.values[:, 3:]
            found = orient(params, sensor.fusion, acc, gyr)
            sensor.track.put(part.first, found.q_up_from_sensor, found.gyr_rad_s, acc)

    def tracks(self, segments: Sequence[Segment]) -> list[Track]:
        """Their tracks."""
        return [self.by_segment[s].track for s in segments]

    def pieces(self, segments: Sequence[Segment]) -> tuple[int, ...]:
        """The stretches between long gaps that they are in now."""
        return tuple(t.piece for t in self.tracks(segments))

    def front(self, segments: Sequence[Segment]) -> int:
        """The first index that not all of them have reached."""
        return min(t.next for t in self.tracks(segments))

    def speed_rad_s(self, segment: Segment, first: int, after: int) -> Array:
        """Angular speed (k,), rad/s, of what is there of a stretch."""
        track = self.by_segment[segment].track
        gyr = track.gyr_rad_s[track.rows(first, after)]
        return np.asarray(np.sqrt(np.einsum("ij,ij->i", gyr, gyr)))

    def r_up_from_sensor(self, segment: Segment, first: int, after: int) -> Array:
        """Orientations (k, 3, 3) of what is there of a stretch."""
        track = self.by_segment[segment].track
        return matrices_from_quaternions(track.q_up_from_sensor[track.rows(first, after)])
