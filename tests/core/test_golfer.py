"""The golfer model is itself checked: its truth is consistent and its sensors obey physics."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.signals.streams import GRAVITY_M_S2, Segment
from finearc.golfer import style as st
from finearc.golfer.arm import address_forearm, club_in_hand, minimum_jerk, true_twist
from finearc.golfer.poses import PoseErrors, SessionPlan
from finearc.golfer.sensors import SensorQuirks, record
from finearc.golfer.session import angular_velocity, perform

EXACT = SensorQuirks(
    gyro_noise_deg_s=0,
    gyro_bias_deg_s=0,
    acc_noise_m_s2=0,
    acc_bias_m_s2=0,
    jitter_s=0,
    acc_range_g=200,
    gyro_range_deg_s=9000,
)
SENSORS = (Segment.LEAD_FOREARM, Segment.LEAD_HAND, Segment.CLUB)


@pytest.fixture(scope="module")
def truth():
    return perform(SessionPlan([st.HOLD, st.FLIP]), np.random.default_rng(2))


def test_the_true_angles_are_those_of_the_true_orientations(truth):
    relative = np.swapaxes(truth.r_bay_from_forearm, 1, 2) @ truth.r_bay_from_hand
    for found, said in zip(wrist_angles(relative), (truth.extension, truth.deviation, truth.twist), strict=True):
        assert found == pytest.approx(said, abs=1e-9)


def test_orientations_are_rotations(truth):
    for r in (truth.r_bay_from_forearm, truth.r_bay_from_hand, truth.r_bay_from_club):
        assert np.linalg.det(r[::200]) == pytest.approx(1.0)
        assert np.swapaxes(r[::200], 1, 2) @ r[::200] == pytest.approx(
            np.tile(np.eye(3), (len(r[::200]), 1, 1)), abs=1e-9
        )


def test_styles_values_are_met_at_their_moments(truth):
    for swing, style in zip(truth.swings, (st.HOLD, st.FLIP), strict=True):
        for moment, k in (("address", 0), ("top", 3), ("impact", 5)):
            i = int(swing.times_s[moment] * 1000)
            assert np.rad2deg(truth.extension[i]) == pytest.approx(style.extension[k], abs=3.5)


def test_true_events_are_in_order(truth):
    order = (
        "address",
        "takeaway",
        "shaft_level_back",
        "arm_level_back",
        "top",
        "arm_level_down",
        "shaft_level_down",
        "impact",
        "shaft_level_through",
    )
    for swing in truth.swings:
        times = [swing.times_s[k] for k in order]
        assert times == sorted(times)
        tempo = (swing.times_s["top"] - swing.times_s["takeaway"]) / (swing.times_s["impact"] - swing.times_s["top"])
        assert 2.4 < tempo < 3.6


def test_at_rest_a_sensor_feels_gravity_upward(truth):
    logs = record(truth, SENSORS, EXACT, np.random.default_rng(0))
    flat = truth.windows["flat"][0]
    for log in logs:
        span = (log.time_s > flat[0]) & (log.time_s < flat[1])
        assert np.linalg.norm(log.acc_m_s2[span], axis=1) == pytest.approx(GRAVITY_M_S2, abs=1e-3)
        assert np.abs(log.gyr_rad_s[span]).max() < 1e-6


def test_the_gyroscope_is_the_derivative_of_the_orientation(truth):
    """Integrating the hand's rates from one still moment to another gives its true change of orientation."""
    log = record(truth, SENSORS, EXACT, np.random.default_rng(0))[1]
    a, b = (int(truth.swings[0].times_s[k] * 200) for k in ("address", "top"))
    turned = Rotation.identity()
    for k in range(a, b):
        turned = turned * Rotation.from_rotvec((log.gyr_rad_s[k] + log.gyr_rad_s[k + 1]) / 2 * 0.005)
    true = Rotation.from_matrix(truth.r_bay_from_hand[a * 5].T @ truth.r_bay_from_hand[b * 5])
    assert np.rad2deg(turned.magnitude()) == pytest.approx(np.rad2deg(true.magnitude()), abs=0.5)


