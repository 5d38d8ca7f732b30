"""The model player's body: bones keep their lengths, feet stand, hands hold the club, the marker set shows what is there."""

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.frames.handedness import Hand
from finearc.golfer import bodies as bd
from finearc.golfer.anatomy import Anatomy
from finearc.golfer.marker_set import MarkerQuirks, marker_log, true_markers
from finearc.golfer.scenarios import SCENARIOS, play
from finearc.golfer.truth import true_angles, true_travel

BODY_SCENARIOS = [name for name, s in SCENARIOS.items() if s.styles and "body" in repr(s.styles[0])]


@pytest.fixture(scope="module")
def skilled():
    return play("free-pelvis", 4, sources=("markers",))


def lengths(a, b):
    return np.linalg.norm(a - b, axis=1)


def swing_rows(truth, k=0, after_s=0.3):
    times = truth.swings[k].times_s
    return slice(int(1000 * times["address"]), int(1000 * (times["impact"] + after_s)))


def test_bones_keep_their_lengths(skilled):
    truth, body = skilled.truth, skilled.body
    rows, a = swing_rows(truth), truth.anatomy
    for limb, upper, lower in (
        (body.lead_leg, a.thigh, a.shank),
        (body.trail_leg, a.thigh, a.shank),
        (body.lead_arm, a.upper_arm, a.forearm),
    ):
        assert lengths(limb.top_m, limb.middle_m)[rows] == pytest.approx(upper, abs=2e-3)
        assert lengths(limb.middle_m, limb.end_m)[rows] == pytest.approx(lower, abs=2e-3)


def test_the_lead_foot_stands_still_and_no_foot_sinks_into_the_floor(skilled):
    body, rows = skilled.body, swing_rows(skilled.truth)
    assert np.ptp(body.lead_foot.ankle_m[rows], axis=0).max() < 1e-9
    for foot in (body.lead_foot, body.trail_foot):
        assert foot.ankle_m[rows, 2].min() > 0.05


def test_both_hands_stay_on_the_club(skilled):
    body, rows = skilled.body, swing_rows(skilled.truth)
    shaft = body.club_head_m - body.grip_m
    shaft /= np.linalg.norm(shaft, axis=1, keepdims=True)
    for wrist in (body.lead_wrist_m, body.trail_wrist_m):
        along = np.sum((wrist - body.grip_m) * shaft, axis=1)[:, None]
        assert lengths(wrist, body.grip_m + along * shaft)[rows].max() < 0.12


def test_the_head_comes_back_to_the_ball_at_impact(skilled):
    truth, body = skilled.truth, skilled.body
    for swing in truth.swings:
        address, impact = (body.club_head_m[round(1000 * swing.times_s[k])] for k in ("address", "impact"))
        assert np.linalg.norm(address - impact) < 0.04


@pytest.mark.parametrize("name", ["free-pelvis", "slide", "early-extension", "reverse-lean"])
def test_truth_and_markers_speak_of_the_same_body(name):
    """Pelvis and thorax angles of exact markers, by SciPy alone, equal the model's own truth."""
    recording = play(name, 6, sources=("markers",))
    truth, body = recording.truth, recording.body
    rows = swing_rows(truth)
    points = true_markers(truth, body)
    y = (points["LASI"] - points["RASI"])[rows]
    turn = np.unwrap(np.arctan2(y[:, 0], y[:, 1]))
    assert turn == pytest.approx(true_angles(truth, body)["pelvis_turn"][rows], abs=1e-6)
    middle = np.mean([points[k] for k in ("LASI", "RASI", "LPSI", "RPSI")], axis=0)
    at = round(1000 * truth.swings[0].times_s["address"])
    sway = true_travel(truth, body, truth.swings[0])["pelvis_sway"][rows]
    assert (middle - middle[at])[rows, 1] == pytest.approx(sway, abs=1e-6)


def test_rigid_groups_of_the_suit_are_rigid(skilled):
    points, rows = true_markers(skilled.truth, skilled.body), swing_rows(skilled.truth)
    for group in (
        ("LASI", "RASI", "LPSI", "RPSI"),
        ("C7", "T10", "CLAV", "STRN"),
        ("CGRP", "CSHF", "CHEL", "CTOE", "CFAC"),
    ):
        for a in group:
            for b in group:
                assert np.ptp(lengths(points[a], points[b])[rows]) < 1e-6


