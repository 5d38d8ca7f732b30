"""True values of the body's measures, computed with SciPy from the model's own segments, not with the core's code.

Keys are those of the result; angles in rad, lengths in m, relative to the true address of each swing where the
measure is a displacement.
"""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from finearc.core.typing import Array
from finearc.golfer.session import TrueEvents, TrueSession
from finearc.golfer.whole import Limb, WholeBody


def true_angles(session: TrueSession, body: WholeBody) -> dict[str, Array]:
    """Measures that need no address (n,), rad; pelvis and thorax bends count from the upright pose."""
    out: dict[str, Array] = {}
    for name, r in (("pelvis", session.trunk.r_pelvis), ("thorax", session.trunk.r_thorax)):
        z, x, y = Rotation.from_matrix(r).as_euler("ZXY").T
        out[f"{name}_turn"], out[f"{name}_side_bend"], out[f"{name}_forward_bend"] = np.unwrap(-z), x, y
    drop = session.trunk.r_thorax[:, :, 2] * session.anatomy.acromion_drop
    line = (body.lead_arm.top_m + drop) - (body.trail_arm.top_m + drop)
    out["shoulder_line_turn"] = np.unwrap(np.arctan2(line[:, 0], line[:, 1]))
    out["separation"] = out["thorax_turn"] - out["pelvis_turn"]
    spine = session.trunk.upper_m - body.pelvis_m
    out["spine_lean"] = np.arctan2(-spine[:, 1], spine[:, 2])
    out["posture_from_ground"] = np.pi / 2 - np.arctan2(spine[:, 0], spine[:, 2])
    for name, limb in (
        ("lead_knee_flexion", body.lead_leg),
        ("trail_knee_flexion", body.trail_leg),
        ("lead_elbow_flexion", body.lead_arm),
        ("trail_elbow_flexion", body.trail_arm),
    ):
        out[name] = _bend(limb)
    shaft = session.r_bay_from_club[:, :, 0]
    out["lag"] = np.arccos(np.clip(np.sum(session.r_bay_from_forearm[:, :, 0] * shaft, axis=1), -1.0, 1.0))
    out["lead_wrist_extension"], out["lead_wrist_radial_deviation"] = session.extension, session.deviation
    out["shaft_elevation"] = session.shaft_elevation
    return out


def _bend(limb: Limb) -> Array:
    upper, lower = limb.middle_m - limb.top_m, limb.end_m - limb.middle_m
    cosine = np.sum(upper * lower, axis=1) / np.linalg.norm(upper, axis=1) / np.linalg.norm(lower, axis=1)
    return np.asarray(np.arccos(np.clip(cosine, -1.0, 1.0)))


def true_travel(session: TrueSession, body: WholeBody, swing: TrueEvents) -> dict[str, Array]:
    """Displacements (n,) since the address of ``swing``, m."""
    at = round(swing.times_s["address"] * 1000)
    thorax = session.trunk.upper_m - 0.095 * session.trunk.r_thorax[:, :, 2]
    out: dict[str, Array] = {}
    for name, place in (("pelvis", body.pelvis_m), ("thorax", thorax), ("head", _mid_head(body))):
        moved = place - place[at]
        for axis, what in ((1, "sway"), (0, "thrust"), (2, "lift")):
            out[f"{name}_{what}"] = moved[:, axis]
    return out


def _mid_head(body: WholeBody) -> Array:
    """Mean place of the four head markers."""
    return np.asarray(body.head_m + body.r_head @ np.array([-0.005, 0.0, 0.055]))
