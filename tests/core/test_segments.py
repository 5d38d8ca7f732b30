"""Segment frames and angles: hand-worked cases, SciPy, and an open walking recording."""

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy.spatial.transform import Rotation
from validation.walking import compared

from finearc.core.kinematics import segments as sg
from finearc.core.kinematics.body import body_pose, untilted
from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.markers.labels import Marker

ANGLE = st.floats(-1.2, 1.2)


def row(*v):
    return np.array([v], dtype=float)


def deg(values):
    return np.rad2deg(np.array([float(v[0]) for v in values]))


# ISB landmarks, worked by hand: a pelvis 24 cm wide and 18 cm deep, level, facing the ball (Wu et al., J Biomech 35:543,
# 2002, axes renamed)
def test_a_level_pelvis_facing_the_ball_has_the_bays_axes():
    r, origin = sg.pelvis_frame(row(0.09, 0.12, 1), row(0.09, -0.12, 1), row(-0.09, 0.04, 1), row(-0.09, -0.04, 1))
    assert r[0] == pytest.approx(np.eye(3))
    assert origin[0] == pytest.approx([0, 0, 1])


def test_the_pelvis_line_decides_and_the_back_markers_only_tip_it():
    # the trail front spine 3 cm lower over 24 cm: side bend asin(3 / 24) about the forward axis
    r, _ = sg.pelvis_frame(row(0.09, 0.12, 1.0), row(0.09, -0.12, 0.97), row(-0.09, 0.04, 1), row(-0.09, -0.04, 0.97))
    turn, side, _ = deg(sg.turn_side_forward(r))
    assert turn == pytest.approx(0, abs=1e-9)
    assert side == pytest.approx(np.rad2deg(np.arctan2(0.03, 0.24)), abs=0.01)


def test_the_thorax_after_isb_lies_in_the_plane_of_notch_and_c7():
    # upper middle straight above the lower one; xiphoid and T10 twisted about it must not turn the frame
    r, _ = sg.thorax_frame(row(-0.07, 0, 1.4), row(-0.1, 0.02, 1.1), row(0.07, 0, 1.4), row(0.1, -0.02, 1.1))
    assert r[0] == pytest.approx(np.eye(3), abs=1e-12)


@pytest.mark.parametrize(
    ("psi", "phi", "theta", "expected"),
    [
        (-90, 0, 0, (90, 0, 0)),  # turned away from the target: closed
        (40, 0, 0, (-40, 0, 0)),  # toward it: open
        (0, 10, 0, (0, 10, 0)),  # trail end lower
        (0, 0, 20, (0, 0, 20)),  # forward
        (-45, 12, 30, (45, 12, 30)),
    ],
)
def test_each_plain_movement_has_its_sign(psi, phi, theta, expected):
    r = Rotation.from_euler("ZXY", [psi, phi, theta], degrees=True).as_matrix()[None]
    assert deg(sg.turn_side_forward(r)) == pytest.approx(expected, abs=1e-9)


@given(ANGLE, ANGLE, ANGLE)
def test_angles_equal_scipys_and_give_the_rotation_back(psi, phi, theta):
    r = Rotation.from_euler("ZXY", [psi, phi, theta]).as_matrix()[None]
    turn, side, forward = (float(v[0]) for v in sg.turn_side_forward(r))
    assert (-turn, side, forward) == pytest.approx((psi, phi, theta), abs=1e-9)
    assert Rotation.from_euler("ZXY", [-turn, side, forward]).as_matrix() == pytest.approx(r[0], abs=1e-9)


# Baker's sequence by a hand-worked case: a thorax bent 36° forward that turns 88° about its own long axis
def test_a_perfect_turn_takes_the_forward_bend_with_it():
    tipped = Rotation.from_euler("Y", 36, degrees=True)
    r = (tipped * Rotation.from_euler("Z", -88, degrees=True)).as_matrix()[None]
    turn, side, forward = deg(sg.turn_side_forward(r))
    assert forward == pytest.approx(np.rad2deg(np.arctan(np.tan(np.deg2rad(36)) * np.cos(np.deg2rad(88)))), abs=0.1)
    assert forward == pytest.approx(1.4, abs=0.1)
    assert abs(side) == pytest.approx(36, abs=0.1)
    tip, spin = np.deg2rad([36, 88])
    assert turn == pytest.approx(np.rad2deg(np.arctan2(np.cos(tip) * np.sin(spin), np.cos(spin))), abs=1e-6)


def test_a_45_degree_pelvis_turn_at_20_degrees_takes_its_bend_down_by_6():
    r = (Rotation.from_euler("Y", 20, degrees=True) * Rotation.from_euler("Z", -45, degrees=True)).as_matrix()[None]
    assert deg(sg.turn_side_forward(r))[2] == pytest.approx(20 - 5.6, abs=0.3)


def test_turn_goes_on_past_half_a_turn():
    r = Rotation.from_euler("Z", -np.linspace(0, 260, 60)[:, None], degrees=True).as_matrix()
    assert np.rad2deg(sg.turn_side_forward(r)[0]) == pytest.approx(np.linspace(0, 260, 60))


def test_hidden_frames_stay_hidden_and_break_nothing():
    r = Rotation.from_euler("Z", -np.linspace(0, 60, 7)[:, None], degrees=True).as_matrix()
    r[3] = np.nan
    turn = np.rad2deg(sg.turn_side_forward(r)[0])
    assert np.isnan(turn[3])
    assert turn[6] == pytest.approx(60)


