"""A round's clips against the golfer model's truth, and against motions worked out by hand."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation
from validation.rounds import scored

from finearc.core.comparing.change import ChangeVerdict
from finearc.core.course.card import CardLine, lines_of
from finearc.core.course.clip_log import recordings_of
from finearc.core.course.compared import BACK, LENGTH, Shot, What, compare_shots, comparisons, groups_of, sentence
from finearc.core.course.kinds import MotionKind, Named, Stroke, name_of
from finearc.core.course.motions import Motion, motions_of
from finearc.core.course.swung import swings_in
from finearc.core.errors import StreamError
from finearc.core.signals.streams import GRAVITY_M_S2, ImuStream, Segment
from finearc.golfer.course import round as model
from finearc.services.course import round_reading as rr
from finearc.services.course.round_result import round_result
from finearc.services.modelled import round_of

RATE_HZ = 200.0


@pytest.fixture(scope="module")
def played():
    return model.play_round("round-short-under-pressure", 7)


@pytest.fixture(scope="module")
def motions(played):
    return motions_of(played.logs)


def test_shots_are_found_and_hardly_anything_else_is_called_one(played, motions):
    score = scored(played, motions)
    assert score.shots == 80
    assert score.share_found >= 0.98
    assert score.share_wrong <= 0.02
    assert score.confused["putt", "putt"] >= 39
    assert score.confused["practice", "practice"] >= 0.97 * sum(
        n for (k, _), n in score.confused.items() if k == "practice"
    )
    assert score.confused["other", "other"] >= 0.97 * sum(n for (k, _), n in score.confused.items() if k == "other")


def test_nothing_that_was_logged_is_thrown_away(played, motions):
    for true in played.truth:
        assert any(m.club == true.club and m.start_s < true.end_s and m.end_s > true.start_s for m in motions)


def test_backswings_are_as_long_as_they_were_and_as_certain_as_is_said(played, motions):
    score = scored(played, motions)
    assert score.rmse_deg <= 1.0
    assert 0.3 < np.std(score.stated) < 1.2
    assert np.percentile(np.abs(score.stated), 95) < 2.5
    assert np.sqrt(np.mean(np.square(score.swept_deg))) < 1.0
    assert abs(np.mean(score.impact_ms)) < 3.0
    assert np.std(score.impact_ms) < 4.0


def pendulum(angle_rad, *, lying_deg=-60.0, bias=(0.0, 0.0, 0.0), knock_s=None):
    """A club's shaft turned in a vertical plane by ``angle_rad`` (n,) from where it lay, its clip held in place: what its
    clip logs, and the shaft's elevation (n,), rad. Gravity and rates follow from the definition alone."""
    time_s = np.arange(len(angle_rad)) / RATE_HZ
    elevation = np.deg2rad(lying_deg) + angle_rad
    shaft_up, across_up = np.sin(elevation), np.cos(elevation)
    acc = GRAVITY_M_S2 * np.column_stack([shaft_up, across_up, np.zeros_like(elevation)])
    gyr = np.column_stack([np.zeros_like(elevation), np.zeros_like(elevation), np.gradient(elevation, time_s)])
    turned = Rotation.from_euler("x", 35.0, degrees=True)  # the clip sits turned about the shaft
    acc, gyr = turned.apply(acc), turned.apply(gyr) + np.asarray(bias)
    if knock_s is not None:
        t = time_s - knock_s
        acc[:, 1] += np.where(t >= 0, 180.0 * np.exp(-np.maximum(t, 0) / 0.007), 0.0)
    return ImuStream(Segment.CLUB, time_s, acc, gyr, "7-iron.csv"), elevation


