"""Joins stand-in devices to lessons: keeps what they send, tells the screens."""

from __future__ import annotations

import threading
from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from typing import Any
from uuid import UUID

import structlog

from finearc.core.errors import FineArcError
from finearc.core.frames.handedness import Hand
from finearc.core.sources.inertial_view import MOVED
from finearc.devices.hub import LiveHub
from finearc.devices.standin import StandIn
from finearc.services.capture import calibrating, live, raw
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.records import Recording

log = structlog.get_logger()
OpenUnitOfWork = Callable[[UUID], AbstractContextManager[UnitOfWork]]
WRIST_POSES = ("flat", "raised")
FUNCTIONAL = ("straight", "raised", "flexion", "deviation")


class RecordingListener:
    """Writes one recording's batches into the store and publishes what happened."""

    def __init__(
        self,
        open_unit_of_work: OpenUnitOfWork,
        codec: RawCodec,
        hub: LiveHub,
        academy_id: UUID,
        lesson_id: UUID,
        recording_id: UUID,
    ) -> None:
        self._open, self._codec, self._hub = open_unit_of_work, codec, hub
        self.academy_id, self.lesson_id, self.recording_id = academy_id, lesson_id, recording_id

    def state(self, message: dict[str, Any]) -> None:
        self._hub.publish(self.lesson_id, {"recording_id": str(self.recording_id), **message})

    def poses(self, batch: raw.Streams, windows: dict[str, list[tuple[float, float]]]) -> bool:
        with self._open(self.academy_id) as uow:
            recording = uow.get(Recording, self.recording_id)
            if "straight" in windows:
                recording.functional = {name: list(windows[name][0]) for name in FUNCTIONAL}
            else:
                recording.poses = [[kind, a, b] for kind in WRIST_POSES for a, b in windows.get(kind, ())]
            recording.uprights = [list(w) for w in windows.get("square_upright", ())]
            recording.bow = list(windows["bow"][0]) if "bow" in windows else None
            raw.append(uow, self._codec, recording, batch, raw.POSES)
            calibrating.calibrate_recording(uow, self._codec, recording)
            calibration = calibrating.calibration_of(recording)
        if calibration is None or calibration.refused is not None:
            reason = "Nothing was calibrated." if calibration is None else calibration.refused
            self.state({"type": "refused", "reason": reason})
            return False
        self.state({"type": "calibrated", "quality": calibration.quality, "sentence": calibration.sentence})
        return True

    def address(self, batch: raw.Streams) -> None:
        with self._open(self.academy_id) as uow:
            recording = uow.get(Recording, self.recording_id)
            raw.append(uow, self._codec, recording, batch, "address")
            calibrating.keep_setup(uow, recording, calibrating.calibrate_recording(uow, self._codec, recording))
        self.state({"type": "setup"})

    def swing(self, batch: raw.Streams, number: int) -> None:
        try:
            with self._open(self.academy_id) as uow:
                recording = uow.get(Recording, self.recording_id)
                found = live.extend_recording(uow, self._codec, recording, batch, f"swing-{number}")
                message: dict[str, Any] = {"type": "captured", "swings": [str(s.id) for s in found]}
                if any(s.sensor_moved for s in found):
                    message["warning"] = MOVED
            self.state(message)
        except FineArcError as error:
            log.warning("swing not kept", error=str(error))
            self.state({"type": "trouble", "reason": str(error)})


class Devices:
    """The stand-ins that are running, one a lesson."""

    def __init__(self, open_unit_of_work: OpenUnitOfWork, codec: RawCodec, hub: LiveHub, pace: float = 1.0) -> None:
        self._open, self._codec, self._hub, self._pace = open_unit_of_work, codec, hub, pace
        self._running: dict[UUID, tuple[UUID, StandIn]] = {}
        self._lock = threading.Lock()

    def begin(self, academy_id: UUID, lesson_id: UUID, recording: Recording, sources: Sequence[str]) -> None:
        """Start a recording's stand-in with these sources beside the wrist pair; the lesson's earlier one ends."""
        listener = RecordingListener(self._open, self._codec, self._hub, academy_id, lesson_id, recording.id)
        device = StandIn(
            listener,
            recording.scenario,
            recording.seed,
            Hand(recording.handedness),
            sources=sources,
            pace=self._pace,
        )
        with self._lock:
            old = self._running.pop(lesson_id, None)
            self._running[lesson_id] = (recording.id, device)
        if old is not None:
            old[1].stop()
        device.start()

    def request_swings(self, lesson_id: UUID, count: int) -> bool:
        """Whether there is a stand-in that will swing."""
        with self._lock:
            running = self._running.get(lesson_id)
        if running is None:
            return False
        running[1].request_swings(count)
        return True

    def end(self, lesson_id: UUID) -> None:
        """Stop a lesson's stand-in."""
        with self._lock:
            old = self._running.pop(lesson_id, None)
        if old is not None:
            old[1].stop()

    def end_all(self) -> None:
        """Stop all."""
        for lesson_id in list(self._running):
            self.end(lesson_id)
