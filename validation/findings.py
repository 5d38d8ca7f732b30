"""Findings and first priorities of simulated golfers with known differences: ``python -m validation.findings``.

Every golfer is a skilled one drawn at random with one or two differences put in, five swings, all sources. What is
true is read from the same swings without sensor noise: not from what was put in, since one difference may bring others.
About half an hour for 400 on two cores.
"""

from __future__ import annotations

import argparse
import json
from collections import Counter
from collections.abc import Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass, field, replace
from pathlib import Path

import numpy as np

from finearc.catalogue.rule_set import built_in
from finearc.core.judging.findings import Finding
from finearc.core.judging.priorities import propose
from finearc.core.judging.ranges import Verdict
from finearc.core.signals.streams import Segment
from finearc.core.sources.inertial import INERTIAL
from finearc.golfer.population import INJECTED, skilled, with_differences
from finearc.golfer.poses import PoseErrors
from finearc.golfer.scenarios import Scenario, play_story
from finearc.services.judging.analysis import Analysis, CaptureData, analyse
from finearc.services.modelled import capture_of

SOURCES = ("wrist", "body", "club", "markers", "pressure")
SETS: Mapping[str, tuple[str, ...]] = {
    "all": SOURCES,
    "wrist": ("wrist",),
    "wrist + club": ("wrist", "club"),
    "wrist + club + body": ("wrist", "club", "body"),
    "mat": ("pressure",),
    "markers": ("markers",),
}
QUIET_SENSORS = {
    "gyro_noise_deg_s": 0.0,
    "gyro_bias_deg_s": 0.0,
    "acc_noise_m_s2": 0.0,
    "acc_bias_m_s2": 0.0,
    "jitter_s": 0.0,
}
QUIET_SUIT = {"noise_m": 0.0, "gap_share": 0.0}
QUIET_MAT = {"noise_kpa": 0.0, "dead_share": 0.0}
SWINGS = 5
MOST = 3
"""Of five swings: what a finding rests on."""
SEEN_BY: Mapping[str, frozenset[str]] = {
    "wrist": frozenset({"wrist", "markers"}),
    "club": frozenset({"club", "markers"}),
    "timing": frozenset({"wrist", "club", "markers", "body"}),
    "turn": frozenset({"body", "markers"}),
    "posture": frozenset({"markers", "body"}),
    "travel": frozenset({"markers"}),
    "arms_legs": frozenset({"markers"}),
    "sequence": frozenset({"body", "wrist", "club", "markers"}),
    "ground": frozenset({"pressure"}),
}
"""Which sources can see a family of measures at all, written down apart from the core (measures.md)."""


@dataclass
class Told:
    """What was said of one golfer: firm findings with how many swings show them, those beyond the edge, the first."""

    shown: dict[str, int]
    firm: list[str]
    beyond: list[str]
    first: str | None
    blind: list[str] = field(default_factory=list)


def told(analysis: Analysis, sources: Sequence[str]) -> Told:
    """Read an analysis."""
    firm = [f for f in analysis.findings if f.status == "finding"]
    first = propose(analysis.findings, built_in().drills)
    return Told(
        {f.rule.id: f.shown for f in analysis.findings},
        [f.rule.id for f in firm],
        [f.rule.id for f in firm if _beyond_edge(f)],
        first[0].finding.rule.id if first else None,
        [f.rule.id for f in analysis.findings if not _could_be_seen(f, sources)],
    )


def _beyond_edge(f: Finding) -> bool:
    return any(e.verdict in (Verdict.LOW, Verdict.HIGH) or e.range is None for e in f.evidence)


def _could_be_seen(f: Finding, sources: Sequence[str]) -> bool:
    return all(SEEN_BY[e.measured.metric.family.value] & set(sources) for e in f.evidence)


def keep_sources(data: CaptureData, sources: Sequence[str]) -> CaptureData:
    """The same capture with only these sources worn or placed."""
    segments = {
        "wrist": (Segment.LEAD_FOREARM, Segment.LEAD_HAND),
        "club": (Segment.CLUB,),
        "body": (Segment.PELVIS, Segment.THORAX, Segment.HEAD),
    }
    worn = {s for source in sources for s in segments.get(source, ())}
    kept = {k: s for k, s in data.streams.items() if k.key in sources}
    sensors = tuple(s for s in data.streams[INERTIAL] if s.segment in worn)
    return replace(
        data,
        streams={INERTIAL: sensors, **kept} if sensors else kept,
        poses=data.poses if "wrist" in sources else (),
        uprights=data.uprights if {"body", "markers"} & set(sources) else (),
        bow=data.bow if "body" in sources else None,
    )


