"""Timings of the pressure's course on courses made by hand, its lead over the body, and what is missing with the mat
alone."""

import numpy as np
import pytest
from hypothesis import given, settings, strategies as st

from finearc.core.events.model import Checkpoint, event
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.metrics.sequence import Course
from finearc.core.pressure.timing import ground_moments, lags, lead_of, push_off, unseen
from finearc.core.sources.ground_view import GroundView
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of
from finearc.services.record.ground import said

T = np.arange(0.0, 2.0, 0.005)
IMPACT = event(1.3, 0.002, "hand-shock")


def share_course(knots):
    """A lead share through (time, share) knots, straight between them."""
    times, values = zip(*knots, strict=True)
    return Course(T, np.interp(T, times, values), 0.003, Source.MAT)


GOOD = share_course(
    [(0, 0.5), (0.2, 0.5), (0.6, 0.22), (0.7, 0.2), (0.8, 0.21), (1.0, 0.5), (1.3, 0.85), (1.5, 0.95), (2, 0.9)]
)


def test_a_course_made_by_hand():
    """Least share 0.20 at 0.70 s; within 2 % of it until 0.22, passed at 0.807 s; even at 1.00 s; most at 1.50 s."""
    found = ground_moments(GOOD, 0.1, IMPACT)
    assert found.peak_trail == pytest.approx(0.80, abs=0.01)
    assert found.events["trail_peak"].time_s == pytest.approx(0.72, abs=0.04)
    assert found.events["return"].time_s == pytest.approx(0.807, abs=0.012)
    assert found.events["even"].time_s == pytest.approx(1.0, abs=0.006)
    assert found.events["lead_peak"].time_s == pytest.approx(1.5, abs=0.02)
    assert found.peak_lead == pytest.approx(0.95, abs=0.01)


def test_a_ripple_on_the_plateau_is_not_the_return():
    """Rises by 4 % and falls back to the peak before it truly returns: the last instant within 2 % counts."""
    course = share_course(
        [(0, 0.5), (0.5, 0.2), (0.6, 0.24), (0.7, 0.2), (0.85, 0.21), (1.1, 0.6), (1.4, 0.9), (2, 0.9)]
    )
    assert ground_moments(course, 0.1, IMPACT).events["return"].time_s == pytest.approx(0.86, abs=0.02)


def test_no_move_to_the_trail_foot_has_no_instants_but_a_peak_share():
    found = ground_moments(share_course([(0, 0.5), (1.3, 0.51), (2, 0.6)]), 0.1, IMPACT)
    assert found.events == {}
    assert found.peak_trail == pytest.approx(0.5, abs=0.01)
    assert set(unseen(found).values()) == {"the pressure does not move to the trail foot"}


def test_pressure_that_never_passes_the_middle_is_said():
    found = ground_moments(share_course([(0, 0.5), (0.6, 0.2), (1.0, 0.25), (1.3, 0.4), (2, 0.45)]), 0.1, IMPACT)
    assert "even" not in found.events
    assert unseen(found)[m.EVEN_TIME] == "the pressure does not pass the middle"
    assert m.RETURN_TIME not in unseen(found)


def test_a_share_that_still_rises_has_no_lead_peak():
    found = ground_moments(share_course([(0, 0.5), (0.6, 0.2), (1.0, 0.5), (2.0, 1.0)]), 0.1, IMPACT)
    assert "lead_peak" not in found.events
    assert "still rises" in unseen(found)[m.LEAD_PEAK_TIME]


def test_too_short_a_course_says_nothing():
    assert ground_moments(share_course([(0, 0.5), (2, 0.5)]), 1.28, event(1.0, 0.01, "x")) is None


def test_a_flat_peak_and_an_unsure_clock_are_less_certain_in_time():
    flat = share_course([(0, 0.5), (0.5, 0.2), (0.9, 0.2005), (1.2, 0.8), (2, 0.8)])
    sharp = share_course([(0, 0.5), (0.6, 0.2), (1.0, 0.8), (2, 0.8)])
    one, other = (ground_moments(c, 0.1, IMPACT).events["trail_peak"].uncertainty_s for c in (flat, sharp))
    assert one > 1.1 * other
    sure, unsure = (ground_moments(GOOD, 0.1, IMPACT, sd).events["even"].uncertainty_s for sd in (0.0, 0.05))
    assert unsure == pytest.approx(np.hypot(sure, 0.05), rel=1e-6)