def test_the_suits_quirks_do_what_they_say(skilled):
    truth, body = skilled.truth, skilled.body

    def log(**quirks):
        return marker_log(truth, body, MarkerQuirks(**quirks), np.random.default_rng(3))

    clean = log(noise_m=0.0, gap_share=0.0)
    assert np.isfinite(clean.points_m).all()
    noisy = log(noise_m=0.0003, gap_share=0.0)
    assert (noisy.points_m - clean.points_m).std() == pytest.approx(0.0003, rel=0.02)
    gaps = np.isnan(log(gap_share=0.25).points_m[:, :, 0])
    assert 0.1 < gaps.any(axis=0).mean() <= 0.8
    assert gaps.mean() < 0.02
    short = log(left_out=("RPSI",))
    assert "RPSI" not in short.labels
    assert len(short.labels) == len(clean.labels) - 1
    swapped = log(noise_m=0.0, gap_share=0.0, swapped=("LASI", "RASI"))
    a, b = (clean.labels.index(k) for k in ("LASI", "RASI"))
    exchanged = (swapped.points_m[:, a] != clean.points_m[:, a]).any(axis=1)
    assert 0.2 < exchanged.sum() / 240 < 0.4
    assert np.array_equal(swapped.points_m[exchanged, a], clean.points_m[exchanged, b])
    jumps = log(noise_m=0.0, gap_share=0.0, flicker="C7")
    k = clean.labels.index("C7")
    assert (jumps.points_m[:, k] != clean.points_m[:, k]).any(axis=1).sum() == 3


def test_a_left_hander_is_the_mirror_image_with_sides_of_labels_exchanged(skilled):
    truth, body = skilled.truth, skilled.body
    exact = MarkerQuirks(noise_m=0.0, gap_share=0.0)
    right = marker_log(truth, body, exact, np.random.default_rng(1))
    left = marker_log(truth, body, exact, np.random.default_rng(1), Hand.LEFT)
    for ours, theirs in (("LASI", "RASI"), ("RKNE", "LKNE"), ("C7", "C7"), ("CHEL", "CHEL")):
        a, b = right.points_m[:, right.labels.index(ours)], left.points_m[:, left.labels.index(theirs)]
        assert b == pytest.approx(a * [1, -1, 1])


def test_height_makes_a_larger_player_of_the_same_shape():
    small, large = Anatomy.of_height(1.5), Anatomy.of_height(1.95)
    assert large.thigh / small.thigh == pytest.approx(1.95 / 1.5)
    assert large.grip_to_head == small.grip_to_head  # the club does not grow
    tall = play("free-pelvis", 4, sources=("markers",), height_m=1.95)
    assert lengths(tall.body.lead_leg.top_m, tall.body.lead_leg.middle_m)[5000] == pytest.approx(large.thigh, abs=2e-3)


def at_event(recording, key, name):
    truth = recording.truth
    return true_angles(truth, recording.body)[key][round(1000 * truth.swings[0].times_s[name])]


def test_each_body_style_differs_from_the_skilled_one_where_its_name_says():
    skilled = play("free-pelvis", 4, sources=("markers",))

    def moved(name, key, event):
        other = play(name, 4, sources=("markers",))
        return np.rad2deg(at_event(other, key, event) - at_event(skilled, key, event))

    assert moved("short-early-turn", "thorax_turn", "shaft_level_back") < -20
    assert moved("reverse-lean", "spine_lean", "top") < -6
    assert moved("standing-up", "posture_from_ground", "top") > 5
    assert moved("restrained-pelvis", "pelvis_turn", "top") < -7
    assert moved("open-at-address", "pelvis_turn", "address") < -10
    assert moved("lead-leg-sag", "lead_knee_flexion", "impact") > 5
    assert moved("early-extension", "pelvis_forward_bend", "impact") < -5


@pytest.mark.parametrize("body", [bd.SKILLED, bd.SLIDE_AWAY, bd.OUT_OF_SEQUENCE])
def test_between_two_bodies_lie_all_their_values(body):
    middle = bd.SKILLED.blend(body, 0.5)
    for name, value in vars(middle).items():
        a, b = np.array(getattr(bd.SKILLED, name), float), np.array(getattr(body, name), float)
        assert np.array(value, float) == pytest.approx((a + b) / 2)


def test_the_models_frames_are_rotations(skilled):
    trunk = skilled.truth.trunk
    for r in (trunk.r_pelvis, trunk.r_thorax, skilled.body.r_head):
        some = r[:: len(r) // 50]
        assert Rotation.from_matrix(some).as_matrix() == pytest.approx(some, abs=1e-9)
