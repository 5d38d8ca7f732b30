"""The figure: joints where the markers are, limbs that are measured, the rest faint and in proportion."""

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy.spatial.transform import Rotation

from finearc.core.frames.handedness import Hand
from finearc.core.sources.figure import SEEN_BY, Part, bent_joint, figure_of
from finearc.core.sources.optical_view import OpticalView
from finearc.golfer.scenarios import play
from finearc.golfer.whole import head_of
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of
from finearc.services.record.blocks import figure_columns, pack_traces, unpack_traces
from finearc.services.record.making import figure_info

WRIST = {Part.LEAD_FOREARM, Part.LEAD_HAND}


def figure(name="free-pelvis", sources=("markers",), seed=3, hand=Hand.RIGHT, height=1.78):
    reading = an.read(capture_of(play(name, seed, sources=sources, hand=hand)))
    return figure_of(reading.swings[0], height), reading


@pytest.mark.parametrize(
    ("name", "sources", "measured", "placed"),
    [
        ("free-pelvis", ("markers",), set(Part), True),
        ("no-pelvis", ("markers",), set(Part) - {Part.PELVIS, Part.LEAD_THIGH, Part.TRAIL_THIGH}, True),
        ("free-pelvis", ("wrist",), WRIST, False),
        ("free-pelvis", ("wrist", "club", "body"), WRIST | {Part.PELVIS, Part.UPPER_BODY, Part.HEAD}, False),
        ("free-pelvis", ("body",), {Part.PELVIS, Part.UPPER_BODY, Part.HEAD}, False),
    ],
)
def test_only_what_a_source_saw_is_measured(name, sources, measured, placed):
    drawn, _ = figure(name, sources)
    assert drawn.measured == measured
    assert set(drawn.faint) == set(Part) - measured
    assert drawn.placed is placed
    assert bool(drawn.note) is (measured != set(Part))


def test_every_part_has_both_its_ends_whatever_was_seen():
    for sources in (("markers",), ("wrist",), ("body",)):
        drawn, _ = figure(sources=sources)
        for ends in SEEN_BY.values():
            for end in ends:
                assert drawn.points[end].shape == (len(drawn.time_s), 3)
        whole = [p for p in drawn.points.values() if np.isfinite(p).all()]
        assert len(whole) >= 0.9 * len(drawn.points)


def test_joints_of_markers_are_the_measured_ones():
    drawn, reading = figure()
    joints = reading.swings[0].view(OpticalView).pose.joints
    assert np.array_equal(drawn.points["lead_knee"], joints["lead_knee"], equal_nan=True)
    assert np.array_equal(drawn.points["club_head"], joints["club_head"], equal_nan=True)


def test_default_limbs_are_in_proportion_to_height():
    small, _ = figure(sources=("wrist",), height=1.40)
    large, _ = figure(sources=("wrist",), height=1.90)
    for a, b in (("lead_shoulder", "lead_elbow"), ("lead_hip", "lead_knee"), ("pelvis", "neck")):
        lengths = [np.linalg.norm(f.points[a][0] - f.points[b][0]) for f in (small, large)]
        assert lengths[0] / lengths[1] == pytest.approx(1.40 / 1.90, rel=0.02)
    assert "1.40 m" in small.note


def test_a_sensor_figure_turns_its_shoulders_with_the_measured_turn():
    drawn, reading = figure(sources=("wrist", "body"))
    line = drawn.points["lead_shoulder"] - drawn.points["trail_shoulder"]
    turn = np.unwrap(np.arctan2(line[:, 0], line[:, 1]))
    assert np.rad2deg(np.abs(turn - reading.swings[0].traces["thorax_turn"]).max()) < 0.5


def test_the_head_looks_where_its_sensor_says():
    recording = play("free-pelvis", 3, sources=("wrist", "body"))
    reading = an.read(capture_of(recording))
    drawn = figure_of(reading.swings[0], 1.78)
    looks = drawn.points["face"] - drawn.points["head"]
    true, _ = head_of(recording.truth)
    for name in ("top", "impact"):
        at = recording.truth.swings[0].times_s[name]
        k, j = int(np.searchsorted(drawn.time_s, at)), round(at * 1000)
        tipped = Rotation.from_euler("Y", -4, degrees=True)  # upright, the model's head looks 4° down: that is the zero
        cosine = looks[k] @ (true[j] @ tipped.apply([1, 0, 0])) / np.linalg.norm(looks[k])
        assert np.rad2deg(np.arccos(min(1.0, cosine))) < 3.0


def test_feet_stand_on_the_ground_and_the_head_is_on_top():
    for sources in (("markers",), ("wrist",), ("body",)):
        drawn, _ = figure(sources=sources)
        at = {k: v[5] for k, v in drawn.points.items()}
        assert -0.05 < at["lead_heel"][2] < 0.12
        assert 1.4 < at["crown"][2] < 1.95
        assert at["lead_hip"][1] > at["trail_hip"][1]
        assert at["face"][0] > at["head"][0]


def test_left_handers_are_computed_as_right_handers():
    right, _ = figure(sources=("wrist", "body"), seed=5)
    left, _ = figure(sources=("wrist", "body"), seed=5, hand=Hand.LEFT)
    for name in ("lead_wrist", "lead_shoulder", "club_head"):
        assert left.points[name] == pytest.approx(right.points[name], abs=1e-6)


LENGTH = st.floats(0.2, 0.5)


@given(LENGTH, LENGTH, st.floats(0.05, 0.95), st.floats(-1, 1))
def test_two_links_keep_their_lengths_and_bend_the_way_they_are_told(first, second, share, tilt):
    reach = abs(first - second) + 0.02 + share * (first + second - abs(first - second) - 0.04)
    start, end = np.zeros((1, 3)), np.array([[0.0, 0.1 * tilt, -1.0]])
    end = end / np.linalg.norm(end) * reach
    joint = bent_joint(start, end, first, second, np.array([1.0, 0.0, 0.0]))
    assert np.linalg.norm(joint) == pytest.approx(first, rel=1e-6)
    assert np.linalg.norm(joint - end) == pytest.approx(second, rel=1e-6)
    assert joint[0, 0] >= 0


def test_links_that_do_not_reach_are_straight():
    joint = bent_joint(np.zeros((1, 3)), np.array([[0, 0, -2.0]]), 0.4, 0.4, np.array([1.0, 0, 0]))
    assert joint[0] == pytest.approx([0, 0, -0.4], abs=1e-6)


def test_the_figure_is_stored_and_comes_back():
    drawn, _ = figure()
    back = unpack_traces(pack_traces(figure_columns(drawn)))
    assert back["lead_knee_z"] == pytest.approx(drawn.points["lead_knee"][:, 2], abs=1e-5)
    assert figure_info(drawn).measured == tuple(sorted(Part))
