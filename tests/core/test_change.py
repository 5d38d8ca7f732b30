"""Has anything really changed?"""

from __future__ import annotations

import numpy as np
import pytest
from scipy.stats import ttest_ind

from finearc.core.comparing.change import compare


def test_typical_error_is_the_pooled_within_group_standard_deviation():
    """Weir 2005 (J Strength Cond Res 19:231): the typical error is what repeats scatter by. For groups with
    standard deviations 1 and 3 of equal size that is sqrt((1 + 9) / 2)."""
    a = np.array([-1.0, 0.0, 1.0])
    change = compare(a + 10, 3 * a + 10)
    assert change is not None
    assert change.typical_error == pytest.approx(np.sqrt(5.0))


@pytest.mark.parametrize("seed", range(30))
def test_changed_agrees_with_welchs_test_in_scipy(seed):
    rng = np.random.default_rng(seed)
    before, after = rng.normal(0, 2, 5), rng.normal(rng.uniform(-6, 6), 3, 7)
    change = compare(before, after)
    assert change is not None
    assert change.changed == (ttest_ind(before, after, equal_var=False).pvalue < 0.05)


def test_about_how_many_more_swings_would_tell():
    change = compare([30.0, 33.0, 36.0, 31.0], [28.0, 33.0])
    assert change is not None
    assert not change.changed
    assert change.more_swings is None or change.more_swings > 1


def test_within_noise_false_alarms_are_about_one_in_twenty():
    rng = np.random.default_rng(3)
    alarms = [c.changed for _ in range(800) if (c := compare(rng.normal(0, 2, 5), rng.normal(0, 2, 5))) is not None]
    assert 0.02 < np.mean(alarms) < 0.08


def test_across_calibrations_the_poses_uncertainty_enters():
    before, after = [30.0, 31.0, 30.5, 30.2], [26.0, 26.5, 25.8, 26.2]
    same, across = compare(before, after), compare(before, after, calibration_sd=2.5)
    assert same is not None
    assert across is not None
    assert same.changed
    assert not across.changed
    assert across.across_calibrations


def test_a_scatter_smaller_than_the_measuring_error_is_not_believed():
    change = compare([10.0, 10.0, 10.0], [10.5, 10.5, 10.5], floor_sd=1.0)
    assert change is not None
    assert not change.changed


def test_too_few_values_give_no_answer():
    assert compare([1.0], [2.0, 3.0]) is None


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
