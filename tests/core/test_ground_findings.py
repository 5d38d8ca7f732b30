"""The ground's findings on simulated players: who has one, who nearly has one, who does not, and whose sources cannot
tell; in both pressure schools. Ranges and their provenance stand in the catalogue."""

from functools import lru_cache

import pytest

from finearc.catalogue import library
from finearc.core.judging.ranges import Verdict, judge
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import PER_SI, Measured, Moment
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

GROUND = {
    "weight_on_heels",
    "uneven_balance",
    "no_trail_load",
    "late_pressure_return",
    "pressure_stays_back",
    "pressure_too_far",
    "no_push_off",
}


@lru_cache(maxsize=32)
def found(name, school="front_foot", sources=("wrist", "pressure"), seed=12):
    """Ground findings that hold in at least four of five swings, and those that could not be assessed."""
    options = an.Options({"pressure": school})
    analysis = an.analyse(capture_of(play(name, seed, sources=sources)), options)
    firm = {f.rule.id for f in analysis.findings if f.status == "finding" and f.shown >= 4} & GROUND
    return firm, {n.rule.id: n.reason for n in analysis.not_assessed if n.rule.id in GROUND}


HAS = {
    ("good-load", "front_foot"): set(),
    ("late-return", "front_foot"): {"late_pressure_return", "pressure_stays_back"},
    ("no-load", "front_foot"): {"no_trail_load"},
    ("reverse-pressure", "front_foot"): {"pressure_stays_back", "no_push_off"},
    ("reverse-pressure", "reverse"): set(),
    ("far-forward", "front_foot"): {"pressure_too_far"},
    ("good-load", "reverse"): {"pressure_too_far"},
    ("on-heels", "front_foot"): {"weight_on_heels"},
}


@pytest.mark.parametrize(("name", "school"), HAS, ids="-".join)
def test_each_player_has_just_the_findings_of_the_story(name, school):
    firm, open_questions = found(name, school)
    assert firm == HAS[name, school]
    assert not GROUND - {"no_push_off"} & set(open_questions)


def test_without_a_mat_no_ground_finding_is_assessed():
    firm, open_questions = found("hold-then-flex", sources=("wrist",))
    assert firm == set()
    assert set(open_questions) == GROUND
    assert all("needs" in reason for reason in open_questions.values())


def test_with_the_mat_alone_only_what_needs_the_club_is_open():
    firm, open_questions = found("late-return", sources=("pressure",))
    assert set(open_questions) == {"late_pressure_return", "no_push_off"}
    assert "late_pressure_return" not in firm


def test_a_tilt_seen_by_cameras_alone_is_weight_on_the_heels_too():
    """S8 by markers, without a mat."""
    firm, _ = found("on-heels", sources=("markers",))
    assert "weight_on_heels" in firm


def verdict(metric, event, value, club="7-iron", uncertainty=0.1, **schools):
    per = PER_SI[metric.unit]
    situation = library.situation(club, "full", "adult", schools)
    (judged,) = judge(
        [Measured(metric, Moment(event), value / per, uncertainty / per)], library.ranges().ranges, situation
    )
    return judged.verdict, judged.range.id if judged.range else None


