"""How well shifts and intensities are found: skilled swings of the golfer model as sensors see them, two recordings of
the same true swings, one of them then delayed by a known time or made larger by a known factor. What is left is what
sensors, calibration and the detected impact do. Run with ``python -m validation.comparing [--recordings 12]``.
"""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from finearc.core.comparing.compared import compare_courses, compare_values
from finearc.core.comparing.seen import SwingSeen, courses
from finearc.core.comparing.traces import PHASES, SwingTrace, group_shift
from finearc.core.events.model import Checkpoint
from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Metric
from finearc.core.typing import Array
from finearc.golfer.scenarios import play_story, scenario
from finearc.services.judging import analysis as an
from finearc.services.modelled import capture_of

SHIFTS_MS = (-60.0, -35.0, -10.0, 0.0, 20.0, 45.0, 60.0)
FACTORS = (0.7, 0.85, 1.0, 1.2, 1.4)
METRICS = (m.LEAD_WRIST_EXTENSION, m.LEAD_WRIST_DEVIATION, m.HAND_ROLL)
AT = (Checkpoint.ARM_LEVEL_DOWN, Checkpoint.SHAFT_LEVEL_DOWN)
GROUP = 4


def recorded(seed: int, sources: Sequence[str]) -> list[SwingSeen]:
    """Eight swings without any scatter of the player's, with all that sensors add."""
    story = scenario("hold-then-flex")
    story = replace(story, styles=tuple(story.styles[:1]) * 8, scatter=0.0)
    return [SwingSeen.of(r) for r in an.read(capture_of(play_story(story, seed, sources=tuple(sources)))).swings]


def later(trace: SwingTrace, by_s: float) -> SwingTrace:
    """The course later by a known time, its checkpoints as they are."""
    known = np.isfinite(trace.values)
    moved = np.interp(trace.time_s - by_s, trace.time_s[known], trace.values[known])
    return SwingTrace(trace.metric, trace.time_s, moved, trace.events)


def harder_values(swing: SwingSeen, metric: Metric, by: float) -> Array:
    """A course (n,) larger by a known factor about its mean."""
    values = swing.traces[metric.id]
    middle = float(np.nanmean(values))
    return np.asarray(middle + by * (values - middle))


def shift_errors(pairs: Sequence[tuple[list[SwingSeen], list[SwingSeen]]], size: int) -> list[tuple[float, float]]:
    """Error and stated uncertainty, ms, of every known shift."""
    out = []
    for first, second in pairs:
        for metric in METRICS:
            a, b = courses(metric, first)[:size], courses(metric, second)[:size]
            for ms in SHIFTS_MS:
                moved = [later(t, ms / 1000.0) for t in a]
                for at in AT:
                    found = group_shift(moved, b, at)
                    if found is not None:
                        out.append((1000.0 * found.shift_s - ms, 1000.0 * found.sd_s))
    return out


def intensity_errors(
    pairs: Sequence[tuple[list[SwingSeen], list[SwingSeen]]], size: int, *, one_calibration: bool
) -> list[tuple[float, float]]:
    """Error and stated uncertainty, in shares, of every known ratio."""
    out = []
    for first, second in pairs:
        values = compare_values(first[:size], second[:size], one_calibration=one_calibration)
        for metric in METRICS:
            for factor in FACTORS:
                larger = [replace(s, traces={**s.traces, metric.id: harder_values(s, metric, factor)}) for s in first]
                compared = compare_courses(
                    metric, values[metric], larger[:size], second[:size], one_calibration=one_calibration
                )
                down = [i for i in compared.intensity if (i.start, i.end) == PHASES[1]]
                out += [(i.ratio / factor - 1.0, i.sd / i.ratio) for i in down]
    return out


def told(what: str, found: Sequence[tuple[float, float]], unit: str, goal: str) -> str:
    """A line: RMS error, mean stated uncertainty, how often the error lies within one and two of them."""
    errors, stated = (np.array(v) for v in zip(*found, strict=True))
    within = [100.0 * float(np.mean(np.abs(errors) <= k * stated)) for k in (1, 2)]
    rms = float(np.sqrt(np.mean(errors**2)))
    return (
        f"{what}: RMS {rms:.2f} {unit} (goal {goal}), stated {np.mean(stated):.2f}, within one {within[0]:.0f} %, "
        f"within two {within[1]:.0f} %, {len(errors)} comparisons"
    )


def main() -> None:
    """Prints a line for each goal."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--recordings", type=int, default=12)
    args = parser.parse_args()
    for name, sources, goal in (("wrist pair", ("wrist",), "5"), ("wrist pair and club clip", ("wrist", "club"), "3")):
        swings = [recorded(seed, sources) for seed in range(200, 200 + args.recordings)]
        within = [(s[:GROUP], s[GROUP:]) for s in swings]
        across = list(zip(swings[::2], swings[1::2], strict=False))
        for pairs, what in ((within, "one calibration"), (across, "two calibrations")):
            print(told(f"Shift, single swings, {what}, {name}", shift_errors(pairs, 1), "ms", f"≤ {goal}"))
            print(told(f"Shift, groups of four, {what}, {name}", shift_errors(pairs, GROUP), "ms", "≤ 3"))
            for size, many in ((1, "single swings"), (GROUP, "groups of four")):
                found = [
                    (100.0 * e, 100.0 * s) for e, s in intensity_errors(pairs, size, one_calibration=pairs is within)
                ]
                print(told(f"Intensity, {many}, {what}, {name}", found, "%", "≤ 3"))


if __name__ == "__main__":
    main()
