"""Before and after over several distances: a block design, by hand and in closed form."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st

from finearc.core.comparing.levelled import levelled


def test_a_stroke_that_only_grows_with_the_distance_has_not_changed():
    """Before mostly from 9 m, after mostly from 3 m; 2° at 3 m and 5° at 9 m both times."""
    before, at_before = [2.0, 5.0, 5.0, 5.0], [3, 9, 9, 9]
    after, at_after = [2.0, 2.0, 2.0, 5.0], [3, 3, 3, 9]
    assert np.mean(after) - np.mean(before) == -1.5  # what means alone would say
    found = levelled(before, after, at_before, at_after)
    assert np.mean(found.after) - np.mean(found.before) == pytest.approx(0.0)
    assert np.ptp(found.before + found.after) == pytest.approx(0.0)
    assert np.mean(found.before) == pytest.approx(3.5)  # the middle of both distances


def test_what_only_one_group_has_is_left_out():
    found = levelled([1.0, 2.0, 9.0], [2.0, 3.0], [3, 3, 9], [3, 3])
    assert (found.before, found.after, found.shared) == ([1.0, 2.0], [2.0, 3.0], (3,))
    assert (found.first, found.second) == ([0, 1], [0, 1])


def test_nothing_in_common_leaves_nothing():
    found = levelled([1.0], [2.0], [3], [6])
    assert (found.before, found.after, found.shared) == ([], [], ())


@given(
    st.lists(st.tuples(st.sampled_from([3, 6, 9]), st.floats(-20, 20)), min_size=4, max_size=20),
    st.lists(st.tuples(st.sampled_from([3, 6, 9]), st.floats(-20, 20)), min_size=4, max_size=20),
)
def test_the_difference_is_that_of_each_distance_weighted_by_what_it_can_tell(before, after):
    """The estimate of a block design in closed form: weights n1·n2/(n1+n2)."""
    found = levelled([v for _, v in before], [v for _, v in after], [d for d, _ in before], [d for d, _ in after])
    if not found.shared:
        return
    parts, weights = [], []
    for distance in found.shared:
        a, b = ([v for d, v in group if d == distance] for group in (before, after))
        parts.append(np.mean(b) - np.mean(a))
        weights.append(len(a) * len(b) / (len(a) + len(b)))
    wanted = np.average(parts, weights=weights)
    assert np.mean(found.after) - np.mean(found.before) == pytest.approx(wanted, abs=1e-9)
