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
from finearc.wording import mark, tr

JUMP = 1.5
"""So many times what the other distances show is a jump (the definition's)."""
DISTANCE = (pm.PUTT_DISTANCE.id, WHOLE_SWING.key)
NAMES = {
    pm.EXTENSION_RANGE: Said("extension", "cup"),
    pm.DEVIATION_RANGE: Said(mark("radial deviation"), "hinge"),
    pm.ROLL_RANGE: Said("rotation", "rotation"),
}


def read_distances(lines: Mapping[Metric, Growth], putts: Sequence[ReadPutt], feet: bool = False) -> StepRead:
    """The seventh step: how the lead wrist's ranges grow with the distance."""
    grown = [(metric, line) for metric, line in lines.items() if metric in NAMES]
    if not grown:
        need = tr(
            "{least_distances} distances with {least_each} putts each",
            least_distances=LEAST_DISTANCES,
            least_each=LEAST_EACH,
        )
        return StepRead(
            Step.DISTANCES, Tone.UNSEEN, same(tr("How the motion grows needs {need}.", need=need)), (), len(putts)
        )
    jump = jump_of(putts, feet=feet)
    facts = tuple(
        Fact(
            NAMES[metric].worded().capitalised(),
            same(
                tr(
                    "{slope} ({slope2} to {slope3})",
                    slope=_slope(line.slope, feet),
                    slope2=_slope(line.low, feet),
                    slope3=_slope(line.high, feet),
                )
            ),
            tr("95 % interval"),
        )
        for metric, line in grown
    )
    over = max(line.putts for _, line in grown)
    if jump is not None:
        return StepRead(Step.DISTANCES, Tone.LOOK, jump, facts, over)
    told = [(NAMES[metric].worded(), _slope(line.slope, feet)) for metric, line in grown if line.low > 0.0]
    if not told:
        said = same(tr("The motion does not grow with the distance, as far as these putts tell."))
        return StepRead(Step.DISTANCES, Tone.SHOWN, said, facts, over)
    distances = {p.values[DISTANCE].value for p in putts if DISTANCE in p.values}
    rest = tr(", evenly over the distances.") if len(distances) > 2 else "."
    first, *others = told
    standard, plain = (
        _listed(
            [
                tr("{getattr} grows by {first}", getattr=getattr(first[0], k), first=first[1]),
                *(tr("{getattr} by {size}", getattr=getattr(n, k), size=size) for n, size in others),
            ]
        )
        for k in ("text", "plain")
    )
    per = tr("Per foot") if feet else tr("Per metre")
    said = Said(f"{per} {standard}{rest}", f"{per} {plain}{rest}")
    return StepRead(Step.DISTANCES, Tone.SHOWN, said, facts, over)


def _slope(slope: float, feet: bool) -> str:
    return f"{round(float(np.rad2deg(slope)) * (FOOT_M if feet else 1.0), 1) + 0.0:.1f}°"


def _listed(parts: Sequence[str]) -> str:
    return parts[0] if len(parts) == 1 else tr("{value} and {parts}", value=", ".join(parts[:-1]), parts=parts[-1])


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
    many = tr("{ratio:.1f} times what the other distances show", ratio=ratio)
    return to_player(tr("At {at} the wrist moves {many_}; that tends to make speed hard to judge.", at=at, many_=many))
