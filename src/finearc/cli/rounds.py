"""``finearc round``: what a player's clips logged of a round."""

from __future__ import annotations

import argparse
import sys
from collections import Counter
from pathlib import Path

import orjson

from finearc.formats.round_bundle import read_round_bundle
from finearc.services.course.round_reading import read_round
from finearc.services.course.round_result import RoundResult, SwingResult, round_result


def print_round(args: argparse.Namespace) -> int:
    """As a table for people or as JSON. Raises ``FineArcError`` for what cannot be used."""
    result = round_result(read_round(read_round_bundle(Path(args.bundle))))
    if args.json:
        sys.stdout.write(orjson.dumps(result.model_dump(mode="json"), option=orjson.OPT_INDENT_2).decode() + "\n")
    else:
        print("\n".join(_table(result)))
    return 0


def _table(result: RoundResult) -> list[str]:
    count = Counter(s.kind.value for s in result.swings)
    lines = [", ".join(f"{count[k]} {name}" for k, name in NAMES.items()), *(f"! {n}" for n in result.notes), ""]
    lines += [_row(s) for s in result.swings if s.kind.value != "other"]
    return [*lines, "", *(c.sentence for c in result.compared)]


NAMES = {"shot": "shots", "practice": "practice swings", "putt": "putts", "other": "other motions"}


def _row(s: SwingResult) -> str:
    at = f"{int(s.time_s // 3600)}:{int(s.time_s % 3600 // 60):02d}:{s.time_s % 60:04.1f}"
    length = s.backswing_length_deg or 0.0
    where = f"{abs(length):.0f}° {'short of level' if length >= 0 else 'past level'}"
    strike = "" if s.impact_s is not None else " · no strike felt"
    sure, spread = f"{100 * s.confidence:3.0f} %", f"± {s.uncertainty_deg or 0:.1f}°"
    return (
        f"{at:>10}  {s.club:15} {s.kind.value:9} {sure}  {where:19} {spread}"
        f"  swept {s.swept_deg or 0:3.0f}°  tempo {s.tempo or 0:.1f}{strike}"
    )
