"""Pelvis and thorax of the model player: how they move in a swing, and where that puts hips and shoulders.

Both tip about level axes (bend or posture forward, side bend or lean away from the target) and turn about their own
tipped long axis, as a body does; headings, bends and side bends as an observer measures them follow from that.
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np

from finearc.core.typing import Array
from finearc.golfer.anatomy import HIP, LUMBAR, Anatomy, mirrored

DOFS = (
    "pelvis_turn",
    "pelvis_bend",
    "pelvis_side",
    "thorax_turn",
    "thorax_posture",
    "thorax_lean",
    "sway",
    "thrust",
    "lift",
    "elbow",
    "trail_heel",
    "press",
    "outside",
)
"""Degrees; sway, thrust and lift in cm from address; ``trail_heel`` 0 flat to 1 on the toes; ``press``: how far, cm,
the turning of trunk, arms and club moves the pressure toward the target beyond what the centre of mass asks for;
``outside``: pressure under the trail foot, 0 in its middle, 1 at its outer edge."""
BODY_MOMENTS = (
    "address",
    "shaft_level_back",
    "arm_level_back",
    "late_back",
    "top",
    "early_down",
    "arm_level_down",
    "impact",
    "after",
    "finish",
)


@dataclass(frozen=True)
class BodyStyle:
    """Each quantity of ``DOFS`` at the ten ``BODY_MOMENTS``; ``after`` is 0.1 s past impact."""

    pelvis_turn: tuple[float, ...] = (0, 26, 36, 45, 44, 23, -13, -41, -58, -98)
    pelvis_bend: tuple[float, ...] = (20, 20, 20, 20, 20, 20, 20, 17, 12, 2)
    pelvis_side: tuple[float, ...] = (0, -1, -1, -1, 0, 0, 0, -2, -1, 0)
    thorax_turn: tuple[float, ...] = (0, 54, 73, 88, 90, 75, 26, -20, -48, -112)
    thorax_posture: tuple[float, ...] = (34.5, 34.5, 34.5, 34.5, 34.5, 35.5, 36.5, 35, 28, 3)
    thorax_lean: tuple[float, ...] = (3, 3, 3, 3, 3, 4, 5, 10.5, 13, -1)
    sway: tuple[float, ...] = (0, -1, -1.7, -2.3, -1.1, 1.4, 5, 8.6, 11, 15)
    thrust: tuple[float, ...] = (0, 0, 0, 0, 0, -0.5, -1, -0.5, 0.5, 6)
    lift: tuple[float, ...] = (0, -0.7, -0.7, -0.8, -0.9, -1.25, -1.6, 2.9, 4.4, 4)
    elbow: tuple[float, ...] = (13, 12, 12, 14, 14, 11.5, 9, 5, 7, 95)
    trail_heel: tuple[float, ...] = (0, 0, 0, 0, 0, 0, 0, 0.18, 0.4, 1)
    press: tuple[float, ...] = (0, -7.7, -6, -4.8, 8.2, 21.6, 22.3, 7.7, -15.5, 0)
    outside: tuple[float, ...] = (0, 0, 0.05, 0.05, 0, 0, 0, 0, 0, 0)
    thorax_late: float = 0.09
    """How much later than the pelvis the thorax turns coming down, as a share of the downswing."""

    def scattered(self, rng: np.random.Generator, scale: float = 1.0) -> BodyStyle:
        """The same player's next swing: about 1.2° and 3 mm at each moment, a common part included."""
        values: dict[str, object] = {}
        for f in fields(self):
            if f.name not in DOFS or f.name in ("press", "outside"):
                continue
            size = 0.25 if f.name in ("sway", "thrust", "lift") else 1.0
            if f.name in ("elbow", "trail_heel"):
                size = 0.0
            draw = scale * size * (0.8 * rng.normal() + 0.6 * rng.normal(size=10))
            if f.name in ("sway", "thrust", "lift"):
                draw[0] = 0.0
            values[f.name] = tuple(np.array(getattr(self, f.name)) + draw)
        return replace(self, **values)  # type: ignore[arg-type]

    def blend(self, other: BodyStyle, share: float) -> BodyStyle:
        """Between this style (0) and another (1)."""
        mixed = {
            f.name: tuple(
                (1 - share) * a + share * b for a, b in zip(getattr(self, f.name), getattr(other, f.name), strict=True)
            )
            for f in fields(self)
            if f.name in DOFS
        }
        mixed["thorax_late"] = (1 - share) * self.thorax_late + share * other.thorax_late  # type: ignore[assignment]
        return replace(self, **mixed)  # type: ignore[arg-type]

    def shorter(self, back: float, through: float) -> BodyStyle:
        """The same body moving less: shares of a full swing's way from address, going back and coming down, and past
        impact; at impact the larger of both."""
        shares = np.array([0.0, *([back] * 6), max(back, through), through, through])
        values = {}
        for f in fields(self):
            if f.name in DOFS:
                full = np.array(getattr(self, f.name), dtype=float)
                values[f.name] = tuple(full[0] + shares * (full - full[0]))
        return replace(self, **values)  # type: ignore[arg-type]

    def table(self) -> Array:
        """(10, 13): moments by ``DOFS``."""
        return np.array([getattr(self, name) for name in DOFS], dtype=float).T


