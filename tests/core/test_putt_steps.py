"""The seven steps in which putts are read: what each says, from putts whose truth is known."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from finearc.catalogue import library
from finearc.core.events.model import Checkpoint
from finearc.core.judging.putt_distances import read_distances
from finearc.core.judging.putt_row import ReadPutt, Row, Step, Tone, distance_words, to_player
from finearc.core.judging.putt_steps import in_plain_words, read_row, scale_of
from finearc.core.judging.ranges import judge
from finearc.core.metrics.definition import Measured, Moment, Source
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.families.wrist import LEAD_WRIST_DEVIATION, LEAD_WRIST_EXTENSION
from finearc.core.putting.notes import growth_values, growths, order_of
from finearc.core.sources.putts import counting, values_of
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.judging import analysis as an
from finearc.services.modelled import putting_capture_of

ALL = [s for s in Step if s is not Step.DISTANCES]


@cache
def reading_of(name, sources, seed):
    return an.read(putting_capture_of(play_putting(PUTTING[name], seed, sources=sources)))


def read_of(name, sources=("wrist", "markers"), school="quiet", seed=5):
    """The counting putts of a scenario, judged under a school."""
    situation = library.situation("putter", "putt", "adult", {"putting_wrist": school})
    swings = counting(reading_of(name, sources, seed).swings)
    more = growth_values([values_of(s) for s in swings])
    out = []
    for swing, extra in zip(swings, more, strict=True):
        values = values_of(swing) | {(v.metric.id, v.moment.key): v for v in extra}
        judged = {
            (j.measured.metric.id, j.measured.moment.key): j
            for j in judge(swing.measured, library.ranges().ranges, situation)
        }
        out.append(ReadPutt(values, judged, order_of(values, swing.events.get(Checkpoint.TAKEAWAY))))
    return out


def row_of(putts, distance_m):
    return Row([p for p in putts if p.values["putt_distance", "swing"].value == distance_m], distance_m)


def steps(name, distance_m=3.0, **how):
    return {s.step: s for s in read_row(row_of(read_of(name, **how), distance_m))}


def test_a_clean_quiet_stroke_is_kept_at_every_step():
    read = steps("putt-quiet")
    assert list(read) == ALL
    assert all(s.tone is not Tone.LOOK for s in read.values())
    assert {s.step for s in read.values() if s.tone is Tone.KEEP} >= {
        Step.ADDRESS,
        Step.EXTENSION,
        Step.DEVIATION,
        Step.PUTTER,
    }
    assert all(s.over == 5 for s in read.values())


def test_motion_is_no_fault_for_being_motion():
    """The transition school shows eight degrees at nine metres: shown or kept, nowhere a thing to look at."""
    read = steps("putt-transition", 9.0, sources=("wrist",), school="transition")
    assert all(s.tone is not Tone.LOOK for s in read.values())
    assert "goes through" in read[Step.EXTENSION].said.text


def test_both_schools_read_one_session_with_the_same_numbers():
    """What is seen first may differ, the values beside it may not."""
    quiet, loaded = (steps("putt-wristy", school=s) for s in ("quiet", "transition"))
    for step in ALL:
        assert [f.words for f in quiet[step].facts] == [f.words for f in loaded[step].facts]
    assert "the band is at most 3.0°" in quiet[Step.EXTENSION].said.text
    assert "the band is" not in loaded[Step.EXTENSION].said.text


def test_a_wrist_that_moves_at_the_ball_is_said_with_its_rate():
    read = steps("putt-wristy", 6.0)
    assert read[Step.EXTENSION].tone is Tone.LOOK
    assert "at the ball; that tends to change loft and speed" in read[Step.EXTENSION].said.text
    assert read[Step.TOGETHER].tone is Tone.LOOK


@pytest.mark.parametrize(("name", "side", "word"), [("putt-toe", "toe", "inside"), ("putt-heel", "heel", "outside")])
def test_a_strike_off_centre_is_told_by_the_sweet_spot(name, side, word):
    """Inside the pendulum at impact goes with the toe, outside with the heel (common practice)."""
    said = steps(name)[Step.PUTTER]
    assert said.tone is Tone.LOOK
    assert said.said.text.endswith(f"{word} the free pendulum: struck toward the {side}.")
    assert said.said.plain.startswith("At the ball the putter head is")


def test_wrists_alone_give_a_hint_and_say_so():
    said = steps("putt-wristy", sources=("wrist",))[Step.PUTTER]
    assert said.tone is Tone.SHOWN
    assert "a hint of a strike toward the heel" in said.said.text  # from ulnar to radial
    assert steps("putt-transition", sources=("wrist",))[Step.PUTTER].tone is Tone.UNSEEN


def test_a_strong_bias_is_said_before_anything_else():
    said = steps("putt-grip-bias")[Step.ADDRESS]
    assert said.tone is Tone.LOOK
    assert said.said.text.startswith("First the grip: the face sits 6.0° open against the hands")


def test_a_lifted_handle_is_seen_where_extension_and_deviation_go_with_it():
    said = steps("putt-lifted-handle")[Step.TOGETHER]
    assert said.tone is Tone.LOOK
    assert "with that the handle lifts" in said.said.text
    hinted = steps("putt-lifted-handle", sources=("wrist",))[Step.TOGETHER]
    assert "look whether the handle lifts" in hinted.said.text


def test_what_was_not_seen_says_what_would_show_it():
    read = steps("putt-one-distance", sources=("markers",))
    assert {s for s in ALL if read[s].tone is Tone.UNSEEN} == {
        Step.EXTENSION,
        Step.DEVIATION,
        Step.TOGETHER,
        Step.ROTATION,
    }
    assert all("would show it" in read[s].said.text for s in ALL if read[s].tone is Tone.UNSEEN)


def test_without_putts_nothing_is_said():
    assert {s.tone for s in read_row(Row([], 3.0))} == {Tone.UNSEEN}


def test_growth_is_told_per_metre_and_a_jump_is_named():
    """Extension of the jumping story goes 16.5° where 3 and 6 m lead one to expect half of it."""
    putts = read_of("putt-jump", sources=("wrist",), school="transition")
    jump = read_distances(growths([p.values for p in putts]), putts)
    assert jump.tone is Tone.LOOK
    assert jump.said.text.startswith("At 9 m the wrist moves 2.0 times")
    assert jump.said.plain.startswith("At 9 m your wrist moves")
    even = read_of("putt-quiet")
    lines = growths([p.values for p in even])
    said = read_distances(lines, even).said.text
    slope = np.rad2deg(lines[pm.EXTENSION_RANGE].slope)
    assert said.startswith(f"Per metre extension grows by {slope:.1f}°")
    in_feet = read_distances(lines, even, feet=True).said.text
    assert in_feet.startswith(f"Per foot extension grows by {slope * 0.3048:.1f}°")


def test_growth_of_too_few_says_what_it_needs():
    putts = read_of("putt-two-only", sources=("wrist",))
    said = read_distances(growths([p.values for p in putts]), putts)
    assert said.tone is Tone.UNSEEN
    assert said.said.text == "How the motion grows needs 2 distances with 3 putts each."


def test_the_scale_is_one_of_three_for_all_putts():
    putts = read_of("putt-transition", sources=("wrist",))
    assert np.rad2deg(scale_of(putts, "extension")) == pytest.approx(10.0)  # 8° at nine metres
    for name, metric in pm.LEAD.ranges.items():
        largest = max(np.rad2deg(p.values[(metric.id, pm.STROKE)].value) for p in putts)
        assert np.rad2deg(scale_of(putts, name)) == pytest.approx(min(s for s in (5.0, 10.0, 20.0) if s >= largest))
    assert np.rad2deg(scale_of([], "roll")) == pytest.approx(5.0)


def noted(metric, moment, deg, note="absolute"):
    return Measured(metric, Moment(moment), float(np.deg2rad(deg)), 0.01, source=Source.MARKERS, note=note)


def putt_with(*values):
    return ReadPutt({(v.metric.id, v.moment.key): v for v in values}, {}, ())


@pytest.mark.parametrize(
    ("deg", "distance_m", "keeps"), [(0.9, 3.0, True), (1.1, 3.0, False), (0.33, 9.0, True), (0.36, 9.0, False)]
)
def test_the_face_is_held_against_what_the_hole_forgives(deg, distance_m, keeps):
    """A hole 108 mm wide (Rules of Golf) forgives atan(54 mm / d) either side: 1.03° at 3 m, 0.34° at 9 m."""
    said = read_row(Row([putt_with(noted(pm.PUTTER_FACE, "address", deg))], distance_m))[0]
    assert said.tone is (Tone.KEEP if keeps else Tone.SHOWN)
    assert ("Look first what brings it back" in said.said.text) is not keeps


def test_a_wrist_far_down_at_address_locks():
    hands = noted(LEAD_WRIST_EXTENSION, "address", 12.0), noted(LEAD_WRIST_DEVIATION, "address", -38.0)
    said = read_row(Row([putt_with(*hands)], 3.0))[0]
    assert said.tone is Tone.LOOK
    assert said.said.text.startswith("The wrist starts 38° ulnar")
    fine = read_row(Row([putt_with(hands[0], hands[1]._replace(value=-0.5))], 3.0))[0]
    assert fine.tone is Tone.SHOWN


def test_words_of_distances_orders_and_of_the_player():
    assert [distance_words(d) for d in (3.0, 4.5)] == ["3 m", "4.5 m"]
    assert distance_words(3.048, feet=True) == "10 ft"
    assert in_plain_words("hand turns open and flexes, then goes radial") == "hand rolls open and bows, then hinges"
    assert to_player("The wrist moves and the hand turns.").plain == "Your wrist moves and your hand turns."