@given(st.floats(0.3, 0.45), st.floats(0.05, 0.25), st.floats(-0.2, 0.2))
@settings(max_examples=25, deadline=None)
def test_shifting_the_course_shifts_its_instants(depth, plateau, shift):
    start = 0.5
    knots = [(0, 0.5), (0.3, 0.5), (0.6, 0.5 - depth), (0.6 + plateau, 0.5 - depth), (1.1, 0.7), (1.4, 0.9), (2, 0.9)]
    moved = [(t + shift if t not in (0, 2) else t, v) for t, v in knots]
    a = ground_moments(share_course(knots), start - 0.4, IMPACT)
    b = ground_moments(share_course(moved), start - 0.4, event(1.3 + shift, 0.002, "x"))
    for name in ("return", "even"):
        assert b.events[name].time_s - a.events[name].time_s == pytest.approx(shift, abs=0.006)


def courses(trail, share):
    return {m.TRAIL_FORCE: Course(T, trail, 0.01, Source.MAT), m.LEAD_SHARE: Course(T, share, 0.003, Source.MAT)}


def test_push_off_by_hand():
    """Falls by 2 weights a second: 0.24 of the weight in the 0.12 s read; a rising share of the lead foot."""
    trail = np.interp(T, [1.0, 1.5], [1.0, 0.0])
    (value,) = push_off(courses(trail, np.interp(T, [1.0, 1.5], [0.4, 0.9])), IMPACT)
    assert value.value == pytest.approx(0.24, abs=0.005)


def test_letting_go_of_both_feet_is_no_push_off():
    trail = np.interp(T, [1.0, 1.5], [1.0, 0.0])
    (value,) = push_off(courses(trail, np.interp(T, [1.0, 1.5], [0.9, 0.4])), IMPACT)
    assert value.value == 0.0


def test_a_trail_foot_that_takes_on_weight_counts_below_nothing():
    trail = np.interp(T, [1.0, 1.5], [0.0, 1.0])
    (value,) = push_off(courses(trail, np.interp(T, [1.0, 1.5], [0.9, 0.4])), IMPACT)
    assert value.value == pytest.approx(-0.24, abs=0.005)


def test_push_off_needs_a_strike_of_another_source():
    trail = np.interp(T, [1.0, 1.5], [1.0, 0.0])
    assert push_off(courses(trail, trail), event(1.3, 0.06, "vertical-force-peak")) == []


@pytest.mark.parametrize("shift", [-0.12, -0.03, 0.0, 0.07, 0.2])
def test_the_lead_of_a_shifted_copy_is_the_shift(shift):
    def hump(t):
        return np.exp(-0.5 * ((t - 0.9) / 0.12) ** 2) - 0.8 * np.exp(-0.5 * ((t - 1.15) / 0.08) ** 2)

    first = Course(T, hump(T + shift), 0.01, Source.MAT)
    second = Course(T, 3.0 * hump(T) + 5.0, 0.01, Source.MARKERS)
    assert lead_of(first, second, 1.0, 0.6, 1.4) == pytest.approx(shift, abs=0.004)
    assert lead_of(first, Course(T, -second.values, 0.01, Source.MARKERS), -1.0, 0.6, 1.4) == pytest.approx(
        shift, abs=0.004
    )


def test_courses_that_have_nothing_to_do_with_each_other_have_no_lead():
    rng = np.random.default_rng(1)
    noise = Course(T, np.cumsum(rng.normal(size=len(T))), 0.01, Source.MAT)
    wave = Course(T, np.sin(14 * T), 0.01, Source.MARKERS)
    assert lead_of(noise, wave, 1.0, 0.6, 1.4) is None


def test_no_lead_without_a_takeaway():
    assert lags({m.STANCE_POSITION: GOOD}, {Checkpoint.IMPACT: IMPACT}) == []


def reading(name, *sources):
    return an.analyse(capture_of(play(name, 4, sources=sources)))


CLUB_TIMES = (
    ("return_time", "top"),
    ("even_time", "top"),
    ("trail_peak_time", "top"),
    ("trail_peak_time", "arm_level_back"),
)