@dataclass(frozen=True)
class Trunk:
    """Pelvis, thorax and what is fixed to them, (n, …) in bay axes, m. ``r_pelvis`` in upright axes."""

    r_pelvis: Array
    pelvis_m: Array
    r_thorax: Array
    upper_m: Array
    """Midpoint of notch and C7."""
    lead_shoulder_m: Array
    trail_shoulder_m: Array
    lead_hip_m: Array
    trail_hip_m: Array


def _about(axis: int, angle_deg: Array) -> Array:
    angle = np.deg2rad(angle_deg)
    c, s = np.cos(angle), np.sin(angle)
    out = np.zeros((*angle.shape, 3, 3))
    out[..., axis, axis] = 1.0
    j, k = (axis + 1) % 3, (axis + 2) % 3
    out[..., j, j] = out[..., k, k] = c
    out[..., j, k], out[..., k, j] = -s, s
    return out


def tipped(forward_deg: Array, aside_deg: Array, turn_deg: Array) -> Array:
    """Rotations (n, 3, 3), bay from segment: tip about level axes, then turn (closed +) about the long axis."""
    return np.asarray(_about(0, aside_deg) @ _about(1, forward_deg) @ _about(2, -turn_deg))


def leg_span(anatomy: Anatomy, knee_deg: float) -> float:
    """Hip to ankle, m, at a knee flexion."""
    a, b = anatomy.thigh, anatomy.shank
    return float(np.sqrt(a * a + b * b + 2 * a * b * np.cos(np.deg2rad(knee_deg))))


HIPS_BEHIND_M = 0.025
"""How far the hips stand behind the ankles at address, so that the weight is on the middle of the feet."""


def address_pelvis(anatomy: Anatomy, bend_deg: float, knee_deg: float = 34.0) -> Array:
    """Pelvis origin (3,) at address, m: knees bent by ``knee_deg``, feet flat on the floor, hips a little behind the
    ankles."""
    hip = tipped(np.full(1, bend_deg), np.zeros(1), np.zeros(1))[0] @ HIP
    aside = anatomy.half_stance - HIP[1]
    down = np.sqrt(leg_span(anatomy, knee_deg) ** 2 - aside**2 - HIPS_BEHIND_M**2)
    return np.array([-hip[0] - HIPS_BEHIND_M, 0.0, anatomy.ankle_height + down - hip[2]])


def upright_lift_cm(anatomy: Anatomy, bend_deg: float) -> float:
    """Lift that straightens the legs (knees 4°) when the player stands up from address."""
    return 100 * float(address_pelvis(anatomy, 0.0, 4.0)[2] - address_pelvis(anatomy, bend_deg)[2])


def trunk(anatomy: Anatomy, dofs: Array, address: Array) -> Trunk:
    """Trunk geometry of ``dofs`` (n, 13) with the pelvis at ``address`` (3,) when nothing has moved."""
    d = {name: dofs[:, k] for k, name in enumerate(DOFS)}
    r_pelvis = tipped(d["pelvis_bend"], d["pelvis_side"], d["pelvis_turn"])
    pelvis = address + 0.01 * np.column_stack([d["thrust"], d["sway"], d["lift"]])
    spine = tipped(d["thorax_posture"], d["thorax_lean"], np.zeros(len(dofs)))
    r_thorax = tipped(d["thorax_posture"], d["thorax_lean"], d["thorax_turn"])
    tip = tipped(d["pelvis_bend"], d["pelvis_side"], np.zeros(len(dofs)))
    upper = pelvis + tip @ LUMBAR + spine[:, :, 2] * anatomy.spine
    joint = np.array([-0.010, anatomy.half_shoulders, -0.02 - anatomy.acromion_drop])
    return Trunk(
        r_pelvis,
        pelvis,
        r_thorax,
        upper,
        upper + r_thorax @ joint,
        upper + r_thorax @ mirrored(joint),
        pelvis + r_pelvis @ HIP,
        pelvis + r_pelvis @ mirrored(HIP),
    )
