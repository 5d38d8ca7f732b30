"""Live feedback against the golfer model: parts of a repetition, bands, success, fading."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from scipy.spatial.transform import Rotation

from finearc.core.events.swings import Shot
from finearc.core.live.anchors import Anchors
from finearc.core.live.angles import LiveTrace
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.signals.streams import Segment
from finearc.core.training.bands import Band, EdgeState, within
from finearc.core.training.parts import SCALE, PartsState, Phase, follow, phase_at
from finearc.core.training.success import (
    EVERY,
    NARROWEST,
    STAGE,
    WIDEST,
    Fading,
    Width,
    felt_steps,
    ladder_of,
    runs_of,
)
from finearc.core.training.trainer import Trainer
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.golfer.scenarios import play
from finearc.golfer.session import angular_velocity

RATE_HZ = 200


def turning(session, start_s, end_s):
    """How the hand really turns, at the rate of a sensor."""
    r = session.r_bay_from_hand
    rates = np.einsum("nij,nj->ni", r, angular_velocity(r))
    rows = np.flatnonzero((session.time_s >= start_s) & (session.time_s < end_s))[:: 1000 // RATE_HZ]
    return session.time_s[rows], rates[rows], r[rows]


def hangs(session, at_s):
    """Whether the forearm points down then, as at an address."""
    return bool(session.r_bay_from_forearm[round(at_s * 1000), 2, 0] < -0.5)


def followed(session, start_s, end_s, slice_of=10):
    """Every phase of a swing as it was told, and the repetitions."""
    state, ended = PartsState(), []
    told = {phase: [] for phase in Phase}
    time_s, rates, r = turning(session, start_s, end_s)
    for k in range(0, len(time_s), slice_of):
        now = time_s[k : k + slice_of]
        ended += follow(state, now, rates[k : k + slice_of], r[k : k + slice_of], at_address=hangs(session, now[0]))
        for phase in Phase:
            told[phase] += phase_at(state, now, phase).tolist()
    return time_s, {k: np.array(v) for k, v in told.items()}, ended


@pytest.mark.parametrize("name", ["putt-quiet", "putt-transition"])
def test_putts_have_the_same_parts_a_fifth_as_large(name):
    """From three metres too, where a hand turns by ten degrees only; what turns less is a waggle."""
    truth = play_putting(PUTTING[name], 5).truth
    arm = truth.arms["lead"]
    rates = np.einsum("nij,nj->ni", arm.r_bay_from_hand, angular_velocity(arm.r_bay_from_hand))
    for putt in truth.swings[::4]:
        at, state, ended, inside = putt.times_s, PartsState(scale=SCALE[Shot.PUTT]), [], []
        span = (truth.time_s >= at["address"] - 0.3) & (truth.time_s < putt.end_s + 1.0)
        rows = np.flatnonzero(span)[:: 1000 // RATE_HZ]
        for k in range(0, len(rows), 10):
            now = rows[k : k + 10]
            ended += follow(state, truth.time_s[now], rates[now], arm.r_bay_from_hand[now])
            inside += phase_at(state, truth.time_s[now], Phase.IMPACT).tolist()
        assert len(ended) == 1
        impact = truth.time_s[rows][np.array(inside)]
        assert impact[0] - 0.02 < at["impact"] < impact[-1] + 0.02
        assert impact[0] > at["transition"]
        assert followed_by_a_swings_measure(truth, rows, rates) == []


def followed_by_a_swings_measure(truth, rows, rates):
    """What is told of a putt where swings are looked for."""
    return follow(PartsState(), truth.time_s[rows], rates[rows], truth.arms["lead"].r_bay_from_hand[rows])


@pytest.mark.parametrize("name", ["hold-then-flex", "short", "long", "half-speed", "over-hinged"])
def test_phases_lie_where_the_truth_has_them(name):
    truth = play(name, 5).truth
    for swing in truth.swings:
        at = swing.times_s
        time_s, told, ended = followed(truth, at["address"] - 0.3, swing.end_s + 1.0)
        assert len(ended) == 1
        way_back = time_s[told[Phase.WAY_BACK]]
        assert abs(way_back[0] - at["takeaway"]) < 0.15
        late_s = 0.2 if name == "half-speed" else 0.08  # a reversal is known a little after it
        assert 0.0 <= way_back[-1] - at["top"] < late_s
        top = time_s[told[Phase.AT_TOP]]
        assert top[0] < at["top"] < top[-1]
        assert top[-1] - top[0] < 0.5
        assert abs(time_s[told[Phase.TO_SHAFT_LEVEL]][-1] - at["shaft_level_back"]) < 0.2
        transition = time_s[told[Phase.TRANSITION]]
        assert at["top"] < transition[0] < transition[-1] < at["impact"]
        impact = time_s[told[Phase.IMPACT]]
        assert impact[0] - 0.02 < at["impact"] < impact[-1] + 0.02
        assert told[Phase.ALWAYS].all()


def test_a_waggle_is_no_repetition_and_a_rehearsal_to_the_top_is_one():
    def motion(*steps):
        rates = np.concatenate([np.full(round(s * RATE_HZ), w) for s, w in steps])
        turned = np.column_stack([rates, 0.2 * rates, np.zeros(len(rates))])
        stood = Rotation.from_rotvec(np.cumsum(turned, axis=0) / RATE_HZ).as_matrix()
        return np.arange(len(rates)) / RATE_HZ, turned, stood

    waggle = motion((0.5, 0.0), (0.2, 1.5), (0.2, -1.5), (1.0, 0.0))
    assert follow(PartsState(), *waggle) == []
    rehearsal = motion((0.5, 0.0), (1.5, 1.2), (3.5, 0.0))
    (made,) = follow(PartsState(), *rehearsal)
    assert np.rad2deg(made.top_rad) == pytest.approx(np.rad2deg(1.5 * np.hypot(1.2, 0.24)), rel=0.02)


TOP = Band(m.LEAD_WRIST_EXTENSION, np.deg2rad(-35.0), np.deg2rad(4.0), Phase.AT_TOP)


def test_a_value_at_the_edge_does_not_stutter():
    """Noise of 1 degree about the limit: without an edge it would change sides every other sample."""
    rng = np.random.default_rng(3)
    values = np.deg2rad(4.0 + rng.normal(0.0, 0.7, 4000))
    inside = within(TOP, EdgeState(), values)
    plain = values <= TOP.high
    assert np.abs(np.diff(plain.astype(int))).sum() > 1500
    assert np.abs(np.diff(inside.astype(int))).sum() < 100


def test_a_band_told_from_the_address_moves_with_it_and_one_without_an_address_says_nothing():
    moves = Band(m.LEAD_WRIST_EXTENSION, -0.1, 0.2, Phase.WAY_BACK, relative=True)
    assert (moves.at(0.5).low, moves.at(0.5).high) == pytest.approx((0.4, 0.7))
    assert moves.at(None).error(np.array([3.0]))[0] == 0.0
    leans = replace(TOP, above_address=0.05)
    assert leans.at(-0.2).high == pytest.approx(-0.15)
    assert leans.at(0.9).high == pytest.approx(TOP.high)


def test_a_wider_band_keeps_its_middle():
    wide = TOP.at(None, 1.5)
    assert wide.width == pytest.approx(1.5 * TOP.width)
    assert wide.low + wide.high == pytest.approx(TOP.low + TOP.high)


@pytest.mark.parametrize("spread_deg", [8.0, 20.0, 35.0])
def test_the_band_settles_where_seven_in_ten_succeed(spread_deg):
    """A player scatters about the middle of the band: whatever the scatter, both directions lead to 70 %, as far as
    the bounds let it."""
    rng = np.random.default_rng(11)
    width, good = Width(), []
    for value in np.deg2rad(rng.normal(-15.5, spread_deg, 4000)):
        hit = bool(TOP.at(None, width.share).error(np.array([value]))[0] == 0.0)
        good.append(hit)
        width = width.after(good=hit)
        assert NARROWEST <= width.share <= WIDEST
    if spread_deg < 30.0:
        assert np.mean(good[500:]) == pytest.approx(0.7, abs=0.05 if spread_deg > 10 else 0.3)
    assert Width(1.0, locked=True).after(good=False) == Width(1.0, locked=True)


def test_feedback_fades_with_success_and_comes_back_without():
    fading, stages = Fading(), []
    for _ in range(4 * STAGE):
        stages.append(fading.every)
        fading = fading.after(good=True)
    assert stages == [every for every in EVERY for _ in range(STAGE)]
    for _ in range(STAGE):
        fading = fading.after(good=False)
    assert fading.every == 4
    assert [Fading(1).speaks(k) for k in (1, 2, 3, 4, 5)] == [True, False, True, False, True]
    assert [Fading(3).speaks(k) for k in range(1, 9)] == [False] * 8


def test_runs_and_the_ladder_of_speeds():
    runs = runs_of([True, True, False, True, True, True, False, True])
    assert (runs.current, runs.best, runs.good, runs.made) == (1, 3, 6, 8)
    assert runs_of([]).best == 0
    ladder = ladder_of([(0.3, True), (0.4, False), (0.5, True), (0.95, False), (None, True)])
    assert [(r.name, r.made, r.good) for r in ladder] == [("slow", 2, 1), ("half", 1, 1), ("full", 1, 0)]


@pytest.mark.parametrize(
    ("guess", "error_deg", "steps"),
    [("same", 0.0, 0), ("more", 0.0, 1), ("same", 8.0, -1), ("much_more", 8.0, 1), ("less", -30.0, 1)],
)
def test_what_was_felt_is_held_against_what_was(guess, error_deg, steps):
    assert felt_steps(guess, np.deg2rad(error_deg), TOP.width) == steps


def trained(name, band, torn_s=None, **trainer):
    """A session's true wrist angles and turning through the trainer, in slices as they come; ``torn_s``: when what
    comes no longer belongs to what was before."""
    truth = play(name, 5).truth
    coach, parts = Trainer(band, **trainer), PartsState()
    made, said = [], []
    time_s, rates, r = turning(truth, truth.swings[0].times_s["address"] - 1.0, truth.time_s[-1])
    extension = np.interp(time_s, truth.time_s, truth.extension)
    for k in range(0, len(time_s), 8):
        now = slice(k, k + 8)
        trace = LiveTrace(m.LEAD_WRIST_EXTENSION, time_s[now], extension[now], 0.01, Source.WRIST)
        stands = hangs(truth, time_s[k])
        ended = follow(parts, time_s[now], rates[now], r[now], at_address=stands)
        if torn_s is not None and time_s[k] <= torn_s < time_s[min(k + 8, len(time_s) - 1)]:
            coach.tear()
        decision, counted = coach.hear(parts, [trace], ended)
        made += counted
        said.append(decision)
    return truth, made, said


def test_a_repetition_within_which_a_clock_was_set_is_not_counted():
    band = Band(m.LEAD_WRIST_EXTENSION, np.deg2rad(10.0), np.deg2rad(50.0), Phase.AT_TOP)
    truth = play("hold-then-flex", 5).truth
    _, whole, _ = trained("hold-then-flex", band)
    _, torn, _ = trained("hold-then-flex", band, torn_s=truth.swings[1].times_s["top"] + 0.1)
    _, at_rest, _ = trained("hold-then-flex", band, torn_s=truth.swings[1].times_s["address"] - 2.0)
    assert (len(torn), len(at_rest)) == (len(whole) - 1, len(whole))


def test_repetitions_are_good_where_the_truth_is_within_the_band():
    for name, band, good in (
        ("hold-then-flex", Band(m.LEAD_WRIST_EXTENSION, np.deg2rad(10.0), np.deg2rad(50.0), Phase.AT_TOP), True),
        ("hold-then-flex", Band(m.LEAD_WRIST_EXTENSION, None, np.deg2rad(4.0), Phase.AT_TOP), False),
    ):
        truth, made, _ = trained(name, band, full_rad_s=30.0)
        assert [r.good for r in made] == [good] * len(truth.swings)
        for repetition, swing in zip(made, truth.swings, strict=True):
            at_top = np.interp(swing.times_s["top"], truth.time_s, truth.extension)
            assert repetition.value == pytest.approx(at_top, abs=np.deg2rad(4.0))
            assert 0.2 < repetition.speed_share < 2.0


def test_a_test_block_is_silent_and_changes_nothing():
    band = Band(m.LEAD_WRIST_EXTENSION, None, np.deg2rad(4.0), Phase.AT_TOP)
    _, made, said = trained("hold-then-flex", band, test=True)
    assert not any(d.speaks for d in said if d)
    assert {r.width for r in made} == {1.0}


def test_the_band_speaks_only_in_its_phase():
    band = Band(m.LEAD_WRIST_EXTENSION, None, np.deg2rad(4.0), Phase.AT_TOP)
    truth, _, said = trained("hold-then-flex", band)
    spoken = np.array([d.time_s for d in said if d and d.inside is not None])
    tops = np.array([s.times_s["top"] for s in truth.swings])
    assert np.abs(spoken[:, None] - tops).min(axis=1).max() < 0.4


def test_what_is_known_stays_known_in_the_stretch_it_was_found_in():
    """The batch answers so late that one of the two sensors has begun a new stretch: its heading is not taken over."""
    known = Anchors("wrist", "body", None, "hold", held_in={Segment.LEAD_FOREARM: 0, Segment.LEAD_HAND: 0})
    late = Anchors(None, None, None, None, held_in={Segment.LEAD_HAND: 1})
    kept = late.or_else(known)
    assert (kept.wrist, kept.hold, kept.pieces) == ("wrist", "hold", (0, 0))
    fresh = Anchors("new", None, None, "new hold", held_in={Segment.LEAD_FOREARM: 1, Segment.LEAD_HAND: 1})
    assert (fresh.or_else(known).wrist, fresh.or_else(known).pieces) == ("new", (1, 1))
    assert fresh.or_else(known).body == "body"
