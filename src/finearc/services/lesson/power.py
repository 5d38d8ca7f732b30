"""Where the speed comes from: lateral, rotational, vertical. What was measured, no verdict."""

from __future__ import annotations

from typing import Literal

from finearc.core.metrics.definition import Metric
from finearc.core.metrics.registry import (
    LEAD_KNEE_STRAIGHTENING,
    PELVIS_LIFT,
    PELVIS_PEAK_RATE,
    PELVIS_SWAY,
    SEPARATION_STRETCH,
    THORAX_PEAK_RATE,
)
from finearc.core.metrics.words import amount, in_words
from finearc.services.lesson import documents as m
from finearc.services.record.document import SwingRecord
from finearc.wording import mark, tr

Key = tuple[Metric, str, str]
PARTS: tuple[tuple[Literal["lateral", "rotational", "vertical"], str, tuple[Key, ...]], ...] = (
    (
        "lateral",
        mark("Side to side"),
        ((PELVIS_SWAY, "top..impact", mark("pelvis {} from top to impact")),),
    ),
    (
        "rotational",
        "Turning",
        (
            (PELVIS_PEAK_RATE, "swing", mark("pelvis up to {}")),
            (THORAX_PEAK_RATE, "swing", mark("upper body up to {}")),
            (SEPARATION_STRETCH, "swing", mark("the two separate by {} more after the top")),
        ),
    ),
    (
        "vertical",
        mark("Up and down"),
        (
            (LEAD_KNEE_STRAIGHTENING, "swing", mark("lead knee straightens by {}")),
            (PELVIS_LIFT, "top..impact", mark("pelvis {} from top to impact")),
        ),
    ),
)


def power_out(record: SwingRecord) -> list[m.PowerOut]:
    """The three sources of power of one swing; one without any measured part says what it needs."""
    out = []
    for kind, label, keys in PARTS:
        says = [
            words.format(_words(metric, v.value))
            for metric, moment, words in keys
            if (v := record.value(metric.id, moment)) is not None
        ]
        missing = None if says else record.missing.get(keys[0][0].id, tr("not measured in this swing"))
        out.append(m.PowerOut(kind=kind, label=label, says=says, missing=missing))
    return out


def _words(metric: Metric, si: float) -> str:
    return in_words(metric, si) if metric in (PELVIS_SWAY, PELVIS_LIFT) else amount(metric, si)
