"""Where two groups of courses differ."""

from __future__ import annotations

import numpy as np
import pytest
import spm1d
from scipy import ndimage, stats

from finearc.core.comparing.curves import Stretch, compare_curves, compare_stretched, where
from finearc.core.comparing.drawn import BEFORE, laid
from finearc.core.comparing.seen import SwingSeen, courses
from finearc.core.comparing.traces import NODES, top_node
from finearc.core.events.model import Checkpoint
from finearc.core.metrics import registry as m
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of


def smooth(rng, n, width=8.0):
    """Courses as smooth as movement, SD about 1."""
    noise = ndimage.gaussian_filter1d(rng.normal(size=(n, NODES + 80)), width, axis=1)[:, 40 : 40 + NODES]
    return noise / noise.std()


def test_the_statistic_is_scipys_and_the_threshold_the_librarys():
    rng = np.random.default_rng(1)
    a, b = smooth(rng, 6), smooth(rng, 5) + 0.4
    found = compare_stretched(a, b)
    assert np.allclose(found.t, stats.ttest_ind(a, b).statistic, rtol=0, atol=1e-6)
    theirs = spm1d.stats.ttest2(a, b).inference(0.05, two_tailed=True)
    assert found.threshold == pytest.approx(theirs.zstar, abs=1e-6)


def test_chance_alone_passes_about_once_in_twenty():
    rng = np.random.default_rng(2)
    hits = sum(bool(compare_stretched(smooth(rng, 8), smooth(rng, 8)).stretches) for _ in range(400))
    assert 5 <= hits <= 36, hits  # 20 expected; SD of the count 4.4


def test_a_difference_is_found_where_it_is():
    rng = np.random.default_rng(3)
    a, b = smooth(rng, 8), smooth(rng, 8)
    a[:, 45:76] += 5.0
    (found,) = compare_stretched(a, b).stretches
    assert found.first == pytest.approx(45, abs=4)
    assert found.last == pytest.approx(75, abs=4)
    assert found.more
    assert found.p < 0.01
    (back,) = compare_stretched(b, a).stretches
    assert not back.more


def test_what_is_the_same_by_definition_or_was_not_seen_is_left_out():
    rng = np.random.default_rng(4)
    a, b = smooth(rng, 5), smooth(rng, 5)
    a[:, :3] = b[:, :3] = 0.0
    a[2, 90:] = np.nan
    found = compare_stretched(a, b)
    assert (found.node[0], found.node[-1]) == (3, 89)
    a[:, 8:] = np.nan
    assert compare_stretched(a, b) is None


def test_a_stretch_is_named_by_the_checkpoints_next_to_it():
    nodes = {Checkpoint.ADDRESS: -6.0, Checkpoint.TAKEAWAY: 0.0, Checkpoint.ARM_LEVEL_BACK: 48.0, Checkpoint.TOP: 75.0}
    assert where(Stretch(44.0, 80.0, 0.01, more=True), nodes) == (Checkpoint.ARM_LEVEL_BACK, Checkpoint.TOP)
    assert where(Stretch(-4.0, 2.0, 0.01, more=True), nodes)[0] is Checkpoint.TAKEAWAY


@pytest.fixture(scope="module")
def sides():
    readings = [an.read(capture_of(play(name, 5))).swings for name in ("hold-then-flex", "over-extended")]
    return [courses(m.LEAD_WRIST_EXTENSION, [SwingSeen.of(r) for r in side]) for side in readings]


def test_an_over_extended_wrist_differs_about_the_top(sides):
    held, over = sides
    found = compare_curves(over, held, top_node(sides))
    most = max(found.stretches, key=lambda s: s.last - s.first)
    assert most.more
    assert most.first < top_node(sides) < most.last
    assert compare_curves(held[:2], over, 75) is None


def test_what_is_drawn_lies_over_the_checkpoints_and_is_the_difference_of_the_means(sides):
    held, over = sides
    top = top_node(sides)
    drawn = laid(over, held, top, np.deg2rad(2.0))
    assert list(drawn.node[[BEFORE, BEFORE + top, BEFORE + NODES - 1]]) == [0, top, NODES - 1]
    for course, side in ((drawn.first, over), (drawn.second, held)):
        at_top = np.mean([float(t.at(np.array([t.events[Checkpoint.TOP].time_s]))[0]) for t in side])
        assert course.mean[BEFORE + top] == pytest.approx(at_top, abs=np.deg2rad(0.3))
        assert course.nodes[Checkpoint.IMPACT] == pytest.approx(NODES - 1)
        assert 0 < course.nodes[Checkpoint.ARM_LEVEL_BACK] < top < course.nodes[Checkpoint.ARM_LEVEL_DOWN] < NODES - 1
    assert np.allclose(drawn.difference, drawn.first.mean - drawn.second.mean, equal_nan=True)
    assert np.nanmin(drawn.uncertainty) >= np.deg2rad(2.0)
    assert drawn.first.sd is not None


def test_one_swing_has_no_spread_and_a_side_without_courses_is_not_drawn(sides):
    held, _ = sides
    assert laid(held[:1], held, 75, 0.01).first.sd is None
    assert laid([], held, 75, 0.01) is None
