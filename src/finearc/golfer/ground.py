"""How the model player stands on the ground: the forces under both feet that go with the body's motion.

Vertical force and centre of pressure follow from the centre of mass and its acceleration (an inverted pendulum:
``CoP = CoM - z / (g + z'') CoM''``). The slow part of the motion is taken for it; what trunk, arms and club add by
turning about the centre of mass is the style's ``press``. Both are nothing while the player stands still.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d

from finearc.core.typing import Array
from finearc.golfer.arm import STEP_S
from finearc.golfer.mass import body_mass_kg, centre_of_mass
from finearc.golfer.session import TrueSession
from finearc.golfer.trunk import DOFS
from finearc.golfer.whole import FLARE_DEG, WholeBody

G_M_S2 = 9.80665
SLOW_S, VERTICAL_S = 0.12, 0.07
"""Smoothing of the centre of mass, level and vertical (standard deviation of a Gaussian): house values."""
SHOE_LENGTH, SHOE_WIDTH = 0.300, 0.104
HEEL_BEHIND_ANKLE_M = 0.070
"""A shoe's sole for a player of 1.78 m, m; it grows with height."""
LEAST_SHARE = 0.03
OUTSIDE = 0.36
"""Farthest outward that the pressure of a whole sole can lie, as a share of its half width (house value)."""
SOLE_RANGE = 0.24, 0.76
"""How far along a sole its pressure can lie, as shares of the length (house values)."""


@dataclass(frozen=True)
class Sole:
    """One shoe on the ground: its heel (2,), m, the direction (2,) to its toes and outward (2,), length and width."""

    heel_m: Array
    ahead: Array
    outward: Array
    length_m: float
    width_m: float

    def place(self, along: Array, outward: Array) -> Array:
        """Bay places (n, 2), m, of shares along the sole (0 heel, 1 toes) and outward (-1 inner, 1 outer edge)."""
        return np.asarray(
            self.heel_m
            + along[:, None] * self.length_m * self.ahead
            + outward[:, None] * 0.5 * self.width_m * self.outward
        )


@dataclass(frozen=True)
class Ground:
    """Truth on the session's grid; lead foot first. ``force_n`` (n, 2), N; ``along`` and ``outward`` (n, 2): where in
    each sole the pressure is; ``feet_m`` (n, 2, 2) its places, m."""

    force_n: Array
    along: Array
    outward: Array
    feet_m: Array
    soles: tuple[Sole, Sole]
    weight_n: float

    @property
    def lead_share(self) -> Array:
        return np.asarray(self.force_n[:, 0] / self.force_n.sum(axis=1))

    @property
    def pressure_m(self) -> Array:
        """Centre of pressure of both feet (n, 2), m."""
        weighted = np.einsum("nf,nfk->nk", self.force_n, self.feet_m)
        return np.asarray(weighted / self.force_n.sum(axis=1, keepdims=True))


def soles_of(session: TrueSession, height_m: float) -> tuple[Sole, Sole]:
    """Both shoes as they stand at address, lead first."""
    k = height_m / 1.78
    out = []
    for side, sign in (("lead", 1.0), ("trail", -1.0)):
        flare = np.deg2rad(sign * FLARE_DEG[side])
        ahead = np.array([np.cos(flare), np.sin(flare)])
        outward = sign * np.array([-np.sin(flare), np.cos(flare)])
        ankle = np.array([0.0, sign * session.anatomy.half_stance])
        out.append(Sole(ankle - HEEL_BEHIND_ANKLE_M * k * ahead, ahead, outward, SHOE_LENGTH * k, SHOE_WIDTH * k))
    return out[0], out[1]


def asked_for(com_m: Array) -> tuple[Array, Array]:
    """Centre of pressure (n, 2), m, and vertical force over weight (n,) that a centre of mass (n, 3) asks for."""
    slow = gaussian_filter1d(com_m, SLOW_S / STEP_S, axis=0, mode="nearest")
    upright = gaussian_filter1d(com_m[:, 2], VERTICAL_S / STEP_S, mode="nearest")
    level = _second(slow[:, :2])
    up = _second(upright)
    down = G_M_S2 + _second(slow[:, 2])
    return slow[:, :2] - (slow[:, 2] / down)[:, None] * level, 1.0 + up / G_M_S2


def _second(values: Array) -> Array:
    return np.asarray(np.gradient(np.gradient(values, STEP_S, axis=0), STEP_S, axis=0))


def _softly(values: Array, low: float, high: float) -> Array:
    """Kept within limits without a corner: the same in the middle, bent near the ends."""
    middle, half = (low + high) / 2.0, (high - low) / 2.0
    u = (values - middle) / half
    bent = np.sign(u) * (0.7 + 0.3 * np.tanh((np.abs(u) - 0.7) / 0.3))
    return np.asarray(middle + half * np.where(np.abs(u) < 0.7, u, bent))


def ground_of(session: TrueSession, body: WholeBody, height_m: float = 1.78) -> Ground:
    """Forces under both feet of a whole session."""
    soles = soles_of(session, height_m)
    asked, lifted = asked_for(centre_of_mass(session, body))
    dofs = {name: session.dofs[:, k] for k, name in enumerate(DOFS)}
    wanted_y = asked[:, 1] + 0.01 * dofs["press"]
    along = np.repeat(_along(asked[:, 0], soles)[:, None], 2, axis=1)
    up = np.clip(2.0 * dofs["trail_heel"], 0.0, 1.0)
    along[:, 1] += up * np.maximum(0.74 - along[:, 1], 0.0)  # a heel that has let go carries nothing
    outward = np.column_stack([np.zeros(len(along)), OUTSIDE * dofs["outside"]])
    feet = np.stack([soles[f].place(along[:, f], outward[:, f]) for f in (0, 1)], axis=1)
    share = (wanted_y - feet[:, 1, 1]) / (feet[:, 0, 1] - feet[:, 1, 1])
    share = _softly(share, LEAST_SHARE, 1.0 - LEAST_SHARE)
    along[:, 0] = _rest_along(asked[:, 0], share, feet, soles[0], along[:, 0])
    feet[:, 0] = soles[0].place(along[:, 0], outward[:, 0])
    weight = G_M_S2 * body_mass_kg(height_m)
    total = weight * np.clip(lifted, 0.25, 2.2)
    return Ground(np.column_stack([share, 1.0 - share]) * total[:, None], along, outward, feet, soles, weight)


def _along(x_m: Array, soles: tuple[Sole, Sole]) -> Array:
    """Share along both soles at which the pressure is ``x_m`` ahead."""
    heel = (soles[0].heel_m[0] + soles[1].heel_m[0]) / 2.0
    reach = sum(s.length_m * s.ahead[0] for s in soles) / 2.0
    return _softly((x_m - heel) / reach, *SOLE_RANGE)


def _rest_along(x_m: Array, share: Array, feet: Array, lead: Sole, usual: Array) -> Array:
    """Where under the lead foot the pressure must be for both together to be ``x_m`` ahead."""
    needed = (x_m - (1.0 - share) * feet[:, 1, 0]) / share
    along = (needed - lead.heel_m[0]) / (lead.length_m * lead.ahead[0])
    weight = np.clip((share - 0.25) / 0.25, 0.0, 1.0)  # a foot that carries little cannot make up for the other
    return _softly(weight * along + (1.0 - weight) * usual, *SOLE_RANGE)
