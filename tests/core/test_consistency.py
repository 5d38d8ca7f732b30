"""How alike swings are: the scatter of a value, and the coefficient of multiple correlation of a sequence."""

from __future__ import annotations

import numpy as np
import pytest

from finearc.core.comparing.consistency import multiple_correlation, scatter

TIME = np.linspace(0.0, 1.0, 101)


def courses(count, noise, seed=1, shift=0.0):
    rng = np.random.default_rng(seed)
    base = 20.0 * np.sin(2 * np.pi * TIME)
    return np.stack([base + rng.normal(0, noise, 101) + shift * rng.normal() for _ in range(count)])


@pytest.mark.parametrize("seed", range(5))
def test_it_is_the_root_of_the_adjusted_r_squared_of_a_regression_on_the_node(seed):
    """An independent way to the same number: nodes as a factor, fitted by NumPy's least squares, and R² adjusted for
    its degrees of freedom (Ezekiel; common practice of statistics)."""
    table = courses(6, 6.0, seed, shift=3.0)
    swings, nodes = table.shape
    factor = np.tile(np.eye(nodes), (swings, 1))
    fitted = factor @ np.linalg.lstsq(factor, table.ravel(), rcond=None)[0]
    n = table.size
    rest = np.sum((table.ravel() - fitted) ** 2) / (n - nodes)
    overall = np.sum((table.ravel() - table.mean()) ** 2) / (n - 1)
    assert multiple_correlation(table) == pytest.approx(np.sqrt(1 - rest / overall), abs=1e-12)


def test_the_same_swings_are_1_and_the_more_they_differ_the_less():
    assert multiple_correlation(courses(4, 0.0)) == pytest.approx(1.0)
    found = [multiple_correlation(courses(6, noise)) for noise in (1.0, 4.0, 12.0)]
    assert found == sorted(found, reverse=True)
    assert multiple_correlation(courses(6, 1.0, shift=12.0)) < found[0]  # an offset counts


def test_a_worked_example_by_hand():
    """Three courses over two nodes, 0 and 4, 1 and 5, 2 and 6: within, 4 / (2 * 2) = 1; overall about their mean of 3,
    (9 + 4 + 1 + 1 + 4 + 9) / 5 = 28 / 5; so the root of 1 - 5 / 28."""
    assert multiple_correlation(np.array([[0.0, 4.0], [1.0, 5.0], [2.0, 6.0]])) == pytest.approx(np.sqrt(1 - 5 / 28))


def test_nodes_that_were_not_seen_are_left_out_and_too_little_says_nothing():
    table = courses(4, 1.0)
    holed = table.copy()
    holed[1, 10:20] = np.nan
    assert multiple_correlation(holed) == pytest.approx(
        multiple_correlation(np.delete(table, np.arange(10, 20), axis=1))
    )
    assert multiple_correlation(table[:2]) is None
    assert multiple_correlation(np.full((4, 101), np.nan)) is None
    rng = np.random.default_rng(3)
    flat = np.stack([np.full(101, rng.normal(0, 10.0)) + rng.normal(0, 0.1, 101) for _ in range(5)])
    assert multiple_correlation(flat) is None


def test_the_interval_of_a_scatter_holds_the_truth_as_often_as_it_says():
    rng = np.random.default_rng(7)
    held = [s.low <= 2.0 <= s.high for _ in range(2000) if (s := scatter(rng.normal(0, 2.0, 5)))]
    assert 0.935 < np.mean(held) < 0.965
    assert scatter([1.0, 2.0]) is None
    assert scatter([5.0, 5.0, 5.0]).sd == 0.0
