"""What tends to make a backswing longer or shorter: common practice, with what to mind. No cause is claimed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from finearc.wording import mark


@dataclass(frozen=True)
class Way:
    """``what`` somebody does, and the ``caution`` that goes with it."""

    way: Literal["longer", "shorter"]
    what: str
    caution: str


BACK = mark("Can load the low back. Any pain: stop and see a health professional.")
KNEE = mark("Can load the knee. Any pain: stop and see a health professional.")
WAYS = (
    Way("longer", mark("Let the lead heel rise as you turn back."), KNEE),
    Way("longer", mark("Let the pelvis turn with the upper body."), BACK),
    Way("shorter", mark("Lead shoulder down and trail shoulder up: the turn is less flat."), BACK),
    Way("shorter", mark("Keep the lead wrist flat at the top."), mark("Not where the wrist hurts.")),
)
