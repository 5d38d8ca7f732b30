"""What a putt's pictures are drawn from: courses at even steps from just before the takeaway to just after the ball."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from finearc.core.events.model import Checkpoint, Event
from finearc.core.putting.putter import Stroke
from finearc.core.putting.wrists import ANGLES, WristMotion
from finearc.core.typing import Array

DRAWN_HZ = 60.0
"""Angles lie below 12 Hz and points below 20 Hz: more would draw the same line."""
BEFORE_S, AFTER_S = 0.2, 0.3
AXES = ("along", "out", "up")
RATES = tuple(f"{name}_rate" for name in ANGLES)
POINTS = tuple(f"{whose}{point}_{axis}" for whose in ("", "free_") for point in ("head", "grip") for axis in AXES)


def drawn_times(events: Mapping[Checkpoint, Event]) -> Array | None:
    """Instants (n,), s, at which courses are drawn; None where no putt was found."""
    start, ball = events.get(Checkpoint.TAKEAWAY), events.get(Checkpoint.IMPACT)
    if start is None or ball is None or ball.time_s <= start.time_s:
        return None
    first, last = start.time_s - BEFORE_S, ball.time_s + AFTER_S
    return first + np.arange(1 + int((last - first) * DRAWN_HZ)) / DRAWN_HZ


def wrist_courses(motion: WristMotion, time_s: Array) -> dict[str, Array]:
    """Extension, deviation and roll (n,), rad, against address, and their rates, rad/s, at ``time_s`` (n,); not a
    number beyond what was recorded."""
    low = motion.smoothed()
    out = {name: _at(motion.time_s, values, time_s) for name, values in low.items()}
    for name, values in low.items():
        out[f"{name}_rate"] = _at(motion.time_s, np.gradient(values, motion.time_s), time_s)
    return out


def putter_courses(stroke: Stroke, time_s: Array) -> dict[str, Array]:
    """Sweet spot and grip end, as they were and (``free_``) as the free pendulum has them, (n,), m, at ``time_s``:
    along the target line, out and up from where the sweet spot stood at address."""
    track = stroke.track
    home = np.nanmedian(track.head_m[track.address], axis=0)
    out: dict[str, Array] = {}
    for point, seen in (("head", track.head_m), ("grip", track.grip_m)):
        out |= _axes(point, np.column_stack([_at(track.time_s, c, time_s) for c in seen.T]) - home)
        if stroke.pendulum is not None:
            stood = np.nanmedian(seen[track.address], axis=0)
            out |= _axes(f"free_{point}", stroke.pendulum.place(stood, time_s) - home)
    return out


def _axes(name: str, points_m: Array) -> dict[str, Array]:
    along_out_up = points_m[:, [1, 0, 2]]
    return {f"{name}_{axis}": along_out_up[:, k] for k, axis in enumerate(AXES)}


def _at(time_s: Array, values: Array, at_s: Array) -> Array:
    return np.interp(at_s, time_s, values, left=np.nan, right=np.nan)