CASES = [
    (m.LEAD_SHARE, "address", 50, "7-iron", {}, Verdict.IN_RANGE, "G1"),
    (m.LEAD_SHARE, "address", 43.5, "7-iron", {}, Verdict.EDGE_LOW, "G1"),
    (m.LEAD_SHARE, "address", 42, "7-iron", {}, Verdict.LOW, "G1"),
    (m.LEAD_SHARE, "address", 42, "driver", {}, Verdict.IN_RANGE, "G1d"),
    (m.LEAD_SHARE, "address", 54, "driver", {}, Verdict.HIGH, "G1d"),
    (m.LEAD_HEEL_TOE, "address", 36, "7-iron", {}, Verdict.EDGE_LOW, "G2a"),
    (m.TRAIL_HEEL_TOE, "address", 34, "7-iron", {}, Verdict.LOW, "G2b"),
    (m.PEAK_TRAIL_SHARE, "swing", 66, "7-iron", {}, Verdict.LOW, "G3"),
    (m.PEAK_TRAIL_SHARE, "swing", 68, "7-iron", {}, Verdict.EDGE_LOW, "G3"),
    (m.TRAIL_PEAK_TIME, "arm_level_back", -0.1, "7-iron", {}, Verdict.IN_RANGE, "G3t"),
    (m.TRAIL_PEAK_TIME, "arm_level_back", 0.5, "7-iron", {}, Verdict.HIGH, "G3t"),
    (m.RETURN_TIME, "top", -0.12, "7-iron", {}, Verdict.IN_RANGE, "G4"),
    (m.RETURN_TIME, "top", 0.2, "7-iron", {}, Verdict.HIGH, "G4"),
    (m.STANCE_POSITION, "impact", 80, "7-iron", {}, Verdict.IN_RANGE, "G5a"),
    (m.STANCE_POSITION, "impact", 80, "7-iron", {"pressure": "reverse"}, Verdict.HIGH, "G5b"),
    (m.STANCE_POSITION, "impact", 50, "7-iron", {"pressure": "reverse"}, Verdict.IN_RANGE, "G5b"),
    (m.TRAIL_PUSH_OFF, "swing", 12, "7-iron", {}, Verdict.IN_RANGE, "G6"),
    (m.TRAIL_PUSH_OFF, "swing", -5, "7-iron", {}, Verdict.LOW, "G6"),
    (m.TRAIL_PUSH_OFF, "swing", -5, "7-iron", {"pressure": "reverse"}, Verdict.NOT_JUDGED, None),
]


@pytest.mark.parametrize(
    ("metric", "event", "value", "club", "schools", "expected", "range_id"),
    CASES,
    ids=[f"{c[6]}-{c[2]}-{c[3]}-{'-'.join(c[4].values())}" for c in CASES],
)
def test_verdicts_of_the_grounds_ranges(metric, event, value, club, schools, expected, range_id):
    uncertainty = 0.005 if metric.unit.value == "s" else 0.1
    assert verdict(metric, event, value, club, uncertainty, **schools) == (expected, range_id)


def test_every_ground_range_says_where_it_comes_from():
    mine = [r for r in library.ranges().ranges if r.id.startswith("G")]
    assert {r.id for r in mine} == {"G1", "G1d", "G2a", "G2b", "G3", "G3t", "G4", "G5a", "G5b", "G5p", "G6", "G7"}
    for r in mine:
        assert r.note
        assert r.provenance in ("HOUSE", "CP/HOUSE", "MEM")
        assert (r.provenance != "MEM") or "Ball & Best 2007" in r.source


def test_an_unsure_time_is_an_edge_not_a_fault():
    """A return 0.05 s late with a clock known to 0.07 s stays at the edge."""
    assert verdict(m.RETURN_TIME, "top", 0.0, uncertainty=0.07)[0] is Verdict.EDGE_HIGH
    assert verdict(m.RETURN_TIME, "top", 0.0, uncertainty=0.01)[0] is Verdict.HIGH


def test_a_foot_off_the_mat_bars_its_shares_from_being_judged():
    analysis = an.analyse(capture_of(play("off-the-mat", 12, sources=("wrist", "pressure"))))
    judged = {(j.measured.metric, j.measured.moment.key): j for j in analysis.swings[0].judged}
    for key in ((m.LEAD_SHARE, "address"), (m.LEAD_HEEL_TOE, "address"), (m.STANCE_POSITION, "impact")):
        assert judged[key].verdict is Verdict.NOT_JUDGED
        assert "partly off the mat" in judged[key].reason
    assert not {f.rule.id for f in analysis.findings} & GROUND
