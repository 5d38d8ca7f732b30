"""The product's own fusion code on open recordings of real sensors."""

from __future__ import annotations

from pathlib import Path

import numpy as np

from finearc.core.frames.rotations import matrices_from_quaternions
from finearc.core.orientation.fusion import SensorMotion, estimate_motion
from finearc.core.signals.grid import clean
from finearc.core.signals.streams import ImuStream, Segment
from finearc.core.typing import Array

DATA = Path(__file__).parent.parent / "tests" / "data"
FOOT_RATE_HZ, MARKER_RATE_HZ, KNEE_RATE_HZ = 204.8, 100.0, 120.0
FIT_S = 8.0


def _columns(path: Path) -> dict[str, Array]:
    names = path.read_text().split("\n", 1)[0].split(",")
    table = np.loadtxt(path, delimiter=",", skiprows=1)
    return dict(zip(names, table.T, strict=True))


def foot_motion(side: str) -> SensorMotion:
    """Motion of one foot's six-axis sensor, through ``clean`` and ``estimate_motion``."""
    table = _columns(DATA / "foot-imu-mocap" / "imu.csv")
    acc = np.column_stack([table[f"{side}_acc_{axis}"] for axis in "xyz"])
    gyr = np.deg2rad(np.column_stack([table[f"{side}_gyr_{axis}"] for axis in "xyz"]))
    time_s = np.arange(len(acc)) / FOOT_RATE_HZ
    return estimate_motion(clean([ImuStream(Segment.LEAD_HAND, time_s, acc, gyr, f"{side} foot")])[0])


def optical_pitch(side: str) -> tuple[Array, Array]:
    """Time (n,), s, and elevation (n,), rad, of the line from heel to toe marker."""
    table = _columns(DATA / "foot-imu-mocap" / "markers.csv")
    letter = side[0].upper()
    heel, toe = (np.column_stack([table[f"{letter}_{m}_{axis}"] for axis in "xyz"]) for m in ("FCC", "TOE"))
    line = toe - heel
    return np.arange(len(line)) / MARKER_RATE_HZ, np.arcsin(line[:, 2] / np.linalg.norm(line, axis=1))


def sensor_pitch(side: str) -> tuple[Array, Array, Array]:
    """Time, sensor pitch and optical pitch, rad, after the first ``FIT_S`` seconds. In those the direction of
    the heel–toe line in the sensor (unknown mounting) is found by least squares; then it stays fixed."""
    motion = foot_motion(side)
    time_s, truth = optical_pitch(side)
    up = matrices_from_quaternions(motion.q_up_from_sensor)[:, 2, :]
    at = np.column_stack([np.interp(time_s, motion.time_s, column) for column in up.T])
    fit = time_s < FIT_S
    direction, *_ = np.linalg.lstsq(at[fit], np.sin(truth[fit]), rcond=None)
    direction /= np.linalg.norm(direction)
    pitch = np.arcsin(np.clip(at @ direction, -1.0, 1.0))
    return time_s[~fit], pitch[~fit], truth[~fit]


def foot_errors_deg() -> dict[str, float]:
    """RMS errors, deg, of each foot's pitch and of the pitch between the two segments."""
    _, left, left_true = sensor_pitch("left")
    _, right, right_true = sensor_pitch("right")

    def rms(error: Array) -> float:
        return float(np.rad2deg(np.sqrt(np.mean(error**2))))

    return {
        "left pitch": rms(left - left_true),
        "right pitch": rms(right - right_true),
        "pitch between the segments": rms((left - right) - (left_true - right_true)),
    }


def knee_range_deg() -> tuple[float, float]:
    """Range of the angle between two sensors across a walking knee, deg, and its main frequency, Hz. There is
    no optical truth: the figures are checked for plausibility only."""
    ups = []
    for leg in ("upperLeg", "lowerLeg"):
        table = np.loadtxt(DATA / "knee-imu" / f"walking_{leg}.txt", skiprows=5, usecols=range(1, 7))
        time_s = np.arange(len(table)) / KNEE_RATE_HZ
        stream = ImuStream(Segment.LEAD_HAND, time_s, table[:, :3], table[:, 3:], leg)
        ups.append(matrices_from_quaternions(estimate_motion(clean([stream])[0]).q_up_from_sensor)[:, 2, :])
    bend = np.arccos(np.clip(np.einsum("ij,ij->i", *ups), -1.0, 1.0))
    spectrum = np.abs(np.fft.rfft(bend - bend.mean()))
    frequency = np.fft.rfftfreq(len(bend), 1 / KNEE_RATE_HZ)
    span = np.percentile(bend, 98) - np.percentile(bend, 2)
    return float(np.rad2deg(span)), float(frequency[int(np.argmax(spectrum))])
