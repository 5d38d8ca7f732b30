"""What a motion of a club was: a shot, a practice swing, a putt, or something else, each with a confidence.

Each piece of evidence adds to the logarithm of the odds that the club was swung on purpose and all the way, as in
logistic regression; the weights are house values, set by hand on simulated rounds so that each piece can be told to a
person. A strike alone then parts shot from practice swing."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from finearc.core.course.swung import PUTTER, ClubSwing
from finearc.core.putting.notes import TAP_IN_RAD_S


class MotionKind(StrEnum):
    """What a motion of a club was."""

    SHOT = "shot"
    PRACTICE = "practice"
    PUTT = "putt"
    OTHER = "other"


class Stroke(StrEnum):
    """How far and fast a club was swung."""

    FULL = "full"
    PITCH = "pitch"
    CHIP = "chip"
    PUTT = "putt"


CHIP_SWEPT_RAD, PITCH_SWEPT_RAD = np.deg2rad([105.0, 185.0])
"""A shorter backswing is a chip, a longer one a full swing (house values: the shaft sweeps about 75° for a chip, 150°
for a pitch, 235° for a full swing)."""
PITCH_RAD_S = np.deg2rad(1150.0)
"""A pitch is slower, however far it goes back (house value)."""
BOTTOM_S = 0.08
"""A ball lies so near the bottom of the swing, s (house value)."""
UNSURE_STRIKE = 0.75
"""How sure one is of no strike where samples are missing in which it could have been (house value)."""


@dataclass(frozen=True)
class Usual:
    """At which a swing is as likely as not, by each piece of evidence alone: ``swept`` by the shaft, rad; ``peak`` of
    its turning, rad/s; ``tempo``, and how ``steep`` its evidence grows; ``restless``: what speaks against it
    where the club never stood still before; ``fast``: faster than that is no putt, rad/s."""

    swept: float
    peak: float
    tempo: float
    steep: float
    restless: float
    fast: float = np.inf


CLUB = Usual(np.deg2rad(40.0), np.deg2rad(210.0), 1.3, 4.0, -1.5)
PUTT = Usual(np.deg2rad(3.2), float(TAP_IN_RAD_S), 1.6, 10.0, -4.0, np.deg2rad(200.0))
MOST_TEMPO = 8.0
"""Nobody takes eight times as long going back as coming down (house value)."""


@dataclass(frozen=True)
class Named:
    """What a motion was, how sure (0 to 1), and of swings how far it went."""

    kind: MotionKind
    confidence: float
    stroke: Stroke | None


def swung_odds(swing: ClubSwing) -> float:
    """The logarithm of the odds that the club was swung on purpose, back and all the way through."""
    usual = PUTT if swing.club == PUTTER else CLUB
    struck = swing.impact_s is not None and abs(swing.impact_s - swing.low_s) < BOTTOM_S
    evidence = [
        np.clip(4.0 * np.log(max(swing.swept, 1e-6) / usual.swept), -4.0, 3.0),
        np.clip(3.0 * np.log(max(swing.peak_rad_s, 1e-6) / usual.peak), -4.0, 3.0),
        np.clip(14.0 * (swing.through / max(swing.swept, 1e-6) - 0.45), -10.0, 1.0),
        np.clip(usual.steep * (swing.tempo - usual.tempo), -0.5 * usual.steep, 0.5),
        -4.0 if swing.tempo > MOST_TEMPO else 0.0,
        0.0 if swing.standing is None else np.clip(10.0 * (swing.standing - 0.2), usual.restless, 1.0),
        1.5 if struck else 0.0,
        -6.0 if swing.peak_rad_s > usual.fast else 0.0,
    ]
    return float(np.sum(evidence))


def name_of(swing: ClubSwing) -> Named:
    """What it was."""
    swung = 1.0 / (1.0 + np.exp(-swung_odds(swing)))
    if swung < 0.5:
        return Named(MotionKind.OTHER, float(1.0 - swung), None)
    stroke = stroke_of(swing)
    if swing.impact_s is not None and abs(swing.impact_s - swing.low_s) < BOTTOM_S:
        kind = MotionKind.PUTT if stroke is Stroke.PUTT else MotionKind.SHOT
        return Named(kind, float(swung), stroke)
    sure = 1.0 if swing.unstruck else UNSURE_STRIKE
    return Named(MotionKind.PRACTICE, float(swung * sure), stroke)


def stroke_of(swing: ClubSwing) -> Stroke:
    """By what the shaft sweeps going back, and how fast it comes down."""
    if swing.club == PUTTER:
        return Stroke.PUTT
    if swing.swept < CHIP_SWEPT_RAD:
        return Stroke.CHIP
    return Stroke.PITCH if swing.swept < PITCH_SWEPT_RAD or swing.peak_rad_s < PITCH_RAD_S / 2 else Stroke.FULL
