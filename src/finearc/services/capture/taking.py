"""The work on what a take hands over: kept, calibrated, read. Done beside the process that hears the devices, so that
nothing that is measured makes a device wait; what goes in and out can be sent to another process."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.core.live.reader import Learned, told
from finearc.core.sources.kind import Window
from finearc.core.training.success import Fading, Width
from finearc.core.training.trainer import Repetition
from finearc.services.capture import calibrating, live, raw
from finearc.services.jobs.ports import Tools
from finearc.services.lesson import training
from finearc.services.lesson.documents import CalibrationOut
from finearc.services.ports import UnitOfWork
from finearc.services.records import Recording

Answer = TypeVar("Answer")
WRIST_POSES = ("flat", "raised")
FUNCTIONAL = ("straight", "raised", "flexion", "deviation")


class NotRead(FineArcError):
    """Something that was handed over could not be worked on; in the words of what refused it."""

    def __init__(self, words: str, code: str) -> None:
        super().__init__(words, code)
        self.words, self.code = words, code

    def __str__(self) -> str:
        return self.words


@dataclass(frozen=True)
class Handed:
    """A stretch of a recording under its ``key``; ``noted``: how far the recording goes with it; ``windows`` (s): of
    the poses that were held in it."""

    recording_id: UUID
    streams: raw.Streams
    key: str
    noted: Mapping[str, Any]
    windows: Mapping[str, Sequence[Window]] = field(default_factory=dict)


@dataclass(frozen=True)
class Taken:
    """What became of it. ``learned``: what live values go on from, None where nothing was read."""

    learned: Learned | None = None
    calibration: CalibrationOut | None = None
    swings: tuple[str, ...] = ()
    moved: bool = False


def _worked(tools: Tools, academy_id: UUID, handed: Handed, work: Callable[[UnitOfWork, Recording], Answer]) -> Answer:
    """A unit of work on the recording. What fails is read whole the next time."""
    try:
        with tools.open(academy_id) as uow:
            recording = uow.hold(Recording, handed.recording_id)
            _note(recording, handed.noted)
            return work(uow, recording)
    except FineArcError as error:
        live.forget(handed.recording_id)
        raise NotRead(str(error), error.code) from None
    except Exception:
        live.forget(handed.recording_id)
        raise


def _note(recording: Recording, noted: Mapping[str, Any]) -> None:
    """Write down how far the recording goes, together with what is kept of it; one that has ended stays so."""
    if recording.live is not None:
        recording.live = {**recording.live, **noted}


def take_poses(tools: Tools, academy_id: UUID, handed: Handed) -> Taken:
    """Keep the poses and calibrate from them."""
    windows = handed.windows

    def work(uow: UnitOfWork, recording: Recording) -> Taken:
        if "straight" in windows:
            recording.functional = {name: list(windows[name][0]) for name in FUNCTIONAL}
        else:
            recording.poses = [[kind, a, b] for kind in WRIST_POSES for a, b in windows.get(kind, ())]
        recording.poses += [[raw.LIFTED, a, b] for a, b in windows.get(raw.LIFTED, ())]
        recording.uprights = [list(w) for w in windows.get("square_upright", ())]
        recording.bow = list(windows["bow"][0]) if "bow" in windows else None
        raw.append(uow, tools.codec, recording, handed.streams, raw.POSES)
        reading = calibrating.calibrate_recording(uow, tools.codec, recording)
        calibration = calibrating.calibration_of(recording)
        return Taken(None if reading is None else told(reading, {}).learned, calibration)

    return _worked(tools, academy_id, handed, work)


def take_address(tools: Tools, academy_id: UUID, handed: Handed) -> Taken:
    """Keep the first address and answer the setup check."""

    def work(uow: UnitOfWork, recording: Recording) -> Taken:
        raw.append(uow, tools.codec, recording, handed.streams, raw.ADDRESS)
        reading = calibrating.calibrate_recording(uow, tools.codec, recording)
        calibrating.keep_setup(uow, recording, reading)
        return Taken(None if reading is None else told(reading, {}).learned)

    return _worked(tools, academy_id, handed, work)


def take_swing(tools: Tools, academy_id: UUID, handed: Handed) -> Taken:
    """Keep a stretch and the swings that it completes."""

    def work(uow: UnitOfWork, recording: Recording) -> Taken:
        found, read = live.extend_recording(uow, tools.codec, recording, handed.streams, handed.key)
        ids = tuple(str(s.id) for s in found)
        learned = None if read is None else read.learned
        return Taken(learned, swings=ids, moved=any(s.sensor_moved for s in found))

    return _worked(tools, academy_id, handed, work)


def take_unread(tools: Tools, academy_id: UUID, handed: Handed) -> Taken:
    """Keep a stretch that could not be read, so that a later engine can."""

    def work(uow: UnitOfWork, recording: Recording) -> Taken:
        live.keep_unread(uow, tools.codec, recording, handed.streams, handed.key)
        return Taken()

    return _worked(tools, academy_id, handed, work)


def take_rest(tools: Tools, academy_id: UUID, handed: Handed) -> Taken:
    """Keep what came after the last swing; it is not looked through any more."""

    def work(uow: UnitOfWork, recording: Recording) -> Taken:
        raw.append(uow, tools.codec, recording, handed.streams, handed.key)
        return Taken()

    return _worked(tools, academy_id, handed, work)


@dataclass(frozen=True)
class Repeated:
    """A repetition of a training block, and how far width and fading have come."""

    block_id: UUID
    made: Repetition
    trainer: tuple[Width, Fading]


def take_repetition(tools: Tools, academy_id: UUID, repeated: Repeated) -> None:
    """Keep a repetition."""
    with tools.open(academy_id) as uow:
        training.keep_repetition(uow, repeated.block_id, repeated.made, repeated.trainer)


def take_end(tools: Tools, academy_id: UUID, recording_id: UUID) -> None:
    """Nothing more is taken in, nor after a crash."""
    with tools.open(academy_id) as uow:
        uow.hold(Recording, recording_id).live = None
