"""Gaps bridged, and samples put on a grid as they come exactly as all at once."""

import numpy as np
import pytest
from scipy.interpolate import CubicHermiteSpline

from finearc.core.live.gridding import Grid, GriddingState, put_on_grid
from finearc.core.signals.gaps import bridged

STEP = 0.005


def swing_like(t):
    """A pulse as a hand's rate has one, rad/s, and its integral at the end."""
    return 30.0 * np.exp(-(((t - 0.5) / 0.06) ** 2))


def test_without_a_gap_nothing_changes():
    t = np.arange(0, 1, STEP)
    same, values = bridged(t, swing_like(t)[:, None], STEP)
    assert np.array_equal(same, t)
    assert np.array_equal(values[:, 0], swing_like(t))


def test_a_gap_is_filled_by_the_cubic_that_keeps_both_slopes():
    """Against SciPy's Hermite spline with the slopes written by hand."""
    t = np.array([0.0, 0.005, 0.050, 0.055])
    v = np.array([[1.0], [2.0], [5.0], [4.0]])
    times, values = bridged(t, v, STEP)
    by_hand = CubicHermiteSpline([0.005, 0.050], [2.0, 5.0], [200.0, -200.0])
    inside = slice(2, -2)
    assert np.allclose(np.diff(times), STEP)
    assert np.allclose(values[inside, 0], by_hand(times[inside]))


@pytest.mark.parametrize("start", range(84, 104, 2))
def test_the_turn_across_a_gap_of_40_ms_is_kept_far_better_than_by_a_straight_line(start):
    """Eight samples lost at the fastest part of a swing: what is integrated across them."""
    t = np.arange(0, 1, STEP)
    kept = np.ones(len(t), dtype=bool)
    kept[start : start + 8] = False
    true = np.trapezoid(swing_like(t), t)
    times, values = bridged(t[kept], swing_like(t[kept])[:, None], STEP)
    ours = abs(np.trapezoid(values[:, 0], times) - true)
    straight = abs(np.trapezoid(swing_like(t[kept]), t[kept]) - true)
    assert np.rad2deg(ours) < 1.2
    assert ours < max(0.5 * straight, np.deg2rad(0.3))


def test_long_gaps_stay():
    t = np.concatenate([np.arange(0, 0.2, STEP), np.arange(0.3, 0.5, STEP)])
    times, _ = bridged(t, np.ones((len(t), 3)), STEP)
    assert len(times) == len(t)


def gridded(grid, chunks):
    state, values, index = GriddingState(), [], []
    for t, v in chunks:
        for part in put_on_grid(grid, state, t, v):
            index += list(range(part.first, part.first + len(part.values)))
            values.append(part.values)
    return np.array(index), np.concatenate(values)


@pytest.mark.parametrize("size", [1, 3, 4, 50])
def test_frame_by_frame_gives_what_all_at_once_gives(size):
    rng = np.random.default_rng(size)
    t = np.arange(0, 2, STEP) + rng.uniform(-0.0002, 0.0002, 400)
    t[[0, 199, 230, 399]] = STEP * np.array([0, 199, 230, 399])
    kept = np.ones(400, dtype=bool)
    kept[100:107] = kept[200:230] = False
    t, v = t[kept], rng.normal(size=(kept.sum(), 6))
    grid = Grid(0.0, STEP)
    whole = gridded(grid, [(t, v)])
    pieces = gridded(grid, [(t[a : a + size], v[a : a + size]) for a in range(0, len(t), size)])
    assert list(pieces[0]) == [k for k in range(400) if k not in range(200, 230)]
    assert np.array_equal(whole[0], pieces[0])
    assert np.allclose(whole[1], pieces[1])
