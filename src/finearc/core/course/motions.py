"""All motions of a round in the order of time: each swing, and each waking of a clip in which nothing was swung."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from finearc.core.course.clip_log import Recording, recordings_of
from finearc.core.course.kinds import MotionKind, Named, name_of
from finearc.core.course.swung import ClubSwing, swings_in
from finearc.core.signals.streams import ImuStream

NOTHING_SWUNG = 0.95
"""How sure one is that a waking without any to and fro holds no shot (house value)."""


@dataclass(frozen=True)
class Motion:
    """One motion of a club between two instants, s: what it was, and its swing where there was one."""

    club: str
    start_s: float
    end_s: float
    named: Named
    swing: ClubSwing | None

    @property
    def at_s(self) -> float:
        """When it began to move: a swing's takeaway."""
        return self.start_s if self.swing is None else self.swing.takeaway_s


def motions_of(logs: Mapping[str, ImuStream]) -> list[Motion]:
    """Everything the clips of a round logged, by club. Raises ``StreamError`` for a log that cannot be used."""
    found = [m for club, log in logs.items() for recording in recordings_of(club, log) for m in _in(recording)]
    return sorted(found, key=lambda m: m.at_s)


def _in(recording: Recording) -> Iterable[Motion]:
    """The swings of one waking; where nothing in it was one, the waking as a whole."""
    named = [(s, name_of(s)) for s in swings_in(recording)]
    meant = [(s, n) for s, n in named if n.kind is not MotionKind.OTHER]
    start_s, end_s = float(recording.time_s[0]), float(recording.time_s[-1])
    if meant:
        return [Motion(recording.club, s.start_s, s.end_s, n, s) for s, n in meant]
    if named:  # the least unlike a swing stands for the waking
        swing, name = min(named, key=lambda pair: pair[1].confidence)
        return [Motion(recording.club, start_s, end_s, name, swing)]
    return [Motion(recording.club, start_s, end_s, Named(MotionKind.OTHER, NOTHING_SWUNG, None), None)]
