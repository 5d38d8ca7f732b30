"""Markers and body sensors, from points and logs to values, against the golfer model's truth."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from finearc.core.events.model import Checkpoint
from finearc.core.frames.handedness import Hand
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array
from finearc.golfer import bodies as bd
from finearc.golfer.scenarios import Recording, Scenario, play_story
from finearc.golfer.session import TrueEvents
from finearc.golfer.truth import true_angles, true_travel
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

TURNS_AND_BENDS = tuple(
    f"{part}_{kind}" for part in ("pelvis", "thorax") for kind in ("turn", "forward_bend", "side_bend")
)
POSITIONS = tuple(f"{part}_{way}" for part in ("pelvis", "thorax", "head") for way in ("sway", "thrust", "lift"))
JOINTS = ("lead_knee_flexion", "trail_knee_flexion", "lead_elbow_flexion", "trail_elbow_flexion")
NO_TRUTH = ("address", "takeaway", "finish")


def skilled(seed: int, sources: Sequence[str], swings: int = 3, hand: Hand = Hand.RIGHT, **plan: object) -> Recording:
    """A skilled player's session; 0.3 mm of marker noise and a quarter of the markers with short gaps."""
    story = Scenario((bd.with_body(bd.SKILLED),) * swings, "Skilled.", plan=dict(plan))
    return play_story(story, seed, sources=sources, hand=hand)


def _span(swing: SwingReading, true: TrueEvents) -> Array:
    return (swing.time_s >= true.times_s["takeaway"]) & (swing.time_s <= true.times_s["impact"] + 0.1)


def marker_errors(recording: Recording) -> dict[str, Array]:
    """Error of every measure over time, deg and mm, takeaway to just after impact; joints without their mean."""
    reading = an.read(capture_of(recording))
    truth, body = recording.truth, recording.body
    assert body is not None
    angles = true_angles(truth, body)
    out: dict[str, list[Array]] = {}
    for swing, true in zip(reading.swings, truth.swings, strict=True):
        span = _span(swing, true)
        travel = true_travel(truth, body, true)
        for name in (*TURNS_AND_BENDS, *POSITIONS, *JOINTS):
            known, scale = (angles[name], 180.0 / np.pi) if name in angles else (travel[name], 1000.0)
            error = scale * (swing.traces[name][span] - np.interp(swing.time_s[span], truth.time_s, known))
            error = error[np.isfinite(error)]
            out.setdefault(name, []).append(error - error.mean() if name in JOINTS else error)
    return {k: np.concatenate(v) for k, v in out.items()}


def event_errors_ms(recording: Recording) -> dict[str, Array]:
    """Timing errors, ms, of every checkpoint with a true instant."""
    reading = an.read(capture_of(recording))
    out: dict[str, list[float]] = {}
    for swing, true in zip(reading.swings, recording.truth.swings, strict=True):
        for name, found in swing.events.items():
            expected = true.times_s.get("top_club" if name is Checkpoint.TOP else str(name))
            if expected is not None and name not in NO_TRUTH:
                out.setdefault(str(name), []).append(1000.0 * (found.time_s - expected))
    return {k: np.array(v) for k, v in out.items()}


def body_pack_errors(recording: Recording) -> dict[str, Array]:
    """Errors over time, deg: turns relative to each swing's own address, bends as they are."""
    reading = an.read(capture_of(recording))
    truth = recording.truth
    out: dict[str, list[Array]] = {}
    angles = {"pelvis": euler_zxy(truth.trunk.r_pelvis), "thorax": euler_zxy(truth.trunk.r_thorax)}
    for swing, true in zip(reading.swings, truth.swings, strict=True):
        span = _span(swing, true)
        at = int(np.searchsorted(swing.time_s, true.times_s["address"] + 0.05))
        for part, of in angles.items():
            for name, known in zip(("turn", "side_bend", "forward_bend"), of, strict=True):
                got = swing.traces[f"{part}_{name}"]
                expected = np.interp(swing.time_s, truth.time_s, known)
                error = got - expected
                if name == "turn":
                    error = error - error[at]
                out.setdefault(f"{part}_{name}", []).append(np.rad2deg(error[span]))
    return {k: np.concatenate(v) for k, v in out.items()}


def euler_zxy(r: Array) -> tuple[Array, Array, Array]:
    """Turn, side bend and forward bend (n,), rad, by SciPy's intrinsic Z-X-Y angles."""
    from scipy.spatial.transform import Rotation

    z, x, y = Rotation.from_matrix(r).as_euler("ZXY").T
    return np.unwrap(-z), x, y
