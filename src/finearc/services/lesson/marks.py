"""What an instructor notes of a swing: its kind, the ball, the strike, words to find it by."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from finearc.core.events.swings import Shot
from finearc.services.errors import Refused
from finearc.services.records import Swing

KINDS = {
    "warm_up": "warm-up",
    "normal": "normal",
    "drill": "drill",
    "no_ball": "no ball",
    "test": "test",
    "discard": "discard",
}
SIDES = ("lead", "straight", "trail")
STRIKES = ("centre", "toe", "heel", "thin", "fat")

Fields = tuple[dict[str, Any], str]
"""Fields of a swing with their new values, and what the change is called."""


def kind_fields(swing: Swing, kind: str, reason: str = "") -> Fields:
    """Mark the kind; a discard needs a reason."""
    if kind not in KINDS:
        raise Refused(f'there is no kind "{kind}"', f"Known: {', '.join(KINDS)}")
    if kind == "discard" and not reason.strip():
        raise Refused("a discarded swing needs a reason", "Say why, for example: topped, sensor loose")
    fields = {"kind": kind, "discard_reason": reason if kind == "discard" else ""}
    return fields, f"swing {swing.number}: {KINDS[kind]}"


def ball_fields(swing: Swing, start: str, curve: str) -> Fields:
    """Where the ball started and curved, by lead and trail side; both empty clears it."""
    if (start, curve) != ("", "") and (start not in SIDES or curve not in SIDES):
        raise Refused("start and curve are each lead, straight or trail")
    return {"ball_start": start, "ball_curve": curve}, f"swing {swing.number}: ball flight"


def strike_fields(swing: Swing, strike: str) -> Fields:
    """How the ball was struck; empty clears it."""
    if strike and strike not in STRIKES:
        raise Refused(f'there is no strike "{strike}"', f"Known: {', '.join(STRIKES)}")
    return {"strike": strike}, f"swing {swing.number}: strike"


PUTT = {"distance_m": "distance", "outcome": "", "rolled_past_m": "how far past", "slope": "slope", "breaks": "break"}
"""What is noted of a putt, and what noting it is called; an outcome is called by itself."""


def putt_fields(swing: Swing, given: Mapping[str, Any]) -> Fields:
    """What is noted of a putt; None, or empty, clears it."""
    if swing.shot != Shot.PUTT:
        raise Refused(f"swing {swing.number} is no putt", "Note distance and outcome of putts")
    words = [PUTT[name] or str(value or "outcome") for name, value in given.items()]
    return dict(given), f"swing {swing.number}: {', '.join(words)}"


def tag_fields(swing: Swing, tags: Sequence[str]) -> Fields:
    """Words by which the swing is found again, such as *skilled*; at most 40 letters each."""
    clean = list(dict.fromkeys(" ".join(t.lower().split()) for t in tags if t.strip()))
    if any(len(t) > 40 for t in clean):
        raise Refused("a tag has at most 40 letters", "Choose a shorter word")
    return {"tags": clean}, f"swing {swing.number}: {', '.join(clean) or 'no tag'}"
