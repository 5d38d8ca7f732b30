"""``finearc measure-again``: everything an academy keeps, measured again by this engine, on a running database."""

from __future__ import annotations

import sys
from collections.abc import Callable
from uuid import UUID

from finearc.formats.archive_in import read_archive
from finearc.formats.dropped import READERS
from finearc.formats.round_bundle import read_round_zip
from finearc.launch.bounded import BoundedProcess, InThisProcess
from finearc.reports.maker import Pages
from finearc.services.errors import Refused
from finearc.services.jobs import board, measuring
from finearc.services.jobs.ports import Tools
from finearc.services.jobs.records import DONE, WAITING, Job
from finearc.services.jobs.run import ACCEPT_MEASURING, MEASURE_AGAIN, run_job
from finearc.store.columns import ParquetColumns
from finearc.store.migrate import refuse_unless_current
from finearc.store.unit_of_work import Store, engine_for

Say = Callable[[str], None]


def tools_on(url: str, *, limited: bool = True) -> Tools:
    """What long work is done with, on a database address; ``limited``: files are read in a process of their own.
    Called in each worker."""
    bounded = BoundedProcess() if limited else InThisProcess()
    return Tools(
        Store(engine_for(url)).unit_of_work,
        ParquetColumns(),
        READERS,
        Pages().pdf,
        bounded,
        read_archive,
        read_round_zip,
    )


def measure_again(url: str, decision: str, say: Say = print) -> int:
    """Measure again what every academy keeps, or go on where that was stopped; then ``decision``: accept, dismiss, or
    empty to leave it open. Raises ``Refused``."""
    engine = engine_for(url)
    refuse_unless_current(engine)
    tools = tools_on(url)
    with Store(engine).front_door() as door:
        academies = door.academies()
    for academy in academies:
        job = _found(tools, academy.id)
        if job.state != DONE:
            print(f"{academy.name}: measuring …", file=sys.stderr)
            ended = run_job(tools, academy.id, job.id)
            if ended.state != DONE:
                raise Refused(ended.message or f"the work is {ended.state} already", "See it in the application")
        with tools.open(academy.id) as uow:
            report = measuring.report_of(uow.get(Job, job.id))
        say(f"{academy.name}: {in_short(report)}")
        if decision:
            _decide(tools, academy.id, job.id, decision)
            say(f"{academy.name}: {'accepted' if decision == 'accept' else 'left as it was'}")
    return 0


def _found(tools: Tools, academy_id: UUID) -> Job:
    """The measuring that waits for a decision or was stopped, else a new one."""
    with tools.open(academy_id) as uow:
        job = measuring.pending(uow) or measuring.stopped(uow)
        if job is None:
            return board.write_down(uow, MEASURE_AGAIN, {}, made_by="command line")
        if job.state not in (DONE, WAITING):
            if not job.ended:
                raise Refused("everything is being measured again in the application", "Wait until it has ended")
            board.try_again(uow, job)
        return job


def _decide(tools: Tools, academy_id: UUID, job_id: UUID, decision: str) -> None:
    with tools.open(academy_id) as uow:
        job = uow.hold(Job, job_id)
        if decision == "dismiss":
            measuring.decide(uow, job, measuring.DISMISSED)
            return
        measuring.refuse_to_accept(uow, job)
        made = board.write_down(uow, ACCEPT_MEASURING, {"of": str(job_id)}, made_by="command line")
    ended = run_job(tools, academy_id, made.id)
    if ended.state != DONE:
        raise Refused(ended.message, "Run it again: it goes on where it was")


def in_short(report: measuring.MeasuringReport) -> str:
    """What a measuring found, in one line."""
    lost = f"; {len(report.unreadable)} recordings cannot be read any more" if report.unreadable else ""
    if report.changed + report.gone + report.new == 0:
        return f"all {report.values} values of {report.swings} swings read the same{lost}"
    return (
        f"{report.changed} of {report.values} values of {report.swings} swings read otherwise, {report.new} are new, "
        f"{report.gone} are gone, {report.verdicts} fall on another side of a band, other findings in "
        f"{report.findings} swings{lost}"
    )
