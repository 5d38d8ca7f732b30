"""Holding the relative heading by the joint."""

from __future__ import annotations

import numpy as np
import pytest

from finearc.core.frames.rotations import about_z
from finearc.core.kinematics.session import HeadingHold, WristFrames
from finearc.core.kinematics.wrist import rotation_of, wrist_angles
from finearc.core.sources.inertial_traces import error_shapes
from finearc.golfer.arm import forearm_orientation


def address(drift_deg=0.0, twist_deg=2.0):
    """Forearm and hand at address, the hand's vertical frame turned by the drift."""
    forearm = forearm_orientation(np.zeros(1), np.full(1, 75.0), np.zeros(1))[0]
    wrist = rotation_of(*(np.deg2rad([a]) for a in (22.0, -23.0, twist_deg)))[0]
    return forearm, about_z(-np.deg2rad(drift_deg)) @ forearm @ wrist


def test_the_first_address_sets_the_twist_and_changes_nothing():
    hold = HeadingHold(0.0, 0.0, 0)
    assert hold.at_address(10.0, 0, *address()) == 0.0
    assert np.rad2deg(hold.twist_rad) == pytest.approx(2.0)


def test_slow_drift_is_followed():
    hold = HeadingHold(0.0, 0.0, 0)
    hold.at_address(0.0, 0, *address())
    for minute in range(1, 11):
        hold.at_address(60.0 * minute, 0, *address(drift_deg=0.4 * minute))
    assert np.rad2deg(hold.heading_rad) == pytest.approx(4.0, abs=1.0)


def test_a_twist_that_varies_is_not_taken_for_drift_within_seconds():
    hold = HeadingHold(0.0, 0.0, 0)
    hold.at_address(0.0, 0, *address())
    hold.at_address(5.0, 0, *address(twist_deg=4.0))
    assert abs(np.rad2deg(hold.heading_rad)) < 0.1


def test_after_a_long_gap_the_heading_is_found_anew():
    hold = HeadingHold(0.0, 0.0, 0)
    hold.at_address(0.0, 0, *address())
    hold.at_address(5.0, 1, *address(drift_deg=70.0))
    assert np.rad2deg(hold.heading_rad) == pytest.approx(70.0, abs=1.0)


def test_a_gap_between_poses_and_first_address_leaves_what_a_wrist_can_do():
    """No twist that no wrist makes is read from a heading that was lost, and what is left open is said."""
    hold = HeadingHold(0.0, 0.0, 0)
    hold.at_address(5.0, 1, *address(drift_deg=70.0, twist_deg=-4.0))
    assert np.rad2deg(hold.heading_rad) == pytest.approx(70.0, abs=6.0)
    assert np.rad2deg(np.sqrt(hold.variance)) > 4.0
    assert hold.twist_off_rad == 0.0
    hold.at_address(9.0, 1, *address(drift_deg=70.0, twist_deg=-4.0))
    assert abs(hold.twist_off_rad) < np.deg2rad(2.0)


def test_a_jump_shows_in_the_twist_and_is_told():
    hold = HeadingHold(0.0, 0.0, 0)
    hold.at_address(0.0, 0, *address())
    hold.at_address(10.0, 0, *address(drift_deg=20.0))
    off = abs(np.rad2deg(hold.twist_off_rad))
    assert 14.0 < off < 20.0  # the forearm points down, not straight down: less of a turn about the vertical is twist
    hold.at_address(20.0, 1, *address(drift_deg=60.0))
    assert hold.twist_off_rad == 0.0  # across a long gap the heading is free, and the twist says nothing


@pytest.mark.parametrize("parameter", range(7))
def test_error_shapes_are_the_derivatives_of_the_angles(parameter):
    """Analytic derivatives against small differences, for each of the calibration's seven small errors."""
    from finearc.core.frames.rotations import from_rotation_vector

    forearm, hand = address()
    small = np.zeros(7)
    small[parameter] = 1e-5

    def angles(x):
        moved = (forearm @ from_rotation_vector(x[:3])).T @ about_z(float(x[6])) @ hand @ from_rotation_vector(x[3:6])
        extension, deviation, _ = wrist_angles(moved)
        return np.array([float(extension), float(deviation)])

    frames = WristFrames(forearm[None], hand[None], 0.0)
    extension, deviation, _ = wrist_angles(frames.r_forearm_from_hand)
    shapes = error_shapes(frames, extension, deviation)
    expected = (angles(small) - angles(-small)) / 2e-5
    assert [shapes[0][parameter, 0], shapes[1][parameter, 0]] == pytest.approx(expected, abs=1e-4)
