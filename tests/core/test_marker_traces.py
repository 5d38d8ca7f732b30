"""The body's traces from made-up poses: a few segments and joints placed by hand, with angles and ways known from plain
geometry. (Whole golfers with markers: ``test_body.py``, ``test_metric_truth.py``.)"""

from __future__ import annotations

import numpy as np
import pytest

from finearc.core.kinematics.body import BodyPose, Frame
from finearc.core.markers.labels import Marker
from finearc.core.metrics import registry as m
from finearc.core.metrics.body import DEG, HIP_WIDTH_M, Upright, marker_traces

N, STEP = 60, 1 / 240
ADDRESS, IMPACT = slice(0, 11), 40
SIDES = ("lead", "trail")


def still(*place: float) -> np.ndarray:
    return np.tile(np.array(place, dtype=float), (N, 1))


def moved(start, by) -> np.ndarray:
    """At ``start`` through the address, ``by`` farther at the end."""
    share = np.clip((np.arange(N) - 10) / (N - 11), 0.0, 1.0)[:, None]
    return np.asarray(start, dtype=float) + share * np.asarray(by, dtype=float)


def about(axis: int, angle_deg: float) -> np.ndarray:
    a, b = [k for k in range(3) if k != axis]
    if axis == 1:
        a, b = b, a
    c, s = np.cos(np.deg2rad(angle_deg)), np.sin(np.deg2rad(angle_deg))
    r = np.eye(3)
    r[a, a], r[a, b], r[b, a], r[b, b] = c, -s, s, c
    return np.tile(r, (N, 1, 1))


def frame(r=None, origin=None) -> Frame:
    return Frame(np.tile(np.eye(3), (N, 1, 1)) if r is None else r, still(0, 0, 1) if origin is None else origin)


def traces(frames=None, joints=None, points=None, upright=None, address=ADDRESS, impact=IMPACT) -> dict:
    pose = BodyPose(N, frames or {}, joints or {}, points or {})
    return {t.metric: t for t in marker_traces(pose, address, impact, upright, STEP)}


def deg(values) -> np.ndarray:
    return np.rad2deg(values)


def everything() -> dict:
    """Every trace there is, at budget."""
    axes = {f"{side}_{part}": frame() for side in SIDES for part in ("forearm", "hand")}
    joints = {
        f"{s}_{j}": still(0.01 * k, 0.2 if s == "lead" else -0.2, 0.1 * k)
        for s in SIDES
        for k, j in enumerate(("ankle", "knee", "hip", "shoulder", "elbow", "wrist"), 1)
    }
    joints["upper"] = still(0.2, 0, 1.4)
    points = {p: still(0.1 * k, 0.03 * k * k, 0.02) for k, p in enumerate(Marker)}
    return traces(
        {"pelvis": frame(), "thorax": frame(), "head": frame(), "club": frame(), **axes}, joints, points, Upright(0, 0)
    )


