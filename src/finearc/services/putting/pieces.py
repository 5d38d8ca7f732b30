"""What of a putt hangs together: whoever changes one piece asks for the others."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from finearc.catalogue.library import putting_pieces
from finearc.catalogue.schemas import PieceEntry
from finearc.core.judging.putt_row import Row, Said, same
from finearc.core.judging.putt_steps import IMPACT, SQUARE_RAD, most_common_order
from finearc.core.metrics.definition import Metric
from finearc.core.metrics.families import putting as pm
from finearc.core.metrics.words import amount, in_words
from finearc.services.records import Swing
from finearc.wording import mark, tr

NOT_SEEN = same(mark("not seen"))
STARTS_WITH_FACE = 0.85
"""Of a ball's start direction so much is the face, the rest the path (rule of thumb, 0.8 to 0.9)."""


@dataclass(frozen=True)
class Piece:
    """One piece with how it stands ``now``."""

    entry: PieceEntry
    now: Said


def pieces_of(row: Row, noted: Sequence[Swing]) -> list[Piece]:
    """The pieces as the putts of one distance show them; ``noted``: the same putts, for where they went."""
    now = {
        "face_aim": _value(row, pm.PUTTER_FACE, "address"),
        "grip_bias": _value(row, pm.FACE_GRIP_BIAS, "address"),
        "order": most_common_order(row) or NOT_SEEN.worded(),
        "forearm": _turning(row),
        "start_line": _start_line(row, noted),
    }
    return [Piece(entry, now[entry.id]) for entry in putting_pieces()]


def _value(row: Row, metric: Metric, moment: str) -> Said:
    found = row.middle(metric, moment)
    if found is None:
        return NOT_SEEN.worded()
    if metric is pm.PUTTER_FACE and abs(found) <= SQUARE_RAD:
        return same("square")
    return Said(in_words(metric, found), in_words(metric, found, plain=True))


def _turning(row: Row) -> Said:
    rate = row.middle(pm.ROLL_RATE, IMPACT)
    return (
        NOT_SEEN.worded()
        if rate is None
        else same(tr("turning {amount} at the ball", amount=amount(pm.ROLL_RATE, rate)))
    )


def _start_line(row: Row, noted: Sequence[Swing]) -> Said:
    """Where the balls start by the putter, and what was noted of where they went."""
    face, path = row.middle(pm.PUTTER_FACE, IMPACT), row.middle(pm.PUTTER_PATH, IMPACT)
    seen = [] if face is None or path is None else [_starts(STARTS_WITH_FACE * face + (1 - STARTS_WITH_FACE) * path)]
    went = [s.outcome for s in noted if s.outcome]
    holed = [tr("{n} of {went} holed", n=went.count("holed"), went=len(went))] if went else []
    sides = [f"{went.count(way)} {way}" for way in ("left", "right") if way in went]
    told = ", ".join([*seen, *holed, *sides])
    return same(told) if told else NOT_SEEN.worded()


def _starts(heading_rad: float) -> str:
    return (
        tr("about square")
        if abs(heading_rad) <= SQUARE_RAD
        else tr("about {in_words}", in_words=in_words(pm.PUTTER_FACE, heading_rad))
    )
