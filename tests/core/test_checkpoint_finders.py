"""Each finder of a checkpoint on made-up signals whose instants are known by hand."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, strategies as st

from finearc.core.events.checkpoints import (
    NO_STRIKE,
    Found,
    SwingSignals,
    apply_corrections,
    best_of,
    crossing,
    find_address,
    find_finish,
    find_impact,
    find_takeaway,
    find_top,
    keep_in_order,
    levels,
)
from finearc.core.events.model import Checkpoint, Event, event

STEP = 0.005
T = 4.0 + STEP * np.arange(600)  # 3 s


class TestCrossing:
    @given(st.floats(5.1, 5.9), st.floats(0.5, 40.0))
    def test_is_told_to_the_last_digit_where_the_course_is_straight(self, at, slope):
        rising = crossing(T, slope * (T - at), 0, 600, rising=True)
        falling = crossing(T, -slope * (T - at), 0, 600, rising=False)
        assert rising == pytest.approx((at, slope), abs=1e-9)
        assert falling == pytest.approx((at, -slope), abs=1e-9)

    def test_takes_the_first_or_the_last_of_several_in_its_own_direction_only(self):
        wave = np.sin(2 * np.pi * (T - 4.0) - 0.01)  # crosses each half second, by turns up and down
        shift = 0.01 / (2 * np.pi)
        assert crossing(T, wave, 0, 600, rising=True)[0] == pytest.approx(4.0 + shift, abs=1e-5)
        assert crossing(T, wave, 0, 600, rising=True, last=True)[0] == pytest.approx(6.0 + shift, abs=1e-5)
        assert crossing(T, wave, 0, 600, rising=False)[0] == pytest.approx(4.5 + shift, abs=1e-5)
        assert crossing(T, wave, 190, 290, rising=True)[0] == pytest.approx(5.0 + shift, abs=1e-5)

    def test_there_is_none_without_a_change_of_sign_within_the_stretch(self):
        line = T - 5.5
        assert crossing(T, line, 0, 300, rising=True) is None
        assert crossing(T, line, 302, 600, rising=True) is None
        assert crossing(T, line, 0, 600, rising=False) is None


def struck(at_s: float, size: float, rate: float = 1000.0, offset: float = 0.0):
    """Forces of a quiet sensor that is struck at an instant: the samples from there on jump by ``size`` and ring off."""
    t = np.arange(4.0 + offset, 7.0, 1.0 / rate)
    felt = np.zeros((len(t), 3))
    felt[:, 2] = 9.81
    after = t >= at_s
    felt[after, 0] = size * np.exp(-(t[after] - at_s) / 0.01)
    return t, felt


def signals(**more) -> SwingSignals:
    speed = 20.0 * np.exp(-(((T - 5.6) / 0.1) ** 2))
    nothing = (np.array([4.0, 7.0]), np.zeros((2, 3)))
    return SwingSignals(T, speed, np.zeros((600, 3)), **{"hand_felt": nothing, **more})


class TestImpact:
    def test_lies_in_the_middle_of_the_step_in_which_the_strike_is_felt(self):
        """The instant is equally likely anywhere in the step: its standard uncertainty is the step over √12 (JCGM
        100:2008, 4.3.7; number from memory)."""
        found = find_impact(signals(club_felt=struck(5.6137, 300.0)))
        assert found.method == "club-shock"
        assert found.time_s == pytest.approx(5.6135, abs=1e-6)
        assert found.uncertainty_s == pytest.approx(0.001 / np.sqrt(12.0), rel=1e-6)

    def test_of_two_that_agree_is_their_mean_and_surer(self):
        one, two = struck(5.6137, 300.0), struck(5.6137, 60.0, offset=0.0004)
        found = find_impact(signals(club_felt=one, hand_felt=two))
        assert found.method == "club-and-hand-shock"
        assert found.time_s == pytest.approx((5.6135 + 5.6139) / 2, abs=1e-6)
        assert found.uncertainty_s == pytest.approx(0.001 / np.sqrt(24.0), rel=1e-3)

    def test_of_two_that_do_not_agree_is_the_clubs(self):
        found = find_impact(signals(club_felt=struck(5.6137, 300.0), hand_felt=struck(5.65, 60.0)))
        assert (found.method, found.time_s) == ("club-shock", pytest.approx(5.6135, abs=1e-6))

    @pytest.mark.parametrize(("where", "floor"), [("club_felt", 17.0), ("hand_felt", 8.5)])
    def test_what_is_too_soft_is_no_strike(self, where, floor):
        """Floors are house values; below them it is roughly the hand's fastest moment."""
        assert find_impact(signals(**{where: struck(5.6137, 1.1 * floor)})).method != NO_STRIKE
        soft = find_impact(signals(**{where: struck(5.6137, 0.9 * floor)}))
        assert (soft.method, soft.uncertainty_s) == (NO_STRIKE, 0.03)
        assert soft.time_s == pytest.approx(5.6, abs=STEP)

    def test_a_knock_long_before_the_swing_or_after_it_is_not_the_strike(self):
        assert find_impact(signals(club_felt=struck(5.3, 300.0))).method == NO_STRIKE
        assert find_impact(signals(club_felt=struck(5.9, 300.0))).method == NO_STRIKE


