"""The figure of the present moment against the batch's figure of the same swing."""

from __future__ import annotations

import numpy as np
import pytest

from finearc.core.frames.handedness import Hand
from finearc.core.live.figure import figure_now
from finearc.core.sources.figure import figure_of
from finearc.devices.played import Faults, Played, play_live
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

AROUND_S = 0.05
"""Sensors and cameras show what was some hundredths of a second ago."""


def seen_live(monkeypatch, data):
    """Each moment's figure with when it was, and the batch's figures of the same swings."""
    shown, arrived = [], Played.arrived

    def and_look(self, parts):
        arrived(self, parts)
        figure = figure_now(self.take)
        if figure is not None:
            shown.append((self._now_s, figure))

    monkeypatch.setattr(Played, "arrived", and_look)
    analysis, _ = play_live(data, Faults(), an.Options())
    return shown, [figure_of(s.reading, None) for s in analysis.swings]


def apart(shown, figure, name, start_s, end_s):
    """How far a point is from where the batch has it, m, as near as it comes around each instant."""
    out = []
    for now_s, live in shown:
        if not start_s <= now_s <= end_s or not np.isfinite(live.points[name]).all():
            continue
        near = np.abs(figure.time_s - now_s + AROUND_S / 2) < AROUND_S
        out.append(np.nanmin(np.linalg.norm(figure.points[name][near] - live.points[name][0], axis=1)))
    return np.array(out)


CASES = [
    ("free-pelvis", ("markers",), Hand.RIGHT, ("pelvis", "neck", "lead_wrist", "trail_knee", "club_head"), 0.02),
    ("hold-then-flex", ("wrist", "body", "club"), Hand.RIGHT, ("lead_hip", "trail_shoulder", "lead_wrist"), 0.05),
    ("over-extended", ("wrist",), Hand.LEFT, ("lead_elbow", "lead_wrist", "lead_fingers"), 0.05),
]


@pytest.mark.parametrize(("name", "sources", "hand", "points", "close_m"), CASES)
def test_every_joint_is_where_the_batch_draws_it(monkeypatch, name, sources, hand, points, close_m):
    shown, figures = seen_live(monkeypatch, capture_of(play(name, 5, sources=sources, hand=hand)))
    for figure in figures[1:3]:
        start_s, end_s = float(figure.time_s[0]), float(figure.time_s[-1])
        for point in points:
            off = apart(shown, figure, point, start_s, end_s)
            assert len(off) > 50, point
            assert np.percentile(off, 90) < close_m, (point, np.percentile(off, [50, 90]))
        live = shown[-1][1]
        assert live.measured == figure.measured
        assert live.placed == figure.placed


def test_before_anything_is_calibrated_nothing_is_drawn(monkeypatch):
    data = capture_of(play("over-extended", 5, sources=("wrist",)))
    shown, figures = seen_live(monkeypatch, data)
    assert shown[0][0] > max(pose.end_s for pose in data.poses)
    assert figures
