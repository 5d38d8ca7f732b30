"""Checking, mending and resampling of streams."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from finearc.core.errors import StreamError
from finearc.core.signals.grid import clean, moving_mean
from finearc.core.signals.streams import ImuStream, Segment, check_stream, check_units, clipped_runs


def stream(n=400, rate=200.0, turn=1.0, segment=Segment.LEAD_HAND):
    t = np.arange(n) / rate
    gyr = np.column_stack([turn * np.sin(6 * t), 0.2 * np.cos(3 * t), np.zeros(n)])
    acc = np.tile([0.0, 0.0, 9.81], (n, 1))
    return ImuStream(segment, t, acc, gyr, "lead_hand.csv")


def changed(s, **parts):
    values = {"time_s": s.time_s, "acc_m_s2": s.acc_m_s2, "gyr_rad_s": s.gyr_rad_s} | parts
    return ImuStream(s.segment, source=s.source, **values)


def test_exact_duplicates_are_dropped_and_counted():
    s = stream()
    doubled = ImuStream(
        s.segment, np.repeat(s.time_s, 2), np.repeat(s.acc_m_s2, 2, axis=0), np.repeat(s.gyr_rad_s, 2, axis=0), s.source
    )
    kept, count = check_stream(doubled)
    assert count == 400
    assert kept.time_s.tolist() == s.time_s.tolist()


def test_two_different_samples_at_one_time_name_the_row():
    s = stream()
    time_s = s.time_s.copy()
    time_s[11] = time_s[10]
    with pytest.raises(StreamError, match=r"lead_hand.csv, row 13: two different samples"):
        check_stream(changed(s, time_s=time_s))


def test_time_going_back_names_the_row_and_what_to_do():
    s = stream()
    time_s = s.time_s.copy()
    time_s[50] = 0.01
    with pytest.raises(StreamError) as caught:
        check_stream(changed(s, time_s=time_s))
    assert caught.value.place == "row 52"
    assert "Sort the rows" in str(caught.value)


@given(st.integers(0, 399), st.integers(0, 2), st.sampled_from([np.nan, np.inf, -np.inf]))
@settings(max_examples=30)
def test_a_value_that_is_no_number_is_named_by_row_and_column(row, axis, value):
    s = stream()
    gyr = s.gyr_rad_s.copy()
    gyr[row, axis] = value
    with pytest.raises(StreamError, match=rf"row {row + 2}, column gyr_{'xyz'[axis]}"):
        check_stream(changed(s, gyr_rad_s=gyr))


def test_one_row_is_not_a_recording():
    s = stream(1)
    with pytest.raises(StreamError, match="1 rows of data"):
        check_stream(s)


@pytest.mark.parametrize(("factor", "unit"), [(1 / 9.81, '"g"'), (100.0, "cm/s²")])
def test_wrong_units_of_force_are_recognised(factor, unit):
    s = stream()
    with pytest.raises(StreamError, match=unit):
        check_units(changed(s, acc_m_s2=s.acc_m_s2 * factor))


def test_degrees_taken_for_radians_are_recognised():
    s = stream(turn=12.0)
    with pytest.raises(StreamError, match="deg/s"):
        check_units(changed(s, gyr_rad_s=np.rad2deg(s.gyr_rad_s)))


def test_uneven_stamps_come_onto_an_even_grid():
    rng = np.random.default_rng(2)
    s = stream(600)
    time_s = s.time_s + np.clip(rng.normal(0, 4e-4, 600), -2e-3, 2e-3)
    gyr = np.column_stack([np.sin(6 * time_s), 0.2 * np.cos(3 * time_s), np.zeros(600)])
    out = clean([changed(s, time_s=time_s, gyr_rad_s=gyr)])[0]
    assert np.ptp(np.diff(out.time_s)) < 1e-9
    inner = slice(5, -5)
    assert out.gyr_rad_s[inner, 0] == pytest.approx(np.sin(6 * out.time_s[inner]), abs=1e-4)


def with_gap(start_s, end_s):
    s = stream(800)
    keep = ~((s.time_s > start_s) & (s.time_s < end_s))
    return changed(s, time_s=s.time_s[keep], acc_m_s2=s.acc_m_s2[keep], gyr_rad_s=s.gyr_rad_s[keep])


def test_a_gap_up_to_50_ms_is_filled_and_flagged():
    out = clean([with_gap(1.0, 1.04)])[0]
    assert out.valid.all()
    assert len(out.flags.filled_gaps) == 1
    assert out.flags.long_gaps == ()


def test_a_longer_gap_cuts_the_trace_there_and_only_there():
    out = clean([with_gap(1.0, 1.2)])[0]
    assert not out.valid[(out.time_s > 1.01) & (out.time_s < 1.19)].any()
    assert out.valid[(out.time_s < 0.99) | (out.time_s > 1.21)].all()


def test_saturated_rates_are_flagged_and_mended_toward_the_truth():
    t = np.arange(800) / 200.0
    true = 24.0 * np.exp(-0.5 * ((t - 2.0) / 0.08) ** 2)
    s = changed(stream(800), gyr_rad_s=np.column_stack([np.clip(true, -17.4, 17.4), 0 * t, 0 * t]))
    assert clipped_runs(s.gyr_rad_s).sum() > 5
    out = clean([s])[0]
    assert len(out.flags.clipped) == 1
    before = np.abs(np.clip(true, -17.4, 17.4) - true).max()
    after = np.abs(out.gyr_rad_s[:, 0] - np.interp(out.time_s, t, true)).max()
    assert after < 0.5 * before


def test_an_unsaturated_peak_is_not_flagged():
    assert not clipped_runs(stream(turn=15.0).gyr_rad_s).any()


def test_streams_that_never_overlap_are_refused():
    a, b = stream(), stream(segment=Segment.LEAD_FOREARM)
    with pytest.raises(StreamError, match="do not overlap"):
        clean([a, changed(b, time_s=b.time_s + 100.0)])


def test_too_slow_a_sensor_is_refused():
    with pytest.raises(StreamError, match="20 samples a second"):
        clean([stream(100, rate=20.0)])


def test_moving_mean_keeps_a_constant_and_averages_at_the_ends():
    assert moving_mean(np.full(9, 3.0), 5).tolist() == [3.0] * 9
    assert moving_mean(np.array([0.0, 3.0, 6.0]), 3).tolist() == [1.5, 3.0, 4.5]
