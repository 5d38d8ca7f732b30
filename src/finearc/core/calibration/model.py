"""What a calibration of a wrist pair is, and how good it is."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from finearc.core.typing import Array

WRIST_POSE_SD_RAD = np.deg2rad(2.0)
"""How straight a person holds the wrist in a pose: standard deviation about each axis (house value)."""
LEVEL_SD_RAD = np.deg2rad(3.0)
"""How level and unrolled a person holds the forearm in a pose (house value)."""


@dataclass(frozen=True)
class PoseWindow:
    """A still pose: ``kind`` is ``flat`` or ``raised``; times in s."""

    kind: str
    start_s: float
    end_s: float


@dataclass(frozen=True)
class CalibrationQuality:
    """Each figure in its unit, and one number between 0 and 1 with a sentence."""

    score: float
    sentence: str
    stillness_rad_s: float
    gravity_error_m_s2: float
    bias_rad_s: float
    pose_angle_rad: float
    disagreement_rad: float
    repeats: int = 1


@dataclass(frozen=True)
class WristCalibration:
    """How forearm and hand sensors sit, and the heading between their two vertical frames.

    ``r_forearm_sensor_from_segment`` and ``r_hand_sensor_from_segment`` (3, 3): columns are the segment's
    ``d`` (distal), ``o`` (back of the hand), ``r`` (thumb) in sensor axes. ``heading_rad`` turns the hand
    sensor's vertical frame into the forearm sensor's. ``covariance`` (7, 7) of small rotations of forearm
    (3, segment axes), hand (3, segment axes) and heading, rad². ``level``: the window (s) in which the forearm was held
    level, pointing ahead. ``piece``: the stretch between long gaps in which the heading holds (``wrist_piece``).
    """

    r_forearm_sensor_from_segment: Array
    r_hand_sensor_from_segment: Array
    heading_rad: float
    covariance: Array
    quality: CalibrationQuality
    method: str
    ends_s: float
    notes: tuple[str, ...] = ()
    warnings: tuple[str, ...] = field(default=())
    level: tuple[float, float] | None = None
    piece: int = 0
