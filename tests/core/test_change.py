"""Has anything really changed?"""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
from scipy.stats import norm, ttest_ind

from finearc.core.comparing.change import MOST_MORE, ChangeVerdict, compare, holm

RELEVANT = 2.0


def exactly(n, mean, sd):
    """Values with exactly this mean and standard deviation."""
    values = np.linspace(-1.0, 1.0, n)
    return mean + sd * values / values.std(ddof=1)


def verdicts(count, n, difference, sd, seed=5):
    rng = np.random.default_rng(seed)
    found = [compare(rng.normal(0, sd, n), rng.normal(difference, sd, n), RELEVANT).verdict for _ in range(count)]
    return {v: found.count(v) / count for v in ChangeVerdict}


def test_typical_error_is_the_pooled_within_group_standard_deviation():
    """Weir 2005 (J Strength Cond Res 19:231): the typical error is what repeats scatter by. For groups with
    standard deviations 1 and 3 of equal size that is sqrt((1 + 9) / 2), and the smallest detectable change of means
    of three 1.96 sqrt(2) times it over sqrt(3)."""
    a = np.array([-1.0, 0.0, 1.0])
    change = compare(a + 10, 3 * a + 10, RELEVANT)
    assert change.typical_error == pytest.approx(np.sqrt(5.0))
    assert change.smallest_detectable == pytest.approx(1.96 * np.sqrt(2.0) * np.sqrt(5.0) / np.sqrt(3.0))


@pytest.mark.parametrize("seed", range(30))
def test_the_interval_is_welchs_as_scipy_has_it(seed):
    rng = np.random.default_rng(seed)
    before, after = rng.normal(0, 2, 3 + seed % 9), rng.normal(rng.uniform(-6, 6), 3, 7)
    change = compare(before, after, RELEVANT)
    theirs = ttest_ind(after, before, equal_var=False)
    assert change.difference == pytest.approx(after.mean() - before.mean(), abs=1e-12)
    assert change.ci95 == pytest.approx(tuple(theirs.confidence_interval(0.95)), abs=1e-9)
    assert change.changed == (theirs.pvalue < 0.05 and abs(change.difference) >= RELEVANT)


def test_a_clear_difference_too_small_to_matter_is_no_change():
    small = compare(exactly(8, 0.0, 0.1), exactly(8, 0.9, 0.1), RELEVANT)
    assert small.ci95[0] > 0.0
    assert (small.verdict, small.more_swings) == (ChangeVerdict.UNCHANGED, None)
    edge = compare(exactly(8, 0.0, 0.1), exactly(8, RELEVANT + 1e-9, 0.1), RELEVANT)
    assert edge.verdict is ChangeVerdict.CHANGED
    assert compare([1.0] * 3, [1.0] * 3, RELEVANT).verdict is ChangeVerdict.UNCHANGED
    assert compare([1.0] * 3, [4.0] * 3, RELEVANT).ci95 == (3.0, 3.0)


@pytest.mark.parametrize(("effect", "needed"), [(1.0, 17), (0.8, 26)])
def test_how_many_more_would_tell_is_what_the_tables_of_power_say(effect, needed):
    """Two-sided 5 %, power 80 %, n in each group: J. Cohen, Statistical Power Analysis for the Behavioral Sciences, 2nd
    ed., 1988, table 2.4.1 (from memory)."""
    sd = RELEVANT / effect
    change = compare(exactly(6, 0.0, sd), exactly(6, 0.5, sd), RELEVANT)
    assert change.verdict is ChangeVerdict.NOT_DISTINGUISHABLE
    assert change.more_swings == needed - 6


def test_more_than_thirty_is_said_as_such():
    change = compare(exactly(4, 0.0, 9.0), exactly(4, 1.0, 9.0), RELEVANT)
    assert change.more_swings == MOST_MORE + 1


def test_verdicts_are_as_often_right_as_they_should_be():
    """Three standard deviations and twice what is relevant are found; nothing is found where nothing is."""
    assert verdicts(1000, 5, 6.0, 2.0)[ChangeVerdict.CHANGED] >= 0.95
    for n in (3, 8, 12):
        assert verdicts(1000, n, 0.0, 2.0)[ChangeVerdict.CHANGED] <= 0.05
    assert verdicts(1000, 8, 0.0, 0.25 * RELEVANT)[ChangeVerdict.UNCHANGED] >= 0.95
    assert verdicts(2000, 8, RELEVANT, 0.5)[ChangeVerdict.UNCHANGED] <= 0.025 + 2 * np.sqrt(0.025 * 0.975 / 2000)


