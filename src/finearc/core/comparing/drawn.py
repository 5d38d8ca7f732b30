"""Two sides laid over each other as they are drawn: stretched time from takeaway to impact, a per cent a node; before
and after, time as it is."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.comparing.traces import NODES, SwingTrace
from finearc.core.events.model import Checkpoint
from finearc.core.typing import Array

BEFORE, AFTER = 20, 35
"""So many nodes are drawn before the takeaway and after impact (house values)."""
SPREAD_FROM = 3
"""Fewer courses have no spread (house value)."""


@dataclass(frozen=True)
class MeanCourse:
    """``mean`` (n,), SI, of ``courses`` swings, NaN where none was seen; ``sd`` (n,) of them, None of fewer than
    three; ``nodes``: where its checkpoints lie on average."""

    courses: int
    mean: Array
    sd: Array | None
    nodes: Mapping[Checkpoint, float]


@dataclass(frozen=True)
class Laid:
    """``node`` (n,): 0 at the takeaway, ``top`` at the top, 100 at impact. ``difference`` (n,), SI: first less second;
    ``uncertainty`` (n,): its standard uncertainty."""

    node: Array
    top: int
    first: MeanCourse
    second: MeanCourse
    difference: Array
    uncertainty: Array


def laid(first: Sequence[SwingTrace], second: Sequence[SwingTrace], top: int, known: float) -> Laid | None:
    """``known``: standard uncertainty of a difference of the two sides' values, SI, which the difference anywhere has
    at least. None where a side has no course with all of takeaway, top and impact."""
    sides = [[t for t in side if t.knots is not None] for side in (first, second)]
    if not all(sides):
        return None
    node = np.arange(-BEFORE, NODES + AFTER, dtype=float)
    per_node_s = float(np.mean([_duration_s(t) for side in sides for t in side])) / (NODES - 1)
    a, b = (_mean(side, node, top, per_node_s) for side in sides)
    scatter = np.hypot(_error(a), _error(b))
    return Laid(node, top, a, b, a.mean - b.mean, np.maximum(scatter, known))


def _duration_s(trace: SwingTrace) -> float:
    return trace.impact_s - trace.events[Checkpoint.TAKEAWAY].time_s


def _knots(trace: SwingTrace, top: int, per_node_s: float) -> tuple[Array, Array]:
    """Nodes and times, s, that belong together: the swing's own between its checkpoints, the same for all outside."""
    at = trace.knots
    assert at is not None
    nodes = np.array([-BEFORE, 0, top, NODES - 1, NODES + AFTER], dtype=float)
    times = [at[0] - BEFORE * per_node_s, *at, at[2] + (AFTER + 1) * per_node_s]
    return nodes, np.array(times)


def _mean(side: Sequence[SwingTrace], node: Array, top: int, per_node_s: float) -> MeanCourse:
    knots = [_knots(t, top, per_node_s) for t in side]
    stack = np.stack([t.at(np.interp(node, *k)) for t, k in zip(side, knots, strict=True)])
    seen = np.isfinite(stack)
    enough = 2 * seen.sum(axis=0) > len(side)
    mean = np.full(len(node), np.nan)
    mean[enough] = np.nanmean(stack[:, enough], axis=0)
    sd = None
    if len(side) >= SPREAD_FROM:
        several = enough & (seen.sum(axis=0) > 1)
        sd = np.full(len(node), np.nan)
        sd[several] = np.nanstd(stack[:, several], axis=0, ddof=1)
    places: dict[Checkpoint, list[float]] = {}
    for trace, (nodes, times) in zip(side, knots, strict=True):
        for name, event in trace.events.items():
            places.setdefault(name, []).append(float(np.interp(event.time_s, times, nodes)))
    return MeanCourse(len(side), mean, sd, {k: float(np.mean(v)) for k, v in places.items()})


def _error(course: MeanCourse) -> Array:
    """Standard error of a mean course, by its scatter; 0 where that is not known."""
    return np.zeros(len(course.mean)) if course.sd is None else np.nan_to_num(course.sd) / math.sqrt(course.courses)
