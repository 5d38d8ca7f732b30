"""What one wrist adds to a putt, relative to address: how far, when, how fast at the ball, and in which order."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.signals.filters import low_pass
from finearc.core.typing import Array
from finearc.wording import mark, tr

ANGLES = ("extension", "deviation", "roll")
RATE_HZ, SHARE_HZ = 12.0, 5.0
"""Low passes of order two, zero phase, of the definitions: of angles and their rates, and for the share."""
AT_BALL_S, AROUND_S, STAYS_S = 0.02, 0.1, 0.05
LEAST_RAD, NOISES = np.deg2rad(0.5), 5.0
"""An angle has begun to move beyond the larger of these and so many times its noise at address (the definition's)."""


@dataclass(frozen=True)
class WristMotion:
    """Extension, radial deviation and roll (n,), rad, over ``time_s`` (n,), s, less their values at address;
    ``address``: the samples of that stillness."""

    time_s: Array
    extension: Array
    deviation: Array
    roll: Array
    address: slice

    @property
    def rate_hz(self) -> float:
        """Samples a second."""
        return 1.0 / float(self.time_s[1] - self.time_s[0])

    def smoothed(self, cut_hz: float = RATE_HZ) -> dict[str, Array]:
        """The angles (n,), rad, below a frequency, again less their values at address."""
        low = {name: low_pass(getattr(self, name), cut_hz, self.rate_hz) for name in ANGLES}
        return {name: values - np.median(values[self.address]) for name, values in low.items()}

    def noise(self, name: str) -> float:
        """How much an angle varies at address, rad, standard deviation."""
        still = self.smoothed()[name][self.address]
        return float(np.std(still - np.polyval(np.polyfit(np.arange(len(still)), still, 1), np.arange(len(still)))))


def wrist_motion(time_s: Array, extension: Array, deviation: Array, roll: Array, address: slice) -> WristMotion:
    """Angles (n,), rad, as they were measured, made relative to the medians of their address."""
    ext, dev, rolled = (v - np.median(v[address]) for v in (extension, deviation, roll))
    return WristMotion(time_s, ext, dev, rolled, address)


@dataclass(frozen=True)
class Swept:
    """How far an angle went between takeaway and impact, rad, and when (s) it was least and most."""

    size: float
    least_s: float
    most_s: float


def swept(time_s: Array, values: Array, start_s: float, end_s: float) -> Swept:
    """Maximum minus minimum of values (n,) between two instants, which are interpolated."""
    inside = (time_s > start_s) & (time_s < end_s)
    times = np.concatenate([[start_s], time_s[inside], [end_s]])
    here = np.concatenate([[_at(time_s, values, start_s)], values[inside], [_at(time_s, values, end_s)]])
    low, high = int(np.argmin(here)), int(np.argmax(here))
    return Swept(float(here[high] - here[low]), float(times[low]), float(times[high]))


def _at(time_s: Array, values: Array, at_s: float) -> float:
    return float(np.interp(at_s, time_s, values))


def rate_at_ball(time_s: Array, values: Array, impact_s: float) -> float:
    """Mean size of the rate, rad/s, of filtered angles (n,), rad, within 0.02 s of the ball."""
    rate = np.abs(np.gradient(values, time_s))
    near = np.linspace(impact_s - AT_BALL_S, impact_s + AT_BALL_S, 17)
    return float(np.mean(np.interp(near, time_s, rate)))


def transition_share(
    motion: WristMotion, takeaway_s: float, transition_s: float, impact_s: float
) -> tuple[float, float]:
    """Share (0 to 1) of the wrist's whole path, extension and deviation together, from takeaway to impact that falls
    within 0.1 s of the transition, and its standard uncertainty. Rates of the angle below 5 Hz, each less its mean over
    the stillness before, so that trembling is no motion."""
    time_s = motion.time_s
    low = motion.smoothed(SHARE_HZ)
    whole, part, trembling = 0.0, 0.0, 0.0
    for name in ("extension", "deviation"):
        rate = np.abs(np.gradient(low[name], time_s))
        still = float(np.mean(rate[motion.address]))
        trembling += still
        whole += _integral(time_s, rate - still, takeaway_s, impact_s)
        part += _integral(
            time_s,
            rate - still,
            max(takeaway_s, transition_s - AROUND_S),
            min(impact_s, transition_s + AROUND_S),
        )
    if whole <= 0.0:
        return 0.0, 1.0
    share = float(np.clip(part / whole, 0.0, 1.0))
    unsure = trembling * np.sqrt(0.1 * (impact_s - takeaway_s)) / whole
    return share, float(np.hypot(0.02, min(1.0, unsure)))


def _integral(time_s: Array, values: Array, start_s: float, end_s: float) -> float:
    if end_s <= start_s:
        return 0.0
    total = np.concatenate([[0.0], np.cumsum(0.5 * (values[1:] + values[:-1]) * np.diff(time_s))])
    return float(np.interp(end_s, time_s, total) - np.interp(start_s, time_s, total))


@dataclass(frozen=True)
class Onset:
    """When (s) an angle begins to move, with its standard uncertainty, and which way: +1 or -1."""

    name: str
    at_s: float
    sd_s: float
    way: int


def onset(motion: WristMotion, name: str, takeaway_s: float, end_s: float) -> Onset | None:
    """First instant from takeaway at which an angle leaves the larger of 0.5° and five times its noise at address, and
    stays beyond it for 50 ms; None where it never does before ``end_s``."""
    values, noise = motion.smoothed()[name], motion.noise(name)
    limit = max(LEAST_RAD, NOISES * noise)
    found = [(at, way) for way in (1, -1) if (at := _left(motion, way * values - limit, takeaway_s, end_s)) is not None]
    if not found:
        return None
    at_s, way = min(found)
    rate = abs(float(np.interp(at_s, motion.time_s, np.gradient(values, motion.time_s))))
    sd = np.hypot(0.004, max(noise, np.deg2rad(0.03)) / max(rate, np.deg2rad(1.0)))
    return Onset(name, at_s, float(sd), way)


def _left(motion: WristMotion, beyond: Array, takeaway_s: float, end_s: float) -> float | None:
    """When what is ``beyond`` (n,) first is positive for ``STAYS_S``, s, between samples; None where it never is."""
    time_s = motion.time_s
    stays = max(1, round(STAYS_S * motion.rate_hz))
    a, b = (int(k) for k in np.searchsorted(time_s, [takeaway_s, end_s]))
    runs = np.convolve(beyond > 0.0, np.ones(stays), "valid") >= stays
    hits = np.flatnonzero(runs[a:b])
    if not len(hits):
        return None
    k = a + int(hits[0])
    if k == 0 or beyond[k - 1] >= 0.0:
        return max(takeaway_s, float(time_s[k]))
    share = beyond[k] / (beyond[k] - beyond[k - 1])
    return max(takeaway_s, float(time_s[k] - share * (time_s[k] - time_s[k - 1])))


WAYS: Mapping[str, tuple[str, str]] = {
    "extension": (mark("extending"), mark("flexing")),
    "deviation": (mark("going radial"), mark("going ulnar")),
    "roll": (mark("turning closed"), mark("turning open")),
}
"""Which way an angle begins to move: + and -."""
SAID = {
    "extending": mark("extends"),
    "flexing": mark("flexes"),
    "going radial": mark("goes radial"),
    "going ulnar": mark("goes ulnar"),
    "turning closed": mark("turns closed"),
    "turning open": mark("turns open"),
}


@dataclass(frozen=True)
class Begun:
    """When (s) an angle begins to move, how certain that is against the others, s, and which ``way``."""

    name: str
    at_s: float
    sd_s: float
    way: str


def in_order(begun: Sequence[Begun]) -> list[list[Begun]]:
    """In the order of time; those closer than their uncertainty stand together."""
    groups: list[list[Begun]] = []
    for one in sorted(begun, key=lambda o: o.at_s):
        last = groups[-1][-1] if groups else None
        if last is not None and one.at_s - last.at_s < float(np.hypot(one.sd_s, last.sd_s)):
            groups[-1].append(one)
        else:
            groups.append([one])
    return groups


def order_in_words(groups: Sequence[Sequence[Begun]]) -> str:
    """``hand turns open, then flexes, then goes radial``; empty where nothing began."""
    parts = [tr(" and ").join(tr(SAID[o.way]) for o in group) for group in groups]
    return tr("hand {parts}", parts=tr(", then ").join(parts)) if parts else ""
