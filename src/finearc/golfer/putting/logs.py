"""What sensors and cameras would have logged of a putting session."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import ImuStream, Segment
from finearc.core.typing import Array
from finearc.golfer.marker_set import MarkerLog
from finearc.golfer.putting.session import TruePutting
from finearc.golfer.sensors import Sensed, SensorQuirks, log_of

SHOCK_M_S2 = {
    Segment.LEAD_FOREARM: 2.5,
    Segment.LEAD_HAND: 7.0,
    Segment.TRAIL_FOREARM: 2.5,
    Segment.TRAIL_HAND: 7.0,
    Segment.PUTTER: 45.0,
}
"""What a putt's strike does to a sensor (house values); a full swing's is about ten times as much."""
TRAIL = (Segment.TRAIL_FOREARM, Segment.TRAIL_HAND)
HALF_HEAD_M, FACE_POST_M, LOW_SHAFT_M = 0.05, 0.035, 0.60


@dataclass(frozen=True)
class PutterMarkers:
    """``noise_m`` a coordinate; ``flipped``: heel and toe carry each other's name; ``left_out``: not worn."""

    rate_hz: float = 240.0
    noise_m: float = 0.0003
    flipped: bool = False
    left_out: tuple[str, ...] = ()


def sensor_logs(
    truth: TruePutting, segments: Sequence[Segment], quirks: SensorQuirks, rng: np.random.Generator
) -> list[ImuStream]:
    """All sensors' logs of a right-hander."""
    strikes = [(s.times_s["impact"], s.style.ball) for s in truth.swings]
    sensed = Sensed(truth.time_s, truth.sensed, strikes, SHOCK_M_S2)
    logs = [log_of(sensed, s, quirks, rng) for s in segments]
    return [s.mirrored() if s.segment in TRAIL else s for s in logs]  # the trail arm's truth is a mirrored lead arm's


def true_points(truth: TruePutting) -> dict[str, Array]:
    """Where the putter's markers truly are (n, 3), m, bay, on the session's grid."""
    r, grip, spot = truth.putter.r_bay_from_putter, truth.putter.grip_end_m, truth.putter.sweet_spot_m
    toe, face = r @ truth.toe_in_putter, r @ truth.face_in_putter
    return {
        "CGRP": grip,
        "CSHF": grip + LOW_SHAFT_M * r[:, :, 0],
        "CHEL": spot - HALF_HEAD_M * toe,
        "CTOE": spot + HALF_HEAD_M * toe,
        "CFAC": spot + FACE_POST_M * face,
    }


def putter_markers(
    truth: TruePutting, how: PutterMarkers, rng: np.random.Generator, hand: Hand = Hand.RIGHT
) -> MarkerLog:
    """The cameras' log; a left-hander's is the mirror image, the target then along ``-y`` of the laboratory."""
    true = true_points(truth)
    if how.flipped:
        true["CHEL"], true["CTOE"] = true["CTOE"], true["CHEL"]
    labels = tuple(k for k in true if k not in how.left_out)
    frames = np.arange(int((truth.time_s[-1] - 0.01) * how.rate_hz) + 1) / how.rate_hz
    points = np.stack(
        [np.column_stack([np.interp(frames, truth.time_s, c) for c in true[k].T]) for k in labels], axis=1
    )
    points += rng.normal(0.0, how.noise_m, points.shape)
    if hand is Hand.LEFT:
        points[..., 1] *= -1.0
    return MarkerLog(frames, labels, points, how.rate_hz)
