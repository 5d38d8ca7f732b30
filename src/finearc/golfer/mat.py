"""A pressure mat under the model player: frames of cells as a mat would send them, with noise and dead cells."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.typing import Array
from finearc.golfer.ground import Ground, Sole

NEWTON_PER_KPA_M2 = 1000.0
QUANTUM_KPA = 0.1
"""The mat's smallest step."""
STEPS_ON_S = (0.25, 0.45)
"""When the player steps onto the mat, which lies empty before (house value)."""
SPREAD = 0.15, 0.42
CORNERS = ((0.10, -0.72), (0.10, 0.72), (0.84, -0.72), (0.84, 0.72))
"""A sole's pressure is a mixture of four patches: spread along (share of its length) and across (of half its width),
and where they lie: along, outward (house values)."""


@dataclass(frozen=True)
class MatQuirks:
    """What the mat is and what goes wrong: ``noise_kpa`` a cell and frame, ``dead_share`` of the cells,
    ``offset_kpa`` an unloaded cell, ``limit_kpa`` at which cells saturate, ``clock_s`` by which its clock is late,
    ``origin_m`` of the first cell, ``shoe`` how wide the soles are, ``jump_s``: when its clock jumps by half a
    second, ``tap_s``: when the lead heel taps, ``one_foot``: the trail foot stands beside the mat, ``empty``: nobody
    on it."""

    rate_hz: float = 100.0
    rows: int = 32
    columns: int = 56
    cell_m: float = 0.0125
    origin_m: tuple[float, float] = (-0.150, -0.350)
    noise_kpa: float = 0.15
    dead_share: float = 0.02
    offset_kpa: float = 0.6
    limit_kpa: float = 400.0
    clock_s: float = 0.0
    shoe: float = 1.0
    jump_s: float | None = None
    tap_s: float | None = None
    one_foot: bool = False
    empty: bool = False


@dataclass(frozen=True)
class MatLog:
    """Frames ``pressure_kpa`` (n, rows, columns); rows grow toward the ball, columns toward the target of a
    right-handed player. ``dead``: indices of the cells that never answer."""

    time_s: Array
    pressure_kpa: np.ndarray[tuple[int, int, int], np.dtype[np.float32]]
    quirks: MatQuirks
    dead: np.ndarray[tuple[int], np.dtype[np.int64]]

    def axes(self, hand: Hand) -> tuple[str, str]:
        """Which way rows and columns truly grow."""
        return ("+x", "+y" if hand is Hand.RIGHT else "-y")


def _cells(quirks: MatQuirks) -> tuple[Array, Array]:
    x = quirks.origin_m[0] + quirks.cell_m * np.arange(quirks.rows)
    y = quirks.origin_m[1] + quirks.cell_m * np.arange(quirks.columns)
    return np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)


def _patches(sole: Sole, quirks: MatQuirks) -> tuple[Array, Array]:
    """Four patches (4, cells) of one newton each as kPa, and their centres (4, 2), m, on the mat's cells."""
    x, y = _cells(quirks)
    fine = (np.arange(5) - 2.0) / 5.0 * quirks.cell_m
    px = (x[:, None] + fine).ravel()
    py = (y[:, None] + fine).ravel()
    gx, gy = np.meshgrid(px, py, indexing="ij")
    off = np.stack([gx - sole.heel_m[0], gy - sole.heel_m[1]], axis=-1)
    u = off @ sole.ahead / sole.length_m
    v = off @ sole.outward / (0.5 * sole.width_m * quirks.shoe)
    half = 0.80 + 0.20 * np.sin(np.pi * np.clip(u, 0.0, 1.0) * 1.5 - 1.2)  # narrow at the heel, wide at the ball
    inside = _edge(u * sole.length_m) * _edge((1 - u) * sole.length_m)
    inside = inside * _edge((half - np.abs(v)) * 0.5 * sole.width_m)
    out, centres = [], []
    for along, across in CORNERS:
        p = inside * np.exp(-0.5 * ((u - along) / SPREAD[0]) ** 2 - 0.5 * ((v - across) / SPREAD[1]) ** 2)
        p = p.reshape(quirks.rows, 5, quirks.columns, 5).mean(axis=(1, 3))
        p /= p.sum()
        centres.append((p.sum(axis=1) @ x, p.sum(axis=0) @ y))
        out.append(p.ravel() / (quirks.cell_m**2 * NEWTON_PER_KPA_M2))
    return np.array(out), np.array(centres)