def a_swing(back_deg=200.0, back_s=0.8, down_s=0.26, rest_s=1.0):
    """Rest, back as a half cosine, down ever faster, through and to rest; the angle (n,) and when it is struck, s."""
    step, back_rad = 1.0 / RATE_HZ, np.deg2rad(back_deg)
    back = back_rad * (1 - np.cos(np.pi * np.arange(0, back_s, step) / back_s)) / 2
    down = back_rad * (1 - (np.arange(0, down_s, step) / down_s) ** 2)
    speed = 2 * back_rad / down_s
    on = -speed * 0.25 * (1 - np.exp(-np.arange(0, 1.2, step) / 0.25))
    rest = np.zeros(round(rest_s / step))
    return np.concatenate([rest, back, down, on, np.full(round(rest_s / step), on[-1])]), rest_s + back_s + down_s


@pytest.mark.parametrize("bias_deg_s", [0.0, 0.8])
def test_a_backswing_worked_out_by_hand(bias_deg_s):
    """A shaft that lies 60° below level and goes back by 200° in its plane points 40° above level at the top, past the
    vertical; it has swept 200°, and comes down at 2·200°/0.26 s."""
    angle, struck_s = a_swing()
    log, _ = pendulum(angle, bias=np.deg2rad([bias_deg_s, -bias_deg_s, bias_deg_s]), knock_s=struck_s)
    (recording,) = recordings_of("7-iron", log)
    (swing,) = swings_in(recording)
    assert np.rad2deg(swing.elevation) == pytest.approx(40.0, abs=0.5)
    assert np.rad2deg(swing.swept) == pytest.approx(200.0, abs=1.5)
    assert np.rad2deg(swing.peak_rad_s) == pytest.approx(2 * 200.0 / 0.26, rel=0.03)
    assert swing.top_s == pytest.approx(1.8, abs=0.01)
    assert swing.impact_s == pytest.approx(struck_s, abs=0.006)
    assert swing.tempo == pytest.approx(0.8 / 0.26, rel=0.08)
    assert name_of(swing).kind is MotionKind.SHOT
    assert name_of(swing).stroke is Stroke.FULL


def test_without_a_strike_it_is_a_practice_swing():
    log, _ = pendulum(a_swing()[0])
    (motion,) = motions_of({"7-iron": log})
    assert motion.named.kind is MotionKind.PRACTICE
    assert motion.swing is not None
    assert motion.swing.impact_s is None


def test_a_clip_that_wakes_in_the_middle_of_a_swing_still_finds_it_and_says_how_little_it_knows():
    angle, struck_s = a_swing()
    log, elevation = pendulum(angle, knock_s=struck_s)
    late = log.between(1.3, 10.0)
    (motion,) = motions_of({"7-iron": late})
    assert motion.named.kind is MotionKind.SHOT
    swing = motion.swing
    assert swing is not None
    assert swing.standing is None
    assert abs(swing.elevation - float(np.interp(1.8, log.time_s, elevation_of(elevation)))) < 3 * swing.elevation_sd


def elevation_of(course):
    """Elevations (n,) as an arcsine has them."""
    return np.arcsin(np.sin(course))


def test_a_pause_of_more_than_half_a_second_parts_two_recordings():
    log, _ = pendulum(np.zeros(400))
    apart = replace(log, time_s=log.time_s + np.where(np.arange(400) < 200, 0.0, 0.51))
    together = replace(log, time_s=log.time_s + np.where(np.arange(400) < 200, 0.0, 0.49))
    assert len(recordings_of("driver", apart)) == 2
    assert len(recordings_of("driver", together)) == 1


def test_a_log_whose_time_goes_back_is_refused_with_its_row():
    log, _ = pendulum(np.zeros(400))
    time_s = log.time_s.copy()
    time_s[200:] -= 0.5
    with pytest.raises(StreamError, match="row 202"):
        recordings_of("driver", replace(log, time_s=time_s))


def test_the_offset_is_read_at_rest_and_said_how_well():
    log, _ = pendulum(np.zeros(400), bias=(0.01, -0.02, 0.005))
    (recording,) = recordings_of("driver", log)
    assert np.abs(recording.gyr_rad_s).max() < 1e-9
    assert recording.offset_sd < np.deg2rad(0.1)


