"""What is kept of practice. The store maps this to a table."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from uuid import UUID, uuid4

from finearc.services.records import now


@dataclass(eq=False)
class PracticePlan:
    """What a player practises from one lesson to the next: ``document`` is what was asked for and the plan
    (``services.practice.document``). One a lesson."""

    academy_id: UUID
    lesson_id: UUID
    player_id: UUID
    document: str
    made_by: str = ""
    made_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)


@dataclass(eq=False)
class PracticeAnswer:
    """What a player said of a plan by the private link: ``document`` (``services.practice.document``) is what,
    ``key`` how the player's device names it, so that it counts once however often it is sent; ``plan_id`` the plan
    that it was about, which may be gone. ``at`` by the device's clock."""

    academy_id: UUID
    lesson_id: UUID
    player_id: UUID
    plan_id: UUID
    key: str
    kind: str
    document: str
    at: datetime
    received_at: datetime = field(default_factory=now)
    id: UUID = field(default_factory=uuid4)
