"""Links that open a lesson's page without an account."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from pydantic import BaseModel, Field

from finearc.api.models.base import In


class LinkIn(In):
    """For how many days it opens."""

    days: int = Field(default=30, ge=1, le=366)


class LinkOut(BaseModel):
    """``open``: whether it still opens anything; ``opened``: how often it was."""

    id: UUID
    made_at: datetime
    made_by: str
    expires_at: datetime
    open: bool
    opened: int
    opened_at: datetime | None


class LinkMade(LinkOut):
    """``path``: where it leads, told this once."""

    path: str
