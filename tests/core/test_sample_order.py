"""Samples in their order: whatever is lost, doubled, late or out of order on the way."""

import numpy as np
import pytest
from hypothesis import given, strategies as st

from finearc.core.live.sequence import (
    Gap,
    Samples,
    SequenceParams,
    SequenceState,
    give_up_waiting,
    put_in_order,
)

PATIENT = SequenceParams(patience=20, window=500)


def frame(first, count=4):
    n = np.arange(first, first + count)
    return Samples(first, n * 5000, n[:, None].astype(float))


def delivered(out):
    return [int(v) for part in out if isinstance(part, Samples) for v in part.values[:, 0]]


def play(frames, params=PATIENT):
    state, ready, late, repeated = SequenceState(), [], [], 0
    for f in frames:
        ordered = put_in_order(params, state, f)
        ready += ordered.ready
        late += ordered.late
        repeated += ordered.repeated
    return ready + give_up_waiting(state), late, repeated


def test_frames_in_order_pass_through_at_once():
    state = SequenceState()
    for k in range(0, 40, 4):
        assert delivered(put_in_order(PATIENT, state, frame(k)).ready) == [k, k + 1, k + 2, k + 3]
    assert state.next == 40


def test_a_late_frame_is_waited_for_and_a_lost_one_is_given_up():
    state = SequenceState()
    put_in_order(PATIENT, state, frame(0))
    assert not put_in_order(PATIENT, state, frame(8)).ready
    assert delivered(put_in_order(PATIENT, state, frame(4)).ready) == list(range(4, 12))
    state = SequenceState()
    put_in_order(PATIENT, state, frame(0))
    for k in range(8, 24, 4):
        assert not put_in_order(PATIENT, state, frame(k)).ready
    out = put_in_order(PATIENT, state, frame(24)).ready
    assert out[0] == Gap(4, 7)
    assert delivered(out) == list(range(8, 28))


def test_what_comes_after_its_gap_was_given_up_is_told_apart():
    state = SequenceState()
    put_in_order(PATIENT, state, frame(0))
    for k in range(8, 32, 4):
        put_in_order(PATIENT, state, frame(k))
    late = put_in_order(PATIENT, state, frame(2, 4))
    assert delivered(late.late) == [4, 5]
    assert late.repeated == 2
    assert delivered(put_in_order(PATIENT, state, frame(4)).late) == [6, 7]
    again = put_in_order(PATIENT, state, frame(4))
    assert (list(again.late), again.repeated) == ([], 4)


def test_a_frame_from_long_ago_is_said_to_be_behind():
    state = SequenceState()
    put_in_order(PATIENT, state, frame(0))
    put_in_order(PATIENT, state, frame(1000))
    assert put_in_order(PATIENT, state, frame(100)).behind
    assert not put_in_order(PATIENT, state, frame(700)).behind


@given(st.data())
def test_nothing_is_delivered_twice_or_out_of_order_and_nothing_that_came_is_lost(data):
    """Whatever order frames of whatever lengths come in: what is delivered, what was given up and what came late add
    up to what was sent."""
    starts = sorted(set(data.draw(st.lists(st.integers(0, 300), min_size=1, max_size=40))))
    frames = [frame(a, data.draw(st.integers(1, 9))) for a in starts]
    frames += data.draw(st.lists(st.sampled_from(frames), max_size=10))
    order = data.draw(st.permutations(frames))
    out, late, _ = play(order)
    sequence = delivered(out)
    assert sequence == sorted(set(sequence))
    gaps = {k for g in out if isinstance(g, Gap) for k in range(g.first, g.last + 1)}
    after = {k for part in late for k in range(part.first, part.after)}
    assert not gaps & set(sequence)
    assert after <= gaps
    sent = {k for f in frames for k in range(f.first, f.after)}
    begin = order[0].first  # what lies before the very first frame that came is not waited for
    assert set(sequence) | after == {k for k in sent if k >= begin}


@pytest.mark.parametrize("rate_hz", [50.0, 200.0, 1000.0])
def test_patience_is_a_tenth_of_a_second_and_the_window_half_a_minute(rate_hz):
    params = SequenceParams.at(rate_hz)
    assert params.patience == pytest.approx(0.1 * rate_hz, abs=1)
    assert params.window == pytest.approx(30 * rate_hz, abs=1)
