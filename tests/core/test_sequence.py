"""Order of the parts, start of the move, smoothness: made-up courses with answers known by hand, and SciPy."""

import numpy as np
import pytest
from hypothesis import given, strategies as st
from scipy.integrate import quad
from scipy.interpolate import CubicSpline

from finearc.core.events.model import Checkpoint, event
from finearc.core.metrics import registry as m
from finearc.core.metrics.body import path_and_attack
from finearc.core.metrics.definition import Source
from finearc.core.metrics.sequence import (
    Course,
    knee_straightening,
    sequence_metrics,
    smoothness,
    spectral_arc_length,
    start_of_move,
    stretch_and_share,
)

T = np.arange(0.0, 2.0, 0.004)
EVENTS = {k: event(t, 0.001, "made") for k, t in (("takeaway", 0.2), ("top", 1.0), ("impact", 1.25))}
EVENTS = {Checkpoint(k): e for k, e in EVENTS.items()}


def bump(at_s, size, width_s=0.06):
    return size * np.exp(-(((T - at_s) / width_s) ** 2))


def courses(times, sizes=(8.0, 11.0, 16.0, 38.0)):
    rates = (m.PELVIS_TURN_RATE, m.THORAX_TURN_RATE, m.LEAD_ARM_RATE, m.CLUB_RATE)
    signs = (-1, -1, 1, 1)  # turning open is a falling turn
    return {
        r: Course(T, s * bump(t, size), 0.1, Source.MARKERS)
        for r, s, t, size in zip(rates, signs, times, sizes, strict=True)
    }


def values(found):
    return {v.metric: v.value for v in found}


def test_peaks_gains_and_times_before_impact_of_a_made_sequence():
    found = values(sequence_metrics(courses((1.10, 1.14, 1.17, 1.24)), EVENTS))
    assert found[m.PELVIS_PEAK_RATE] == pytest.approx(8.0, rel=1e-3)
    assert found[m.PELVIS_PEAK_TIME] == pytest.approx(0.15, abs=1e-3)
    assert found[m.CLUB_PEAK_TIME] == pytest.approx(0.01, abs=1e-3)
    assert found[m.THORAX_GAIN] == pytest.approx(11 / 8, rel=1e-3)
    assert found[m.LEAD_ARM_GAIN] == pytest.approx(16 / 11, rel=1e-3)
    assert found[m.SEQUENCE_GAP] == pytest.approx(0.03, abs=1e-3)


def parabola(top_s, size, open_s):
    """A rate that falls off from its peak as a parabola: three samples of it tell the peak exactly."""
    return Course(T, -(size - 0.5 * open_s * (T - top_s) ** 2), 0.1, Source.MARKERS)


@pytest.mark.parametrize("peak_s", [0.9549, 0.9551, 1.1013, 1.2447])
@pytest.mark.parametrize("bend", [0.3, 3.0, 300.0])
def test_the_peak_of_a_parabola_is_told_to_the_last_digit(peak_s, bend):
    """Also beside the first and the last sample of the stretch, and however flat it is."""
    found = values(sequence_metrics({m.PELVIS_TURN_RATE: parabola(peak_s, 9.0, bend)}, EVENTS))
    assert 1.25 - found[m.PELVIS_PEAK_TIME] == pytest.approx(peak_s, abs=1e-6)
    assert found[m.PELVIS_PEAK_RATE] == pytest.approx(9.0, abs=1e-9)


def test_a_rate_that_still_rises_at_impact_peaks_there():
    found = values(sequence_metrics({m.PELVIS_TURN_RATE: parabola(1.5, 9.0, 30.0)}, EVENTS))
    last = T[T <= 1.25][-1]
    assert 1.25 - found[m.PELVIS_PEAK_TIME] == pytest.approx(last)
    assert found[m.PELVIS_PEAK_RATE] == pytest.approx(9.0 - 15.0 * (last - 1.5) ** 2)


def test_a_part_that_turns_back_all_the_way_has_no_peak():
    assert sequence_metrics({m.PELVIS_TURN_RATE: Course(T, np.full(len(T), 2.0), 0.1, Source.MARKERS)}, EVENTS) == []


