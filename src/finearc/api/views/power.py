"""Where the speed comes from: lateral, rotational, vertical. What was measured, no verdict."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from finearc.api import models as m
from finearc.core.judging.words import amount, in_words
from finearc.core.metrics.definition import PER_SI, Metric
from finearc.core.metrics.registry import (
    BY_ID,
    LEAD_KNEE_STRAIGHTENING,
    PELVIS_LIFT,
    PELVIS_PEAK_RATE,
    PELVIS_SWAY,
    SEPARATION_STRETCH,
    THORAX_PEAK_RATE,
)

Key = tuple[Metric, str, str]
PARTS: tuple[tuple[str, str, tuple[Key, ...]], ...] = (
    (
        "lateral",
        "Side to side",
        ((PELVIS_SWAY, "top..impact", "pelvis {} from top to impact"),),
    ),
    (
        "rotational",
        "Turning",
        (
            (PELVIS_PEAK_RATE, "swing", "pelvis up to {}"),
            (THORAX_PEAK_RATE, "swing", "upper body up to {}"),
            (SEPARATION_STRETCH, "swing", "the two separate by {} more after the top"),
        ),
    ),
    (
        "vertical",
        "Up and down",
        (
            (LEAD_KNEE_STRAIGHTENING, "swing", "lead knee straightens by {}"),
            (PELVIS_LIFT, "top..impact", "pelvis {} from top to impact"),
        ),
    ),
)


def power_out(result: Mapping[str, Any]) -> list[m.PowerOut]:
    """The three sources of power of one swing; one without any measured part says what it needs."""
    values = {(e["metric"], e["event"]): float(e["value"]) for e in result.get("metrics", [])}
    why = {e["metric"]: e["reason"] for e in result.get("missing", [])}
    out = []
    for kind, label, keys in PARTS:
        says = [
            words.format(_words(metric, values[metric.id, event]))
            for metric, event, words in keys
            if (metric.id, event) in values
        ]
        missing = None if says else why.get(keys[0][0].id, "not measured in this swing")
        out.append(m.PowerOut(kind=kind, label=label, says=says, missing=missing))
    return out


def _words(metric: Metric, value: float) -> str:
    si = value / PER_SI[BY_ID[metric.id].unit]
    return in_words(metric, si) if metric in (PELVIS_SWAY, PELVIS_LIFT) else amount(metric, si)
