"""The upper arm's sensor: one pose more, refused when it does not show what it must, and never in the wrist's way."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.kinematics.pronation import pronation
from finearc.core.metrics import registry as m
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial import INERTIAL, NOT_LIFTED
from finearc.formats.bundle import bundle_files, read_files
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

DOWN, AHEAD, LEAD = np.array([0.0, 0.0, -1.0]), np.array([1.0, 0.0, 0.0]), np.array([0.0, 1.0, 0.0])


@pytest.mark.parametrize(
    ("d", "thumb", "degrees"),
    [
        (DOWN, LEAD, 0.0),  # hanging, palm ahead
        (DOWN, AHEAD, 90.0),  # hanging, thumb ahead
        (AHEAD, LEAD, 0.0),  # bent by 90 degrees, palm up
        (AHEAD, -DOWN, 90.0),  # thumb up
        (AHEAD, -LEAD, 180.0),  # palm down
    ],
)
def test_pronation_of_plain_positions(d, thumb, degrees):
    """Hand-worked: the lead elbow's lateral side is the lead side while the upper arm hangs beside the body."""
    back = np.cross(thumb, d)
    forearm = np.column_stack([d, back, thumb])[None]
    assert abs(np.rad2deg(pronation(LEAD[None], forearm)[0])) == pytest.approx(degrees, abs=1e-9)
    if degrees == 90.0:
        assert pronation(LEAD[None], forearm)[0] > 0.0


@pytest.fixture(scope="module")
def worn():
    return capture_of(play("hold-then-flex", 5, sources=("wrist", "upper-arm")))


def pronations(data):
    return [v for v in an.read(data).swings[0].measured if v.metric is m.FOREARM_PRONATION]


def test_without_its_pose_the_wrist_is_measured_and_pronation_is_missing_with_its_reason(worn):
    swing = an.analyse(replace(worn, lifted=None)).swings[0]
    assert swing.missing["forearm_pronation"] == NOT_LIFTED
    assert any(v.metric is m.LEAD_WRIST_EXTENSION for v in swing.reading.measured)
    assert pronations(worn)


@pytest.mark.parametrize(
    ("pose", "words"), [("raised", "the upper arm was lifted by"), ("flat", "the forearm pointed")]
)
def test_a_pose_that_does_not_show_it_is_refused_in_words(worn, pose, words):
    window = next((p.start_s, p.end_s) for p in worn.poses if p.kind == pose)
    analysis = an.analyse(replace(worn, lifted=window))
    assert words in analysis.swings[0].missing["forearm_pronation"]
    assert any(words in note for note in analysis.reading.notes)


def test_a_gap_in_its_recording_leaves_it_open_and_nothing_else(worn):
    """Behind a long gap its heading is unknown until the next pose."""

    def cut(s):
        if s.segment is not Segment.LEAD_UPPER_ARM:
            return s
        seen = (s.time_s < worn.lifted[1] + 0.3) | (s.time_s > worn.lifted[1] + 0.8)
        return replace(s, time_s=s.time_s[seen], acc_m_s2=s.acc_m_s2[seen], gyr_rad_s=s.gyr_rad_s[seen])

    gapped = worn.with_stream(INERTIAL, tuple(cut(s) for s in worn.streams[INERTIAL]))
    swing, whole = (an.read(data).swings[0] for data in (gapped, worn))
    assert not [v for v in swing.measured if v.metric is m.FOREARM_PRONATION]
    cups = [[v.value for v in s.measured if v.metric is m.LEAD_WRIST_EXTENSION] for s in (swing, whole)]
    assert cups[0] == cups[1]


def test_its_window_travels_in_a_bundle(worn):
    again = read_files(bundle_files(worn))
    assert again.lifted == pytest.approx(worn.lifted)
    assert [v.value for v in pronations(again)] == pytest.approx([v.value for v in pronations(worn)], abs=1e-3)


def test_twins_of_either_hand_are_pronated_alike():
    twins = [pronations(capture_of(play("hold-then-flex", 5, sources=("wrist", "upper-arm"), hand=h))) for h in Hand]
    assert [v.value for v in twins[0]] == pytest.approx([v.value for v in twins[1]], abs=1e-9)
