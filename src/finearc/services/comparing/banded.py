"""A swing laid over the band it was judged by: the nearest swing that stays inside."""

from __future__ import annotations

from typing import Literal

import numpy as np

from finearc.core.comparing.seen import SwingSeen
from finearc.core.judging.bands import band_between
from finearc.core.metrics.definition import Measured
from finearc.core.typing import Array
from finearc.services.record.document import SwingJudgement


def nearest_inside(swing: SwingSeen, judged: SwingJudgement) -> SwingSeen:
    """The same swing held inside its band: the difference is how far outside it was. Only what a range speaks of."""
    traces = {k: np.clip(swing.traces[k], *b) for k, b in _bands(swing, judged).items()}
    ranged = [j for j in judged.judged.values() if j.low is not None or j.high is not None]
    held = [Measured(j.measured.metric, j.measured.moment, j.measured.value - j.distance, 0.0) for j in ranged]
    return SwingSeen(swing.time_s, traces, swing.events, held, timed=False)


def edge(swing: SwingSeen, judged: SwingJudgement, which: Literal[0, 1]) -> SwingSeen:
    """The lower (0) or the upper (1) limit along a swing."""
    traces = {k: b[which] for k, b in _bands(swing, judged).items()}
    return SwingSeen(swing.time_s, traces, swing.events, [], timed=False)


def _bands(swing: SwingSeen, judged: SwingJudgement) -> dict[str, tuple[Array, Array]]:
    return {k: band_between(knots, swing.time_s) for k, knots in judged.bands.items() if knots and k in swing.traces}
