"""What success changes: the band's width, how often there is feedback, and the runs of good repetitions."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

WANTED = 0.7
"""Practice is best where about so many repetitions succeed (common practice)."""
STEP = 0.12
NARROWEST, WIDEST = 0.4, 2.0
"""Of the band's own width (house values)."""
EVERY = (1, 2, 4, 0)
"""Feedback in every, every second, every fourth, then in no repetition (as the trade fades it, common practice)."""
STAGE = 5
"""Repetitions before it is looked whether feedback fades further (house value)."""


@dataclass(frozen=True)
class Width:
    """``share`` of the band's own width; ``locked``: stays."""

    share: float = 1.0
    locked: bool = False

    def after(self, *, good: bool) -> Width:
        """Narrower after a good repetition, wider after another, so that the two balance at ``WANTED`` (the weighted
        up-down method: Kaernbach, Percept Psychophys 49:227, 1991; from memory)."""
        if self.locked:
            return self
        factor = (1.0 - STEP) if good else (1.0 - STEP) ** (-WANTED / (1.0 - WANTED))
        return Width(min(WIDEST, max(NARROWEST, self.share * factor)))


@dataclass(frozen=True)
class Fading:
    """``stage``: which of ``EVERY`` holds; ``since``: repetitions in it, ``good`` of them."""

    stage: int = 0
    since: int = 0
    good: int = 0

    @property
    def every(self) -> int:
        """Feedback in every so many repetitions; 0 for none."""
        return EVERY[self.stage]

    def speaks(self, repetition: int) -> bool:
        """Whether the repetition of this number (from 1) has feedback."""
        return self.every > 0 and (repetition - 1) % self.every == 0

    def after(self, *, good: bool) -> Fading:
        """Less feedback after a stage in which enough succeeded, more after one in which few did."""
        since, hits = self.since + 1, self.good + good
        if since < STAGE:
            return Fading(self.stage, since, hits)
        if hits >= WANTED * since:
            return Fading(min(self.stage + 1, len(EVERY) - 1))
        return Fading(max(self.stage - 1, 0) if hits < 0.4 * since else self.stage)


@dataclass(frozen=True)
class Runs:
    """How many good repetitions stand in a row now, and at best; how many were good of all."""

    current: int = 0
    best: int = 0
    good: int = 0
    made: int = 0


def runs_of(good: Sequence[bool]) -> Runs:
    """Of repetitions in their order."""
    lengths = [(ok, len(list(group))) for ok, group in groupby(good)]
    current = lengths[-1][1] if lengths and lengths[-1][0] else 0
    return Runs(current, max((n for ok, n in lengths if ok), default=0), sum(good), len(good))


RUNGS = ((0.0, "slow"), (0.45, "half"), (0.8, "full"))
"""From which share of the player's own full speed on a rung of the ladder begins (house values)."""


def rung_of(speed_share: float) -> str:
    """The rung of the speed ladder."""
    return [name for least, name in RUNGS if speed_share >= least][-1]


@dataclass(frozen=True)
class Rung:
    """What held at one speed."""

    name: str
    made: int
    good: int


def ladder_of(made: Sequence[tuple[float | None, bool]]) -> list[Rung]:
    """By rung, slow first, from each repetition's share of full speed (None where it is not known) and whether it was
    good."""
    known = [(rung_of(share), good) for share, good in made if share is not None]
    return [
        Rung(name, len(there), sum(there))
        for _, name in RUNGS
        if (there := [good for rung, good in known if rung == name])
    ]


FELT = ("much_less", "less", "same", "more", "much_more")
"""A guess in words, of the metric's own direction, against the band."""


def felt_steps(guess: str, error: float, width: float) -> int:
    """How many steps the guess lies beyond what was measured (``error``: beyond the band, SI, 0 inside), positive where
    more was felt than was there. Raises ``ValueError`` for a word that is none."""
    real = 0 if error == 0.0 else (1 if abs(error) < 0.5 * width else 2) * (1 if error > 0 else -1)
    return FELT.index(guess) - 2 - real