def test_counting_from_the_upright_pose_takes_its_tilt_away():
    r = Rotation.from_euler("ZXY", [-30, 5, 28], degrees=True).as_matrix()[None]
    assert deg(sg.turn_side_forward(untilted(r, np.deg2rad(8)))) == pytest.approx((30, 5, 20), abs=1e-9)


# Harrington et al., J Biomech 40:595, 2007 (coefficients from memory), worked by hand for 240 mm width, 180 mm depth
def test_hip_centres_of_a_worked_pelvis():
    points = [row(0.09, 0.12, 1), row(0.09, -0.12, 1), row(-0.09, 0.04, 1), row(-0.09, -0.04, 1)]
    lead, trail = sg.hip_centres(np.eye(3)[None], *points)
    assert lead[0] == pytest.approx([0.09 - (0.24 * 0.18 + 0.0099), 0.33 * 0.24 + 0.0073, 1 - (0.30 * 0.24 + 0.0109)])
    assert trail[0] == pytest.approx(lead[0] * [1, -1, 1])


def test_a_straight_leg_is_zero_and_a_right_angle_is_ninety():
    assert deg([sg.bend_between(row(0, 0, 1), row(0, 0, 0.5), row(0, 0, 0))]) == pytest.approx(0, abs=1e-6)
    assert deg([sg.bend_between(row(0, 0, 1), row(0, 0, 0.5), row(-0.5, 0, 0.5))]) == pytest.approx(90)


def arm(extension_deg, deviation_deg, lead=True):
    """Wrist and knuckle markers of a lead forearm along x with the back of the hand up (z): thumb side -y on the lead
    (left) hand, +y on the trail one."""
    out = -1.0 if lead else 1.0
    e, v = np.deg2rad([extension_deg, deviation_deg])
    d = np.array([np.cos(v) * np.cos(e), out * np.sin(v), np.cos(v) * np.sin(e)])
    back = np.array([-np.sin(e), 0.0, np.cos(e)])
    elbow, wrist = row(0, 0, 0), np.array([0.26, 0, 0])
    thumb, little = row(0.26, out * 0.03, 0), row(0.26, -out * 0.03, 0)
    knuckle = (wrist + 0.09 * d + (sg.HAND_BACK_M + sg.MARKER_RADIUS_M) * back)[None]
    forearm = sg.forearm_frame(elbow, thumb, little, lead=lead)
    hand = sg.hand_frame(forearm, wrist[None], knuckle, lead=lead)
    return deg(wrist_angles(np.swapaxes(forearm, 1, 2) @ hand)[:2])


@pytest.mark.parametrize("lead", [True, False])
@pytest.mark.parametrize(("extension", "deviation"), [(0, 0), (30, 0), (-20, 0), (0, 18), (0, -15), (25, 10)])
def test_wrist_from_markers_has_the_sensors_signs_on_both_arms(extension, deviation, lead):
    assert arm(extension, deviation, lead) == pytest.approx((extension, deviation), abs=0.4)


def test_without_the_step_from_skin_to_bone_the_wrist_would_be_biased():
    """The hand's line runs from the joint's centre, not from the marker on the skin: 17 mm over 9 cm are 10.7°."""
    forearm = sg.forearm_frame(row(0, 0, 0), row(0.26, -0.03, 0), row(0.26, 0.03, 0), lead=True)
    on_skin = sg.hand_frame(forearm, row(0.26, 0, 0), row(0.35, 0, 0), lead=True)  # the marker level with the joint
    bent = deg(wrist_angles(np.swapaxes(forearm, 1, 2) @ on_skin)[:1])[0]
    assert bent == pytest.approx(-np.rad2deg(np.arcsin(0.017 / 0.09)), abs=0.3)


@pytest.mark.parametrize("angle", [0, 30, 45, 60, 90])
def test_face_elevation_is_0_with_the_toe_hanging_45_square_and_90_to_the_sky(angle):
    """A level shaft toward the target: a face that looks at the ball side is open, one that looks up is shut."""
    shaft, a = row(0, 1, 0), np.deg2rad(angle)
    up, level = np.array([0.0, 0.0, 1.0]), np.cross([0.0, 1.0, 0.0], [0.0, 0.0, 1.0])
    face = (np.cos(a) * up + np.sin(a) * level)[None]
    turned = deg([sg.face_elevation(shaft, (np.sin(a) * up + np.cos(a) * level)[None])])[0]
    assert turned == pytest.approx(angle, abs=1e-6)
    assert deg([sg.face_elevation(shaft, face)])[0] == pytest.approx(90 - angle, abs=1e-6)


def test_loft_does_not_move_face_elevation():
    shaft, face = row(0, 1, 0), row(-0.7, 0, 0.7)
    lofted = face + 0.5 * shaft
    assert sg.face_elevation(shaft, lofted) == pytest.approx(sg.face_elevation(shaft, face))


def test_the_pose_holds_what_the_markers_allow_and_nothing_else():
    points = {Marker.C7: np.zeros((4, 3)), Marker.NOTCH: np.ones((4, 3))}
    pose = body_pose(points)
    assert set(pose.joints) == {"upper"}
    assert pose.frames == {}


# The laboratory's own axes and angles, stored in the open recording (see validation/walking.py for the conventions)
def test_the_walking_recording_agrees_with_its_laboratory():
    found = compared()
    assert found["pelvis frame"] <= 0.1
    for name in ("pelvis", "thorax"):
        for what in ("tilt", "obliquity", "rotation"):
            assert found[f"{name} {what}"] <= 0.1
    for side in ("L", "R"):
        assert found[f"knee {side}"] <= 2.0
        assert 4.0 <= abs(found[f"knee {side}, offset"]) <= 6.0  # what another hip regression makes