def test_uncertainties_of_the_sequence():
    """A time before impact joins the peak's own and impact's (squares add, JCGM 100:2008, 5.1.2; number from memory); house values for the
    peak of markers, 4 ms, and of body sensors, 6 ms."""
    seen = courses((1.10, 1.14, 1.17, 1.24))
    seen[m.PELVIS_TURN_RATE] = Course(T, -bump(1.10, 8.0), 0.5, Source.BODY)
    found = {v.metric: v for v in sequence_metrics(seen, EVENTS)}
    assert found[m.PELVIS_PEAK_TIME].uncertainty == pytest.approx(np.hypot(0.006, 0.001))
    assert found[m.THORAX_PEAK_TIME].uncertainty == pytest.approx(np.hypot(0.004, 0.001))
    assert found[m.PELVIS_PEAK_RATE].uncertainty == pytest.approx(0.5)  # the trace's own, above 2 % of the rate
    assert found[m.CLUB_PEAK_RATE].uncertainty == pytest.approx(0.02 * 38.0, rel=1e-3)
    assert found[m.THORAX_GAIN].source is Source.SEVERAL
    assert found[m.LEAD_ARM_GAIN].source is Source.MARKERS
    assert found[m.SEQUENCE_GAP].source is Source.SEVERAL
    assert found[m.SEQUENCE_GAP].uncertainty == pytest.approx(np.hypot(0.004, 0.004))


@pytest.mark.parametrize("missing", ["top", "impact"])
def test_without_top_or_impact_there_is_no_sequence(missing):
    known = {k: e for k, e in EVENTS.items() if k != missing}
    assert sequence_metrics(courses((1.10, 1.14, 1.17, 1.24)), known) == []


@given(st.floats(1.06, 1.2), st.floats(0.05, 0.09))
def test_a_peak_between_samples_is_found_between_them(at, width):
    rates = courses((at, 1.21, 1.22, 1.23))
    rates[m.PELVIS_TURN_RATE] = Course(T, -bump(at, 9.0, width), 0.1, Source.MARKERS)
    found = values(sequence_metrics(rates, EVENTS))
    assert 1.25 - found[m.PELVIS_PEAK_TIME] == pytest.approx(at, abs=2e-4)


def test_a_later_part_that_is_fastest_first_is_out_of_order():
    found = values(sequence_metrics(courses((1.15, 1.10, 1.17, 1.24)), EVENTS))
    assert found[m.SEQUENCE_GAP] == pytest.approx(-0.05, abs=1e-3)


def test_one_missing_part_leaves_the_order_open():
    partial = courses((1.10, 1.14, 1.17, 1.24))
    del partial[m.LEAD_ARM_RATE]
    found = values(sequence_metrics(partial, EVENTS))
    assert m.SEQUENCE_GAP not in found
    assert m.PELVIS_PEAK_RATE in found
    assert sequence_metrics(partial, {}) == []


def test_several_sources_in_one_order_are_named_as_such():
    mixed = courses((1.10, 1.14, 1.17, 1.24))
    mixed[m.CLUB_RATE] = Course(T, mixed[m.CLUB_RATE].values, 0.1, Source.CLUB)
    gap = next(v for v in sequence_metrics(mixed, EVENTS) if v.metric is m.SEQUENCE_GAP)
    assert gap.source is Source.SEVERAL


def swayed(turns_at_s, back=-0.02, forth=0.1):
    """Away by 2 cm, back toward the target from ``turns_at_s`` on."""
    knots = CubicSpline([0.0, 0.2, turns_at_s, 1.25, 2.0], [0, 0, back, forth, forth], bc_type="clamped")
    return Course(T, knots(T), 0.001, Source.MARKERS)


@pytest.mark.parametrize("at", [0.92, 0.97, 1.03])
def test_the_move_starts_where_sway_turns_for_good(at):
    sway = swayed(at)
    lowest = T[np.argmin(np.where(T < 1.25, sway.values, 9))]
    found = values(start_of_move({m.PELVIS_SWAY: sway, m.THORAX_SWAY: sway}, EVENTS))
    assert found[m.START_OF_MOVE] == pytest.approx(lowest - 1.0, abs=0.005)
    assert found[m.MOVE_TOGETHER] > 0


def test_an_upper_body_that_stays_back_is_not_together():
    still = Course(T, -0.01 * T, 0.001, Source.MARKERS)
    assert values(start_of_move({m.PELVIS_SWAY: swayed(0.97), m.THORAX_SWAY: still}, EVENTS))[m.MOVE_TOGETHER] < 0


def test_a_pelvis_that_never_goes_toward_the_target_has_no_start():
    assert start_of_move({m.PELVIS_SWAY: Course(T, -0.02 * T, 0.001, Source.MARKERS)}, EVENTS) == []


def test_stretch_is_the_gain_of_separation_after_the_top():
    apart = Course(T, 0.8 + bump(1.08, 0.15, 0.05), 0.01, Source.MARKERS)
    found = values(stretch_and_share({m.SEPARATION: apart}, EVENTS, {}))
    assert found[m.SEPARATION_STRETCH] == pytest.approx(0.15 - (apart.at(1.0) - 0.8), abs=1e-3)
    falling = Course(T, 0.8 - 0.1 * T, 0.01, Source.MARKERS)
    assert values(stretch_and_share({m.SEPARATION: falling}, EVENTS, {}))[m.SEPARATION_STRETCH] == 0


