"""Rotations against SciPy, and mirroring from its definition."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy.spatial.transform import Rotation

from finearc.core.frames.handedness import mirror_pseudovectors, mirror_vectors
from finearc.core.frames.rotations import (
    about_z,
    angle_between,
    from_rotation_vector,
    matrices_from_quaternions,
    rotation_vector,
)

finite = st.floats(-3.0, 3.0, allow_nan=False)
vectors = st.tuples(finite, finite, finite).map(np.array)


@given(vectors)
def test_rotation_vectors_agree_with_scipy(v):
    assert from_rotation_vector(v) == pytest.approx(Rotation.from_rotvec(v).as_matrix(), abs=1e-9)


@given(vectors.filter(lambda v: np.linalg.norm(v) < 3.0))
def test_rotation_vector_inverts(v):
    assert rotation_vector(from_rotation_vector(v)) == pytest.approx(v, abs=1e-6)


def test_quaternions_are_xyzw_as_in_scipy():
    rotations = Rotation.random(50, random_state=np.random.default_rng(1))
    assert matrices_from_quaternions(rotations.as_quat()) == pytest.approx(rotations.as_matrix(), abs=1e-12)


def test_about_z_turns_x_toward_y():
    assert about_z(np.pi / 2) @ [1, 0, 0] == pytest.approx([0, 1, 0])


def test_angle_between_is_accurate_for_small_angles():
    a = np.array([1.0, 0.0, 0.0])
    assert angle_between(a, np.array([1.0, 1e-9, 0.0])) == pytest.approx(1e-9, rel=1e-6)


def test_mirror_reflects_the_target_axis_of_vectors():
    assert mirror_vectors(np.array([[1.0, 2.0, 3.0]])).tolist() == [[1.0, -2.0, 3.0]]


@given(vectors, vectors)
def test_angular_velocity_is_a_pseudovector(omega, arm):
    """The velocity of a mirrored arm is the mirrored velocity: w' x r' = M (w x r)."""
    velocity = np.cross(omega, arm)
    mirrored = np.cross(mirror_pseudovectors(omega[None])[0], mirror_vectors(arm[None])[0])
    assert mirrored == pytest.approx(mirror_vectors(velocity[None])[0], abs=1e-9)
