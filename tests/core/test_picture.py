"""The page's picture: of the first priority's own measure, with what it rests on."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from finearc.core.judging.ranges import Judged, Verdict
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Moment
from finearc.reports.picture import WIDTH, drawn, rests_on
from finearc.reports.voice import Voice

PLAIN = Voice(left_handed=False, plain=True)
TIMES = {"address": 0.0, "takeaway": 0.2, "top": 1.0, "arm_level_down": 1.15, "impact": 1.3}


def read(metric, moment, value, low=None, high=None):
    measured = Measured(metric, Moment(moment), value, 0.01)
    judged = {(metric.id, moment): Judged(measured, None, low, high, Verdict.HIGH, "")}
    return SimpleNamespace(judgement=SimpleNamespace(judged=judged), checkpoints=TIMES)


def columns(key, values):
    return {"time_s": np.linspace(0.0, 1.6, 161), key: np.asarray(values, dtype=float)}


def test_a_value_at_a_checkpoint_stands_there():
    rests = rests_on(
        read(m.LEAD_WRIST_EXTENSION, "top", np.deg2rad(38.0)), m.LEAD_WRIST_EXTENSION, "top", {}, "", PLAIN
    )
    assert (rests.from_s, rests.to_s) == (1.0, 1.0)
    assert rests.words == "Wrist cup at top: 38° cupped"


def test_a_change_goes_from_one_checkpoint_to_the_other():
    moment = "address..top"
    rests = rests_on(
        read(m.POSTURE_FROM_GROUND, moment, np.deg2rad(11.0)), m.POSTURE_FROM_GROUND, moment, {}, "", PLAIN
    )
    assert (rests.from_s, rests.to_s) == (0.0, 1.0)
    assert rests.words.endswith("address to top: 11° more upright")


def test_a_time_goes_from_its_checkpoint_to_the_instant():
    rests = rests_on(read(m.RETURN_TIME, "top", 0.07, -0.25, -0.05), m.RETURN_TIME, "top", {}, "", PLAIN)
    assert (rests.from_s, rests.to_s) == (1.0, pytest.approx(1.07))
    assert rests.words == "Pressure starts back: 0.07 s after top"
    assert rests.band_s == pytest.approx((0.75, 0.95))


def test_a_share_of_the_hinge_goes_from_where_most_was_there():
    key = m.LEAD_WRIST_DEVIATION.id
    hinge = columns(key, 20.0 * np.exp(-(((np.linspace(0.0, 1.6, 161) - 0.9) / 0.2) ** 2)))
    rests = rests_on(read(m.HINGE_HELD, "swing", 0.66), m.HINGE_HELD, "swing", hinge, key, PLAIN)
    assert (rests.from_s, rests.to_s) == (pytest.approx(0.9, abs=0.011), 1.15)


def test_what_is_of_the_whole_swing_rests_nowhere():
    assert rests_on(read(m.TEMPO, "swing", 4.0), m.TEMPO, "swing", {}, "", PLAIN) is None


def test_the_ends_lie_on_the_line():
    key = m.LEAD_WRIST_EXTENSION.id
    block = columns(key, np.linspace(0.0, 40.0, 161))
    made = drawn(
        block,
        key,
        TIMES,
        rests_on(read(m.LEAD_WRIST_EXTENSION, "top", 0.4), m.LEAD_WRIST_EXTENSION, "top", {}, key, PLAIN),
        PLAIN,
    )
    (end,) = made["rests"]
    points = [tuple(float(v) for v in p.split(",")) for p in made["line"].split()]
    assert min(np.hypot(end[0] - a, end[1] - b) for a, b in points) < 2.0
    assert end[0] == pytest.approx(WIDTH * (1.0 - 0.1) / (1.42 - 0.1), abs=0.2)
    assert made["rests_words"].startswith("Wrist cup at top")
    assert drawn(block, key, TIMES, None, PLAIN)["rests"] == []
