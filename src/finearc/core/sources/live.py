"""A recording that goes on: only what is new is read, from what the stretch before it left.

Sensors are oriented over the new stretch and the half minute before it; each heading goes on from where it stood
(``orientation.heading``), calibrations stay, and what carries from swing to swing is kept. Values agree with those of
the whole recording read at once to well within their uncertainty (``tests/core/test_live.py``), and a swing costs the
same however many came before it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np

from finearc.core.errors import FineArcError
from finearc.core.events.model import Checkpoint
from finearc.core.sources.capture import Capture, CaptureReading, Prepared, doubts, find_spans
from finearc.core.sources.ground import on_one_clock
from finearc.core.sources.kind import Kind, Motions, Setting, States, Window, prepare_all
from finearc.core.sources.reading import SwingReading, read_swing

MEMORY_S = 30.0
"""How much of a recording before the last swing's end is read again with what follows (house value)."""
LONGEST_S = 120.0
"""Without a swing for so long, the oldest part is let go."""
OVERLAP_S = 0.5
"""A new swing may begin so much before the end of the last one's window."""


@dataclass(frozen=True)
class Live:
    """A recording so far. ``streams``: their recent part; ``states``: what the last swing left; ``ends_s``: the end of
    its window; ``warnings``: why nothing may be judged, once a swing has shown it."""

    setting: Setting
    streams: Mapping[Kind, Any]
    states: States
    ends_s: float = -np.inf
    warnings: tuple[str, ...] | None = None


def begin(capture: Capture, reading: CaptureReading, prepared: Prepared) -> Live:
    """Go on from a recording that was read whole."""
    ends_s = max((b for _, b in prepared.spans), default=-np.inf)
    warnings = reading.warnings if reading.swings else None
    setting = Setting(**{f.name: getattr(capture, f.name) for f in fields(Setting)})
    live = Live(setting, capture.streams, prepared.states[-1], ends_s, warnings)
    return _let_go(live, reading.motions)


def go_on(
    live: Live, batch: Mapping[Kind, Any], windows: Sequence[Window] | None = None
) -> tuple[CaptureReading, Live]:
    """Read on with new streams: the swings that they complete, and the recording as it stands then. ``windows`` (s):
    where swings are, or None to look for them. Raises a ``FineArcError`` for streams that cannot be read."""
    streams = {k: k.joined(live.streams[k], s) if k in live.streams else s for k, s in batch.items()}
    streams |= {k: s for k, s in live.streams.items() if k not in batch}
    motions = prepare_all(streams, live.setting)
    states = deepcopy(live.states)
    capture = Capture(**vars(live.setting), streams=streams, swings_expected=False)
    motions = on_one_clock(motions, lambda others: _impacts(capture, others, live, windows))
    swings = _new_swings(capture, motions, live, states, windows)
    warnings = live.warnings
    if warnings is None and swings:
        warnings = doubts(motions, swings, None)
    ends_s = max([live.ends_s, *(s.end_s for s in swings)])
    on = Live(live.setting, streams, states, ends_s, warnings)
    return CaptureReading(motions, tuple(swings), None, warnings or ()), _let_go(on, motions)


def _new_swings(
    capture: Capture, motions: Motions, live: Live, states: States, windows: Sequence[Window] | None
) -> list[SwingReading]:
    poses_end = max((motion.poses_end_s for motion in motions), default=-np.inf)
    after_s = max(poses_end, live.ends_s - OVERLAP_S)
    spans = find_spans(capture, motions, after_s) if windows is None else windows
    read = []
    for span in spans:
        if span[0] > live.ends_s - OVERLAP_S:
            kept = deepcopy(states)
            swing = read_swing(motions, span, states, {})
            if swing.events:
                read.append(swing)
            else:
                states.clear()
                states.update(kept)
    return read


def _impacts(capture: Capture, motions: Motions, live: Live, windows: Sequence[Window] | None) -> list[float]:
    """Impacts as the other sources see them, s."""
    try:
        swings = _new_swings(capture, motions, live, deepcopy(live.states), windows)
    except FineArcError:
        return []
    return [s.events[Checkpoint.IMPACT].time_s for s in swings if Checkpoint.IMPACT in s.events]


def _let_go(live: Live, motions: Motions) -> Live:
    """Without what is not needed to read on."""
    first, last = motions.span
    start = max(live.ends_s - MEMORY_S, last - LONGEST_S, first)  # a mark before the first sample would mark nothing
    left = {k: known for k, m in motions.by_kind.items() if (known := m.left(start)) is not None}
    streams = {k: k.recent(s, start) for k, s in live.streams.items()}
    return replace(live, setting=replace(live.setting, left=left, swings=None), streams=streams)
