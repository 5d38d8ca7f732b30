"""The stand-in device: plays the golfer model's sensor logs in real time, as a wrist pair would send them."""

from __future__ import annotations

import pickle
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path
from typing import Any, Protocol, cast
from uuid import uuid4

import numpy as np

from finearc.core.calibration.poses import STILL_RAD_S
from finearc.core.frames.handedness import Hand
from finearc.formats.simulated import streams_of
from finearc.golfer.scenarios import Recording, play_story, scenario
from finearc.golfer.style import SwingStyle
from finearc.services.capture.raw import ADDRESS, POSES, Streams, key_of_swing

TICK_S = 0.1
MOST_SWINGS = 14
STILL_SPAN_S = 0.25
MOST_KEPT = 8
AFTER_POSES_S, AFTER_SWING_S = 0.1, 0.05
"""A batch ends so much after what it is about."""


class Listener(Protocol):
    """What the device tells the lesson."""

    def state(self, message: dict[str, Any]) -> None: ...

    def poses(self, batch: Streams, windows: dict[str, list[tuple[float, float]]]) -> bool: ...

    def address(self, batch: Streams) -> None: ...

    def swing(self, batch: Streams, number: int) -> None: ...

    def ended(self, error: Exception | None) -> None: ...


@dataclass(frozen=True)
class Step:
    """One pose or movement of the calibration."""

    name: str
    start_s: float
    end_s: float


def _recording(name: str, seed: int, hand: Hand, sources: Sequence[str]) -> Recording:
    """A scenario with enough swings for a lesson."""
    story = scenario(name)
    styles = list(story.styles)
    if styles and len(styles) < MOST_SWINGS:
        last: SwingStyle = styles[-1]
        styles += [last] * (MOST_SWINGS - len(styles))
    return play_story(replace(story, styles=tuple(styles)), seed, sources=("wrist", *sources), hand=hand)


def _kept(path: Path, make: Callable[[], Recording]) -> Recording:
    """What was played once is not worked out again: a device that goes on after a crash does so at once."""
    with suppress(OSError, EOFError, pickle.UnpicklingError, AttributeError, ImportError):
        return cast(Recording, pickle.loads(path.read_bytes()))
    made = make()
    with suppress(OSError):
        path.parent.mkdir(exist_ok=True, mode=0o700)
        for old in sorted(path.parent.glob("*.pickle"), key=lambda p: p.stat().st_mtime)[:-MOST_KEPT]:
            old.unlink(missing_ok=True)
        fresh = path.with_suffix(f".{uuid4().hex}")
        fresh.write_bytes(pickle.dumps(made, protocol=5))
        fresh.rename(path)
    return made


class StandIn:
    """Plays one recording. ``pace`` 1 is real time; tests play faster. ``sent``: batches of it that were sent before,
    by an application that ended meanwhile."""

    def __init__(
        self,
        listener: Listener,
        name: str,
        seed: int,
        hand: Hand,
        *,
        sources: Sequence[str] = (),
        pace: float = 1.0,
        sent: frozenset[str] = frozenset(),
        played: Path | None = None,
    ) -> None:
        scenario(name)  # an unknown name is refused at once
        make = partial(_recording, name, seed, hand, sources)
        file = f"{name}-{seed}-{hand.value}-{'-'.join(sources)}.pickle"
        self._make = make if played is None else partial(_kept, played / file, make)
        self.listener, self.pace = listener, pace
        self._sent = sent
        self._wanted = threading.Semaphore(0)
        self._stop = threading.Event()
        self._sent_s = 0.0
        self._thread = threading.Thread(target=self._run, name="stand-in", daemon=True)

    def start(self) -> None:
        self._thread.start()

    @property
    def alive(self) -> bool:
        """Whether it still plays."""
        return self._thread.is_alive()

    def request_swings(self, count: int) -> None:
        """Let the stand-in player make so many swings."""
        for _ in range(count):
            self._wanted.release()

    def stop(self) -> None:
        """End the play; what was delivered stays."""
        self._stop.set()
        self._wanted.release()
        if self._thread.is_alive() and threading.current_thread() is not self._thread:
            self._thread.join(5)

    def _cut(self, until_s: float) -> Streams:
        """The logs from where the last batch ended."""
        out = {kind: kind.cut(stream, self._sent_s, until_s) for kind, stream in self._streams.items()}
        self._sent_s = until_s
        return out

    def _still(self, at_s: float) -> bool:
        """Whether every sensor has been still for a moment."""
        for s in self.recording.streams[:2]:
            a, b = np.searchsorted(s.time_s, [at_s - STILL_SPAN_S, at_s])
            if b <= a or float(np.linalg.norm(s.gyr_rad_s[a:b], axis=1).mean()) > STILL_RAD_S:
                return False
        return True

    def _run(self) -> None:
        error: Exception | None = None
        try:
            self._perform()
        except Exception as caught:
            error = caught
        self.listener.ended(error)

    def _perform(self) -> None:
        self.recording = self._make()
        self._streams = streams_of(self.recording)
        if POSES in self._sent:
            self._sent_s = self._steps()[-1].end_s + AFTER_POSES_S
        elif not self._calibrate():
            return
        swings = self.recording.truth.swings
        first = swings[0].start_s + 1.0 if swings else float(self.recording.streams[0].time_s[-1])
        if ADDRESS in self._sent:
            self._sent_s = first
        else:
            self._play(self._sent_s, first, lambda _: {"type": "settling"})
            if self._stop.is_set():
                return
            self.listener.address(self._cut(first))
        self._swings(len(swings))

    def _steps(self) -> list[Step]:
        windows = self.recording.truth.windows
        steps = [Step(name, *w) for name, spans in windows.items() for w in spans]
        return sorted(steps, key=lambda s: s.start_s)

    def _calibrate(self) -> bool:
        previous = 0.0
        for step in self._steps():
            self._play(previous, step.end_s, self._pose_state(step))
            previous = step.end_s
            if self._stop.is_set():
                return False
        end = previous + AFTER_POSES_S
        return self.listener.poses(self._cut(end), self.recording.truth.windows)

    def _pose_state(self, step: Step) -> Callable[[float], dict[str, Any]]:
        def state(at_s: float) -> dict[str, Any]:
            holding = self._still(at_s) or step.name in ("flexion", "deviation")
            left = step.end_s - at_s
            started = holding and left <= step.end_s - step.start_s + 0.3
            return {"type": "pose", "pose": step.name, "hold": started, "left_s": round(max(0.0, left), 1)}

        return state

    def _play(self, start_s: float, end_s: float, state: Callable[[float], dict[str, Any]]) -> None:
        at = start_s
        while at < end_s and not self._stop.is_set():
            self.listener.state(state(at))
            step = min(TICK_S, end_s - at)
            time.sleep(step / self.pace)
            at += step

    def _swings(self, count: int) -> None:
        for number in range(count):
            if key_of_swing(number) in self._sent:
                self._sent_s = self.recording.truth.swings[number].end_s + AFTER_SWING_S
                continue
            self.listener.state({"type": "ready", "left": count - number})
            self._wanted.acquire()
            if self._stop.is_set():
                return
            end = self.recording.truth.swings[number].end_s + AFTER_SWING_S
            self._play(max(self._sent_s, end - 3.0), end, lambda _: {"type": "swinging"})
            self.listener.swing(self._cut(end), number)
        self.listener.state({"type": "ready", "left": 0})
