"""What tends to make a backswing longer or shorter: common practice, with what to mind. No cause is claimed."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal


@dataclass(frozen=True)
class Way:
    """``what`` somebody does, and the ``caution`` that goes with it."""

    way: Literal["longer", "shorter"]
    what: str
    caution: str


BACK = "Can load the low back. Any pain: stop and see a health professional."
KNEE = "Can load the knee. Any pain: stop and see a health professional."
WAYS = (
    Way("longer", "Let the lead heel rise as you turn back.", KNEE),
    Way("longer", "Let the pelvis turn with the upper body.", BACK),
    Way("shorter", "Lead shoulder down and trail shoulder up: the turn is less flat.", BACK),
    Way("shorter", "Keep the lead wrist flat at the top.", "Not where the wrist hurts."),
)
