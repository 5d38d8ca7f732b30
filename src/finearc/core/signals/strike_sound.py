"""The strike of a ball as a microphone hears it: short, with sharp edges, louder than what was before.

In a bay the ball meets a net or a screen 50 to 150 ms later, often louder than the strike itself: the first of a group
is taken (common practice). Speech and music rise more slowly and lie lower than a thousand hertz for the most part."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.ndimage import median_filter, uniform_filter1d
from scipy.signal import butter, find_peaks, sosfilt

from finearc.core.typing import Array

ABOVE_HZ = 1500.0
BIN_S = 0.001
BEFORE_S, QUIETER_DB = 0.02, 12.0
"""Within so short a time it rises by so much (house values)."""
AFTER_S, FADES_DB = 0.08, 6.0
"""And it is gone again as soon (house values)."""
GROUND_S, LOUDER_DB = 1.0, 18.0
"""So far above what is usual around it (house values)."""
GROUP_S = 0.5
"""What the ball meets comes within so long after the strike (common practice)."""
FAINTER_DB = 15.0
"""A sound fainter than the loudest of its group by more is none: a club put down, a shoe that turns (house value)."""
RIVAL_DB = 6.0
"""A second group this near in loudness, and nobody can say which was it (house value)."""
SOUND_M_S = 343.0
"""Speed of sound in air at 20 °C (ISO 9613-1:1993 gives 343.2 m/s; from memory)."""
AWAY_M, AWAY_SD_M = 2.5, 1.2
"""How far a camera stands from the ball (house values): its microphone hears the strike later by that."""


@dataclass(frozen=True)
class Strike:
    """``time_s``: when the ball was struck, on the recording's clock, with its standard uncertainty; ``clear``: no
    other sound could as well have been it."""

    time_s: float
    sd_s: float
    clear: bool


def strike_of(sound: Array, rate_hz: float, near: tuple[float, float] | None = None) -> Strike | None:
    """The strike in a sound. Shapes: (n,), any unit. ``near``: seconds within which alone it is looked for. None where
    nothing sounds like one."""
    levels = _levels_db(np.asarray(sound, dtype=float), rate_hz)
    if levels is None:
        return None
    at = _sharp(levels)
    if near is not None:
        at = at[(at * BIN_S >= near[0]) & (at * BIN_S <= near[1])]
    if not len(at):
        return None
    groups = np.split(at, np.flatnonzero(np.diff(at) * BIN_S > GROUP_S) + 1)
    loudest = np.array([levels[g].max() for g in groups])
    best = int(np.argmax(loudest))
    others = np.delete(loudest, best)
    group = groups[best]
    first = group[levels[group] > loudest[best] - FAINTER_DB][0]
    late_s, sd_s = AWAY_M / SOUND_M_S, float(np.hypot(AWAY_SD_M / SOUND_M_S, BIN_S))
    clear = not len(others) or bool(others.max() < loudest[best] - RIVAL_DB)
    return Strike(max(0.0, _edge(levels, int(first)) * BIN_S - late_s), sd_s, clear)


def _levels_db(sound: Array, rate_hz: float) -> Array | None:
    """How loud the high part is in each bin, dB of an unknown zero; None where there is too little to say."""
    per = round(rate_hz * BIN_S)
    count = len(sound) // max(per, 1)
    if per < 1 or rate_hz < 3.0 * ABOVE_HZ or count * BIN_S < 0.2:
        return None
    heard = sosfilt(butter(4, ABOVE_HZ, "highpass", fs=rate_hz, output="sos"), sound)
    power = (heard[: count * per].reshape(count, per) ** 2).mean(axis=1)
    if not np.isfinite(power).all() or power.max() <= 0.0:
        return None
    return np.asarray(10.0 * np.log10(power + 1e-7 * power.max()))


def _sharp(levels: Array) -> Array:
    """Bins in which something short and sharp is at its loudest."""
    wide = 2 * round(GROUND_S / 2 / BIN_S) + 1
    ground = median_filter(levels, min(wide, 2 * (len(levels) // 2) - 1), mode="nearest")
    peaks, _ = find_peaks(levels, distance=round(BEFORE_S / BIN_S))
    before, after = round(BEFORE_S / BIN_S), round(AFTER_S / BIN_S)
    quiet = uniform_filter1d(levels, 5, mode="nearest")
    kept = []
    for peak in peaks:
        early = quiet[max(0, peak - before) : max(1, peak - 2)].min()
        late = quiet[min(peak + before, len(levels) - 1) : peak + after + 1].min()
        level = levels[peak]
        if level - ground[peak] >= LOUDER_DB and level - early >= QUIETER_DB and level - late >= FADES_DB:
            kept.append(peak)
    return np.array(kept, dtype=int)


def _edge(levels: Array, peak: int) -> int:
    """The bin in which the rise to a peak begins: the last one before it that is still far below."""
    below = np.flatnonzero(levels[max(0, peak - round(BEFORE_S / BIN_S)) : peak] < levels[peak] - QUIETER_DB)
    return int(max(0, peak - round(BEFORE_S / BIN_S)) + below[-1] + 1) if len(below) else peak
