"""Why a block stands where it stands, in words that a player understands."""

from __future__ import annotations

from collections.abc import Mapping

from finearc.core.practice.plan import Because, Block
from finearc.wording import mark, tr

SAID: Mapping[Because, str] = {
    Because.FIRST: mark("The first one: soon after the lesson, while the feel is fresh."),
    Because.SPACED: mark("On another day than the last: what is spread out stays longer."),
    Because.SAME_DAY: mark("After a pause on the same day: there is time for two short ones, not one long."),
    Because.ALONE: mark("One thing alone while it is new."),
    Because.MIXED: mark("Both in turn: each passed its first test, and mixing them makes them hold."),
    Because.FULL_FEEDBACK: mark("With feedback on every repetition."),
    Because.FADING: mark("Feedback on {share} of the repetitions only: look less, feel more."),
    Because.WITHOUT: mark("Without any feedback, once a week: does it stay?"),
    Because.MOVED: mark("Moved here from a day that was missed."),
}


def reasons(block: Block) -> list[str]:
    """A sentence for each."""
    share = f"{100 * block.feedback:.0f} %"
    return [tr(SAID[why]).format(share=share) for why in block.because]
