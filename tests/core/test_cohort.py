"""Robust figures and mean traces of a cohort, against NumPy, SciPy and hand-worked cases."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy.stats import median_abs_deviation

from finearc.catalogue import library
from finearc.catalogue.rule_set import built_in, with_ranges
from finearc.core.comparing.cohort import (
    LEAST_PLAYERS,
    LEAST_SWINGS,
    PLACES,
    Clock,
    Sample,
    cohort,
    laid_over,
    mean_trace,
    normalised,
    small_sample_warning,
    weighted_quantiles,
)
from finearc.services.judging.cohorts import Row, entries_with, rows, synthetic, synthetic_traces
from finearc.services.judging.terms import Terms

EVENTS = {"takeaway": 1.0, "shaft_level_back": 1.4, "top": 1.9, "impact": 2.2}


def samples(values, players=10):
    return [Sample(f"p{k % players}", f"s{k}", float(v)) for k, v in enumerate(values)]


@given(st.lists(st.floats(-100, 100), min_size=2, max_size=60))
def test_equal_weights_give_the_hazen_quantiles_of_numpy(values):
    """Type 5 of Hyndman & Fan 1996; numpy calls it hazen."""
    shares = np.array([0.05, 0.25, 0.5, 0.75, 0.95])
    ours = weighted_quantiles(np.array(values), np.ones(len(values)), shares)
    assert ours == pytest.approx(np.quantile(values, shares, method="hazen"), abs=1e-9)


def test_the_spread_is_scipys_scaled_median_absolute_deviation():
    values = np.random.default_rng(3).uniform(40, 60, 41)
    found = cohort(samples(values, players=41))
    assert found.spread == pytest.approx(median_abs_deviation(values, scale="normal"), rel=1e-3)
    assert found.centre == pytest.approx(np.median(values))


def test_outliers_are_listed_and_left_out():
    """Modified z-score beyond 3.5 (Iglewicz & Hoaglin 1993): of 1 to 9 and 40 only the last."""
    found = cohort(samples([1, 2, 3, 4, 5, 6, 7, 8, 9, 40]))
    assert [o.value for o in found.outliers] == [40.0]
    assert found.swings == 9
    assert max(found.percentiles.values()) <= 9


def test_a_player_with_many_swings_weighs_no_more_than_another():
    many = [Sample("a", str(k), 10.0 + 0.01 * k) for k in range(50)] + [Sample("b", "1", 20.0), Sample("c", "1", 21.0)]
    assert cohort(many[:50] + many[50:]).centre > 10.4
    assert np.median([s.value for s in many]) < 10.4


@pytest.mark.parametrize(("players", "swings", "warns"), [(8, 30, False), (7, 30, True), (8, 29, True)])
def test_too_few_players_or_swings_are_warned_of(players, swings, warns):
    assert bool(small_sample_warning(players, swings)) is warns
    assert (LEAST_PLAYERS, LEAST_SWINGS) == (8, 30)


def test_nothing_makes_no_figures():
    assert cohort([]) is None
    assert cohort([Sample("a", "1", float("nan"))]) is None


def test_a_swings_own_clock_stands_at_whole_numbers_at_its_checkpoints():
    clock = Clock.of(EVENTS)
    assert clock.place(np.array(list(EVENTS.values()))) == pytest.approx([0, 1, 2, 3])
    assert clock.time(np.array([0.5])) == pytest.approx([1.2])
    assert Clock.of({"takeaway": 1.0, "top": 0.5, "impact": 2.0}) is None
    assert Clock.of({"top": 1.0, "impact": 2.0}) is None


def test_two_tempos_of_one_movement_fall_on_each_other():
    """The same course in swings of different tempo is the same at the places, and comes back on a third's time axis."""
    slow = {k: 1.0 + 2.0 * (t - 1.0) for k, t in EVENTS.items()}

    def course(events):
        t = np.linspace(events["takeaway"] - 0.2, events["impact"] + 0.2, 2000)
        return t, np.sin(Clock.of(events).place(t))

    quick, slower = (normalised(*course(e), e) for e in (EVENTS, slow))
    inside = (PLACES >= 0) & (PLACES <= 3)
    assert quick[inside] == pytest.approx(slower[inside], abs=2e-3)
    t, values = course(EVENTS)
    back = laid_over(quick, t, EVENTS)
    within = (t >= EVENTS["takeaway"]) & (t <= EVENTS["impact"])
    assert back[within] == pytest.approx(values[within], abs=5e-3)


def test_the_mean_trace_is_the_median_with_its_band_by_player():
    flat = [(f"p{k}", np.full(len(PLACES), float(k))) for k in range(11)]
    mean = mean_trace(flat)
    assert mean.middle[0] == pytest.approx(5.0)
    assert (mean.low[0], mean.high[0]) == pytest.approx((0.6, 9.4))
    holes = [(p, np.where(PLACES > 2, np.nan, v)) for p, v in flat]
    assert np.isnan(mean_trace(holes).middle[-1])


class TestShippedCohort:
    TERMS = Terms(built_in(), library.default_schools(), "adult")

    def test_it_rests_on_enough_and_is_called_synthetic(self):
        swings = synthetic()
        assert not small_sample_warning(len({s.player for s in swings}), len(swings))
        assert all(s.player.startswith("Model player") for s in swings)
        assert {"lead_wrist_extension", "thorax_turn"} <= set(synthetic_traces())

    def test_its_ranges_judge_its_own_swings_as_in_range(self):
        made = rows(library.ranges(), self.TERMS, "7-iron", synthetic(), "nearly_all")
        entries = entries_with(library.ranges(), made, synthetic=True)
        rule_set = with_ranges(library.ranges_of_dict({"version": "made", "range": entries}, "made"))
        turn = next(e for e in rule_set.ranges.entries if e.id == "B5")
        assert (turn.provenance, turn.synthetic, turn.players, turn.swings) == ("COHORT", True, 12, 60)
        values = [s.values["thorax_turn", "top"] for s in synthetic()]
        r = rule_set.ranges.by_id["B5"]
        inside = np.mean([(r.low - r.soft_low <= v <= r.high + r.soft_high) for v in values])
        assert inside > 0.85

    def test_a_one_sided_range_stays_one_sided(self):
        made = {row.range.id: row for row in rows(library.ranges(), self.TERMS, "7-iron", synthetic())}
        rough: Row = made["R1"]
        assert rough.high is None
        assert rough.low == pytest.approx(
            np.percentile([s.values["smoothness", "swing"] for s in synthetic()], 5), abs=0.02
        )

    def test_a_school_of_which_nobody_plays_makes_no_range(self):
        made = {row.range.id for row in rows(library.ranges(), self.TERMS, "7-iron", synthetic())}
        assert "W3a" in made
        assert not {"W3b", "W3c", "B6b", "G5b"} & made
