"""The golfer model's recordings as captures: streams, poses and windows as a bundle names them."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.core.course.card import CardLine
from finearc.core.frames.handedness import Hand
from finearc.core.markers.stream import BayAxes, MarkerStream
from finearc.core.pressure.stream import MatGrid, MatStream
from finearc.core.putting.notes import PuttingNotes, PuttNote
from finearc.core.putting.setup import PutterGeometry, PutterSetup
from finearc.core.signals.streams import Segment
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.kind import Kind
from finearc.core.sources.markers import MARKERS
from finearc.golfer.course.round import RoundRecording
from finearc.golfer.marker_set import MarkerLog
from finearc.golfer.mat import MatQuirks
from finearc.golfer.played import AnyRecording
from finearc.golfer.putting.scenarios import PuttingRecording
from finearc.golfer.putting.session import PUTTER_SENSOR_M
from finearc.golfer.putting.stroke import LENGTH_M, LIE_RAD
from finearc.golfer.scenarios import Recording
from finearc.services.course.round_reading import RoundData
from finearc.services.judging.analysis import CaptureData


def round_of(played: RoundRecording, captured_at: datetime | None = None) -> RoundData:
    """A played round as it is brought."""
    card = [CardLine(round(c.time_s, 1), c.hole, c.shot, c.club, c.lie, c.result, c.pressure, "") for c in played.card]
    return RoundData(captured_at or datetime(2026, 6, 4, 8, 0, tzinfo=UTC), Hand.RIGHT, played.logs, card)


def capture_of(
    recording: Recording, *, club: str = "7-iron", height_m: float = 1.78, captured_at: datetime | None = None
) -> CaptureData:
    """The recording as a capture, its windows named."""
    windows = recording.truth.windows
    functional = None
    poses: tuple[PoseWindow, ...] = ()
    if "straight" in windows:
        functional = FunctionalWindows(*(windows[k][0] for k in ("straight", "raised", "flexion", "deviation")))
    else:
        pairs = zip(windows["flat"], windows["raised"], strict=True)
        poses = tuple(PoseWindow(kind, *w) for pair in pairs for kind, w in zip(("flat", "raised"), pair, strict=True))
    return CaptureData(
        streams_of(recording),
        captured_at or datetime(2026, 3, 4, 10, 15, tzinfo=UTC),
        recording.hand,
        height_m,
        "adult",
        club,
        recording.shot,
        poses=poses,
        functional=functional,
        swings=tuple(recording.swings),
        uprights=tuple(windows.get("square_upright", ())),
        bow=windows["bow"][0] if "bow" in windows else None,
        lifted=windows["lifted"][0] if "lifted" in windows else None,
    )


def streams_of(recording: AnyRecording) -> dict[Kind, Any]:
    """Everything that was recorded, by kind."""
    every = {
        INERTIAL: tuple(recording.streams),
        MARKERS: _markers(recording.marker_set, recording.hand),
        MAT: mat_of(recording) if isinstance(recording, Recording) else None,
    }
    return {kind: stream for kind, stream in every.items() if stream}


def putting_capture_of(recording: PuttingRecording, *, captured_at: datetime | None = None) -> CaptureData:
    """A putting session as a capture, its windows named and its putts noted as an instructor would."""
    windows = recording.truth.windows
    pairs = zip(windows["flat"], windows["raised"], strict=True)
    poses = tuple(PoseWindow(kind, *w) for pair in pairs for kind, w in zip(("flat", "raised"), pair, strict=True))
    bias = recording.story.face_grip_bias_deg
    struck = {k: PuttNote(s.style.distance_m) for k, s in enumerate(recording.truth.swings) if s.style.ball}
    notes = PuttingNotes(
        struck if recording.story.noted else {},
        recording.truth.swings[0].style.green_ft,
        face_grip_bias_rad=None if bias is None else float(np.deg2rad(bias)),
        putter=PutterSetup(PutterGeometry(LENGTH_M, LIE_RAD, 0.0, PUTTER_SENSOR_M) if _has_sensor(recording) else None),
    )
    return CaptureData(
        streams_of(recording),
        captured_at or datetime(2026, 3, 4, 10, 15, tzinfo=UTC),
        recording.hand,
        1.78,
        "adult",
        "putter",
        recording.shot,
        poses=poses,
        swings=tuple(recording.swings),
        putting=notes,
    )


def _has_sensor(recording: PuttingRecording) -> bool:
    """Whether a sensor sits on the putter: its measures are then noted."""
    return any(s.segment is Segment.PUTTER for s in recording.streams)


def _markers(marker_set: MarkerLog | None, hand: Hand) -> MarkerStream | None:
    if marker_set is None:
        return None
    axes = BayAxes() if hand is Hand.RIGHT else BayAxes(target="-y")
    return MarkerStream(marker_set.time_s, marker_set.labels, marker_set.points_m, "markers.c3d", axes)


def mat_of(recording: Recording) -> MatStream | None:
    """The recording's mat, its axes named as they truly lie; None without one."""
    mat = recording.mat
    if mat is None:
        return None
    q = mat.quirks
    sign = 1.0 if recording.hand is Hand.RIGHT else -1.0
    grid = MatGrid(
        q.rows, q.columns, (q.cell_m, q.cell_m), (q.origin_m[0], sign * _first_y(q, sign)), *mat.axes(recording.hand)
    )
    frames = mat.pressure_kpa if recording.hand is Hand.RIGHT else mat.pressure_kpa[:, :, ::-1]
    cells = np.ascontiguousarray(frames.reshape(len(frames), -1).T)
    return MatStream(mat.time_s, cells.T, grid, "mat.parquet", own_clock=bool(q.clock_s))


def _first_y(quirks: MatQuirks, sign: float) -> float:
    """Where the first column lies along the target line, m, counted toward the player's left: a left-hander's frames
    are the mirror image on the same mat."""
    return quirks.origin_m[1] if sign > 0 else -(quirks.origin_m[1] + (quirks.columns - 1) * quirks.cell_m)
