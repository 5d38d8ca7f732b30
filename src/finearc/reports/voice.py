"""How a page speaks to a player: in their words, and as this player's hand sees it. Language and units are the manner
in which the page is made."""

from __future__ import annotations

from dataclasses import dataclass

from finearc.core.judging.words import for_hand
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.words import at_moment
from finearc.services.records import Player


@dataclass(frozen=True)
class Voice:
    """``plain``: the player's words rather than the trade's."""

    left_handed: bool
    plain: bool

    @classmethod
    def of(cls, player: Player) -> Voice:
        return cls(player.handedness == "left", player.words != "standard")

    def say(self, text: str) -> str:
        """A sentence as it goes to this player."""
        return for_hand(text, left_handed=self.left_handed)

    def pick(self, standard: str, plain: str) -> str:
        """The one of two wordings that is theirs."""
        return self.say(plain if self.plain else standard)

    def label(self, metric: Metric) -> str:
        """What a measure is called."""
        return metric.plain_label if self.plain else metric.label

    def value(self, metric: Metric, moment: str, value_si: float) -> str:
        """A value in words."""
        return self.say(at_moment(metric, moment, value_si, plain=self.plain))
