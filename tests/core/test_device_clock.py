"""A device's clock against the server's, from exchanges with jitter, drift and jumps."""

import numpy as np
import pytest

from finearc.core.live.clock import JUMP_S, RATE_SD, ClockState, Exchange, take_in


def exchanges(offset_s, drift, seconds, rng, *, jitter_s=0.004, every_s=1.0):
    """Clock messages of a device that is ``offset_s`` behind and runs fast by ``drift``; trips are at least 1 ms long,
    unevenly split between the two ways."""
    for t in np.arange(0.0, seconds, every_s):
        there, back = 0.0005 + rng.exponential(jitter_s), 0.0005 + rng.exponential(jitter_s)
        sent = t * (1 + drift)
        yield Exchange(sent, t + offset_s + there, there + back)


@pytest.mark.parametrize("drift", [0.0, 40e-6, -40e-6])
def test_offset_and_rate_are_found_within_what_is_stated(drift):
    """Three minutes with some milliseconds of jitter; truth is server = device / (1 + drift) + offset."""
    errors, stated = [], []
    for seed in range(20):
        state, rng = ClockState(), np.random.default_rng(seed)
        for exchange in exchanges(100.0, drift, 180.0, rng):
            take_in(state, exchange)
        at = 179.0 * (1 + drift)
        errors.append(float(state.line.server_s(at)) - (179.0 + 100.0))
        stated.append(state.line.sd_s)
    assert np.sqrt(np.mean(np.square(errors))) < 0.0015
    assert np.mean(np.abs(errors) < 2 * np.array(stated)) > 0.8
    assert state.line.rate == pytest.approx(-drift, abs=8e-6)


def test_times_never_go_back_while_the_line_moves():
    state, rng = ClockState(), np.random.default_rng(3)
    last = -np.inf
    for exchange in exchanges(5.0, 30e-6, 120.0, rng, jitter_s=0.01, every_s=0.5):
        take_in(state, exchange)
        mapped = state.line.server_s(exchange.device_s + np.arange(0.0, 0.5, 0.005))
        assert np.all(np.diff(mapped) > 0)
        assert mapped[0] > last - 1e-9
        last = float(mapped[-1])


@pytest.mark.parametrize("by_s", [0.5, -0.5])
def test_a_jump_is_noticed_and_the_clock_set_again(by_s):
    state, rng = ClockState(), np.random.default_rng(1)
    for exchange in exchanges(0.0, 0.0, 30.0, rng, jitter_s=0.001):
        assert not take_in(state, exchange)
    jumped = Exchange(30.0 + by_s, 30.001, 0.002)
    assert take_in(state, jumped)
    assert float(state.line.server_s(31.0 + by_s)) == pytest.approx(31.0, abs=0.002)
    assert state.steps == 1


def test_a_better_exchange_that_moves_times_at_once_is_counted():
    """The first message came a quarter of a second late; the next shows it."""
    state = ClockState()
    take_in(state, Exchange(0.0, 0.25, 0.5))
    assert state.steps == 0
    assert not take_in(state, Exchange(1.0, 1.1, 0.001))
    assert (state.steps, state.jumps) == (1, 0)


def test_a_late_message_alone_is_no_jump():
    state, rng = ClockState(), np.random.default_rng(2)
    for exchange in exchanges(0.0, 0.0, 30.0, rng):
        take_in(state, exchange)
    assert not take_in(state, Exchange(30.0, 30.0 + 10 * JUMP_S, 10 * JUMP_S))
    assert float(state.line.server_s(31.0)) == pytest.approx(31.0, abs=0.005)


def test_without_round_trips_the_least_late_message_counts():
    state, rng = ClockState(), np.random.default_rng(4)
    for exchange in exchanges(2.0, 0.0, 60.0, rng):
        take_in(state, Exchange(exchange.device_s, exchange.server_s))
    assert float(state.line.server_s(60.0)) == pytest.approx(62.0, abs=0.006)
    assert state.line.sd_s > 0.0005


def test_late_messages_tell_no_rate_that_no_quartz_has():
    """On a busy wireless network for half a minute: a movement lasts as long as it did."""
    for seed in range(20):
        state, rng = ClockState(), np.random.default_rng(seed)
        for exchange in exchanges(3.0, 0.0, 30.0, rng, jitter_s=0.2):
            take_in(state, exchange)
            assert abs(state.line.rate) < 3 * RATE_SD
