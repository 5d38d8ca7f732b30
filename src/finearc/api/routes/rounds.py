"""A player's rounds: bringing the clips' log, looking, correcting, taking it away."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Path, UploadFile
from fastapi.responses import Response

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, Who, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.importing import LARGEST_UPLOAD, uploaded
from finearc.api.views.jobs import job_out
from finearc.api.views.rounds import round_out, rounds_out
from finearc.core.course.kinds import MotionKind
from finearc.core.frames.handedness import Hand
from finearc.formats.bundle import zip_bytes
from finearc.formats.round_bundle import log_of, round_files
from finearc.services.course.round_reading import RoundData
from finearc.services.course.rounds import correct, data_of, remove, restore, round_page, rounds_of
from finearc.services.errors import NotFound
from finearc.services.jobs.board import write_down
from finearc.services.jobs.records import ROUND, Job
from finearc.services.ports import UnitOfWork
from finearc.services.records import Bay, Instructor, Player
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["rounds"])
LogKey = Annotated[str, Path(pattern="^[0-9a-f]{24}$")]


@router.post("/players/{player_id}/rounds", status_code=202, max_body_size=LARGEST_UPLOAD)
def bring_round(player_id: UUID, file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.JobOut:
    """Bring the log of a round (a zip whose ``capture.json`` says ``"shot": "round"``): the job that reads it, which
    answers with ``round_id``."""
    uow.get(Player, player_id)
    name, content = uploaded(file, "round.zip")
    job = _write_down(uow, player_id, name, content, who)
    uow.commit()  # the worker sees it
    s.jobs.begin(uow.academy_id, job.id)
    return job_out(job)


@router.get("/players/{player_id}/handed-over")
def handed_over(player_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> list[m.HandedOut]:
    """Logs that clips have handed over in the academy's bays and that are nobody's yet, the latest first."""
    uow.get(Player, player_id)
    bays = {b.id: b.name for b in uow.find(Bay)}
    return [
        m.HandedOut(
            key=x.key,
            bay=bays[x.bay_id],
            device=x.device,
            clubs=sorted(x.samples),
            samples=sum(x.samples.values()),
            began=x.began,
            ended=x.ended,
        )
        for x in s.logs.waiting(list(bays))
    ]


@router.post("/players/{player_id}/handed-over/{log_key}", status_code=202)
def take_handed_over(player_id: UUID, log_key: LogKey, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> m.JobOut:
    """A log that clips have handed over is this player's round: the job that reads it."""
    player = uow.get(Player, player_id)
    found = s.logs.read([b.id for b in uow.find(Bay)], log_key)
    if found is None:
        raise NotFound(tr("this log"))
    brief, logs = found
    content = zip_bytes(round_files(RoundData(brief.began, Hand(player.handedness), logs)))
    job = _write_down(uow, player_id, f"{brief.device}.zip", content, who)
    uow.commit()  # the worker sees it
    s.logs.taken(brief)
    s.jobs.begin(uow.academy_id, job.id)
    return job_out(job)


def _write_down(uow: UnitOfWork, player_id: UUID, name: str, content: bytes, who: Who) -> Job:
    subject = {"name": name, "player_id": str(player_id), "by": str(who.instructor_id)}
    return write_down(uow, ROUND, subject, content, made_by=uow.get(Instructor, who.instructor_id).name)


@router.get("/players/{player_id}/rounds")
def player_rounds(player_id: UUID, uow: UnitOfWorkDep) -> list[m.RoundBrief]:
    """A player's rounds, the latest first."""
    return rounds_out(rounds_of(uow, player_id))


@router.get("/rounds/{round_id}")
def one_round(round_id: UUID, uow: UnitOfWorkDep) -> m.RoundOut:
    """Every motion of a round, and what it says."""
    return round_out(round_page(uow, round_id))


@router.patch("/rounds/{round_id}/motions/{number}")
def correct_motion(round_id: UUID, number: int, body: m.MotionPatch, uow: UnitOfWorkDep, who: WhoDep) -> m.RoundOut:
    """Say what a motion was; what was found stays beside it, and null takes back what was said."""
    kind = None if body.kind is None else MotionKind(body.kind)
    correct(uow, round_id, number, kind, uow.get(Instructor, who.instructor_id).name)
    return round_out(round_page(uow, round_id))


@router.delete("/rounds/{round_id}")
def remove_round(round_id: UUID, uow: UnitOfWorkDep) -> m.Accepted:
    """Remove a round with everything that was logged in it; for a day it can be brought back."""
    remove(uow, round_id)
    return m.Accepted()


@router.post("/rounds/{round_id}/restored")
def restore_round(round_id: UUID, uow: UnitOfWorkDep) -> m.RoundOut:
    """Bring a round back that was removed within the last day."""
    restore(uow, round_id)
    return round_out(round_page(uow, round_id))


@router.get("/rounds/{round_id}/bundle", response_class=Response)
def take_away(round_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> Response:
    """The round as it was brought: a capture bundle that reads again."""
    files = round_files(data_of(uow, s.codec, round_id, log_of))
    headers = {"Content-Disposition": 'attachment; filename="round.zip"'}
    return Response(zip_bytes(files), media_type="application/zip", headers=headers)
