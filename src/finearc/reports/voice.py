"""How a page speaks to a player: in their words, lengths and hand."""

from __future__ import annotations

import re
from dataclasses import dataclass

from finearc.core.judging.words import for_hand
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.words import at_moment
from finearc.services.records import Player

CM_PER_INCH = 2.54
"""Exactly: international yard and pound agreement of 1959."""
CENTIMETRES = re.compile(r"(?<![\d.])(-?\d+(?:\.\d+)?)( to -?\d+(?:\.\d+)?)? cm\b")


@dataclass(frozen=True)
class Voice:
    """``plain``: the player's words rather than the trade's; ``inches``: lengths in inches."""

    left_handed: bool
    plain: bool
    inches: bool

    @classmethod
    def of(cls, player: Player) -> Voice:
        return cls(player.handedness == "left", player.words != "standard", player.lengths == "in")

    def say(self, text: str) -> str:
        """A sentence as it goes to this player."""
        own = for_hand(text, left_handed=self.left_handed)
        return in_inches(own) if self.inches else own

    def pick(self, standard: str, plain: str) -> str:
        """The one of two wordings that is theirs."""
        return self.say(plain if self.plain else standard)

    def label(self, metric: Metric) -> str:
        """What a measure is called."""
        return metric.plain_label if self.plain else metric.label

    def value(self, metric: Metric, moment: str, value_si: float) -> str:
        """A value in words."""
        return self.say(at_moment(metric, moment, value_si, plain=self.plain))


def in_inches(text: str) -> str:
    """Every length in a sentence, which stands there in centimetres, to a tenth of an inch."""

    def inches(match: re.Match[str]) -> str:
        first, rest = match.group(1), match.group(2)
        told = f"{float(first) / CM_PER_INCH:.1f}"
        if rest:
            told += f" to {float(rest.removeprefix(' to ')) / CM_PER_INCH:.1f}"
        return f"{told} in"

    return CENTIMETRES.sub(inches, text)
