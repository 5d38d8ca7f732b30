"""The phases of a putt by their definition, worked by hand."""

from __future__ import annotations

import pytest

from finearc.core.events.model import Checkpoint as C
from finearc.core.putting.phases import phases_of


def spans(**at_s):
    return {
        s.phase: (round(s.start_s, 6), round(s.end_s, 6)) for s in phases_of({C[k.upper()]: t for k, t in at_s.items()})
    }


def test_phases_lie_end_to_end_from_takeaway_to_finish():
    assert spans(takeaway=1.0, transition=1.7, impact=2.0, finish=2.6) == {
        "backstroke": (1.0, 1.6),
        "transition": (1.6, 1.8),
        "throughstroke": (1.8, 1.98),
        "impact": (1.98, 2.02),
        "after": (2.02, 2.6),
    }


def test_where_the_way_to_the_ball_is_short_the_transition_reaches_up_to_impact():
    found = spans(takeaway=1.0, transition=1.4, impact=1.5)
    assert found["transition"] == (1.3, 1.48)
    assert set(found) == {"backstroke", "transition", "impact"}


@pytest.mark.parametrize(
    ("missing", "left"),
    [
        ("takeaway", {"transition", "throughstroke", "impact", "after"}),
        ("transition", {"impact", "after"}),
        ("impact", {"backstroke", "transition"}),
        ("finish", {"backstroke", "transition", "throughstroke", "impact"}),
    ],
)
def test_a_checkpoint_that_is_not_found_takes_its_phases_with_it(missing, left):
    at_s = {"takeaway": 1.0, "transition": 1.7, "impact": 2.0, "finish": 2.6}
    del at_s[missing]
    assert set(spans(**at_s)) == left
