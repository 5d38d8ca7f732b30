"""The golfer model's recordings as capture bundles with their truth."""

from __future__ import annotations

import json
from datetime import UTC, datetime

import numpy as np

from finearc.core.calibration.functional import FunctionalWindows
from finearc.core.calibration.model import PoseWindow
from finearc.golfer.scenarios import Recording
from finearc.services.analysis import CaptureData

TRUTH_STEP = 5
"""The truth is written at 200 Hz: every fifth sample of the model's grid."""


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
        tuple(recording.streams),
        captured_at or datetime(2026, 3, 4, 10, 15, tzinfo=UTC),
        recording.hand,
        height_m,
        "adult",
        club,
        poses=poses,
        functional=functional,
        swings=tuple(recording.swings),
    )


def truth_json(recording: Recording) -> bytes:
    """True angles (deg) at 200 Hz and true instants of every swing (s)."""
    t = recording.truth
    pick = slice(None, None, TRUTH_STEP)

    def degrees(values: np.ndarray) -> list[float]:
        return [round(float(v), 4) for v in np.rad2deg(values[pick])]

    return json.dumps(
        {
            "format": "finearc-truth",
            "version": 1,
            "time_s": [round(float(v), 4) for v in t.time_s[pick]],
            "lead_wrist_extension": degrees(t.extension),
            "lead_wrist_radial_deviation": degrees(t.deviation),
            "wrist_twist": degrees(t.twist),
            "hand_roll": degrees(t.hand_roll),
            "shaft_elevation": degrees(t.shaft_elevation),
            "swings": [
                {"start_s": s.start_s, "end_s": s.end_s, "events": {k: round(v, 5) for k, v in s.times_s.items()}}
                for s in t.swings
            ],
        }
    ).encode()
