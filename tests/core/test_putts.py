"""Putts through the whole path, sensors and cameras to values, against the model's truth and the definitions worked out
once more by other code (``validation.putting``)."""

from __future__ import annotations

from dataclasses import replace
from functools import cache

import numpy as np
import pytest
from validation import putting as check

from finearc.core.events.model import Checkpoint
from finearc.core.frames.handedness import Hand
from finearc.core.metrics.definition import Source
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.registry import ALL, LEAD_WRIST_DEVIATION, PUTT_DISTANCE, TEMPO
from finearc.core.putting.notes import PuttKind, strike_of
from finearc.core.sources.inertial import INERTIAL, MIXED
from finearc.core.sources.putt_optical import BENT, EXCHANGED
from finearc.core.sources.putt_view import REVERSED
from finearc.core.sources.putts import kind_in, values_of
from finearc.devices.played import Faults, play_live
from finearc.golfer.poses import PoseErrors
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.judging import analysis as an
from finearc.services.modelled import putting_capture_of
from finearc.services.record.putting import session_result


@cache
def exact(name, sources=("wrist", "markers"), seed=101):
    """A session whose poses were held exactly."""
    return check.reads(replace(PUTTING[name], poses=PoseErrors()), seed, sources)


@cache
def session(name, sources=("wrist",), seed=5, hand=Hand.RIGHT):
    recording = play_putting(PUTTING[name], seed, sources=sources, hand=hand)
    return recording, an.read(putting_capture_of(recording))


def test_wrists_are_measured_within_their_goals():
    errors = [check.wrist_errors(r) for name in ("putt-quiet", "putt-transition") for r in exact(name)]
    of = {k: check.rms([e[k] for e in errors]) for k in errors[0]}
    assert max(of["extension rmse"], of["deviation rmse"]) <= 0.12
    assert max(of["extension range"], of["deviation range"]) <= 0.15
    assert of["transition, hand"] <= 8.0
    assert of["impact, wrist"] <= 5.0
    assert of["impact, markers"] <= 1.0


@pytest.mark.parametrize("name", ["putt-quiet", "putt-handle-drift", "putt-lifted-handle", "putt-toe"])
def test_the_putter_is_where_the_definition_puts_it(name):
    errors = [check.putter_errors(r) for r in exact(name)[::3]]
    assert check.rms([e["points"] for e in errors]) <= 0.3
    assert check.rms([e["pivot height"] for e in errors]) <= 0.5


def test_the_order_of_movement_is_told():
    right = [ok for r in exact("putt-transition") for ok in check.pairs_in_order(r)]
    assert len(right) >= 8
    assert np.mean(right) >= 0.95


@pytest.mark.parametrize(("name", "side"), [("putt-toe", "toe"), ("putt-heel", "heel"), ("putt-quiet", "centre")])
def test_the_side_of_the_strike_is_told(name, side):
    told = [strike_of(r.values) for r in exact(name)]
    beyond = [t for t, r in zip(told, exact(name), strict=True) if abs(check.defined(r).apart[0, 1, 1]) >= 0.008]
    assert all(not t.is_hint for t in told)
    assert {t.side for t in (beyond or told)} == {side}


def test_the_interval_of_growth_holds_the_slope_as_often_as_it_says():
    assert 0.925 <= check.covered(500) <= 0.975


def test_growth_is_told_of_a_session_at_three_distances():
    _, reading = session("putt-transition")
    told = {g.metric: g for g in session_result(reading.swings).putt_growth}
    extension = told["putt_extension_range"]
    assert extension.putts == 15
    assert extension.ci95[0] < extension.slope < extension.ci95[1]
    assert 0.6 < extension.slope < 1.2  # from about 2° at three metres to about 8° at nine


@pytest.mark.parametrize("name", ["putt-one-distance", "putt-two-only"])
def test_growth_needs_two_distances_of_three_putts(name):
    _, reading = session(name)
    assert session_result(reading.swings).putt_growth == []
    assert all(values_of(s)[("putt_extension_range", pm.STROKE)].value > 0 for s in reading.swings)


def test_practice_strokes_are_told_apart_and_do_not_count():
    recording, reading = session("putt-practice")
    kinds = [kind_in(s) for s in reading.swings]
    assert kinds == [PuttKind.PUTT if p.style.ball else PuttKind.PRACTICE for p in recording.truth.swings]
    returns = [s.events[Checkpoint.IMPACT].method for s in reading.swings[::2]]
    assert set(returns) == {"hand-return"}  # where the hand was at address: nothing was felt


def test_putts_are_found_without_being_named():
    recording = play_putting(PUTTING["putt-two-only"], 6, sources=("wrist", "markers"))
    reading = an.read(replace(putting_capture_of(recording), swings=None))
    found = [s.events[Checkpoint.IMPACT].time_s for s in reading.swings]
    assert found == pytest.approx([p.times_s["impact"] for p in recording.truth.swings], abs=0.001)


