"""What a wrist adds to a putt, on curves whose figures are known in closed form."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy import stats

from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics.definition import Measured, Moment
from finearc.core.metrics.families import putting as pm
from finearc.core.putting.growth import against_trend, growth
from finearc.core.putting.notes import PuttKind, growths, kind_of, order_of, strike_of
from finearc.core.putting.wrists import (
    Begun,
    in_order,
    onset,
    order_in_words,
    rate_at_ball,
    swept,
    transition_share,
    wrist_motion,
)
from finearc.golfer.arm import minimum_jerk

T = np.arange(0.0, 3.0, 0.005)
STILL = slice(100, 140)  # 0.5 to 0.7 s
TAKEAWAY, TRANSITION, IMPACT = 1.0, 1.7, 2.02


def step(at, lasts, degrees):
    """From nothing to so much, deg, smoothly."""
    return np.deg2rad(degrees) * minimum_jerk(np.clip((T - at) / lasts, 0.0, 1.0))


def motion(extension=0.0, deviation=0.0, roll=0.0, trembling=0.0):
    rng = np.random.default_rng(1)
    noise = np.deg2rad(trembling) * np.sqrt(2) * np.sin(2 * np.pi * 9.0 * T + rng.uniform(0, 6.28, (3, 1)))
    base = np.deg2rad([[14.0], [-26.0], [0.0]])
    angles = base + np.array([extension + 0 * T, deviation + 0 * T, roll + 0 * T]) + noise
    return wrist_motion(T, *angles, STILL)


def test_angles_are_told_from_address():
    made = motion(step(1.6, 0.2, 4.0), step(1.6, 0.2, -3.0))
    low = made.smoothed()
    assert np.rad2deg(low["extension"][-1]) == pytest.approx(4.0, abs=0.01)
    assert np.rad2deg(low["deviation"][-1]) == pytest.approx(-3.0, abs=0.01)
    assert np.abs(low["roll"]).max() == pytest.approx(0.0, abs=1e-12)


def test_a_range_is_from_its_least_to_its_most_between_the_instants():
    values = step(1.2, 0.3, 3.0) - step(1.6, 0.3, 5.0) + step(2.1, 0.3, 40.0)  # what comes after the ball is no matter
    went = swept(T, values, TAKEAWAY, IMPACT)
    assert np.rad2deg(went.size) == pytest.approx(5.0, abs=1e-6)
    assert went.most_s < went.least_s


def test_an_instant_between_samples_counts():
    assert swept(T, T, 1.0021, 2.0049).size == pytest.approx(1.0028)


def test_the_rate_at_the_ball_is_the_mean_size_within_two_hundredths():
    """A sine of 3° and 2 Hz crosses zero at the ball: mean of |cos| over ±0.02 s is sin(ωt)/(ωt) = 0.9895."""
    w = 2 * np.pi * 2.0
    values = np.deg2rad(3.0) * np.sin(w * (T - IMPACT))
    expected = 3.0 * w * np.sin(w * 0.02) / (w * 0.02)
    assert np.rad2deg(rate_at_ball(T, values, IMPACT)) == pytest.approx(expected, rel=3e-3)


def test_the_share_in_the_transition_of_motion_half_in_half_out():
    """4° within a tenth of a second of the transition, 4° before it: half, but for what 5 Hz blur across the edges."""
    inside = step(TRANSITION - 0.09, 0.18, 4.0)
    before = step(1.1, 0.4, 4.0)
    share, sd = transition_share(motion(inside + before), TAKEAWAY, TRANSITION, IMPACT)
    assert share == pytest.approx(0.5, abs=0.06)
    assert sd < 0.05
    assert transition_share(motion(inside), TAKEAWAY, TRANSITION, IMPACT)[0] > 0.85
    assert transition_share(motion(before), TAKEAWAY, TRANSITION, IMPACT)[0] < 0.02


def test_trembling_is_no_motion():
    made = motion(step(1.1, 0.4, 4.0) + step(TRANSITION - 0.09, 0.18, 4.0), trembling=0.1)
    assert transition_share(made, TAKEAWAY, TRANSITION, IMPACT)[0] == pytest.approx(0.5, abs=0.07)
    assert onset(motion(trembling=0.08), "extension", TAKEAWAY, IMPACT) is None


def test_the_share_of_no_motion_at_all_says_nothing():
    share, sd = transition_share(motion(), TAKEAWAY, TRANSITION, IMPACT)
    assert (share, sd) == (0.0, 1.0)


@pytest.mark.parametrize("sign", [1, -1])
def test_an_angle_begins_where_it_passes_half_a_degree_for_good(sign):
    made = motion(step(1.4, 0.4, sign * 5.0) + step(1.1, 0.02, sign * 0.8) - step(1.13, 0.02, sign * 0.8))
    began = onset(made, "extension", TAKEAWAY, IMPACT)
    true = T[np.flatnonzero(np.abs(step(1.4, 0.4, 5.0)) > np.deg2rad(0.5))[0]]
    assert began.at_s == pytest.approx(true, abs=0.006)  # and not where it twitched for 50 ms
    assert began.way == sign


def test_what_never_leaves_half_a_degree_never_begins():
    assert onset(motion(step(1.4, 0.4, 0.45)), "extension", TAKEAWAY, IMPACT) is None
    assert onset(motion(step(2.1, 0.2, 9.0)), "extension", TAKEAWAY, IMPACT) is None  # after the ball


def test_noise_at_address_raises_what_counts_as_begun():
    made = motion(step(1.4, 0.4, 3.0), trembling=0.4)
    limit = 5.0 * made.noise("extension")
    assert np.rad2deg(limit) > 0.5
    began = onset(made, "extension", TAKEAWAY, IMPACT)
    assert np.interp(began.at_s, T, made.smoothed()["extension"]) == pytest.approx(limit, rel=0.01)


def begun(name, at_s, way, sd_s=0.01):
    return Begun(name, at_s, sd_s, way)


def test_the_order_is_said_in_words_and_the_close_ones_together():
    groups = in_order(
        [
            begun("deviation", 0.70, "going radial"),
            begun("roll", 0.17, "turning open"),
            begun("extension", 0.61, "flexing"),
        ]
    )
    assert order_in_words(groups) == "hand turns open, then flexes, then goes radial"
    close = in_order([begun("extension", 0.600, "extending"), begun("deviation", 0.613, "going ulnar")])
    assert order_in_words(close) == "hand extends and goes ulnar"
    assert order_in_words([]) == ""


def value(metric, moment, si, sd=0.01, note=""):
    return ((metric.id, moment), Measured(metric, Moment(moment), si, sd, note=note))


def test_what_onsets_share_does_not_part_them():
    """Each is uncertain by 30 ms because takeaway is: that moves both, and not the one against the other."""
    shared = Event(10.0, 0.03, "hand-onset", 0.9)
    values = dict(
        value(metric, pm.STROKE, at, float(np.hypot(0.005, 0.03)), note)
        for metric, at, note in ((pm.EXTENSION_ONSET, 0.60, "flexing"), (pm.DEVIATION_ONSET, 0.62, "going radial"))
    )
    assert len(order_of(values, shared)) == 2
    assert len(order_of(values, None)) == 1


def test_the_ball_is_struck_where_the_putter_says_else_as_the_wrist_hints():
    putter = dict([value(pm.SWEET_SPOT_OUT, "impact", -0.008)])
    wrist = dict([value(pm.DEVIATION_AT, "transition", -0.02), value(pm.DEVIATION_AT, "impact", 0.03)])
    assert (strike_of(putter).side, strike_of(putter).is_hint) == ("toe", False)
    assert (strike_of(wrist).side, strike_of(wrist).is_hint) == ("heel", True)
    assert strike_of({**wrist, **putter}).side == "toe"
    assert strike_of({}) is None


@pytest.mark.parametrize(
    ("felt", "peak_deg_s", "kind"),
    [
        (None, 60.0, PuttKind.UNKNOWN),
        (False, 60.0, PuttKind.PRACTICE),
        (True, 60.0, PuttKind.PUTT),
        (True, 12.0, PuttKind.TAP_IN),
        (True, None, PuttKind.PUTT),
    ],
)
def test_a_practice_stroke_and_a_tap_in_are_told_apart(felt, peak_deg_s, kind):
    assert kind_of(felt, None if peak_deg_s is None else np.deg2rad(peak_deg_s)) is kind


def test_growth_is_the_line_that_scipys_own_interval_holds():
    rng = np.random.default_rng(5)
    at = np.repeat([3.0, 6.0, 9.0], 5)
    of = 1.0 + 0.8 * at + rng.normal(0, 0.5, 15)
    line = growth(at.tolist(), of.tolist())
    fit = stats.linregress(at, of)
    half = stats.t.ppf(0.975, 13) * fit.stderr
    assert (line.slope, line.low, line.high) == pytest.approx((fit.slope, fit.slope - half, fit.slope + half))
    assert line.putts == 15


def test_growth_worked_by_hand():
    """Ranges 2, 3, 4 at 3 m and 5, 6, 7 at 6 m: means 3 and 6, so 1° a metre; residuals ±1, s² = 4/4 = 1, Sxx = 6·1.5² =
    13.5, standard error 0.2722; t(4) = 2.7764: ± 0.7557."""
    line = growth([3.0] * 3 + [6.0] * 3, [2.0, 3.0, 4.0, 5.0, 6.0, 7.0])
    assert line.slope == pytest.approx(1.0)
    assert line.high - line.slope == pytest.approx(0.7557, abs=1e-4)


@pytest.mark.parametrize("at", [[3.0] * 6, [3.0, 3.0, 6.0, 6.0], [3.0, 3.0, 3.0, 6.0, 6.0], []])
def test_without_two_distances_of_three_putts_each_no_growth_is_told(at):
    assert growth(at, [1.0 + 0.1 * k for k in range(len(at))]) is None


def test_a_distance_is_held_against_the_trend_of_the_others():
    """2, 4 and 12 at 3, 6 and 9 m: a line through the first two says 6 at 9 m: twice that. Through 2 and 12 it says 7 at
    6 m: 4/7 of that. Through 4 and 12 it says less than nothing at 3 m: nothing is told."""
    at = [3.0] * 3 + [6.0] * 3 + [9.0] * 3
    degrees = [2.0, 2.2, 1.8, 4.0, 4.2, 3.8, 12.0, 12.2, 11.8]
    told = against_trend(at, np.deg2rad(degrees).tolist())
    assert {d: r for d, (r, _) in told.items()} == pytest.approx({6.0: 4.0 / 7.0, 9.0: 2.0})
    assert 0.0 < told[9.0][1] < 0.2
    assert against_trend(at[:6], degrees[:6]) == {}  # two distances have no trend of their own


def test_growth_of_a_session_counts_putts_whose_distance_is_noted():
    putts = [
        dict([value(pm.PUTT_DISTANCE, "swing", d), value(pm.EXTENSION_RANGE, pm.STROKE, np.deg2rad(0.5 * d + e))])
        for d in (3.0, 6.0)
        for e in (-0.1, 0.0, 0.1)
    ]
    unknown = dict([value(pm.EXTENSION_RANGE, pm.STROKE, 9.0)])
    line = growths([*putts, unknown])[pm.EXTENSION_RANGE]
    assert np.rad2deg(line.slope) == pytest.approx(0.5)
    assert line.putts == 6
    assert growths([unknown]) == {}


@given(st.floats(-6.0, 6.0), st.floats(0.05, 0.3))
def test_a_range_is_never_less_than_what_is_left_at_the_ball(degrees, lasts):
    values = step(1.2, lasts, degrees)
    went = swept(T, values, TAKEAWAY, IMPACT)
    assert went.size >= abs(np.interp(IMPACT, T, values)) - 1e-12


def test_moments_of_the_stroke_are_figures_and_no_changes():
    assert not Moment(pm.STROKE).is_change
    assert Moment("address..transition").is_change
    assert Checkpoint.TRANSITION in list(Checkpoint)
