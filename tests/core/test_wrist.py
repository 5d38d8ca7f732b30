"""Wrist angles: hand-worked cases, one plain anatomical motion each, and SciPy's Euler angles.

Joint coordinate system after Grood and Suntay 1983 (J Biomech Eng 105:136) as recommended for the wrist by
Wu et al. 2005 (J Biomech 38:981); both cited from memory, the mathematics verified here.
"""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy.spatial.transform import Rotation

from finearc.core.kinematics.wrist import hand_roll, rotation_of, wrist_angles

D, O, R = np.eye(3)


def hand(d, o):
    """Hand axes from where d and o point, in forearm axes."""
    return np.column_stack([d, o, np.cross(d, o)])[None]


def degrees(rotation):
    return [float(np.rad2deg(a[0])) for a in wrist_angles(rotation)]


def test_a_straight_wrist_reads_zero():
    assert degrees(hand(D, O)) == pytest.approx([0, 0, 0], abs=1e-9)


def test_back_of_the_hand_toward_the_forearm_is_extension_positive():
    c, s = np.cos(np.deg2rad(30)), np.sin(np.deg2rad(30))
    assert degrees(hand(c * D + s * O, c * O - s * D)) == pytest.approx([30, 0, 0], abs=1e-9)


def test_palm_toward_the_forearm_is_flexion_negative():
    c, s = np.cos(np.deg2rad(20)), np.sin(np.deg2rad(20))
    assert degrees(hand(c * D - s * O, c * O + s * D)) == pytest.approx([-20, 0, 0], abs=1e-9)


def test_toward_the_thumb_is_radial_positive():
    c, s = np.cos(np.deg2rad(15)), np.sin(np.deg2rad(15))
    assert degrees(hand(c * D + s * R, O)) == pytest.approx([0, 15, 0], abs=1e-9)


def test_toward_the_little_finger_is_ulnar_negative():
    c, s = np.cos(np.deg2rad(23)), np.sin(np.deg2rad(23))
    assert degrees(hand(c * D - s * R, O)) == pytest.approx([0, -23, 0], abs=1e-9)


def test_a_case_worked_by_hand():
    """d_hand = (0.8, 0.36, 0.48): extension atan2(0.36, 0.8) = 24.23°, radial asin(0.48) = 28.69°."""
    d = np.array([0.8, 0.36, 0.48])
    o = np.cross(R, d)
    extension, radial, _ = degrees(hand(d, o / np.linalg.norm(o)))
    assert extension == pytest.approx(24.2277, abs=1e-3)
    assert radial == pytest.approx(28.6854, abs=1e-3)


angle = st.floats(-80, 80)


@given(angle, angle, st.floats(-60, 60))
def test_angles_and_rotation_invert_each_other(extension, radial, twist):
    r = rotation_of(*(np.deg2rad([a]) for a in (extension, radial, twist)))
    assert degrees(r) == pytest.approx([extension, radial, twist], abs=1e-6)


@given(angle, angle, st.floats(-60, 60))
def test_rotation_is_scipys_intrinsic_sequence(extension, radial, twist):
    """About r by extension, then about −o by radial deviation, then about d by twist: intrinsic z, y, x."""
    ours = rotation_of(*(np.deg2rad([a]) for a in (extension, radial, twist)))[0]
    theirs = Rotation.from_euler("ZYX", [extension, -radial, twist], degrees=True).as_matrix()
    assert ours == pytest.approx(theirs, abs=1e-12)


def test_hand_roll_follows_its_definition_with_scipy_quaternions():
    """roll = −2 atan2(q_rel · d, q_rel · w), q_rel = q_address⁻¹ q_hand in hand axes."""
    rng = np.random.default_rng(4)
    path = Rotation.from_rotvec(np.cumsum(rng.normal(0, 0.02, (200, 3)), axis=0))
    relative = (path[0].inv() * path).as_quat(canonical=True)
    expected = -2 * np.arctan2(relative[:, 0], relative[:, 3])
    assert hand_roll(path.as_matrix(), 0) == pytest.approx(expected - expected[0], abs=1e-9)


def test_turning_the_back_of_the_hand_to_the_ground_is_closing_positive():
    """At address the back of the lead hand faces the target; through impact it turns toward the ground: a
    negative rotation about the hand's long axis pointing to the ball."""
    address = np.column_stack([[1.0, 0, 0], [0, 1.0, 0], [0, 0, 1.0]])
    closed = address @ Rotation.from_rotvec([-0.5, 0, 0]).as_matrix()
    assert closed[2, 1] < 0  # the back of the hand now looks down
    assert hand_roll(np.stack([address, closed]), 0)[1] == pytest.approx(0.5)


def test_hand_roll_unwraps_past_half_a_turn():
    turns = np.linspace(0, -3.5, 300)
    path = Rotation.from_rotvec(np.outer(turns, [1.0, 0, 0])).as_matrix()
    assert hand_roll(path, 0)[-1] == pytest.approx(3.5)