def test_the_knee_straightens_from_its_deepest_bend_to_impact():
    knee = Course(T, 0.5 + bump(1.1, 0.2, 0.05), 0.01, Source.MARKERS)
    assert values(knee_straightening({m.LEAD_KNEE_FLEXION: knee}, EVENTS))[m.LEAD_KNEE_STRAIGHTENING] == pytest.approx(
        0.7 - knee.at(1.25), abs=1e-3
    )


def minimum_jerk_speed(n=400):
    u = np.linspace(0, 1, n)
    return 30 * u**2 - 60 * u**3 + 30 * u**4


# Balasubramanian et al., J NeuroEng Rehabil 12:112, 2015: a minimum-jerk movement has -1.41 (-1.4058 by an independent
# implementation, quoted from memory)
def test_smoothness_of_a_minimum_jerk_movement_is_the_published_one():
    assert spectral_arc_length(minimum_jerk_speed(), 1 / 400) == pytest.approx(-1.41, abs=0.01)


def test_smoothness_knows_neither_size_nor_speed_but_feels_a_tremor():
    speed = minimum_jerk_speed()
    assert spectral_arc_length(7 * speed, 1 / 400) == pytest.approx(spectral_arc_length(speed, 1 / 400))
    rough = speed + 0.3 * np.sin(2 * np.pi * 6 * np.linspace(0, 1, 400))
    assert spectral_arc_length(rough, 1 / 400) < spectral_arc_length(speed, 1 / 400) - 0.1


def test_smoothness_is_taken_from_takeaway_to_top():
    course = Course(T, np.interp(T, [0.2, 0.6, 1.0], [0, 5, 0]), 0.1, Source.CLUB)
    assert smoothness({m.CLUB_RATE: course}, EVENTS)[0].source is Source.CLUB
    assert smoothness({}, EVENTS) == []


def test_smoothness_is_that_of_the_fastest_source_and_bears_its_name():
    """A value of one source is never compared with that of another: each is a metric with a range of its own."""
    t = np.arange(0.0, 2.0, 0.005)
    even = Course(t, np.sin(np.pi * t / 2.0), 0.1, Source.WRIST)
    there = {m.THORAX_TURN_RATE: even, m.HAND_RATE: even, m.CLUB_RATE: even}
    named = []
    for rate in (m.CLUB_RATE, m.HAND_RATE, m.THORAX_TURN_RATE):
        (found,) = smoothness(there, EVENTS)
        named.append(found.metric)
        del there[rate]
    assert named == [m.SMOOTHNESS, m.HAND_SMOOTHNESS, m.UPPER_BODY_SMOOTHNESS]
    (away,) = smoothness({m.THORAX_TURN_RATE: Course(t, -even.values, 0.1, Source.BODY)}, EVENTS)
    assert (
        away.value == smoothness({m.THORAX_TURN_RATE: even}, EVENTS)[0].value
    )  # a turn has a sign, its speed has none


@pytest.mark.parametrize(("path", "attack"), [(0, 0), (4, -5), (-6, 2)])
def test_path_and_attack_are_the_direction_of_the_heads_velocity(path, attack):
    t = np.arange(60) / 240.0
    impact = 0.15
    a, b = np.deg2rad([path, attack])
    v = 38.0 * np.array([np.sin(a) * np.cos(b), np.cos(a) * np.cos(b), np.sin(b)])
    s = (t - impact)[:, None]
    curve = np.array([60.0, 0.0, 120.0])  # the head goes round, m/s²
    head = v * s + 0.5 * curve * s**2
    head[t > impact] = np.array([9.0, 9.0, 9.0])  # what comes after the strike must not matter
    found = path_and_attack(t, head, impact)
    assert np.rad2deg(found[0]) == pytest.approx(path, abs=0.05)
    assert np.rad2deg(found[1]) == pytest.approx(attack, abs=0.05)
    assert found[2] == pytest.approx(38.0, abs=0.1)
    assert path_and_attack(t[:3], head[:3], impact) is None


def test_the_arc_of_a_spectrum_away_from_rest_is_that_of_its_curve():
    """A burst about 5 Hz under a bell: its spectrum is a bell about 5 Hz, whose arc between 5 % of its height on
    either side is an integral (SciPy's quadrature), whatever the width."""
    t = np.arange(-4.0, 4.0, 0.004)
    steep = 2.0 * np.sqrt(np.log(20.0))

    def speed_along(x):
        bell = np.exp(-((steep * (x - 0.5)) ** 2))
        return np.hypot(1.0, 2.0 * steep**2 * (x - 0.5) * bell)

    arc, _ = quad(speed_along, 0.0, 1.0)
    for width_s in (0.25, 0.4):
        burst = np.exp(-((t / width_s) ** 2)) * np.cos(2 * np.pi * 5.0 * t)
        assert spectral_arc_length(burst, 0.004) == pytest.approx(-arc, rel=2e-3)
