"""A mat with a clock of its own: brought onto the others' by a heel tap, by impact, by hand, or not at all."""

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.metrics import registry as m
from finearc.core.pressure.sync import NOT_SET, taps_felt, taps_on_mat
from finearc.core.sources.ground import MAT
from finearc.core.sources.inertial import INERTIAL
from finearc.golfer.scenarios import Scenario, play, play_story, scenario
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

TAPPED = ("wrist,body,pressure", "body,club,pressure")


@pytest.fixture(scope="module", params=TAPPED)
def tapped(request):
    recording = play("own-clock", 8, sources=request.param.split(","))
    return recording, an.read(capture_of(recording))


def test_a_heel_tap_sets_the_clock(tapped):
    recording, reading = tapped
    error = reading.offset.shift_s - recording.mat.quirks.clock_s
    assert abs(error) < 0.015
    assert abs(error) < 3 * reading.offset.sd_s
    assert "heel tap" in reading.notes[1] or any("heel tap" in n for n in reading.notes)


def test_timings_on_the_set_clock_are_those_of_a_shared_one(tapped):
    recording, reading = tapped
    data = capture_of(recording)
    shared = data.with_stream(
        MAT, replace(data.streams[MAT], time_s=data.streams[MAT].time_s + recording.mat.quirks.clock_s, own_clock=False)
    )
    for own, true in zip(reading.swings, an.read(shared).swings, strict=True):
        one, other = ({(v.metric, v.moment.key): v for v in s.measured} for s in (own, true))
        for key in ((m.RETURN_TIME, "top"), (m.EVEN_TIME, "top")):
            assert one[key].value == pytest.approx(other[key].value, abs=0.018)
            assert one[key].uncertainty > other[key].uncertainty


def test_the_tap_is_found_where_it_was():
    recording = play("own-clock", 8, sources=("wrist", "body", "pressure"))
    reading = an.read(capture_of(recording))
    true = recording.truth.swings[0].start_s - 0.5
    on_mat = taps_on_mat(reading.motions.get(MAT).ground)
    assert min(abs(t - true) for t in on_mat) < 0.015
    pelvis = next(iter(reading.motions.get(INERTIAL).sensors.trunk.values()))
    assert min(abs(t - true) for t in taps_felt(pelvis)) < 0.008


def test_a_session_without_a_tap_is_set_by_impact_and_says_how_well():
    recording = play("own-clock-no-tap", 8, sources=("wrist", "pressure"))
    reading = an.read(capture_of(recording))
    error = reading.offset.shift_s - recording.mat.quirks.clock_s
    assert abs(error) < 2 * reading.offset.sd_s
    assert reading.offset.sd_s >= 0.04
    assert any("set by impact" in n and "Tap a heel" in n for n in reading.notes)


def test_late_or_early_by_more_than_a_swing_is_found_too():
    story = replace(scenario("own-clock-no-tap"), mat={"clock_s": 4.3})
    recording = play_story(story, 8, sources=("wrist", "pressure"))
    assert an.read(capture_of(recording)).offset.shift_s == pytest.approx(4.3, abs=0.1)


def test_by_hand_it_is_what_the_instructor_said():
    data = capture_of(play("own-clock", 8, sources=("wrist", "pressure")))
    reading = an.read(data.with_stream(MAT, replace(data.streams[MAT], shift_s=0.4)))
    assert reading.offset.shift_s == 0.4
    assert any("by hand" in n for n in reading.notes)


def test_a_shared_clock_is_left_alone_unless_shifted():
    data = capture_of(play("good-load", 8, sources=("wrist", "pressure")))
    assert an.read(data).offset is None
    shifted = an.read(data.with_stream(MAT, replace(data.streams[MAT], shift_s=0.05)))
    one, other = ({(v.metric, v.moment.key): v.value for v in r.swings[0].measured} for r in (an.read(data), shifted))
    assert other[m.RETURN_TIME, "top"] - one[m.RETURN_TIME, "top"] == pytest.approx(0.05, abs=0.006)


def test_a_mat_alone_keeps_its_own_clock():
    reading = an.read(capture_of(play("own-clock", 8, sources=("pressure",))))
    assert reading.offset is None
    assert len(reading.swings) == 5


def test_nothing_to_set_it_by_is_said_and_the_mat_is_not_used():
    """Swings without a strike and without a tap, and a mat that saw nobody push: nothing in common."""
    quiet = Scenario((), "still", plan=scenario("on-heels-still").plan, mat={"clock_s": 0.2})
    data = capture_of(play_story(quiet, 8, sources=("wrist", "pressure")))
    reading = an.read(replace(data, swings=None), swings_expected=False)
    assert reading.motions.get(MAT) is None
    assert any(NOT_SET in n for n in reading.notes)


def test_spikes_need_to_be_short():
    """A step onto the mat is no tap."""
    recording = play("good-load", 8, sources=("wrist", "pressure"))
    reading = an.read(capture_of(recording))
    assert [t for t in taps_on_mat(reading.motions.get(MAT).ground) if t > 1.0] == []
    assert np.isfinite(reading.motions.get(MAT).ground.offset_sd_s)
