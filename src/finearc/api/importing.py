"""A file that is dropped: taken in, written down as a job, waited for unless the sender would rather not."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Any, TypeVar
from uuid import UUID

from fastapi import Header, UploadFile
from fastapi.responses import JSONResponse

from finearc.api import models as m
from finearc.api.context import Services
from finearc.api.views.jobs import job_out
from finearc.formats.bundle import MAX_UPLOAD
from finearc.formats.errors import BundleError
from finearc.services.jobs.board import wait_for, write_down
from finearc.services.jobs.questions import FileAsked, read_file
from finearc.services.jobs.run import IMPORT
from finearc.services.ports import UnitOfWork
from finearc.wording import tr

Read = TypeVar("Read")
LARGEST_UPLOAD = MAX_UPLOAD + 1_000_000
"""Bytes of a request with a file and what is said beside it."""
Responses = dict[int | str, dict[str, Any]]
Prefer = Annotated[str, Header(description="RFC 7240: respond-async answers at once with the job")]

Answer = m.Imported | JSONResponse
JOB: Responses = {202: {"model": m.JobOut}}


def uploaded(file: UploadFile, default_name: str) -> tuple[str, bytes]:
    """Name and content of an uploaded file. Raises ``BundleError`` when it is too large."""
    name, content = file.filename or default_name, file.file.read(MAX_UPLOAD + 1)
    if len(content) > MAX_UPLOAD:
        raise BundleError(
            name, tr("larger than {value:.0f} MB", value=MAX_UPLOAD / 1000000.0), advice=tr("Split the session in two")
        )
    return name, content


def read_bounded(s: Services, uow: UnitOfWork, work: Callable[[str, bytes], Read], name: str, content: bytes) -> Read:
    """What a reader makes of a file, read outside this process with limits on memory and time."""
    answer: Read = s.jobs.pool.ask(read_file, uow.academy_id, FileAsked(work, name, content)).result()
    return answer


def imported(
    uow: UnitOfWork, s: Services, lesson_id: UUID, subject: dict[str, Any], content: bytes, prefer: str
) -> m.Imported | JSONResponse:
    """Import a file: the recording and its swings, or the job that does it. Raises ``JobFailed``."""
    subject = {**subject, "by": str(uow.by or "")}
    job = write_down(uow, IMPORT, subject, content, lesson_id=lesson_id)
    uow.commit()  # the worker sees it
    begun = s.jobs.begin(uow.academy_id, job.id)
    if "respond-async" in prefer:
        return JSONResponse(job_out(job).model_dump(mode="json"), 202, headers={"Preference-Applied": "respond-async"})
    return m.Imported.model_validate(wait_for(begun))