def test_with_the_mat_alone_times_against_the_club_are_missing():
    analysis = reading("late-return", "pressure")
    assert len(analysis.swings) == 5
    for swing in analysis.swings:
        known = {(v.metric.id, v.moment.key) for v in swing.reading.measured}
        assert not known & set(CLUB_TIMES)
        assert ("stance_position", "impact") in known
        assert set(swing.reading.events) == {Checkpoint.ADDRESS, Checkpoint.IMPACT}
        assert "does not see the club" in swing.reading.absent[Checkpoint.TOP]
        assert said(swing.reading.events, swing.reading.view(GroundView).moments.events)[0] == ""
    late = next(n for n in analysis.not_assessed if n.rule.id == "late_pressure_return")
    assert late.reason


def test_with_the_mat_alone_impact_is_taken_from_the_push_with_its_uncertainty():
    recording = play("good-load", 4, sources=("pressure",))
    for swing, truth in zip(an.read(capture_of(recording)).swings, recording.truth.swings, strict=True):
        impact = swing.events[Checkpoint.IMPACT]
        assert impact.method == "vertical-force-peak"
        assert abs(impact.time_s - truth.times_s["impact"]) < 2 * impact.uncertainty_s
        assert impact.uncertainty_s >= 0.05


def test_a_marked_instant_takes_the_place_of_the_push():
    data = capture_of(play("good-load", 4, sources=("pressure",)))
    first = an.read(data).swings[0]
    mine = first.events[Checkpoint.IMPACT].time_s - 0.05
    marked = an.read(data, {0: {Checkpoint.IMPACT: mine}}).swings[0]
    assert marked.events[Checkpoint.IMPACT].time_s == mine
    assert {v.metric.id for v in marked.measured} > {"return_time", "trail_push_off"}


def test_a_top_marked_by_hand_with_the_mat_alone_says_nothing_of_the_club():
    from finearc.services.record.ground import ground_info

    data = capture_of(play("good-load", 4, sources=("pressure",)))
    first = an.read(data).swings[0]
    top = first.events[Checkpoint.IMPACT].time_s - 0.3
    marked = an.read(data, {0: {Checkpoint.TOP: top}}).swings[0]
    assert not {(v.metric.id, v.moment.key) for v in marked.measured} & set(CLUB_TIMES)
    assert ground_info(marked, None).sentence == ""


def test_swings_are_found_on_the_mat_alone():
    from dataclasses import replace

    recording = play("good-load", 4, sources=("pressure",))
    found = an.read(replace(capture_of(recording), swings=None)).swings
    assert len(found) == 5
    for swing, truth in zip(found, recording.truth.swings, strict=True):
        assert swing.start_s < truth.times_s["takeaway"] < truth.times_s["impact"] < swing.end_s


def test_standing_still_is_no_swing():
    from dataclasses import replace

    data = replace(capture_of(play("on-heels-still", 4, sources=("pressure",))), swings=None)
    with pytest.raises(Exception, match="no swing found on the mat"):
        an.read(data)


def test_the_sentence_agrees_with_the_timeline_and_names_what_turned():
    for sources, turned in (
        (("wrist", "pressure"), "the hands turned"),
        (("wrist", "club", "pressure"), "the club turned"),
        (("body", "pressure"), "the upper body turned"),
        (("markers", "pressure"), "the club turned"),
    ):
        swing = reading("good-load", *sources).swings[0].reading
        known = {(v.metric, v.moment.key): v for v in swing.measured}
        since = known[m.RETURN_TIME, "top"].value
        text = said(swing.events, swing.view(GroundView).moments.events)[0]
        assert turned in text
        assert f"{abs(since):.2f}" in text or f"as {turned}" in text
        assert "after" not in text or since > 0


def test_a_return_within_its_uncertainty_came_back_as_the_club_turned():
    top, back = event(1.0, 0.01, "club-reversal"), event(1.009, 0.01, "ground")
    assert said({Checkpoint.TOP: top}, {"return": back}) == ("The pressure came back as the club turned.", "")


def test_a_return_after_the_club_is_said_so():
    top, back = event(1.0, 0.004, "club-reversal"), event(1.12, 0.004, "ground")
    assert said({Checkpoint.TOP: top}, {"return": back})[0] == (
        "The pressure came back 0.12\u00a0s after the club turned."
    )


def test_no_return_is_said_so():
    assert "did not come back" in said({Checkpoint.TOP: event(1.0, 0.004, "club-reversal")}, {})[1]
