"""A hit is told from a practice swing by the strike that is felt."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.events.model import Checkpoint
from finearc.core.sources.inertial import INERTIAL
from finearc.golfer.scenarios import play
from finearc.services.capture.live import kind_of
from finearc.services.judging.analysis import read
from finearc.services.modelled import capture_of


def felt(name, seed=5, sources=("wrist",), change=lambda streams: streams):
    capture = capture_of(play(name, seed, sources=sources))
    streams = change(capture.streams[INERTIAL])
    return [s.strike_felt for s in read(capture.with_stream(INERTIAL, streams)).swings]


def without(stream, start_s, end_s):
    """A stream whose samples in between were lost."""
    there = (stream.time_s < start_s) | (stream.time_s > end_s)
    kept = {k: getattr(stream, k)[there] for k in ("time_s", "acc_m_s2", "gyr_rad_s")}
    return replace(stream, **kept)


@pytest.mark.parametrize("sources", [("wrist",), ("wrist", "club")])
@pytest.mark.parametrize("seed", [5, 8, 13])
@pytest.mark.parametrize(
    ("name", "hit"),
    [("hold-then-flex", True), ("flip", True), ("short", True), ("no-ball", False), ("half-speed", True)],
)
def test_a_strike_is_felt_where_a_ball_was_there(name, hit, seed, sources):
    """Of some hits a wrist pair feels too little to say so; none is taken for a practice swing."""
    told = felt(name, seed, sources)
    assert told.count(hit) >= 4
    assert (not hit) not in told


def test_body_sensors_and_markers_do_not_tell():
    body = lambda streams: tuple(s for s in streams if s.segment.value in ("pelvis", "thorax"))  # noqa: E731
    assert felt("hold-then-flex", sources=("wrist", "body"), change=body) == [None] * 5


def test_where_the_strike_could_have_been_lost_nothing_is_said():
    """Forty milliseconds lost around each impact, by the truth of the model."""
    hits = play("no-ball", 5).truth.swings
    impacts = [s.times_s["impact"] for s in hits]

    def lossy(streams):
        for at in impacts:
            streams = tuple(without(s, at - 0.02, at + 0.02) for s in streams)
        return streams

    assert felt("no-ball", change=lossy) == [None] * 5
    quiet = [s.times_s["address"] - 0.1 for s in hits]
    assert (
        felt("no-ball", change=lambda streams: tuple(without(s, quiet[0], quiet[0] + 0.04) for s in streams))
        == [False] * 5
    )
    assert np.all(np.diff(impacts) > 1.0)


@pytest.mark.parametrize(
    ("next_kind", "strike", "kind"),
    [
        ("normal", True, "normal"),
        ("normal", False, "no_ball"),
        ("normal", None, "normal"),
        ("test", False, "no_ball"),
        ("drill", False, "drill"),
        ("warm_up", False, "warm_up"),
        ("no_ball", True, "no_ball"),
    ],
)
def test_only_where_hits_are_awaited_a_practice_swing_is_marked(next_kind, strike, kind):
    assert kind_of(next_kind, strike) == kind


def test_samples_lost_at_impact_are_no_strike_and_make_impact_less_certain():
    recording = play("hold-then-flex", 5)
    capture = capture_of(recording)
    impacts = [s.times_s["impact"] for s in recording.truth.swings]
    streams = capture.streams[INERTIAL]
    for at in impacts:
        streams = tuple(without(s, at - 0.02, at + 0.02) for s in streams)
    for swing, truth_s in zip(read(capture.with_stream(INERTIAL, streams)).swings, impacts, strict=True):
        found = swing.events[Checkpoint.IMPACT]
        assert found.method == "hand-return"
        assert abs(found.time_s - truth_s) < 3.0 * found.uncertainty_s