def test_a_left_handers_twin_has_the_same_numbers():
    _, right = session("putt-two-only", ("wrist", "trail", "putter", "markers"), 7)
    _, left = session("putt-two-only", ("wrist", "trail", "putter", "markers"), 7, Hand.LEFT)
    for a, b in zip(right.swings, left.swings, strict=True):
        ours, theirs = values_of(a), values_of(b)
        assert ours.keys() == theirs.keys()
        for key in ours:
            assert theirs[key].value == pytest.approx(ours[key].value, abs=2e-3), key


def test_the_trail_wrist_is_measured_by_its_own_pair():
    recording, reading = session("putt-transition", ("wrist", "trail"))
    arm = recording.truth.arms["trail"]
    for putt, swing in zip(recording.truth.swings[::4], reading.swings[::4], strict=True):
        a, b = (round(1000 * putt.times_s[k]) for k in ("takeaway", "impact"))
        seen = values_of(swing)[("trail_putt_extension_range", pm.STROKE)]
        assert seen.source == Source.TRAIL_WRIST
        assert seen.value == pytest.approx(np.ptp(arm.extension[a:b]), abs=3.0 * seen.uncertainty)


def test_a_sensor_on_the_putter_tells_face_and_loft_against_address():
    with_both = session("putt-quiet", ("putter", "markers"), 8)[1].swings
    alone = session("putt-quiet", ("putter",), 8)[1].swings
    for both, one in zip(with_both[::3], alone[::3], strict=True):
        marked, own = values_of(both), values_of(one)
        aim = marked[("putter_face", "impact")].value - marked[("putter_face", "address")].value
        seen = own[("putter_face", "impact")]
        assert seen.note == "relative"
        assert seen.value == pytest.approx(aim, abs=np.deg2rad(1.2))
        lean = [v for v in marked[("putter_loft_change", "impact")].others if v.source == Source.PUTTER]
        assert lean[0].value == pytest.approx(marked[("putter_loft_change", "impact")].value, abs=np.deg2rad(0.8))


def test_a_sensor_that_points_to_the_grip_is_said_and_left_out():
    _, reading = session("putt-clip-reversed", ("wrist", "putter"))
    first = reading.swings[0]
    assert REVERSED in first.warnings
    assert "upside down" in an.missing_of(first)["putter_face"]
    assert ("putt_extension_range", pm.STROKE) in values_of(first)  # the wrist is read all the same


def test_heel_and_toe_exchanged_are_said_and_the_sweet_spot_lies_between_them_all_the_same():
    flipped = session("putt-markers-flipped", ("markers",), 9)[1].swings
    right = an.read(
        putting_capture_of(
            play_putting(replace(PUTTING["putt-markers-flipped"], marker_set={}), 9, sources=("markers",))
        )
    ).swings
    assert all(EXCHANGED in s.warnings for s in flipped)
    for a, b in zip(flipped, right, strict=True):
        assert values_of(a)[("sweet_spot_out", "impact")].value == pytest.approx(
            values_of(b)[("sweet_spot_out", "impact")].value, abs=0.0008
        )


def test_markers_that_do_not_keep_their_shape_leave_the_putter_out():
    recording = play_putting(PUTTING["putt-two-only"], 3, sources=("wrist", "markers"))
    log = recording.marker_set
    points = log.points_m.copy()
    points[:, log.labels.index("CGRP"), 2] += 0.08 * np.sin(2.0 * np.pi * 0.4 * log.time_s)  # it hangs on the player
    broken = replace(recording, marker_set=replace(log, points_m=points))
    first = an.read(putting_capture_of(broken)).swings[0]
    assert BENT in first.warnings
    assert ("sweet_spot_out", "impact") not in values_of(first)
    assert ("putt_extension_range", pm.STROKE) in values_of(first)


def test_without_the_marker_before_the_face_only_the_face_is_missing():
    story = replace(PUTTING["putt-two-only"], marker_set={"left_out": ("CFAC",)})
    first = an.read(putting_capture_of(play_putting(story, 3, sources=("markers",)))).swings[0]
    assert "CFAC" in an.missing_of(first)["putter_face"]
    assert ("putter_path", "impact") in values_of(first)


@pytest.mark.parametrize("gone", ["CGRP", "CHEL", "CTOE"])
def test_without_grip_end_heel_or_toe_it_is_said_which_is_missing(gone):
    story = replace(PUTTING["putt-two-only"], marker_set={"left_out": (gone,)})
    recording = play_putting(story, 3, sources=("wrist", "markers"))
    missing = an.missing_of(an.read(putting_capture_of(recording)).swings[0])
    for metric in (pm.SWEET_SPOT_OUT, pm.PIVOT_HEIGHT, pm.HANDLE_LIFT, pm.PUTTER_FACE, pm.PUTTER_PATH):
        assert gone in missing[metric.id]


def test_poses_held_again_between_putts_are_said():
    _, reading = session("putt-recalibrated")
    assert MIXED in reading.notes
    assert len(reading.swings) == 9
    assert MIXED not in session("putt-two-only")[1].notes