def drawn(number: int) -> tuple[Scenario, float, dict[str, float]]:
    """The golfer of a number: one difference in three of five, else two."""
    rng = np.random.default_rng(70_000 + number)
    count = 1 if rng.random() < 0.6 else 2
    names = rng.choice(sorted(INJECTED), size=count, replace=False)
    sizes = {str(n): float(rng.uniform(0.5, 1.2)) for n in names}
    player = with_differences(skilled(rng), sizes)
    return Scenario((player.style,) * SWINGS, "drawn"), player.height_m, sizes


def golfer(number: int) -> dict[str, object]:
    """One golfer without noise, and with noise by every set of sources."""
    story, height_m, sizes = drawn(number)
    quiet = replace(story, poses=PoseErrors(), quirks=QUIET_SENSORS, marker_set=QUIET_SUIT, mat=QUIET_MAT)
    out: dict[str, object] = {"number": number, "injected": sizes}
    exact = capture_of(play_story(quiet, number, sources=SOURCES, height_m=height_m), height_m=height_m)
    noisy = capture_of(play_story(story, number, sources=SOURCES, height_m=height_m), height_m=height_m)
    for name, sources in SETS.items():
        out[name] = {
            "true": vars(told(analyse(keep_sources(exact, sources)), sources)),
            "found": vars(told(analyse(keep_sources(noisy, sources)), sources)),
        }
    return out


def report(golfers: Sequence[Mapping[str, object]]) -> str:
    """The tables as Markdown."""
    lines = [f"{len(golfers)} golfers, {SWINGS} swings each.", ""]
    lines += ["| Sources | Findings | Precision | strictly | Recall | First priority right | Where they cannot tell |"]
    lines += ["|---|---|---|---|---|---|---|"]
    lines += [_row(name, golfers) for name in SETS]
    lines += [
        "",
        "By finding, all sources: true and found, found but not true, true beyond the edge but not found.",
        "",
    ]
    lines += ["| Finding | Right | False | Missed |", "|---|---|---|---|"]
    right, false, missed = _counts("all", golfers, 1)
    for name in sorted(set(right) | set(false) | set(missed)):
        lines.append(f"| `{name}` | {right[name]} | {false[name]} | {missed[name]} |")
    return "\n".join(lines)


def _counts(
    name: str, golfers: Sequence[Mapping[str, object]], least: int
) -> tuple[Counter[str], Counter[str], Counter[str]]:
    """Right, false and missed. A finding is false when fewer than ``least`` of the five swings meet its condition
    without noise: 1 for not at all, 3 for what a finding has to rest on."""
    right: Counter[str] = Counter()
    false: Counter[str] = Counter()
    missed: Counter[str] = Counter()
    for g in golfers:
        true, found = (Told(**g[name][k]) for k in ("true", "found"))  # type: ignore[index]
        for f in found.firm:
            (right if true.shown.get(f, 0) >= least else false)[f] += 1
        for f in true.beyond:
            if f not in found.firm:
                missed[f] += 1
    return right, false, missed


def _row(name: str, golfers: Sequence[Mapping[str, object]]) -> str:
    right, false, missed = (sum(c.values()) for c in _counts(name, golfers, 1))
    strictly = sum(_counts(name, golfers, MOST)[0].values())
    pairs = [tuple(Told(**g[name][k]) for k in ("true", "found")) for g in golfers]  # type: ignore[index]
    decided = [(t, f) for t, f in pairs if t.first is not None]
    first = sum(t.first == f.first for t, f in decided)
    blind = sum(len(f.blind) for _, f in pairs)
    return (
        f"| {name} | {right + false} | {right / max(1, right + false):.3f} | "
        f"{strictly / max(1, right + false):.3f} | {right / max(1, right + missed):.3f} | "
        f"{first / max(1, len(decided)):.3f} of {len(decided)} | {blind} |"
    )


def main() -> None:
    """Run, print, and keep the raw answers where asked."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--golfers", type=int, default=400)
    parser.add_argument("--workers", type=int, default=2)
    parser.add_argument("--keep", type=Path)
    args = parser.parse_args()
    with ProcessPoolExecutor(args.workers) as pool:
        golfers = list(pool.map(golfer, range(args.golfers), chunksize=2))
    if args.keep:
        args.keep.write_text(json.dumps(golfers))
    print(report(golfers))


if __name__ == "__main__":
    main()
