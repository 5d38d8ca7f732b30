"""What the steps of a putt's reading are said in, and the putts of one distance that are read together."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from finearc.core.events.model import Checkpoint
from finearc.core.judging.ranges import Judged, Key, Verdict
from finearc.core.metrics.definition import Measured, Metric, Unit
from finearc.core.metrics.words import at_moment, place_words
from finearc.core.putting.notes import Values
from finearc.core.putting.wrists import Begun
from finearc.wording import mark, tr

FOOT_M = 0.3048
OUTSIDE = (Verdict.HIGH, Verdict.LOW)


class Step(StrEnum):
    """The steps in their order."""

    ADDRESS = "address"
    EXTENSION = "extension"
    DEVIATION = "deviation"
    TOGETHER = "together"
    ROTATION = "rotation"
    PUTTER = "putter"
    DISTANCES = "distances"


class Tone(StrEnum):
    """Whether a step says *keep this*, *look here*, shows without judging, or cannot be seen."""

    KEEP = "keep"
    LOOK = "look"
    SHOWN = "shown"
    UNSEEN = "unseen"


@dataclass(frozen=True)
class Said:
    """The same in standard and in plain words."""

    text: str
    plain: str

    def worded(self) -> Said:
        """What was kept, in the reader's language."""
        return Said(tr(self.text), tr(self.plain))

    def capitalised(self) -> Said:
        """As the beginning of something."""
        return Said(self.text.capitalize(), self.plain.capitalize())


@dataclass(frozen=True)
class Fact:
    """A value beside the sentence: its name, its words, and whether it is told *relative* to address, *absolute* or as
    *noted*; empty where none of these says anything, as of a time."""

    name: Said
    words: Said
    told: str


@dataclass(frozen=True)
class StepRead:
    """What a step answers. ``over``: of how many putts; ``note``: what is to be known of how it was measured."""

    step: Step
    tone: Tone
    said: Said
    facts: tuple[Fact, ...] = ()
    over: int = 0
    note: str = ""


@dataclass(frozen=True)
class ReadPutt:
    """A putt that counts: its values (SI) by metric and moment, how they are judged, and the order of its onsets."""

    values: Values
    judged: Mapping[Key, Judged]
    order: Sequence[Sequence[Begun]]


def same(text: str) -> Said:
    """Words that are plain as they are."""
    return Said(text, text)


TO_PLAYER = (
    (mark("The wrist "), mark("Your wrist ")),
    (mark("the wrist "), mark("your wrist ")),
    (mark("The hand "), mark("Your hand ")),
    (mark("the hand "), mark("your hand ")),
    (mark("The hands "), mark("Your hands ")),
    (mark("the hands "), mark("your hands ")),
)
"""What a sentence calls a part, and what it is called to the player."""


def to_player(text: str) -> Said:
    """A sentence about *the* wrist or hand, to the player about *yours*."""
    plain = text
    for part, own in TO_PLAYER:
        plain = plain.replace(tr(part), tr(own))
    return Said(text, plain)


def distance_words(distance_m: float, *, feet: bool = False) -> str:
    """``3 m``, ``4.5 m`` or ``10 ft``."""
    return tr("{value:.3g} ft", value=distance_m / FOOT_M) if feet else f"{distance_m:.3g} m"


@dataclass(frozen=True)
class Row:
    """The putts of one distance (m; None where it is not noted), which are read together."""

    putts: Sequence[ReadPutt]
    distance_m: float | None
    feet: bool = False

    @property
    def at(self) -> str:
        """``at 3 m``, or empty."""
        return (
            ""
            if self.distance_m is None
            else tr(" at {distance_words}", distance_words=distance_words(self.distance_m, feet=self.feet))
        )

    def values(self, metric: Metric, moment: str) -> list[Measured]:
        """Of the putts that have it; what is told from address says nothing there."""
        found = [v for p in self.putts if (v := p.values.get((metric.id, moment))) is not None]
        return [v for v in found if not (moment == Checkpoint.ADDRESS and v.note == "relative")]

    def middle(self, metric: Metric, moment: str) -> float | None:
        """Median (SI) over the putts, or None."""
        found = [v.value for v in self.values(metric, moment)]
        return float(np.median(found)) if found else None

    def outside(self, metric: Metric, moment: str) -> tuple[Verdict | None, Judged | None]:
        """What half of the putts or more are judged (None where none is judged), and the middle one of those."""
        judged = [j for p in self.putts if (j := p.judged.get((metric.id, moment))) is not None and j.range is not None]
        if not judged:
            return None, None
        for verdict in OUTSIDE:
            those = sorted((j for j in judged if j.verdict is verdict), key=lambda j: j.measured.value)
            if 2 * len(those) >= len(judged):
                return verdict, those[len(those) // 2]
        return Verdict.IN_RANGE, judged[0]

    def fact(self, metric: Metric, moment: str, told: str = "") -> list[Fact]:
        """The middle value as a fact; nothing where there is none."""
        middle = self.middle(metric, moment)
        if middle is None:
            return []
        notes = {v.note for v in self.values(metric, moment)}
        how = told or ("relative" if "relative" in notes else "" if metric.unit is Unit.SECONDS else "absolute")
        words = Said(at_moment(metric, moment, middle), at_moment(metric, moment, middle, plain=True))
        at = place_words(moment) if moment in (Checkpoint.TRANSITION, Checkpoint.IMPACT) else ""
        if metric.label.endswith("at the ball"):
            at = ""
        return [Fact(Said(f"{metric.label}{at}", f"{metric.plain_label}{at}"), words, how)]

    def notes(self, metric: Metric, moment: str) -> str:
        """What is noted of how these values were measured, beyond what they are told against."""
        said = dict.fromkeys(v.note for v in self.values(metric, moment) if v.note not in ("", "relative", "absolute"))
        return next(iter(said), "")
