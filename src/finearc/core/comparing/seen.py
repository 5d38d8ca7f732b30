"""A swing as it is laid over another: what was measured in it and how it went, wherever that comes from."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from finearc.core.comparing.traces import SwingTrace
from finearc.core.events.model import Checkpoint, Event
from finearc.core.metrics.definition import Measured, Metric
from finearc.core.sources.reading import SwingReading
from finearc.core.typing import Array


@dataclass(frozen=True)
class SwingSeen:
    """``time_s`` (n,), s; ``traces`` (n,), SI, by the metric's id, NaN where nothing was seen. ``timed``: whether its
    times are its own; a mean course that is kept without them says nothing of later, earlier, harder or softer."""

    time_s: Array
    traces: Mapping[str, Array]
    events: Mapping[Checkpoint, Event]
    measured: Sequence[Measured]
    timed: bool = True

    @classmethod
    def of(cls, reading: SwingReading) -> SwingSeen:
        """A swing as it was just read."""
        traces = {k: np.where(reading.valid, v, np.nan) for k, v in reading.traces.items()}
        return cls(reading.time_s, traces, reading.events, reading.measured)

    def course(self, metric: Metric) -> SwingTrace | None:
        """How one measure went; None where it was not seen, or the swing has no impact to be tied at."""
        if metric.id not in self.traces or Checkpoint.IMPACT not in self.events:
            return None
        return SwingTrace(metric, self.time_s, self.traces[metric.id], self.events)


Side = Sequence[SwingSeen]


def courses(metric: Metric, side: Side) -> list[SwingTrace]:
    """How one measure went in each swing in which it was seen."""
    return [c for s in side if (c := s.course(metric)) is not None]