class TestTop:
    def rates(self, top_s: float, normal) -> np.ndarray:
        """Turning back about a normal at 2 rad/s, then down ever faster, 60 rad/s² through the top."""
        along = np.maximum(-2.0, 60.0 * (T - top_s))
        return along[:, None] * np.asarray(normal) / np.linalg.norm(normal)

    @pytest.mark.parametrize("normal", [(0.0, 0.0, 1.0), (1.0, 2.0, -2.0), (-1.0, 0.0, 0.0)])
    def test_is_the_last_reversal_about_the_planes_normal_whichever_way_that_points(self, normal):
        found, why = find_top(T, self.rates(5.3021, normal), 5.6, "club")
        assert why == ""
        assert found.time_s == pytest.approx(5.3021, abs=1e-6)
        assert found.method == "club-reversal"
        # 3 ms, and what 6 deg/s of noise make there (house values)
        assert found.uncertainty_s == pytest.approx(np.hypot(0.003, np.deg2rad(6.0) / 60.0), rel=1e-6)

    def test_a_club_that_never_turned_back_has_no_top(self):
        found, why = find_top(T, np.tile([0.0, 0.0, 3.0], (600, 1)), 5.6, "club")
        assert found is None
        assert "never reversed" in why

    def test_a_recording_that_begins_in_the_downswing_says_so(self):
        found, why = find_top(T, self.rates(4.05, (0, 0, 1)), T[30], "club")
        assert found is None
        assert "starts too late" in why
        assert find_top(T, self.rates(4.05, (0, 0, 1)), T[31], "club")[1] != why


def at_rest_then_moving(moved_s: float, quiet_deg_s: float = 1.0, ramp_s: float = 0.2) -> np.ndarray:
    """Speed, rad/s: quiet, then rising over ``ramp_s`` to 120 deg/s."""
    return np.deg2rad(quiet_deg_s + 119.0 * np.clip((T - moved_s) / ramp_s, 0.0, 1.0))


class TestTakeaway:
    @pytest.mark.parametrize("moved_s", [4.7, 5.0])
    def test_is_where_the_sustained_motion_leaves_its_quiet(self, moved_s):
        found, k = find_takeaway(T, at_rest_then_moving(moved_s), 5.6, "club")
        assert found.time_s == pytest.approx(moved_s, abs=0.02)  # the mean over 30 ms leaves it that much early
        assert T[k] == found.time_s
        assert (found.method, found.uncertainty_s) == ("club-onset", 0.015)

    def test_a_waggle_before_it_is_not_it(self):
        speed = at_rest_then_moving(5.0) + np.deg2rad(90.0) * np.exp(-(((T - 4.4) / 0.05) ** 2))
        assert find_takeaway(T, speed, 5.6, "club")[0].time_s == pytest.approx(5.0, abs=0.02)

    def test_slowness_just_before_the_top_is_not_it(self):
        """Within a tenth of a second of the top everybody is slow."""
        speed = at_rest_then_moving(5.0)
        speed[np.abs(T - 5.6) < 0.09] = 0.0
        assert find_takeaway(T, speed, 5.6, "club")[0].time_s == pytest.approx(5.0, abs=0.02)

    def test_who_was_never_slow_has_none(self):
        assert find_takeaway(T, np.full(600, np.deg2rad(21.0)), 5.6, "club") == (None, 0)


