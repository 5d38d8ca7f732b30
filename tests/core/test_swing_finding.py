"""Swings found in a made-up turning whose course is known: how fast counts, what a backswing is, where it begins and
ends."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import pytest

from finearc.core.errors import NoSwingFound
from finearc.core.events.swings import PEAK_DEG_S, Shot, find_swings

STEP = 0.005


@dataclass
class Made:
    """Something that turns about the vertical at a rate (n,), deg/s."""

    rate_deg_s: np.ndarray
    least: float = 1.0
    name: str = "hand"
    step_s: float = STEP

    @property
    def time_s(self) -> np.ndarray:
        return STEP * np.arange(len(self.rate_deg_s))

    @property
    def speed(self) -> np.ndarray:
        return np.abs(np.deg2rad(self.rate_deg_s))

    def rates_up(self, window: slice) -> np.ndarray:
        return np.deg2rad(self.rate_deg_s)[window, None] * np.array([0.0, 0.0, 1.0])


def swing(at_s: float, peak: float, back: float = 0.3, seconds: float = 12.0) -> np.ndarray:
    """A backswing of some share of the peak, 0.6 s before the downswing whose fastest moment is ``at_s``."""
    t = STEP * np.arange(int(seconds / STEP))
    return peak * (np.exp(-(((t - at_s) / 0.12) ** 2)) - back * np.exp(-(((t - at_s + 0.6) / 0.2) ** 2)))


@pytest.mark.parametrize(
    ("shot", "least"),
    [(Shot.FULL, 400), (Shot.BUNKER, 300), (Shot.PITCH, 220), (Shot.CHIP, 140), (Shot.PUTT, 35)],
)
def test_each_shot_has_a_least_speed(shot, least):
    """House values, of the mean over 20 ms, which a peak of this width loses less than 1 % to."""
    assert len(find_swings(Made(swing(6.0, 1.03 * least)), shot)) == 1
    with pytest.raises(NoSwingFound, match=str(least)):
        find_swings(Made(swing(6.0, 0.97 * least)), shot)
    assert set(PEAK_DEG_S) == set(Shot)


def test_what_turns_less_by_its_nature_needs_less():
    slow = swing(6.0, 250.0)
    with pytest.raises(NoSwingFound):
        find_swings(Made(slow))
    assert len(find_swings(Made(slow, least=0.6))) == 1


def test_a_fast_turn_without_a_backswing_is_no_swing():
    assert len(find_swings(Made(swing(6.0, 900.0, back=0.14)))) == 1
    with pytest.raises(NoSwingFound):
        find_swings(Made(swing(6.0, 900.0, back=0.10)))


def test_a_swing_is_from_the_stillness_before_it_to_the_stillness_after_it():
    ((start, end),) = find_swings(Made(swing(6.0, 900.0)))
    assert 3.9 <= start <= 5.0  # a second of the stillness before the backswing begins
    assert 6.3 <= end <= 7.0  # and a third of a second of what comes after


def test_two_swings_are_two_and_come_in_order_and_two_peaks_of_one_are_one():
    both = Made(swing(9.0, 1200.0, seconds=16.0) + swing(4.0, 900.0, seconds=16.0))
    first, second = find_swings(both)
    assert first[0] < 4.0 < first[1] <= second[0] < 9.0 < second[1]
    close = Made(swing(6.0, 900.0) + swing(7.4, 800.0))
    assert len(find_swings(close)) == 1


def test_only_what_comes_after_an_instant_is_sought():
    both = Made(swing(9.0, 900.0, seconds=16.0) + swing(4.0, 900.0, seconds=16.0))
    ((start, end),) = find_swings(both, after_s=6.0)
    assert start < 9.0 < end
    with pytest.raises(NoSwingFound):
        find_swings(both, after_s=12.0)


def test_one_who_never_stands_still_is_cut_out_by_the_clock():
    restless = swing(6.0, 900.0) + 40.0
    ((start, end),) = find_swings(Made(restless))
    assert (start, end) == pytest.approx((6.0 - 2.5, 6.0 + 2.0), abs=0.02)


def test_a_swing_at_the_very_end_ends_with_the_recording():
    ((_, end),) = find_swings(Made(swing(11.9, 900.0)))
    assert end == pytest.approx(12.0 - STEP)
