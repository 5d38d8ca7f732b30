"""Joins stand-in devices to lessons: keeps what they send, tells the screens. Nothing that happens on the way ends a
capture: what passes is waited for, what does not is said, and the next swing comes."""

from __future__ import annotations

import shutil
import tempfile
import threading
import weakref
from collections.abc import Callable, Sequence
from contextlib import AbstractContextManager
from dataclasses import dataclass
from pathlib import Path
from typing import Any, TypeVar
from uuid import UUID

import structlog

from finearc.core.errors import FineArcError
from finearc.core.frames.handedness import Hand
from finearc.core.sources.address_check import MOVED
from finearc.devices.hub import LiveHub
from finearc.devices.simulated.plays import Plays, Score
from finearc.devices.standin import StandIn
from finearc.services.capture import calibrating, live, raw
from finearc.services.errors import Refused
from finearc.services.patience import IsPassing, persist
from finearc.services.ports import RawCodec, UnitOfWork
from finearc.services.records import Lesson, Recording

log = structlog.get_logger()
OpenUnitOfWork = Callable[[UUID], AbstractContextManager[UnitOfWork]]
Answer = TypeVar("Answer")
WRIST_POSES = ("flat", "raised")
FUNCTIONAL = ("straight", "raised", "flexion", "deviation")
PATIENCE_S = 900.0
"""So long what was captured is held in memory while the database is away."""
WAITING = "The database does not answer. What is captured is kept here and goes in when it does; capture goes on."
UNREAD = "This swing could not be read. Its raw data are kept; capture goes on."
HOLD_AGAIN = "Something went wrong while calibrating. Hold the poses again."
MADE_ROOM = "The stand-in waited longest and made room for another lesson's. Fit it again; every swing is kept."
MOST_OF_ONE = 12
"""Stand-ins of one academy at a time (house value): more bays than it has."""
STOPPED = "The stand-in has stopped. Fit it again; every swing so far is kept."


@dataclass(frozen=True)
class Keeping:
    """With what a capture is kept; ``passing``: which errors are waited for."""

    open: OpenUnitOfWork
    codec: RawCodec
    hub: LiveHub
    passing: IsPassing


class RecordingListener:
    """Writes one recording's batches into the store and publishes what happened."""

    def __init__(self, keeping: Keeping, academy_id: UUID, lesson_id: UUID, recording_id: UUID) -> None:
        self._keeping = keeping
        self.academy_id, self.lesson_id, self.recording_id = academy_id, lesson_id, recording_id
        self.stopped = threading.Event()

    def state(self, message: dict[str, Any]) -> None:
        self._keeping.hub.publish(self.lesson_id, {"recording_id": str(self.recording_id), **message})

    def _keep(self, work: Callable[[UnitOfWork, Recording], Answer]) -> Answer:
        """A unit of work on the recording, for as long as it takes."""

        def once() -> Answer:
            with self._keeping.open(self.academy_id) as uow:
                return work(uow, uow.get(Recording, self.recording_id))

        return persist(once, self._keeping.passing, PATIENCE_S, self._waiting, self.stopped.is_set)

    def _waiting(self) -> None:
        live.forget(self.recording_id)
        self.state({"type": "trouble", "reason": WAITING})

    def poses(self, batch: raw.Streams, windows: dict[str, list[tuple[float, float]]]) -> bool:
        codec = self._keeping.codec

        def work(uow: UnitOfWork, recording: Recording) -> Any:
            if "straight" in windows:
                recording.functional = {name: list(windows[name][0]) for name in FUNCTIONAL}
            else:
                recording.poses = [[kind, a, b] for kind in WRIST_POSES for a, b in windows.get(kind, ())]
            recording.poses += [[raw.LIFTED, a, b] for a, b in windows.get(raw.LIFTED, ())]
            recording.uprights = [list(w) for w in windows.get("square_upright", ())]
            recording.bow = list(windows["bow"][0]) if "bow" in windows else None
            raw.append(uow, codec, recording, batch, raw.POSES)
            calibrating.calibrate_recording(uow, codec, recording)
            return calibrating.calibration_of(recording)

        try:
            calibration = self._keep(work)
        except Exception as error:
            self._say(error, {"type": "refused", "reason": HOLD_AGAIN})
            return False
        if calibration is None or calibration.refused is not None:
            reason = "Nothing was calibrated." if calibration is None else calibration.refused
            self.state({"type": "refused", "reason": reason})
            return False
        self.state({"type": "calibrated", "quality": calibration.quality, "sentence": calibration.sentence})
        return True

    def address(self, batch: raw.Streams) -> None:
        codec = self._keeping.codec

        def work(uow: UnitOfWork, recording: Recording) -> None:
            raw.append(uow, codec, recording, batch, raw.ADDRESS)
            calibrating.keep_setup(uow, recording, calibrating.calibrate_recording(uow, codec, recording))

        try:
            self._keep(work)
            self.state({"type": "setup"})
        except Exception as error:  # the setup is not answered; swings can be made all the same
            self._unread(error, batch, raw.ADDRESS)

    def swing(self, batch: raw.Streams, number: int) -> None:
        key = raw.key_of_swing(number)

        def work(uow: UnitOfWork, recording: Recording) -> dict[str, Any]:
            found = live.extend_recording(uow, self._keeping.codec, recording, batch, key)
            message: dict[str, Any] = {"type": "captured", "swings": [str(s.id) for s in found]}
            if any(s.sensor_moved for s in found):
                message["warning"] = MOVED
            return message

        try:
            self.state(self._keep(work))
        except Exception as error:
            self._unread(error, batch, key)

    def _unread(self, error: Exception, batch: raw.Streams, key: str) -> None:
        """Nobody foresaw this: the raw data are kept without being read, and the screens are told."""
        live.forget(self.recording_id)
        try:
            self._keep(lambda uow, recording: live.keep_unread(uow, self._keeping.codec, recording, batch, key))
        except Exception as second:
            log.error("a batch is lost", recording=str(self.recording_id), kind=type(second).__name__)
            self._say(error, {"type": "trouble", "reason": f"A swing is lost: {_in_words(error)} Capture goes on."})
            return
        self._say(error, {"type": "trouble", "reason": str(error) if isinstance(error, FineArcError) else UNREAD})

    def _say(self, error: Exception, message: dict[str, Any]) -> None:
        if not isinstance(error, FineArcError):
            log.error("capture met an error", recording=str(self.recording_id), kind=type(error).__name__)
        self.state(message)

    def ended(self, error: Exception | None) -> None:
        """The device sends no more; ``error``: why it stopped by itself."""
        if error is not None:
            self._say(error, {"type": "trouble", "reason": STOPPED})
        if self.stopped.is_set():
            return
        try:
            self._keep(lambda _, recording: setattr(recording, "live", None))
        except Exception as second:  # the next start tries to go on with it, and ends it then
            log.error("an end was not kept", recording=str(self.recording_id), kind=type(second).__name__)


