"""The stand-in device: plays the golfer model's sensor logs in real time, as a wrist pair would send them."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from typing import Any, Protocol

from finearc.devices.simulated.plays import Play, Plays, Score, Step
from finearc.golfer.scenarios import scenario
from finearc.services.capture.raw import ADDRESS, POSES, Streams, key_of_swing

TICK_S = 0.1
SWING_S = 3.0
"""So long a swing is said to be under way, with what comes before it."""


class Listener(Protocol):
    """What the device tells the lesson."""

    def state(self, message: dict[str, Any]) -> None: ...

    def poses(self, batch: Streams, windows: dict[str, list[tuple[float, float]]]) -> bool: ...

    def address(self, batch: Streams) -> None: ...

    def swing(self, batch: Streams, number: int) -> None: ...

    def ended(self, error: Exception | None) -> None: ...


class StandIn:
    """Plays one recording. ``pace`` 1 is real time; tests play faster. ``sent``: batches of it that were sent before,
    by an application that ended meanwhile."""

    def __init__(
        self, listener: Listener, plays: Plays, score: Score, *, pace: float = 1.0, sent: frozenset[str] = frozenset()
    ) -> None:
        scenario(score.name)  # an unknown name is refused at once
        self.listener, self.score, self.pace = listener, score, pace
        self.waiting_since: float | None = None
        self._plays = plays
        self._sent = sent
        self._wanted = threading.Semaphore(0)
        self._stop = threading.Event()
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

    def _run(self) -> None:
        error: Exception | None = None
        try:
            self._perform(self._plays.get(self.score))
        except Exception as caught:
            error = caught
        self.listener.ended(error)

    def _batch(self, key: str) -> Streams:
        return self._plays.batch(self.score, key)

    def _perform(self, play: Play) -> None:
        at_s = dict(play.batches())[POSES]
        if POSES not in self._sent and not self._calibrate(play):
            return
        if ADDRESS not in self._sent:
            self._play(at_s, play.address_s, lambda _: {"type": "settling"})
            if self._stop.is_set():
                return
            self.listener.address(self._batch(ADDRESS))
        self._swings(play)

    def _calibrate(self, play: Play) -> bool:
        previous = 0.0
        for step in play.steps:
            self._play(previous, step.end_s, self._pose_state(play, step))
            previous = step.end_s
            if self._stop.is_set():
                return False
        return self.listener.poses(self._batch(POSES), {name: list(spans) for name, spans in play.windows.items()})

    def _pose_state(self, play: Play, step: Step) -> Callable[[float], dict[str, Any]]:
        def state(at_s: float) -> dict[str, Any]:
            holding = play.is_still(at_s) or step.name in ("flexion", "deviation")
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

    def _swings(self, play: Play) -> None:
        count, sent_s = len(play.swing_ends_s), play.address_s
        for number, end_s in enumerate(play.swing_ends_s):
            begun_s, sent_s = sent_s, end_s
            if key_of_swing(number) in self._sent:
                continue
            self.listener.state({"type": "ready", "left": count - number})
            self._await_wish()
            if self._stop.is_set():
                return
            self._play(max(begun_s, end_s - SWING_S), end_s, lambda _: {"type": "swinging"})
            self.listener.swing(self._batch(key_of_swing(number)), number)
        self.listener.state({"type": "ready", "left": 0})

    def _await_wish(self) -> None:
        if not self._wanted.acquire(blocking=False):
            self.waiting_since = time.monotonic()
            self._wanted.acquire()
            self.waiting_since = None
