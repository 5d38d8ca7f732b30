"""Links that open a lesson's page without an account."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In

Purpose = Literal["page", "practice"]


class LinkIn(In):
    """For how many days it opens, and what: what was shown of the lesson, or what is practised until the next."""

    purpose: Purpose = "page"
    days: int = Field(default=30, ge=1, le=366)


class LinkOut(BaseModel):
    """``open``: whether it still opens anything; ``opened``: how often it was."""

    id: UUID
    purpose: Purpose
    made_at: datetime
    made_by: str
    expires_at: datetime
    open: bool
    opened: int
    opened_at: datetime | None


class LinkMade(LinkOut):
    """``path``: where it leads, told this once."""

    path: str
