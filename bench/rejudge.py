"""Re-judging stored swings under another version of the ranges: ``python -m bench.rejudge``.

Times, on one core and in turns in one run, what an academy waits for when it asks what another version would change:
from the stored block of values to verdicts, findings and the difference. Beside it, as a floor, the bare reading of
the same blocks, and as the other way, measuring again from the raw streams.
"""

from __future__ import annotations

import argparse
import time
from collections.abc import Callable
from uuid import uuid4

import numpy as np

from finearc.catalogue import library
from finearc.catalogue.rule_set import RuleSet, built_in, with_ranges
from finearc.golfer.population import INJECTED
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.judging.analysis import CaptureData, analyse
from finearc.services.judging.rejudge import judge_stored
from finearc.services.judging.terms import Terms
from finearc.services.modelled import capture_of
from finearc.services.record.codec import pack_record, unpack_values
from finearc.services.record.making import Surroundings, record_of
from finearc.services.records import Swing

Stored = tuple[Swing, bytes]

SETS = {"wrist + club": ("wrist", "club"), "all sources": ("wrist", "body", "club", "markers", "pressure")}
GOAL = 2000


def wider(share: float) -> RuleSet:
    """The built-in ranges, every two-sided one wider by a share of its width, as an academy's version might be."""
    entries = []
    for e in library.ranges().entries:
        written = e.model_dump(mode="json", exclude_defaults=True)
        if e.low is not None and e.high is not None:
            by = share * (e.high - e.low)
            written |= {"low": e.low - by, "high": e.high + by}
        entries.append(written)
    return with_ranges(library.ranges_of_dict({"version": "wider", "range": entries}, "wider"))


def stored(sources: tuple[str, ...]) -> tuple[list[Stored], CaptureData]:
    """Swings with their records as the store keeps them, of several players, and one capture to measure again."""
    swings: list[Stored] = []
    data = None
    for seed, name in enumerate(("slide_away", "over_extended_top", "takeaway_dip", "early_extension")):
        story = Scenario((INJECTED[name],) * 5, name)
        data = capture_of(play_story(story, seed, sources=sources))
        analysis = analyse(data)
        for k, swing in enumerate(analysis.swings):
            record = record_of(swing.reading, Surroundings.of(analysis.reading, data.height_m)).record
            row = Swing(uuid4(), uuid4(), uuid4(), uuid4(), k, 0.0, 1.0, "normal", "7-iron")
            swings.append((row, pack_record(record)))
    assert data is not None
    return swings, data


def changed(swing: Stored, before: Terms, after: Terms) -> int:
    """How many verdicts of a swing differ; findings and bands are worked out as well."""
    a, b = (judge_stored(swing[1], swing[0], terms).judged for terms in (before, after))
    return sum(a[k].verdict is not b[k].verdict for k in a)


def rate(work: Callable[[], object], least_s: float) -> float:
    """Calls a second."""
    done, start = 0, time.perf_counter()
    while time.perf_counter() - start < least_s:
        work()
        done += 1
    return done / (time.perf_counter() - start)


def main() -> None:
    """Print the rates."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--rounds", type=int, default=5)
    parser.add_argument("--seconds", type=float, default=1.0)
    args = parser.parse_args()
    now, then = (Terms(b, library.default_schools(), "adult") for b in (built_in(), wider(0.2)))
    for name, sources in SETS.items():
        swings, data = stored(sources)
        n = len(swings)
        runs: dict[str, list[float]] = {"judged": [], "compared": [], "read": [], "measured": []}
        for _ in range(args.rounds):
            runs["read"].append(n * rate(lambda s=swings: [unpack_values(x[1]) for x in s], args.seconds))
            runs["judged"].append(n * rate(lambda s=swings: [judge_stored(x[1], x[0], then) for x in s], args.seconds))
            runs["compared"].append(n * rate(lambda s=swings: [changed(x, now, then) for x in s], args.seconds))
            runs["measured"].append(5 * rate(lambda d=data: analyse(d), args.seconds))
        middle = {k: float(np.median(v)) for k, v in runs.items()}
        print(
            f"{name}: judged again {middle['judged']:.0f} swings/s (goal {GOAL}), both versions compared "
            f"{middle['compared']:.0f}/s; {middle['read'] / middle['judged']:.2f} times the bare reading of values; "
            f"{middle['judged'] / middle['measured']:.0f} times as fast as measuring again"
        )


if __name__ == "__main__":
    main()