class TestAddress:
    def test_is_the_middle_of_the_last_stillness_before_the_takeaway(self):
        speed = at_rest_then_moving(5.0)
        moved = int(np.searchsorted(T, 5.0))
        found, window, why = find_address(T, speed, moved)
        assert (found.method, found.uncertainty_s, why) == ("stillness", 0.05, "")
        assert window.stop - window.start == 40  # 0.2 s
        assert T[window.stop - 1] == pytest.approx(5.0, abs=0.03)
        assert found.time_s == pytest.approx(T[window.start] + 0.1)
        assert (speed[window] < np.deg2rad(8.0)).all()

    def test_one_who_hardly_comes_to_rest_is_read_with_more_doubt(self):
        found, _, why = find_address(T, at_rest_then_moving(5.0, quiet_deg_s=10.0), 200)
        assert (found.method, found.uncertainty_s, why) == ("near-stillness", 0.1, "")

    def test_one_who_never_rests_has_no_address(self):
        found, window, why = find_address(T, np.full(600, np.deg2rad(15.0)), 200)
        assert found is None
        assert (window.start, window.stop) == (0, 0)
        assert why == "the player never came to rest before the takeaway"

    def test_rest_after_the_takeaway_does_not_count(self):
        speed = np.where(T < 5.5, np.deg2rad(60.0), 0.0)
        assert find_address(T, speed, int(np.searchsorted(T, 5.3)))[0] is None


def placed(**at) -> Found:
    return Found({Checkpoint(k): event(t, 0.003, "made") for k, t in at.items()})


class TestLevels:
    found = staticmethod(lambda: placed(takeaway=4.5, top=5.5, impact=6.0))
    # 40° below level at takeaway, up through level at 5.0, 40° above at the top, level again at 5.75
    arm = np.deg2rad(np.interp(T, [4.5, 5.5, 6.0, 6.5], [-40.0, 40.0, -40.0, 40.0]))

    def test_are_crossed_going_back_and_coming_down(self):
        found = self.found()
        levels(found, T, self.arm, np.deg2rad(2.5), "forearm", arm=True)
        back, down = found.events[Checkpoint.ARM_LEVEL_BACK], found.events[Checkpoint.ARM_LEVEL_DOWN]
        assert (back.time_s, down.time_s) == pytest.approx((5.0, 5.75), abs=1e-6)
        assert (back.method, found.absent) == ("forearm", {})
        slow, fast = max(np.deg2rad(80.0), 0.5), np.deg2rad(160.0)  # rad/s
        assert back.uncertainty_s == pytest.approx(np.hypot(np.deg2rad(2.5) / slow, 0.3 * STEP))
        assert down.uncertainty_s == pytest.approx(np.hypot(np.deg2rad(2.5) / fast, 0.3 * STEP))

    def test_the_shaft_is_level_once_more_after_impact(self):
        found = self.found()
        levels(found, T, self.arm, np.deg2rad(1.0), "club", arm=False)
        expected = {
            Checkpoint.SHAFT_LEVEL_BACK: 5.0,
            Checkpoint.SHAFT_LEVEL_DOWN: 5.75,
            Checkpoint.SHAFT_LEVEL_THROUGH: 6.25,
        }
        for name, at in expected.items():
            assert found.events[name].time_s == pytest.approx(at, abs=1e-6)

    def test_of_several_crossings_the_first_counts_going_back_and_the_last_coming_down(self):
        """A club that hesitates at level: what led to the top, and what led to the ball."""
        found = self.found()
        times = [4.5, 4.8, 4.9, 5.5, 5.7, 5.75, 6.0]
        wavers = np.interp(T, times, np.deg2rad([-10.0, 10.0, -10.0, 40.0, -10.0, 10.0, -40.0]))
        levels(found, T, wavers, 0.02, "club", arm=False)
        assert found.events[Checkpoint.SHAFT_LEVEL_BACK].time_s == pytest.approx(4.65, abs=1e-6)
        assert found.events[Checkpoint.SHAFT_LEVEL_DOWN].time_s == pytest.approx(5.8, abs=1e-6)

    def test_what_does_not_become_level_is_absent_and_says_which(self):
        found = self.found()
        levels(found, T, np.full(600, -0.1), 0.02, "club", arm=False)
        assert set(found.absent) == {
            Checkpoint.SHAFT_LEVEL_BACK,
            Checkpoint.SHAFT_LEVEL_DOWN,
            Checkpoint.SHAFT_LEVEL_THROUGH,
        }
        assert set(found.absent.values()) == {"the shaft did not become level there"}