BUDGET = {
    m.PELVIS_TURN: (0.2, 1.2),
    m.THORAX_TURN: (0.2, 1.2),
    m.PELVIS_SIDE_BEND: (0.2, 1.2),
    m.THORAX_SIDE_BEND: (0.2, 1.2),
    m.PELVIS_FORWARD_BEND: (0.2, 1.5),
    m.THORAX_FORWARD_BEND: (0.2, 1.5),
    m.SEPARATION: (0.3, 1.7),
    m.SHOULDER_LINE_TURN: (0.2, 1.5),
    m.SPINE_LEAN: (0.15, 1.0),
    m.POSTURE_FROM_GROUND: (0.15, 1.5),
    m.LEAD_KNEE_FLEXION: (0.5, 4.0),
    m.TRAIL_KNEE_FLEXION: (0.5, 4.0),
    m.LEAD_FOOT_FLARE: (0.3, 2.0),
    m.TRAIL_FOOT_FLARE: (0.3, 2.0),
    m.LEAD_ELBOW_FLEXION: (0.6, 3.0),
    m.TRAIL_ELBOW_FLEXION: (0.6, 3.0),
    m.LEAD_WRIST_EXTENSION: (0.8, 4.0),
    m.LEAD_WRIST_DEVIATION: (0.8, 4.0),
    m.TRAIL_WRIST_EXTENSION: (0.8, 4.0),
    m.TRAIL_WRIST_DEVIATION: (0.8, 4.0),
    m.HAND_ROLL: (3.5, 0.0),
    m.FOREARM_PRONATION: (1.0, 5.0),
    m.LEAD_ARM_RATE: (8.0, 0.0),
    m.HAND_RATE: (8.0, 0.0),
    m.HEAD_TURN: (0.3, 2.0),
    m.SHAFT_ELEVATION: (0.3, 0.3),
    m.SHAFT_HEADING: (0.4, 0.5),
    m.CLUB_RATE: (10.0, 0.0),
    m.FACE_ELEVATION: (1.0, 1.5),
    m.LAG: (0.5, 1.5),
}
"""Standard uncertainty of angles from markers that a trained hand placed, in degrees (deg/s for rates): of a sample, and
what all of a swing have in common. House values; a change of one is a change of what is said to be known."""
LENGTHS = {
    m.PELVIS_SWAY: (1, 0),
    m.PELVIS_THRUST: (1, 0),
    m.PELVIS_LIFT: (1, 0),
    m.THORAX_SWAY: (1, 0),
    m.THORAX_THRUST: (1, 0),
    m.THORAX_LIFT: (1, 0),
    m.HEAD_SWAY: (1, 0),
    m.HEAD_THRUST: (1, 0),
    m.HEAD_LIFT: (1, 0),
    m.LEAD_HIP_DEPTH: (3, 0),
    m.TRAIL_HIP_DEPTH: (3, 0),
    m.LEAD_HIP_OVERHANG: (2, 15),
    m.HIPS_OVER_ANKLES: (2, 12),
    m.KNEE_GAP: (2, 5),
    m.STANCE_WIDTH: (1, 5),
    m.HANDS_LIFT: (2, 0),
    m.HANDS_OUT: (3, 0),
}
"""The same of lengths, in mm."""


def test_the_uncertainty_of_every_trace_is_the_one_that_was_decided():
    found = everything()
    for metric, (own, common) in BUDGET.items():
        assert (found[metric].base_sd / DEG, found[metric].common_sd / DEG) == pytest.approx((own, common)), metric.id
    for metric, (own, common) in LENGTHS.items():
        assert (1000 * found[metric].base_sd, 1000 * found[metric].common_sd) == pytest.approx((own, common)), metric.id
    assert found[m.ELBOW_GAP].base_sd == 0.01
    assert set(found) == {*BUDGET, *LENGTHS, m.ELBOW_GAP}


def test_bends_without_an_upright_pose_say_that_they_are_absolute_and_are_less_sure():
    found = traces({"pelvis": frame(), "thorax": frame()})
    for metric in (m.PELVIS_FORWARD_BEND, m.THORAX_FORWARD_BEND):
        assert found[metric].common_sd == pytest.approx(4.0 * DEG)
        assert found[metric].note.startswith("absolute")
    assert found[m.PELVIS_TURN].note == ""
    counted = traces({"pelvis": frame(about(1, 30.0))}, upright=Upright(10 * DEG, 0.0))
    absolute = traces({"pelvis": frame(about(1, 30.0))})
    assert deg(absolute[m.PELVIS_FORWARD_BEND].values)[0] == pytest.approx(30.0)
    assert deg(counted[m.PELVIS_FORWARD_BEND].values)[0] == pytest.approx(20.0)
    assert counted[m.PELVIS_FORWARD_BEND].note == ""


def test_separation_is_how_much_farther_the_thorax_has_turned():
    found = traces({"pelvis": frame(about(2, 40.0)), "thorax": frame(about(2, 90.0))})
    pelvis, thorax = deg(found[m.PELVIS_TURN].values)[0], deg(found[m.THORAX_TURN].values)[0]
    assert abs(pelvis) == pytest.approx(40.0)
    assert deg(found[m.SEPARATION].values)[0] == pytest.approx(thorax - pelvis)
    assert abs(thorax - pelvis) == pytest.approx(50.0)
    assert m.SEPARATION not in traces({"pelvis": frame()})


def test_the_spine_leans_away_from_the_target_and_bends_over_the_ball():
    """Bay axes: x to the ball, y to the target, z up."""
    found = traces({"pelvis": frame(origin=still(0, 0, 1))}, {"upper": still(0.5, -0.1, 1.5)})
    assert deg(found[m.SPINE_LEAN].values)[0] == pytest.approx(np.rad2deg(np.arctan(0.2)))
    assert deg(found[m.POSTURE_FROM_GROUND].values)[0] == pytest.approx(45.0)
    straight = traces({"pelvis": frame(origin=still(0, 0, 1))}, {"upper": still(0, 0.1, 1.5)})
    assert deg(straight[m.POSTURE_FROM_GROUND].values)[0] == pytest.approx(90.0)
    assert deg(straight[m.SPINE_LEAN].values)[0] < 0


