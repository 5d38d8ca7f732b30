"""Any story of the golfer model by its name: of swings, and of putts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace

from finearc.core.events.swings import Shot
from finearc.core.frames.handedness import Hand
from finearc.core.signals.streams import Segment
from finearc.golfer.putting.scenarios import PUTTING, SENSORS as PUTTING_SENSORS, PuttingRecording, play_putting
from finearc.golfer.scenarios import SCENARIOS, SENSORS, Recording, UnknownScenario, play_story
from finearc.golfer.style import SwingStyle

MOST_SWINGS = 14
"""Enough for a lesson; a story of putts has as many as it tells of."""
AnyRecording = Recording | PuttingRecording


def refuse_unknown(name: str) -> None:
    """Raises ``UnknownScenario`` with the nearest."""
    if name not in SCENARIOS and name not in PUTTING:
        raise UnknownScenario(name, (*SCENARIOS, *PUTTING))


def shot_of(name: str) -> Shot:
    """What kind of shot a story is of. Raises ``UnknownScenario``."""
    refuse_unknown(name)
    return Shot.PUTT if name in PUTTING else SCENARIOS[name].shot


def most_swings(name: str) -> int:
    """How many swings or putts a stand-in makes. Raises ``UnknownScenario``."""
    refuse_unknown(name)
    return len(PUTTING[name].putts) if name in PUTTING else MOST_SWINGS


def sources_of(name: str) -> Mapping[str, Sequence[Segment]]:
    """What can be simulated in a story, with the inertial sensors of each. Raises ``UnknownScenario``."""
    return PUTTING_SENSORS if shot_of(name) is Shot.PUTT else SENSORS


def segments_of(name: str, sources: Sequence[str]) -> list[Segment]:
    """The inertial sensors that are worn. Raises ``UnknownScenario``."""
    return [s for source in sources for s in sources_of(name).get(source, ())]


def play_lesson(name: str, seed: int, hand: Hand, sources: Sequence[str]) -> AnyRecording:
    """A story with enough swings for a lesson, the wrist pair and these sources worn. Raises ``UnknownScenario``."""
    refuse_unknown(name)
    worn = ("wrist", *sources)
    if name in PUTTING:
        return play_putting(PUTTING[name], seed, sources=worn, hand=hand)
    story = SCENARIOS[name]
    styles = list(story.styles)
    if styles and len(styles) < MOST_SWINGS:
        last: SwingStyle = styles[-1]
        styles += [last] * (MOST_SWINGS - len(styles))
    return play_story(replace(story, styles=tuple(styles)), seed, sources=worn, hand=hand)
