"""Groups whose values depend on something else besides: putts of several distances, before and after.

A stroke grows with the distance: groups that were putted from other distances differ although nothing changed. What the
distance does is taken off by least squares with distance and group as factors (a block design; Fisher, The Design of
Experiments, 1935): the difference left is the mean of the differences at each distance, weighted by how much each can
tell. What lies at a distance that only one group has tells nothing and is left out."""

from __future__ import annotations

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Levelled:
    """Values of both groups as if all were of the middle of the ``shared`` levels; ``first`` and ``second``: which of
    each group are among them."""

    before: list[float]
    after: list[float]
    shared: tuple[Hashable, ...]
    first: list[int]
    second: list[int]


def levelled(
    before: Sequence[float], after: Sequence[float], level_before: Sequence[Hashable], level_after: Sequence[Hashable]
) -> Levelled:
    """Take off what the levels do. With one level only, values stay as they are. ``shared`` is empty where the groups
    have no level in common."""
    shared = tuple(dict.fromkeys(k for k in level_before if k in set(level_after)))
    rows = [[k for k, level in enumerate(levels) if level in shared] for levels in (level_before, level_after)]
    values = [[group[k] for k in row] for group, row in zip((before, after), rows, strict=True)]
    if len(shared) > 1:
        of = [
            shared.index(levels[k]) for levels, row in zip((level_before, level_after), rows, strict=True) for k in row
        ]
        y = np.concatenate(values)
        design = np.zeros((len(y), len(shared) + 1))
        design[np.arange(len(y)), of] = 1.0
        design[len(values[0]) :, -1] = 1.0
        effects = np.linalg.lstsq(design, y, rcond=None)[0][:-1]
        flat = (y - effects[of] + np.mean(effects)).tolist()
        values = [flat[: len(values[0])], flat[len(values[0]) :]]
    return Levelled(values[0], values[1], shared, rows[0], rows[1])
