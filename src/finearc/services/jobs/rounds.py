"""A round's log that is brought to a player."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from finearc.services.course.round_reading import read_round
from finearc.services.course.rounds import keep_own_ranges, keep_round
from finearc.services.jobs.ports import Tools
from finearc.services.jobs.progress import Progress
from finearc.services.jobs.records import DONE, Job, JobInput
from finearc.services.records import Player, now
from finearc.wording import tr


def bring_round(tools: Tools, job: Job, progress: Progress) -> Mapping[str, Any]:
    """Read, name and keep a round; the job ends in the same transaction, so that it is never kept twice.
    ``job.subject``: ``name`` of the file, ``player_id``, ``by`` whom."""
    progress.tell(0, 2, tr("Reading the clips"))
    with tools.open(job.academy_id) as uow:
        content = b"".join(p.content for p in uow.find(JobInput, job_id=job.id, order="sequence"))
    data = tools.bounded.read(tools.rounds, job.subject["name"], content)
    progress.tell(1, 2, tr("Finding the shots"))
    read = read_round(data)
    with tools.open(job.academy_id) as uow:
        player = uow.get(Player, UUID(job.subject["player_id"]))
        kept = keep_round(uow, tools.codec, player, data, read, job.subject["name"], job.made_by)
        keep_own_ranges(uow, kept.id)
        answer = {"round_id": str(kept.id), "player_id": str(player.id)}
        done = uow.hold(Job, job.id)
        done.state, done.answer, done.ended_at = DONE, answer, now()
        done.done = done.total = 2
    return answer
