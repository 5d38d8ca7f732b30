"""Calibration of pelvis and thorax sensors: *square upright* and *bow*.

Standing straight and square to the target line is the zero of turn and bends and shows each sensor which way is up.
Bowing straight forward shows it which way is forward: the up direction seen by the sensor tips from ``u0`` to
``u1 = -x sin(beta) + z cos(beta)``, so ``x = (u0 cos(beta) - u1) / sin(beta)``. Without the bow a sensor mounted askew
mixes forward and side bend, so bends are not given; turn is.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.calibration.poses import hold
from finearc.core.errors import CalibrationRefused
from finearc.core.frames.rotations import about_z, angle_between, unit
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import Segment
from finearc.core.typing import Array
from finearc.wording import tr

MIN_BOW_RAD = np.deg2rad(20.0)
"""Less of a bow does not show which way is forward (house value)."""
SQUARE_SD_RAD = np.deg2rad(2.0)
"""How square to the target line a person stands (house value)."""
BEND_SD_RAD = np.deg2rad(1.5)
"""How straight a person stands upright (house value)."""
DRIFT_RAD_PER_ROOT_S = np.deg2rad(3.0) / np.sqrt(600.0)
"""Heading drift without a magnetometer, 3° in ten minutes (house value)."""
FRESH_S = 120.0
"""A *square upright* older than this no longer gives absolute turn (house value)."""

Window = tuple[float, float]


@dataclass(frozen=True)
class Seat:
    """How one sensor sits: ``r_sensor_from_segment`` (3, 3), and the heading (rad) of its vertical frame against the
    bay at the end (s) of each *square upright*, in order of time."""

    r_sensor_from_segment: Array
    headings: tuple[tuple[float, float], ...]

    def r_bay_from_segment(self, r_up_from_sensor: Array, at_s: float) -> Array:
        """Segment orientations (n, 3, 3) in the bay, by the last *square upright* before ``at_s``."""
        heading = next((h for end, h in reversed(self.headings) if end <= at_s), self.headings[0][1])
        return np.asarray(about_z(-heading) @ r_up_from_sensor @ self.r_sensor_from_segment)


@dataclass(frozen=True)
class BodyCalibration:
    """Seats by segment; ``ends_s``: ends of each *square upright* held."""

    seats: Mapping[Segment, Seat]
    ends_s: tuple[float, ...]
    has_bow: bool
    bow_rad: float
    stillness_rad_s: float
    bend_sd_rad: float = BEND_SD_RAD

    def age_s(self, at_s: float) -> float:
        """Time since the last *square upright* before ``at_s``."""
        last = next((end for end in reversed(self.ends_s) if end <= at_s), self.ends_s[0])
        return abs(at_s - last)

    def is_stale(self, at_s: float) -> bool:
        """Whether absolute turn can no longer be given at ``at_s``."""
        return self.age_s(at_s) > FRESH_S

    def square_sd_rad(self, at_s: float) -> float:
        """Standard uncertainty of absolute turn."""
        return float(np.hypot(SQUARE_SD_RAD, DRIFT_RAD_PER_ROOT_S * np.sqrt(self.age_s(at_s))))

    @property
    def sentence(self) -> str:
        """What a person should know."""
        bow = (
            tr("bow {bow_rad:.0f}°", bow_rad=np.rad2deg(self.bow_rad))
            if self.has_bow
            else tr("no bow: bends are not measured")
        )
        return tr("Body sensors: square upright held, {bow}.", bow=bow)


def _seat(motion: SensorMotion, uprights: Sequence[Window], bow: Window | None) -> tuple[Seat, float, float]:
    held = [hold(motion, upright, tr("square upright")) for upright in uprights]
    z, rms = held[0].up, held[0].stillness_rad_s
    if bow is None:
        x0 = np.eye(3)[int(np.argmin(np.abs(z)))]
        x = unit(x0 - (x0 @ z) * z)
        tipped = 0.0
    else:
        bowed = hold(motion, bow, "bow")
        rms = max(rms, bowed.stillness_rad_s)
        tipped = angle_between(z, bowed.up)
        if tipped < MIN_BOW_RAD:
            raise CalibrationRefused(
                tr(
                    "the {value} bowed by {tipped:.0f}°, at least {min_bow_rad:.0f}° is needed",
                    value=motion.segment.value,
                    tipped=np.rad2deg(tipped),
                    min_bow_rad=np.rad2deg(MIN_BOW_RAD),
                ),
                tr("Bow straight forward from the hips by 30° or so"),
                tr("pose bow"),
            )
        x = unit((z * np.cos(tipped) - bowed.up) / np.sin(tipped))
    seat = np.column_stack([x, np.cross(z, x), z])
    ahead = [h.r_up_from_sensor @ seat[:, 0] for h in held]
    headings = tuple((w[1], float(np.arctan2(a[1], a[0]))) for w, a in zip(uprights, ahead, strict=True))
    return Seat(seat, headings), tipped, max(rms, *(h.stillness_rad_s for h in held))


def calibrate_body(
    motions: Mapping[Segment, SensorMotion], uprights: Sequence[Window], bow: Window | None
) -> BodyCalibration:
    """Calibrate every given sensor from each *square upright* and the bow. Raises ``CalibrationRefused``."""
    ordered = sorted(uprights, key=lambda w: w[1])
    found = {}
    for segment, motion in motions.items():
        try:
            found[segment] = _seat(motion, ordered, bow)
        except CalibrationRefused:
            if segment is not Segment.HEAD:  # who bows may well keep looking ahead; no value rests on the head's sensor
                raise
    return BodyCalibration(
        {segment: seat for segment, (seat, _, _) in found.items()},
        tuple(w[1] for w in ordered),
        bow is not None,
        min((tipped for s, (_, tipped, _) in found.items() if s is not Segment.HEAD), default=0.0),
        max((rms for _, _, rms in found.values()), default=0.0),
    )
