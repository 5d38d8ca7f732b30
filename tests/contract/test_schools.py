"""A school is whole: what shows it, ranges that make it a school, and a player of it who is known by them."""

from __future__ import annotations

from functools import lru_cache

import pytest

from finearc.catalogue import library, schemas
from finearc.core.judging.schools import closest
from finearc.formats.kinds import kind_of
from finearc.golfer import bodies as bd, style as st
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.judging.analysis import analyse
from finearc.services.modelled import capture_of

FULL = {axis: school for axis, school in library.schools().items() if school.shot == "full"}
OPTIONS = [(axis, option.id) for axis, school in FULL.items() for option in school.options]
PLAYERS = {
    ("lead_wrist", "hold"): (st.HOLD, ("wrist",)),
    ("lead_wrist", "flat"): (st.FLAT, ("wrist",)),
    ("lead_wrist", "early_flex"): (st.EARLY_FLEX, ("wrist",)),
    ("pelvis", "free"): (bd.with_body(bd.SKILLED), ("markers",)),
    ("pelvis", "restrained"): (bd.with_body(bd.RESTRAINED), ("markers",)),
    ("pressure", "front_foot"): (bd.with_body(bd.SKILLED), ("pressure",)),
    ("pressure", "reverse"): (bd.with_body(bd.REVERSE_PRESSURE), ("pressure",)),
}


def test_every_school_of_a_full_swing_has_a_player():
    assert set(PLAYERS) == set(OPTIONS)


@lru_cache(maxsize=8)
def values_of(axis, option):
    style, sources = PLAYERS[axis, option]
    story = Scenario((style,) * 3, f"{axis} {option}", plan={"between_s": 2.5}, scatter=0.5)
    swings = analyse(capture_of(play_story(story, 9, sources=sources))).swings
    return [{(m.metric.id, m.moment.key): m for m in s.reading.measured} for s in swings]


@pytest.mark.parametrize(("axis", "option"), OPTIONS)
def test_a_player_of_a_school_is_known_by_its_ranges(axis, option):
    found = closest(axis, library.ranges().ranges, values_of(axis, option), frozenset({"iron", "mid_iron"}))
    assert found.option == option
    assert found.swings == 3


@pytest.mark.parametrize("axis", sorted(FULL))
def test_the_options_of_a_school_differ_in_what_they_ask(axis):
    asked = {}
    for r in library.ranges().ranges:
        if r.school is not None and r.school[0] == axis:
            asked.setdefault(r.school[1], set()).add((r.metric.id, r.moment.key, r.low, r.high))
    assert set(asked) == {o.id for o in FULL[axis].options}
    assert len({frozenset(x) for x in asked.values()}) == len(asked)


@pytest.mark.parametrize("axis", sorted(library.schools()))
def test_a_school_says_what_shows_it_and_explains_its_options(axis):
    school = library.schools()[axis]
    assert all(kind_of(part) is not None for part in school.seen_by)
    assert kind_of("pelvis turn") is None, "or anything would do"
    assert all(o.label and len(o.explained.split()) > 4 for o in school.options)


def test_a_school_that_is_half_written_is_refused():
    options = [{"id": "a", "label": "A", "explained": "The one."}, {"id": "b", "label": "B", "explained": "The other."}]
    whole = {"label": "Here", "seen_by": ["pelvis"], "options": options}
    assert schemas.School.model_validate(whole).shot == "full"
    for broken in (
        {k: v for k, v in whole.items() if k != "seen_by"},
        {**whole, "options": options[:1]},
        {**whole, "options": [options[0], options[0]]},
        {**whole, "seen": ["pelvis"]},
    ):
        with pytest.raises(ValueError, match="School"):
            schemas.School.model_validate(broken)