def test_across_calibrations_what_they_leave_open_enters_as_known_exactly():
    before, after = [30.0, 31.0, 30.5, 30.2], [26.0, 26.5, 25.8, 26.2]
    same, across = compare(before, after, RELEVANT), compare(before, after, RELEVANT, calibration_sd=2.5)
    assert same.changed
    assert not across.changed
    assert (same.across_calibrations, across.across_calibrations) == (False, True)
    assert across.more_swings == MOST_MORE + 1  # no number of swings makes up for it
    alone = compare([1.0] * 5, [5.0] * 5, RELEVANT, calibration_sd=1.0)
    assert alone.ci95 == pytest.approx((4.0 - norm.ppf(0.975), 4.0 + norm.ppf(0.975)), abs=1e-6)


def test_a_scatter_smaller_than_the_measuring_error_is_not_believed():
    assert not compare([10.0, 10.0, 10.0], [10.5, 10.5, 10.5], 0.2, floor_sd=1.0).changed
    assert compare([10.0, 10.0, 10.0], [10.5, 10.5, 10.5], 0.2).changed


def test_too_few_values_are_shown_without_a_verdict():
    for before, after in (([1.0, 2.0], [2.0, 3.0, 4.0]), ([1.0, 2.0, 3.0], [2.0]), ([], [1.0, 2.0, 3.0])):
        change = compare(before, after, RELEVANT)
        assert (change.verdict, change.ci95, change.more_swings) == (ChangeVerdict.TOO_FEW, None, None)
        assert change.after.n == len(after)


def test_a_grip_that_changed_between_two_groups_is_said_and_a_sensor_that_moved_is_none():
    from types import SimpleNamespace

    from finearc.services.lesson.summary import regripped

    def swing(number, extension_rad=0.0, answer=""):
        change = {"extension_rad": extension_rad, "deviation_rad": 0.0} if extension_rad else None
        return SimpleNamespace(number=number, grip_change=change, grip_answer=answer)

    first, second, last = swing(1), swing(2, 0.21), swing(3)
    said = " The grip changed between them: 12° more cupped at address."
    assert regripped([first], [last], [first, second, last]) == said
    assert regripped([first], [second], [first, second, last]) == said
    assert regripped([second], [last], [first, second, last]) == ""
    moved = swing(2, 0.21, "sensor")
    assert regripped([first], [last], [first, moved, last]) == ""


def test_of_very_many_swings_a_range_shows_some_from_least_to_most():
    from finearc.api.views.judging import MOST_DOTS, _thinned

    assert _thinned([3.0, 1.0, 2.0]) == [3.0, 1.0, 2.0]
    many = _thinned([float(v) for v in range(20_000, 0, -1)])
    assert len(many) <= MOST_DOTS
    assert (many[0], many == sorted(many)) == (1.0, True)


def test_the_p_value_is_scipys():
    rng = np.random.default_rng(8)
    before, after = rng.normal(0.0, 2.0, 6), rng.normal(1.5, 3.0, 4)
    theirs = ttest_ind(after, before, equal_var=False)
    assert compare(before, after, 2.0).p == pytest.approx(theirs.pvalue, abs=1e-9)
    assert compare(before, after, 2.0, calibration_sd=3.0).p > theirs.pvalue
    assert compare([1.0] * 3, [1.0] * 3, 2.0).p == 1.0
    assert compare([1.0], [2.0], 2.0).p is None


@pytest.mark.parametrize("seed", range(5))
def test_many_looks_are_corrected_as_by_testing_every_set_of_them(seed):
    """Holm's procedure is the closed test of Bonferroni's: a look stands when every set of looks with it does."""
    p = np.random.default_rng(seed).beta(0.5, 3.0, 6)
    sets = [c for n in range(1, 7) for c in combinations(range(6), n)]
    closed = [max(min(1.0, len(c) * min(p[list(c)])) for c in sets if k in c) for k in range(6)]
    assert holm(list(p)) == pytest.approx(closed)


def test_a_worked_example_of_the_correction():
    """As R's p.adjust gives it (from memory)."""
    assert holm([0.01, 0.02, 0.03, 0.04, 0.05]) == pytest.approx([0.05, 0.08, 0.09, 0.09, 0.09])
    assert holm([]) == []