@pytest.mark.parametrize("part", ["pelvis", "thorax", "head"])
def test_travel_counts_from_address_along_three_axes(part):
    found = traces({part: frame(origin=moved((0.3, -0.2, 1.0), (0.04, 0.09, -0.02)))})
    for name, cm in (("THRUST", 4.0), ("SWAY", 9.0), ("LIFT", -2.0)):
        course = 100 * found[getattr(m, f"{part.upper()}_{name}")].values
        assert course[:11] == pytest.approx(0.0)
        assert course[-1] == pytest.approx(cm)


def test_without_an_address_nothing_counts_from_it():
    found = traces(
        {"pelvis": frame()}, {"lead_elbow": still(0, 0, 0), "trail_elbow": still(0, 0.1, 0)}, address=slice(0, 0)
    )
    assert np.isnan(found[m.PELVIS_SWAY].values).all()
    assert m.ELBOW_GAP not in found


def hips(**more) -> dict:
    joints = {
        "lead_hip": moved((0.0, 0.10, 0.9), (0.06, 0, 0)),
        "trail_hip": moved((0.02, -0.10, 0.9), (-0.03, 0, 0)),
        "lead_ankle": still(0.05, 0.24, 0.1),
        "trail_ankle": still(0.03, -0.26, 0.1),
    }
    return traces({}, {**joints, **more.get("joints", {})}, more.get("points"))


def test_hips_count_from_address_their_place_from_ankles_and_foot():
    found = hips(points={Marker.LEAD_HEEL: still(0, 0.20, 0), Marker.LEAD_TOE: still(0, 0.26, 0)})
    assert 100 * found[m.LEAD_HIP_DEPTH].values[-1] == pytest.approx(6.0)
    assert 100 * found[m.TRAIL_HIP_DEPTH].values[-1] == pytest.approx(-3.0)
    assert 100 * found[m.HIPS_OVER_ANKLES].values[0] == pytest.approx(1.0 - 4.0)
    assert 100 * found[m.STANCE_WIDTH].values[0] == pytest.approx(50.0)
    # 10 cm and half a hip's width, against a foot whose outer edge lies 26 cm out
    assert found[m.LEAD_HIP_OVERHANG].values[0] == pytest.approx(0.10 + HIP_WIDTH_M - 0.26)
    assert pytest.approx(0.095) == HIP_WIDTH_M


def test_one_marker_is_not_the_outline_of_a_foot():
    assert m.LEAD_HIP_OVERHANG not in hips(points={Marker.LEAD_HEEL: still(0, 0.2, 0)})


@pytest.mark.parametrize(("side", "out"), [("LEAD", 1.0), ("TRAIL", -1.0)])
def test_a_foot_flares_outward_on_its_own_side(side, out):
    points = {
        Marker[f"{side}_HEEL"]: still(0, 0, 0),
        Marker[f"{side}_TOE"]: still(0.2, out * 0.2 * np.tan(25 * DEG), 0),
    }
    assert deg(traces({}, {}, points)[getattr(m, f"{side}_FOOT_FLARE")].values)[0] == pytest.approx(25.0)


@pytest.mark.parametrize("side", SIDES)
def test_a_knee_is_straight_at_0_and_square_at_90(side):
    heights = (("hip", 0.9), ("knee", 0.5), ("ankle", 0.1))
    straight = {f"{s}_{j}": still(0, 0, z) for s in SIDES for j, z in heights}
    square = {**straight, f"{side}_ankle": still(-0.4, 0, 0.5)}
    metric = getattr(m, f"{side.upper()}_KNEE_FLEXION")
    assert deg(traces({}, straight)[metric].values)[0] == pytest.approx(0.0, abs=1e-5)
    assert deg(traces({}, square)[metric].values)[0] == pytest.approx(90.0)
    assert metric not in traces({}, {k: v for k, v in straight.items() if k != f"{side}_knee"})


def test_the_knees_gap_is_how_far_one_is_ahead_of_the_other():
    joints = {"lead_knee": still(0.05, 0.2, 0.5), "trail_knee": still(0.12, -0.2, 0.5)}
    assert 100 * traces({}, joints)[m.KNEE_GAP].values[0] == pytest.approx(7.0)


