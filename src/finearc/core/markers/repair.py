"""Mending what the cameras lost: exchanged and jumping markers, hidden ones.

A hidden marker is given back by its rigid segment where three others of it are seen, else by a cubic through its
neighbours for gaps up to 100 ms; everything given back is flagged. Longer gaps stay open.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.interpolate import CubicSpline

from finearc.core.markers.labels import RIGID, Marker
from finearc.core.typing import Array, Mask
from finearc.wording import tr

SPLINE_GAP_S = 0.100
JUMP_M = 0.040
HIGHEST_M_S2 = 2500.0
"""No point of a player or club is accelerated more than this; a strike slows the head by about 1500 m/s²."""
NEIGHBOURS = 12


@dataclass(frozen=True)
class MarkerFlags:
    """What was found and mended. ``rigid`` and ``spline``: seconds given back by marker; ``open_gaps``: gaps (start,
    end, s) left open; ``swapped``: pairs that had been exchanged; ``jumps``: single frames thrown away."""

    rigid: tuple[tuple[Marker, float], ...] = ()
    spline: tuple[tuple[Marker, float], ...] = ()
    open_gaps: tuple[tuple[Marker, float, float], ...] = ()
    swapped: tuple[tuple[Marker, Marker], ...] = ()
    jumps: tuple[tuple[Marker, int], ...] = ()

    def sentences(self) -> list[str]:
        """What a person should know."""
        out = []
        if self.swapped:
            pairs = ", ".join(
                tr("{value} and {value2}", value=a.value, value2=b.value) for a, b in dict.fromkeys(self.swapped)
            )
            out.append(tr("Markers were exchanged for a while and put back: {pairs}.", pairs=pairs))
        if self.jumps:
            out.append(
                tr(
                    "Markers jumped and were left out there: {value}.",
                    value=", ".join((m.value for m, _ in self.jumps)),
                )
            )
        filled = dict.fromkeys(m.value for m, _ in (*self.rigid, *self.spline))
        if filled:
            longest = max(s for _, s in (*self.rigid, *self.spline))
            out.append(
                tr(
                    "Gaps of {filled} markers were filled, {longest:.2f} s at most in all of one marker.",
                    filled=len(filled),
                    longest=longest,
                )
            )
        if self.open_gaps:
            names = ", ".join(dict.fromkeys(m.value for m, _, _ in self.open_gaps))
            out.append(tr("Gaps left open, nothing is measured there: {names}.", names=names))
        return out


def spans_of(mask: Mask) -> list[tuple[int, int]]:
    """Runs of true values as (start, stop)."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8)))
    return [(int(a), int(b)) for a, b in edges.reshape(-1, 2)]


def _limit_m(step_s: float) -> float:
    """How far a point may lie from the middle of its neighbours."""
    return max(JUMP_M, 0.5 * HIGHEST_M_S2 * step_s**2)


def _last_seen(points: Array) -> Array:
    """Each point's latest place at or before every frame (n, k, 3)."""
    seen = np.isfinite(points[:, :, 0])
    rows = np.where(seen, np.arange(len(points))[:, None], 0)
    np.maximum.accumulate(rows, axis=0, out=rows)
    return np.asarray(points[rows, np.arange(points.shape[1])])


def put_back(markers: list[Marker], points: Array, step_s: float) -> list[tuple[Marker, Marker]]:
    """Undo exchanges: where a marker goes on where another was, and that one where it was or is hidden. A marker that
    only comes back from hiding is no sign of one: meanwhile it moved on, perhaps to where a neighbour was last seen.
    Changes ``points`` (n, k, 3); returns the pairs."""
    limit = max(JUMP_M, 60.0 * step_s / 2)
    held = _last_seen(points)
    with np.errstate(invalid="ignore"):
        step = points[1:] - held[:-1]
        frames = np.flatnonzero((np.einsum("nkj,nkj->nk", step, step) > limit**2).any(axis=1))
    pairs = []
    for f in frames:
        before, after = _last_seen(points[max(0, f - 60) : f + 1])[-1], points[f + 1]
        away = np.linalg.norm(after[:, None] - before[None], axis=2)  # from each old place to each new one
        own = np.diag(away)
        for i in np.flatnonzero(own > limit):
            for j in np.flatnonzero(away[i] < 0.35 * own[i]):
                gone = not np.isfinite(after[j, 0]) and bool(np.isfinite(points[f, i, 0]))
                if i != j and (gone or (own[j] > limit and away[j, i] < 0.35 * own[j])):
                    points[f + 1 :, [i, j]] = points[f + 1 :, [j, i]]
                    pairs.append((markers[min(i, j)], markers[max(i, j)]))
                    break
            else:
                continue
            break
    return pairs


def drop_jumps(markers: list[Marker], points: Array, step_s: float) -> list[tuple[Marker, int]]:
    """Frames at which a marker leaves its course and comes back are hidden. Changes ``points`` (n, k, 3), m, NaN where
    hidden, every ``step_s``, s; returns how many frames of which marker."""
    bend = points[1:-1] - 0.5 * (points[:-2] + points[2:])
    off = np.sqrt(np.einsum("nkj,nkj->nk", bend, bend))
    with np.errstate(invalid="ignore"):
        bad = off > _limit_m(step_s)
    bad[1:-1] &= (off[1:-1] >= off[:-2]) & (off[1:-1] >= off[2:])  # its neighbours only bend because of it
    out = []
    for k in np.flatnonzero(bad.any(axis=0)):
        points[1:-1][bad[:, k], k] = np.nan
        out.append((markers[k], int(bad[:, k].sum())))
    return out


