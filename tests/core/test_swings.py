"""Swings and checkpoints: found, ordered, absent with a reason, corrected; sensors that move are noticed."""

from __future__ import annotations

import numpy as np
import pytest

from finearc.core.errors import CalibrationRefused, MissingStream, NoSwingFound
from finearc.core.events.checkpoints import crossing
from finearc.core.events.model import ORDER, Checkpoint
from finearc.core.kinematics.wrist import rotation_of
from finearc.core.signals.streams import Segment
from finearc.core.sources.address_check import GRAVITY_OFF, MOVED, Address, Addresses
from finearc.core.sources.capture import Capture, read_capture
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.inertial_view import GAP, SATURATED
from finearc.golfer.scenarios import SCENARIOS, UnknownScenario, play, scenario
from finearc.services.modelled import capture_of


def reading(name, seed=7, sources=("wrist", "club"), **capture):
    data = capture_of(play(name, seed, sources=sources))
    return read_capture(Capture(data.handedness, streams=data.streams, calibration=data.calibration, **capture))


def test_crossing_is_interpolated_between_samples():
    t = np.array([0.0, 0.1, 0.2, 0.3])
    hit = crossing(t, np.array([-1.0, -0.5, 1.5, 3.0]), 0, 4, rising=True)
    assert hit is not None
    assert hit[0] == pytest.approx(0.125)
    assert crossing(t, np.ones(4), 0, 4, rising=True) is None


@pytest.mark.parametrize("name", ["hold-then-flex", "flip", "half-speed", "no-ball", "short", "long"])
def test_every_swing_is_found_and_its_checkpoints_are_in_order(name):
    found = reading(name)
    assert len(found.swings) == 5
    for swing in found.swings:
        times = [swing.events[k].time_s for k in ORDER if k in swing.events]
        assert times == sorted(times)
        assert swing.absent == {}


def test_the_pair_alone_estimates_shaft_level_with_a_wider_uncertainty():
    with_clip, alone = reading("hold-then-flex"), reading("hold-then-flex", sources=("wrist",))
    for a, b in zip(with_clip.swings, alone.swings, strict=True):
        clip, estimate = (s.events[Checkpoint.SHAFT_LEVEL_BACK] for s in (a, b))
        assert estimate.method == "hand-estimate"
        assert estimate.uncertainty_s > 3 * clip.uncertainty_s
        assert abs(estimate.time_s - clip.time_s) < 3 * estimate.uncertainty_s


def test_a_club_clip_alone_gives_tempo_and_shaft_but_no_wrist():
    found = reading("hold-then-flex", sources=("club",))
    assert found.calibration is None
    ids = {m.metric.id for m in found.swings[0].measured}
    assert {"tempo", "shaft_elevation"} <= ids
    assert "lead_wrist_extension" not in ids


def test_without_a_strike_impact_is_the_hands_return_and_less_certain():
    swing = reading("no-ball").swings[0]
    assert swing.events[Checkpoint.IMPACT].method == "hand-return"
    assert swing.events[Checkpoint.IMPACT].uncertainty_s > 0.01


def test_a_long_gap_makes_what_was_not_seen_absent_with_its_reason():
    found = reading("long-gap")
    hit, others = found.swings[1], [found.swings[0], *found.swings[2:]]
    assert hit.absent[Checkpoint.IMPACT] == GAP
    assert Checkpoint.IMPACT not in hit.events
    assert not any(m.moment.key == "impact" for m in hit.measured)
    assert np.isnan(hit.traces["lead_wrist_extension"]).any()
    assert all(Checkpoint.IMPACT in s.events for s in others)


def test_a_slipping_sensor_is_noticed_at_the_next_address():
    found = reading("turned-sensor", seed=21)
    assert [s.sensor_moved for s in found.swings] == [False, False, True, True, True]
    assert found.swings[2].warnings == [MOVED]
    assert not any(s.grip_changed for s in found.swings)


@pytest.mark.parametrize("seed", range(1, 7))
def test_a_sensor_that_slips_about_any_axis_is_barred_or_asked_about(seed):
    found = reading("slip", seed=seed)
    assert found.swings[2].sensor_moved or found.swings[2].grip_changed is not None
    assert not any(s.sensor_moved or s.grip_changed for s in found.swings[:2])


@pytest.mark.parametrize("seed", range(1, 5))
def test_a_changed_grip_is_said_once_and_swings_stay_judged(seed):
    played = play("grip-changed", seed)
    data = capture_of(played)
    found = read_capture(Capture(data.handedness, streams=data.streams, calibration=data.calibration))
    at = [round(1000 * s.times_s["address"]) for s in played.truth.swings]
    true = played.truth.extension[at[2]] - played.truth.extension[at[1]]
    assert [s.grip_changed is not None for s in found.swings] == [False, False, True, False, False]
    assert not any(s.sensor_moved for s in found.swings)
    change = found.swings[2].grip_changed
    first = played.truth.extension[at[2]] - played.truth.extension[at[0]]
    assert change.extension_rad == pytest.approx(first, abs=np.deg2rad(2.5))
    assert true > np.deg2rad(8.0)
    words = f"{np.rad2deg(change.extension_rad):.0f}° more cupped at address than before: the grip, or the sensor?"
    assert found.swings[2].warnings == [words]


