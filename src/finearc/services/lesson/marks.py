"""What an instructor notes of a swing: its kind, the ball, the strike, words to find it by."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from finearc.core.events.swings import Shot
from finearc.services.errors import Refused
from finearc.services.records import Swing
from finearc.wording import mark, tr

KINDS = {
    "warm_up": mark("warm-up"),
    "normal": mark("normal"),
    "drill": mark("drill"),
    "no_ball": mark("no ball"),
    "test": mark("test"),
    "discard": mark("discard"),
}
SIDES = ("lead", "straight", "trail")
STRIKES = ("centre", "toe", "heel", "thin", "fat")

Fields = tuple[dict[str, Any], str]
"""Fields of a swing with their new values, and what the change is called."""


def kind_fields(swing: Swing, kind: str, reason: str = "") -> Fields:
    """Mark the kind; a discard needs a reason."""
    if kind not in KINDS:
        raise Refused(tr('there is no kind "{kind}"', kind=kind), tr("Known: {kinds}", kinds=", ".join(KINDS)))
    if kind == "discard" and not reason.strip():
        raise Refused(tr("a discarded swing needs a reason"), tr("Say why, for example: topped, sensor loose"))
    fields = {"kind": kind, "discard_reason": reason if kind == "discard" else ""}
    return fields, tr("swing {number}: {kinds}", number=swing.number, kinds=KINDS[kind])


def ball_fields(swing: Swing, start: str, curve: str) -> Fields:
    """Where the ball started and curved, by lead and trail side; both empty clears it."""
    if (start, curve) != ("", "") and (start not in SIDES or curve not in SIDES):
        raise Refused(tr("start and curve are each lead, straight or trail"))
    return {"ball_start": start, "ball_curve": curve}, tr("swing {number}: ball flight", number=swing.number)


def strike_fields(swing: Swing, strike: str) -> Fields:
    """How the ball was struck; empty clears it."""
    if strike and strike not in STRIKES:
        raise Refused(
            tr('there is no strike "{strike}"', strike=strike), tr("Known: {strikes}", strikes=", ".join(STRIKES))
        )
    return {"strike": strike}, tr("swing {number}: strike", number=swing.number)


PUTT = {
    "distance_m": mark("distance"),
    "outcome": "",
    "rolled_past_m": mark("how far past"),
    "slope": mark("slope"),
    "breaks": mark("break"),
}
"""What is noted of a putt, and what noting it is called; an outcome is called by itself."""


def putt_fields(swing: Swing, given: Mapping[str, Any]) -> Fields:
    """What is noted of a putt; None, or empty, clears it."""
    if swing.shot != Shot.PUTT:
        raise Refused(tr("swing {number} is no putt", number=swing.number), tr("Note distance and outcome of putts"))
    words = [tr(PUTT[name]) or tr(str(value or "outcome")) for name, value in given.items()]
    return dict(given), tr("swing {number}: {words}", number=swing.number, words=", ".join(words))


def tag_fields(swing: Swing, tags: Sequence[str]) -> Fields:
    """Words by which the swing is found again, such as *skilled*; at most 40 letters each."""
    clean = list(dict.fromkeys(" ".join(t.lower().split()) for t in tags if t.strip()))
    if any(len(t) > 40 for t in clean):
        raise Refused(tr("a tag has at most 40 letters"), tr("Choose a shorter word"))
    return {"tags": clean}, tr("swing {number}: {value}", number=swing.number, value=", ".join(clean) or tr("no tag"))
