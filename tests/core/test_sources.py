"""Several views of one swing: the best leads, the others stay; corrections; words for changes."""

from dataclasses import replace

import numpy as np
import pytest

from finearc.core.events import checkpoints as cp
from finearc.core.events.model import Checkpoint, event
from finearc.core.judging.words import limits_in_words
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured, Moment, Source
from finearc.core.metrics.words import at_moment, change_in_words, spread_in_words
from finearc.core.sources.capture import read_one
from finearc.core.sources.markers import MARKERS
from finearc.core.sources.reading import merge
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

D = float(np.pi / 180)


def value(deg, sd, source, **more):
    return Measured(m.PELVIS_TURN, Moment("top"), deg * D, sd * D, source=source, **more)


def test_the_most_certain_source_leads_and_the_others_stay():
    best, *rest = merge([value(44, 2.0, Source.BODY), value(42, 0.5, Source.MARKERS)])
    assert rest == []
    assert best.source is Source.MARKERS
    assert [o.source for o in best.others] == [Source.BODY]


def test_a_value_that_may_not_be_judged_never_leads():
    best = merge([value(44, 0.1, Source.BODY, not_judged_reason="stale"), value(42, 0.5, Source.MARKERS)])[0]
    assert best.source is Source.MARKERS
    assert best.others[0].not_judged_reason == "stale"


def test_values_of_different_moments_are_not_mixed():
    other = value(44, 1, Source.BODY)._replace(moment=Moment("impact"))
    assert len(merge([value(42, 1, Source.BODY), other])) == 2


def found(**events):
    return cp.Found({Checkpoint(k): event(t, u, how) for k, (t, u, how) in events.items()}, {})


def test_checkpoints_are_taken_from_the_most_certain_view():
    out = cp.best_of([found(impact=(1.25, 0.003, "hand-shock")), found(impact=(1.252, 0.0006, "head-passage"))])
    impact = out.events[Checkpoint.IMPACT]
    assert impact.method == "head-passage"
    assert [o.method for o in impact.others] == ["hand-shock"]


def test_a_checkpoint_nobody_saw_keeps_its_reason():
    blind = cp.Found({}, {Checkpoint.TOP: "never reversed"})
    assert cp.best_of([blind, found(impact=(1, 0.1, "x"))]).absent[Checkpoint.TOP] == "never reversed"


def test_an_instructors_instant_outranks_every_source():
    out = found(top=(1.0, 0.003, "club-reversal"))
    cp.apply_corrections(out, {Checkpoint.TOP: 0.9}, 0.004)
    assert (out.events[Checkpoint.TOP].time_s, out.events[Checkpoint.TOP].method) == (0.9, "instructor")


def test_checkpoints_out_of_order_are_dropped_with_a_reason():
    out = found(top=(1.0, 0.003, "a"), impact=(0.8, 0.001, "b"))
    cp.keep_in_order(out)
    assert Checkpoint.IMPACT not in out.events
    assert "out of order" in out.absent[Checkpoint.IMPACT]


def test_sources_whose_clocks_run_apart_are_said():
    data = capture_of(play("free-pelvis", 6, sources=("wrist", "markers")))
    late = replace(data.streams[MARKERS], time_s=data.streams[MARKERS].time_s + 0.08)
    reading = an.read(data.with_stream(MARKERS, late))
    assert any("offset_s" in w for w in reading.swings[0].warnings)
    assert not any("offset_s" in w for w in an.read(data).swings[0].warnings)


@pytest.mark.parametrize("sources", [("wrist",), ("markers",), ("wrist", "body"), ("wrist", "club", "markers")])
def test_every_metric_has_a_value_or_a_reason_and_never_both(sources):
    analysis = an.analyse(capture_of(play("free-pelvis", 3, sources=sources)))
    swing = analysis.swings[0]
    measured = {v.metric.id for v in swing.reading.measured}
    assert measured.isdisjoint(swing.missing)
    assert measured | set(swing.missing) == {x.id for x in m.ALL if not x.of_putts}
    assert all(swing.missing.values())


def test_every_value_has_an_uncertainty_a_source_and_a_known_moment():
    analysis = an.analyse(capture_of(play("free-pelvis", 3, sources=("wrist", "club", "body", "markers"))))
    for v in analysis.swings[0].reading.measured:
        assert np.isfinite(v.value), v.metric.id
        assert v.uncertainty > 0, v.metric.id
        assert isinstance(v.source, Source)


def test_changes_are_said_in_their_own_words():
    assert change_in_words(m.POSTURE_FROM_GROUND, 9 * D) == "9° more upright"
    assert change_in_words(m.POSTURE_FROM_GROUND, -9 * D) == "9° more bent over"
    assert change_in_words(m.PELVIS_TURN, 9 * D) == "9° more closed"
    assert at_moment(m.POSTURE_FROM_GROUND, "top", 63 * D) == "63° from the ground"
    assert at_moment(m.POSTURE_FROM_GROUND, "address..top", 5 * D) == "5° more upright"


def test_bands_of_changes_too():
    both = limits_in_words(m.POSTURE_FROM_GROUND, -5 * D, 5 * D, change=True)
    assert both == "5° more bent over to 5° more upright"
    assert limits_in_words(m.POSTURE_FROM_GROUND, None, 5 * D, change=True) == "at most 5° more upright"
    assert limits_in_words(m.PELVIS_TURN, -5 * D, 5 * D) == "5° open to 5° closed"


@pytest.mark.parametrize(("deg", "words"), [(0.3, "0.3°"), (0.94, "0.9°"), (1.2, "1°"), (4.0, "4°")])
def test_an_uncertainty_never_rounds_to_nothing(deg, words):
    assert spread_in_words(m.PELVIS_TURN, deg * D) == words


@pytest.mark.parametrize("sources", [("wrist", "club"), ("wrist", "body", "markers", "pressure")])
def test_one_swing_read_again_alone_is_as_reading_all_of_the_recording(sources):
    """Moving a checkpoint measures one swing: from what it started from it gives the same to the last bit."""
    data = capture_of(play("over-extended", 4, sources=sources))
    _, prepared = an.read_and_prepare(data)
    moved = {2: {Checkpoint.TOP: prepared.spans[2][1] - 1.3}, 3: {Checkpoint.IMPACT: prepared.spans[3][1] - 0.9}}
    whole, _ = an.read_and_prepare(data, moved)
    for number in (3, 2, 3):
        alone = read_one(prepared, number, moved[number], None)
        assert [m for m in alone.measured] == [m for m in whole.swings[number].measured]
        assert alone.events == whole.swings[number].events
        assert alone.warnings == whole.swings[number].warnings
        for key, trace in whole.swings[number].traces.items():
            assert np.array_equal(alone.traces[key], trace, equal_nan=True)


def test_a_roll_is_told_up_to_half_a_turn():
    """Past half a turn the same place is reached the other way round: a number would only confuse."""
    from finearc.core.metrics import registry as m
    from finearc.core.metrics.words import in_words

    assert in_words(m.HAND_ROLL, np.deg2rad(-144.0), plain=True) == "144° rolled open"
    assert in_words(m.HAND_ROLL, np.deg2rad(-290.0), plain=True) == "over 180° rolled open"
    assert in_words(m.THORAX_TURN, np.deg2rad(190.0)) == "190° closed"
