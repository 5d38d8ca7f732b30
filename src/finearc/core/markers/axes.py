"""Along which of a file's axes ball, target and up seem to lie: read off the player, offered as a suggestion."""

from __future__ import annotations

import numpy as np

from finearc.core.frames.handedness import Hand
from finearc.core.markers.labels import PELVIS, THORAX, Marker
from finearc.core.markers.stream import AXES, BayAxes, MarkerStream, resolve
from finearc.core.typing import Array

FIRST_S = 0.5
"""Start of the file in which the player is taken to stand at address (house value)."""


def suggest_axes(stream: MarkerStream, hand: Hand) -> BayAxes | None:
    """Up from the pelvis to the upper body, the target on the lead side of the pelvis, the ball in front of it, while
    the player still stands at address; None without those markers or where two of them fall on one axis."""
    columns = resolve(stream, hand)
    if not all(m in columns for m in PELVIS) or not any(m in columns for m in THORAX):
        return None
    first = stream.points_m[: max(5, int(FIRST_S * stream.rate_hz))]

    def place(*markers: Marker) -> Array:
        seen = [np.nanmedian(first[:, columns[m]], axis=0) for m in markers if m in columns]
        return np.asarray(np.mean(seen, axis=0))

    up = place(*THORAX) - place(*PELVIS)
    target = place(Marker.LEAD_ASIS) - place(Marker.TRAIL_ASIS)
    ball = place(Marker.LEAD_ASIS, Marker.TRAIL_ASIS) - place(Marker.LEAD_PSIS, Marker.TRAIL_PSIS)
    names = [_along(v) for v in (ball, target, up)]
    if len({n[1] for n in names}) < 3:
        return None
    return BayAxes(*names)


def _along(v: Array) -> str:
    return max(AXES, key=lambda name: float(np.dot(AXES[name], v)))
