"""How a putt is made: the pendulum, what the wrists add to it and when, and what the putter does beside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from finearc.core.typing import Array
from finearc.golfer.arm import minimum_jerk

Anchor = Literal["takeaway", "transition", "impact"]
GRAVITY_M_S2 = 9.81
STIMP_BALL_M_S = 1.83
"""Speed of a ball as it leaves the stimpmeter's ramp, m/s (from memory: 6.00 ft/s)."""
FOOT_M = 0.3048
BALL_PER_HEAD = 1.65
"""Ball speed over head speed of a putter, after the ball has begun to roll (house value)."""
PAST_M = 0.3
"""A putt that is meant to drop would roll so far past (house value)."""


@dataclass(frozen=True)
class Step:
    """``amount`` (deg or cm) is added smoothly, beginning ``offset_s`` after the ``anchor``, within ``lasts_s``."""

    anchor: Anchor
    offset_s: float
    lasts_s: float
    amount: float


Steps = tuple[Step, ...]


@dataclass(frozen=True)
class PuttStyle:
    """One putt. ``back_s`` and ``through_s``: from rest to the transition, and from there to the ball;
    ``amplitude_deg`` of the pendulum, None for what the distance asks for on a green of ``green_ft``; ``pivot_m``: its
    height; ``path_deg`` (+ in to out), ``face_deg`` (+ open) at address; ``lean_deg`` (+ hands ahead).

    ``extension_deg`` and ``deviation_deg`` at address, of the lead wrist, and ``trail_*``; ``extension``,
    ``deviation``, ``roll`` (of the putter about its shaft, + closing) and ``trail_*``: what is added to them, deg.
    ``handle_along`` (toward the target) and ``both_up``, ``head_out`` (away from the player): by how much the grip
    end, both ends, and the sweet spot leave the pendulum, cm. ``ball``: whether one is struck. ``address_s``: how long
    the player stands at address before."""

    distance_m: float = 3.0
    green_ft: float = 10.5
    back_s: float = 0.68
    through_s: float = 0.32
    amplitude_deg: float | None = None
    pivot_m: float = 1.22
    path_deg: float = 0.0
    face_deg: float = 0.0
    lean_deg: float = 2.0
    extension_deg: float = 14.0
    deviation_deg: float = -26.0
    trail_extension_deg: float = 22.0
    trail_deviation_deg: float = -20.0
    extension: Steps = ()
    deviation: Steps = ()
    roll: Steps = ()
    trail_extension: Steps = ()
    trail_deviation: Steps = ()
    handle_along: Steps = ()
    both_up: Steps = ()
    head_out: Steps = ()
    ball: bool = True
    address_s: float = 1.4

    @property
    def amplitude(self) -> float:
        """Of the pendulum, rad: that of a head which is as fast at the ball as the distance asks for."""
        if self.amplitude_deg is not None:
            return float(np.deg2rad(self.amplitude_deg))
        slowing = STIMP_BALL_M_S**2 / (2.0 * self.green_ft * FOOT_M)
        ball_m_s = np.sqrt(2.0 * slowing * (self.distance_m + PAST_M))
        return float(ball_m_s / BALL_PER_HEAD * 2.0 * self.through_s / (np.pi * self.pivot_m))

    def at(self, anchor: Anchor, takeaway_s: float) -> float:
        """When an anchor is reached, s."""
        later = {"takeaway": 0.0, "transition": self.back_s, "impact": self.back_s + self.through_s}
        return takeaway_s + later[anchor]

    def course(self, steps: Steps, time_s: Array, takeaway_s: float) -> Array:
        """All steps together over ``time_s`` (n,), s, in their unit."""
        out = np.zeros(len(time_s))
        for s in steps:
            begun = self.at(s.anchor, takeaway_s) + s.offset_s
            out += s.amount * minimum_jerk(np.clip((time_s - begun) / s.lasts_s, 0.0, 1.0))
        return out

    def scattered(self, rng: np.random.Generator, scale: float = 1.0) -> PuttStyle:
        """The same player's next putt (house values)."""

        def other(steps: Steps) -> Steps:
            return tuple(
                replace(
                    s,
                    amount=s.amount * (1 + scale * rng.normal(0, 0.08)) + scale * rng.normal(0, 0.12),
                    offset_s=s.offset_s + scale * rng.normal(0, 0.008),
                )
                for s in steps
            )

        return replace(
            self,
            back_s=self.back_s * (1 + scale * rng.normal(0, 0.02)),
            through_s=self.through_s * (1 + scale * rng.normal(0, 0.015)),
            path_deg=self.path_deg + scale * rng.normal(0, 0.5),
            face_deg=self.face_deg + scale * rng.normal(0, 0.4),
            extension_deg=self.extension_deg + scale * rng.normal(0, 0.6),
            deviation_deg=self.deviation_deg + scale * rng.normal(0, 0.6),
            extension=other(self.extension),
            deviation=other(self.deviation),
            roll=other(self.roll),
            trail_extension=other(self.trail_extension),
            trail_deviation=other(self.trail_deviation),
            handle_along=other(self.handle_along),
            both_up=other(self.both_up),
            head_out=other(self.head_out),
        )


def there_and_back(at: Anchor, offset_s: float, lasts_s: float, amount: float, back_s: float) -> Steps:
    """A motion that is taken back: begun ``offset_s`` after an anchor, given back from ``back_s`` after the same on."""
    return (Step(at, offset_s, lasts_s, amount), Step(at, back_s, lasts_s, -amount))


def quiet(distance_m: float) -> PuttStyle:
    """Next to no wrist motion close to the hole, and little more far from it; what there is sits in the transition."""
    far = max(0.0, distance_m - 3.0) / 6.0
    return PuttStyle(
        distance_m=distance_m,
        extension=there_and_back("transition", -0.16, 0.24, 1.2 + 1.6 * far, 0.02),
        deviation=there_and_back("transition", -0.10, 0.22, 0.9 + 1.2 * far, 0.04),
        trail_extension=there_and_back("transition", -0.16, 0.24, 1.4 + 1.6 * far, 0.02),
        trail_deviation=there_and_back("transition", -0.10, 0.22, 0.7 + far, 0.04),
        roll=(Step("takeaway", 0.05, 0.6, -1.5 - 2.0 * far), Step("transition", -0.02, 0.36, 2.2 + 3.0 * far)),
    )


def transition(distance_m: float) -> PuttStyle:
    """The wrists load the putter about the transition, the more the longer the putt; still at the ball."""
    far = max(0.0, distance_m - 3.0) / 6.0
    return PuttStyle(
        distance_m=distance_m,
        extension=(Step("transition", -0.18, 0.26, 2.0 + 5.0 * far), Step("transition", 0.04, 0.20, -2.4 - 5.6 * far)),
        deviation=(Step("transition", -0.09, 0.22, 1.5 + 3.5 * far), Step("transition", 0.06, 0.19, -1.6 - 3.6 * far)),
        trail_extension=(
            Step("transition", -0.18, 0.26, 2.4 + 5.4 * far),
            Step("transition", 0.04, 0.20, -2.6 - 5.8 * far),
        ),
        trail_deviation=there_and_back("transition", -0.09, 0.22, 1.0 + 2.0 * far, 0.06),
        roll=(Step("takeaway", 0.02, 0.5, -2.5 - 3.5 * far), Step("transition", -0.05, 0.36, 3.5 + 5.0 * far)),
    )


DISTANCES_M: Sequence[float] = (3.0, 6.0, 9.0)
