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
    before = ups(sensors, ARM, sensors.front(ARM))
    state = HoldingState(before=before)  # two seconds later the sensor is back: nobody saw the arm go up
    found, _ = watched(state, PoseAsked("raised", ARM), sensors, at_s + 2.0, HOLD_S + 3.0, tilt_deg)
    assert (found is not None) is is_held


def test_without_a_pose_before_a_still_player_is_waited_for():
    sensors = LiveSensors.of(Grid(0.0, 1 / RATE_HZ), ARM)
    found, _ = watched(HoldingState(), PoseAsked("raised", ARM), sensors, 0.0, 5.0, 90.0)
    assert found is None