def _triad(a: Array, b: Array, c: Array) -> tuple[Array, Array]:
    """Axes (n, 3, 3) and origin (n, 3) of three points."""
    x = b - a
    x = x / np.linalg.norm(x, axis=-1, keepdims=True)
    y = c - a
    z = np.cross(x, y)
    z = z / np.linalg.norm(z, axis=-1, keepdims=True)
    return np.stack([x, np.cross(z, x), z], axis=-1), (a + b + c) / 3.0


def _best_three(points: Array, hidden: int, others: list[int], span: tuple[int, int]) -> list[int] | None:
    """Three other markers seen throughout the gap, the widest triangle of them."""
    a, b = span
    seen = [k for k in others if k != hidden and np.isfinite(points[a:b, k, 0]).all()]
    if len(seen) < 3:
        return None
    at = points[a]
    best, area = None, 1e-5
    for i in range(len(seen) - 2):
        for j in range(i + 1, len(seen) - 1):
            for k in range(j + 1, len(seen)):
                p, q, r = (at[seen[x]] for x in (i, j, k))
                size = float(np.linalg.norm(np.cross(q - p, r - p)))
                if size > area:
                    best, area = [seen[i], seen[j], seen[k]], size
    return best


def _rigid_fill(points: Array, hidden: int, three: list[int], span: tuple[int, int]) -> bool:
    """Give a gap back from its segment, joined to what is seen on both sides."""
    a, b = span
    n = len(points)
    near = np.concatenate([np.arange(max(0, a - 60), a), np.arange(b, min(n, b + 60))])
    whole = near[np.isfinite(points[near][:, [*three, hidden], 0]).all(axis=1)] if len(near) else near
    if len(whole) < 3:
        rows = np.flatnonzero(np.isfinite(points[:, [*three, hidden], 0]).all(axis=1))
        whole = rows[:: max(1, len(rows) // 200)]
    if not len(whole):
        return False
    r, o = _triad(*(points[whole, k] for k in three))
    local = np.einsum("nji,nj->ni", r, points[whole, hidden] - o).mean(axis=0)
    span_r, span_o = _triad(*(points[a:b, k] for k in three))
    given = span_o + span_r @ local
    given += _join(points, hidden, three, local, span)
    points[a:b, hidden] = given
    return True


def _join(points: Array, hidden: int, three: list[int], local: Array, span: tuple[int, int]) -> Array:
    """What the seen marker differs from the rigid one at the two edges, spread linearly over the gap."""
    a, b = span
    offs = []
    for rows in (np.arange(max(0, a - 4), a), np.arange(b, min(len(points), b + 4))):
        good = rows[np.isfinite(points[rows][:, [*three, hidden], 0]).all(axis=1)] if len(rows) else rows
        if len(good):
            r, o = _triad(*(points[good, k] for k in three))
            offs.append((points[good, hidden] - o - r @ local).mean(axis=0))
        else:
            offs.append(None)
    first = offs[0] if offs[0] is not None else offs[1]
    last = offs[1] if offs[1] is not None else offs[0]
    if first is None or last is None:
        return np.zeros((b - a, 3))
    share = ((np.arange(a, b) - a + 1) / (b - a + 1))[:, None]
    return np.asarray((1 - share) * first + share * last)


def _spline_fill(points: Array, hidden: int, span: tuple[int, int], time_s: Array) -> bool:
    a, b = span
    left = np.arange(max(0, a - NEIGHBOURS), a)
    right = np.arange(b, min(len(points), b + NEIGHBOURS))
    left, right = (rows[np.isfinite(points[rows, hidden, 0])] for rows in (left, right))
    if len(left) < 3 or len(right) < 3:
        return False
    rows = np.concatenate([left, right])
    points[a:b, hidden] = CubicSpline(time_s[rows], points[rows, hidden])(time_s[a:b])
    return True


def mend(markers: list[Marker], points: Array, time_s: Array) -> MarkerFlags:
    """Mend ``points`` (n, k, 3) in place."""
    step = float(time_s[1] - time_s[0])
    swapped = put_back(markers, points, step)
    jumps = drop_jumps(markers, points, step)
    column = {m: k for k, m in enumerate(markers)}
    groups = {m: [column[o] for o in group if o in column] for group in RIGID.values() for m in group if m in column}
    rigid: dict[Marker, float] = {}
    spline: dict[Marker, float] = {}
    left: list[tuple[Marker, float, float]] = []
    hidden = np.isnan(points[:, :, 0])
    for k in np.flatnonzero(hidden.any(axis=0)):
        marker = markers[k]
        for span in spans_of(hidden[:, k]):
            length = (span[1] - span[0]) * step
            three = _best_three(points, int(k), groups.get(marker, []), span)
            if three is not None and _rigid_fill(points, int(k), three, span):
                rigid[marker] = rigid.get(marker, 0.0) + length
            elif length <= SPLINE_GAP_S + 1e-9 and _spline_fill(points, int(k), span, time_s):
                spline[marker] = spline.get(marker, 0.0) + length
            else:
                left.append((marker, float(time_s[span[0]]), float(time_s[span[1] - 1])))
    return MarkerFlags(tuple(rigid.items()), tuple(spline.items()), tuple(left), tuple(swapped), tuple(jumps))
