"""For every finding a simulated player who has it, one who nearly has it, one who does not, and one whose sources
cannot tell. The players are synthetic; which source sees what follows from what each is (measures: frames, sources)."""

from __future__ import annotations

from functools import lru_cache

import pytest

from finearc.catalogue import library
from finearc.golfer.population import INJECTED, MORE, Drawn, with_differences
from finearc.golfer.scenarios import Scenario, play_story
from finearc.golfer.style import SwingStyle
from finearc.services.judging.analysis import Options, analyse
from finearc.services.modelled import capture_of

BY_WRIST = (
    "palm_grip",
    "takeaway_dip",
    "takeaway_extension",
    "over_extended_top",
    "over_flexed_top",
    "over_extended_and_hinged_top",
    "flip",
    "held_off",
    "rough_trace",
    "uneven_tempo",
)
BY_CLUB = ("long_backswing", "short_backswing", "early_release")
BY_MAT = (
    "late_pressure_return",
    "no_trail_load",
    "pressure_stays_back",
    "pressure_too_far",
    "uneven_balance",
    "no_push_off",
)
SOURCES = {
    **{name: ("wrist",) for name in BY_WRIST},
    **{name: ("wrist", "club") for name in BY_CLUB},
    **{name: ("markers", "pressure") for name in BY_MAT},
}
"""What the player wears or stands on; cameras for all others."""
BLIND = {**{name: ("pressure",) for name in (*BY_WRIST, *BY_CLUB)}, **{name: ("wrist",) for name in BY_MAT}}
"""Sources that cannot tell; the wrist pair alone for all others."""
SCHOOLS = {"pelvis_over_turn": {"pelvis": "restrained"}}
NEARLY = {
    "over_extended_and_hinged_top": 0.35,
    "hands_out": 0.15,
    "out_of_sequence": 0.1,
    "early_release": 0.45,
    "pelvis_over_turn": 0.05,
    "pelvis_slide": 0.12,
    "no_push_off": 0.1,
    "short_early_turn": 0.15,
}
"""Size of a difference that stays inside what the finding asks for; a quarter for all others."""
ALL = sorted({**INJECTED, **MORE})


SHORT = {"between_s": 2.5}
"""A session without long rests, so that it is sooner played."""
PLAYER = Drawn(SwingStyle(), 1.78, {})
"""The model's own skilled player."""


def found(size, name, sources, swings=3):
    player = with_differences(PLAYER, {name: size} if size else {})
    story = Scenario((player.style,) * swings, name, plan=SHORT, scatter=0.5)
    recording = play_story(story, 9, sources=sources, height_m=player.height_m)
    return analyse(capture_of(recording, height_m=player.height_m), Options(SCHOOLS.get(name, {})))


def firm(analysis):
    return {f.rule.id for f in analysis.findings if f.status == "finding"}


def test_every_built_in_finding_has_a_player():
    of_swings = {f.id for f in library.findings() if not f.id.startswith("putt_")} - {"face_grip_bias"}
    assert set(ALL) == of_swings  # putts: test_putting_findings


@pytest.mark.parametrize("name", ALL)
def test_who_has_it_shows_it_and_who_nearly_has_it_does_not(name):
    sources = SOURCES.get(name, ("markers",))
    assert name in firm(found(1.0, name, sources))
    assert name not in firm(found(NEARLY.get(name, 0.25), name, sources))


@lru_cache(maxsize=16)
def without_any(sources, school):
    story = Scenario((PLAYER.style,) * 3, "none", plan=SHORT, scatter=0.5)
    return analyse(capture_of(play_story(story, 9, sources=sources, height_m=PLAYER.height_m)), Options(dict(school)))


@pytest.mark.parametrize("name", ALL)
def test_who_does_not_have_it_does_not_show_it(name):
    school = tuple(SCHOOLS.get(name, {}).items())
    assert name not in firm(without_any(SOURCES.get(name, ("markers",)), school))


@pytest.mark.parametrize("name", ALL)
def test_sources_that_cannot_tell_say_so_and_never_find_it(name):
    analysis = without_any(BLIND.get(name, ("wrist",)), tuple(SCHOOLS.get(name, {}).items()))
    reasons = {n.rule.id: n.reason for n in analysis.not_assessed}
    assert name not in {f.rule.id for f in analysis.findings}
    assert reasons[name]


def test_the_model_player_without_differences_shows_no_firm_finding():
    story = Scenario((SwingStyle(),) * 5, "skilled")
    analysis = analyse(capture_of(play_story(story, 2, sources=("wrist", "body", "club", "markers", "pressure"))))
    assert firm(analysis) == set()
