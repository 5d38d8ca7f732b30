"""Writing jobs down, handing them to the pool, stopping them and trying them again."""

from __future__ import annotations

import threading
from collections.abc import Mapping, Sequence
from concurrent.futures import BrokenExecutor, CancelledError, Future
from dataclasses import dataclass, field
from typing import Any
from uuid import UUID

from finearc.core.errors import FineArcError
from finearc.services.capture.prepared import KEPT
from finearc.services.errors import Refused
from finearc.services.jobs.ports import Ended, OpenUnit, Pool
from finearc.services.jobs.records import CANCELLED, DONE, FAILED, RUNNING, WAITING, Job, JobInput
from finearc.services.patience import IsPassing, persist
from finearc.services.ports import UnitOfWork
from finearc.services.records import now
from finearc.wording import tr

PIECE = 4_000_000
"""Bytes of input in one row: well below the largest packet."""
PATIENCE_S = 900.0
MOST_ATTEMPTS = 3
"""Work whose worker died this often is not begun again by itself."""


class JobFailed(FineArcError):
    """A job that somebody waited for came to nothing: its own code and words."""

    def __init__(self, code: str, message: str) -> None:
        super().__init__(code, message)
        self.code, self._message = code, message

    def __str__(self) -> str:
        return self._message


def write_down(
    uow: UnitOfWork,
    kind: str,
    subject: Mapping[str, Any],
    content: bytes = b"",
    made_by: str = "",
    lesson_id: UUID | None = None,
) -> Job:
    """A new job with its input, kept before it is begun."""
    job = Job(uow.academy_id, kind, dict(subject), made_by, lesson_id)
    uow.add(job)
    for k in range(0, len(content), PIECE):
        uow.add(JobInput(uow.academy_id, job.id, k // PIECE, content[k : k + PIECE]))
    return job


def wait_for(ended: Future[Ended]) -> Mapping[str, Any]:
    """What came of a job. Raises ``JobFailed``."""
    found = ended.result()
    for entry in found.prepared:
        KEPT.take(entry)
    if found.state != DONE:
        raise JobFailed(found.code or "refused", found.message)
    return found.answer or {}


@dataclass(frozen=True)
class Board:
    """Where jobs are handed to the pool. One whose worker dies, or loses the database, is begun again, unless that
    happened too often. ``passing``: which errors are waited for."""

    pool: Pool
    open: OpenUnit
    passing: IsPassing = lambda _: False
    in_hand: set[UUID] = field(default_factory=set)

    def begin(self, academy_id: UUID, job_id: UUID) -> Future[Ended]:
        """Begin a job that is written down."""
        outer: Future[Ended] = Future()
        self.in_hand.add(job_id)
        outer.add_done_callback(lambda _: self.in_hand.discard(job_id))

        def heard(inner: Future[Ended]) -> None:
            try:
                outer.set_result(inner.result())
            except Exception as error:
                if isinstance(error, BrokenExecutor | CancelledError) or self.passing(error):
                    threading.Thread(target=once_more, name="job", daemon=True).start()
                else:
                    outer.set_exception(error)

        def once_more() -> None:
            try:
                given_up = persist(lambda: self._left(academy_id, job_id), self.passing, PATIENCE_S)
            except Exception as error:
                outer.set_exception(error)
                return
            if given_up is not None:
                outer.set_result(given_up)
            else:
                attempt()

        def attempt() -> None:
            try:
                self.pool.run(academy_id, job_id).add_done_callback(heard)
            except RuntimeError as closed:  # the application stops; the next start goes on with it
                outer.set_exception(closed)

        attempt()
        return outer

    def resume(self, unfinished: Sequence[tuple[UUID, UUID]]) -> list[Future[Ended]]:
        """At start: begin again what a stop or a crash left."""
        return [self.begin(a, j) for a, j in unfinished if self._left(a, j) is None]

    def pick_up(self, waiting: Sequence[tuple[UUID, UUID]]) -> list[Future[Ended]]:
        """Begin what was written down and never begun: whoever did so lost the database in between. What another
        process has begun meanwhile is done once all the same."""
        return [self.begin(a, j) for a, j in waiting if j not in self.in_hand]

    def _left(self, academy_id: UUID, job_id: UUID) -> Ended | None:
        """A job whose worker is gone waits again; or it ends, when that happened too often."""
        with self.open(academy_id) as uow:
            job = uow.hold(Job, job_id)
            if job.state == RUNNING and job.attempts >= MOST_ATTEMPTS:
                words = tr(
                    "It stopped the application {attempts} times. Try it again, or leave it out.", attempts=job.attempts
                )
                job.state, job.code, job.message, job.ended_at = FAILED, "internal", words, now()
            elif not job.ended:
                job.state = WAITING
            return Ended(job.state, job.answer, job.code, job.message) if job.ended else None


def cancel(uow: UnitOfWork, job: Job) -> None:
    """Stop a job: at once when it has not begun, else at its next step. One that has ended stays as it is."""
    if not job.ended:
        job.cancel_wanted = True


def try_again(uow: UnitOfWork, job: Job) -> None:
    """Let a job that failed or was stopped begin anew."""
    if job.state not in (FAILED, CANCELLED):
        raise Refused(tr("only work that failed or was stopped can be tried again"))
    if job.kind == "import" and not uow.find(JobInput, job_id=job.id):
        raise Refused(tr("the file is not kept any more"), tr("Drop it again"))
    job.state, job.cancel_wanted, job.code, job.message, job.attempts = WAITING, False, "", "", 0
    job.ended_at = None
