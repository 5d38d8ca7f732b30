"""What screens are shown of a take, frame by frame: one metric first, the rest after it, and what values settle at."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.live.angles import LiveTrace
from finearc.core.live.gridding import Grid
from finearc.core.live.reader import told
from finearc.core.live.settled import EVERY_S, LEAST_S, WINDOW_S, SettledState, settle
from finearc.core.live.take import LiveTake, joined_traces
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Source
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.kind import Setting
from finearc.core.training.showing import Showing
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

FRAME = 4
BEGINS_S, ENDS_S = 14.0, 22.0
LAST = Segment.LEAD_UPPER_ARM
"""Its frames come after the hand's, as a device's may."""


@pytest.fixture(scope="module")
def played():
    """Streams of a session, in the order in which their frames come, and what the batch learns of it."""
    recording = play("over-extended", 11, sources=("wrist", "upper-arm", "club", "body", "pressure"))
    capture = capture_of(recording)
    streams = sorted(capture.streams[INERTIAL], key=lambda s: s.segment is LAST)
    return streams, told(an.read(capture), {}).learned


def shown(played, look):
    """All that ``look`` returns at each frame of a take that knows its calibrations."""
    streams, learned = played
    take = LiveTake(Setting(), Grid(BEGINS_S, 0.005), [s.segment for s in streams])
    showing = Showing(take)
    take.anchors = replace(learned.anchors, held_in=dict.fromkeys(take.segments, 0))
    found = []
    for start in np.arange(BEGINS_S, ENDS_S, FRAME * 0.005):
        for stream in streams:
            rows = (stream.time_s >= start) & (stream.time_s < start + FRAME * 0.005)
            if rows.any():
                take.hear(replace_rows(stream, rows))
                found += look(showing, stream.segment)
    return found, showing


def replace_rows(stream, rows):
    return replace(stream, time_s=stream.time_s[rows], acc_m_s2=stream.acc_m_s2[rows], gyr_rad_s=stream.gyr_rad_s[rows])


def test_one_metric_first_changes_nothing_of_what_is_said(played):
    together, _ = shown(played, lambda s, _: s.take.new_values())
    first, _ = shown(
        played,
        lambda s, segment: s.take.new_values(m.LEAD_WRIST_EXTENSION) + (s.take.new_values() if segment is LAST else []),
    )
    a, b = joined_traces(together), joined_traces(first)
    assert a.keys() == b.keys() >= {m.LEAD_WRIST_EXTENSION.id, m.FOREARM_PRONATION.id, m.PELVIS_TURN.id}
    for name, (times, values) in a.items():
        assert np.array_equal(times, b[name][0]), name
        assert np.allclose(values, b[name][1], atol=1e-12, equal_nan=True), name


def test_only_the_metric_that_was_asked_for_comes_first(played):
    found, _ = shown(played, lambda s, _: s.take.new_values(m.PELVIS_TURN))
    assert {t.metric for t in found} == {m.PELVIS_TURN, m.PELVIS_FORWARD_BEND, m.PELVIS_SIDE_BEND}


def test_a_value_settles_at_the_middle_of_the_last_second():
    rng, state = np.random.default_rng(7), SettledState()
    time_s = 5.0 + 0.005 * np.arange(800)
    values = 0.2 + 0.05 * (time_s - 5.0) + rng.normal(0.0, 0.01, len(time_s))
    for k in range(0, len(time_s), FRAME):
        now = slice(k, k + FRAME)
        settle(state, [LiveTrace(m.PELVIS_TURN, time_s[now], values[now], 0.01, Source.BODY)], still=True)
        known, until_s = state.known.get(m.PELVIS_TURN), time_s[now][-1]
        if until_s < 5.0 + LEAST_S:
            assert known is None
            continue
        worked_out_s = state.known_s[m.PELVIS_TURN]
        assert until_s - worked_out_s < EVERY_S
        of = values[(time_s <= worked_out_s) & (time_s >= worked_out_s - WINDOW_S)]
        low, middle, high = np.percentile(of, [5.0, 50.0, 95.0])
        assert (known.value, known.spread) == pytest.approx((middle, (high - low) / 2.0))
    settle(state, [], still=False)
    assert state.known[m.PELVIS_TURN] is known  # what it last settled at stays known
    settle(state, [LiveTrace(m.PELVIS_TURN, np.array([9.0]), np.array([1.0]), 0.01, Source.BODY)], still=True)
    assert state.known[m.PELVIS_TURN] is known  # one value is no stillness
