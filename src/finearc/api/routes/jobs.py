"""Long work: what runs, stopping it, trying it again; measuring everything again."""

from __future__ import annotations

from typing import TypeVar
from uuid import UUID

from fastapi import APIRouter

from finearc.api import models as m
from finearc.api.context import Services, ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.views.jobs import job_out, measuring_out
from finearc.services.jobs import board, measuring
from finearc.services.jobs.records import Job
from finearc.services.jobs.run import ACCEPT_MEASURING, MEASURE_AGAIN
from finearc.services.judging.analysis import ENGINE
from finearc.services.ports import UnitOfWork
from finearc.services.records import Instructor

router = APIRouter(route_class=DoorRoute, tags=["jobs"])
MOST = 50
Out = TypeVar("Out")


@router.get("/jobs")
def jobs(uow: UnitOfWorkDep) -> list[m.JobOut]:
    """The academy's long work, newest first."""
    return [job_out(j) for j in uow.find(Job, order="-created_at")[:MOST]]


@router.get("/jobs/{job_id}")
def job(job_id: UUID, uow: UnitOfWorkDep) -> m.JobOut:
    """How far one is."""
    return job_out(uow.get(Job, job_id))


@router.post("/jobs/{job_id}/cancel")
def cancel_job(job_id: UUID, uow: UnitOfWorkDep) -> m.JobOut:
    """Stop it at its next step; nothing half done is kept."""
    found = uow.hold(Job, job_id)
    board.cancel(uow, found)
    return job_out(found)


@router.post("/jobs/{job_id}/retry")
def retry_job(job_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.JobOut:
    """Begin one that failed or was stopped anew."""
    found = uow.hold(Job, job_id)
    board.try_again(uow, found)
    return begun(uow, s, found, job_out(found))


def begun(uow: UnitOfWork, s: Services, found: Job, answer: Out) -> Out:
    """Hand a job that is written down to the pool: it must be kept before a worker looks for it."""
    uow.commit()
    s.jobs.begin(uow.academy_id, found.id)
    return answer


def _measuring(uow: UnitOfWork) -> m.MeasuringOut:
    found = measuring.pending(uow)
    if found is None:
        return measuring_out(ENGINE, None, None, measuring.stopped(uow), None)
    return measuring_out(ENGINE, found, measuring.accepting(uow, found), None, measuring.report_of(found))


@router.get("/measuring")
def measuring_again(uow: UnitOfWorkDep) -> m.MeasuringOut:
    """What measuring everything again has found, while it runs and until it is decided."""
    return _measuring(uow)


@router.post("/measuring", status_code=202)
def start_measuring(uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.MeasuringOut:
    """Measure every recording again with this engine, beside what is kept."""
    measuring.make_way(uow)
    made = board.write_down(uow, MEASURE_AGAIN, {}, made_by=uow.get(Instructor, who.instructor_id).name)
    return begun(uow, s, made, _measuring(uow))


@router.post("/measuring/{job_id}/decision", status_code=202)
def decide_measuring(job_id: UUID, body: m.DecisionIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.MeasuringOut:
    """Let what was measured again take the place of what is kept, or leave everything as it is."""
    found = uow.hold(Job, job_id)
    if body.decision == "dismiss":
        measuring.decide(uow, found, measuring.DISMISSED)
        return _measuring(uow)
    measuring.refuse_to_accept(uow, found)
    made = board.write_down(uow, ACCEPT_MEASURING, {"of": str(job_id)})
    return begun(uow, s, made, _measuring(uow))
