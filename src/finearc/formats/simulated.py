"""The truth of the golfer model's recordings, as it is written beside a bundle."""

from __future__ import annotations

import json

import numpy as np

from finearc.golfer.course.round import RoundRecording
from finearc.golfer.putting.logs import true_points
from finearc.golfer.putting.scenarios import PuttingRecording
from finearc.golfer.scenarios import Recording
from finearc.golfer.truth import true_angles
from finearc.golfer.whole import whole_body

TRUTH_STEP = 5
"""The truth is written at 200 Hz: every fifth sample of the model's grid."""


def truth_json(recording: Recording) -> bytes:
    """True angles (deg), what the ground carried (%, m) and true instants of every swing (s); courses at 200 Hz."""
    t = recording.truth
    pick = slice(None, None, TRUTH_STEP)

    def degrees(values: np.ndarray) -> list[float]:
        return [round(float(v), 4) for v in np.rad2deg(values[pick])]

    body = recording.body
    if body is None and "square_upright" in t.windows:
        body = whole_body(t)
    angles = {} if body is None else {k: degrees(v) for k, v in true_angles(t, body).items()}

    ground = recording.ground
    pressure = {}
    if ground is not None:
        place = ground.pressure_m[pick]
        pressure = {
            "lead_share": [round(100.0 * float(v), 3) for v in ground.lead_share[pick]],
            "lead_heel_toe": [round(100.0 * float(v), 3) for v in ground.along[pick, 0]],
            "trail_heel_toe": [round(100.0 * float(v), 3) for v in ground.along[pick, 1]],
            "pressure_m": [[round(float(x), 5), round(float(y), 5)] for x, y in place],
        }
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
            **angles,
            **pressure,
            "swings": [
                {"start_s": s.start_s, "end_s": s.end_s, "events": {k: round(v, 5) for k, v in s.times_s.items()}}
                for s in t.swings
            ],
        }
    ).encode()


def putting_truth_json(recording: PuttingRecording) -> bytes:
    """True wrist angles (deg, without trembling) and places of the putter (m), at 200 Hz; true instants (s) and style
    of every putt."""
    t = recording.truth
    pick = slice(None, None, TRUTH_STEP)
    angles = {
        f"{side}_wrist_{name}": [round(float(v), 4) for v in np.rad2deg(values[pick])]
        for side, arm in t.arms.items()
        for name, values in (("extension", arm.extension), ("radial_deviation", arm.deviation))
    }
    points = {
        label: [[round(float(x), 6) for x in place] for place in values[pick]]
        for label, values in true_points(t).items()
    }
    return json.dumps(
        {
            "format": "finearc-truth",
            "version": 1,
            "time_s": [round(float(v), 4) for v in t.time_s[pick]],
            **angles,
            "points_m": points,
            "swings": [
                {
                    "start_s": s.start_s,
                    "end_s": s.end_s,
                    "events": {k: round(v, 5) for k, v in s.times_s.items()},
                    "distance_m": s.style.distance_m,
                    "struck": s.style.ball,
                    "pivot_m": s.style.pivot_m,
                }
                for s in t.swings
            ],
        }
    ).encode()


def round_truth_json(played: RoundRecording) -> bytes:
    """What every motion of a round truly was; angles in deg, instants in s on the clips' clock."""

    def degrees(rad: float | None) -> float | None:
        return None if rad is None else round(float(np.rad2deg(rad)), 4)

    motions = [
        {
            "club": t.club,
            "kind": t.kind,
            "stroke": t.stroke,
            "start_s": round(t.start_s, 4),
            "end_s": round(t.end_s, 4),
            "time_s": t.takeaway_s,
            "top_s": t.top_s,
            "impact_s": t.impact_s,
            "backswing_length_deg": degrees(t.elevation_rad),
            "swept_deg": degrees(t.swept_rad),
            "peak_turn_deg_s": degrees(t.peak_rad_s),
        }
        for t in played.truth
    ]
    return json.dumps({"format": "finearc-round-truth", "version": 1, "swings": motions}).encode()
