"""A device's clock against the server's, from exchanges: least round trip in each window, then a line through the last
minutes. The principle is that of network time (D. L. Mills et al., RFC 5905, 2010, sections 8 and 10; from memory)."""

from __future__ import annotations

from collections import deque
from dataclasses import dataclass, field

import numpy as np

from finearc.core.typing import Array

WINDOW_S = 5.0
MEMORY_S = 180.0
"""Of each window the best exchange is kept, for so long (house values)."""
LEAST_SPAN_S = 10.0
"""A rate is told only from exchanges so far apart."""
RATE_SD = 50e-6
"""How far a device's quartz may be off: 50 parts in a million (common practice)."""
ONE_WAY_SD_S = 0.003
"""How late a message may be where its round trip is not known (house value)."""
UNKNOWN_S, SEVERAL = 2.0, 3
"""So late a message may be whose round trip is unknown, until the best of several windows are there (house values)."""
LONGEST_TRIP_S = 5.0
STEP_S = 0.02
"""A line found to be off by more is corrected at once: slewing would take too long (house value)."""
JUMP_S = 0.05
"""A clock that is off its line by more has jumped (house value)."""
SETTLES_S = 10.0
SLEW = 500e-6
"""Times change their rate by no more than this when the line moves, so that they never go back (as RFC 5905 slews)."""


@dataclass(frozen=True)
class Exchange:
    """Device time (s) at sending, server time (s) at receipt; ``trip_s``: the round trip, None where it is unknown."""

    device_s: float
    server_s: float
    trip_s: float | None = None

    @property
    def offset_s(self) -> float:
        """Server minus device, as this exchange tells it."""
        return self.server_s - self.device_s - (self.trip_s or 0.0) / 2.0


@dataclass(frozen=True)
class ClockLine:
    """``server = device + offset_s + rate * (device - at_s)`` with the standard uncertainty of an instant; from
    ``at_s`` on it moves by ``left_s`` toward where it was found to lie, within ``SETTLES_S`` where ``SLEW`` allows."""

    at_s: float
    offset_s: float
    rate: float
    sd_s: float
    left_s: float = 0.0

    def server_s(self, device_s: Array | float) -> Array:
        """Device times on the server's clock, s."""
        since = device_s - self.at_s
        speed = min(abs(self.left_s) / SETTLES_S, SLEW)
        moved = np.sign(self.left_s) * np.clip(speed * since, 0.0, abs(self.left_s))
        return np.asarray(device_s + self.offset_s + self.rate * since + moved)


@dataclass
class ClockState:
    """Best exchanges of the last minutes, oldest first; ``line``: as it is used now; ``jumps``: how often it jumped;
    ``steps``: how often, by that or by a better exchange, times were set at once: what lies across is no one movement.
    """

    best: deque[Exchange] = field(default_factory=deque)
    line: ClockLine | None = None
    jumps: int = 0
    steps: int = 0


def take_in(state: ClockState, exchange: Exchange) -> bool:
    """Take in an exchange; whether the clock has jumped. The line that is used bends at ``exchange.device_s``. One that
    took longer than ``LONGEST_TRIP_S`` says nothing."""
    if exchange.trip_s is not None and exchange.trip_s > LONGEST_TRIP_S:
        return False
    jumped = _has_jumped(state, exchange)
    if jumped:
        state.best.clear()
        state.line = None
        state.jumps += 1
    _keep_best(state.best, exchange)
    fitted, used = _fitted(state.best), state.line
    state.line = fitted if used is None else _bent(used, fitted, exchange.device_s)
    state.steps += jumped or (used is not None and state.line is fitted)
    return jumped


def _has_jumped(state: ClockState, exchange: Exchange) -> bool:
    """A late message alone is no jump, nor is one that shows how late those were that the line rests on."""
    if state.line is None:
        return False
    off = exchange.server_s - float(state.line.server_s(exchange.device_s))
    late_s = exchange.trip_s if exchange.trip_s is not None else np.inf
    early_s = min(e.trip_s or 0.0 for e in state.best) / 2.0  # all of a round trip may have been on the way back
    return off < -JUMP_S - _doubt_s(state) or off - late_s > JUMP_S + early_s


def _doubt_s(state: ClockState) -> float:
    """How late the best message may have been that the line rests on, s."""
    unknown = UNKNOWN_S if len(state.best) < SEVERAL else 0.0
    return min(e.trip_s if e.trip_s is not None else unknown for e in state.best)


def _cost(exchange: Exchange) -> float:
    """The less, the better an exchange tells the offset; s."""
    return exchange.trip_s if exchange.trip_s is not None else exchange.server_s - exchange.device_s + 1e6


def _keep_best(best: deque[Exchange], exchange: Exchange) -> None:
    window = np.floor(exchange.device_s / WINDOW_S)
    if best and np.floor(best[-1].device_s / WINDOW_S) == window:
        if _cost(exchange) <= _cost(best[-1]):
            best[-1] = exchange
    else:
        best.append(exchange)
    while best[0].device_s < exchange.device_s - MEMORY_S:
        best.popleft()


def _sd_of(exchange: Exchange) -> float:
    """An offset lies anywhere within half the round trip: uniform, so that over the root of three."""
    return exchange.trip_s / 2.0 / np.sqrt(3.0) if exchange.trip_s is not None else ONE_WAY_SD_S


def _fitted(best: deque[Exchange]) -> ClockLine:
    at = np.array([e.device_s for e in best])
    offset = np.array([e.offset_s for e in best])
    sd = np.maximum(np.array([_sd_of(e) for e in best]), 20e-6)
    middle = float(at.mean())
    weight = 1.0 / sd**2
    if len(best) < 3 or at[-1] - at[0] < LEAST_SPAN_S:
        mean = float(np.average(offset, weights=weight))
        age = float(at[-1] - at[0])
        return ClockLine(middle, mean, 0.0, float(np.hypot(1.0 / np.sqrt(weight.sum()), RATE_SD * age / 2.0)))
    centre = float(np.average(at, weights=weight))
    level = float(np.average(offset, weights=weight))
    # weighted least squares, with what is known of any quartz as one observation more: few or late messages tell a
    # rate that no clock has, and a movement would be measured faster or slower than it was
    known = float(weight @ (at - centre) ** 2) + RATE_SD**-2
    rate = float(weight @ ((at - centre) * (offset - level))) / known
    variance = 1.0 / weight.sum() + (float(at[-1]) - centre) ** 2 / known
    return ClockLine(centre, level, rate, float(np.sqrt(variance)))


def _bent(used: ClockLine, fitted: ClockLine, device_s: float) -> ClockLine:
    """From where the used line stands at an instant on toward the fitted one."""
    here = float(used.server_s(device_s)) - device_s
    left = float(fitted.server_s(device_s)) - device_s - here
    if abs(left) > STEP_S:
        return fitted
    return ClockLine(device_s, here, fitted.rate, float(np.hypot(fitted.sd_s, left)), left)
