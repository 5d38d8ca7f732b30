"""What stands on each foot as frames come, against what the batch reads of the same mat."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.live.gridding import Grid
from finearc.core.live.ground import AHEAD_S, GroundState, new_loads
from finearc.core.live.take import LiveTake
from finearc.core.metrics import registry as m
from finearc.core.pressure.clean import read_mat
from finearc.core.sources.ground_view import view_swing
from finearc.core.sources.kind import Setting
from finearc.golfer.scenarios import play
from finearc.services.modelled import mat_of

CLOSE = {m.LEAD_SHARE: 0.003, m.STANCE_POSITION: 0.004, m.LEAD_HEEL_TOE: 0.008, m.TRAIL_HEEL_TOE: 0.008}


def recorded(name, seed=6, **options):
    rec = play(name, seed, sources=("wrist", "pressure"), **options)
    return rec, mat_of(rec)


def part(mat, rows):
    return replace(mat, time_s=mat.time_s[rows], pressure_kpa=mat.pressure_kpa[rows])


def shown(mat, rows_of=4, state=None):
    """All that was given, by metric: instants and values; each with how far the frames had come then."""
    state, out, came = state or GroundState(), {}, []
    for k in range(0, len(mat.time_s), rows_of):
        now = slice(k, k + rows_of)
        for trace in new_loads(state, part(mat, now)):
            times, values = out.setdefault(trace.metric, ([], []))
            times.append(trace.time_s)
            values.append(trace.values)
            came.append((float(trace.time_s[-1]), float(mat.time_s[now][-1])))
    return {k: (np.concatenate(t), np.concatenate(v)) for k, (t, v) in out.items()}, came


@pytest.mark.parametrize(
    ("name", "hand"), [("good-load", Hand.RIGHT), ("far-forward", Hand.RIGHT), ("no-load", Hand.LEFT)]
)
def test_each_swing_is_what_the_batch_reads(name, hand):
    rec, mat = recorded(name, hand=hand)
    live, came = shown(mat)
    assert set(live) == set(CLOSE)
    motion = read_mat(mat)
    for swing in rec.swings:
        view = view_swing(motion, tuple(swing))
        batch = {t.metric: t.values for _, t in view.traces(view.address, {})}
        for metric, close in CLOSE.items():
            times, values = live[metric]
            inside = (view.time_s > times[0]) & (view.time_s < times[-1])
            there = inside & np.isfinite(batch[metric]) & np.isfinite(np.interp(view.time_s, times, values))
            off = (np.interp(view.time_s, times, values) - batch[metric])[there]
            assert there.sum() > 50
            assert np.sqrt(np.mean(off**2)) < close, (metric.id, swing)
    late = [now - told for told, now in came]
    assert max(late) < AHEAD_S + 5 * mat.step_s  # nothing is held back longer than its smoothing asks


def test_each_instant_is_given_once_whatever_comes_together():
    _, mat = recorded("good-load")
    few, _ = shown(mat, 3)
    many, _ = shown(mat, 16)
    for metric in CLOSE:
        for times, _ in (few[metric], many[metric]):
            assert (np.diff(times) > 0).all()
        common = np.intersect1d(few[metric][0], many[metric][0])
        a, b = (np.interp(common, *x[metric]) for x in (few, many))
        settled = common > common[0] + 1.0
        assert np.sqrt(np.nanmean(np.square(a - b)[settled])) < CLOSE[metric]


def test_nothing_is_said_before_both_feet_stand_still_nor_after_stepping_off():
    _, mat = recorded("good-load")
    live, _ = shown(mat)
    assert live[m.LEAD_SHARE][0][0] > mat.time_s[0] + 0.3
    off = np.zeros((100, mat.grid.cells), dtype=np.float32)
    state = GroundState()
    shown(mat, state=state)
    gone = replace(mat, time_s=mat.time_s[-1] + 0.01 * np.arange(1, 101), pressure_kpa=off)
    after, _ = shown(gone, state=state)
    assert state.standing is None
    assert not after or after[m.LEAD_SHARE][0][-1] < mat.time_s[-1] + 0.4


def test_who_stands_on_one_foot_is_given_no_share():
    _, mat = recorded("one-foot")
    assert shown(mat)[0] == {}


def test_across_a_gap_nothing_is_smoothed():
    _, mat = recorded("good-load")
    lost = (mat.time_s > 12.0) & (mat.time_s < 12.3)
    live, _ = shown(part(mat, ~lost))
    times, values = live[m.LEAD_SHARE]
    assert not ((times > 12.0 - AHEAD_S / 2) & (times < 12.3)).any()
    whole_t, whole_v = shown(mat)[0][m.LEAD_SHARE]
    after = times > 12.8
    assert np.abs(np.interp(times, whole_t, whole_v) - values)[after].max() < 0.01


def test_a_mat_on_a_clock_of_its_own_waits_for_the_batch():
    _, mat = recorded("good-load")
    take = LiveTake(Setting(), Grid(0.0, 0.005), [])
    for k in range(0, 1500, 4):
        take.tread(replace(part(mat, slice(k, k + 4)), own_clock=True))
    assert take.new_values() == []
    for k in range(0, 1500, 4):
        take.tread(part(mat, slice(k, k + 4)))
    assert {t.metric for t in take.new_values()} == set(CLOSE)
