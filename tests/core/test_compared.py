"""Two traces laid over each other: shifts, intensities and shapes that are known."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.comparing.compared import MetricCompared, compare_sides
from finearc.core.comparing.seen import SwingSeen
from finearc.core.comparing.traces import (
    NODES,
    PHASES,
    Intensity,
    SwingTrace,
    group_shift,
    intensity,
    mean_in_real_time,
    peak_rate,
    shape_rms,
    stretched,
    time_shift,
    top_node,
)
from finearc.core.comparing.words import said, sentences
from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics import registry as m
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

DOWNSWING = PHASES[1]
NOISE_RAD = np.deg2rad(0.05)
"""From sample to sample: what sensors of this kind leave after they are fused; what drifts slowly shifts nothing."""


@pytest.fixture(scope="module")
def truth():
    return play("hold-then-flex", 5).truth


def traced(truth, swing=0, *, later_s=0.0, factor=1.0, seed=None):
    """The true wrist extension of a swing at 200 Hz, its course later or larger by so much; ``seed``: with noise."""
    of = truth.swings[swing]
    time_s = np.arange(of.times_s["address"] - 0.3, of.times_s["impact"] + 0.4, 0.005)
    values = np.interp(time_s - later_s, truth.time_s, truth.extension)
    values = values.mean() + factor * (values - values.mean())
    if seed is not None:
        values = values + np.random.default_rng(seed).normal(0.0, NOISE_RAD, len(values))
    events = {c: Event(of.times_s[c.value], 0.002, "truth", 1.0) for c in Checkpoint if c.value in of.times_s}
    return SwingTrace(m.LEAD_WRIST_EXTENSION, time_s, values, events)


@pytest.mark.parametrize("shift_ms", [-60.0, -20.0, -3.0, 0.0, 7.0, 35.0, 60.0])
def test_a_known_shift_is_found(truth, shift_ms):
    later = traced(truth, later_s=shift_ms / 1000.0, seed=1)
    found = time_shift(later, traced(truth, seed=2), Checkpoint.ARM_LEVEL_DOWN)
    assert 1000.0 * found.shift_s == pytest.approx(shift_ms, abs=3.0)
    back = time_shift(traced(truth, seed=2), later, Checkpoint.ARM_LEVEL_DOWN)
    assert back.shift_s == pytest.approx(-found.shift_s, abs=0.004)
    assert 0.002 < found.sd_s < 0.006


@pytest.mark.parametrize("factor", [0.7, 1.0, 1.4])
def test_a_known_intensity_is_found(truth, factor):
    groups = [[traced(truth, k, factor=f, seed=10 * k + 1) for k in range(4)] for f in (factor, 1.0)]
    found = intensity(*groups, *DOWNSWING)
    assert found.ratio == pytest.approx(factor, rel=0.03)
    assert found.sd < 0.2


def test_a_shift_scattered_in_time_does_not_flatten_the_intensity(truth):
    """Against the peak of a mean trace it would be biased: the mean of scattered peaks is lower than each."""
    scattered = [traced(truth, later_s=s) for s in (-0.03, -0.01, 0.01, 0.03)]
    assert intensity(scattered, [traced(truth)], *DOWNSWING).ratio == pytest.approx(1.0, abs=0.02)
    mean = mean_in_real_time(scattered)
    assert peak_rate(mean, *DOWNSWING) < 0.97 * peak_rate(traced(truth), *DOWNSWING)


def test_a_group_is_shifted_by_the_mean_of_its_swings(truth):
    shifts = (0.010, 0.020, 0.030, 0.020)
    group = [traced(truth, later_s=s, seed=k) for k, s in enumerate(shifts)]
    found = group_shift(group, [traced(truth, seed=50 + k) for k in range(4)], Checkpoint.ARM_LEVEL_DOWN)
    assert found.shift_s == pytest.approx(0.020, abs=0.003)
    scatter = np.std(shifts, ddof=1) / 2.0
    assert scatter * 0.8 < found.sd_s < scatter + 0.004


def test_nothing_is_told_of_courses_that_are_not_alike_nor_where_nothing_moves(truth):
    other = traced(truth)
    noise = replace(other, values=np.random.default_rng(1).normal(0.0, 0.3, len(other.time_s)))
    assert time_shift(noise, other, Checkpoint.ARM_LEVEL_DOWN) is None
    flat = replace(other, values=np.full(len(other.time_s), 0.2))
    assert time_shift(other, flat, Checkpoint.ARM_LEVEL_DOWN) is None
    assert peak_rate(flat, *DOWNSWING) is None
    gone = replace(other, events={c: e for c, e in other.events.items() if c is not Checkpoint.IMPACT})
    assert time_shift(gone, other, Checkpoint.TOP) is None
    ramp = replace(other, values=np.exp(3.0 * (other.time_s - other.time_s[0])))
    assert peak_rate(ramp, *DOWNSWING) is None  # fastest at the end: no maximum of its own


def test_stretched_time_lays_checkpoints_over_each_other(truth):
    a, b = traced(truth, 0), traced(truth, 1)
    top = top_node(([a], [b]))
    for trace in (a, b):
        course = stretched(trace, top)
        assert len(course) == NODES
        for node, c in ((0, Checkpoint.TAKEAWAY), (top, Checkpoint.TOP), (NODES - 1, Checkpoint.IMPACT)):
            at = np.interp(trace.events[c].time_s, trace.time_s, trace.values)
            assert course[node] == pytest.approx(at, abs=1e-9)


def test_shape_is_what_mean_and_intensity_leave():
    x = np.linspace(0.0, 1.0, 101)
    course = np.sin(2 * np.pi * x)
    assert shape_rms(0.3 + 1.7 * course, course) == pytest.approx(0.0, abs=1e-12)
    other = np.cos(2 * np.pi * x[:-1])  # over a whole period orthogonal to the sine
    assert shape_rms(course[:-1] + 0.1 * other, course[:-1]) == pytest.approx(0.1 / np.sqrt(2.0), rel=1e-6)
    assert shape_rms(np.full(101, np.nan), course) is None


@pytest.fixture(scope="module")
def sides():
    readings = [an.read(capture_of(play(name, 5))).swings for name in ("hold-then-flex", "over-extended")]
    return [[SwingSeen.of(r) for r in side] for side in readings]


def test_a_capture_against_itself_says_nothing(sides):
    for found in compare_sides(sides[0], sides[0], one_calibration=True):
        assert sentences(found) == []
        assert all(v.difference == 0.0 for v in found.values)
        assert all(abs(s.shift_s) < 0.001 for s in found.shifts) or len(sides[0]) > 1


def test_a_cupped_wrist_against_one_that_is_not_is_said_first_one_way_then_the_other(sides):
    (more,) = [
        c for c in compare_sides(sides[1], sides[0], one_calibration=False) if c.metric is m.LEAD_WRIST_EXTENSION
    ]
    (less,) = [
        c for c in compare_sides(sides[0], sides[1], one_calibration=False) if c.metric is m.LEAD_WRIST_EXTENSION
    ]
    top = {v.moment.key: v for v in more.values}["top"]
    assert top.difference > 2.0 * top.uncertainty > 0.0
    assert any("more extended" in s or "more cupped" in s for s in sentences(more)), sentences(more)
    assert any("more flexed" in s or "more bowed" in s or "less" in s for s in sentences(less)), sentences(less)
    one = {c.metric: c for c in compare_sides(sides[1], sides[0], one_calibration=True)}[m.LEAD_WRIST_EXTENSION]
    assert {v.moment.key: v for v in one.values}["top"].uncertainty < top.uncertainty


def test_where_two_lags_are_as_likely_no_shift_is_told(truth):
    """A movement that repeats itself every 60 ms is as alike one repetition later."""
    one = traced(truth)
    waves = np.deg2rad(20.0) * np.sin(2 * np.pi * (one.time_s - one.impact_s) / 0.06)
    repeating = replace(one, values=waves)
    assert time_shift(repeating, repeating, Checkpoint.ARM_LEVEL_DOWN) is None


def test_harder_is_less_certain_across_two_calibrations(sides):
    """An axis that lies a little off sees a part of the motion about its neighbour."""
    within, across = (
        {c.metric: c for c in compare_sides(sides[0], sides[1], one_calibration=same)}[m.LEAD_WRIST_EXTENSION]
        for same in (True, False)
    )
    for one, two in zip(within.intensity, across.intensity, strict=True):
        assert two.ratio == one.ratio
        assert two.sd > 1.5 * one.sd


def test_what_has_no_uncertainty_is_the_clearest():
    """Two sides of one simulated swing may have exactly the same intensity twice: no division by nothing."""
    exact = Intensity(Checkpoint.TOP, Checkpoint.IMPACT, 1.5, 0.0)
    rough = Intensity(Checkpoint.TAKEAWAY, Checkpoint.TOP, 2.0, 0.3)
    one = MetricCompared(m.BY_ID["lead_wrist_extension"], (), (), (rough, exact), None, (), ())
    assert said(one, plain=False) == ["harder in the downswing, 1.5 times as fast"]
