"""Doing one job: claimed, told about, ended exactly once."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.services.capture.prepared import Entry
from finearc.services.jobs.bringing import bring_export
from finearc.services.jobs.importing import import_file
from finearc.services.jobs.measuring import accept_measuring, measure_again
from finearc.services.jobs.ports import Ended, Tools
from finearc.services.jobs.progress import Cancelled, Progress
from finearc.services.jobs.records import CANCELLED, DONE, FAILED, ROUND, RUNNING, WAITING, Job, JobInput
from finearc.services.jobs.rounds import bring_round
from finearc.services.ports import UnitOfWork
from finearc.services.records import now

IMPORT, BRING, MEASURE_AGAIN, ACCEPT_MEASURING = "import", "bring", "measure_again", "accept_measuring"
Work = Callable[[Tools, Job, Progress], Mapping[str, Any]]
WORK: Mapping[str, Work] = {
    IMPORT: import_file,
    BRING: bring_export,
    ROUND: bring_round,
    MEASURE_AGAIN: measure_again,
    ACCEPT_MEASURING: accept_measuring,
}
"""What is done for each kind of job."""
EVERY_S = 0.25
"""Progress is written at most this often."""
log = logging.getLogger(__name__)


@dataclass
class Report(Progress):
    """Progress written to the job's row, at most a few times a second, so that every screen can read it."""

    tools: Tools
    academy_id: UUID
    job_id: UUID
    prepared: list[Entry] = field(default_factory=list)
    told_s: float = -1.0

    def tell(self, done: int, total: int, step: str) -> None:
        if done < total and time.monotonic() - self.told_s < EVERY_S:
            return
        self.told_s = time.monotonic()
        with self.tools.open(self.academy_id) as uow:
            job = uow.hold(Job, self.job_id)
            job.done, job.total, job.step = done, total, step
            wanted = job.cancel_wanted
        if wanted:
            raise Cancelled


def run_job(tools: Tools, academy_id: UUID, job_id: UUID) -> Ended:
    """Do a waiting job. Errors that a person can do something about, and those nobody foresaw, end it and are kept
    with it."""
    with tools.open(academy_id) as uow:
        job = uow.hold(Job, job_id)
        if job.state != WAITING:
            return Ended(job.state, job.answer, job.code, job.message)
        if job.cancel_wanted:
            return _end(uow, job, Ended(CANCELLED, message=str(Cancelled())))
        job.state, job.attempts, job.started_at = RUNNING, job.attempts + 1, now()
    report = Report(tools, academy_id, job_id)
    try:
        ended = Ended(DONE, WORK[job.kind](tools, job, report), prepared=report.prepared)
    except Cancelled as stop:
        ended = Ended(CANCELLED, message=str(stop))
    except FineArcError as error:
        ended = Ended(FAILED, code=error.code, message=str(error))
    except Exception:
        log.exception("job %s (%s) ended by an error", job_id, job.kind)
        ended = Ended(FAILED, code="internal", message="Something went wrong in the application. Try again.")
    with tools.open(academy_id) as uow:
        _end(uow, uow.hold(Job, job_id), ended)
    return ended


def _end(uow: UnitOfWork, job: Job, ended: Ended) -> Ended:
    if not job.ended:  # work that keeps its answer together with what it made has ended already
        job.state, job.code, job.message, job.ended_at = ended.state, ended.code, ended.message, now()
        if ended.answer is not None:  # else what was found so far stays, for another try
            job.answer = dict(ended.answer)
    if job.state != FAILED:  # what failed may be tried again
        for piece in uow.find(JobInput, job_id=job.id):
            uow.remove(piece)
    return ended
