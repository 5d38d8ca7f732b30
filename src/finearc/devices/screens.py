"""What the screens of a bay see of its take: values, figure, the trainer and what it counts."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from uuid import UUID

import numpy as np

from finearc.core.live.figure import figure_now
from finearc.core.live.take import LiveTake
from finearc.core.training.showing import Showing, Shown
from finearc.core.training.success import Fading, Width
from finearc.core.training.trainer import Repetition
from finearc.devices.coach import Coach, figure_told, told_of
from finearc.devices.feed import Feed, Message
from finearc.devices.link.bay import Bay

WATCHED_S, UNWATCHED_S = 1.0 / 70.0, 0.2
"""So often values are read, real time, where a screen watches and where none does."""
STALLED_S = 0.06
"""While something is trained the rest waits for the next decision, so long at most (house value)."""
REST_S = 0.004
"""So long after a decision the rest is read: the screens are told of it meanwhile (house value)."""
FIGURE_S = 1.0 / 25.0
"""So often the figure is drawn anew where a screen watches (house value)."""


@dataclass
class Screens:
    """``keep`` has a repetition written down: of which block, the repetition, how far width and fading have come.
    ``later`` has a call made after so many seconds. ``coach``: None while nothing is trained."""

    bay: Bay
    feed: Feed
    keep: Callable[[UUID, Repetition, tuple[Width, Fading]], object]
    later: Callable[[float, Callable[[], None]], object]
    coach: Coach | None = None
    _live: LiveTake | None = None
    _showing: Showing | None = None
    _devices: frozenset[str] = field(default_factory=frozenset)
    _shown_s: float = -np.inf
    _shown_front: int = -1
    _steps: int = 0
    _drawn_s: float = 0.0

    def begin(self, live: LiveTake, devices: frozenset[str]) -> None:
        """Show a take, made of what these devices send."""
        self._live, self._showing, self._devices = live, Showing(live), devices
        self.train(self.coach)

    def train(self, coach: Coach | None) -> None:
        """Train this from now on, or nothing."""
        self.coach = coach
        if self._showing is not None:
            self._showing.train(coach.trainer if coach is not None else None)
        self.feed.stand(trainer=coach.standing() if coach is not None else None)

    def show(self, phase: str) -> None:
        """Tell what can be read now: a trainer's decisions as soon as its sensors have come further, the rest after it
        as often as a screen is drawn, and now and then where nobody looks. ``phase``: what the take waits for."""
        if self._showing is None:
            return
        front = self._showing.front() if self.coach is not None else -1
        waited_s = (time.monotonic() - self._shown_s) * self.bay.clock_pace
        decides = front > self._shown_front
        due = waited_s >= (WATCHED_S if self._is_watched else UNWATCHED_S)
        if due and front >= 0 and not decides:  # between two decisions the next may come any moment
            due = waited_s >= STALLED_S
        if decides or due:
            self._look_at_clocks()
        if decides and self.coach is not None:
            self._shown_front = front
            self._tell(self._showing.step(self.coach.trainer.band.metric), phase)
        if due:
            self._shown_s = time.monotonic()
            if decides:  # the decision is on its way to the screens before anything else is worked out
                self.later(REST_S, lambda: self._tell_rest(phase))
            else:
                self._tell_rest(phase)

    def end(self) -> None:
        """Tell nothing more, not even what was about to be told: the screens may show another player next."""
        self._showing = None

    def _tell_rest(self, phase: str) -> None:
        if self._showing is None:
            return
        self._tell(self._showing.step(), phase)
        self._draw()

    @property
    def _is_watched(self) -> bool:
        return bool(self.feed.screens) or self.coach is not None

    def _tell(self, shown: Shown | None, phase: str) -> None:
        if shown is None or not self._is_watched:
            return
        now = told_of(shown, phase)
        if self.coach is not None and shown.decision is not None:
            now["decision"] = self.coach.told(shown.decision)
        self.feed.show(now, *self._note(shown.repetitions))

    def _draw(self) -> None:
        """The figure comes after the values: no decision waits for it."""
        now_s = time.monotonic()
        if not self.feed.screens or self._live is None or now_s - self._drawn_s < FIGURE_S / self.bay.clock_pace:
            return
        self._drawn_s = now_s
        if figure := figure_told(figure_now(self._live)):
            self.feed.show(figure)

    def _look_at_clocks(self) -> None:
        """A repetition within which a clock was set is not counted: its sensors were not joined rightly."""
        steps = sum(d.clock.steps for k, d in self.bay.devices.items() if k in self._devices)
        if steps != self._steps and self.coach is not None:
            self.coach.trainer.tear()
        self._steps = steps

    def _note(self, made: Sequence[Repetition]) -> list[Message]:
        """Repetitions that have ended: told, and kept."""
        coach = self.coach
        if coach is None:
            return []
        told = []
        for repetition in made:
            told.append(coach.note(repetition))
            self.keep(coach.block_id, repetition, (coach.trainer.width, coach.trainer.fading))
        if told:
            self.feed.stand(trainer=coach.standing())
        return told
