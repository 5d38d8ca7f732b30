"""Findings of putts: who has one shows it, two clean sessions of each school show none; practice strokes do not count."""

from __future__ import annotations

from functools import cache

import pytest

from finearc.catalogue import library
from finearc.core.judging.priorities import propose
from finearc.core.judging.ranges import Verdict
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.judging.analysis import Options, analyse
from finearc.services.modelled import putting_capture_of

BOTH = ("wrist", "markers")
SHOWN = {
    "face_grip_bias": ("putt-grip-bias", "quiet"),
    "putt_extra_ulnar": ("putt-ulnar", "quiet"),
    "putt_lifted_handle": ("putt-lifted-handle", "quiet"),
    "putt_wristy_short": ("putt-wristy", "quiet"),
    "putt_dead_hands_long": ("putt-still-hands", "transition"),
    "putt_growth_jump": ("putt-jump", "transition"),
    "putt_impact_wrist": ("putt-wristy", "quiet"),
    "putt_handle_drift": ("putt-handle-drift", "quiet"),
}
CLEAN = {
    "putt-quiet": "quiet",
    "putt-quiet-arc": "quiet",
    "putt-transition": "transition",
    "putt-transition-low": "transition",
}


@cache
def capture(name, sources=BOTH):
    return putting_capture_of(play_putting(PUTTING[name], 17, sources=sources))


@cache
def analysis(name, school, sources=BOTH):
    return analyse(capture(name, sources), Options({"putting_wrist": school}))


def firm(found):
    return {f.rule.id for f in found.findings if f.status == "finding"}


def test_every_finding_of_putts_has_a_session():
    assert set(SHOWN) == {f.id for f in library.findings() if f.id.startswith("putt_")} | {"face_grip_bias"}


@pytest.mark.parametrize("finding", SHOWN)
def test_who_has_it_shows_it(finding):
    assert finding in firm(analysis(*SHOWN[finding]))


@pytest.mark.parametrize("name", CLEAN)
def test_a_skilled_stroke_of_either_school_shows_nothing_to_change(name):
    assert firm(analysis(name, CLEAN[name])) == set()


def test_a_school_changes_what_is_found_and_no_measurement():
    quiet, loading = analysis("putt-still-hands", "quiet"), analysis("putt-still-hands", "transition")
    assert "putt_dead_hands_long" not in {f.rule.id for f in quiet.findings}
    for a, b in zip(quiet.swings, loading.swings, strict=True):
        assert [j.measured for j in a.judged] == [j.measured for j in b.judged]


def test_a_lifted_handle_without_the_putter_is_a_hint():
    found = {f.rule.id: f for f in analysis("putt-lifted-handle", "quiet", ("wrist",)).findings}
    assert found["putt_lifted_handle"].status == "hint"


def test_a_remark_is_never_a_priority():
    found = analysis("putt-still-hands", "transition")
    assert "putt_dead_hands_long" in firm(found)
    proposals = propose(found.findings, library.drills())
    assert "putt_dead_hands_long" not in {p.finding.rule.id for p in proposals}


def test_two_priorities_at_most_and_setup_first():
    found = analysis("putt-grip-bias", "quiet")
    proposals = propose(found.findings, library.drills())
    assert proposals[0].finding.rule.id == "face_grip_bias"
    assert len(proposals) <= 2


def test_the_range_of_short_putts_is_for_short_putts():
    of = {
        s.reading.start_s: {j.measured.metric.id: j for j in s.judged} for s in analysis("putt-wristy", "quiet").swings
    }
    by_distance = {}
    for values in of.values():
        judged = values["putt_extension_range"]
        by_distance.setdefault(values["putt_distance"].measured.value, set()).add((judged.verdict, judged.reason))
    assert {v for v, _ in by_distance[3.0]} <= {Verdict.HIGH, Verdict.EDGE_HIGH}
    assert by_distance[9.0] == {(Verdict.NOT_JUDGED, "its range is for putts up to 3.1 m")}


def test_without_a_distance_short_putts_are_not_assessed_and_it_is_said():
    bare = capture("putt-wristy", ("wrist",))
    unnoted = type(bare.putting)()
    found = analyse(type(bare)(**{**vars(bare), "putting": unnoted}), Options({"putting_wrist": "quiet"}))
    reasons = {n.rule.id: n.reason for n in found.not_assessed}
    assert reasons["putt_wristy_short"] == "its range depends on the distance, which is not noted"


def test_practice_strokes_do_not_count():
    found = analysis("putt-practice", "quiet", ("wrist",))
    assert len(found.swings) == 8
    assert all(f.assessed <= 4 for f in found.findings)
