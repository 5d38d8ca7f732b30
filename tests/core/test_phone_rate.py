"""A body sensor that reads sixty times a second, unevenly, beside the same at two hundred."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from finearc.core.signals.streams import ImuStream
from finearc.core.sources.inertial import INERTIAL
from finearc.golfer.scenarios import play
from finearc.services.judging.analysis import read
from finearc.services.modelled import capture_of

SEEN = {"pelvis_turn", "pelvis_forward_bend", "pelvis_side_bend"}


def as_a_phone(stream, rate_hz=60.0, shake_s=0.002):
    """The same motion read so often, each reading up to so much early or late."""
    rng = np.random.default_rng(7)
    time_s = np.arange(stream.time_s[0] + shake_s, stream.time_s[-1] - shake_s, 1.0 / rate_hz)
    time_s = time_s + rng.uniform(-shake_s, shake_s, len(time_s))
    acc, gyr = (
        np.column_stack([np.interp(time_s, stream.time_s, v) for v in told.T])
        for told in (stream.acc_m_s2, stream.gyr_rad_s)
    )
    return ImuStream(stream.segment, time_s, acc, gyr, stream.source)


def told(streams, capture):
    """Degrees by measure and moment, of each swing."""
    swings = read(replace(capture, streams={INERTIAL: streams}, poses=(), swings=None)).swings
    return [
        {(v.metric.id, v.moment.key): np.rad2deg(v.value) for v in s.measured if v.metric.id in SEEN} for s in swings
    ]


def test_a_phone_alone_tells_the_pelvis_as_well_as_a_sensor():
    capture = capture_of(play("hold-then-flex", 5, sources=("wrist", "body")))
    pelvis = tuple(s for s in capture.streams[INERTIAL] if s.segment.value == "pelvis")
    often, seldom = told(pelvis, capture), told(tuple(map(as_a_phone, pelvis)), capture)
    assert len(often) == len(seldom) == 5
    for a, b in zip(often, seldom, strict=True):
        assert a.keys() == b.keys()
        assert {m for m, _ in a} == SEEN
        apart = {k: abs(a[k] - b[k]) for k in a}
        assert max(v for (_, at), v in apart.items() if at != "takeaway") < 0.5
        assert max(apart.values()) < 1.5  # a pelvis alone places the takeaway poorly: it begins to turn slowly
