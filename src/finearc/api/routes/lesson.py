"""A lesson: recordings, swings, changes, blocks, close."""

from __future__ import annotations

import json
from collections.abc import AsyncIterator
from functools import partial
from typing import Annotated, Any, Literal
from uuid import UUID

import anyio
from fastapi import APIRouter, Query, UploadFile
from fastapi.responses import Response, StreamingResponse

from finearc.api import models as m
from finearc.api.archives import archive_response
from finearc.api.changed import swing_changed, swing_marked
from finearc.api.context import HEAVY, Services, ServicesDep, UnitOfWorkDep, Who, WhoDep
from finearc.api.door import DoorRoute
from finearc.api.importing import JOB, LARGEST_UPLOAD, Answer, Prefer, imported, uploaded
from finearc.api.private import sees_all, without_private
from finearc.api.revisions import SeenRevision
from finearc.api.views import lesson as lesson_views
from finearc.api.views.told import to_reader
from finearc.core.events.model import Checkpoint
from finearc.core.events.swings import Shot
from finearc.devices.plan import DEVICES, STAND_IN
from finearc.formats.archive import lesson_archive
from finearc.formats.dropped import BUNDLE
from finearc.formats.tables import csv_table
from finearc.golfer.played import refuse_unknown
from finearc.services.capture import recordings
from finearc.services.errors import Refused
from finearc.services.known import PUTTER
from finearc.services.lesson import changes, lessons, marks, pages, training
from finearc.services.lesson.pages import block_reads, lesson_page, swing_page, traces_with_bands
from finearc.services.people.roles import NotAllowed, Role
from finearc.services.ports import UnitOfWork
from finearc.services.record.blocks import GROUND
from finearc.services.records import Block, ChangeEntry, Lesson, Player, Priority, Recording, Swing
from finearc.services.revisions import lesson_written, refuse_overtaken, revision_of
from finearc.wording import tr

router = APIRouter(route_class=DoorRoute, tags=["lesson"])
HEARTBEAT_S = 10.0
FOR_EVER = "private, max-age=31536000, immutable"


def _lesson(uow: UnitOfWork, lesson_id: UUID) -> m.LessonOut:
    uow.flush()
    return lesson_views.lesson_out(lesson_page(uow, lesson_id))


