"""The usual ball flight of a lesson, and what fits with it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

OPPOSITE = {
    "slice": "hook",
    "fade": "hook",
    "hook": "slice",
    "push": "pull",
    "pull": "push",
    "thin": "fat",
    "fat": "thin",
    "high": "low",
    "low": "high",
}
START = {"trail": "push", "lead": "pull"}
CURVE = {"trail": "slice", "lead": "hook"}
USUAL_SHARE = 1 / 3
"""A flight that at least this share of the swings shows is usual (house value)."""
TOLD = ("slice", "fade", "hook", "push", "pull", "thin", "fat", "high", "low", "short")


@dataclass(frozen=True)
class Shot:
    """Start line and curve by side (lead, straight, trail or empty), and the strike."""

    start: str
    curve: str
    strike: str = ""

    @property
    def seen(self) -> bool:
        return bool(self.start or self.curve)


@dataclass(frozen=True)
class Flight:
    """``words`` of the usual flight, most frequent first; the usual ``start`` and ``curve`` by side, with how many of
    the ``seen`` balls show them; ``told`` when it is only what the player says of the usual miss."""

    words: tuple[str, ...] = ()
    seen: int = 0
    start: str = ""
    curve: str = ""
    start_count: int = 0
    curve_count: int = 0
    told: bool = False


def usual_flight(shots: Sequence[Shot], usual_miss: str = "") -> Flight:
    """Over the swings of a lesson; without a ball noted, what the player calls the usual miss."""
    seen = [s for s in shots if s.seen]
    words = [w for s in shots for w in _words(s)]
    least = max(1.0, USUAL_SHARE * len(seen or shots))
    frequent = tuple(w for w, n in Counter(words).most_common() if n >= least)
    if not seen and not frequent:
        miss = usual_miss.lower()
        return Flight(tuple(w for w in TOLD if w in miss), told=True)
    starts, curves = Counter(s.start for s in seen if s.start), Counter(s.curve for s in seen if s.curve)
    start, start_count = starts.most_common(1)[0] if starts else ("", 0)
    curve, curve_count = curves.most_common(1)[0] if curves else ("", 0)
    return Flight(frequent, len(seen), start, curve, start_count, curve_count)


def _words(shot: Shot) -> list[str]:
    named = [START.get(shot.start, ""), CURVE.get(shot.curve, ""), shot.strike if shot.strike in OPPOSITE else ""]
    return [w for w in named if w]


def fits(ball: Sequence[str], flight: Flight) -> list[str]:
    """The usual words that a finding's ball flight explains."""
    return [w for w in flight.words if w in ball]


def contradicts(ball: Sequence[str], flight: Flight) -> tuple[str, str] | None:
    """(what it tends to do, what the ball does), when a finding points only the other way than the ball flies."""
    if fits(ball, flight):
        return None
    for word in flight.words:
        against = [b for b in ball if OPPOSITE.get(b) == word]
        if against and word not in ball:
            return against[0], word
    return None
