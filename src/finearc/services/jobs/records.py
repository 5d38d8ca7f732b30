"""What is kept of a job. The store maps these to tables."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

from finearc.services.records import now

WAITING, RUNNING, DONE, FAILED, CANCELLED = "waiting", "running", "done", "failed", "cancelled"
ROUND = "round"
"""The kind of job that brings a round; its ``subject`` names the player."""
ENDED = (DONE, FAILED, CANCELLED)


@dataclass(eq=False)
class Job:
    """One piece of long work. ``kind`` names what is to be done and ``subject`` to what; one for a lesson
    (``lesson_id``) is erased with it, its input too; ``done`` of ``total`` steps
    are behind it, ``step`` says which one it is at. ``answer`` is what came of it, or ``code`` and ``message`` why
    nothing did. ``attempts`` counts how often it was begun: a job whose worker died is begun again."""

    academy_id: UUID
    kind: str
    subject: dict[str, Any] = field(default_factory=dict)
    made_by: str = ""
    lesson_id: UUID | None = None
    state: str = WAITING
    total: int = 0
    done: int = 0
    step: str = ""
    answer: dict[str, Any] | None = None
    code: str = ""
    message: str = ""
    cancel_wanted: bool = False
    attempts: int = 0
    created_at: datetime = field(default_factory=now)
    started_at: datetime | None = None
    ended_at: datetime | None = None
    id: UUID = field(default_factory=uuid4)

    @property
    def ended(self) -> bool:
        return self.state in ENDED


@dataclass(eq=False)
class JobInput:
    """A piece of what a job works on, such as an uploaded file; gone when the job has ended well."""

    academy_id: UUID
    job_id: UUID
    sequence: int
    content: bytes
    id: UUID = field(default_factory=uuid4)
