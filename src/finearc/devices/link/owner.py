"""Whose a token is that a device comes with."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID


@dataclass(frozen=True)
class TokenOwner:
    """Whose a token is."""

    academy_id: UUID
    bay_id: UUID
    bay: str
    token_id: UUID