def test_tempo_of_a_putt_is_back_over_forward():
    recording, reading = session("putt-quiet", ("wrist", "markers"), 5)
    for putt, swing in zip(recording.truth.swings, reading.swings, strict=True):
        t = putt.times_s
        true = (t["transition"] - t["takeaway"]) / (t["impact"] - t["transition"])
        assert values_of(swing)[(TEMPO.id, "swing")].value == pytest.approx(true, abs=0.15)


def test_relative_and_absolute_are_said_and_kept_apart():
    _, reading = session("putt-ulnar")
    values = values_of(reading.swings[0])
    assert np.rad2deg(values[(LEAD_WRIST_DEVIATION.id, "address")].value) == pytest.approx(-41.0, abs=4.0)
    assert abs(np.rad2deg(values[("putt_deviation_at", "impact")].value)) < 2.0
    assert values[("putt_deviation_at", "impact")].note == "relative"


def test_a_putt_says_nothing_of_swings_nor_a_swing_of_putts():
    _, reading = session("putt-two-only")
    missing = an.missing_of(reading.swings[0])
    assert all(
        k.startswith(("putt", "trail_", "sweet_spot", "grip_end", "pendulum", "handle", "face_grip")) for k in missing
    )
    assert Checkpoint.TOP not in reading.swings[0].events


def test_the_instructors_note_is_a_value():
    _, reading = session("putt-grip-bias", seed=5)
    values = values_of(reading.swings[0])
    assert np.rad2deg(values[("face_grip_bias", "address")].value) == pytest.approx(6.0)
    assert values[("putt_distance", "swing")].value == 3.0
    assert values[("putt_distance", "swing")].source == Source.NOTED


def test_what_is_sent_live_reads_as_the_file_does():
    recording = play_putting(PUTTING["putt-two-only"], 3, sources=("wrist", "putter", "markers"))
    data = putting_capture_of(recording)
    batch = an.analyse(data)
    live, _ = play_live(data, Faults(0.0, 40.0, 0.0, 1), an.Options())
    for a, b in zip(batch.swings, live.swings, strict=True):
        ours, theirs = values_of(a.reading), values_of(b.reading)
        assert ours.keys() == theirs.keys()
        for key, value in ours.items():
            assert theirs[key].value == pytest.approx(value.value, abs=max(3.0 * value.uncertainty, 1e-9)), key


@pytest.mark.parametrize("sources", [("wrist",), ("markers",), ("putter",), ("trail",), ("wrist", "trail", "markers")])
def test_every_measure_of_a_putt_has_a_value_or_a_reason_and_never_both(sources):
    analysis = an.analyse(putting_capture_of(play_putting(PUTTING["putt-two-only"], 3, sources=sources)))
    for swing in analysis.swings:
        measured = {v.metric.id for v in swing.reading.measured if v.metric.of_putts}
        assert measured.isdisjoint(swing.missing)
        assert measured | set(swing.missing) == {x.id for x in ALL if x.of_putts}
        assert all(swing.missing.values())
        for value in swing.reading.measured:
            assert np.isfinite(value.value), value.metric.id
            assert value.uncertainty > 0 or value.metric is PUTT_DISTANCE, value.metric.id


@pytest.mark.parametrize(
    ("gone", "lost", "kept"), [("lead_hand", "putt_", "trail_putt_"), ("trail_forearm", "trail_putt_", "putt_")]
)
def test_across_a_long_gap_nothing_is_told_of_that_wrist(gone, lost, kept):
    """The cameras know when the ball is struck; the wrist was not heard on the way there."""
    recording = play_putting(PUTTING["putt-two-only"], 3, sources=("wrist", "trail", "markers"))
    turn = recording.truth.swings[0].times_s["transition"]
    data = putting_capture_of(recording)
    heard = tuple(
        replace(
            s,
            time_s=s.time_s[~cut],
            acc_m_s2=s.acc_m_s2[~cut],
            gyr_rad_s=s.gyr_rad_s[~cut],
        )
        if s.segment == gone
        else s
        for s in data.streams[INERTIAL]
        for cut in [(s.time_s > turn - 0.15) & (s.time_s < turn + 0.15)]
    )
    first, second = an.read(data.with_stream(INERTIAL, heard)).swings
    told = {m for m, _ in values_of(first)}
    assert Checkpoint.IMPACT in first.events
    assert not {m for m in told if m.startswith((f"{lost}ext", f"{lost}dev", f"{lost}roll"))}
    assert f"{kept}extension_range" in told
    assert "gap" in an.missing_of(first)[f"{lost}extension_range"]
    assert f"{lost}extension_range" in {m for m, _ in values_of(second)}


def test_a_strike_that_may_be_lost_in_the_noise_is_no_practice_stroke():
    story = replace(PUTTING["putt-two-only"], quirks={"acc_noise_m_s2": 3.0})
    reading = an.read(putting_capture_of(play_putting(story, 3, sources=("wrist",))))
    assert {kind_in(s) for s in reading.swings} <= {PuttKind.PUTT, PuttKind.UNKNOWN}