def test_a_strike_is_felt_most_at_the_club_and_only_with_a_ball(truth):
    logs = record(truth, SENSORS, EXACT, np.random.default_rng(3))
    jolts = []
    for log in logs:
        k = int(truth.swings[0].times_s["impact"] * 200)
        bend = np.linalg.norm(np.diff(log.acc_m_s2[k - 8 : k + 8], 2, axis=0), axis=1)
        jolts.append(bend.max())
    assert jolts[2] > jolts[1] > jolts[0]
    quiet = perform(SessionPlan([replace(st.HOLD, ball=False)]), np.random.default_rng(2))
    log = record(quiet, SENSORS, EXACT, np.random.default_rng(3))[2]
    k = int(quiet.swings[0].times_s["impact"] * 200)
    assert np.linalg.norm(np.diff(log.acc_m_s2[k - 8 : k + 8], 2, axis=0), axis=1).max() < 10


def test_quirks_do_what_they_say(truth):
    rng = np.random.default_rng(5)
    noisy = record(truth, SENSORS[:2], SensorQuirks(jitter_s=0), rng)[0]
    still = slice(20, 400)
    assert np.rad2deg(noisy.gyr_rad_s[still].std(axis=0)) == pytest.approx(0.1, rel=0.25)
    assert np.rad2deg(np.linalg.norm(noisy.gyr_rad_s[still].mean(axis=0))) == pytest.approx(0.6, rel=0.1)
    limited = record(truth, SENSORS[:2], replace(EXACT, gyro_range_deg_s=500), rng)[1]
    assert np.rad2deg(np.abs(limited.gyr_rad_s).max()) == pytest.approx(500)
    gapped = record(truth, SENSORS[:2], replace(EXACT, gaps=((1.0, 1.3),)), rng)[0]
    assert not ((gapped.time_s > 1.0) & (gapped.time_s < 1.3)).any()
    uneven = record(truth, SENSORS[:2], replace(EXACT, jitter_s=5e-4), rng)[0]
    assert np.diff(uneven.time_s).std() > 2e-4


def test_poses_are_imperfect_by_what_is_asked():
    bends = []
    for seed in range(40):
        t = perform(SessionPlan([], PoseErrors(2.0, 0.0)), np.random.default_rng(seed))
        k = int(np.mean(t.windows["flat"][0]) * 1000)
        bends.append(np.rad2deg([t.extension[k], t.deviation[k], t.twist[k]]))
    assert np.std(bends) == pytest.approx(2.0, rel=0.25)


def test_the_address_puts_the_club_head_on_the_ground():
    shaft, face = club_in_hand(22.0, -23.0, 0.02, 3.0)
    assert np.linalg.norm(shaft) == pytest.approx(1.0)
    assert shaft @ face == pytest.approx(0.0, abs=1e-12)
    forearm = address_forearm()
    assert forearm[2, 0] < -0.95  # the arm hangs, a little forward
    assert forearm[1, 1] > 0.97  # the back of the hand faces the target


def test_twist_stays_within_five_degrees_whatever_the_wrist_does():
    e, v = np.meshgrid(np.deg2rad(np.linspace(-60, 60, 13)), np.deg2rad(np.linspace(-40, 40, 9)))
    assert np.rad2deg(np.abs(true_twist(e, v, np.deg2rad(4.0)))).max() <= 5.0


def test_minimum_jerk_starts_and_ends_at_rest():
    u = np.linspace(0, 1, 101)
    s = minimum_jerk(u)
    assert (s[0], s[-1]) == (0.0, 1.0)
    assert np.gradient(s, u)[[0, -1]] == pytest.approx([0, 0], abs=2e-3)


def test_a_constant_rate_is_recovered():
    t = np.arange(200) * 0.001
    turning = Rotation.from_rotvec(np.outer(t, [0.0, 0.0, 3.0])).as_matrix()
    assert angular_velocity(turning)[50] == pytest.approx([0, 0, 3.0], abs=1e-6)


def test_blend_moves_between_two_styles():
    half = st.OVER_EXTENDED.blend(st.HOLD, 0.5)
    assert half.extension[3] == pytest.approx((st.OVER_EXTENDED.extension[3] + st.HOLD.extension[3]) / 2)
    assert st.OVER_EXTENDED.blend(st.HOLD, 0.0).extension == pytest.approx(st.OVER_EXTENDED.extension)
