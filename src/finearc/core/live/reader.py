"""The batch beside the live values: each stretch of a recording is read as it is completed, and what that finds
(calibrations, headings) is handed back to what is shown live."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from finearc.core.errors import FineArcError
from finearc.core.live.anchors import Anchors, anchors_of
from finearc.core.metrics.body import Upright
from finearc.core.sources.capture import Capture, CaptureReading, inertial_in, prepare, read_prepared
from finearc.core.sources.inertial import INERTIAL
from finearc.core.sources.inertial_view import SessionState
from finearc.core.sources.kind import Kind, Motions, States, Window
from finearc.core.sources.live import Live, begin, go_on
from finearc.core.sources.markers import MARKERS, OpticalMotion


@dataclass(frozen=True)
class Learned:
    """What the live values go on from."""

    anchors: Anchors
    upright: Upright | None


@dataclass(frozen=True)
class StretchRead:
    """What a stretch told: its swings, and what the live values go on from."""

    reading: CaptureReading
    learned: Learned


@dataclass
class StretchReader:
    """A recording read stretch by stretch. ``capture``: its setting; ``held``: streams before the first reading."""

    capture: Capture
    live: Live | None = None
    held: dict[Kind, Any] = field(default_factory=dict)

    def read(self, stretch: Mapping[Kind, Any], windows: Sequence[Window] | None = None) -> StretchRead:
        """Read what follows; ``windows`` (s): where its swings are, or None to look for them. What cannot be read yet
        is kept for the next time. Raises a ``FineArcError``."""
        if self.live is not None:
            reading, self.live = go_on(self.live, stretch, windows)
            return told(reading, self.live.states)
        self.hold(stretch)
        capture = replace(self.capture, streams=self.held, swings=windows, swings_expected=False)
        reading, prepared = read_prepared(prepare(capture), {}, {})
        self.live, self.held = begin(capture, reading, prepared), {}
        return told(reading, prepared.states[-1])

    def try_to_begin(self, stretch: Mapping[Kind, Any]) -> StretchRead | None:
        """Read for the first time, if that can be done yet: no swing is expected."""
        try:
            return self.read(stretch, ())
        except FineArcError:
            return None

    def hold(self, stretch: Mapping[Kind, Any]) -> None:
        """Keep a stretch for the first reading."""
        for kind, stream in stretch.items():
            self.held[kind] = kind.joined(self.held[kind], stream) if kind in self.held else stream


def told(reading: CaptureReading, states: States) -> StretchRead:
    """What a reading says to the live values; ``states``: what its last swing left."""
    inertial = inertial_in(reading.motions)
    state = states.get(INERTIAL)
    hold = state.hold if isinstance(state, SessionState) else None
    anchors = anchors_of(inertial.sensors, hold) if inertial is not None else Anchors()
    return StretchRead(reading, Learned(anchors, _upright(reading.motions)))


def _upright(motions: Motions) -> Upright | None:
    optical = motions.get(MARKERS)
    return optical.upright if isinstance(optical, OpticalMotion) else None
