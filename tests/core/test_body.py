"""Markers and body sensors against the golfer model's truth, and every body scenario with its finding."""

from dataclasses import replace

import numpy as np
import pytest
from validation import body as vb
from validation.simulated import rms

from finearc.catalogue import library
from finearc.core.errors import NoSwingFound
from finearc.core.events.model import Checkpoint
from finearc.core.frames.handedness import Hand
from finearc.core.judging.ranges import Verdict
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of


@pytest.fixture(scope="module")
def skilled():
    """Three sessions of three swings: 0.3 mm of noise, a quarter of the markers with short gaps."""
    return [vb.skilled(seed, ("markers",)) for seed in (3, 4, 5)]


def test_turns_bends_and_positions_from_markers(skilled):
    for recording in skilled:
        errors = vb.marker_errors(recording)
        for name in vb.TURNS_AND_BENDS:
            assert rms(errors[name]) <= 0.2
        for name in vb.POSITIONS:
            assert rms(errors[name]) <= 0.5
        for name in vb.JOINTS:
            assert rms(errors[name]) <= 1.0


def test_checkpoints_from_markers_within_a_frame_and_impact_within_a_millisecond(skilled):
    joined = {}
    for recording in skilled:
        for name, errors in vb.event_errors_ms(recording).items():
            joined.setdefault(name, []).extend(errors)
    assert {"top", "impact", "arm_level_back", "shaft_level_down"} <= set(joined)
    for name, errors in joined.items():
        assert rms(np.array(errors)) <= (1.0 if name == "impact" else 1000 / 240)


def test_the_body_pack_in_a_short_session():
    errors = vb.body_pack_errors(vb.skilled(8, ("body", "wrist")))
    for name in ("pelvis_turn", "thorax_turn"):
        assert rms(errors[name]) <= 1.0
    for name, values in errors.items():
        assert rms(values) <= 1.0, name


@pytest.mark.slow
def test_the_body_pack_over_ten_minutes():
    recording = vb.skilled(4, ("body", "wrist"), swings=30, between_s=20.0)
    assert recording.truth.time_s[-1] > 580
    for name, values in vb.body_pack_errors(recording).items():
        assert rms(values) <= (2.5 if "turn" in name else 1.5)


@pytest.fixture(scope="module")
def both():
    """One recording seen by wrist pair, club clip, body pack and cameras at once."""
    recording = play("free-pelvis", 6, sources=("wrist", "club", "body", "markers"))
    return recording, an.analyse(capture_of(recording))


def test_several_sources_the_best_leads_and_the_others_stay_beside_it(both):
    _, analysis = both
    swing = analysis.swings[0].reading
    top = next(v for v in swing.measured if (v.metric, v.moment.key) == (m.LEAD_WRIST_EXTENSION, "top"))
    assert {top.source, *(o.source for o in top.others)} == {Source.WRIST, Source.MARKERS}
    assert all(top.uncertainty <= o.uncertainty for o in top.others)
    difference = abs(top.value - top.others[0].value)
    assert difference <= 3 * np.hypot(top.uncertainty, top.others[0].uncertainty)
    impact = swing.events[Checkpoint.IMPACT]
    assert impact.method == "head-passage"
    assert any("shock" in o.method for o in impact.others)


def test_body_sensors_and_markers_agree_on_the_turn(both):
    _, analysis = both
    swing = analysis.swings[0].reading
    turn = next(v for v in swing.measured if (v.metric, v.moment.key) == (m.PELVIS_TURN, "address..top"))
    other = next(o for o in turn.others if o.source is not turn.source)
    assert np.rad2deg(abs(turn.value - other.value)) <= 1.5


def test_what_needs_positions_is_missing_with_its_reason_for_the_body_pack():
    analysis = an.analyse(capture_of(play("free-pelvis", 2, sources=("wrist", "body"))))
    swing = analysis.swings[0]
    measured = {v.metric for v in swing.reading.measured}
    assert {m.PELVIS_TURN, m.THORAX_TURN, m.SEPARATION, m.PELVIS_FORWARD_BEND} <= measured
    for metric in (m.PELVIS_SWAY, m.HEAD_SWAY, m.LEAD_KNEE_FLEXION, m.SPINE_LEAN):
        assert metric not in measured
        assert "marker" in swing.missing[metric.id]


def test_wrist_sensors_alone_see_nothing_of_the_body():
    analysis = an.analyse(capture_of(play("early-extension", 2, sources=("wrist", "club"))))
    body = {x for x in m.ALL if x.family.value in ("turn", "posture", "travel", "arms_legs")}
    assert not {v.metric for v in analysis.swings[0].reading.measured} & body
    assert all(analysis.swings[0].missing[x.id] for x in body)
    about_body = {f.id for f in library.finding_entries() if f.level == "body"}
    assert not {f.rule.id for f in analysis.findings} & about_body
    assert about_body <= {n.rule.id for n in analysis.not_assessed}


