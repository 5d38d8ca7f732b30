"""An export that is brought into an academy."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from finearc.services.jobs.ports import Tools
from finearc.services.jobs.progress import Progress
from finearc.services.jobs.records import DONE, Job, JobInput
from finearc.services.people.bringing import bring
from finearc.services.records import now
from finearc.wording import tr


def bring_export(tools: Tools, job: Job, progress: Progress) -> Mapping[str, Any]:
    """Read an export and keep it as a new player; the job ends in the same transaction, so that it is never kept twice
    and never by half. ``job.subject``: ``name`` of the file and ``by`` whom."""
    progress.tell(0, 1, tr("Reading the file"))
    with tools.open(job.academy_id) as uow:
        content = b"".join(p.content for p in uow.find(JobInput, job_id=job.id, order="sequence"))
    brought = tools.bounded.read(tools.archive, job.subject["name"], content, tools.codec)
    with tools.open(job.academy_id) as uow:
        player = bring(uow, brought, UUID(job.subject["by"]), progress.tell)
        answer = {"player_id": str(player.id), "lessons": len(brought.lessons)}
        kept = uow.hold(Job, job.id)
        kept.state, kept.answer, kept.ended_at = DONE, answer, now()
        kept.done = kept.total = len(brought.lessons)
    return answer