def shot(length_deg=10.0, back_s=0.8, club="7-iron", **more):
    return Shot(club, Stroke.FULL, np.deg2rad(length_deg), np.deg2rad(0.3), back_s, 3.0, **more)


def test_under_pressure_nine_degrees_shorter_is_said_with_how_many():
    off = (-1.0, 0.0, 1.0)
    calm = [shot(10 + off[k % 3], 0.80 + 0.01 * off[k % 3], pressure=0) for k in range(9)]
    tense = [shot(19 + off[k % 3], 0.69 + 0.01 * off[k % 3], pressure=2) for k in range(6)]
    mine = next(c for c in comparisons([*calm, *tense]) if c.club == "7-iron")
    assert mine.main.verdict is ChangeVerdict.CHANGED
    assert np.rad2deg(mine.main.difference) == pytest.approx(9.0, abs=1.0)
    assert (
        sentence(mine, "7-iron")
        == "Under pressure your 7-iron backswing is 9° shorter and 0.11 s quicker, 6 of 6 shots."
    )


def test_few_or_scattered_shots_are_not_told_apart():
    few = compare_shots(What.PRESSURE, "driver", [shot(pressure=0)] * 5, [shot(20.0, pressure=3)] * 2)
    assert few.main.verdict is ChangeVerdict.TOO_FEW
    assert "too few shots to say (2 against 5" in sentence(few, "driver")
    rng = np.random.default_rng(3)
    wide = [[shot(10 + rng.normal(0, 6)) for _ in range(5)] for _ in range(2)]
    unsure = compare_shots(What.LATE, "driver", *wide)
    assert unsure.main.verdict is ChangeVerdict.NOT_DISTINGUISHABLE
    assert "not yet distinguishable" in sentence(unsure, "driver")


def test_other_clubs_in_the_two_groups_make_no_difference():
    """A wedge's backswing is 14° shorter than a driver's: more wedges under pressure are not a shorter backswing."""
    rng = np.random.default_rng(8)
    calm = [shot(8 + rng.normal(), club="driver") for _ in range(8)] + [
        shot(22 + rng.normal(), club="gap-wedge") for _ in range(2)
    ]
    tense = [shot(8 + rng.normal(), club="driver") for _ in range(2)] + [
        shot(22 + rng.normal(), club="gap-wedge") for _ in range(8)
    ]
    found = compare_shots(What.PRESSURE, "all", calm, tense)
    assert abs(np.rad2deg(found.main.difference)) < 1.5
    assert not found.main.changed


def test_what_was_looked_at_besides_is_told_only_after_holm():
    """Of many comparisons in which nothing differs, hardly one in a hundred rounds says that the time does."""
    rng = np.random.default_rng(2)
    told = 0
    for _ in range(100):
        shots = [
            shot(10 + rng.normal(), 0.8 + rng.normal(0, 0.02), str(rng.choice(["driver", "7-iron", "gap-wedge"])),
                 order=float(rng.random()), pressure=int(rng.integers(4)), after_bad=bool(rng.random() < 0.3))
            for _ in range(40)
        ]  # fmt: skip
        told += any(c.changes[BACK.id].changed for c in comparisons(shots))
    assert told <= 10


def test_groups_leave_out_what_is_not_known():
    shots = [shot(order=0.2, pressure=0), shot(order=0.9, pressure=3, after_bad=True), shot(after_bad=False)]
    assert [len(g) for g in groups_of(What.LATE, shots)] == [1, 1]
    assert [len(g) for g in groups_of(What.PRESSURE, shots)] == [1, 1]
    assert [len(g) for g in groups_of(What.AFTER_BAD, shots)] == [1, 1]


def motion(at_s, club="7-iron", kind=MotionKind.SHOT):
    return Motion(club, at_s, at_s + 2.0, Named(kind, 0.9, None), None)