def test_the_elbows_gap_is_told_in_that_of_address():
    joints = {"lead_elbow": moved((0, 0.1, 1), (0, 0.05, 0)), "trail_elbow": moved((0, -0.1, 1), (0, -0.05, 0))}
    gap = traces({}, joints)[m.ELBOW_GAP].values
    assert (gap[0], gap[-1]) == pytest.approx((1.0, 1.5))


def test_hands_lift_by_themselves_and_go_out_from_the_pelvis():
    joints = {s + "_wrist": moved((0.4, 0, 0.8), (0.10, 0, 0.30)) for s in SIDES}
    found = traces({"pelvis": frame(origin=moved((0, 0, 1), (0.04, 0, 0)))}, joints)
    assert 100 * found[m.HANDS_LIFT].values[-1] == pytest.approx(30.0)
    assert 100 * found[m.HANDS_OUT].values[-1] == pytest.approx(6.0)
    assert m.HANDS_OUT not in traces({}, joints)


def club(directions: np.ndarray) -> Frame:
    """A club whose shaft points along unit vectors (n, 3)."""
    r = np.zeros((N, 3, 3))
    r[:, :, 0] = directions / np.linalg.norm(directions, axis=1)[:, None]
    return Frame(r, still(0, 0, 1))


def test_the_shaft_is_level_at_0_and_its_heading_is_told_along_the_way_it_points():
    back = club(still(0.1, -1.0, 0.0))  # pointing away from the target, a little toward the ball
    found = traces({"club": back})
    assert deg(found[m.SHAFT_ELEVATION].values)[0] == pytest.approx(0.0, abs=1e-9)
    assert deg(found[m.SHAFT_HEADING].values[[0, IMPACT]]) == pytest.approx(np.rad2deg(np.arctan(0.1)))
    through = traces({"club": club(still(0.1, 1.0, 1.0))})
    assert deg(through[m.SHAFT_HEADING].values[IMPACT + 1]) == pytest.approx(np.rad2deg(np.arctan(0.1)))
    assert deg(through[m.SHAFT_ELEVATION].values[0]) == pytest.approx(np.rad2deg(np.arctan2(1.0, np.hypot(0.1, 1.0))))


def test_the_clubs_rate_is_taken_on_either_side_of_the_strike():
    """20 rad/s before, 12 rad/s from the strike on: no sample is a mixture of both."""
    angle = np.where(np.arange(N) <= IMPACT, 20.0, 0.0) * STEP * np.arange(N)
    angle[IMPACT + 1 :] = angle[IMPACT] + 12.0 * STEP * np.arange(1, N - IMPACT)
    swung = club(np.column_stack([np.zeros(N), np.cos(angle), np.sin(angle)]))
    rate = traces({"club": swung})[m.CLUB_RATE].values
    assert rate[: IMPACT + 1] == pytest.approx(20.0, rel=2e-3)
    assert rate[IMPACT + 1 :] == pytest.approx(12.0, rel=2e-3)
    late = traces({"club": swung}, impact=N - 2)[m.CLUB_RATE].values
    assert late[-1] == 0.0  # one sample tells no rate


@pytest.mark.parametrize("angle", [0.0, 75.0, 120.0])
def test_lag_is_the_angle_between_forearm_and_shaft(angle):
    forearm = frame()  # its long axis is x
    shaft = still(np.cos(angle * DEG), 0.0, np.sin(angle * DEG))
    lag = traces(
        {"club": club(shaft), "lead_forearm": forearm},
        points={Marker.LEAD_ELBOW_LATERAL: still(0, 0.05, 0), Marker.LEAD_ELBOW_MEDIAL: still(0, -0.05, 0)},
    )[m.LAG]
    assert deg(lag.values)[0] == pytest.approx(angle, abs=1e-6)


def test_the_arms_rate_is_that_of_the_forearms_long_axis():
    angle = 3.0 * STEP * np.arange(N)
    r = np.tile(np.eye(3), (N, 1, 1))
    r[:, 0, 0], r[:, 1, 0] = np.cos(angle), np.sin(angle)
    r[:, 0, 1], r[:, 1, 1] = -np.sin(angle), np.cos(angle)
    elbow = {Marker.LEAD_ELBOW_LATERAL: still(0, 0.05, 0), Marker.LEAD_ELBOW_MEDIAL: still(0, -0.05, 0)}
    assert traces({"lead_forearm": frame(r)}, points=elbow)[m.LEAD_ARM_RATE].values == pytest.approx(3.0, rel=1e-3)
