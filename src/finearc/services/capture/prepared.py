"""Recordings that were just read stay prepared for a while: moving a checkpoint then measures one swing, not all of the
recording again. Only time depends on it: what is not here any more is prepared again from the raw streams."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Sequence
from typing import Any
from uuid import UUID

from finearc.core.sources.capture import Prepared
from finearc.core.sources.live import Live
from finearc.services.records import Recording, Swing

Entry = tuple[UUID, tuple[Any, Prepared]]
"""A recording's id, what its preparation rests on, and the preparation."""
MOST = 4
"""Recordings kept: a five-source one of ten swings takes some 40 MB."""


class PreparedRecordings:
    """The recordings read last, by all that their preparation rests on."""

    def __init__(self, most: int = MOST) -> None:
        self._most = most
        self._lock = threading.Lock()
        self._kept: OrderedDict[UUID, tuple[Any, Prepared]] = OrderedDict()

    def put(self, recording: Recording, swings: Sequence[Swing], prepared: Prepared) -> None:
        """Keep a recording as it was just read with these swings."""
        self.take((recording.id, (_rests_on(recording, swings), prepared)))

    def take(self, entry: Entry) -> None:
        """Keep what another process has just read."""
        with self._lock:
            self._kept[entry[0]] = entry[1]
            self._kept.move_to_end(entry[0])
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)

    def entry(self, recording_id: UUID) -> Entry | None:
        """A recording as it is kept here, for another process to take."""
        with self._lock:
            known = self._kept.get(recording_id)
            return None if known is None else (recording_id, known)

    def forget(self, recording_id: UUID) -> None:
        """The recording is gone."""
        with self._lock:
            self._kept.pop(recording_id, None)

    def get(self, recording: Recording, swings: Sequence[Swing]) -> Prepared | None:
        """The recording as it was prepared, or None when it is not here or something it rests on has changed."""
        with self._lock:
            known = self._kept.get(recording.id)
            if known is None or known[0] != _rests_on(recording, swings):
                return None
            self._kept.move_to_end(recording.id)
            return known[1]


def _rests_on(recording: Recording, swings: Sequence[Swing]) -> Any:
    return (
        recording.handedness,
        recording.mat_shift_s,
        repr((recording.poses, recording.functional, recording.uprights, recording.bow, recording.segments)),
        tuple((s.id, s.start_s, s.end_s, s.shot, s.distance_m) for s in swings),
        recording.face_grip_bias_deg,
        repr(recording.putter),
        swings[0].club if swings else "",
    )


KEPT = PreparedRecordings()


class LiveRecordings:
    """Live recordings as they stand; one that is not here is read whole again when it goes on."""

    def __init__(self, most: int = 32) -> None:
        self._most, self._lock = most, threading.Lock()
        self._kept: OrderedDict[UUID, Live] = OrderedDict()

    def get(self, recording_id: UUID) -> Live | None:
        with self._lock:
            return self._kept.pop(recording_id, None)

    def put(self, recording_id: UUID, live: Live) -> None:
        with self._lock:
            self._kept[recording_id] = live
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)


LIVE = LiveRecordings()
