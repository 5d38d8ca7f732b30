"""What all requests and responses share."""

from __future__ import annotations

from typing import Any, Literal, Self

from pydantic import BaseModel, ConfigDict, model_validator

from finearc.catalogue.reason import LONGEST_TEXT, refuse_unreasonable
from finearc.services.lesson.documents import Verdict as Verdict

Kind = Literal["warm_up", "normal", "drill", "no_ball", "test", "discard"]
Side = Literal["lead", "straight", "trail", ""]
Strike = Literal["centre", "toe", "heel", "thin", "fat", ""]
GripAnswer = Literal["grip", "sensor", ""]


class In(BaseModel):
    """Something that is sent in. Whatever its fields are, no text is without end or of characters that cannot be
    kept, no number beyond measure, no date that no calendar here can turn."""

    model_config = ConfigDict(extra="forbid", str_max_length=LONGEST_TEXT, allow_inf_nan=False)

    @model_validator(mode="after")
    def within_reason(self) -> Self:
        """Raises ``ValueError`` with the field."""
        for name in type(self).model_fields:
            refuse_unreasonable(name, getattr(self, name))
        return self


class Problem(BaseModel):
    """What went wrong: what, where, what to do."""

    code: str
    message: str


class Clash(Problem):
    """Somebody saved meanwhile: ``theirs`` is what stands there now, ``revision`` with which to save on top of it."""

    theirs: dict[str, Any]
    revision: str
