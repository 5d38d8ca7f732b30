"""What is never said to a player, and what the letters of a provenance stand for."""

from __future__ import annotations

import re

from finearc.wording import mark, tr

HARSH = ("weak", "poor", "sag", "flip", "thrown", "arms only", "fault", "wrong", "bad", "lazy", "stiff")
"""Words that insult or diagnose; to the player a fault is a difference."""

LETTERS = {
    "CP": mark("common practice"),
    "PUB": mark("published"),
    "MEM": mark("published, figure from memory"),
    "HOUSE": mark("house value"),
    "ACADEMY": mark("the academy's own"),
    "COHORT": mark("from captured swings"),
}


def harsh_word(text: str) -> str:
    """The first word of the text that no player should read; empty when there is none."""
    found = re.search(rf"\b({'|'.join(HARSH)})", text.lower())
    return found[1] if found else ""


def provenance_words(letters: str, source: str = "") -> str:
    """``CP/HOUSE`` in words, with the source where one is named: what stands beside every band."""
    named = ", ".join(tr(LETTERS[part]) for part in letters.split("/"))
    if source:
        return f"{named}: {source}"
    return named
