"""The open walking recording through the pelvis, thorax and knee code, beside what its laboratory stored in the file.

The laboratory faces -y and stores, as points in mm, the axes of the pelvis (``PELO`` origin, ``PELA`` front, ``PELL``
left, ``PELP`` up) and as angles in degrees tilt, obliquity and rotation in this order (``R = Ry Rx Rz``, rotation with
the other sign), where ours are rotation, obliquity, tilt. Its thorax has our long axis, but looks forward from the
middle of C7 and T10 to the middle of notch and xiphoid; ours, after ISB, lies in the plane of notch and C7: about 1.1°
of rotation apart in this person. Its hip centres come from another regression, so knees differ by a constant.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.kinematics import segments as sg
from finearc.core.typing import Array
from finearc.formats.c3d_file import read_c3d

FILE = Path(__file__).resolve().parents[1] / "tests" / "data" / "gait-c3d" / "walk.c3d"
BAY_FROM_LAB = np.array([[0.0, -1.0, 0.0], [1.0, 0.0, 0.0], [0.0, 0.0, 1.0]])


class Walk:
    """Points (n, 3) in bay axes and stored angles (n, 3), deg, by the file's labels."""

    def __init__(self) -> None:
        table = read_c3d(FILE.name, FILE.read_bytes())
        self._points = dict(zip(table.labels, np.moveaxis(table.points_m, 1, 0), strict=True))

    def at(self, label: str) -> Array:
        return np.asarray(self._points[label] @ BAY_FROM_LAB.T)

    def middle(self, *labels: str) -> Array:
        return np.asarray(np.mean([self.at(k) for k in labels], axis=0))

    def angles_deg(self, label: str) -> Array:
        return 1000.0 * self._points[label]  # stored as if they were millimetres

    def pelvis(self) -> Array:
        return sg.pelvis_frame(*(self.at(k) for k in ("LASIS", "RASIS", "LPSIS", "RPSIS")))[0]

    def thorax(self) -> Array:
        return sg.thorax_frame(*(self.at(k) for k in ("C7", "T10", "JN", "XIPH")))[0]

    def stored_pelvis(self) -> Array:
        origin = self.at("PELO")
        return np.stack([sg.units(self.at(k) - origin) for k in ("PELA", "PELL", "PELP")], axis=2)

    def thorax_as_stored(self) -> Array:
        """Our long axis with the laboratory's forward direction."""
        z = self.thorax()[:, :, 2]
        x = sg.across(self.middle("JN", "XIPH") - self.middle("C7", "T10"), z)
        return np.stack([x, sg.cross(z, x), z], axis=2)

    def knee_deg(self, side: str) -> Array:
        hips = sg.hip_centres(self.pelvis(), *(self.at(k) for k in ("LASIS", "RASIS", "LPSIS", "RPSIS")))
        knee, ankle = self.middle(f"{side}LEK", f"{side}MEK"), self.middle(f"{side}LM", f"{side}MM")
        return np.rad2deg(sg.bend_between(hips[0 if side == "L" else 1], knee, ankle))


def rms(values: Array) -> float:
    return float(np.sqrt(np.mean(np.square(values))))


def tilt_obliquity_rotation(r: Array) -> Array:
    """The laboratory's angles (n, 3), deg, by SciPy."""
    about_y, about_x, about_z = Rotation.from_matrix(r).as_euler("YXZ", degrees=True).T
    return np.stack([about_y, about_x, -about_z], axis=1)


def compared() -> dict[str, float]:
    """RMS differences, deg; knees after their mean is taken away, the mean beside them."""
    walk = Walk()
    away = Rotation.from_matrix(np.swapaxes(walk.stored_pelvis(), 1, 2) @ walk.pelvis()).magnitude()
    out = {"pelvis frame": rms(np.rad2deg(away))}
    for name, r in (("Pelvis", walk.pelvis()), ("Thorax", walk.thorax_as_stored())):
        error = tilt_obliquity_rotation(r) - walk.angles_deg(f"L{name}Angles")
        for k, what in enumerate(("tilt", "obliquity", "rotation")):
            out[f"{name.lower()} {what}"] = rms(error[:, k])
    for side in ("L", "R"):
        error = walk.knee_deg(side) - walk.angles_deg(f"{side}KneeAngles")[:, 0]
        out[f"knee {side}, offset"], out[f"knee {side}"] = float(error.mean()), float(error.std())
    return out