def _in_words(error: Exception) -> str:
    return str(error) if isinstance(error, FineArcError) else "it could neither be read nor kept."


class Devices:
    """The stand-ins that are running, one a lesson. ``played``: a folder in which they keep what they play; without it
    one that goes with the process."""

    def __init__(self, keeping: Keeping, pace: float = 1.0, played: Path | None = None) -> None:
        self._keeping, self._pace, self._played = keeping, pace, played
        self._plays: Plays | None = None
        self._running: dict[UUID, StandIn] = {}
        self._academies: dict[UUID, UUID] = {}
        self._lock = threading.Lock()

    @property
    def plays(self) -> Plays:
        """Made when the first device starts."""
        if self._plays is None:
            self._plays = Plays(self._played or self._own_folder(), self._keeping.codec)
        return self._plays

    def _own_folder(self) -> Path:
        folder = Path(tempfile.mkdtemp(prefix="finearc-stand-in-"))
        weakref.finalize(self, shutil.rmtree, folder, ignore_errors=True)
        return folder

    def make_room(self, academy_id: UUID, lesson_id: UUID) -> None:
        """See to it that the academy can have one more stand-in, for this lesson: of too many the one ends that has
        waited longest for somebody to swing. Raises ``Refused`` when all are busy."""
        with self._lock:
            mine = [k for k, a in self._academies.items() if a == academy_id and k != lesson_id]
            alive = [k for k in mine if k in self._running and self._running[k].alive]
            if len(alive) < MOST_OF_ONE:
                return
            waiting = [(since, k) for k in alive if (since := self._running[k].waiting_since) is not None]
        if not waiting:
            raise Refused(
                f"as many stand-ins play as an academy may have ({MOST_OF_ONE})",
                "Close a lesson, or wait until one has swung",
            )
        longest = min(waiting)[1]
        self._keeping.hub.publish(longest, {"type": "trouble", "reason": MADE_ROOM})
        self.end(longest, for_good=True)

    def begin(
        self, academy_id: UUID, recording: Recording, sources: Sequence[str], sent: frozenset[str] = frozenset()
    ) -> StandIn:
        """Start a recording's stand-in with these sources beside the wrist pair; the lesson's earlier one ends.
        ``sent``: batches that it has sent already."""
        lesson_id = recording.lesson_id
        listener = RecordingListener(self._keeping, academy_id, lesson_id, recording.id)
        score = Score(recording.scenario, recording.seed, Hand(recording.handedness), tuple(sources))
        device = StandIn(listener, self.plays, score, pace=self._pace, sent=sent)
        with self._lock:
            old = self._running.pop(lesson_id, None)
            self._running[lesson_id], self._academies[lesson_id] = device, academy_id
        if old is not None:
            _stop(old)
        device.start()
        return device

    def resume(self, academy_id: UUID, recording_id: UUID) -> bool:
        """Go on with a recording whose device sent when the application ended; whether there is anything to go on
        with."""
        with self._keeping.open(academy_id) as uow:
            recording = uow.get(Recording, recording_id)
            running = uow.get(Lesson, recording.lesson_id).status != "closed"
            told, sent = recording.live or {}, raw.keys_of(uow, recording)
            if not running or recording.source != "stand-in":
                recording.live = None
                return False
        device = self.begin(academy_id, recording, told.get("sources", ()), sent)
        made = sum(key.startswith(raw.key_of_swing(0)[:-1]) for key in sent)
        device.request_swings(max(0, int(told.get("wanted", 0)) - made))
        return True

    def request_swings(self, lesson_id: UUID, count: int) -> bool:
        """Whether there is a stand-in that will swing."""
        with self._lock:
            running = self._running.get(lesson_id)
        if running is None or not running.alive:
            return False
        running.request_swings(count)
        return True

    def end(self, lesson_id: UUID, *, for_good: bool = False) -> None:
        """Stop a lesson's stand-in; ``for_good``: it is also written down that it sends no more."""
        with self._lock:
            old = self._running.pop(lesson_id, None)
            self._academies.pop(lesson_id, None)
        if old is not None:
            _stop(old, for_good)

    def end_all(self) -> None:
        """Stop all; what was under way goes on at the next start."""
        for lesson_id in list(self._running):
            self.end(lesson_id)


def _stop(device: StandIn, for_good: bool = False) -> None:
    if not for_good and isinstance(device.listener, RecordingListener):
        device.listener.stopped.set()
    device.stop()