@router.get("/lessons/{lesson_id}")
def lesson(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """A lesson with recordings, swings, findings and blocks."""
    return _lesson(uow, lesson_id)


@router.patch("/lessons/{lesson_id}")
def change_lesson(
    lesson_id: UUID, body: m.LessonPatch, seen: SeenRevision, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep
) -> m.LessonChanged:
    """Pain, club, kind of the next swings, note. The answer is what changed. Whoever writes a note, or takes back a
    pain that was said, says which revision they saw. Whoever does not see what is noted of pain adds to it."""
    found = uow.hold(Lesson, lesson_id)
    if not sees_all(who.role):
        body = _blind(found, body, who.role)
    takes_back = body.pain is not None and found.pain == "yes" and body.pain != "yes"
    if body.note is not None or body.pain_note or takes_back:
        _refuse_overtaken(uow, found, seen)
    summaries: list[m.SummaryOut] = []
    if body.pain is not None:
        where = found.pain_note if body.pain == "yes" and body.pain_note is None else body.pain_note
        summaries += lessons.answer_pain(uow, found, body.pain, where or "")
    if body.club is not None:
        summaries += lessons.set_club(uow, found, body.club)
    if body.kind is not None:
        found.kind = body.kind
    if body.note is not None:
        found.note = body.note
    if body.club is not None:
        training.follow_club(uow, found)
    told = m.LessonChanged(
        pain=found.pain,
        pain_note=found.pain_note,
        club=found.club,
        kind=found.kind,
        note=found.note,
        revision=revision_of(_written(uow, found)),
        summaries=summaries,
    )
    if body.club is not None:  # bands, and what is trained, go with the club
        academy_id = uow.academy_id
        uow.commit()
        s.devices.train(academy_id, lesson_id)
    return told


def _blind(lesson: Lesson, body: m.LessonPatch, role: Role) -> m.LessonPatch:
    """The change by somebody who does not see the notes: none of them is written over. Raises ``NotAllowed``."""
    if body.note is not None:
        raise NotAllowed(role)
    if not body.pain_note or not lesson.pain_note:
        return body.model_copy(update={"pain_note": body.pain_note or None})
    return body.model_copy(update={"pain_note": f"{lesson.pain_note}\n{body.pain_note}"[:2000]})


def _written(uow: UnitOfWork, lesson: Lesson) -> dict[str, Any]:
    return lesson_written(lesson, uow.find(Priority, lesson_id=lesson.id))


def _refuse_overtaken(uow: UnitOfWork, held: Lesson, seen: str | None) -> None:
    refuse_overtaken(uow, seen, tr("this lesson's notes or plan"), held.id, _written(uow, held))


@router.post("/lessons/{lesson_id}/recordings", status_code=201)
def start_recording(lesson_id: UUID, body: m.RecordingIn, uow: UnitOfWorkDep, s: ServicesDep) -> m.RecordingStarted:
    """Fit the devices of the lesson's bay and begin the calibration; what happens is told on the live channel."""
    found = uow.get(Lesson, lesson_id)
    refuse_unknown(body.scenario)
    putts = found.club == PUTTER
    clip = "putter" if putts else "club"
    wanted = (
        {clip: body.club_clip} | ({} if putts else _worn_to_swing(body)) | {"markers": putts and body.putter_markers}
    )
    sources = [k for k, worn in wanted.items() if worn]
    recordings.devices_ended(uow, found)
    recording = recordings.open_recording(
        uow,
        found,
        uow.get(Player, found.player_id),
        DEVICES if body.devices else STAND_IN,
        shot=Shot.PUTT if putts else Shot.FULL,
        glove=body.glove,
        scenario="" if body.devices else body.scenario,
        seed=body.seed,
    )
    recording.live = {"sources": sources, "wanted": 0}
    uow.commit()
    s.devices.begin(uow.academy_id, recording, sources)
    return m.RecordingStarted(recording_id=recording.id)


def _worn_to_swing(body: m.RecordingIn) -> dict[str, bool]:
    return {"upper-arm": body.upper_arm, "body": body.body_pack, "pressure": body.mat}


@router.post("/lessons/{lesson_id}/stand-in/swings")
def request_swings(lesson_id: UUID, body: m.SwingCount, uow: UnitOfWorkDep, s: ServicesDep) -> m.Accepted:
    """Let the stand-in player swing."""
    recordings.want_swings(uow, uow.hold(Lesson, lesson_id), body.count)
    if not s.devices.request_swings(lesson_id, body.count):
        raise Refused(tr("no stand-in device is fitted, or it has stopped"), tr("Fit and calibrate it"))
    return m.Accepted()


@router.get("/lessons/{lesson_id}/live", response_class=StreamingResponse)
async def live(lesson_id: UUID, s: ServicesDep, who: WhoDep) -> StreamingResponse:
    """What happens in the lesson, as server-sent events, for as long as the session lives."""
    return StreamingResponse(
        _messages(s, lesson_id, who),
        media_type="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )


async def _messages(s: Services, lesson_id: UUID, who: Who) -> AsyncIterator[str]:
    with s.hub.watching(lesson_id, who.token_hash) as mine:
        yield ": here\n\n"
        while not s.closing.is_set():
            try:
                message = await mine.next(HEARTBEAT_S)
            except TimeoutError:
                known = await anyio.to_thread.run_sync(s.sessions.enter, who.token_hash, {})
                if known is None or (known.role, known.apart) != (who.role, who.apart):
                    return  # with another role the page comes again, and gets what it may see
                yield ": still here\n\n"
                continue
            if message is None:
                return
            told = to_reader(message)
            yield f"data: {json.dumps(told if sees_all(who.role) else without_private(told))}\n\n"


@router.get("/lessons/{lesson_id}/joined")
def joined(lesson_id: UUID, uow: UnitOfWorkDep, after: Annotated[int, Query(ge=0, le=1_000_000)] = 0) -> m.LessonJoined:
    """The swings with a number above ``after``, and what may have changed with them."""
    return lesson_views.joined_out(pages.joined(uow, lesson_id, after))


@router.post(
    "/lessons/{lesson_id}/bundle",
    status_code=201,
    response_model=m.Imported,
    responses=JOB,
    max_body_size=LARGEST_UPLOAD,
)
def drop_bundle(lesson_id: UUID, file: UploadFile, uow: UnitOfWorkDep, s: ServicesDep, prefer: Prefer = "") -> Answer:
    """Import a capture bundle (.zip). Nothing is kept unless all of it can be read. With ``Prefer: respond-async``
    (RFC 7240) the answer is the job that does it."""
    uow.get(Lesson, lesson_id)  # whose it is comes before what it holds
    name, content = uploaded(file, "bundle.zip")
    subject = {"name": name, "reader": BUNDLE, "choices": {}, "source": "bundle"}
    return imported(uow, s, lesson_id, subject, content, prefer)


@router.get("/swings/{swing_id}")
def swing(swing_id: UUID, uow: UnitOfWorkDep) -> m.SwingOut:
    """One swing: checkpoints, values, findings, what is missing and why. What is None is left out."""
    return lesson_views.swing_out(swing_page(uow, swing_id))


@router.get("/swings/{swing_id}/numbers")
def numbers(swing_id: UUID, uow: UnitOfWorkDep) -> list[m.MetricValue]:
    """Every value of a swing in words, with its verdict and what less certain sources saw."""
    return pages.numbers(uow, swing_id)


@router.get("/swings/{swing_id}/blocks/{kind}/{measuring}", response_class=Response)
def block(swing_id: UUID, kind: Literal["traces", "figure", "ground"], measuring: int, uow: UnitOfWorkDep) -> Response:
    """A large block of one measuring of a swing, in binary (see docs/formats): traces, the figure's points, or pictures
    of the mat with the way of the pressure. Its content never changes; empty when there is none."""
    found = uow.get(Swing, swing_id)
    if found.measuring != measuring:
        raise Refused(tr("the swing was measured again since"), tr("Reload the swing"))
    content = uow.swings.blocks([swing_id], kind).get(swing_id, b"")
    headers = {"Cache-Control": FOR_EVER}
    if kind == GROUND and content:
        headers["Content-Encoding"] = "deflate"
    return Response(content, media_type="application/octet-stream", headers=headers)


@router.get("/swings/{swing_id}/traces.csv", response_class=Response)
def traces_csv(swing_id: UUID, uow: UnitOfWorkDep) -> Response:
    """Traces and bands as a table."""
    number, columns = traces_with_bands(uow, swing_id)
    rows = list(zip(*([f"{v:.5g}" if v == v else "" for v in c] for c in columns.values()), strict=True))
    return Response(
        csv_table(list(columns), rows),
        media_type="text/csv",
        headers={"Content-Disposition": f'attachment; filename="swing-{number}.csv"'},
    )


@router.patch("/swings/{swing_id}")
def change_swing(swing_id: UUID, body: m.SwingPatch, uow: UnitOfWorkDep, s: ServicesDep) -> m.SwingChanged:
    """Kind, ball flight, strike, club, what is noted of a putt, or a checkpoint; what depends on it follows, and it can
    be undone. The answer is what changed."""
    distance = body.putt is not None and "distance_m" in body.putt.model_fields_set  # a value, judged by
    if body.club is None and body.checkpoint is None and body.grip is None and not distance:
        return swing_marked(changes.mark_swing(uow, swing_id, lambda swing: _marks(swing, body)))
    found = changes.swing_to_change(uow, swing_id)
    fields, label = _marks(found, body)
    if fields:
        changes.change_swing(uow, s.codec, found, fields, label)
    if body.club is not None:
        changes.set_club(uow, s.codec, found, body.club)
    if body.grip is not None:
        changes.answer_grip(uow, s.codec, found, body.grip)
    if body.checkpoint is not None:
        if body.checkpoint.name not in list(Checkpoint):
            raise Refused(tr('there is no checkpoint "{name}"', name=body.checkpoint.name))
        changes.set_event(uow, s.codec, found, Checkpoint(body.checkpoint.name), body.checkpoint.time_s)
    return swing_changed(uow, found)


def _marks(swing: Swing, body: m.SwingPatch) -> marks.Fields:
    """What is noted of a swing, as fields with one name for all of it."""
    noted: list[marks.Fields] = []
    if body.kind is not None:
        noted.append(marks.kind_fields(swing, body.kind, body.reason))
    if body.ball_start is not None or body.ball_curve is not None:
        start = swing.ball_start if body.ball_start is None else body.ball_start
        curve = swing.ball_curve if body.ball_curve is None else body.ball_curve
        noted.append(marks.ball_fields(swing, start, curve))
    if body.strike is not None:
        noted.append(marks.strike_fields(swing, body.strike))
    if body.tags is not None:
        noted.append(marks.tag_fields(swing, body.tags))
    if body.putt is not None:
        noted.append(marks.putt_fields(swing, body.putt.model_dump(mode="json", exclude_unset=True)))
    fields = {k: v for one, _ in noted for k, v in one.items()}
    return fields, ", ".join(dict.fromkeys(label for _, label in noted))


@router.post("/lessons/{lesson_id}/undo")
def undo(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.Undone:
    """Take the last change back. Quick repeats wait for each other: the lesson is held before its changes are read."""
    return _undone(uow, changes.undo(uow, s.codec, uow.hold(Lesson, lesson_id)))


@router.post("/lessons/{lesson_id}/redo")
def redo(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep) -> m.Undone:
    """Do the undone change again."""
    return _undone(uow, changes.redo(uow, s.codec, uow.hold(Lesson, lesson_id)))


def _undone(uow: UnitOfWork, entry: ChangeEntry) -> m.Undone:
    about_a_swing = entry.entity == "swing"
    return m.Undone(
        label=entry.label, changed=swing_changed(uow, uow.get(Swing, entry.entity_id)) if about_a_swing else None
    )


@router.post("/lessons/{lesson_id}/pin")
def pin(lesson_id: UUID, body: m.PinIn, uow: UnitOfWorkDep) -> m.LessonOut:
    """Pin swings as *before*; an empty list unpins."""
    found = uow.get(Lesson, lesson_id)
    chosen = [uow.get(Swing, k) for k in body.swing_ids]
    if any(x.lesson_id != found.id for x in chosen):
        raise Refused(tr("only swings of this lesson can be pinned"))
    lessons.pin(found, chosen)
    uow.flush()
    return _lesson(uow, found.id)


@router.post("/lessons/{lesson_id}/blocks", status_code=201)
def start_block(lesson_id: UUID, body: m.BlockIn, uow: UnitOfWorkDep) -> m.LessonOut:
    """Start a drill or a test block."""
    found = uow.get(Lesson, lesson_id)
    lessons.start_block(uow, found, body.kind, body.finding, body.metric, body.moment, body.drill)
    uow.flush()
    return _lesson(uow, found.id)


@router.post("/lessons/{lesson_id}/blocks/end")
def end_block(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """End the running block."""
    found = uow.get(Lesson, lesson_id)
    lessons.end_block(uow, found)
    uow.flush()
    return _lesson(uow, found.id)


@router.get("/blocks/{block_id}/change")
def block_change(block_id: UUID, uow: UnitOfWorkDep) -> m.BlockOut:
    """Before against after of a test block."""
    block = uow.get(Block, block_id)
    found = uow.get(Lesson, block.lesson_id)
    blocks = uow.find(Block, lesson_id=found.id, order="started_at")
    reads = block_reads(uow, found, blocks, uow.find(Swing, lesson_id=found.id, order="number"))
    return lesson_views.block_out(next(r for r in reads if r.block.id == block_id))


@router.put("/lessons/{lesson_id}/plan")
def keep_plan(lesson_id: UUID, body: m.PlanIn, seen: SeenRevision, uow: UnitOfWorkDep) -> m.LessonOut:
    """Keep the priorities as they stand, in their order: accepted, swapped or the instructor's own."""
    found = uow.hold(Lesson, lesson_id)
    _refuse_overtaken(uow, found, seen)
    if found.status == "closed":
        raise Refused(tr("the lesson is closed"), tr("Reopen it to change its priorities"))
    lessons.keep_plan(uow, found, [lessons.Chosen(**p.model_dump()) for p in body.priorities])
    return _lesson(uow, found.id)


@router.delete("/lessons/{lesson_id}/plan")
def drop_plan(lesson_id: UUID, seen: SeenRevision, uow: UnitOfWorkDep) -> m.LessonOut:
    """Go back to what is proposed."""
    found = uow.hold(Lesson, lesson_id)
    _refuse_overtaken(uow, found, seen)
    if found.status == "closed":
        raise Refused(tr("the lesson is closed"), tr("Reopen it to change its priorities"))
    lessons.keep_plan(uow, found, [])
    found.planned = False
    uow.flush()
    return _lesson(uow, found.id)


@router.post("/lessons/{lesson_id}/close")
def close(lesson_id: UUID, body: m.CloseIn, seen: SeenRevision, uow: UnitOfWorkDep, s: ServicesDep) -> m.Closed:
    """End the lesson: at most two priorities, one note, next date. A walk-in without consent is erased."""
    found = uow.hold(Lesson, lesson_id)
    _refuse_overtaken(uow, found, seen)
    chosen = [lessons.Chosen(**p.model_dump()) for p in body.priorities]
    recordings.devices_ended(uow, found)
    kept = lessons.close(uow, found, chosen, body.note, body.next_date)
    uow.commit()
    s.devices.end(lesson_id)  # what was refused has stopped nothing
    if not kept:
        s.scrub()
    return m.Closed(kept=kept)


@router.post("/lessons/{lesson_id}/reopen")
def reopen(lesson_id: UUID, uow: UnitOfWorkDep) -> m.LessonOut:
    """Take the close back."""
    found = uow.get(Lesson, lesson_id)
    lessons.reopen(uow, found)
    return _lesson(uow, found.id)


@router.get("/lessons/{lesson_id}/export", response_class=StreamingResponse, dependencies=HEAVY)
def export(lesson_id: UUID, uow: UnitOfWorkDep, s: ServicesDep, who: WhoDep) -> StreamingResponse:
    """The lesson as a zip of bundles plus JSON, with a list of its files and their checksums."""
    s.seen.security("exported", what="lesson", id=str(lesson_id), person=str(who.instructor_id))
    return archive_response(partial(lesson_archive, uow, s.codec, uow.get(Lesson, lesson_id)), "lesson.zip")


@router.get("/recordings/{recording_id}")
def recording(recording_id: UUID, uow: UnitOfWorkDep) -> m.RecordingOut:
    """One fit: calibration quality and setup answer."""
    return lesson_views.recording_out(uow.get(Recording, recording_id))
