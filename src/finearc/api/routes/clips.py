"""Videos beside swings."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import partial
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Header, Query, UploadFile
from fastapi.responses import Response, StreamingResponse

from finearc.api import models as m
from finearc.api.context import Services, ServicesDep, UnitOfWorkDep
from finearc.api.door import DoorRoute
from finearc.api.importing import read_bounded
from finearc.api.views.clips import clips_out
from finearc.formats.video import read_clip, too_large
from finearc.services.capture import clips
from finearc.services.errors import NotFound
from finearc.services.records import Clip, Swing

router = APIRouter(route_class=DoorRoute, tags=["clips"])
AROUND_S = 2.5
"""The strike lies within so much of where whoever recorded it expects it (house value)."""
ONE_RANGE = re.compile(r"bytes=(\d*)-(\d*)")


@router.get("/swings/{swing_id}/clips")
def of_swing(swing_id: UUID, uow: UnitOfWorkDep) -> m.ClipsOut:
    """The videos of a swing."""
    return clips_out(clips.seen_of(uow, uow.get(Swing, swing_id)))


@router.post("/swings/{swing_id}/clips/{view}", status_code=201, max_body_size=clips.MOST_BYTES + 1_000_000)
def attach(
    swing_id: UUID,
    view: m.View,
    file: UploadFile,
    uow: UnitOfWorkDep,
    s: ServicesDep,
    near_s: Annotated[float | None, Query(ge=0.0, le=clips.MOST_S)] = None,
) -> m.ClipsOut:
    """Attach a video to a swing: MP4 or WebM, as browsers play it. The strike is looked for in its sound, around
    ``near_s`` where that is given; where it cannot be told, nothing is laid on the swing until somebody says where."""
    swing = uow.get(Swing, swing_id)
    name, content = file.filename or "video", file.file.read(clips.MOST_BYTES + 1)
    if len(content) > clips.MOST_BYTES:
        raise too_large(name, len(content))
    near = None if near_s is None else (near_s - AROUND_S, near_s + AROUND_S)
    read = read_bounded(s, uow, partial(read_clip, near=near), name, content)
    clips.attach(uow, swing_id, view, read)
    return clips_out(clips.seen_of(uow, swing))


@router.get("/clips/{clip_id}/content", response_class=StreamingResponse)
def content(
    clip_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, range_: Annotated[str, Header(alias="range")] = ""
) -> Response:
    """A video's file, or one range of its bytes (RFC 9110, section 14)."""
    clip = uow.get(Clip, clip_id)
    if clip.removed:
        raise NotFound("clip")
    headers = {"Accept-Ranges": "bytes", "Cache-Control": "no-store", "Content-Type": clip.kind}
    asked = _range(range_, clip.size)
    if asked is None:
        return StreamingResponse(
            _sent(s, clip, 0, clip.size - 1), headers={**headers, "Content-Length": str(clip.size)}
        )
    first, last = asked
    if first > last:
        return Response(status_code=416, headers={**headers, "Content-Range": f"bytes */{clip.size}"})
    told = {
        "Content-Range": f"bytes {first}-{last}/{clip.size}",
        "Content-Length": str(last - first + 1),
    }
    return StreamingResponse(_sent(s, clip, first, last), status_code=206, headers={**headers, **told})


def _sent(s: Services, clip: Clip, first: int, last: int) -> Iterator[bytes]:
    return clips.pieces(partial(s.store.unit_of_work, clip.academy_id), clip, first, last)


def _range(asked: str, size: int) -> tuple[int, int] | None:
    """First and last byte, the first beyond the last where none is there; None where all is asked for. Several ranges
    at once are answered with all, as RFC 9110 allows."""
    found = ONE_RANGE.fullmatch(asked.replace(" ", ""))
    if found is None or found.group(0) == "bytes=-":
        return None
    first, last = found.groups()
    if not first:
        return max(0, size - int(last[:15])), size - 1 if int(last[:15]) else -1
    return int(first[:15]), min(size - 1, int(last[:15])) if last else size - 1


@router.patch("/clips/{clip_id}")
def align(clip_id: UUID, body: m.ClipPatch, uow: UnitOfWorkDep) -> m.ClipsOut:
    """Lay a video on its swing: by a click on impact, and by how much slower it plays."""
    clip = clips.align(uow, clip_id, body.impact_s, body.slower)
    return clips_out(clips.seen_of(uow, uow.get(Swing, clip.swing_id)))


@router.delete("/clips/{clip_id}")
def remove(clip_id: UUID, uow: UnitOfWorkDep) -> m.ClipsOut:
    """Take a video away from its swing; undoing brings it back within a day."""
    return clips_out(clips.seen_of(uow, uow.get(Swing, clips.remove(uow, clip_id))))
