"""Practice plans: the rules hold in a thousand random settings, and by hand in a few."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta

import pytest
from hypothesis import given, settings, strategies as st

from finearc.catalogue import library
from finearc.core.judging.drills import Ask, Drill, Pain, withheld_because
from finearc.core.judging.limits import Limit
from finearc.core.practice.changed import Rule, broken, missed, moved, stopped
from finearc.core.practice.plan import (
    Aim,
    Asked,
    Because,
    NothingToPlan,
    Place,
    lengths,
    make_plan,
    offered,
    practice_days,
)
from finearc.core.practice.words import SAID, reasons

MONDAY = date(2026, 3, 2)
TURN = Drill("turn", "Turn first", "…", "…", asks=(Ask("back", "turn"),), loads=("back",), equipment="a club")
PEG = Drill("peg", "Peg in the glove", "…", "…", equipment="a glove and a tee peg")
WALL = Drill("wall", "Wall", "…", "…", equipment="a wall", loads=("knee",))
PLAIN = Drill("plain", "Plain", "…", "…", equipment="none")


def asked(**more):
    """Four days of 20 minutes a week for two weeks."""
    aims = [Aim("cups", "Cups at the top", [PEG, PLAIN]), Aim("turn", "Little turn", [TURN, WALL])]
    base = Asked(aims, MONDAY, MONDAY + timedelta(days=13), dict.fromkeys((0, 2, 4, 6), 20))
    return replace(base, **more)


drills = st.lists(
    st.builds(
        Drill,
        id=st.uuids().map(str),
        label=st.just("A drill"),
        how=st.just("…"),
        feel=st.just("…"),
        asks=st.lists(st.builds(Ask, area=st.sampled_from(["back", "wrist"]), movement=st.sampled_from(["turn", "bend"])),
                      max_size=2).map(tuple),
        loads=st.sets(st.sampled_from(["back", "knee", "wrist"]), max_size=2).map(tuple),
        equipment=st.sampled_from(["none", "a club", "a wall", "balls"]),
    ),
    min_size=1,
    max_size=4,
)  # fmt: skip
settings_of_plans = st.builds(
    Asked,
    aims=st.lists(st.builds(Aim, finding=st.sampled_from("abc"), label=st.just("x"), drills=drills, passed=st.booleans()),
                  min_size=1, max_size=2, unique_by=lambda a: a.finding),
    first=st.dates(date(2026, 1, 1), date(2026, 12, 31)),
    last=st.dates(date(2026, 1, 1), date(2027, 2, 28)),
    minutes=st.dictionaries(st.integers(0, 6), st.integers(0, 90), max_size=7),
    place=st.sampled_from(list(Place)),
    equipment=st.none() | st.sets(st.sampled_from(["a wall", "balls"])).map(frozenset),
    limits=st.lists(st.builds(Limit, area=st.sampled_from(["back", "wrist"]), movement=st.sampled_from(["turn", "any"])),
                    max_size=2),
    pain=st.sampled_from([Pain(), Pain(today=True, areas=("back",)), Pain(today=True)]),
)  # fmt: skip


def holds(plan, asked):
    """The rules, counted here once more without the code that says what is broken."""
    by_day, by_week = {}, {}
    for b in plan.blocks:
        by_day[b.day] = by_day.get(b.day, 0) + b.minutes
        by_week.setdefault((b.day - timedelta(days=b.day.weekday())), []).append(b)
        assert 10 <= b.minutes <= 20
        assert asked.first <= b.day <= asked.last
    known = {d.id: d for a in asked.aims for d in a.drills}
    for day, minutes in by_day.items():
        assert minutes <= asked.minutes[day.weekday()]
    for blocks in by_week.values():
        assert sum(b.feedback == 0.0 for b in blocks) == 1
    for b in plan.blocks:
        for _, drill in b.drills:
            assert withheld_because(known[drill], asked.limits, asked.pain) == ""


@settings(max_examples=1000)
@given(settings_of_plans)
def test_no_day_over_its_minutes_no_drill_against_a_limit_every_week_one_without_feedback(asked):
    try:
        plan = make_plan(asked)
    except NothingToPlan as refused:
        assert str(refused).endswith((".", "lesson", "plan"))
        return
    holds(plan, asked)
    assert broken(plan, asked) == []
    assert [b.day for b in plan.blocks] == sorted(b.day for b in plan.blocks)


@settings(max_examples=300)
@given(settings_of_plans, st.data())
def test_a_missed_day_is_moved_and_never_doubled(asked, data):
    try:
        plan = make_plan(asked)
    except NothingToPlan:
        return
    day = data.draw(st.sampled_from([b.day for b in plan.blocks]))
    again = missed(plan, asked, day)
    assert all(b.day != day for b in again.blocks)
    by_day = {}
    for b in again.blocks:
        by_day[b.day] = by_day.get(b.day, 0) + b.minutes
    assert all(minutes <= asked.minutes[d.weekday()] for d, minutes in by_day.items())
    assert len(again.blocks) + again.dropped == len(plan.blocks)
    assert [b.number for b in again.blocks] == list(range(len(again.blocks)))


def test_a_day_is_parted_into_even_blocks():
    """By hand: 9 minutes are none; 20 are one; 21 two of ten; 50 three of sixteen; 90 five of eighteen."""
    assert [lengths(m) for m in (9, 10, 20, 21, 50, 90)] == [[], [10], [20], [10, 10], [16] * 3, [18] * 5]


def test_the_plan_of_four_days_by_hand():
    plan = make_plan(asked())
    assert [(b.day - MONDAY).days for b in plan.blocks] == [0, 2, 4, 6, 7, 9, 11, 13]
    assert [b.findings for b in plan.blocks[:3]] == [("cups",), ("cups",), ("turn",)]
    assert [b.feedback for b in plan.blocks] == [1.0, 1.0, 1.0, 0.0, 0.5, 1.0, 0.33, 0.0]
    assert plan.blocks[3].because == (Because.SPACED, Because.ALONE, Because.WITHOUT)
    assert plan.blocks[0].drills == (("cups", "peg"),)
    assert plan.blocks[1].drills == (("cups", "plain"),)


def test_once_both_passed_they_are_mixed():
    a = asked()
    plan = make_plan(replace(a, aims=[replace(x, passed=True) for x in a.aims]))
    assert all(b.findings == ("cups", "turn") for b in plan.blocks)
    assert Because.MIXED in plan.blocks[0].because


def test_a_limit_withholds_its_drill_with_the_reason():
    tight = Limit("back", "turn")
    aims, withheld = offered(asked(limits=[tight]))
    assert "the back turn is limited" in withheld["turn"]
    assert [d.id for d in aims[1].drills] == ["wall"]


def test_equipment_that_is_not_there_is_said():
    _, withheld = offered(asked(equipment=frozenset({"a glove and a tee peg"})))
    assert withheld == {"wall": "it needs a wall"}


@pytest.mark.parametrize(
    ("more", "words"),
    [
        ({"minutes": {}}, "No day until the next lesson has 10 minutes"),
        ({"last": MONDAY - timedelta(days=1)}, "No day until"),
        ({"aims": []}, "no priority has a drill"),
        ({"aims": [Aim("turn", "x", [TURN])], "limits": [Limit("back", "any")]}, "Nothing can be practised"),
        ({"pain": Pain(today=True)}, "licensed health professional"),
    ],
)
def test_what_cannot_be_planned_says_why_and_what_to_do(more, words):
    with pytest.raises(NothingToPlan) as refused:
        make_plan(asked(**more))
    assert words in str(refused.value)


def test_a_moved_block_says_which_rules_it_breaks():
    a = asked()
    plan = make_plan(a)
    tuesday = moved(plan, 0, MONDAY + timedelta(days=1))
    assert [x.rule for x in broken(tuesday, a)] == [Rule.DAY]
    doubled = moved(plan, 0, MONDAY + timedelta(days=2))
    assert [x.words for x in broken(doubled, a)] == ["40 minutes on Wednesday, where there are 20."]
    last = moved(plan, 3, MONDAY + timedelta(days=7))
    assert Rule.WEEK in {x.rule for x in broken(last, a)}
    with pytest.raises(NothingToPlan):
        moved(plan, 99, MONDAY)


def test_pain_stops_the_plan_and_says_whom_to_see():
    plan = make_plan(asked())
    done = replace(plan, blocks=tuple(replace(b, done=b.number < 2) for b in plan.blocks))
    ended = stopped(done, MONDAY + timedelta(days=4), "back")
    assert [b.number for b in ended.blocks] == [0, 1]
    assert ended.stopped.startswith("Pain in the back on 6 March: the plan stops.")
    assert "licensed health professional" in ended.stopped


def test_every_reason_has_its_sentence():
    assert set(SAID) == set(Because)
    fading = next(b for b in make_plan(asked()).blocks if Because.FADING in b.because)
    assert any("50 %" in sentence for sentence in reasons(fading))
    for sentence in SAID.values():
        assert sentence.endswith((".", "?"))


def test_a_year_is_not_planned_to_its_end():
    assert practice_days(asked(last=MONDAY + timedelta(days=900)))[-1] <= MONDAY + timedelta(days=120)


def test_the_catalogues_drills_can_be_planned():
    both = [d for d in library.drills().values() if d.id in ("peg_pointer", "turn_first")]
    assert len(both) >= 1
    plan = make_plan(asked(aims=[Aim("x", "x", both)], place=Place.GARAGE))
    assert len(plan.blocks) == 8
    assert plan.room == "slow and half swings"
