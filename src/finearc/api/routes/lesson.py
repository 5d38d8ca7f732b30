"""A lesson: recordings, swings, changes, blocks, close."""

from __future__ import annotations

import json
import queue
from collections.abc import AsyncIterator
from uuid import UUID

import anyio
from fastapi import APIRouter, Request, UploadFile
from fastapi.responses import HTMLResponse, Response, StreamingResponse

from finearc.api import models as m
from finearc.api.context import ServicesDep, UnitOfWorkDep, WhoDep
from finearc.api.views import lesson as lesson_views
from finearc.catalogue import library
from finearc.core.events.model import Checkpoint
from finearc.formats.archive import lesson_archive
from finearc.formats.bundle import MAX_UPLOAD, read_zip
from finearc.formats.errors import BundleError
from finearc.formats.tables import csv_table
from finearc.golfer.scenarios import scenario
from finearc.reports.page import page_of
from finearc.services.capture import recordings
from finearc.services.errors import Refused
from finearc.services.judging.academy_rules import rule_set_of
from finearc.services.lesson import changes, lessons
from finearc.services.record.stored import unpack_traces
from finearc.services.records import Block, Lesson, Player, Recording, Swing

router = APIRouter(tags=["lesson"])
HEARTBEAT_S = 10.0


@router.get("/lessons/{lesson_id}")
def lesson(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """A lesson with recordings, swings, findings and blocks."""
    return lesson_views.lesson_out(uow, uow.get(Lesson, lesson_id))


@router.patch("/lessons/{lesson_id}")
def change_lesson(lesson_id: UUID, body: m.LessonPatch, uow: UnitOfWorkDep) -> m.LessonOut:
    """Pain, club, kind of the next swings, note."""
    found = uow.get(Lesson, lesson_id)
    if body.pain is not None:
        lessons.answer_pain(found, body.pain, body.pain_note or "")
    if body.club is not None:
        if body.club not in library.clubs():
            raise Refused(f'there is no club "{body.club}"')
        found.club = body.club
    if body.kind is not None:
        found.kind = body.kind
    if body.note is not None:
        found.note = body.note
    uow.flush()
    return lesson_views.lesson_out(uow, found)


@router.post("/lessons/{lesson_id}/recordings", status_code=201)
def start_recording(lesson_id: UUID, body: m.RecordingIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.RecordingStarted:
    """Fit the stand-in device and begin the calibration; it plays in real time on the live channel."""
    found = uow.get(Lesson, lesson_id)
    scenario(body.scenario)
    recording = recordings.open_recording(
        uow,
        found,
        uow.get(Player, found.player_id),
        "stand-in",
        glove=body.glove,
        scenario=body.scenario,
        seed=body.seed,
    )
    uow.commit()
    wanted = {"club": body.club_clip, "body": body.body_pack, "pressure": body.mat}
    s.devices.begin(uow.academy_id, lesson_id, recording, [k for k, worn in wanted.items() if worn])
    return m.RecordingStarted(recording_id=recording.id)


@router.post("/lessons/{lesson_id}/stand-in/swings")
def request_swings(lesson_id: UUID, body: m.SwingCount, uow: UnitOfWorkDep, s: ServicesDep) -> m.Accepted:
    """Let the stand-in player swing."""
    uow.get(Lesson, lesson_id)
    if not s.devices.request_swings(lesson_id, body.count):
        raise Refused("no stand-in device is fitted", "Fit and calibrate it first")
    return m.Accepted()


@router.get("/lessons/{lesson_id}/live", response_class=StreamingResponse)
async def live(lesson_id: UUID, request: Request, s: ServicesDep, who: WhoDep) -> StreamingResponse:
    """What happens in the lesson, as server-sent events."""

    def known() -> None:
        with s.store.unit_of_work(who.academy_id) as uow:
            uow.get(Lesson, lesson_id)

    await anyio.to_thread.run_sync(known)

    async def messages() -> AsyncIterator[str]:
        with s.hub.watching(lesson_id) as mine:
            quiet = 0.0
            yield ": here\n\n"
            while not await request.is_disconnected() and not s.closing.is_set():
                try:
                    message = mine.get_nowait()
                    quiet = 0.0
                    yield f"data: {json.dumps(message)}\n\n"
                except queue.Empty:
                    await anyio.sleep(0.04)
                    quiet += 0.04
                    if quiet > HEARTBEAT_S:
                        quiet = 0.0
                        yield ": still here\n\n"

    return StreamingResponse(
        messages(), media_type="text/event-stream", headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"}
    )


@router.post("/lessons/{lesson_id}/bundle", status_code=201)
def drop_bundle(lesson_id: UUID, file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep) -> m.Imported:
    """Import a capture bundle (.zip). Nothing is kept unless all of it can be read."""
    content = file.file.read(MAX_UPLOAD + 1)
    if len(content) > MAX_UPLOAD:
        raise BundleError(
            file.filename or "bundle", f"larger than {MAX_UPLOAD / 1e6:.0f} MB", advice="Split the session in two"
        )
    data = read_zip(content, file.filename or "bundle.zip")
    recording = recordings.import_capture(uow, s.codec, uow.get(Lesson, lesson_id), data)
    own = uow.find(Swing, recording_id=recording.id, order="number")
    return m.Imported(recording_id=recording.id, swings=[x.id for x in own])


@router.get("/swings/{swing_id}")
def swing(swing_id: UUID, uow: UnitOfWorkDep) -> m.SwingOut:
    """One swing: events, values, findings, what is missing and why."""
    return lesson_views.swing_out(uow, uow.get(Swing, swing_id))


@router.get("/swings/{swing_id}/traces", response_class=Response)
def traces(swing_id: UUID, uow: UnitOfWorkDep) -> Response:
    """Traces and bands as one binary block (see docs/formats)."""
    return Response(uow.get(Swing, swing_id).traces, media_type="application/octet-stream")


@router.get("/swings/{swing_id}/figure", response_class=Response)
def figure(swing_id: UUID, uow: UnitOfWorkDep) -> Response:
    """The figure's points as one binary block of the same kind; empty when nothing was oriented."""
    return Response(uow.get(Swing, swing_id).figure, media_type="application/octet-stream")


@router.get("/swings/{swing_id}/traces.csv", response_class=Response)
def traces_csv(swing_id: UUID, uow: UnitOfWorkDep) -> Response:
    """Traces and bands as a table."""
    found = uow.get(Swing, swing_id)
    columns = unpack_traces(found.traces)
    rows = list(zip(*([f"{v:.5g}" if v == v else "" for v in c] for c in columns.values()), strict=True))
    return Response(
        csv_table(list(columns), rows),
        media_type="text/csv",
        headers={"Content-Disposition": f'attachment; filename="swing-{found.number}.csv"'},
    )


@router.patch("/swings/{swing_id}")
def change_swing(swing_id: UUID, body: m.SwingPatch, uow: UnitOfWorkDep, s: ServicesDep) -> m.SwingOut:
    """Kind, ball flight, strike, club or an event; what depends on it follows, and it can be undone."""
    uow.lock_academy()
    found = uow.get(Swing, swing_id)
    if body.kind is not None:
        changes.set_kind(uow, s.codec, found, body.kind, body.reason)
    if body.ball_start is not None or body.ball_curve is not None:
        start = found.ball_start if body.ball_start is None else body.ball_start
        curve = found.ball_curve if body.ball_curve is None else body.ball_curve
        changes.set_ball(uow, s.codec, found, start, curve)
    if body.strike is not None:
        changes.set_strike(uow, s.codec, found, body.strike)
    if body.club is not None:
        changes.set_club(uow, s.codec, found, body.club)
    if body.tags is not None:
        changes.set_tags(uow, s.codec, found, body.tags)
    if body.checkpoint is not None:
        if body.checkpoint.name not in list(Checkpoint):
            raise Refused(f'there is no checkpoint "{body.checkpoint.name}"')
        changes.set_event(uow, s.codec, found, Checkpoint(body.checkpoint.name), body.checkpoint.time_s)
    return lesson_views.swing_out(uow, found)


@router.post("/lessons/{lesson_id}/undo")
def undo(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.Undone:
    """Take the last change back. Quick repeats wait for each other: the lock comes before the first read."""
    uow.lock_academy()
    return m.Undone(label=changes.undo(uow, s.codec, uow.get(Lesson, lesson_id)).label)


@router.post("/lessons/{lesson_id}/redo")
def redo(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.Undone:
    """Do the undone change again."""
    uow.lock_academy()
    return m.Undone(label=changes.redo(uow, s.codec, uow.get(Lesson, lesson_id)).label)


@router.post("/lessons/{lesson_id}/pin")
def pin(lesson_id: UUID, body: m.PinIn, uow: UnitOfWorkDep) -> m.LessonOut:
    """Pin swings as *before*; an empty list unpins."""
    found = uow.get(Lesson, lesson_id)
    chosen = [uow.get(Swing, k) for k in body.swing_ids]
    if any(x.lesson_id != found.id for x in chosen):
        raise Refused("only swings of this lesson can be pinned")
    lessons.pin(found, chosen)
    uow.flush()
    return lesson_views.lesson_out(uow, found)


@router.post("/lessons/{lesson_id}/blocks", status_code=201)
def start_block(lesson_id: UUID, body: m.BlockIn, uow: UnitOfWorkDep) -> m.LessonOut:
    """Start a drill or a test block."""
    found = uow.get(Lesson, lesson_id)
    lessons.start_block(uow, found, body.kind, body.finding, body.metric, body.moment, body.drill)
    uow.flush()
    return lesson_views.lesson_out(uow, found)


@router.post("/lessons/{lesson_id}/blocks/end")
def end_block(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """End the running block."""
    found = uow.get(Lesson, lesson_id)
    lessons.end_block(uow, found)
    uow.flush()
    return lesson_views.lesson_out(uow, found)


@router.get("/blocks/{block_id}/change")
def block_change(block_id: UUID, uow: UnitOfWorkDep) -> m.BlockOut:
    """Before against after of a test block."""
    block = uow.get(Block, block_id)
    found = uow.get(Lesson, block.lesson_id)
    blocks = uow.find(Block, lesson_id=found.id, order="started_at")
    return lesson_views.block_out(found, block, blocks, uow.find(Swing, lesson_id=found.id, order="number"))


@router.put("/lessons/{lesson_id}/plan")
def keep_plan(lesson_id: UUID, body: m.PlanIn, uow: UnitOfWorkDep) -> m.LessonOut:
    """Keep the priorities as they stand, in their order: accepted, swapped or the instructor's own."""
    found = uow.get(Lesson, lesson_id)
    if found.status == "closed":
        raise Refused("the lesson is closed", "Reopen it to change its priorities")
    lessons.keep_plan(uow, found, [lessons.Chosen(**p.model_dump()) for p in body.priorities])
    return lesson_views.lesson_out(uow, found)


@router.delete("/lessons/{lesson_id}/plan")
def drop_plan(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """Go back to what is proposed."""
    found = uow.get(Lesson, lesson_id)
    if found.status == "closed":
        raise Refused("the lesson is closed", "Reopen it to change its priorities")
    lessons.keep_plan(uow, found, [])
    found.planned = False
    uow.flush()
    return lesson_views.lesson_out(uow, found)


@router.post("/lessons/{lesson_id}/close")
def close(lesson_id: UUID, body: m.CloseIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.Closed:
    """End the lesson: at most two priorities, one note, next date. A walk-in without consent is erased."""
    s.devices.end(lesson_id)
    chosen = [lessons.Chosen(**p.model_dump()) for p in body.priorities]
    kept = lessons.close(uow, uow.get(Lesson, lesson_id), chosen, body.note, body.next_date)
    return m.Closed(kept=kept)


@router.post("/lessons/{lesson_id}/reopen")
def reopen(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """Take the close back."""
    found = uow.get(Lesson, lesson_id)
    lessons.reopen(found)
    uow.flush()
    return lesson_views.lesson_out(uow, found)


@router.get("/lessons/{lesson_id}/page", response_class=HTMLResponse)
def page(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> HTMLResponse:
    """The one page that goes home."""
    return HTMLResponse(s.pages.html(page_of(uow, uow.get(Lesson, lesson_id))))


@router.get("/lessons/{lesson_id}/page.pdf", response_class=Response)
def page_pdf(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> Response:
    """The same page as PDF."""
    return Response(
        s.pages.pdf(page_of(uow, uow.get(Lesson, lesson_id))),
        media_type="application/pdf",
        headers={"Content-Disposition": 'inline; filename="lesson.pdf"'},
    )


@router.get("/lessons/{lesson_id}/export", response_class=Response)
def export(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> Response:
    """The lesson as a zip of bundles plus JSON."""
    return Response(
        lesson_archive(uow, s.codec, uow.get(Lesson, lesson_id)),
        media_type="application/zip",
        headers={"Content-Disposition": 'attachment; filename="lesson.zip"'},
    )


@router.get("/recordings/{recording_id}")
def recording(recording_id: UUID, uow: UnitOfWorkDep) -> m.RecordingOut:
    """One fit: calibration quality and setup answer."""
    found = uow.get(Recording, recording_id)
    return lesson_views.recording_out(found, rule_set_of(uow, uow.get(Lesson, found.lesson_id)))
