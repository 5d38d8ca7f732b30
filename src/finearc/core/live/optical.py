"""Angles and places from markers as their frames come: the batch's formulas on points smoothed over a few frames.

A value is shown once the frames after it are there (17 ms at 240 Hz) and carries its own frame's time. Nothing is
filled: what is hidden now is not given now."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from scipy.signal import savgol_coeffs

from finearc.core.frames.handedness import Hand
from finearc.core.kinematics.body import body_pose
from finearc.core.live.angles import LiveTrace, unwrapped_from
from finearc.core.live.swings import Turned
from finearc.core.markers.labels import Marker
from finearc.core.markers.stream import MarkerStream, bay_from_lab, resolve
from finearc.core.metrics import registry as m
from finearc.core.metrics.body import Upright, marker_traces
from finearc.core.metrics.definition import Metric, Source, Unit
from finearc.core.metrics.trace import Trace
from finearc.core.sources.optical_view import SEARCHED
from finearc.core.typing import Array

STILL_M_S = 0.03
SETTLED_S = 0.3
"""Hands slower than this for so long stand at address (house values)."""
SPEED_S = 0.05
SMOOTHING = savgol_coeffs(9, 2)
HALF = len(SMOOTHING) // 2
"""A point is smoothed over so many frames on either side, by a parabola (Savitzky and Golay, Anal Chem 36:1627, 1964;
from memory); where one of them is hidden it is taken as it was seen."""
SAME_WAY_RAD = np.deg2rad(25.0)
"""A stillness in which the trunk is turned farther from the first address is no address (house value)."""
HANDS = (Marker.LEAD_HAND, Marker.CLUB_GRIP, Marker.LEAD_WRIST_THUMB, Marker.C7)
TRUNK_LINES = [line for line in SEARCHED if line[0] in ("upper body", "pelvis")]
UNWRAPPED = (m.PELVIS_TURN, m.THORAX_TURN, m.HEAD_TURN, m.SHOULDER_LINE_TURN, m.SEPARATION, m.HAND_ROLL)
"""What the batch unwraps in time."""
RATES = (Unit.DEG_PER_S,)


@dataclass
class OpticalState:
    """The last moments' points by marker, (n, 3), m, bay axes, with their instants; the points at the last address;
    ``ahead``: frames that wait for those after them; ``last``: angles as they were shown last, to go on from;
    ``newest``: the points (1, 3) that were shown last."""

    time_s: Array = field(default_factory=lambda: np.empty(0))
    recent: dict[Marker, Array] = field(default_factory=dict)
    address: dict[Marker, Array] = field(default_factory=dict)
    still_s: float | None = None
    upright: Upright | None = None
    ahead: dict[Marker, Array] = field(default_factory=dict)
    ahead_s: Array = field(default_factory=lambda: np.empty(0))
    last: dict[Metric, float] = field(default_factory=dict)
    newest: dict[Marker, Array] = field(default_factory=dict)


def points_of(stream: MarkerStream, hand: Hand) -> dict[Marker, Array]:
    """Known markers (n, 3), m, bay axes, not a number while hidden. Raises ``StreamError`` where the axes are wrong."""
    matrix, columns = bay_from_lab(stream.axes, hand, stream.source), resolve(stream, hand)
    out = {}
    for marker, column in columns.items():
        points = stream.points_m[:, column]
        hidden = ~np.isfinite(points).all(axis=1) | (points == 0.0).all(axis=1)
        out[marker] = np.where(hidden[:, None], np.nan, points) @ matrix.T
    return out


def new_places(state: OpticalState, stream: MarkerStream, hand: Hand) -> list[LiveTrace]:
    """All that can be shown now; nothing before the player has stood still, as much counts from there."""
    points = points_of(stream, hand)
    _remember(state, stream.time_s, points)
    _look_for_address(state)
    time_s, smoothed = _smoothed(state, stream.time_s, points)
    seen = {k: p for k, p in smoothed.items() if k in state.address}
    if not seen or not len(time_s):
        return []
    state.newest = {k: p[-1:] for k, p in seen.items()}
    pose = body_pose({k: np.concatenate([state.address[k], p]) for k, p in seen.items()})
    step = float(np.median(np.diff(state.time_s))) if len(state.time_s) > 1 else 0.01
    traces = marker_traces(pose, slice(0, 1), None, state.upright, step)
    return [
        LiveTrace(t.metric, time_s, _going_on(state, t), float(np.hypot(t.base_sd, t.common_sd)), Source.MARKERS)
        for t in traces
        if t.metric.unit not in RATES and t.metric is not m.SHAFT_HEADING  # its sign turns at impact, not known yet
    ]


def _going_on(state: OpticalState, trace: Trace) -> Array:
    """Values without the address before them; a turn goes on from where it stood, whole turns counted."""
    values = trace.values[1:]
    if trace.metric not in UNWRAPPED or not np.isfinite(values).any():
        return values
    values = unwrapped_from(state.last.get(trace.metric), values) if np.isfinite(values[0]) else values
    state.last[trace.metric] = float(values[np.isfinite(values)][-1])
    return values


def _smoothed(state: OpticalState, time_s: Array, points: Mapping[Marker, Array]) -> tuple[Array, dict[Marker, Array]]:
    """The frames whose neighbours are all there, smoothed; the rest waits."""
    all_s = np.concatenate([state.ahead_s, time_s])
    ready = max(0, len(all_s) - 2 * HALF)
    out = {}
    for marker, new in points.items():
        held = np.concatenate([state.ahead.get(marker, np.full((len(state.ahead_s), 3), np.nan)), new])
        state.ahead[marker] = held[ready:]
        if ready:
            around = sliding_window_view(held, 2 * HALF + 1, axis=0)
            mean = around @ SMOOTHING
            out[marker] = np.where(np.isfinite(mean), mean, held[HALF : HALF + ready])
    state.ahead_s = all_s[ready:]
    return all_s[HALF : HALF + ready], out


def turned(state: OpticalState) -> Turned | None:
    """How fast the line turns that swings are looked for in."""
    known = next((line for line in SEARCHED if _seen(state, line[1]) and _seen(state, line[2])), None)
    took = state.time_s[-1] - state.time_s[0] if len(state.time_s) > 1 else 0.0
    if known is None or took < SPEED_S / 2:
        return None
    _, a, b, least = known
    line = (state.recent[b] - state.recent[a])[[0, -1]]
    line /= np.linalg.norm(line, axis=1)[:, None]
    angle = float(np.arccos(np.clip(line[0] @ line[1], -1.0, 1.0)))
    return Turned(float(state.time_s[-1]), angle / took, least)


def _seen(state: OpticalState, marker: Marker) -> bool:
    """Whether a marker is seen now and was a moment ago."""
    return marker in state.recent and bool(np.isfinite(state.recent[marker][[0, -1]]).all())


def _remember(state: OpticalState, time_s: Array, points: Mapping[Marker, Array]) -> None:
    all_s = np.concatenate([state.time_s, time_s])
    kept = all_s >= all_s[-1] - SPEED_S
    for marker, p in points.items():
        before = state.recent.get(marker, np.full((len(state.time_s), 3), np.nan))
        state.recent[marker] = np.concatenate([before, p])[kept]
    state.time_s = all_s[kept]


def _look_for_address(state: OpticalState) -> None:
    marker = next((k for k in HANDS if k in state.recent), None)
    if marker is None or len(state.time_s) < 2:
        return
    ends, now_s = state.recent[marker][[0, -1]], float(state.time_s[-1])
    moved = float(np.linalg.norm(ends[1] - ends[0]))
    if not moved <= STILL_M_S * max(now_s - float(state.time_s[0]), 1e-3) + 0.001:
        state.still_s = None
        return
    state.still_s = now_s if state.still_s is None else state.still_s
    if now_s - state.still_s >= SETTLED_S and _may_be_address(state):
        state.address = {
            k: p[np.isfinite(p).all(axis=1)].mean(axis=0)[None]
            for k, p in state.recent.items()
            if np.isfinite(p).all(axis=1).any()
        }


def _may_be_address(state: OpticalState) -> bool:
    """A finish is still too: there the trunk looks another way, and the hands are above the elbow."""
    elbow, wrist = (state.recent.get(k) for k in (Marker.LEAD_ELBOW_LATERAL, Marker.LEAD_WRIST_THUMB))
    if elbow is not None and wrist is not None and not elbow[-1, 2] > wrist[-1, 2]:
        return False
    for _, a, b, _ in TRUNK_LINES:
        if a in state.address and b in state.address and _seen(state, a) and _seen(state, b):
            now, then = state.recent[b][-1] - state.recent[a][-1], (state.address[b] - state.address[a])[0]
            turned_rad = np.arctan2(now[0] * then[1] - now[1] * then[0], now[:2] @ then[:2])
            return bool(abs(turned_rad) < SAME_WAY_RAD)
    return True
