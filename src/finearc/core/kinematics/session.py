"""The motion of a whole capture: every sensor's orientation, the wrist calibration, and the heading of the
hand against the forearm held at every address."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.calibration.model import WristCalibration
from finearc.core.frames.rotations import about_z, matrices_from_quaternions
from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.typing import Array

TWIST_AT_ADDRESS_SD_RAD = np.deg2rad(1.5)
"""How far the twist about the hand's long axis varies from address to address (house value)."""
HEADING_DRIFT_RAD_PER_ROOT_S = np.deg2rad(3.0) / np.sqrt(600.0)
"""Random walk of the relative heading left after bias estimation: 3° in ten minutes."""
TWIST_SD_RAD = np.deg2rad(5.0)
"""Twist about the hand's long axis that a wrist has at an address: anatomically within about 5° of none (measures)."""


@dataclass(frozen=True)
class WristFrames:
    """Segment orientations over a window (n samples), columns ``d, o, r``, both in the forearm sensor's
    vertical frame once ``heading_rad`` is applied to the hand."""

    r_up_from_forearm: Array
    r_up_from_hand: Array
    heading_rad: float

    @property
    def r_forearm_from_hand(self) -> Array:
        """The wrist's rotation (n, 3, 3): hand axes as the forearm sees them."""
        turned = about_z(self.heading_rad) @ self.r_up_from_hand
        return np.asarray(np.swapaxes(self.r_up_from_forearm, -1, -2) @ turned)


def wrist_piece(forearm: SensorMotion, hand: SensorMotion) -> Array:
    """A number (n,) for each stretch without long gaps in either sensor; -1 inside a gap. Headings of one to the other
    do not carry across."""
    there = (forearm.piece >= 0) & (hand.piece >= 0)
    return np.where(there, forearm.piece + 1000 * hand.piece, -1)


def wrist_frames(
    forearm: SensorMotion, hand: SensorMotion, calibration: WristCalibration, heading_rad: float, window: slice
) -> WristFrames:
    """Segment orientations in ``window`` of the capture's grid."""
    return WristFrames(
        matrices_from_quaternions(forearm.q_up_from_sensor[window]) @ calibration.r_forearm_sensor_from_segment,
        matrices_from_quaternions(hand.q_up_from_sensor[window]) @ calibration.r_hand_sensor_from_segment,
        heading_rad,
    )


@dataclass
class HeadingHold:
    """Holds the relative heading by the joint: at every address the twist about the hand's long axis has
    nearly the same value, so what differs from the first address is drift, weighed against how well the
    twist is known (a scalar Kalman filter: state heading, random-walk drift)."""

    heading_rad: float
    at_s: float
    piece: int
    variance: float = 0.0
    twist_rad: float | None = None
    twist_off_rad: float = 0.0
    """How far the twist of the last address was off the first one's, where drift is no reason for it; else 0."""

    def at_address(
        self,
        time_s: float,
        piece: int,
        forearm: Array,
        hand: Array,
        disturbed: bool = False,
    ) -> float:
        """Update with the segment orientations (3, 3) at one address; returns the heading, rad. ``disturbed``:
        a gyroscope saturated since the last address, so the heading may have jumped."""
        self.variance += HEADING_DRIFT_RAD_PER_ROOT_S**2 * abs(time_s - self.at_s)
        self.twist_off_rad = 0.0
        if disturbed:
            self.variance += np.deg2rad(15.0) ** 2
        if piece != self.piece:  # a long gap: the heading before it says nothing any more
            self.variance = np.pi**2
        known, self.at_s, self.piece = piece == self.piece, time_s, piece
        twist_sd = TWIST_AT_ADDRESS_SD_RAD
        if self.twist_rad is None:
            if known:
                self.twist_rad = self._twist(forearm, hand, self.heading_rad)
                return self.heading_rad
            self.twist_rad, twist_sd = 0.0, TWIST_SD_RAD  # a gap since the poses: all that is known is what a wrist can
        start = self.heading_rad if self.variance < 1.0 else self._search(forearm, hand)
        if self.variance < np.deg2rad(8.0) ** 2:
            self.twist_off_rad = self._twist(forearm, hand, self.heading_rad) - self.twist_rad
        heading, slope = start, 1.0
        for _ in range(8):
            off = self._twist(forearm, hand, heading) - self.twist_rad
            slope = (self._twist(forearm, hand, heading + 1e-4) - self._twist(forearm, hand, heading)) / 1e-4
            if abs(slope) < 0.2:
                return self.heading_rad  # the arm is level: the twist says nothing about the heading
            heading -= float(np.clip(off / slope, -0.5, 0.5))
        noise = (twist_sd / slope) ** 2
        gain = self.variance / (self.variance + noise)
        self.heading_rad = float(self.heading_rad + gain * (heading - self.heading_rad))
        self.variance *= 1.0 - gain
        return self.heading_rad

    @staticmethod
    def _twist(forearm: Array, hand: Array, heading: float) -> float:
        _, _, twist = wrist_angles(forearm.T @ about_z(heading) @ hand)
        return float(twist)

    def _search(self, forearm: Array, hand: Array) -> float:
        """The heading nearest a plausible wrist, after a gap."""
        grid = np.linspace(-np.pi, np.pi, 181)
        assert self.twist_rad is not None
        cost = []
        for heading in grid:
            extension, deviation, twist = wrist_angles(forearm.T @ about_z(float(heading)) @ hand)
            cost.append(abs(float(twist) - self.twist_rad) + 0.3 * (abs(float(extension)) + abs(float(deviation))))
        self.heading_rad = float(grid[int(np.argmin(cost))])
        return self.heading_rad
