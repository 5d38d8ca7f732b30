"""The putting model is itself checked: its truth is consistent, its pendulum swings as one, its sensors obey physics."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.frames.handedness import Hand
from finearc.core.kinematics.wrist import wrist_angles
from finearc.core.signals.streams import GRAVITY_M_S2, Segment
from finearc.golfer.poses import PoseErrors
from finearc.golfer.putting.logs import sensor_logs, true_points
from finearc.golfer.putting.scenarios import PUTTING, PuttingStory, play_putting
from finearc.golfer.putting.session import PuttingPlan, perform_putting
from finearc.golfer.putting.stroke import LENGTH_M, putter_motion
from finearc.golfer.putting.style import PuttStyle, Step, quiet, transition
from finearc.golfer.sensors import SensorQuirks

EXACT = SensorQuirks(
    gyro_noise_deg_s=0, gyro_bias_deg_s=0, acc_noise_m_s2=0, acc_bias_m_s2=0, jitter_s=0, acc_range_g=200
)


@pytest.fixture(scope="module")
def truth():
    plan = PuttingPlan([quiet(3.0), transition(9.0)], tremor_deg=0.0)
    return perform_putting(plan, np.random.default_rng(2))


@pytest.mark.parametrize("side", ["lead", "trail"])
def test_the_true_angles_are_those_of_the_true_orientations(truth, side):
    arm = truth.arms[side]
    found = wrist_angles(np.swapaxes(arm.r_bay_from_forearm, 1, 2) @ arm.r_bay_from_hand)
    for putt in truth.swings:
        a, b = (round(putt.times_s[k] * 1000) for k in ("address", "finish"))
        assert found[0][a:b] == pytest.approx(arm.extension[a:b], abs=1e-9)
        assert found[1][a:b] == pytest.approx(arm.deviation[a:b], abs=1e-9)


def test_the_putter_keeps_its_shape_and_the_hands_their_hold(truth):
    points = true_points(truth)
    for a, b, size in (("CGRP", "CSHF", 0.60), ("CHEL", "CTOE", 0.10)):
        assert np.linalg.norm(points[a] - points[b], axis=1) == pytest.approx(size)
    spot = (points["CHEL"] + points["CTOE"]) / 2
    assert np.linalg.norm(spot - points["CGRP"], axis=1) == pytest.approx(LENGTH_M)
    a, b = (round(truth.swings[0].times_s[k] * 1000) for k in ("address", "finish"))
    held = np.swapaxes(truth.putter.r_bay_from_putter[a:b], 1, 2) @ truth.arms["lead"].r_bay_from_hand[a:b]
    assert held == pytest.approx(np.broadcast_to(held[0], held.shape), abs=1e-9)


def test_without_anything_else_the_putter_turns_about_one_point():
    style = PuttStyle(pivot_m=1.3, path_deg=2.0)
    time_s = np.arange(0.0, 3.0, 0.01)
    motion = putter_motion(style, time_s, 1.0)
    along = np.array([np.sin(np.deg2rad(2.0)), np.cos(np.deg2rad(2.0)), 0.0])
    for place in (motion.grip_end_m, motion.sweet_spot_m):
        in_plane = np.column_stack([place @ along, place[:, 2]])
        pivot = np.array([motion.grip_end_m[0, 1] * along[1], 1.3])
        assert np.linalg.norm(in_plane - pivot, axis=1) == pytest.approx(np.linalg.norm(in_plane[0] - pivot), abs=1e-9)
        across = place @ np.array([along[1], -along[0], 0.0])
        assert across == pytest.approx(across[0])


def test_how_fast_the_head_is_follows_from_the_distance():
    """v² = 2 a s on a green where a ball of 1.83 m/s rolls 10.5 ft; the ball leaves 1.65 times as fast as the head."""
    for distance_m in (3.0, 9.0):
        style = PuttStyle(distance_m=distance_m)
        time_s = np.arange(0.0, 3.0, 0.0005)
        spot = putter_motion(style, time_s, 1.0).sweet_spot_m
        speed = np.linalg.norm(np.gradient(spot, time_s, axis=0), axis=1)
        at_ball = float(np.interp(1.0 + style.back_s + style.through_s, time_s, speed))
        slowing = 1.83**2 / (2 * 10.5 * 0.3048)
        assert 1.65 * at_ball == pytest.approx(np.sqrt(2 * slowing * (distance_m + 0.3)), rel=0.03)


def test_instants_lie_where_the_style_puts_them(truth):
    for putt in truth.swings:
        times, style = putt.times_s, putt.style
        assert list(times.values()) == sorted(times.values())
        assert times["transition"] - times["takeaway"] == pytest.approx(style.back_s, abs=0.03)
        assert times["impact"] - times["transition"] == pytest.approx(style.through_s, abs=0.03)


@pytest.mark.parametrize(
    ("changed", "axis", "at", "size"),
    [
        ({"both_up": (Step("takeaway", 0.1, 0.4, 2.0),)}, 2, "transition", 0.02),
        ({"handle_along": (Step("takeaway", 0.1, 0.6, -3.0),)}, 1, "impact", -0.03),
    ],
)
def test_what_leaves_the_pendulum_leaves_it_by_so_much(changed, axis, at, size):
    time_s = np.arange(0.0, 3.0, 0.001)
    plain, moved = PuttStyle(), replace(PuttStyle(), **changed)
    k = int(1000 * (1.0 + (plain.back_s if at == "transition" else plain.back_s + plain.through_s)))
    apart = putter_motion(moved, time_s, 1.0).grip_end_m - putter_motion(plain, time_s, 1.0).grip_end_m
    assert apart[k, axis] == pytest.approx(size, abs=1e-9)


def test_a_sensor_at_rest_reads_gravity_and_a_moving_one_its_rates(truth):
    log = sensor_logs(truth, [Segment.PUTTER], EXACT, np.random.default_rng(1))[0]
    putt = truth.swings[0]
    still = (log.time_s > putt.times_s["address"] - 0.3) & (log.time_s < putt.times_s["address"])
    assert np.linalg.norm(log.acc_m_s2[still], axis=1) == pytest.approx(GRAVITY_M_S2, abs=1e-3)
    shaft_up = truth.putter.r_bay_from_putter[round(putt.times_s["address"] * 1000), 2, 0]
    assert log.acc_m_s2[still][:, 0].mean() == pytest.approx(GRAVITY_M_S2 * shaft_up, abs=0.01)  # +x to the head
    a, b = (round(putt.times_s[k] * 1000) for k in ("takeaway", "transition"))
    turned = Rotation.from_matrix(truth.putter.r_bay_from_putter[[a, b]])
    inside = (log.time_s >= putt.times_s["takeaway"]) & (log.time_s < putt.times_s["transition"])
    summed = np.trapezoid(np.linalg.norm(log.gyr_rad_s[inside], axis=1), log.time_s[inside])
    assert summed == pytest.approx((turned[1] * turned[0].inv()).magnitude(), rel=0.1)


def test_a_left_hander_is_the_mirror_image():
    story = replace(PUTTING["putt-two-only"], poses=PoseErrors())
    right = play_putting(story, 4, sources=("wrist", "trail", "markers"))
    left = play_putting(story, 4, sources=("wrist", "trail", "markers"), hand=Hand.LEFT)
    assert left.marker_set.points_m[..., 1] == pytest.approx(-right.marker_set.points_m[..., 1])
    for a, b in zip(right.streams, left.streams, strict=True):
        assert b.acc_m_s2 == pytest.approx(a.acc_m_s2 * [1.0, -1.0, 1.0])
        assert b.gyr_rad_s == pytest.approx(a.gyr_rad_s * [-1.0, 1.0, -1.0])


def test_no_two_putts_of_a_session_are_alike_and_the_same_seed_gives_the_same():
    story = PuttingStory(PUTTING["putt-quiet"].putts[:2], "Two.")
    one, again, other = (play_putting(story, seed) for seed in (3, 3, 4))
    assert one.streams[0].gyr_rad_s == pytest.approx(again.streams[0].gyr_rad_s)
    assert one.truth.swings[0].style != one.truth.swings[1].style
    assert one.truth.swings[0].style != other.truth.swings[0].style