def address_of(extension_deg, deviation_deg=-20.0, twist_deg=1.0, twist_off_deg=0.0, gravity=9.81):
    wrist = rotation_of(*np.deg2rad([[extension_deg], [deviation_deg], [twist_deg]]))[0]
    return Address(wrist, float(np.deg2rad(twist_off_deg)), (gravity, 9.81))


def told(*addresses):
    seen = Addresses()
    return [seen.check(a) for a in addresses]


def test_a_grip_is_compared_with_the_one_in_force():
    """Hand-worked: 20, then 32 (12 more: asked), 34 (2 more: not), 20 again (14 less than what was said: asked)."""
    said = told(address_of(20), address_of(32), address_of(34), address_of(20))
    assert [t.grip is not None for t in said] == [False, True, False, True]
    assert said[1].grip.in_words(plain=False) == "12° more extended"
    assert said[3].grip.in_words() == "12° more bowed"
    assert [t.grip for t in told(address_of(20), address_of(30.9))] == [None, None]


def test_the_larger_of_cup_and_hinge_is_named():
    said = told(address_of(20, -20), address_of(25, -7))
    assert said[1].grip.question() == "13° more hinged at address than before: the grip, or the sensor?"


@pytest.mark.parametrize(
    ("second", "words"),
    [
        (address_of(20, twist_deg=15.0), MOVED),
        (address_of(20, twist_off_deg=-15.0), MOVED),
        (address_of(20, gravity=10.4), GRAVITY_OFF),
    ],
)
def test_what_no_grip_does_bars_judging_until_the_next_calibration(second, words):
    said = told(address_of(20), second, address_of(20), address_of(40))
    assert [t.moved for t in said] == [False, True, True, True]
    assert {t.warning for t in said[1:]} == {words}
    assert not any(t.grip for t in said)


@pytest.mark.parametrize(
    "second", [address_of(20, twist_deg=13.0), address_of(20, twist_off_deg=13.0), address_of(20, gravity=10.2)]
)
def test_below_the_limits_nothing_is_said(second):
    assert told(address_of(20), second)[1].warning == ""


@pytest.mark.parametrize("seed", range(5))
def test_ordinary_swings_raise_no_false_alarm(seed):
    for name in ("hold-then-flex", "cold-first-swings", "over-hinged"):
        assert not any(s.sensor_moved for s in reading(name, seed=seed).swings)


def test_saturated_gyroscopes_are_said_and_widen_the_uncertainty():
    clipped, clear = reading("clipping"), reading("hold-then-flex")
    assert all(SATURATED in s.warnings for s in clipped.swings)
    u = [next(m.uncertainty for m in r.swings[0].measured if m.moment.key == "top") for r in (clipped, clear)]
    assert u[0] > u[1]


def test_the_instructors_instant_takes_the_place_of_the_detected_one():
    plain = reading("hold-then-flex")
    moved_to = plain.swings[0].events[Checkpoint.TOP].time_s + 0.05
    moved = reading("hold-then-flex", corrections={0: {Checkpoint.TOP: moved_to}})
    event = moved.swings[0].events[Checkpoint.TOP]
    assert (event.time_s, event.method, event.confidence) == (moved_to, "instructor", 1.0)
    assert moved.swings[1].events == plain.swings[1].events


def test_a_recording_without_a_swing_says_how_fast_it_was():
    recording = play("setup-only", 1)
    with pytest.raises(NoSwingFound) as caught:
        read_capture(Capture(streams={INERTIAL: recording.streams}))
    assert caught.value.fastest_deg_s < caught.value.needed_deg_s == 400.0


def test_what_is_missing_is_named():
    recording = play("flat", 1)
    with pytest.raises(MissingStream, match="only lead_hand present"):
        read_capture(Capture(streams={INERTIAL: [s for s in recording.streams if s.segment is Segment.LEAD_HAND]}))


def test_a_swing_window_outside_the_recording_is_refused():
    with pytest.raises(CalibrationRefused, match="outside the recording"):
        reading("flat", swings=[(900.0, 903.0)])


def test_scenarios_are_deterministic_and_a_misspelt_name_is_helped():
    a, b, c = play("dip", 3), play("dip", 3), play("dip", 4)
    assert (a.streams[0].acc_m_s2 == b.streams[0].acc_m_s2).all()
    assert (
        a.streams[0].acc_m_s2.shape != c.streams[0].acc_m_s2.shape
        or (a.streams[0].acc_m_s2 != c.streams[0].acc_m_s2).any()
    )
    with pytest.raises(UnknownScenario, match='did you mean "dip"'):
        scenario("dipp")


def test_every_scenario_plays():
    for name, story in SCENARIOS.items():
        recording = play(name, 1)
        assert len(recording.truth.swings) == len(story.styles)


def test_the_models_twist_stays_within_five_degrees():
    for seed in range(3):
        twist = np.rad2deg(play("over-hinged", seed).truth.twist)
        assert np.abs(twist).max() <= 9.0  # five of the model, and the poses' own errors
