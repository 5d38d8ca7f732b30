"""What is left of a change in the next lesson."""

import pytest

from finearc.core.comparing.retention import FIRST, Left, retention


@pytest.mark.parametrize(
    ("now", "left", "share"),
    [
        ((20, 20, 20, 20, 20), Left.KEPT, 1.0),
        ((22, 22.5, 22.5, 22.5, 28), Left.KEPT, 0.75),
        ((23, 23, 25, 26, 27), Left.PART, 0.5),
        ((28, 28, 28, 29, 29), Left.LOST, 0.2),
        ((34, 34, 34, 34, 34), Left.LOST, -0.4),
        ((14, 14, 14, 14, 14), Left.KEPT, 1.6),
    ],
)
def test_the_share_of_the_change_that_is_left(now, left, share):
    """Thirty before, twenty after."""
    found = retention(30.0, 20.0, now)
    assert (found.left, found.swings) == (left, FIRST)
    assert found.share == pytest.approx(share)


def test_later_swings_do_not_count_and_four_are_too_few():
    assert retention(30.0, 20.0, [20] * 5 + [30] * 9).share == 1.0
    early = retention(30.0, 20.0, [20] * 4)
    assert (early.left, early.share, early.swings) == (Left.EARLY, None, 4)


def test_across_calibrations_a_small_change_says_nothing():
    """Two calibrations differ by 2.8 for 2 each; a change of 5 is within twice that."""
    assert retention(25.0, 20.0, [20] * 5, calibration_sd=2.0).left is Left.UNCERTAIN
    assert retention(40.0, 20.0, [20] * 5, calibration_sd=2.0).left is Left.KEPT
