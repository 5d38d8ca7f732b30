"""What the stand-ins play: a recording of the golfer model, laid down batch by batch on disk in an open form, so that a
device holds no more of it than the batch it is about to send, and one that goes on after a crash does so at once."""

from __future__ import annotations

import json
import os
import shutil
import threading
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np

from finearc.core.calibration.poses import STILL_RAD_S
from finearc.core.frames.handedness import Hand
from finearc.core.sources.kind import Columns, Kind
from finearc.golfer.played import AnyRecording, play_lesson
from finearc.services.capture.raw import ADDRESS, POSES, Streams, key_of_swing
from finearc.services.modelled import streams_of
from finearc.services.ports import RawCodec

MOST_KEPT = 32
"""Plays on disk; the one that was least recently played goes first, and is made again when it is wanted."""
STILL_SPAN_S, LOOK_EVERY_S = 0.25, 0.05
AFTER_POSES_S, AFTER_SWING_S, BEFORE_ADDRESS_S = 0.1, 0.05, 1.0
"""A batch ends so much after what it is about; the address is kept so long after the player has settled."""
INDEX = "play.json"
Spans = list[tuple[float, float]]


@dataclass(frozen=True)
class Step:
    """One pose or movement of the calibration."""

    name: str
    start_s: float
    end_s: float


@dataclass(frozen=True)
class Play:
    """When a stand-in sends what. ``windows`` (s): the calibration's poses by name; ``swing_starts_s`` and
    ``swing_ends_s``: from when the player stands at each address, and when each swing is over; ``address_s``: when the
    address before the first is; ``still``: whether every wrist sensor has been still for a moment, every
    ``LOOK_EVERY_S`` until the last pose; ``described``: what stands beside the columns, by batch and kind."""

    windows: Mapping[str, Spans]
    address_s: float
    swing_ends_s: Sequence[float]
    still: Sequence[bool]
    swing_starts_s: Sequence[float]
    described: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)

    @property
    def steps(self) -> list[Step]:
        """The calibration in the order of time."""
        steps = [Step(name, *w) for name, spans in self.windows.items() for w in spans]
        return sorted(steps, key=lambda s: s.start_s)

    def is_still(self, at_s: float) -> bool:
        """Whether the player holds still."""
        return self.still[min(len(self.still) - 1, max(0, round(at_s / LOOK_EVERY_S)))]

    def batches(self) -> list[tuple[str, float]]:
        """Key and end (s) of every batch, in the order of sending."""
        ends = [(key_of_swing(k), end) for k, end in enumerate(self.swing_ends_s)]
        return [(POSES, self.steps[-1].end_s + AFTER_POSES_S), (ADDRESS, self.address_s), *ends]


def play_of(recording: AnyRecording) -> Play:
    """The order of events in a recording."""
    swings = recording.truth.swings
    last = float(recording.streams[0].time_s[-1])
    posed = max((b for spans in recording.truth.windows.values() for _, b in spans), default=0.0)
    return Play(
        {name: [(float(a), float(b)) for a, b in spans] for name, spans in recording.truth.windows.items()},
        float(swings[0].start_s) + BEFORE_ADDRESS_S if swings else last,
        [float(s.end_s) + AFTER_SWING_S for s in swings],
        [_still(recording, at) for at in np.arange(0.0, posed + LOOK_EVERY_S, LOOK_EVERY_S)],
        [float(s.start_s) for s in swings],
    )


def _still(recording: AnyRecording, at_s: float) -> bool:
    for s in recording.streams[:2]:
        a, b = np.searchsorted(s.time_s, [at_s - STILL_SPAN_S, at_s])
        if b <= a or float(np.linalg.norm(s.gyr_rad_s[a:b], axis=1).mean()) > STILL_RAD_S:
            return False
    return True


@dataclass(frozen=True)
class Score:
    """What is to be played: scenario, seed, hand, and the sources beside the wrist pair."""

    name: str
    seed: int
    hand: Hand
    sources: tuple[str, ...] = ()

    @property
    def file(self) -> str:
        return "-".join([self.name, str(self.seed), self.hand.value, *self.sources])


class Plays:
    """The plays in a folder: one directory each, an index in JSON and the batches' columns as ``codec`` packs them. One
    recording is worked out at a time: that takes hundreds of megabytes for a while."""

    def __init__(self, folder: Path, codec: RawCodec) -> None:
        self._folder, self._codec = folder, codec
        self._lock = threading.Lock()

    def get(self, score: Score) -> Play:
        """The play, worked out when it is not there."""
        kept = self._read(score)  # whoever plays does not wait for one that is being worked out
        if kept is not None:
            return kept
        with self._lock:
            return self._read(score) or self._make(score)

    def batch(self, score: Score, key: str) -> Streams:
        """The streams of one batch."""
        play = self.get(score)
        by_kind: dict[Kind, dict[str, list[Columns]]] = {}
        for path in sorted((self._folder / score.file / key).iterdir()):
            group = path.name.split("~")[0]
            kind = self._codec.kind_of(group)
            assert kind is not None, group  # it was packed by one
            by_kind.setdefault(kind, {}).setdefault(group, []).append(self._codec.unpack(path.read_bytes()))
        told = play.described[key]
        return {kind: kind.unpack(groups, told.get(kind.key, {})) for kind, groups in by_kind.items()}

    def _read(self, score: Score) -> Play | None:
        place = self._folder / score.file
        with suppress(OSError, ValueError, TypeError):
            play = Play(**json.loads((place / INDEX).read_text(encoding="utf-8")))
            os.utime(place)
            return play
        return None

    def _make(self, score: Score) -> Play:
        recording = play_lesson(score.name, score.seed, score.hand, score.sources)
        play, streams = play_of(recording), streams_of(recording)
        self._folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        self._forget_old()
        making = self._folder / f".{uuid4().hex}"
        described, start_s = {}, 0.0
        for key, end_s in play.batches():
            cut = {kind: kind.cut(stream, start_s, end_s) for kind, stream in streams.items()}
            described[key] = self._write(making / key, cut)
            start_s = end_s
        play = replace(play, described=described)
        (making / INDEX).write_text(json.dumps(asdict(play)), encoding="utf-8")
        place = self._folder / score.file
        shutil.rmtree(place, ignore_errors=True)  # of a version that read it otherwise
        making.rename(place)
        return play

    def _write(self, place: Path, streams: Streams) -> dict[str, Any]:
        place.mkdir(parents=True)
        described = {}
        for kind, stream in streams.items():
            packed = kind.pack(stream)
            described[kind.key] = dict(packed.described)
            for group, pieces in packed.groups.items():
                for k, piece in enumerate(pieces):
                    (place / f"{group}~{k:03d}.parquet").write_bytes(self._codec.pack(piece))
        return described

    def _forget_old(self) -> None:
        """Make room; also what an application left half made that ended meanwhile."""
        found = sorted(self._folder.iterdir(), key=lambda p: p.stat().st_mtime)
        half = [p for p in found if p.name.startswith(".")]
        whole = [p for p in found if p not in half]
        for path in [*half, *whole[: max(0, len(whole) - MOST_KEPT + 1)]]:
            shutil.rmtree(path, ignore_errors=True) if path.is_dir() else path.unlink(missing_ok=True)
