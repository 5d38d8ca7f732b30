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
from finearc.devices.hub import LiveHub
from finearc.devices.standin import StandIn
from finearc.services import raw, takes
from finearc.services.ports import ColumnCodec, Unit
from finearc.services.records import Take

log = structlog.get_logger()
OpenUnit = Callable[[UUID], AbstractContextManager[Unit]]
WRIST_POSES = ("flat", "raised")
FUNCTIONAL = ("straight", "raised", "flexion", "deviation")


class TakeListener:
    """Writes one take's deliveries into the store and publishes what happened."""

    def __init__(
        self, open_unit: OpenUnit, codec: ColumnCodec, hub: LiveHub, academy_id: UUID, lesson_id: UUID, take_id: UUID
    ) -> None:
        self._open, self._codec, self._hub = open_unit, codec, hub
        self.academy_id, self.lesson_id, self.take_id = academy_id, lesson_id, take_id

    def state(self, message: dict[str, Any]) -> None:
        self._hub.publish(self.lesson_id, {"take_id": str(self.take_id), **message})

    def poses(self, delivery: raw.Delivery, windows: dict[str, list[tuple[float, float]]]) -> bool:
        with self._open(self.academy_id) as unit:
            take = unit.get(Take, self.take_id)
            if "straight" in windows:
                take.functional = {name: list(windows[name][0]) for name in FUNCTIONAL}
            else:
                take.poses = [[kind, a, b] for kind in WRIST_POSES for a, b in windows.get(kind, ())]
            take.uprights = [list(w) for w in windows.get("square_upright", ())]
            take.bow = list(windows["bow"][0]) if "bow" in windows else None
            raw.append(unit, self._codec, take, delivery, raw.POSES)
            takes.calibrate_take(unit, self._codec, take)
            calibration = dict(take.calibration or {})
        if "refused" in calibration:
            self.state({"type": "refused", "reason": calibration["refused"]})
            return False
        self.state({"type": "calibrated", "quality": calibration["quality"], "sentence": calibration["sentence"]})
        return True

    def address(self, delivery: raw.Delivery) -> None:
        with self._open(self.academy_id) as unit:
            take = unit.get(Take, self.take_id)
            raw.append(unit, self._codec, take, delivery, "address")
            takes.keep_setup(unit, take, takes.calibrate_take(unit, self._codec, take))
        self.state({"type": "setup"})

    def swing(self, delivery: raw.Delivery, number: int) -> None:
        try:
            with self._open(self.academy_id) as unit:
                take = unit.get(Take, self.take_id)
                found = takes.extend_take(unit, self._codec, take, delivery, f"swing-{number}")
                message: dict[str, Any] = {"type": "captured", "swings": [str(s.id) for s in found]}
                if any(s.sensor_moved for s in found):
                    message["warning"] = found[-1].result["warnings"][0]
            self.state(message)
        except FineArcError as error:
            log.warning("swing not kept", error=str(error))
            self.state({"type": "trouble", "reason": str(error)})


class Devices:
    """The stand-ins that are running, one a lesson."""

    def __init__(self, open_unit: OpenUnit, codec: ColumnCodec, hub: LiveHub, pace: float = 1.0) -> None:
        self._open, self._codec, self._hub, self._pace = open_unit, codec, hub, pace
        self._running: dict[UUID, tuple[UUID, StandIn]] = {}
        self._lock = threading.Lock()

    def begin(self, academy_id: UUID, lesson_id: UUID, take: Take, sources: Sequence[str]) -> None:
        """Start a take's stand-in with these sources beside the wrist pair; the lesson's earlier one ends."""
        listener = TakeListener(self._open, self._codec, self._hub, academy_id, lesson_id, take.id)
        device = StandIn(
            listener,
            take.scenario,
            take.seed,
            Hand(take.handedness),
            sources=sources,
            pace=self._pace,
        )
        with self._lock:
            old = self._running.pop(lesson_id, None)
            self._running[lesson_id] = (take.id, device)
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
