"""Poses told as samples come: held where the player has moved there, seen or not, and not where nobody moved."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.live.gridding import Grid
from finearc.core.live.holding import HOLD_S, UNMOVED_S, HoldingState, PoseAsked, held, ups
from finearc.core.live.sensors import LiveSensors
from finearc.core.signals.streams import Segment

RATE_HZ = 200
ARM = (Segment.LEAD_FOREARM,)


def still(sensors, start_s, seconds, tilt_deg):
    """A sensor at rest, tilted about its x axis."""
    time_s = start_s + np.arange(round(seconds * RATE_HZ)) / RATE_HZ
    up = Rotation.from_euler("x", -tilt_deg, degrees=True).apply([0.0, 0.0, 9.81])
    sensors.take_in(ARM[0], time_s, np.tile(up, (len(time_s), 1)), np.zeros((len(time_s), 3)))
    return float(time_s[-1]) + 1.0 / RATE_HZ


def watched(state, asked, sensors, start_s, seconds, tilt_deg):
    """The window that was told while the sensor lay still there, or None."""
    at_s, end_s, found = start_s, start_s + seconds, None
    while at_s < end_s and found is None:
        at_s = still(sensors, at_s, 0.05, tilt_deg)
        found = held(asked, state, sensors, sensors.front(ARM))
    return found, at_s


@pytest.mark.parametrize(("tilt_deg", "is_held"), [(90.0, True), (40.0, True), (0.0, False), (10.0, False)])
def test_a_pose_that_was_reached_while_its_sensor_was_away_is_held(tilt_deg, is_held):
    sensors = LiveSensors.of(Grid(0.0, 1 / RATE_HZ), ARM)
    first, at_s = watched(HoldingState(), PoseAsked("flat", ARM, first=True), sensors, 0.0, UNMOVED_S + 1.0, 0.0)
    assert first is not None
    before = ups(sensors, ARM)
    state = HoldingState(before=before)  # two seconds later the sensor is back: nobody saw the arm go up
    found, _ = watched(state, PoseAsked("raised", ARM), sensors, at_s + 2.0, HOLD_S + 3.0, tilt_deg)
    assert (found is not None) is is_held


def test_without_a_pose_before_a_still_player_is_waited_for():
    sensors = LiveSensors.of(Grid(0.0, 1 / RATE_HZ), ARM)
    found, _ = watched(HoldingState(), PoseAsked("raised", ARM), sensors, 0.0, 5.0, 90.0)
    assert found is None


def test_a_sensor_that_is_behind_does_not_answer_with_what_was_before_the_pose_was_asked_for():
    """The trunk's sensors have told that the bow is held; the arm's, behind by four seconds, still tell how the arm went
    down for it and hung there."""
    sensors = LiveSensors.of(Grid(0.0, 1 / RATE_HZ), ARM)
    asked, late, prompt = PoseAsked("flat", ARM), HoldingState(asked_s=6.0), HoldingState()
    at_s = still(sensors, 0.0, 2.0, 0.0)
    turned_s = at_s + np.arange(RATE_HZ // 2) / RATE_HZ
    turn = Rotation.from_euler("x", -180.0 * (turned_s - at_s)[:, None], degrees=True)
    rate = np.tile([np.pi, 0.0, 0.0], (len(turned_s), 1))
    sensors.take_in(ARM[0], turned_s, turn.apply([0.0, 0.0, 9.81]), rate)
    for state in (late, prompt):
        assert held(asked, state, sensors, sensors.front(ARM)) is None
    assert prompt.moved
    assert not late.moved
    at_s = float(turned_s[-1]) + 1.0 / RATE_HZ
    told = None
    while at_s < 9.0:
        at_s = still(sensors, at_s, 0.05, 90.0)
        told = told or held(asked, prompt, sensors, sensors.front(ARM))
        assert held(asked, late, sensors, sensors.front(ARM)) is None
    assert told is not None  # so it would be, had it been asked before


def test_a_sensor_whose_clock_is_behind_answers_all_the_same():
    """By its clock the arm went down before that was asked for: how it hangs now says that it has moved."""
    sensors = LiveSensors.of(Grid(0.0, 1 / RATE_HZ), ARM)
    at_s = still(sensors, 0.0, 3.0, 60.0)
    before = ups(sensors, ARM)
    asked, state = PoseAsked("address", ARM), HoldingState(6.0, before=before)
    found, end_s = watched(state, asked, sensors, at_s + 1.0, 5.0, 0.0)
    assert found is not None
    assert found[0] >= 6.0
    assert end_s < 9.0
