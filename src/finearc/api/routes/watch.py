"""Seen from outside: whether the application lives, and whether it can work."""

from __future__ import annotations

import shutil
from typing import Literal

from fastapi import APIRouter, Response
from pydantic import BaseModel

from finearc import __version__
from finearc.api.context import ServicesDep
from finearc.store.migrate import is_ready
from finearc.wording import tr

router = APIRouter(tags=["health"])
LOW_SPACE_BYTES = 300_000_000
State = Literal["ok", "away", "other version", "nearly full"]


class Ready(BaseModel):
    """What it takes to work."""

    database: State
    disk: State


@router.get("/healthz")
async def healthz() -> dict[str, str]:
    """Whether the application answers."""
    return {"status": "ok", "version": __version__}


@router.get("/readyz", responses={503: {"model": Ready}})
def readyz(response: Response, s: ServicesDep) -> Ready:
    """Whether the database answers with tables of this version, and there is room on the disk; 503 where not."""
    free = shutil.disk_usage(s.folder).free if s.folder is not None else LOW_SPACE_BYTES
    found = Ready(database=is_ready(s.store.engine), disk="ok" if free >= LOW_SPACE_BYTES else tr("nearly full"))
    if found.database != "ok" or found.disk != "ok":
        response.status_code = 503
    return found
