"""Where a lesson can stand: stretches of time, clashes, free places."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from itertools import pairwise

from hypothesis import given, settings, strategies as st

from finearc.core.diary.places import STEP, Clashing, Kind, Resource, Search, Taken, Wanted, clashes, next_places
from finearc.core.diary.spans import Span, joined, without

DAY = datetime(2031, 5, 5, tzinfo=UTC)


def span(begins: float, ends: float) -> Span:
    """From hour to hour of the day."""
    return Span(DAY + timedelta(hours=begins), DAY + timedelta(hours=ends))


MARA, JON = Resource(Kind.INSTRUCTOR, "mara"), Resource(Kind.INSTRUCTOR, "jon")
BAY_1, BAY_2 = Resource(Kind.BAY, "Bay 1"), Resource(Kind.BAY, "Bay 2")
ILSE, SET_A = Resource(Kind.PLAYER, "ilse"), Resource(Kind.SENSORS, "Set A")


def taken(begins: float, ends: float, *resources: Resource, markers: bool = False) -> Taken:
    return Taken(span(begins, ends), frozenset(resources), markers=markers)


quarters = st.integers(0, 96).map(lambda k: DAY + k * STEP)
spans = st.tuples(quarters, quarters).filter(lambda t: t[0] < t[1]).map(lambda t: Span(*t))


def minutes_of(found: list[Span]) -> set[datetime]:
    """Every quarter that the stretches hold."""
    return {s.begins + k * STEP for s in found for k in range(int((s.ends - s.begins) / STEP))}


@given(st.lists(spans, max_size=6), st.lists(spans, max_size=6))
def test_what_is_left_is_what_is_open_and_not_taken(open_, gaps):
    left = without(open_, gaps)
    assert minutes_of(left) == minutes_of(joined(open_)) - minutes_of(joined(gaps))
    assert left == joined(left)
    assert all(a.ends < b.begins for a, b in pairwise(left))


def test_what_touches_does_not_meet():
    assert not span(9, 10).meets(span(10, 11))
    assert span(9, 10.5).meets(span(10, 11))


def test_each_of_the_four_can_be_in_one_place_only():
    for shared in (MARA, BAY_1, ILSE, SET_A):
        found = clashes(Wanted(span(10, 11), frozenset({shared, JON})), [taken(10.5, 12, shared, BAY_2)])
        assert found == [Clashing(taken(10.5, 12, shared, BAY_2), frozenset({shared}))]
    assert clashes(Wanted(span(10, 11), frozenset({MARA, BAY_1})), [taken(10, 11, JON, BAY_2)]) == []


def test_two_lessons_with_markers_in_one_bay_need_time_between():
    setup = timedelta(minutes=15)
    before = taken(9, 10, MARA, BAY_1, markers=True)
    wanted = Wanted(span(10, 11), frozenset({JON, BAY_1}), markers=True)
    assert clashes(wanted, [before], setup) == [Clashing(before, frozenset())]
    later = Wanted(span(10.25, 11), wanted.resources, markers=True)
    assert clashes(later, [before], setup) == []
    assert (
        clashes(Wanted(wanted.span, wanted.resources), [before], setup) == []
    )  # without markers there is nothing to set up
    elsewhere = Wanted(wanted.span, frozenset({MARA, BAY_2}), markers=True)
    assert clashes(elsewhere, [before], setup) == []


def searched(busy: list[Taken], **more: object) -> Search:
    usual = {"length": timedelta(minutes=45), "hours": {"mara": [span(9, 12)]}, "bays": ["Bay 1", "Bay 2"]}
    return Search(**{**usual, "taken": busy, **more})  # type: ignore[arg-type]


def test_the_next_places_come_in_order_with_the_preferred_bay():
    busy = [taken(9, 10, MARA, BAY_1), taken(10, 10.5, JON, BAY_1)]
    found = next_places(searched(busy), DAY, 3)
    assert [(p.span.begins, p.bay) for p in found] == [
        (span(10, 11).begins, "Bay 2"),
        (span(10.25, 11).begins, "Bay 2"),
        (span(10.5, 11).begins, "Bay 1"),
    ]


def test_another_instructor_is_offered_where_the_first_is_taken():
    hours = {"mara": [span(9, 12)], "jon": [span(9, 12)]}
    found = next_places(searched([taken(9, 12, MARA, BAY_1)], hours=hours), DAY, 1)
    assert (found[0].instructor, found[0].bay) == ("jon", "Bay 2")


def test_places_begin_at_quarters_and_not_before_they_are_asked_for():
    found = next_places(searched([]), span(9.6, 10).begins, 1)
    assert found[0].span.begins == span(9.75, 10).begins


busies = st.builds(
    lambda s, r: Taken(s, frozenset(r)), spans, st.sets(st.sampled_from([MARA, JON, BAY_1, BAY_2, ILSE]), min_size=1)
)


@settings(max_examples=200)
@given(st.lists(busies, max_size=8), st.lists(spans, min_size=1, max_size=3), st.lists(spans, max_size=3))
def test_every_offered_place_is_free_and_none_is_missed(busy, mara, jon):
    hours = {"mara": joined(mara), "jon": joined(jon)}
    search = Search(timedelta(minutes=45), hours, ["Bay 1", "Bay 2"], frozenset({ILSE}), taken=busy)
    found = {p.span.begins for p in next_places(search, DAY, 1000)}
    for k in range(97):
        begins = DAY + k * STEP
        wish = Span(begins, begins + timedelta(minutes=45))
        free = any(
            not clashes(Wanted(wish, frozenset({ILSE, Resource(Kind.INSTRUCTOR, who), bay})), busy)
            for who, works in hours.items()
            if any(w.holds(wish) for w in works)
            for bay in (BAY_1, BAY_2)
        )
        assert (begins in found) == free, begins