def _edge(inside_m: Array) -> Array:
    """A shoe's edge: nothing outside, all from 8 mm inside."""
    return np.clip(inside_m / 0.008, 0.0, 1.0)


def _mixture(centres: Array, wanted: Array) -> Array:
    """Weights (n, 4) of the patches whose common centre is ``wanted`` (n, 2); bilinear, by Newton's method."""
    a = np.full((len(wanted), 2), 0.5)
    for _ in range(12):
        heel, fore, inner, outer = 1 - a[:, 0], a[:, 0], 1 - a[:, 1], a[:, 1]
        w = np.stack([heel * inner, heel * outer, fore * inner, fore * outer], axis=1)
        off = wanted - w @ centres
        da = np.stack([-inner, -outer, inner, outer], axis=1) @ centres
        db = np.stack([-heel, heel, -fore, fore], axis=1) @ centres
        det = da[:, 0] * db[:, 1] - da[:, 1] * db[:, 0]
        step = np.stack([off[:, 0] * db[:, 1] - off[:, 1] * db[:, 0], da[:, 0] * off[:, 1] - da[:, 1] * off[:, 0]], 1)
        a = np.clip(a + step / det[:, None], 0.0, 1.0)
    heel, fore, inner, outer = 1 - a[:, 0], a[:, 0], 1 - a[:, 1], a[:, 1]
    return np.stack([heel * inner, heel * outer, fore * inner, fore * outer], axis=1)


def _tap_n(since_s: Array) -> Array:
    """Force of a heel tap, N: half a sine of 30 ms."""
    inside = (since_s >= 0.0) & (since_s < 0.030)
    return np.asarray(np.where(inside, 900.0 * np.sin(np.pi * since_s / 0.030), 0.0))


def mat_log(ground: Ground, step_s: float, quirks: MatQuirks, rng: np.random.Generator) -> MatLog:
    """Frames of the whole session. The frames' centre of pressure is the truth's but for noise and dead cells."""
    every = round(1.0 / quirks.rate_hz / step_s)
    rows = np.arange(0, len(ground.force_n), every)
    time_s = np.asarray(rows * step_s, dtype=np.float64)
    on = np.clip((time_s - STEPS_ON_S[0]) / (STEPS_ON_S[1] - STEPS_ON_S[0]), 0.0, 1.0)
    cells = quirks.rows * quirks.columns
    frames = np.zeros((len(rows), cells), dtype=np.float32)
    for foot, sole in enumerate(ground.soles):
        if quirks.empty or (quirks.one_foot and foot == 1):
            continue
        patches, centres = _patches(sole, quirks)
        weights = _mixture(centres, ground.feet_m[rows, foot]) * (ground.force_n[rows, foot] * on)[:, None]
        if foot == 0 and quirks.tap_s is not None:
            weights[:, :2] += 0.5 * _tap_n(time_s - quirks.tap_s)[:, None]
        frames += (weights @ patches).astype(np.float32)
    offset = np.maximum(rng.normal(quirks.offset_kpa, 0.25 * quirks.offset_kpa, cells), 0.0).astype(np.float32)
    frames += offset + rng.standard_normal(frames.shape, dtype=np.float32) * np.float32(quirks.noise_kpa)
    np.clip(frames, 0.0, quirks.limit_kpa, out=frames)
    frames = np.rint(frames / np.float32(QUANTUM_KPA)) * np.float32(QUANTUM_KPA)
    dead = np.flatnonzero(rng.random(cells) < quirks.dead_share)
    frames[:, dead] = 0.0
    stamps = time_s - quirks.clock_s
    if quirks.jump_s is not None:
        stamps = stamps + 0.5 * (time_s > quirks.jump_s)
    return MatLog(stamps, frames.reshape(-1, quirks.rows, quirks.columns), quirks, dead)
