"""Inertial streams: what a sensor logged, and the checked and repaired form the rest computes with."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from finearc.core.errors import StreamError
from finearc.core.frames.handedness import mirror_pseudovectors, mirror_vectors
from finearc.core.typing import Array, Mask
from finearc.wording import tr

GRAVITY_M_S2 = 9.81
FILLED_GAP_S = 0.050
"""Gaps up to this long are filled by interpolation and flagged; longer ones cut the trace."""


class Segment(StrEnum):
    """What a sensor is strapped to."""

    LEAD_FOREARM = "lead_forearm"
    LEAD_HAND = "lead_hand"
    TRAIL_FOREARM = "trail_forearm"
    TRAIL_HAND = "trail_hand"
    LEAD_UPPER_ARM = "lead_upper_arm"
    PELVIS = "pelvis"
    THORAX = "thorax"
    HEAD = "head"
    CLUB = "club"
    PUTTER = "putter"


@dataclass(frozen=True)
class ImuStream:
    """One inertial log as read: ``time_s`` (n,), specific force ``acc_m_s2`` (n, 3), ``gyr_rad_s`` (n, 3),
    in the sensor's own axes. ``source`` names the file for messages."""

    segment: Segment
    time_s: Array
    acc_m_s2: Array
    gyr_rad_s: Array
    source: str

    def between(self, start_s: float, end_s: float) -> ImuStream:
        """From ``start_s`` on and before ``end_s``."""
        a, b = np.searchsorted(self.time_s, [start_s, end_s])
        return ImuStream(self.segment, self.time_s[a:b], self.acc_m_s2[a:b], self.gyr_rad_s[a:b], self.source)

    def mirrored(self) -> ImuStream:
        """The same log as a right-hander would have made it."""
        return ImuStream(
            self.segment,
            self.time_s,
            mirror_vectors(self.acc_m_s2),
            mirror_pseudovectors(self.gyr_rad_s),
            self.source,
        )


@dataclass(frozen=True)
class StreamFlags:
    """What was found and mended in a stream; times in s on the capture's clock."""

    duplicates: int = 0
    filled_gaps: tuple[tuple[float, float], ...] = ()
    long_gaps: tuple[tuple[float, float], ...] = ()
    clipped: tuple[tuple[float, float], ...] = ()


@dataclass(frozen=True)
class CleanStream:
    """A stream on the capture's uniform grid. ``valid`` (n,) is false inside long gaps. ``felt_time_s`` (k,) and
    ``felt_m_s2`` (k, 3) are the forces as logged, for what happens between two samples: the strike."""

    segment: Segment
    time_s: Array
    acc_m_s2: Array
    gyr_rad_s: Array
    valid: Mask
    flags: StreamFlags
    felt_time_s: Array
    felt_m_s2: Array

    @property
    def step_s(self) -> float:
        return float(self.time_s[1] - self.time_s[0])


def check_stream(stream: ImuStream) -> tuple[ImuStream, int]:
    """Refuse what cannot be mended; drop exact duplicate rows. Returns the stream and how many were dropped.

    Raises ``StreamError`` naming file, row and what to do. Rows are counted as in the file, header = 1.
    """
    table = np.column_stack([stream.time_s, stream.acc_m_s2, stream.gyr_rad_s])
    if len(table) < 2:
        raise StreamError(
            stream.source,
            tr("{table} rows of data, at least 2 are needed", table=len(table)),
            advice=tr("Capture again"),
        )
    if not np.isfinite(table).all():
        row, column = np.argwhere(~np.isfinite(table))[0]
        name = ("time_s", "acc_x", "acc_y", "acc_z", "gyr_x", "gyr_y", "gyr_z")[column]
        raise StreamError(
            stream.source,
            tr("not a number"),
            tr("row {value}, column {name}", value=row + 2, name=name),
            tr("Leave lost samples out instead"),
        )
    step = np.diff(stream.time_s)
    if (step < 0).any():
        row = int(np.argmax(step < 0)) + 1
        raise StreamError(
            stream.source,
            tr(
                "time goes back from {time_s:.4f} to {time_s2:.4f} s",
                time_s=stream.time_s[row - 1],
                time_s2=stream.time_s[row],
            ),
            tr("row {value}", value=row + 2),
            tr("Sort the rows by time_s or export the recording again"),
        )
    same_time = step == 0
    if not same_time.any():
        return stream, 0
    differs = same_time & (np.diff(table, axis=0) != 0).any(axis=1)
    if differs.any():
        row = int(np.argmax(differs)) + 1
        raise StreamError(
            stream.source,
            tr("two different samples at one time"),
            tr("row {value}", value=row + 2),
            tr("Remove one of the two rows"),
        )
    keep = np.concatenate([[True], ~same_time])
    kept = ImuStream(stream.segment, stream.time_s[keep], stream.acc_m_s2[keep], stream.gyr_rad_s[keep], stream.source)
    return kept, int(same_time.sum())


def check_units(stream: ImuStream) -> None:
    """Gravity must read about 9.81 m/s² and a turn less than 70 rad/s; else the unit is wrong."""
    gravity = float(np.percentile(np.linalg.norm(stream.acc_m_s2, axis=1), 30))
    if not 6.5 < gravity < 13.0:
        guess = {0.6 < gravity < 1.4: '"g"', 600 < gravity < 1400: "cm/s²"}.get(True, "")
        seems = tr(", it seems to be in {guess}", guess=guess) if guess else ""
        raise StreamError(
            stream.source,
            tr(
                "at rest the sensor reads {gravity:.3g} where 9.81 m/s² is expected{seems}",
                gravity=gravity,
                seems=seems,
            ),
            "columns acc_x, acc_y, acc_z",
            tr('Say "units": {"acc": "g"} in capture.json, or export in m/s²'),
        )
    fastest = float(np.abs(stream.gyr_rad_s).max())
    if fastest > 90.0:
        raise StreamError(
            stream.source,
            tr(
                "the sensor turns at up to {fastest:.0f} rad/s, more than any swing; it seems to be in deg/s",
                fastest=fastest,
            ),
            "columns gyr_x, gyr_y, gyr_z",
            tr('Say "units": {"gyr": "deg/s"} in capture.json, or export in rad/s'),
        )


def clipped_runs(gyr_rad_s: Array, min_run: int = 2) -> Mask:
    """Samples (n,) at which any gyro axis sits at its largest reading for ``min_run`` samples or more
    (saturated). Only readings above 8 rad/s (458 deg/s) can be a sensor's limit."""
    limit = np.abs(gyr_rad_s).max(axis=0)
    at_limit = (np.abs(gyr_rad_s) >= limit - 1e-6) & (limit > 8.0)
    flagged = np.zeros(len(gyr_rad_s), dtype=bool)
    for axis in np.flatnonzero(at_limit.sum(axis=0) >= min_run):
        run = at_limit[:, axis]
        both = run[1:] & run[:-1]
        flagged[1:] |= both
        flagged[:-1] |= both
    return flagged
