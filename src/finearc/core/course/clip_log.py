"""The log of one club's clip: a clip sleeps and wakes on motion, so it is a list of short recordings."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from finearc.core.signals.streams import GRAVITY_M_S2, ImuStream, check_stream, check_units
from finearc.core.typing import Array

ASLEEP_S = 0.5
"""A longer pause in the time stamps parts two recordings (the format's rule)."""
LEAST_SAMPLES = 40
"""Fewer samples are no recording that anything can be read from (house value)."""
REST_S = 0.25
"""So long a clip lies still for its gyroscope's offset to be read (house value)."""
REST_SCATTER_RAD_S, REST_SCATTER_M_S2 = np.deg2rad(0.5), 0.25
"""At rest no axis scatters more (house values: about five times the noise of a consumer sensor)."""
NEAREST_RESTS = 9
"""The offset at an instant is the median of so many rests, the nearest in time: it drifts with the temperature."""
UNKNOWN_OFFSET_RAD_S = np.deg2rad(0.6)
"""How far off a gyroscope is that never lay still (house value)."""
TURNS_RAD_S = np.deg2rad(3.0)
"""A club in still hands turns less; a gyroscope's offset is less than that as well (house value)."""


@dataclass(frozen=True)
class Recording:
    """What a clip logged from one waking to the next sleep: ``time_s`` (n,), ``acc_m_s2`` (n, 3) and ``gyr_rad_s``
    (n, 3), sensor axes, +x along the shaft toward the head, the gyroscope's offset taken off, known to ``offset_sd``,
    rad/s."""

    club: str
    time_s: Array
    acc_m_s2: Array
    gyr_rad_s: Array
    offset_sd: float
    step_s: float


def recordings_of(club: str, stream: ImuStream) -> list[Recording]:
    """A clip's log in its recordings, those too short to read left out. Raises ``StreamError`` for what cannot be
    used."""
    checked, _ = check_stream(stream)
    check_units(checked)
    begins = np.flatnonzero(np.diff(checked.time_s) > ASLEEP_S) + 1
    edges = [0, *begins.tolist(), len(checked.time_s)]
    spans = [(a, b) for a, b in pairwise(edges) if b - a >= LEAST_SAMPLES]
    if not spans:
        return []
    step_s = float(np.median(np.diff(checked.time_s)))
    rests_s, offsets = _rests(checked, spans, step_s)
    out = []
    for a, b in spans:
        time_s = checked.time_s[a:b]
        offset, sd = _offset(rests_s, offsets, float(time_s[0] + time_s[-1]) / 2.0)
        out.append(Recording(club, time_s, checked.acc_m_s2[a:b], checked.gyr_rad_s[a:b] - offset, sd, step_s))
    return out


def _rests(stream: ImuStream, spans: Sequence[tuple[int, int]], step_s: float) -> tuple[Array, Array]:
    """When the clip lay still (k,), s, and what its gyroscope read then (k, 3), rad/s."""
    width = max(8, round(REST_S / step_s))
    when, what = [], []
    for a, b in spans:
        count = (b - a) // width
        if count == 0:
            continue
        shape = (count, width, 3)
        gyr = stream.gyr_rad_s[a : a + count * width].reshape(shape)
        acc = stream.acc_m_s2[a : a + count * width].reshape(shape)
        mean = gyr.mean(axis=1)
        still = (gyr.std(axis=1).max(axis=1) < REST_SCATTER_RAD_S) & (acc.std(axis=1).max(axis=1) < REST_SCATTER_M_S2)
        still &= np.abs(mean).max(axis=1) < TURNS_RAD_S
        still &= np.abs(np.linalg.norm(acc.mean(axis=1), axis=1) - GRAVITY_M_S2) < 0.5
        when.append(stream.time_s[a : a + count * width : width][still])
        what.append(mean[still])
    return (np.concatenate(when), np.concatenate(what)) if when else (np.empty(0), np.empty((0, 3)))


def _offset(rests_s: Array, offsets: Array, at_s: float) -> tuple[Array, float]:
    """The gyroscope's offset (3,) at an instant and its standard uncertainty, rad/s."""
    if not len(rests_s):
        return np.zeros(3), float(UNKNOWN_OFFSET_RAD_S)
    near = np.argsort(np.abs(rests_s - at_s), kind="stable")[:NEAREST_RESTS]
    middle = np.median(offsets[near], axis=0)
    scatter = 1.4826 * float(np.median(np.abs(offsets[near] - middle)))
    floor = np.deg2rad(0.02) if len(near) >= 3 else np.deg2rad(0.2)
    return np.asarray(middle), float(np.hypot(1.25 * scatter / np.sqrt(len(near)), floor))