class TestFinish:
    def test_is_the_first_stillness_after_impact(self):
        speed = np.where(T < 6.2, 5.0, 0.0)
        found = find_finish(T, speed, 5.6)
        assert (found.method, found.uncertainty_s) == ("stillness", 0.05)
        assert found.time_s == pytest.approx(6.25, abs=0.02)  # half of the tenth of a second it is averaged over

    def test_is_not_sought_within_the_first_moment_after_impact(self):
        assert find_finish(T, np.zeros(600), 5.6).time_s == pytest.approx(5.75, abs=STEP)

    def test_without_stillness_is_the_end_of_the_recording(self):
        found = find_finish(T, np.full(600, 2.0), 5.6)
        assert (found.time_s, found.method, found.uncertainty_s) == (T[-1], "end-of-recording", 0.2)


class TestTogether:
    def test_the_surest_leads_and_the_others_stay_beside_it(self):
        one = Found({Checkpoint.TOP: Event(5.0, 0.010, "a", 0.9)}, {Checkpoint.FINISH: "not seen"})
        two = Found({Checkpoint.TOP: Event(5.1, 0.002, "b", 0.9), Checkpoint.IMPACT: Event(5.4, 0.01, "b", 0.9)})
        best = best_of([one, two])
        assert (best.events[Checkpoint.TOP].method, [o.method for o in best.events[Checkpoint.TOP].others]) == (
            "b",
            ["a"],
        )
        assert best.events[Checkpoint.IMPACT].others == ()
        assert best.absent == {Checkpoint.FINISH: "not seen"}

    def test_what_comes_out_of_order_is_dropped_with_its_reason(self):
        found = placed(address=4.0, takeaway=4.5, top=4.2, impact=5.0)
        keep_in_order(found)
        assert list(found.events) == [Checkpoint.ADDRESS, Checkpoint.TAKEAWAY, Checkpoint.IMPACT]
        assert found.absent == {Checkpoint.TOP: "found out of order with the other checkpoints"}
        same = placed(address=4.0, takeaway=4.0)
        keep_in_order(same)
        assert len(same.events) == 2  # at one instant is in order

    def test_an_instructors_instant_takes_the_place_also_of_what_was_absent(self):
        found = placed(top=5.0)
        found.absent[Checkpoint.IMPACT] = "not felt"
        apply_corrections(found, {Checkpoint.TOP: 5.1, Checkpoint.IMPACT: 5.4}, STEP)
        assert found.absent == {}
        for name, at in ((Checkpoint.TOP, 5.1), (Checkpoint.IMPACT, 5.4)):
            assert found.events[name] == Event(at, STEP, "instructor", 1.0)


@pytest.mark.parametrize(("uncertainty_s", "confidence"), [(0.0, 0.98), (0.005, 0.98), (0.05, 0.5), (0.15, 0.1)])
def test_confidence_falls_with_uncertainty(uncertainty_s, confidence):
    assert event(1.0, uncertainty_s, "made").confidence == pytest.approx(confidence, abs=1e-3)
