"""The inertial sensors of a capture, oriented and calibrated."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from finearc.core.calibration.body_pack import BodyCalibration
from finearc.core.calibration.model import WristCalibration
from finearc.core.calibration.poses import speed_rad_s
from finearc.core.calibration.upper_arm import UpperArmCalibration
from finearc.core.events.swings import rates_in_up
from finearc.core.events.turning import Turning
from finearc.core.orientation.fusion import SensorMotion
from finearc.core.signals.streams import Segment
from finearc.wording import tr


@dataclass(frozen=True)
class InertialSensors:
    """The inertial sensors of a capture; the wrist pair comes complete or not at all. ``trunk``: pelvis, thorax
    and head, as far as worn, with their calibration; the upper arm's sensor only beside the wrist pair. ``putter``: a
    sensor on the putter's shaft; ``trail``: the trail wrist's pair, as a lead one in the mirrored bay."""

    forearm: SensorMotion | None
    hand: SensorMotion | None
    club: SensorMotion | None
    calibration: WristCalibration | None
    lie_rad: float
    trunk: Mapping[Segment, SensorMotion] = field(default_factory=dict)
    body: BodyCalibration | None = None
    upper_arm: SensorMotion | None = None
    upper_arm_seat: UpperArmCalibration | None = None
    putter: SensorMotion | None = None
    trail: InertialSensors | None = None

    @property
    def main(self) -> SensorMotion:
        """The sensor that events are looked for in first: hand, else club, else upper back or pelvis."""
        trunk = (self.trunk.get(Segment.THORAX), self.trunk.get(Segment.PELVIS))
        trail = self.trail.hand if self.trail is not None else None
        return next(s for s in (self.hand, self.club, self.putter, trail, *trunk) if s is not None)

    @property
    def main_name(self) -> str:
        if self.hand is not None:
            return tr("hand")
        if self.club is not None:
            return tr("club")
        if self.putter is not None:
            return tr("putter")
        if self.trail is not None:
            return tr("hand")
        return tr("upper body") if Segment.THORAX in self.trunk else tr("pelvis")

    @property
    def feels_strike(self) -> bool:
        return any(s is not None for s in (self.hand, self.club, self.putter, self.trail))

    def turning(self) -> Turning:
        """What swings are looked for in."""
        main = self.main
        least = 1.0 if self.feels_strike else 0.5
        return Turning(self.main_name, main.time_s, speed_rad_s(main), lambda w: rates_in_up(main, w), least)
