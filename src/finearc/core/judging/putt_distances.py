"""Putts of several distances side by side: how the wrist's motion grows, and where it jumps."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from finearc.core.judging.putt_row import (
    FOOT_M,
    Fact,
    ReadPutt,
    Said,
    Step,
    StepRead,
    Tone,
    distance_words,
    same,
    to_player,
)
from finearc.core.metrics.definition import WHOLE_SWING, Metric
from finearc.core.metrics.families import putting as pm
from finearc.core.putting.growth import LEAST_DISTANCES, LEAST_EACH, Growth

JUMP = 1.5
"""So many times what the other distances show is a jump (the definition's)."""
DISTANCE = (pm.PUTT_DISTANCE.id, WHOLE_SWING.key)
NAMES = {
    pm.EXTENSION_RANGE: Said("extension", "cup"),
    pm.DEVIATION_RANGE: Said("radial deviation", "hinge"),
    pm.ROLL_RANGE: Said("rotation", "rotation"),
}


def read_distances(lines: Mapping[Metric, Growth], putts: Sequence[ReadPutt], feet: bool = False) -> StepRead:
    """The seventh step: how the lead wrist's ranges grow with the distance."""
    grown = [(metric, line) for metric, line in lines.items() if metric in NAMES]
    if not grown:
        need = f"{LEAST_DISTANCES} distances with {LEAST_EACH} putts each"
        return StepRead(Step.DISTANCES, Tone.UNSEEN, same(f"How the motion grows needs {need}."), (), len(putts))
    jump = jump_of(putts, feet=feet)
    facts = tuple(
        Fact(
            Said(f"{NAMES[metric].text.capitalize()}", f"{NAMES[metric].plain.capitalize()}"),
            same(f"{_slope(line.slope, feet)} ({_slope(line.low, feet)} to {_slope(line.high, feet)})"),
            "95 % interval",
        )
        for metric, line in grown
    )
    over = max(line.putts for _, line in grown)
    if jump is not None:
        return StepRead(Step.DISTANCES, Tone.LOOK, jump, facts, over)
    told = [(NAMES[metric], _slope(line.slope, feet)) for metric, line in grown if line.low > 0.0]
    if not told:
        said = same("The motion does not grow with the distance, as far as these putts tell.")
        return StepRead(Step.DISTANCES, Tone.SHOWN, said, facts, over)
    distances = {p.values[DISTANCE].value for p in putts if DISTANCE in p.values}
    rest = ", evenly over the distances." if len(distances) > 2 else "."
    first, *others = told
    standard, plain = (
        _listed([f"{getattr(first[0], k)} grows by {first[1]}", *(f"{getattr(n, k)} by {size}" for n, size in others)])
        for k in ("text", "plain")
    )
    per = "Per foot" if feet else "Per metre"
    said = Said(f"{per} {standard}{rest}", f"{per} {plain}{rest}")
    return StepRead(Step.DISTANCES, Tone.SHOWN, said, facts, over)


def _slope(slope: float, feet: bool) -> str:
    return f"{round(float(np.rad2deg(slope)) * (FOOT_M if feet else 1.0), 1) + 0.0:.1f}°"


def _listed(parts: Sequence[str]) -> str:
    return parts[0] if len(parts) == 1 else f"{', '.join(parts[:-1])} and {parts[-1]}"


def jump_of(putts: Sequence[ReadPutt], *, feet: bool = False) -> Said | None:
    """Where the motion at one distance is more than 1.5 times what the others show."""
    ratios = [
        (v.value, p.values[DISTANCE].value)
        for p in putts
        if (v := p.values.get((pm.GROWTH_RATIO.id, pm.STROKE))) is not None and v.value - v.uncertainty > JUMP
    ]
    if not ratios:
        return None
    ratio, distance_m = max(ratios)
    at = distance_words(distance_m, feet=feet)
    many = f"{ratio:.1f} times what the other distances show"
    return to_player(f"At {at} the wrist moves {many}; that tends to make speed hard to judge.")