EXPECTED = {
    "short-early-turn": "short_early_turn",
    "early-extension": "early_extension",
    "open-at-address": "open_pelvis_at_address",
    "path-across": "path_across",
}
"""Named scenarios that others lean on; a player for every finding stands in test_players_and_findings."""


def found_by_markers(name, seed=11, **schools):
    data = capture_of(play(name, seed, sources=("markers",)))
    return {f.rule.id: f for f in an.analyse(data, an.Options(schools=schools)).findings}


@pytest.mark.parametrize(("name", "finding"), EXPECTED.items())
def test_each_scenario_shows_its_finding_to_cameras(name, finding):
    found = found_by_markers(name)
    assert finding in found
    assert (found[finding].status, found[finding].shown) == ("finding", 5)


@pytest.mark.parametrize("name", ["short-early-turn", "open-at-address"])
def test_turning_faults_show_to_body_sensors_too(name):
    found = an.analyse(capture_of(play(name, 12, sources=("wrist", "club", "body")))).findings
    assert EXPECTED[name] in {f.rule.id for f in found}


@pytest.mark.parametrize("seed", [1, 2])
def test_a_skilled_player_has_no_body_finding(seed):
    about_body = {f.id for f in library.finding_entries() if f.level == "body"}
    assert not set(found_by_markers("free-pelvis", seed)) & about_body


def test_the_pelvis_schools_judge_the_same_turn_differently():
    free, restrained = (found_by_markers("restrained-pelvis", 3, pelvis=s) for s in ("free", "restrained"))
    assert "pelvis_under_turn" in free
    assert "pelvis_under_turn" not in restrained


def test_causes_come_before_what_they_explain():
    found = found_by_markers("open-at-address")
    assert found["open_pelvis_at_address"].role == "root"


def test_a_still_capture_is_enough_for_the_setup():
    reading = an.read(capture_of(play("open-still", 4, sources=("markers",))), swings_expected=False)
    assert reading.swings == ()
    values = {v.metric: v for v in reading.setup.measured}
    assert np.rad2deg(values[m.PELVIS_TURN].value) < -8
    assert m.HIPS_OVER_ANKLES in values


def test_twins_with_markers_give_equal_numbers():
    right, left = (an.analyse(capture_of(play("free-pelvis", 5, sources=("markers",), hand=h))) for h in Hand)
    for a, b in zip(right.swings, left.swings, strict=True):
        one = {(v.metric.id, v.moment.key): v.value for v in a.reading.measured}
        two = {(v.metric.id, v.moment.key): v.value for v in b.reading.measured}
        assert one.keys() == two.keys()
        # the cameras' noise is the same only in size, so the twins differ by it
        assert all(one[k] == pytest.approx(two[k], rel=0.05, abs=0.05) for k in one if k[0].endswith(("turn", "sway")))


def test_exchanged_and_flickering_markers_change_nothing_that_matters():
    clean = an.analyse(capture_of(play("free-pelvis", 9, sources=("markers",))))
    for name, words in (("markers-swapped", "exchanged"), ("markers-flicker", "jumped")):
        other = an.analyse(capture_of(play(name, 9, sources=("markers",))))
        assert any(words in note for note in other.reading.notes)
        for a, b in zip(clean.swings, other.swings, strict=True):
            x, y = (
                next(v.value for v in s.reading.measured if (v.metric, v.moment.key) == (m.PELVIS_TURN, "top"))
                for s in (a, b)
            )
            assert np.rad2deg(abs(x - y)) < 1.0


def test_without_a_pelvis_marker_the_pelvis_is_missing_and_the_rest_is_not():
    analysis = an.analyse(capture_of(play("no-pelvis", 3, sources=("markers",))))
    swing = analysis.swings[0]
    assert "RPSI is not in" in swing.missing["pelvis_turn"]
    assert any(v.metric is m.THORAX_TURN for v in swing.reading.measured)


def test_a_static_trial_has_no_swing():
    data = replace(capture_of(play("open-still", 4, sources=("markers",))), swings=None)
    with pytest.raises(NoSwingFound):
        an.analyse(data)


def test_unjudged_populations_get_no_body_verdicts():
    data = capture_of(play("slide", 2, sources=("markers",)))
    data = replace(data, population="junior")
    judged = an.analyse(data).swings[0].judged
    assert {j.verdict for j in judged} == {Verdict.NOT_JUDGED}
