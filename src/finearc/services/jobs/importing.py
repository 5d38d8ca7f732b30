"""A file that was dropped on a lesson."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from finearc.core.sources.markers import MARKERS
from finearc.services.capture import presets, recordings
from finearc.services.capture.prepared import KEPT
from finearc.services.jobs.ports import PlayerRead, Tools
from finearc.services.jobs.progress import Progress
from finearc.services.jobs.records import DONE, Job, JobInput
from finearc.services.lesson import changes
from finearc.services.records import Lesson, Player, Swing, now
from finearc.wording import tr


def import_file(tools: Tools, job: Job, progress: Progress) -> Mapping[str, Any]:
    """Read, measure and keep a file; the job ends in the same transaction, so that it is never kept twice.
    ``job.subject``: ``name``, ``reader``, its ``choices``, ``source``, ``by`` whom, and the name to
    ``remember_as`` how its markers are called."""
    subject, lesson_id = job.subject, job.lesson_id
    assert lesson_id is not None
    progress.tell(0, 1, tr("Reading the file"))
    with tools.open(job.academy_id) as uow:
        pieces = uow.find(JobInput, job_id=job.id, order="sequence")
        lesson = uow.get(Lesson, lesson_id)
        player = uow.get(Player, lesson.player_id)
    by = UUID(subject["by"]) if subject.get("by") else None
    content = b"".join(p.content for p in pieces)
    reader = tools.readers[subject["reader"]]
    about = PlayerRead(player.handedness, player.height_m, player.population)
    data = tools.bounded.read(reader, subject["name"], content, subject["choices"], about)
    read = recordings.read_capture(
        data, player, lambda k, n: progress.tell(k, n, tr("Measuring swing {value} of {n}", value=k + 1, n=n))
    )
    with tools.open(job.academy_id) as uow:
        lesson = uow.hold(Lesson, lesson.id)  # swings are numbered one import after the other
        changes.forget_undone(uow, lesson.id, by)
        recording = recordings.keep_capture(uow, tools.codec, lesson, data, read, source=subject["source"])
        changes.remember_import(uow, recording, subject["name"], by)
        markers = data.streams.get(MARKERS)
        if markers is not None and subject.get("remember_as"):
            names, axes = dict(markers.names), subject["choices"]["axes"]
            presets.remember(uow, markers.labels, player.handedness, names, axes, subject["remember_as"], player)
        swings = uow.find(Swing, recording_id=recording.id, order="number")
        answer = {"recording_id": str(recording.id), "swings": [str(s.id) for s in swings]}
        kept = uow.hold(Job, job.id)
        kept.state, kept.answer, kept.ended_at = DONE, answer, now()
        kept.done = kept.total = len(swings)
    entry = KEPT.entry(recording.id)
    if entry is not None:
        progress.prepared.append(entry)
        KEPT.forget(recording.id)  # whoever waits for it keeps it
    return answer
