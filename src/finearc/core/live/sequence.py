"""Samples put in their order. Frames come late, twice, out of order or not at all; what leaves here is contiguous
stretches in order, and the gaps between them that are waited for no longer."""

from __future__ import annotations

from bisect import bisect_right, insort
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np

Values = np.ndarray[Any, np.dtype[Any]]


@dataclass(frozen=True)
class Samples:
    """``count`` samples from ``first`` on, with their times (n,), s, and values (n, …)."""

    first: int
    time_s: Values
    values: Values

    @property
    def count(self) -> int:
        return len(self.time_s)

    @property
    def after(self) -> int:
        """The sequence that would follow."""
        return self.first + self.count

    def between(self, first: int, after: int) -> Samples:
        """The samples from ``first`` on and before ``after``."""
        a, b = max(0, first - self.first), max(0, after - self.first)
        return Samples(self.first + a, self.time_s[a:b], self.values[a:b])


@dataclass(frozen=True)
class Gap:
    """Samples ``first`` to ``last``, both missing, that are waited for no longer."""

    first: int
    last: int


@dataclass(frozen=True)
class SequenceParams:
    """``patience``: for so many newer samples a gap is waited for; ``window``: a frame may lie so many samples behind
    the newest. Both house values: 0.1 s and 30 s at the stream's rate."""

    patience: int
    window: int

    @classmethod
    def at(cls, rate_hz: float) -> SequenceParams:
        return cls(max(2, round(0.1 * rate_hz)), max(64, round(30.0 * rate_hz)))


@dataclass
class SequenceState:
    """``next``: the sequence that is delivered next, None before the first sample; ``waiting``: later samples, by
    sequence; ``given_up``: gaps that are waited for no longer, as (first, after)."""

    next: int | None = None
    newest: int = -1
    waiting: list[tuple[int, Samples]] = field(default_factory=list)
    given_up: list[tuple[int, int]] = field(default_factory=list)


@dataclass(frozen=True)
class Ordered:
    """What a frame brought about: samples ready in order and gaps among them; ``late``: samples of a gap that was
    given up already; ``repeated``: how many samples were known; ``behind``: it lies further back than the window."""

    ready: Sequence[Samples | Gap] = ()
    late: Sequence[Samples] = ()
    repeated: int = 0
    behind: bool = False


def put_in_order(params: SequenceParams, state: SequenceState, frame: Samples) -> Ordered:
    """Take in a frame."""
    if state.newest >= 0 and frame.after - 1 < state.newest - params.window:
        return Ordered(behind=True)
    if state.next is None:
        state.next = frame.first
    late, rest, repeated = _behind(state, frame)
    for part in rest:
        repeated += part.count - sum(p.count for p in _not_waiting(state, part))
        for new in _not_waiting(state, part):
            insort(state.waiting, (new.first, new), key=lambda w: w[0])
    state.newest = max(state.newest, frame.after - 1)
    return Ordered(_ready(params, state), late, repeated)


def give_up_waiting(state: SequenceState) -> list[Samples | Gap]:
    """All that still waits, with the gaps before it: nothing more comes for now."""
    return _deliver(state, patience=0)


def _behind(state: SequenceState, frame: Samples) -> tuple[list[Samples], list[Samples], int]:
    """The part of a frame that fills gaps given up, the part still to come, and how many samples are repeated."""
    assert state.next is not None
    if frame.first >= state.next:
        return [], [frame], 0
    late: list[Samples] = []
    left: list[tuple[int, int]] = []
    for first, after in state.given_up:
        a, b = max(first, frame.first), min(after, frame.after)
        if a >= b:
            left.append((first, after))
            continue
        late.append(frame.between(a, b))
        left += [(x, y) for x, y in ((first, a), (b, after)) if x < y]
    state.given_up = left
    old = min(frame.after, state.next) - frame.first
    rest = [frame.between(state.next, frame.after)] if frame.after > state.next else []
    return late, rest, old - sum(p.count for p in late)


def _not_waiting(state: SequenceState, part: Samples) -> list[Samples]:
    """The samples of a part that do not wait already."""
    new, at = [], part.first
    start = max(0, bisect_right(state.waiting, part.first, key=lambda w: w[0]) - 1)
    for first, known in state.waiting[start:]:
        if first >= part.after:
            break
        if known.after <= at:
            continue
        if first > at:
            new.append(part.between(at, first))
        at = max(at, known.after)
    if at < part.after:
        new.append(part.between(at, part.after))
    return new


def _ready(params: SequenceParams, state: SequenceState) -> list[Samples | Gap]:
    return _deliver(state, params.patience)


def _deliver(state: SequenceState, patience: int) -> list[Samples | Gap]:
    assert state.next is not None or not state.waiting
    out: list[Samples | Gap] = []
    while state.waiting and state.next is not None:
        first, part = state.waiting[0]
        if first > state.next:
            if state.newest - state.next < patience and patience:
                break
            out.append(Gap(state.next, first - 1))
            state.given_up.append((state.next, first))
        state.waiting.pop(0)
        out.append(part)
        state.next = part.after
    oldest = state.newest - 100_000
    state.given_up = [g for g in state.given_up if g[1] > oldest]
    return out
