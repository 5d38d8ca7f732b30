"""Calibration of a sensor on the lead upper arm by one pose more, *lifted*: the elbow lifted straight ahead to the
height of the shoulder, the forearm pointing up.

In *flat* the upper arm hangs, so the up direction its sensor sees is ``u_flat = -d``. Lifted by ``g`` in the plane in
which the elbow bends, which the upright forearm shows, it sees ``u_lifted = a sin(g) - d cos(g)`` with ``a`` the arm's
front; so ``a`` is what is left of ``u_lifted`` across ``d``. In *flat* the forearm points the way ``a`` does, which
fixes the heading of the upper arm's vertical frame against the forearm's. Nothing rests on how the forearm is
turned."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.poses import hold
from finearc.core.errors import CalibrationRefused
from finearc.core.frames.rotations import angle_between
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.typing import Array
from finearc.wording import tr

MIN_LIFT_RAD = np.deg2rad(50.0)
"""Less of a lift does not show the arm's front (house value)."""
MIN_FOREARM_RAD = np.deg2rad(60.0)
"""A forearm that points less far up does not show the plane in which the elbow bends (house value)."""
POSE_SD_RAD = np.deg2rad(5.0)
"""How exactly a person holds the pose, about the arm's long axis (house value; the model's poses give 3°)."""
DRIFT_RAD_PER_ROOT_S = np.deg2rad(4.2) / np.sqrt(600.0)
"""Headings of two sensors without a magnetometer drifting apart: the square root of two times 3° in ten minutes."""

Window = tuple[float, float]


@dataclass(frozen=True)
class UpperArmCalibration:
    """``r_sensor_from_segment`` (3, 3): columns distal, to the arm's back, across the elbow to its lateral side;
    ``heading_rad`` turns the upper arm sensor's vertical frame into the forearm sensor's; ``piece``: the stretch of its
    recording without long gaps in which that holds; ``at_s``: when the poses ended."""

    r_sensor_from_segment: Array
    heading_rad: float
    piece: int
    at_s: float
    lifted_rad: float

    def sd_rad(self, at_s: float) -> float:
        """Standard uncertainty of the angle about the forearm, that of a swing in common."""
        return float(np.hypot(POSE_SD_RAD, DRIFT_RAD_PER_ROOT_S * np.sqrt(abs(at_s - self.at_s))))

    @property
    def sentence(self) -> str:
        """What a person should know."""
        return tr("Upper-arm sensor: lifted by {lifted_rad:.0f}°.", lifted_rad=np.rad2deg(self.lifted_rad))


def calibrate_upper_arm(
    upper: SensorMotion, forearm: SensorMotion, wrist: WristCalibration, flat: Window, lifted: Window
) -> UpperArmCalibration:
    """From the forearm's level pose ``flat`` and ``lifted``, windows in s. Raises ``CalibrationRefused``."""
    hanging, raised = hold(upper, flat, "flat"), hold(upper, lifted, "lifted")
    level, upright = hold(forearm, flat, "flat"), hold(forearm, lifted, "lifted")
    along = wrist.r_forearm_sensor_from_segment[:, 0]
    points_up = float(np.arcsin(np.clip(along @ upright.up, -1.0, 1.0)))
    if points_up < MIN_FOREARM_RAD:
        raise CalibrationRefused(
            tr(
                "the forearm pointed {points_up:.0f}° above level, at least {min_forearm_rad:.0f}° is needed",
                points_up=np.rad2deg(points_up),
                min_forearm_rad=np.rad2deg(MIN_FOREARM_RAD),
            ),
            tr("Point the forearm straight up"),
            tr("pose lifted"),
        )
    lift = angle_between(hanging.up, raised.up)
    if lift < MIN_LIFT_RAD:
        raise CalibrationRefused(
            tr(
                "the upper arm was lifted by {lift:.0f}°, at least {min_lift_rad:.0f}° is needed",
                lift=np.rad2deg(lift),
                min_lift_rad=np.rad2deg(MIN_LIFT_RAD),
            ),
            tr("Lift the elbow straight ahead to the height of the shoulder"),
            tr("pose lifted"),
        )
    d = -hanging.up
    front = raised.up - (raised.up @ d) * d
    front /= np.linalg.norm(front)
    seat = np.column_stack([d, -front, np.cross(d, -front)])
    ahead = level.r_up_from_sensor @ along, hanging.r_up_from_sensor @ front
    headings = [float(np.arctan2(a[1], a[0])) for a in ahead]
    return UpperArmCalibration(seat, headings[0] - headings[1], hanging.piece, max(flat[1], lifted[1]), lift)
