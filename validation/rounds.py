"""What is found in the clips' log of a round, against the golfer model's truth; and the time it takes beside a bare
NumPy read of the same files. Run with ``python -m validation.rounds [--rounds 4]``."""

from __future__ import annotations

import argparse
import io
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from finearc.core.course.kinds import MotionKind
from finearc.core.course.motions import Motion, motions_of
from finearc.formats.bundle import opener_of
from finearc.formats.round_bundle import read_opened_round, round_files
from finearc.golfer.course.round import STORIES, RoundRecording, TrueMotion, play_round
from finearc.services.course.round_reading import read_round
from finearc.services.modelled import round_of

SAME_S = 0.4
"""A swing found whose top is so near the true one is that swing."""


@dataclass
class Score:
    """Counts over rounds, and of swings named rightly the errors of the backswing's length, deg, also in units of what
    is stated."""

    shots: int = 0
    found: int = 0
    named: int = 0
    wrongly: int = 0
    confused: dict[tuple[str, str], int] = field(default_factory=dict)
    errors_deg: list[float] = field(default_factory=list)
    stated: list[float] = field(default_factory=list)
    takeaway_ms: list[float] = field(default_factory=list)
    impact_ms: list[float] = field(default_factory=list)
    swept_deg: list[float] = field(default_factory=list)

    @property
    def share_found(self) -> float:
        return self.found / self.shots

    @property
    def share_wrong(self) -> float:
        return self.wrongly / max(1, self.named)

    @property
    def rmse_deg(self) -> float:
        return float(np.sqrt(np.mean(np.square(self.errors_deg))))


def pairs(played: RoundRecording, motions: Sequence[Motion]) -> Iterator[tuple[TrueMotion, Motion | None]]:
    """Each true motion with the one found at its place."""
    for true in played.truth:
        mine = [m for m in motions if m.club == true.club]
        if true.top_s is not None and true.kind != "other":
            near = [m for m in mine if m.swing is not None and abs(m.swing.top_s - true.top_s) < SAME_S]
        else:
            near = [m for m in mine if m.start_s < true.end_s and m.end_s > true.start_s]
        yield true, next(iter(near), None)


def scored(played: RoundRecording, motions: Sequence[Motion], score: Score | None = None) -> Score:
    """One round, added to what was counted before."""
    out = score or Score()
    meant = set()
    for true, found in pairs(played, motions):
        kind = "lost" if found is None else found.named.kind.value
        out.confused[true.kind, kind] = out.confused.get((true.kind, kind), 0) + 1
        if true.kind == "shot":
            out.shots += 1
            out.found += kind == "shot"
        if found is None or kind != true.kind or found.swing is None or true.elevation_rad is None:
            continue
        if kind == "shot":
            meant.add(id(found))
        error = found.swing.elevation - true.elevation_rad
        out.errors_deg.append(float(np.rad2deg(error)))
        out.stated.append(error / found.swing.elevation_sd)
        out.swept_deg.append(float(np.rad2deg(found.swing.swept - (true.swept_rad or 0.0))))
        out.takeaway_ms.append(1000.0 * (found.swing.takeaway_s - (true.takeaway_s or 0.0)))
        if true.impact_s is not None and found.swing.impact_s is not None:
            out.impact_ms.append(1000.0 * (found.swing.impact_s - true.impact_s))
    called = [m for m in motions if m.named.kind is MotionKind.SHOT]
    out.named += len(called)
    out.wrongly += sum(id(m) not in meant for m in called)
    return out


def cpu_s(work: Callable[[], object]) -> float:
    """Processor time of one go, s."""
    begun = time.process_time()
    work()
    return time.process_time() - begun


def speed(played: RoundRecording) -> tuple[int, float, float]:
    """Rows, and the processor time, s, from the files' bytes to what is judged, and of ``numpy.loadtxt`` alone."""
    files = round_files(round_of(played))
    rows = sum(len(log.time_s) for log in played.logs.values())
    tables = [content for name, content in files.items() if name.endswith(".csv") and name != "shots.csv"]
    ours = min(cpu_s(lambda: read_round(read_opened_round(opener_of(files))).compared()) for _ in range(3))
    bare = min(cpu_s(lambda: [np.loadtxt(io.BytesIO(t), delimiter=",", skiprows=1) for t in tables]) for _ in range(3))
    return rows, ours, bare


def main() -> None:
    """Print what the documentation says."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--rounds", type=int, default=4)
    args = parser.parse_args()
    score = Score()
    names = list(STORIES)
    played = None
    for k in range(args.rounds):
        played = play_round(names[k % len(names)], 100 + k)
        scored(played, motions_of(played.logs), score)
    print(
        f"shots found {100 * score.share_found:.1f} % of {score.shots}, wrongly named {100 * score.share_wrong:.1f} %"
    )
    for (true, found), n in sorted(score.confused.items()):
        print(f"  {true:9} named {found:9} {n}")
    print(f"backswing length RMSE {score.rmse_deg:.2f}°, error over what is stated {np.std(score.stated):.2f}")
    print(f"swept RMSE {np.sqrt(np.mean(np.square(score.swept_deg))):.2f}°")
    for name, values in (("takeaway", score.takeaway_ms), ("impact", score.impact_ms)):
        print(f"{name} mean {np.mean(values):+.1f} ms, SD {np.std(values):.1f} ms")
    assert played is not None
    rows, ours, bare = speed(played)
    per = 5e5 * ours / rows
    print(f"{rows} rows: {ours:.2f} s of processor time, {per:.2f} s per 500,000; {ours / bare:.2f} times a bare read")


if __name__ == "__main__":
    main()
