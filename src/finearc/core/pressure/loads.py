"""What the ground carries over a window: force under each foot and where it acts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.pressure.clean import MatMotion
from finearc.core.pressure.feet import Feet
from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array, Mask

N_PER_KPA_M2 = 1000.0
LOADS_HZ = 20.0
"""Cut-off for forces and their moments: a push on the ground is slower (house value)."""
LEAST_SHARE = 0.04
"""A foot with less than this share has no centre of pressure worth the name (house value)."""


@dataclass(frozen=True)
class Loads:
    """``force_n`` (n, 2), N, lead foot first; ``feet_m`` (n, 2, 2) where it acts under each foot, not a number where a
    foot carries next to nothing; ``both_m`` (n, 2) for both feet; bay axes, m. ``valid`` (n,): no gap."""

    time_s: Array
    force_n: Array
    feet_m: Array
    both_m: Array
    valid: Mask

    @property
    def total_n(self) -> Array:
        """Vertical force (n,), N, of both feet."""
        return np.asarray(self.force_n.sum(axis=1))

    @property
    def lead_share(self) -> Array:
        """The lead foot's share (n,) of the vertical force, 0 to 1."""
        return np.asarray(self.force_n[:, 0] / np.maximum(self.total_n, 1.0))

    @property
    def step_s(self) -> float:
        return float(self.time_s[-1] - self.time_s[0]) / max(len(self.time_s) - 1, 1)


def loads_of(time_s: Array, force_n: Array, moment_nm: Array, valid: Mask) -> Loads:
    """Loads of vertical forces (n, 2), N, and their first moments (n, 2, 2), N m: where forces act is their quotient,
    taken after filtering both."""
    rate = (len(time_s) - 1) / max(float(time_s[-1] - time_s[0]), 1e-9)
    flat = low_pass(np.concatenate([force_n, moment_nm.reshape(len(time_s), 4)], axis=1), LOADS_HZ, rate)
    force, moment = np.maximum(flat[:, :2], 0.0), flat[:, 2:].reshape(-1, 2, 2)
    total = force.sum(axis=1)
    floor = np.maximum(total, 1.0)[:, None]
    both = moment.sum(axis=1) / floor
    carries = force > LEAST_SHARE * floor
    feet = np.where(carries[..., None], moment / np.maximum(force, 1e-6)[..., None], np.nan)
    return Loads(time_s, force, feet, both, valid)


def load_weights(mat: MatMotion, feet: Feet) -> Array:
    """Weights (cells, 6) whose sums with pressure are force and first moments of the lead foot, then of the trail foot.
    What lies outside both feet does not count."""
    places = mat.stream.grid.places_m
    side = places[:, 1] > feet.split_m
    wanted = []
    for foot, own in ((feet.lead, side), (feet.trail, ~side)):
        cells = (foot.cells & own).astype(np.float64) if foot is not None else np.zeros(len(places))
        wanted += [cells, cells * places[:, 0], cells * places[:, 1]]
    return np.column_stack(wanted) * (mat.stream.grid.cell_area_m2 * N_PER_KPA_M2)


def loads_of_sums(time_s: Array, sums: Array, valid: Mask) -> Loads:
    """Loads of the sums (n, 6) that ``load_weights`` make."""
    return loads_of(time_s, sums[:, [0, 3]], np.stack([sums[:, 1:3], sums[:, 4:6]], axis=1), valid)


def mat_loads(mat: MatMotion, feet: Feet, window: slice) -> Loads:
    """Loads of a window of a mat's recording."""
    return loads_of_sums(mat.time_s[window], mat.sums(load_weights(mat, feet), window), mat.valid[window])
