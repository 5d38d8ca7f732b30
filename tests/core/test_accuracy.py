"""Accuracy with fixed seeds against the golfer model's truth, and on open recordings. Bounds are the product's
goals; the figures themselves stand in docs/validation.md."""

from __future__ import annotations

import numpy as np
import pytest
from ahrs.filters import Madgwick
from scipy.spatial.transform import Rotation
from validation.recordings import DATA, foot_errors_deg, foot_motion, knee_range_deg
from validation.simulated import (
    angle_errors,
    angle_rmse_deg,
    event_errors_ms,
    honesty,
    mirrored_difference_deg,
    read,
    rms,
    session,
)

from finearc.core.orientation.fusion import _gyro_only, between_samples, carry_gravity, estimate_motion, fast_stretches
from finearc.core.signals.grid import clean
from finearc.core.signals.streams import ImuStream, Segment


def test_wrist_angles_of_a_60_s_session_within_0_7_degrees():
    for value in angle_rmse_deg(range(6)).values():
        assert value <= 0.7


@pytest.mark.slow
def test_wrist_angles_of_a_10_minute_session_within_1_5_degrees():
    recording = session(100, swings=30, between_s=21.0)
    assert recording.truth.time_s[-1] > 590
    for errors in angle_errors(recording, read(recording)).values():
        assert rms(errors) <= 1.5


def test_a_mirrored_capture_equals_its_twin():
    assert mirrored_difference_deg(5) <= 0.01


def test_impact_and_top_from_the_wrist_alone():
    errors = event_errors_ms(range(40, 52), club=False)
    assert rms(errors["impact"]) <= 4.0
    assert rms(errors["top"]) <= 10.0


def test_impact_top_and_shaft_level_with_the_club_clip():
    errors = event_errors_ms(range(40, 52), club=True)
    assert rms(errors["impact"]) <= 2.0
    assert rms(errors["top"]) <= 10.0
    for name in ("shaft_level_back", "shaft_level_down", "shaft_level_through"):
        assert rms(errors[name]) <= 15.0


@pytest.mark.slow
def test_stated_uncertainty_is_honest_over_300_calibrations():
    assert 0.60 <= honesty(300).share <= 0.76


def test_foot_pitch_against_optics_on_a_real_recording():
    """gaitmap's two-foot recording (tests/data/README.md): 3° RMS, each foot and between the segments."""
    for name, error in foot_errors_deg().items():
        assert error <= 3.0, name


def test_knee_recording_is_read_and_plausible():
    """Walking, no optical truth: knees bend by 40 to 80° a stride, strides come at 0.6 to 1.2 a second
    (common practice of gait analysis)."""
    span, stride_hz = knee_range_deg()
    assert 30.0 < span < 85.0
    assert 0.6 < stride_hz < 1.2


def test_inclination_agrees_with_an_independent_published_filter_when_slow():
    """Madgwick's filter from the package ahrs (rad/s, wxyz) on the calm first second of the foot recording."""
    motion = foot_motion("left")
    calm = slice(0, 400)
    table = np.loadtxt(DATA / "foot-imu-mocap" / "imu.csv", delimiter=",", skiprows=1, max_rows=400)
    names = (DATA / "foot-imu-mocap" / "imu.csv").read_text().split("\n", 1)[0].split(",")
    acc = np.column_stack([table[:, names.index(f"left_acc_{a}")] for a in "xyz"])
    gyr = np.deg2rad(np.column_stack([table[:, names.index(f"left_gyr_{a}")] for a in "xyz"]))
    other = Madgwick(gyr=gyr, acc=acc, frequency=204.8, gain=0.1).Q
    up_other = Rotation.from_quat(other[:, [1, 2, 3, 0]]).as_matrix()[:, 2, :]
    up_ours = Rotation.from_quat(motion.q_up_from_sensor[calm]).as_matrix()[:, 2, :]
    angle = np.rad2deg(np.arccos(np.clip(np.einsum("ij,ij->i", up_other, up_ours), -1, 1)))
    assert np.median(angle[20:90]) < 1.5


def turning(rate_rad_s, seconds=4.0, hz=200.0):
    """A sensor turning about its vertical z axis, then still."""
    t = np.arange(int(seconds * hz)) / hz
    gyr = np.zeros((len(t), 3))
    gyr[(t > 1.5) & (t < 2.0), 2] = rate_rad_s
    return ImuStream(Segment.LEAD_HAND, t, np.tile([0, 0, 9.81], (len(t), 1)), gyr, "turn.csv")


def test_a_turn_is_integrated_without_the_lag_of_half_a_sample():
    motion = estimate_motion(clean([turning(10.0)])[0])
    yaw = np.unwrap(Rotation.from_quat(motion.q_up_from_sensor).as_euler("ZYX")[:, 0])
    assert yaw[-1] - yaw[0] == pytest.approx(10.0 * 0.495, abs=0.06)


def test_between_samples_is_the_trapezoid():
    assert between_samples(np.array([[0.0], [2.0], [4.0]])).ravel().tolist() == [0.0, 1.0, 3.0]


def test_fast_stretches_are_found_and_long_ones_left_alone():
    s = turning(10.0)
    (span,) = fast_stretches(s.gyr_rad_s, 0.005)
    assert span[0] * 0.005 == pytest.approx(1.5 - 0.25, abs=0.02)
    assert span[1] * 0.005 == pytest.approx(2.0 + 0.25, abs=0.02)
    assert fast_stretches(np.full((1000, 3), 10.0), 0.005) == []


def test_gravity_is_carried_through_clipped_forces():
    """20 g of nonsense during a fast stretch changes nothing: the gyroscopes carry gravity."""
    s = turning(10.0)
    wild = s.acc_m_s2.copy()
    wild[(s.time_s > 1.5) & (s.time_s < 2.0)] = [157.0, -157.0, 30.0]
    calm = carry_gravity(wild, s.gyr_rad_s, 0.005)
    inside = (s.time_s > 1.5) & (s.time_s < 2.0)
    assert calm[inside] == pytest.approx(np.tile([0, 0, 9.81], (inside.sum(), 1)), abs=0.2)


def test_the_gyroscopes_alone_turn_as_scipy_composes_the_steps():
    rng = np.random.default_rng(8)
    rates = rng.normal(0, 3, (60, 3))
    steps = Rotation.from_rotvec(rates * 0.005)
    total = Rotation.identity()
    for k in range(len(rates)):
        total = total * steps[k]
    assert _gyro_only(rates, 0.005)[-1] == pytest.approx(total.as_matrix(), abs=1e-9)
