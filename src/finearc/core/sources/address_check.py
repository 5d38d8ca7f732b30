"""Does an address fit the calibration and the addresses before it? The grip changed, or a sensor moved.

A wrist that is held otherwise at address is first of all a changed grip, which instructors ask for: it is said once,
and swings stay judged. What no grip can do bars judging until the next calibration: a twist about the hand's own long
axis, which no wrist makes (measures, *Slip or grip?*), and gravity that reads differently at rest."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.metrics.registry import LEAD_WRIST_DEVIATION, LEAD_WRIST_EXTENSION
from finearc.core.metrics.words import change_in_words
from finearc.core.typing import Array
from finearc.wording import mark, tr

GRIP_RAD = np.deg2rad(11.0)
"""A wrist that differs at address by more than this is asked about (house value)."""
TWIST_LIMIT_RAD = np.deg2rad(14.0)
"""Twist about the hand's long axis that no wrist makes: three times the anatomical 5° (house value)."""
GRAVITY_M_S2 = 0.5
"""How differently a sensor may read gravity at rest (house value)."""
MOVED = mark("The sensor may have moved: calibrate again. Until then this swing's angles are not judged.")
GRAVITY_OFF = mark("A sensor reads gravity differently than at calibration: check its fit, then calibrate again.")


@dataclass(frozen=True)
class GripChange:
    """How much more extended and more radially deviated the wrist stands at this address than at those before, rad."""

    extension_rad: float
    deviation_rad: float

    def in_words(self, *, plain: bool = True) -> str:
        """``12° more cupped``: the larger of the two."""
        pair = ((LEAD_WRIST_EXTENSION, self.extension_rad), (LEAD_WRIST_DEVIATION, self.deviation_rad))
        return change_in_words(*max(pair, key=lambda p: abs(p[1])), plain=plain)

    def question(self, *, plain: bool = True) -> str:
        """What is asked, once."""
        return tr("{in_words} at address than before: the grip, or the sensor?", in_words=self.in_words(plain=plain))


@dataclass(frozen=True)
class Address:
    """A still address: the wrist's rotation (3, 3), how far the twist about the hand's long axis was off the first one
    before the heading was held to it (rad; 0 where drift may have done it), and how forearm and hand read gravity,
    m/s²."""

    r_forearm_from_hand: Array
    twist_off_rad: float
    gravity_m_s2: tuple[float, float]


@dataclass(frozen=True)
class Told:
    """What an address says: whether a sensor moved, whether the grip changed, and the words."""

    moved: bool = False
    grip: GripChange | None = None
    warning: str = ""


@dataclass
class Addresses:
    """The addresses since a calibration. ``held``: extension and deviation (rad) of the grip in force, the first one
    until a change was said."""

    held: tuple[float, float] | None = None
    gravity_m_s2: tuple[float, float] | None = None
    moved: str = ""

    def check(self, address: Address) -> Told:
        """Compare one more address; once a sensor moved, everything until the next calibration is barred."""
        extension, deviation, twist = (float(v) for v in wrist_angles(address.r_forearm_from_hand))
        if max(abs(twist), abs(address.twist_off_rad)) > TWIST_LIMIT_RAD:
            self.moved = tr(MOVED)
        if self.gravity_m_s2 is None:
            self.gravity_m_s2 = address.gravity_m_s2
        elif any(abs(g - g0) > GRAVITY_M_S2 for g, g0 in zip(address.gravity_m_s2, self.gravity_m_s2, strict=True)):
            self.moved = self.moved or tr(GRAVITY_OFF)
        if self.moved:
            return Told(moved=True, warning=self.moved)
        return self._grip(extension, deviation)

    def _grip(self, extension: float, deviation: float) -> Told:
        if self.held is None:
            self.held = (extension, deviation)
            return Told()
        change = GripChange(extension - self.held[0], deviation - self.held[1])
        if max(abs(change.extension_rad), abs(change.deviation_rad)) <= GRIP_RAD:
            return Told()
        self.held = (extension, deviation)
        return Told(grip=change, warning=change.question())
