"""A measure over lessons: claims no more than the numbers say."""

from __future__ import annotations

import numpy as np
import pytest
from scipy import stats

from finearc.core.comparing.change import ChangeVerdict, compare
from finearc.core.comparing.progress import LessonValues, progress
from finearc.core.comparing.retention import Left

RELEVANT = 2.0


def lessons(middles, seed=0, sd=1.5, n=6, **more):
    rng = np.random.default_rng(seed)
    return [LessonValues(7.0 * k, list(rng.normal(m, sd, n)), **more) for k, m in enumerate(middles)]


def test_one_lesson_says_nothing():
    found = progress(lessons([20.0]), RELEVANT)
    assert (found.noise, found.change, found.trend, found.steadiness, found.kept) == (None, None, None, None, (None,))


def test_who_improves_has_changed_and_goes_one_way():
    found = progress(lessons([40.0, 36.0, 33.0, 29.0, 26.0]), RELEVANT)
    assert found.change.verdict is ChangeVerdict.CHANGED
    assert found.trend.certain
    assert found.trend.per_week == pytest.approx(-3.5, abs=0.6)


def test_who_does_not_has_neither():
    found = progress(lessons([30.0, 30.5, 29.6, 30.2, 30.1], seed=1), RELEVANT)
    assert found.change.verdict is not ChangeVerdict.CHANGED
    assert not found.trend.certain


def test_a_trend_is_said_from_four_lessons_and_is_scipys():
    assert progress(lessons([40.0, 30.0, 20.0]), RELEVANT).trend is None
    four = lessons([40.0, 36.0, 35.0, 30.0])
    theirs = stats.theilslopes([np.median(x.before) for x in four], [x.day for x in four], 0.95)
    ours = progress(four, RELEVANT).trend
    assert (ours.per_week, ours.low, ours.high) == pytest.approx(
        (7 * theirs.slope, 7 * theirs.low_slope, 7 * theirs.high_slope)
    )


def test_lessons_of_one_day_have_no_trend():
    same = [LessonValues(0.0, [1.0, 2.0, 3.0]) for _ in range(5)]
    assert progress(same, RELEVANT).trend is None


def test_the_noise_band_is_the_smallest_detectable_change_with_what_two_calibrations_leave_open():
    """Weir 2005: 1.96 √2 typical error / √n."""
    two = lessons([30.0, 30.0], n=5)
    plain = progress(two, RELEVANT).noise
    assert plain == pytest.approx(compare(two[0].before, two[1].before, RELEVANT).smallest_detectable)
    across = progress(lessons([30.0, 30.0], n=5, calibration_sd=2.0), RELEVANT).noise
    assert across == pytest.approx(np.hypot(plain, 1.96 * np.sqrt(8.0)))


def test_steadier_is_said_where_the_scatter_really_differs():
    rng = np.random.default_rng(3)
    wild, calm = rng.normal(30.0, 5.0, 12), rng.normal(30.0, 0.8, 12)
    found = progress([LessonValues(0.0, list(wild)), LessonValues(7.0, list(calm))], RELEVANT).steadiness
    assert found.changed
    assert found.first > found.last
    alike = progress([LessonValues(0.0, list(wild)), LessonValues(7.0, list(wild + 1.0))], RELEVANT).steadiness
    assert not alike.changed
    blurred = [LessonValues(7.0 * k, list(v), own_sd=6.0) for k, v in enumerate((wild, calm))]
    assert not progress(blurred, RELEVANT).steadiness.changed  # all of it may be measuring error
    assert progress([LessonValues(0.0, [1.0, 2.0]), LessonValues(7.0, [1.0, 2.0])], RELEVANT).steadiness is None


@pytest.mark.parametrize(("now", "left"), [(30.0, Left.KEPT), (35.0, Left.PART), (40.0, Left.LOST)])
def test_what_a_test_had_shown_is_asked_about_in_the_next_lesson(now, left):
    first = LessonValues(0.0, [40.0] * 5, test=[30.0] * 5)
    found = progress([first, LessonValues(7.0, [now] * 5)], RELEVANT)
    assert found.kept[0] is None
    assert found.kept[1].left is left
    assert progress([LessonValues(0.0, [40.0] * 5), LessonValues(7.0, [now] * 5)], RELEVANT).kept == (None, None)


def test_chance_alone_is_called_a_change_in_no_more_than_one_of_twenty():
    hits = sum(progress(lessons([30.0, 30.0], seed=k), 0.5).change.changed for k in range(600))
    assert hits <= 45  # 30 expected at most; SD 5.3
