"""Putts laid over each other: takeaway to transition and transition to impact, each stretched for itself."""

from __future__ import annotations

from functools import cache

import numpy as np
import pytest

from finearc.core.comparing.compared import compare_courses, compare_values
from finearc.core.comparing.drawn import laid
from finearc.core.comparing.seen import SwingSeen, courses
from finearc.core.comparing.traces import stretched, top_node
from finearc.core.comparing.words import said
from finearc.core.events.model import Checkpoint
from finearc.core.metrics.families.wrist import LEAD_WRIST_EXTENSION
from finearc.golfer.putting.scenarios import PUTTING, play_putting
from finearc.services.judging import analysis as an
from finearc.services.modelled import putting_capture_of


@cache
def side(name):
    read = an.read(putting_capture_of(play_putting(PUTTING[name], 31, sources=("wrist",))))
    return [SwingSeen.of(r) for r in read.swings[:5]]


def test_a_putt_is_stretched_between_takeaway_transition_and_impact():
    (trace, *_) = courses(LEAD_WRIST_EXTENSION, side("putt-wristy"))
    events = trace.events
    assert trace.knots == tuple(
        events[c].time_s for c in (Checkpoint.TAKEAWAY, Checkpoint.TRANSITION, Checkpoint.IMPACT)
    )
    course = stretched(trace, 70)
    at_turn = np.interp(events[Checkpoint.TRANSITION].time_s, trace.time_s, trace.values)
    assert course[70] == pytest.approx(at_turn, abs=1e-3)
    assert course[100] == pytest.approx(np.interp(trace.impact_s, trace.time_s, trace.values), abs=1e-3)


def test_two_groups_of_putts_are_drawn_and_said_in_the_words_of_putts():
    a, b = side("putt-wristy"), side("putt-quiet")
    sides = [courses(LEAD_WRIST_EXTENSION, s) for s in (a, b)]
    top = top_node(sides)
    drawn = laid(*sides, top, 0.0)
    assert drawn is not None
    assert drawn.first.courses == drawn.second.courses == 5
    values = compare_values(a, b, one_calibration=False)[LEAD_WRIST_EXTENSION]
    found = compare_courses(LEAD_WRIST_EXTENSION, values, a, b, one_calibration=False)
    assert {i.start for i in found.intensity} <= {Checkpoint.TAKEAWAY, Checkpoint.TRANSITION}
    words = " ".join(said(found, plain=False))
    assert "swing" not in words, words
    assert "top" not in words, words
