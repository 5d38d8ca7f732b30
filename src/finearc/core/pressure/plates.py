"""Force plates: where the force acts on each, and both as what a mat would have said."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.pressure.loads import Loads, loads_of
from finearc.core.typing import Array, Mask

LEAST_N = 10.0
"""A plate that carries less has no centre of pressure (common practice)."""


@dataclass(frozen=True)
class ForcePlate:
    """One plate's recording in its own axes, as C3D describes it (type 2): ``force_n`` and ``moment_nm`` (n, 3), of
    what stands on it upon the plate, about a point ``origin_m`` (3,) that is given from the middle of its surface;
    ``corners_m`` (4, 3) in the laboratory's axes, in the order +x+y, -x+y, -x-y, +x-y."""

    force_n: Array
    moment_nm: Array
    corners_m: Array
    origin_m: Array

    @property
    def axes(self) -> Array:
        """Laboratory from plate (3, 3): columns along the plate's own x, y, z."""
        x = self.corners_m[0] - self.corners_m[1]
        y = self.corners_m[0] - self.corners_m[3]
        x = x / np.linalg.norm(x)
        z = np.cross(x, y)
        z = z / np.linalg.norm(z)
        return np.column_stack([x, np.cross(z, x), z])


def centre_of_pressure(plate: ForcePlate) -> Array:
    """Where the force acts (n, 3), m, laboratory axes, on the plate's surface; not a number where it carries nothing.

    From the moment about the surface's middle: ``x = -M_y / F_z``, ``y = M_x / F_z`` (the convention of the C3D user
    guide for plates of type 2)."""
    moment = plate.moment_nm + np.cross(np.broadcast_to(plate.origin_m, plate.force_n.shape), plate.force_n)
    force_z = plate.force_n[:, 2]
    carries = np.abs(force_z) > LEAST_N
    safe = np.where(carries, force_z, 1.0)
    local = np.column_stack([-moment[:, 1] / safe, moment[:, 0] / safe, np.zeros(len(safe))])
    out = plate.corners_m.mean(axis=0) + local @ plate.axes.T
    return np.asarray(np.where(carries[:, None], out, np.nan))


@dataclass(frozen=True)
class PlateMotion:
    """Two plates, the lead foot's first, in bay axes: ``load_n`` (n, 2) pressing down, ``places_m`` (n, 2, 2)."""

    time_s: Array
    load_n: Array
    places_m: Array
    source: str

    @property
    def valid(self) -> Mask:
        return np.ones(len(self.time_s), dtype=bool)

    def loads(self, window: slice) -> Loads:
        """Loads of a window."""
        force = np.where(np.isfinite(self.places_m[window]).all(axis=2), self.load_n[window], 0.0)
        moment = force[..., None] * np.nan_to_num(self.places_m[window])
        return loads_of(self.time_s[window], force, moment, self.valid[window])


@dataclass(frozen=True)
class PlateStream:
    """The plates of one file and their sampling times (n,), s, on the capture's clock."""

    time_s: Array
    plates: tuple[ForcePlate, ...]
    source: str


def read_plates(stream: PlateStream, bay_from_lab: Array) -> PlateMotion | None:
    """The two plates that carry a foot each, the one nearer the target as the lead foot's; None when there are not
    two that carry anything."""
    known = []
    for plate in stream.plates:
        lab_force = plate.force_n @ plate.axes.T
        load = np.abs((lab_force @ bay_from_lab.T)[:, 2])
        if np.percentile(load, 75) > LEAST_N * 5:
            places = centre_of_pressure(plate) @ bay_from_lab.T
            known.append((float((bay_from_lab @ plate.corners_m.mean(axis=0))[1]), load, places[:, :2]))
    if len(known) != 2:
        return None
    known.sort(key=lambda k: -k[0])
    return PlateMotion(
        stream.time_s,
        np.column_stack([k[1] for k in known]),
        np.stack([k[2] for k in known], axis=1),
        stream.source,
    )