def test_each_line_of_the_card_finds_the_nearest_shot_of_its_club():
    motions = [motion(100.0), motion(160.0), motion(165.0, "driver"), motion(170.0, kind=MotionKind.PRACTICE)]
    card = [CardLine(168.0, 1, 2, "7-iron"), CardLine(104.0, 1, 1, "7-iron"), CardLine(9000.0, 2, 1, "7-iron")]
    assert lines_of(motions, card) == {0: card[1], 1: card[0]}


def test_results_that_were_bad_are_known_by_what_they_begin_with():
    assert CardLine(0.0, result="bad, left rough").bad is True
    assert CardLine(0.0, result="good").bad is False
    assert CardLine(0.0).bad is None


def test_the_whole_round_says_what_its_story_tells(played):
    read = rr.read_round(round_of(played))
    result = round_result(read)
    pooled = next(c for c in result.compared if (c.club, c.what) == ("all", "under_pressure"))
    assert pooled.verdict is ChangeVerdict.CHANGED
    assert pooled.difference == pytest.approx(9.0, abs=1.5)
    assert "shorter and 0.1" in pooled.sentence
    assert len(result.swings) >= len(played.truth)
    assert sum(s.hole is not None for s in result.swings) >= 78


def test_a_steady_round_claims_nothing():
    read = rr.read_round(round_of(model.play_round("round-steady", 11, model.RoundPlan(disturbances=60))))
    for found in read.compared():
        if found.club == "all":
            assert not found.main.changed, sentence(found, "")


def test_a_clip_with_its_clock_set_wrong_is_said_and_left_out_of_early_and_late(played):
    logs = dict(played.logs)
    logs["7-iron"] = replace(logs["7-iron"], time_s=logs["7-iron"].time_s + 9 * 3600.0)
    read = rr.read_round(replace(round_of(played), logs=logs, card=()))
    assert read.off_clock == {"7-iron"}
    assert "The clock of the 7-iron clip is set wrong" in read.notes[0]
    assert any(m.club == "7-iron" and m.named.kind is MotionKind.SHOT for m in read.motions)
    assert all(s.order is None for s in read.shots() if s.club == "7-iron")


def test_a_slow_clip_is_said_and_a_missing_strike_is_no_proof():
    log, _ = pendulum(a_swing()[0])
    slow = replace(log, time_s=log.time_s[::2], acc_m_s2=log.acc_m_s2[::2], gyr_rad_s=log.gyr_rad_s[::2])
    read = rr.read_round(rr.RoundData(None, rr.Hand.RIGHT, {"7-iron": slow}))
    assert read.notes == [rr.SLOW.format("7-iron", 100)]
    (motion,) = read.motions
    assert motion.named.kind is MotionKind.PRACTICE
    assert motion.named.confidence <= 0.75
    (fast,) = motions_of({"7-iron": log})
    assert fast.named.confidence > 0.9


def test_a_round_of_one_shot_is_read_and_compares_nothing(played):
    true = next(t for t in played.truth if t.kind == "shot")
    log = played.logs[true.club].between(true.start_s - 1.0, true.end_s + 1.0)
    read = rr.read_round(rr.RoundData(None, round_of(played).handedness, {true.club: log}))
    assert [m.named.kind for m in read.motions] == [MotionKind.SHOT]
    assert read.compared() == []


def test_logs_with_nothing_in_them_are_no_round():
    log, _ = pendulum(np.zeros(20))
    with pytest.raises(rr.NoRound):
        rr.read_round(rr.RoundData(None, rr.Hand.RIGHT, {"driver": log}))


def test_lengths_are_compared_by_the_elevation_that_grows_as_the_backswing_shortens():
    found = compare_shots(What.COURSE, "7-iron", [shot(10.0)] * 4, [shot(4.0)] * 4)
    assert "6° longer" in sentence(found, "7-iron")
    assert LENGTH.read(shot(10.0)) == pytest.approx(np.deg2rad(10.0))
