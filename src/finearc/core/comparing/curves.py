"""Where along the swing do two groups differ: one-dimensional statistical parametric mapping (Friston 1994, Human Brain
Mapping 2:189; for courses of movement Pataky 2012, Comput Methods Biomech Biomed Engin 15:295), by its author's
library."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.comparing.traces import SwingTrace, stretched
from finearc.core.events.model import Checkpoint
from finearc.core.typing import Array

LEVEL = 0.05
LEAST = 3
"""Groups of fewer courses are not compared (as for values)."""
LEAST_NODES = 10
"""A shorter stretch of nodes has no smoothness to speak of (house value)."""
SAME = 1e-9
"""Where courses of a group agree to so much (SI) by definition, as a roll at the address it is counted from, nothing is
tested."""


@dataclass(frozen=True)
class Stretch:
    """Nodes of stretched time, from and to, over which two groups differ; ``p``: how rarely a stretch as long comes by
    chance; ``more``: whether the first group is above the second."""

    first: float
    last: float
    p: float
    more: bool


@dataclass(frozen=True)
class CurveTest:
    """``t`` (nodes,): the statistic at each node that was tested (``node``); ``threshold``: what chance alone passes in
    one of twenty comparisons."""

    node: Array
    t: Array
    threshold: float
    stretches: tuple[Stretch, ...]


def compare_curves(first: Sequence[SwingTrace], second: Sequence[SwingTrace], top: int) -> CurveTest | None:
    """Two-sample, two-tailed, 5 %, on stretched time. None where a group has fewer than three whole courses."""
    a, b = ([c for t in side if (c := stretched(t, top)) is not None] for side in (first, second))
    return compare_stretched(np.array(a), np.array(b)) if min(len(a), len(b)) >= LEAST else None


def compare_stretched(first: Array, second: Array) -> CurveTest | None:
    """Courses (swings, nodes), SI. Tested where all of them were seen, over the longest such stretch."""
    seen = np.isfinite(first).all(axis=0) & np.isfinite(second).all(axis=0)
    seen &= np.hypot(np.std(first, axis=0), np.std(second, axis=0)) > SAME
    a, b = _longest(seen)
    if b - a < LEAST_NODES:
        return None
    import spm1d  # here, as it draws as well and takes a second to come

    found = spm1d.stats.ttest2(first[:, a:b], second[:, a:b])
    inferred = found.inference(LEVEL, two_tailed=True, interp=True)
    stretches = tuple(_stretch(c, a) for c in inferred.clusters)
    return CurveTest(np.arange(a, b, dtype=float), np.asarray(found.z), float(inferred.zstar), stretches)


def _stretch(cluster: object, offset: int) -> Stretch:
    first, last = (float(e) + offset for e in cluster.endpoints)  # type: ignore[attr-defined]
    return Stretch(first, last, float(cluster.P), bool(cluster.csign > 0))  # type: ignore[attr-defined]


def _longest(mask: Array) -> tuple[int, int]:
    """First and after of the longest run of true."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8))).reshape(-1, 2)
    if not len(edges):
        return 0, 0
    a, b = max(edges, key=lambda e: e[1] - e[0])
    return int(a), int(b)


def where(stretch: Stretch, nodes: Mapping[Checkpoint, float]) -> tuple[Checkpoint, Checkpoint]:
    """The checkpoints nearest to its ends; ``nodes``: where they lie."""
    inside = {k: v for k, v in nodes.items() if k not in (Checkpoint.ADDRESS, Checkpoint.FINISH)}

    def nearest(node: float) -> Checkpoint:
        return min(inside, key=lambda k: abs(inside[k] - node))

    return nearest(stretch.first), nearest(stretch.last)
