"""The pattern of the wrist trace, from its values between takeaway and impact, not from a picture."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from finearc.core.metrics import registry as m
from finearc.core.metrics.definition import Measured
from finearc.wording import mark

SAME_RAD = np.deg2rad(8.0)
FLAT_RAD = np.deg2rad(8.0)
GAINED_RAD = np.deg2rad(-12.0)
DIP_RAD = np.deg2rad(10.0)


class Pattern(StrEnum):
    HOLD_THEN_FLEX = "hold_then_flex"
    HOLD = "hold"
    FLAT = "flat"
    EARLY_FLEX = "early_flex"
    EXTEND_MORE = "extend_more"
    MIXED = "mixed"


LABELS = {
    Pattern.HOLD_THEN_FLEX: mark("hold, then flex"),
    Pattern.HOLD: mark("hold, without flexing"),
    Pattern.FLAT: mark("flat at the top"),
    Pattern.EARLY_FLEX: mark("early flex"),
    Pattern.EXTEND_MORE: mark("extends more going back"),
    Pattern.MIXED: "mixed",
}


@dataclass(frozen=True)
class PatternReading:
    pattern: Pattern
    dip: bool


def classify(values: Mapping[tuple[str, str], Measured]) -> PatternReading | None:
    """The pattern, or None when address, top or impact is absent."""
    ext = m.LEAD_WRIST_EXTENSION.id
    try:
        address, top, impact = (values[ext, k].value for k in ("address", "top", "impact"))
    except KeyError:
        return None
    dip = values.get((m.TAKEAWAY_DIP.id, "swing"))
    dipped = dip is not None and dip.value >= DIP_RAD
    return PatternReading(_class(address, top, impact), dipped)


def _class(address: float, top: float, impact: float) -> Pattern:
    gained = impact - top
    if top - address > SAME_RAD:
        return Pattern.EXTEND_MORE
    if top <= -FLAT_RAD / 2 and gained > GAINED_RAD and address > 0:
        return Pattern.EARLY_FLEX
    if abs(top) <= FLAT_RAD and abs(top - address) > SAME_RAD:
        return Pattern.FLAT
    if abs(top - address) <= SAME_RAD:
        return Pattern.HOLD_THEN_FLEX if gained <= GAINED_RAD else Pattern.HOLD
    return Pattern.MIXED
