"""What all requests and responses share."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict

from finearc.services.lesson.documents import Verdict as Verdict

Kind = Literal["warm_up", "normal", "drill", "no_ball", "test", "discard"]
Side = Literal["lead", "straight", "trail", ""]
Strike = Literal["centre", "toe", "heel", "thin", "fat", ""]


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")


class Problem(BaseModel):
    """What went wrong: what, where, what to do."""

    code: str
    message: str
